import { gather, type Words } from './gather'

export default gather(import.meta.glob<Words>('./de/*.ts', { eager: true, import: 'default' }))
