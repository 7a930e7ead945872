import words from '../../../../core/events/words/de.json'
import type en from '../en/events'

const de: typeof en = {
  event: words.event,
  capability: words.capability,
  level: words.level,
  people: { standing: words.standing },
  common: { somebody: words.somebody },
  access: { everyoneHere: words.everyone },
  activity: { folded: words.folded },
  keeping: { versions: words.versions },
}

export default de
