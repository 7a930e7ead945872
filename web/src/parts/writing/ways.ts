import { api, data, type Schemas } from '../../api/client'

/** What is asked of a text or table: for which page, what it has already, and how long to wait for something new. */
export interface Asked {
  page: string
  since: number
  wait?: number
}

/** By which ways a page reaches a text or table. */
export interface Ways {
  /** Where its socket is, without what is asked. */
  socket: string
  /** Where pictures beside it are; without it they are only named. */
  pictures?: string
  open: (asked: Asked) => Promise<Schemas['WritingMessage']>
  send: (page: string, body: Schemas['WritingSent']) => Promise<Schemas['WritingMessage']>
  /** What was changed in a table since its last version. */
  changes: () => Promise<Schemas['CellChanges']>
}

/** The ways of somebody with an account. Headers say that what is decided on the document is superseded by writing on. */
export const waysTo = (id: string, headers: Record<string, string>): Ways => ({
  socket: `/api/documents/${id}/writing/socket?${headers.Supersede ? `supersede=${headers.Supersede}&` : ''}`,
  pictures: `/api/documents/${id}/writing/pictures`,
  open: (query) => data(api.GET('/documents/{id}/writing', { params: { path: { id }, query }, headers })),
  send: (page, body) => data(api.POST('/documents/{id}/writing', { params: { path: { id }, query: { page } }, body, headers })),
  changes: () => data(api.GET('/documents/{id}/writing/changes', { params: { path: { id } } })),
})

/** The ways of a visitor by a working link. */
export const visitorsWays = (token: string, id: string): Ways => ({
  socket: `/api/visits/${token}/documents/${id}/writing/socket?`,
  pictures: `/api/visits/${token}/documents/${id}/writing/pictures`,
  open: (query) => data(api.GET('/visits/{token}/documents/{id}/writing', { params: { path: { token, id }, query } })),
  send: (page, body) =>
    data(api.POST('/visits/{token}/documents/{id}/writing', { params: { path: { token, id }, query: { page } }, body })),
  changes: () => data(api.GET('/visits/{token}/documents/{id}/writing/changes', { params: { path: { token, id } } })),
})
