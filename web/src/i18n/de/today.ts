import type en from '../en/today'

const de: typeof en = {
  today: {
    accessEnds: 'Zugang endet bald',
    prolong: 'Eine Woche mehr',
    prolonged: '{who} hat eine Woche mehr.',
    requests: 'Bittet um Zugang',
    letIn: 'Hereinlassen',
    notNow: 'Jetzt nicht',
    isIn: '{who} ist hereingelassen.',
    isNot: '{who} ist nicht hereingelassen.',
    summary: 'Sie sind in {dossiers}. {links}',
    noLinks: 'In den nächsten zwei Wochen endet kein Link.',
    links: '{n} Link endet in zwei Wochen. | {n} Links enden in zwei Wochen.',
    dossiers: '{n} Dossier | {n} Dossiers',
    mine: 'Meine Dossiers',
    ends: 'Endet bald',
    endsNone: 'In den nächsten zwei Wochen endet kein Link.',
    news: 'Neu',
    since: 'nichts, seit Sie zuletzt sahen, {when} | eines, seit Sie zuletzt sahen, {when} | {n}, seit Sie zuletzt sahen, {when}',
    sinceMore: 'mehr als {n}, seit Sie zuletzt sahen, {when}',
    fresh: '{n} neu',
    work: 'Woran ich arbeite',
    others: '{n} weitere Dossiers',
    newsNone: 'Noch ist nichts geschehen.',
    storage: '{size} in Ihren Dossiers.',
    storageLeft: '{size} Speicher sind frei.',
    own: 'Von Ihnen: {documents}, {links}, {storage} Speicher.',
    ownOf: 'Von Ihnen: {documents}, {links}, {storage} von {limit} Speicher.',
    waysOut: 'kein Weg hinaus | {n} Weg hinaus | {n} Wege hinaus',
    seeAll: 'Alles Geschehen',
    ruler: 'Die nächsten zwei Wochen mit den Links, die an jedem Tag enden',
  },
}

export default de
