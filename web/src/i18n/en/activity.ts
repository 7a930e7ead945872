export default {
  activity: {
    title: 'Activity',
    showing: 'Showing',
    by: 'by',
    in: 'in',
    since: 'since',
    about: { everything: 'everything', outside: 'what outsiders did', documents: 'documents', links: 'links' },
    anyone: 'anyone',
    anyDossier: 'any dossier',
    sinceWords: { always: 'the beginning', today: 'today', week: 'a week ago', month: 'a month ago' },
    none: 'Nothing of this kind has happened.',
    from: 'from {network}',
    today: 'Today, {day}',
    yesterday: 'Yesterday, {day}',
  },
}
