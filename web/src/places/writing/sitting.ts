import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useThing } from '../../app/title'
import { tell } from '../../app/toasts'
import { stemOf } from '../../i18n/words'
import { documentKeys, useDocument } from '../../queries/documents'
import { useSaid } from '../../sentences/said'
import type { Pen } from '../../parts/writing/pens'

/** What a page says of an open text or table. */
interface Open {
  opening: ShallowRef<Schemas['WritingOpening'] | undefined>
  mode: Ref<Schemas['WritingMode']>
  stands: Ref<'live' | 'away' | 'ended'>
  endedBy: Ref<string>
  sent: Ref<boolean>
  refused: Ref<string>
  kept: ShallowRef<Schemas['WritingKept'] | undefined>
  pens: ComputedRef<Pen[]>
  names: Ref<Record<string, string>>
}

/** What is said about an open document to whoever writes it: how it stands, who came and left, which version it is. */
export function useSitting(document: string, open: Open) {
  const { t } = useI18n()
  const said = useSaid()
  const queries = useQueryClient()
  const { data: doc } = useDocument(() => document)
  const place = computed(() => open.opening.value?.place)
  const title = computed(() => stemOf(place.value?.name ?? ''))
  useThing(title)
  const newest = computed(() => open.kept.value?.number ?? open.opening.value?.base ?? 0)
  watch(open.kept, (k) => {
    if (k?.apart) tell(t('writing.apart', { n: k.apart, mine: k.number }))
    void queries.invalidateQueries({ queryKey: documentKeys.one(document) })
  })
  watch(open.refused, (code) => {
    if (code) tell(said.code(code))
    open.refused.value = ''
  })
  const state = computed(() => {
    if (open.stands.value === 'ended') return said.code(open.endedBy.value)
    if (open.stands.value === 'away') return t('writing.away')
    if (open.mode.value === 'look') return open.opening.value?.barred ? said.code(open.opening.value.barred) : t('writing.looking')
    if (open.mode.value === 'remark') return t('writing.remarking')
    if (!open.sent.value) return t('writing.sending')
    return t(open.mode.value === 'propose' ? 'writing.proposed' : 'writing.allKept')
  })
  const caution = computed(() => open.stands.value !== 'live' || !!open.opening.value?.barred)
  /** What is decided, or signed, is written on only once one says that it is superseded. */
  const asksToSupersede = computed(() => ['approved-stays', 'signed-stays'].includes(open.opening.value?.barred ?? ''))
  /** Who came and who left is said to those who do not see it. */
  const heard = ref('')
  watch(
    () => open.pens.value.map((p) => p.name),
    (now, before) => {
      const came = now.filter((n) => !before.includes(n))
      const left = before.filter((n) => !now.includes(n))
      if (before.length && came.length) heard.value = t('writing.came', { names: said.list(came) })
      else if (left.length) heard.value = t('writing.left', { names: said.list(left) })
    },
  )
  // Whoever proposed it in a program is named by it, and nobody who is known here.
  const nameOf = (by: string) => open.names.value[by] ?? /^name:(.+)/.exec(by)?.[1] ?? t('common.somebody')
  return { doc, place, title, newest, state, caution, asksToSupersede, heard, nameOf }
}
