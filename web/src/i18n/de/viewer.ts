import type en from '../en/viewer'

const de: typeof en = {
  viewer: {
    loading: 'Das Dokument wird vorbereitet …',
    failed: 'Es kann hier nicht gezeigt werden. Es lässt sich herunterladen.',
    none: 'Dokumente dieser Art werden nicht auf der Seite gezeigt. Laden Sie es herunter, um es zu öffnen.',
    unshowable: 'Es kann nicht in Seiten gezeigt werden.',
    cut: 'Nur der Anfang wird gezeigt.',
    empty: 'Die Datei ist leer.',
    page: 'Seite {n} von {of}',
    pageAgain: 'Diese Seite kam nicht an. Noch einmal versuchen',
    pages: 'Seiten',
    goTo: 'Zu Seite',
    of: 'von {of}',
    size: 'Größe',
    width: 'so breit wie möglich',
    whole: 'ganze Seite',
    find: 'Darin suchen',
    hits: '{n} von {of}',
    noHits: 'nicht darin',
    nextHit: 'Nächste Stelle',
    previousHit: 'Stelle davor',
    turn: 'Drehen',
    print: 'Drucken',
    printing: 'Seite {n} von {of} wird vorbereitet …',
    sheets: 'Blätter',
    hidden: '{name} (in der Datei verborgen)',
    row: 'Zeile',
    next: 'Nächstes Dokument',
    previous: 'Dokument davor',
  },
}

export default de
