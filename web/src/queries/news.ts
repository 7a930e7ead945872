import type { Query, QueryClient } from '@tanstack/vue-query'
import type { Schemas } from '../api/client'
import { activityKeys } from './activity'
import { checkoutKeys } from './checkout'
import { decisionKeys } from './decisions'
import { signingKeys } from './signing'
import { deletionKeys } from './deletion'
import { deliveryKeys } from './deliveries'
import { documentKeys } from './documents'
import { fillingKeys } from './fillings'
import { evidenceKeys } from './evidence'
import { dossierKeys } from './dossiers'
import { findKeys } from './find'
import { keepingKeys } from './keeping'
import { linkKeys } from './links'
import { noticeKeys } from './notices'
import { peopleKeys } from './people'
import { remarkKeys } from './remarks'
import { routeKeys } from './routes'
import { sharingKeys } from './sharing'
import { tagKeys } from './tags'
import { particularKeys } from './particulars'
import { todayKeys } from './today'

export type Kind = Schemas['EventKind']

/** What the server tells of an event, as docs/formats.md says. Notices of one's own come without a kind. */
export interface News {
  kind?: Kind
  /** The code of the dossier. */
  code?: string
  item?: string
  link?: string
}

type Concerned = readonly unknown[] | ((q: Query) => boolean)
type Concern = (n: News) => Concerned[]

/** What shows many dossiers. */
const overviews: Concern = () => [dossierKeys.list, todayKeys.all, activityKeys.all]
const activity: Concern = () => [activityKeys.all]
/** Contents and registers of the dossier. */
const contents: Concern = (n) => (n.code ? [dossierKeys.of(n.code)] : [])
/** The slip of the document itself. */
const itself: Concern = (n) => (n.item ? [documentKeys.one(n.item)] : [])
/** All slips of the dossier: links and access come by folders, too. */
const slips: Concern = (n) => [
  (q) => q.queryKey[0] === documentKeys.all[0] && (q.state.data as Schemas['Document'] | undefined)?.dossierCode === n.code,
]
const reach: Concern = () => [sharingKeys.reach, sharingKeys.why]
const given: Concern = () => [sharingKeys.given]
const links: Concern = (n) => [linkKeys.lists, ...(n.link ? [linkKeys.one(n.link)] : [])]
const directory: Concern = () => [peopleKeys.directory]

const tagged: Concern = () => [tagKeys.all]
const particulars: Concern = () => [particularKeys.all]
const keepings: Concern = () => [keepingKeys.all]
const inHand: Concern = () => [checkoutKeys.all]
const talk: Concern = (n) => (n.item ? [remarkKeys.of(n.item)] : [])
const deletions: Concern = () => [deletionKeys.all]
const fillings: Concern = () => [fillingKeys.all]
const received: Concern = () => [deliveryKeys.all]
const decided: Concern = () => [decisionKeys.all]
const signed: Concern = () => [signingKeys.all]
const routed: Concern = () => [routeKeys.all]
const evidence: Concern = () => [evidenceKeys.all]

const ofContents = [overviews, contents, itself]
const ofAccess = [overviews, contents, slips, reach, given]
const ofLinks = [overviews, contents, slips, reach, links]
/** What happens through a link: it stands wherever the link is listed. */
const ofVisits = [overviews, contents, slips, reach, links]
const answers: Concern = () => [findKeys.all]
const ofDeletion = [...ofAccess, itself, links, deletions, answers]
const ofDecisions = [overviews, contents, itself, decided, routed]
const ofSigning = [overviews, contents, itself, signed, routed]
const ofRoutes = [overviews, routed]
const ofPeople = [overviews, directory, reach]

/** What each kind of event concerns. The compiler misses a kind that is not in the table. */
const concerns: Record<Kind, Concern[]> = {
  'dossier.made': [overviews, directory],
  'dossier.changed': [overviews, contents, links],
  'dossier.set-aside': [overviews, contents],
  'dossier.taken-up': [overviews, contents],
  'dossier.keeping': [overviews, keepings, slips],
  'folder.made': ofContents,
  'folder.renamed': [...ofContents, reach],
  'folder.placed': [overviews, contents],
  'folder.moved': [...ofContents, slips, reach],
  'folder.moved-away': [...ofContents, slips, reach],
  'document.added': ofContents,
  'document.apart': ofContents,
  'document.renamed': [...ofContents, reach],
  'transfer.made': [overviews, itself],
  'delivery.accepted': [...ofContents, received],
  'delivery.refused': [overviews, received],
  'document.tagged': [overviews, itself, tagged],
  'document.particulars': [overviews, contents, itself, particulars],
  'document.moved': [...ofContents, slips, reach],
  'document.moved-away': [...ofContents, slips, reach],
  'dossier.deleted': ofDeletion,
  'dossier.brought-back': ofDeletion,
  'dossier.destroyed': [overviews, deletions],
  'folder.deleted': ofDeletion,
  'folder.brought-back': ofDeletion,
  'folder.destroyed': [overviews, deletions],
  'document.deleted': ofDeletion,
  'document.brought-back': ofDeletion,
  'document.destroyed': [overviews, deletions],
  'document.checked-out': [...ofContents, inHand],
  'document.checked-in': [...ofContents, inHand],
  'document.taken-back': [...ofContents, inHand],
  'version.added': ofContents,
  'version.brought-back': [...ofContents, links],
  'version.named': [overviews, itself],
  'version.noted': [overviews, itself],
  'version.removed': [...ofContents, links],
  'version.restored': [...ofContents, links],
  'version.thinned': ofContents,
  'version.separated': ofContents,
  'access.given': ofAccess,
  'access.changed': ofAccess,
  'access.ended': ofAccess,
  'access.closed': ofAccess,
  'access.opened': ofAccess,
  'access.viewed-as': [overviews],
  'access.by-group': ofAccess,
  'access.handed-over': ofAccess,
  'link.made': ofLinks,
  'link.changed': ofLinks,
  'link.ended': ofLinks,
  'link.reopened': ofLinks,
  'link.opening-granted': ofLinks,
  'link.sent': ofVisits,
  'link.reminded': ofVisits,
  'link.opened': ofVisits,
  'link.refused': ofVisits,
  'link.remarked': [...ofVisits, talk],
  'link.viewed': ofVisits,
  'link.fetched': ofVisits,
  'link.fetched-all': ofVisits,
  'link.received': ofVisits,
  'link.withdrawn': ofVisits,
  'link.revised': ofVisits,
  'link.handed-in': ofVisits,
  'filling.handed-in': [...ofVisits, fillings],
  'member.added': ofAccess,
  'account.invited': ofPeople,
  'account.entered': ofPeople,
  'account.joined': ofPeople,
  'account.password-set': [overviews, directory],
  'account.factor-set': [overviews, directory],
  'account.factor-removed': [overviews, directory],
  'account.standing': ofPeople,
  'account.deactivated': ofPeople,
  'account.reactivated': ofPeople,
  'account.link-made': ofPeople,
  'account.link-ended': ofPeople,
  'group.made': ofPeople,
  'group.removed': ofPeople,
  'group.joined': ofPeople,
  'group.left': ofPeople,
  'signing.sent': ofSigning,
  'signing.signed': ofSigning,
  'signing.declined': ofSigning,
  'signing.changed': ofSigning,
  'signing.corrected': ofSigning,
  'signing.reminded': ofSigning,
  'signing.called-off': ofSigning,
  'signing.expired': ofSigning,
  'signing.finished': ofSigning,
  'signing.form': ofSigning,
  'decision.asked': ofDecisions,
  'decision.given': ofDecisions,
  'decision.returned': ofDecisions,
  'decision.taken-back': ofDecisions,
  'decision.handed-on': ofDecisions,
  'decision.question': ofDecisions,
  'run.started': ofDecisions,
  'run.handed-in': ofDecisions,
  'run.skipped': ofDecisions,
  'run.held': ofDecisions,
  'run.lapsed': ofDecisions,
  'run.called-off': ofDecisions,
  'run.done': ofDecisions,
  'route.on': ofRoutes,
  'route.off': ofRoutes,
  'route.removed': ofRoutes,
  'remark.written': [overviews, talk, itself],
  'remark.changed': [activity, talk],
  'remark.removed': [overviews, talk],
  'remark.resolved': [overviews, talk],
  'remark.reopened': [overviews, talk],
  'practice.particulars': [overviews, particulars, contents],
  'practice.rules': [overviews, directory, keepings],
  'practice.removal': [overviews, directory],
  'practice.kept': [overviews, directory],
  'practice.witnesses': [overviews, evidence],
  'practice.erased': [overviews, evidence],
}

/** All kinds of events, in the order of what they are about. */
export const kinds = Object.keys(concerns) as Kind[]

/** The kinds after which the counts in the band are other ones: what is open, and what was given to me. */
const counted = (kind: Kind) =>
  ['link.made', 'link.ended', 'link.reopened', 'link.opened', 'link.changed', 'access.given', 'access.ended'].includes(kind) ||
  kind.startsWith('practice.') ||
  kind.startsWith('decision.') ||
  kind.startsWith('signing.') ||
  kind.startsWith('run.')

const begins = (key: readonly unknown[], with_: readonly unknown[]) => with_.every((part, i) => key[i] === part)

/** Refetches what news concern, and says whether the session's counts are among it. */
export function refetch(queries: QueryClient, all: News[]): boolean {
  const concerned = all.flatMap((n) =>
    n.kind ? concerns[n.kind].flatMap((c) => c(n)) : [noticeKeys.all, deliveryKeys.all, decisionKeys.all, signingKeys.all],
  )
  void queries.invalidateQueries({ predicate: (q) => concerned.some((c) => (typeof c === 'function' ? c(q) : begins(q.queryKey, c))) })
  return all.some((n) => !n.kind || counted(n.kind))
}
