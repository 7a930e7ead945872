export default {
  calendar: {
    title: 'Was endet, im Kalender',
    about:
      'Ein Kalenderprogramm liest unter einer geheimen Adresse, wann Links und Zugriffe enden, die Sie sehen, und wann zurück sein soll, was Sie ausgecheckt haben. Wer die Adresse hat, liest das auch.',
    make: 'Eine Adresse anlegen und kopieren',
    anew: 'Eine andere Adresse anlegen',
    forget: 'Die Adresse wegnehmen',
    forgotten: 'Die Adresse führt nun nirgendwohin.',
    once: 'Sie wird dieses eine Mal genannt; eine frühere führt nun nirgendwohin.',
    read: 'Ihr Kalender wurde zuletzt {when} gelesen.',
    unread: 'Die Adresse wurde {when} angelegt und noch nicht gelesen.',
  },
}
