export default {
  templates: {
    begin: 'Aus einem Dokument …',
    menu: 'Neu aus diesem …',
    which: 'Welches Dokument: Nummer, Name oder Wörter',
    noneFound: 'Kein Dokument heißt so.',
    from: 'Ein neues Dokument aus „{name}“',
    name: 'Name',
    known: 'hier bekannt',
    without: 'Es ist nichts auszufüllen. Wörter in doppelten Klammern, wie [[Mandant]], wären es.',
    makeAndWrite: 'Anlegen und weiterschreiben',
    make: 'Dokument anlegen',
    made: '{ref} {name} ist angelegt.',
  },
  problem: {
    'no-template': 'In einem Dokument dieser Art kann nichts ausgefüllt werden.',
    'blank-value': 'Was ausgefüllt wird, ist Text mit höchstens 2.000 Zeichen.',
    'blank-unfilled': 'Ein Wort ist noch nicht ausgefüllt.',
  },
}
