import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'

export const levels = ['look', 'view', 'remark', 'propose', 'fill', 'edit', 'manage', 'deposit', 'own-set'] as const
export const capabilities = ['see', 'download', 'remark', 'propose', 'fill', 'add', 'change', 'deleteOwn', 'delete'] as const

/** Words about access: to whom, where, and what a change would mean. */
export function useAccessWords() {
  const { t } = useI18n()
  const said = useSaid()

  const who = (g: { kind: string; name: string }, practice: string) =>
    g.kind === 'everyone' ? t('access.everyone', { practice }) : g.kind === 'group' ? t('access.group', { name: g.name }) : g.name
  /** Where a grant stands. */
  const where = (g: Schemas['Grant'], here: boolean) => {
    if (here) return t(`access.here.${g.itemKind}`)
    return g.itemKind === 'dossier'
      ? t('access.onDossier')
      : g.itemKind === 'folder'
        ? t('access.onFolder', { name: g.itemName })
        : g.itemName
  }
  /** The consequences of a change in sentences: who newly opens, who no longer does, whose terms change. */
  const consequences = (c: Schemas['Consequence'], deleting = false): string[] => {
    const out: string[] = []
    const names = (all: Schemas['Effect'][], n: (e: Schemas['Effect']) => number) =>
      all
        .slice(0, 4)
        .map((e) => `${e.name} ${n(e)}${e.invited ? ` (${t('access.onceAccepted')})` : ''}`)
        .join(', ') + (all.length > 4 ? t('access.andMore', { n: all.length - 4 }) : '')
    for (const outside of [true, false]) {
      const gains = c.effects.filter((e) => e.outside === outside && e.gains)
      if (gains.length)
        out.push(
          t(
            outside ? 'access.gainOutside' : 'access.gainInside',
            { n: said.count(gains.length), who: names(gains, (e) => e.gains) },
            gains.length,
          ),
        )
    }
    const loses = c.effects.filter((e) => e.loses)
    if (loses.length) out.push(t('access.lose', { n: said.count(loses.length), who: names(loses, (e) => e.loses) }, loses.length))
    const changes = c.effects.filter((e) => e.changes && !e.gains && !e.loses)
    if (changes.length) out.push(t('access.change', { who: names(changes, (e) => e.changes) }))
    if (c.links) out.push(t(deleting ? 'deletion.links' : 'access.linksReach', { n: said.count(c.links) }, c.links))
    if (!out.length) out.push(t(deleting ? 'deletion.nobody' : 'access.nothing'))
    return out
  }
  return { who, where, consequences }
}
