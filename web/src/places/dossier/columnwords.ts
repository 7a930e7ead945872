import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import type { RegisterGroup, RegisterOrder } from '../../queries/dossiers'
import { isNumber, type Particular } from '../../queries/particulars'
import { useValueWords } from '../particulars/value'
import type { Column } from './arrangement'

type Row = Schemas['DocumentRow']

/** What a register's columns, orders and groups are called, and what stands in them. */
export function useColumnWords() {
  const { t } = useI18n()
  const { words } = useValueWords()
  const wayOf = (p: Particular) => (isNumber(p) ? 'number' : p.kind === 'date' ? 'date' : 'word')
  const valueOf = (row: Row, p: Particular) => {
    const v = row.particulars?.find((o) => o.particular.id === p.id)
    return v?.value ? words(p, v.value, v.person) : ''
  }
  return {
    heading: (c: Column) => c.particular?.name ?? t(`dossier.columns.${c.id === 'event' ? 'last' : c.id}`),
    /** As a word of a sentence. */
    named: (c: Column) => c.particular?.name ?? t(`dossier.columnNames.${c.id}`),
    order(o: RegisterOrder, defined: Particular[]) {
      const [first, id] = o.split(' ')
      const down = o.endsWith(' down')
      if (first !== 'by') return t(`dossier.${down ? 'orderDown' : 'order'}.${first}`)
      const p = defined.find((p) => p.id === id)
      return p ? t(`particulars.${down ? 'down' : 'up'}.${wayOf(p)}`, { name: p.name }) : ''
    },
    group(g: RegisterGroup, defined: Particular[]) {
      if (!g.startsWith('by ')) return t(`dossier.group.${g || 'none'}`)
      return t('dossier.group.by', { name: defined.find((p) => p.id === g.slice(3))?.name })
    },
    /** What the documents of a row's group have in common. */
    together(row: Row, g: RegisterGroup, defined: Particular[]) {
      if (g === 'kind') return t(`find.kind.${row.kind}`)
      if (g === 'person') return row.by
      const p = defined.find((p) => g === `by ${p.id}`)
      return (p && valueOf(row, p)) || t('dossier.group.without', { name: p?.name })
    },
    valueOf,
  }
}
