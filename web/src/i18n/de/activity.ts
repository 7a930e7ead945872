import type en from '../en/activity'

const de: typeof en = {
  activity: {
    title: 'Geschehen',
    showing: 'Gezeigt wird',
    by: 'von',
    in: 'in',
    since: 'seit',
    about: { everything: 'alles', outside: 'was Außenstehende taten', documents: 'Dokumente', links: 'Links' },
    anyone: 'allen',
    anyDossier: 'jedem Dossier',
    sinceWords: { always: 'dem Anfang', today: 'heute', week: 'einer Woche', month: 'einem Monat' },
    none: 'Nichts dergleichen ist geschehen.',
    from: 'von {network}',
    today: 'Heute, {day}',
    yesterday: 'Gestern, {day}',
  },
}

export default de
