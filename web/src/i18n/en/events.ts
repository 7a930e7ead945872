import words from '../../../../core/events/words/en.json'

/** What the server says of events, too: in mails and in evidence. */
export default {
  event: words.event,
  capability: words.capability,
  level: words.level,
  people: { standing: words.standing },
  common: { somebody: words.somebody },
  access: { everyoneHere: words.everyone },
  activity: { folded: words.folded },
  keeping: { versions: words.versions },
}
