import type { HelpTopic } from './topics'

const topics: HelpTopic[] = [
  {
    id: 'open',
    places: [],
    title: 'Sehen, was Ihnen geschickt wurde',
    text: 'Drücken Sie „Zeigen“; wer es geschickt hat, sieht dann, dass Sie es geöffnet haben. Wird ein Passwort verlangt, kam es auf anderem Weg als der Link. Wird ein Code verlangt, geht er an die Adresse, die Sie nennen.',
    keys: [],
  },
  {
    id: 'read',
    places: [],
    title: 'Lesen und herunterladen',
    text: '„Ansehen“ zeigt ein Dokument auf der Seite: Seiten lassen sich auflisten, nach Nummer aufschlagen und durchsuchen. „Herunterladen“ speichert es; wo nur Ansehen erlaubt ist, tragen die Seiten Ihre Adresse, und es gibt keinen Download.',
    keys: [
      ['/', 'darin suchen'],
      ['+ −', 'größer, kleiner'],
      ['Esc', 'zurück'],
    ],
  },
  {
    id: 'send',
    places: [],
    title: 'Jemandem Dateien senden',
    text: 'An der Adresse einer Person bestätigen Sie Ihre Mailadresse mit einem Code, wählen Dateien, nennen Ihren Namen und drücken Senden. Niemand öffnet sie, bevor sie angenommen sind. Eine Quittung mit dem Hash jeder Datei kommt an Ihre Mailadresse. Wo es so steht, werden Dateien, Namen und Nachricht in Ihrem Browser versiegelt: Verlassen Sie die Seite nicht, bevor sie gesendet sind.',
    keys: [],
  },
  {
    id: 'sent',
    places: [],
    title: 'Holen, was noch ankommt',
    text: 'Dateien lassen sich holen, während sie noch ankommen: Drücken Sie „Jetzt beginnen“, und sie kommen, wie sie gesendet werden. Hält der Absender an, wartet Ihr Download; gibt er auf, bricht er ab, statt vollständig auszusehen, und geht mit ihm weiter. Ist die Zeit um, werden die Kopien vernichtet.',
    keys: [],
  },
  {
    id: 'hand-in',
    places: [],
    title: 'Papiere abgeben',
    text: 'Ziehen Sie Dateien oder ganze Ordner auf die Seite, oder wählen Sie sie. Eine falsche Datei lässt sich zurücknehmen, bis Sie „Fertig“ drücken. Sie bekommen eine Quittung mit dem Fingerabdruck jeder Datei; niemand sonst von außen kann öffnen, was Sie abgeben. Sie können wiederkommen und mehr abgeben.',
    keys: [],
  },
  {
    id: 'write',
    places: [],
    title: 'Mit anderen schreiben',
    text: 'Wo ein Link Papiere ändern lässt, steht bei Texten „Schreiben“: Sagen Sie, unter welchem Namen die anderen Sie kennen, und schreiben Sie. Sie sehen, wer noch da ist, und alle sehen, was Sie schreiben, während Sie es tun; es wird von selbst gesichert. „Anrufen“ beginnt einen kleinen Anruf neben dem Text oder bringt Sie zu einem.',
    keys: [],
  },
  {
    id: 'fill',
    places: [],
    title: 'Ein Formular ausfüllen',
    text: 'Drücken Sie Beginnen und antworten Sie; was Sie schreiben, wird laufend behalten. Ein dicker Rand zeigt, was beantwortet sein muss, und „Zum Nächsten“ führt dorthin. Ist nichts mehr offen, geben Sie Ihren Namen an und geben es ab: Sie bekommen eine Quittung, und nur das Büro sieht Ihre Antworten. Bis dort jemand damit zu arbeiten beginnt, können Sie es durch denselben Link berichtigen. Haben Sie Ihre Adresse bestätigt oder kam der Link mit der Post zu Ihnen, können Sie aufhören und an einem anderen Tag wiederkommen.',
    keys: [],
  },
  {
    id: 'sealed',
    places: [],
    title: 'Eine versiegelte Sendung',
    text: 'Sie wird in Ihrem Browser geöffnet, mit dem Schlüssel hinter dem Link oder mit Wörtern, die Ihnen auf einem anderen Weg gesagt werden. Ist der Link unterwegs abgeschnitten worden, fügen Sie ihn ganz ein, oder den Schlüssel. Eine Datei, die unterwegs verändert wurde, wird nicht gesichert. Verlorene Verbindungen gehen weiter. Fasst ein Browser eine große Datei nicht, sichern Sie die versiegelte und öffnen Sie sie mit dem Programm age, mit der Zeile, die dort steht.',
    keys: [],
  },
  {
    id: 'gone',
    places: [],
    title: 'Der Link geht nicht',
    text: 'Links enden zu einer Zeit, nach einer Zahl von Öffnungen, oder wenn der Absender sie beendet. Bitten Sie, wer ihn geschickt hat, um einen neuen; die Adresse steht in der E-Mail.',
    keys: [],
  },
]

export default topics
