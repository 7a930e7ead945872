import { computed, reactive, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useLinkDraft } from '../../queries/links'
import { useSaid } from '../../sentences/said'

export type Term = NonNullable<Schemas['Part']['term']>

/** What is written of a link before it is said to the server: lists are typed as text, and what is not set is absent. */
interface Written {
  name: string
  until?: string
  openings?: number
  password?: string
  newest: boolean
  viewOnly: boolean
  remarks?: boolean
  kind: Schemas['LinkKind']
  slug?: string
  tell: Schemas['Telling']
  language: 'en' | 'de'
  expected: string
  intakeFiles?: number
  intakeBytes?: number
  intakeEndings?: string
  identify: Schemas['Identity']
  allowed?: string
  downloads?: number
  notBefore?: string
  /** What opens a transfer that is sealed here, and its passphrase, which goes nowhere from here. */
  sealed?: Schemas['TransferSeal']
  passphrase?: string
}

const listed = (typed?: string) => (typed ?? '').split(/[\s,;]+/).filter(Boolean)
const typed = (list: string[]) => (list.length ? list.join(', ') : undefined)

/** Only what is there. */
const set = (some: Partial<Written>) => Object.fromEntries(Object.entries(some).filter(([, v]) => v !== undefined))

function writtenOf(l: Schemas['Link']): Omit<Written, 'language' | 'expected'> {
  const { name, until, newest, viewOnly, kind, slug, tell, intakeFiles, intakeBytes, identify, notBefore } = l
  const remarks = l.remarks || undefined
  const { openingsLimit: openings, downloadsLimit: downloads } = l
  const lists = { intakeEndings: typed(l.intakeEndings), allowed: typed(l.allowed) }
  return {
    name,
    until,
    newest,
    viewOnly,
    remarks,
    kind,
    slug,
    tell,
    intakeFiles,
    intakeBytes,
    identify,
    notBefore,
    openings,
    downloads,
    ...lists,
  }
}

/** The terms of a link that is written, or of one that is out and changed: what they mean, and how a term is added and dropped. */
export function useWriting(
  items: string[],
  link?: Schemas['Link'],
  kind: Schemas['LinkKind'] = 'hand-out',
  /** What is yet to arrive, of a transfer, and to whom it goes. */
  transfer?: (sealed: boolean) => Pick<Schemas['TransferWish'], 'files' | 'to'>,
) {
  const { locale } = useI18n()
  const said = useSaid()
  const terms = reactive<Written>({
    name: '',
    newest: false,
    viewOnly: false,
    kind,
    tell: 'never',
    language: locale.value as 'en' | 'de',
    expected: '',
    identify: 'none',
    ...(link ? writtenOf(link) : {}),
  })
  const opened = ref<Term>()

  /** It gives papers out; otherwise it takes some in. */
  const gives = computed(() => terms.kind !== 'intake')
  /** For whom alone it is; an entry that is still being typed is not yet one. */
  const allowed = computed(() => listed(terms.allowed).filter((a) => a.includes('.')))
  /** The password of a link that is out stays, but is not known here. */
  const kept = computed(() => link?.hasPassword && terms.password === undefined)
  const body = computed(() => ({
    items,
    name: terms.name || undefined,
    until: terms.until,
    openings: terms.openings,
    password: terms.password || (kept.value ? '········' : undefined),
    newest: terms.newest,
    viewOnly: (terms.kind === 'hand-out' || terms.kind === 'transfer') && terms.viewOnly,
    remarks: (terms.kind === 'hand-out' && terms.remarks) || undefined,
    identify: terms.identify,
    allowed: allowed.value,
    downloads: gives.value && terms.kind !== 'fill' && !terms.viewOnly ? terms.downloads : undefined,
    kind: terms.kind,
    slug: terms.slug || undefined,
    tell: terms.tell,
    expected: terms.kind !== 'intake' ? undefined : terms.expected.split('\n').filter((p) => p.trim()),
    intakeFiles: terms.intakeFiles,
    intakeBytes: terms.intakeBytes,
    intakeEndings: listed(terms.intakeEndings),
    notBefore: terms.notBefore,
    language: terms.language,
    ...(transfer ? { ...transfer(!!terms.sealed), sealed: terms.sealed } : {}),
  }))

  const draft = ref<Schemas['LinkDraft']>()
  const ask = transfer && ((terms: Schemas['TransferWish']) => data(api.POST('/transfers/draft', { body: terms })))
  const { data: fresh, error, refetch } = useLinkDraft<Schemas['LinkTerms'] & Schemas['TransferWish']>(body, ask)
  /** A draft that fails keeps the sentence that stood before. */
  watch(fresh, (d) => d && (draft.value = d), { immediate: true })
  /** The word of the sentence at which it fails. */
  const refused = computed(
    () => ({ viewOnly: 'may', kind: 'may', files: 'what' })[draft.value?.refused?.term ?? ''] ?? draft.value?.refused?.term,
  )
  const isFolder = computed(() => !/\/\d/.test(draft.value?.title ?? '') && items.length === 1)
  /** The words of the sentence that can be pressed. */
  const controls = computed<Term[]>(() => [
    'may',
    'until',
    ...(link || terms.kind === 'working' || terms.kind === 'fill' || terms.kind === 'transfer' ? [] : (['version'] as Term[])),
    ...((link ? terms.password || kept.value : terms.password !== undefined) ? (['password'] as Term[]) : []),
    ...(['openings', 'downloads', 'notBefore', 'remarks', 'sealed', 'intakeFiles', 'intakeBytes', 'intakeEndings'] as const).filter(
      (k) => terms[k] !== undefined,
    ),
    ...(terms.identify !== 'none' ? (['identify'] as Term[]) : []),
    ...(allowed.value.length ? (['allowed'] as Term[]) : []),
  ])

  async function offerPassword() {
    terms.password = (await data(api.POST('/links/password'))).password
  }
  const nextHour = () => new Date(Math.ceil(said.now.value.getTime() / 3_600_000) * 3_600_000).toISOString()
  /** What a term is when it is added by one act. */
  const usual: { [K in Schemas['LinkDraft']['offers'][number]]?: () => Partial<Written> } = {
    openings: () => ({ openings: 1 }),
    downloads: () => ({ downloads: 1 }),
    intakeFiles: () => ({ intakeFiles: 20 }),
    intakeBytes: () => ({ intakeBytes: 1_000_000_000 }),
    intakeEndings: () => ({ intakeEndings: 'pdf, jpg, png' }),
    notBefore: () => ({ notBefore: nextHour() }),
    remarks: () => ({ remarks: true }),
    sealed: () => ({ sealed: 'key' }),
    identify: () => ({ identify: terms.identify === 'none' ? 'confirmed' : terms.identify }),
    allowed: () => ({ allowed: '', identify: terms.identify === 'none' ? 'confirmed' : terms.identify }),
  }
  /** One act adds a term with a sensible value. */
  async function add(term: Schemas['LinkDraft']['offers'][number]) {
    if (term === 'password') await offerPassword()
    Object.assign(terms, usual[term]?.())
    opened.value = term
  }
  function drop(
    term:
      | 'password'
      | 'openings'
      | 'remarks'
      | 'sealed'
      | 'downloads'
      | 'notBefore'
      | 'allowed'
      | 'intakeFiles'
      | 'intakeBytes'
      | 'intakeEndings',
  ) {
    if (term === 'password' && link) terms.password = ''
    else terms[term] = undefined
    if (term === 'sealed') terms.passphrase = undefined
    opened.value = undefined
  }

  /** What stood before something was typed. */
  let before: Written | undefined
  /** One after the other: the last that was typed is what holds. */
  let typing: Promise<unknown> = Promise.resolve()
  const type = (r: Schemas['TypedTerms']) => (typing = typing.catch(() => undefined).then(() => setTyped(r)))
  /** Sets what was typed upon what stood before; a password is made up once. */
  async function setTyped(r: Schemas['TypedTerms']) {
    before ??= { ...terms }
    const { until, notBefore, openings, downloads, newest, viewOnly, remarks, kind, name, intakeFiles, intakeBytes, allowed, hasPassword } =
      r
    const spoken = { until, notBefore, openings, downloads, newest, viewOnly, remarks, kind, name, intakeFiles, intakeBytes }
    const lists = { allowed: allowed && typed(allowed), intakeEndings: r.intakeEndings && typed(r.intakeEndings) }
    const identify = r.identify ?? (allowed && before.identify === 'none' ? 'confirmed' : before.identify)
    const password = hasPassword ? terms.password || undefined : before.password
    Object.assign(terms, before, set({ ...spoken, ...lists }), { identify, password })
    if (hasPassword && !terms.password) await offerPassword()
    if (!r.pieces.length) before = undefined
  }
  /** Whoever goes on by hand keeps what was typed. */
  const typedIsKept = () => (before = undefined)

  /** Takes terms over under which something was given before; a password is made up anew. */
  async function take(r: Schemas['Remembered']) {
    const { until, notBefore, openings, downloads, newest, viewOnly, kind, identify, tell, intakeFiles, intakeBytes } = r
    const remarks = r.remarks || undefined
    Object.assign(terms, {
      until,
      notBefore,
      openings,
      downloads,
      newest,
      viewOnly,
      remarks,
      kind,
      identify,
      tell,
      intakeFiles,
      intakeBytes,
    })
    Object.assign(terms, { allowed: typed(r.allowed ?? []), intakeEndings: typed(r.intakeEndings ?? []), password: undefined })
    opened.value = undefined
    if (r.hasPassword) await offerPassword()
  }

  const make = () => data(api.POST('/links', { body: body.value }))
  async function change(of: Schemas['Link']) {
    const until = terms.until ?? draft.value?.usualUntil ?? ''
    const changed = { ...body.value, password: terms.password, name: terms.name || of.name, until }
    await data(api.PUT('/links/{id}/terms', { params: { path: { id: of.id } }, body: changed }))
  }

  return {
    terms,
    body,
    opened,
    gives,
    allowed,
    draft,
    error,
    refetch,
    refused,
    isFolder,
    controls,
    offerPassword,
    add,
    drop,
    type,
    typedIsKept,
    take,
    make,
    change,
    link,
  }
}

export type Writing = ReturnType<typeof useWriting>
