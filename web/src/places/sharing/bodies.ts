import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useSession } from '../../app/session'
import { useDesk, useDossiers } from '../../queries/dossiers'

/** The dossiers into which something can be put, as options, one's own desk among them. */
export function useBodies() {
  const { t } = useI18n()
  const store = useSession()
  const { data: dossiers } = useDossiers()
  const { data: desk } = useDesk(() => store.session?.standing !== 'guest')
  const bodies = computed(() => [...(dossiers.value ?? []), ...(desk.value ? [desk.value] : [])])
  const options = computed(() =>
    bodies.value.map((d) => ({
      value: d.code,
      words: d.kind === 'desk' && d.id === desk.value?.id ? t('move.desk') : `${d.code} ${d.name}`,
    })),
  )
  return options
}
