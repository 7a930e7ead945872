import { gather, type Words } from './gather'

export default gather(import.meta.glob<Words>('./en/*.ts', { eager: true, import: 'default' }))
