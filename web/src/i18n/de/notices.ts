import type en from '../en/notices'

const de: typeof en = {
  notices: {
    title: 'Mitteilungen',
    label: 'Mitteilungen, {n} ungesehen',
    none: 'Im Moment betrifft Sie nichts.',
    given: '{by} gibt Ihnen Zugang zu {what}.',
    asked: '{by} bittet um Zugang: {what}.',
    used: 'Der Link {what} wurde benutzt.',
    'handed-in': 'Durch {what} wurden Papiere abgegeben.',
    sensitive: '{what} enthält Schützenswertes, und ein Link von Ihnen gibt es heraus.',
    'kept-back': '{what} enthält Schützenswertes und wird von einem Ihrer Links zurückbehalten.',
    fetched: 'Alles geholt: {what}.',
    delivered: '{what} hat Ihnen Dateien gesendet.',
    'mail-held': 'Eine Mail wartet auf Ihre Bestätigung: {what}.',
    'mail-untouched': '{what} ist signiert oder verschlüsselt; es ging weiter, wie es war, mit den Anhängen.',
    'mail-failed': 'Nicht zuzustellen: {what}.',
    'decision-asked': '{by} bittet um eine Entscheidung: {what}.',
    'decision-reminded': 'Bald fällig: {what}.',
    'decision-late': 'Überfällig: {what}.',
    'decision-late-other': 'Jemand ist mit {what} im Verzug.',
    'decision-returned': '{by} hat {what} zurückgegeben.',
    'decision-question': '{by} fragt etwas zu {what}.',
    'decision-done': '{what} ist durch.',
    'decision-over': '{what} wurde nicht entschieden.',
    'run-held': '{what} kommt nicht weiter.',
    'route-told': '{what} ist über einen Weg zu Ihnen gekommen.',
    'route-stopped': 'Der Weg {what} wurde angehalten.',
    missed: 'Noch nichts geholt: {what}.',
    'not-let-in': '{by} gewährt den Zugang nicht, um den Sie baten.',
    admitted: '{by} kam durch eine selbst verwaltete Gruppe in {what}.',
  },
}

export default de
