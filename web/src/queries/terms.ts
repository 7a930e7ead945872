import { api, data, type Schemas } from '../api/client'

/** What typed words mean as terms, in either language. */
export const readTerms = (text: string, language: 'en' | 'de', of: 'link' | 'access' = 'link'): Promise<Schemas['TypedTerms']> =>
  data(api.POST('/terms/read', { body: { text, language, of } }))
