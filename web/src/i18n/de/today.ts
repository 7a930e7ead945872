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
    newsNone: 'Noch ist nichts geschehen.',
    room: '{size} in Ihren Dossiers.',
    roomLeft: 'Noch {size} Platz.',
    seeAll: 'Alles Geschehen',
    ruler: 'Die nächsten zwei Wochen mit den Links, die an jedem Tag enden',
  },
}

export default de
