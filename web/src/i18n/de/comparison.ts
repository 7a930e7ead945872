import type en from '../en/comparison'

const de: typeof en = {
  comparison: {
    title: '{what}, verglichen',
    version: 'Fassung',
    against: 'gegen Fassung',
    from: 'Die eine',
    to: 'Die andere',
    two: '{a} gegen {b}:',
    compare: 'vergleichen',
    compareTwo: 'Die beiden vergleichen',
    same: 'Sie enthalten dasselbe, Byte für Byte.',
    sameText: 'die Wörter sind dieselben',
    places: 'eine Änderung | {n} Änderungen',
    removed: '1 Wort entfernt | {n} Wörter entfernt',
    added: '1 Wort hinzugefügt | {n} Wörter hinzugefügt',
    moved: '1 Wort verschoben | {n} Wörter verschoben',
    cells: '1 Zelle geändert | {n} Zellen geändert',
    rowsAdded: '1 Zeile hinzugefügt | {n} Zeilen hinzugefügt',
    rowsRemoved: '1 Zeile entfernt | {n} Zeilen entfernt',
    rowsSame: '; 1 Zeile ist gleich. | ; {n} Zeilen sind gleich.',
    onPages: ', auf Seite {pages}. |, auf den Seiten {pages}.',
    whole: 'Sie unterscheiden sich und enthalten nichts, was sich Wort für Wort vergleichen ließe.',
    wholeMore: 'Die eine hat {a}, die andere {b}. Beide lassen sich ansehen und herunterladen.',
    rough: 'Manche Teile sind zu verschieden, um sie Wort für Wort zu vergleichen; sie stehen als Ganzes da.',
    sameWords: '1 Wort gleich | {n} Wörter gleich',
    sameRows: '1 Zeile gleich | {n} Zeilen gleich',
    row: { added: 'hinzugefügt', removed: 'entfernt', changed: 'geändert' },
    table: 'Die Tabelle, Zelle für Zelle',
    otherSheets: 'Auch diese Blätter unterscheiden sich: {what}',
    patch: 'Unterschiede Zeile für Zeile',
    change: 'Änderung {n} von {of}',
    changes: 'Eine Änderung | {n} Änderungen',
    previous: 'Vorige',
    next: 'Nächste',
  },
  problem: {
    'too-large-to-compare': 'Sie sind zu groß, um sie zu vergleichen. Beide lassen sich herunterladen.',
    'no-patch': 'Nur Texte haben Unterschiede Zeile für Zeile.',
  },
}

export default de
