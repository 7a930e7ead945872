import { computed, reactive, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useSession } from '../../app/session'
import { useLinks } from '../../queries/links'
import { useGiven } from '../../queries/sharing'
import { fileTypeOf, type FileType } from '../../sentences/filetypes'
import { useSaid } from '../../sentences/said'

const hour = 3_600_000
const soon = 14 * 24 * hour

/** What is shown of what one was given, or gave. */
export interface Showing {
  what: 'toMe' | 'byMe' | 'pinned'
  kind: '' | 'folder' | 'document' | FileType
  dossier: string
  ending: boolean
  way: '' | 'people' | 'link'
  person: string
}

/** What I was given and what I gave, by what is shown of it. */
export function useGivenThings() {
  const said = useSaid()
  const store = useSession()
  const showing = reactive<Showing>({ what: 'toMe', kind: '', dossier: '', ending: false, way: '', person: '' })
  const byMe = computed(() => showing.what === 'byMe')
  const filter = computed(() => ({
    dossier: showing.dossier || undefined,
    kind: showing.kind === 'folder' ? showing.kind : showing.kind ? ('document' as const) : undefined,
    person: (byMe.value && showing.person) || undefined,
    endingBefore: showing.ending ? new Date(Math.floor(said.now.value.getTime() / hour) * hour + soon).toISOString() : undefined,
  }))
  const { data: pages, error, refetch, hasNextPage, fetchNextPage } = useGiven(byMe, filter)

  const givesLinks = computed(() => byMe.value && showing.way !== 'people' && !showing.person)
  const { data: allLinks } = useLinks(() => ({ mine: true, dossier: showing.dossier }), givesLinks)
  const endsSoon = (l: Schemas['Link']) => !!l.until && new Date(l.until).getTime() < said.now.value.getTime() + soon
  const isOfKind = (kind: string, name: string) =>
    !showing.kind || (kind === 'document' ? showing.kind === 'document' || showing.kind === fileTypeOf(name) : showing.kind === 'folder')
  const ofKind = (l: Schemas['Link']) => l.items.some((i) => isOfKind(i.kind, i.name))
  const links = computed(() =>
    givesLinks.value ? (allLinks.value ?? []).filter((l) => ofKind(l) && (!showing.ending || endsSoon(l))) : [],
  )

  /** What was new when the page was opened stays marked while it is open. */
  const since = ref<string | null>()
  watch(pages, (p) => {
    if (!p || since.value !== undefined || byMe.value) return
    since.value = p.pages[0].since ?? null
    void store.refresh()
  })
  const isNew = (g: Schemas['Grant']) => !byMe.value && (!since.value || g.at > since.value)

  const grants = computed(() => {
    const all = pages.value?.pages.flatMap((p) => p.grants) ?? []
    if (byMe.value) return showing.way === 'link' ? [] : all.filter((g) => isOfKind(g.itemKind, g.itemName))
    return all.filter(
      (g) =>
        (showing.what !== 'pinned' || g.pinned) &&
        (!showing.dossier || g.code === showing.dossier) &&
        isOfKind(g.itemKind, g.itemName) &&
        (!showing.ending || !!g.until),
    )
  })
  return { showing, byMe, grants, links, isNew, loaded: computed(() => !!pages.value), error, refetch, hasNextPage, fetchNextPage }
}
