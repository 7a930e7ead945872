import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../api/client'
import { useParticulars } from '../queries/particulars'
import { useTags } from '../queries/tags'
import { useSaid } from './said'

/** The names of what a route speaks of. */
export interface RouteNames {
  people: { id: string; name: string }[]
  folders: { id: string; name: string }[]
  routes?: { id: string; name: string }[]
}

/** The words of a route: people, conditions, starts and stops as a sentence says them. */
export function useRouteWords(names: MaybeRefOrGetter<RouteNames>) {
  const { t } = useI18n()
  const said = useSaid()
  const { data: particulars } = useParticulars()
  const { data: tags } = useTags()
  const called = (all: { id: string; name: string }[] | undefined, id?: string) =>
    all?.find((x) => x.id === id)?.name ?? t('routes.unknown')
  const person = (id?: string) => called(toValue(names).people, id)
  const folder = (id?: string) => (id ? called(toValue(names).folders, id) : t('routes.here'))
  const particular = (id?: string) => particulars.value?.find((p) => p.id === id)
  const tag = (id?: string) => tags.value?.find((g) => g.id === id)?.name ?? t('routes.unknown')
  const route = (id?: string) => called(toValue(names).routes, id)
  const one = (w: Schemas['Who']) => (w.role ? t(`routes.role.${w.role}`) : person(w.person ?? w.group))
  const who = (all?: Schemas['Who'][]) => said.list((all ?? []).map(one))
  const span = (s?: Schemas['Span']) => (s ? t(`routes.span.${s.unit}`, { n: s.n }, s.n) : '')

  function subject(c: Schemas['Test']) {
    if (c.of === 'particular') return particular(c.particular)?.name ?? t('routes.unknown')
    if (c.of === 'tag') return t('routes.ofTag', { tag: tag(c.tag) })
    return t(`routes.of.${c.of}`)
  }
  function value(c: Schemas['Test']) {
    if (c.of === 'author') return person(c.value)
    if (c.of === 'dossier' || c.of === 'reach') return t(`routes.${c.of}.${c.value}`)
    if (c.of === 'size') return said.size(Number(c.value))
    const p = particular(c.particular)
    const n = Number(c.value)
    const written = p && (p.kind === 'money' || p.kind === 'number') && c.value && Number.isFinite(n) ? said.number(n) : (c.value ?? '')
    return p?.unit && written ? `${written} ${p.unit}` : written
  }
  const test = (c: Schemas['Test']) => `${subject(c)} ${t(`routes.is.${c.is}`)} ${value(c)}`.trim()
  function condition(c?: Schemas['Condition']): string {
    if (!c) return ''
    if (c.test) return test(c.test)
    if (c.not) return t('routes.not', { what: condition(c.not) })
    const all = c.all ?? c.any ?? []
    return all.map(condition).join(` ${t(c.all ? 'routes.and' : 'routes.or')} `)
  }
  function start(s: Schemas['RouteStart']) {
    const words = t(`routes.start.${s.on}`, {
      folder: folder(s.folder),
      what:
        s.on === 'tag'
          ? tag(s.tag)
          : s.on === 'decided'
            ? s.route
              ? route(s.route)
              : t('routes.anyRoute')
            : (particular(s.particular)?.name ?? ''),
      days: Math.abs(s.days ?? 0),
    })
    return s.crosses ? `${words}, ${t('routes.crossing', { test: test(s.crosses) })}` : words
  }
  function action(c: Schemas['RouteCase']) {
    const words = t(`routes.action.${c.do}`, {
      who: who(c.who),
      what: c.particular ? (particular(c.particular)?.name ?? t('routes.unknown')) : c.do === 'start' ? route(c.route) : tag(c.tag),
      value: c.value || t('routes.nothing'),
      folder: folder(c.folder),
      to: said.list(c.to ?? []),
      terms: c.terms ?? '',
      span: c.for ? span(c.for) : '',
    })
    const more = [
      c.notAuthor ? t('routes.notAuthor') : '',
      c.rule && c.rule !== 'any' && c.who ? t(`routes.rule.${c.rule}`, { n: c.of ?? 1 }) : '',
      c.within ? t('routes.within', { span: span(c.within) }) : '',
      c.issues ? t('routes.issues') : '',
    ].filter(Boolean)
    return [words, ...more].join(', ')
  }
  return {
    person,
    folder,
    particular,
    tag,
    route,
    one,
    who,
    span,
    subject,
    value,
    test,
    condition,
    start,
    action,
    particulars: computed(() => particulars.value ?? []),
    tags: computed(() => tags.value ?? []),
  }
}
