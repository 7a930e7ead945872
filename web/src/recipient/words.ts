import { computed, ref } from 'vue'
import type { Language } from '../i18n/words'

/** The visitors' page has few words; it carries them itself and stays small. */
const en = {
  gives: '{sender} has papers for you', show: 'Show', password: 'Password', passwordHint: 'It came to you by another way than this link.', open: 'Open', wrong: 'The password is wrong.', slow: 'Too many tries. Wait {seconds} seconds, then try again.', offline: 'There is no connection. Try again.',
  gone: 'This link is no longer available', goneWhy: 'It has ended, or its address is incomplete. Ask whoever sent it to you.', enclosed: 'Enclosed: {n}', file: '1 file', files: '{n} files', together: '{size} together', view: 'View', download: 'Download', all: 'Download all, {size}', both: 'Download both, {size}', one: 'Download, {size}',
  asArchive: 'As one archive. The files are the versions named above.', newest: 'You always see the version that counts.', sees: '{sender} sees when you open this page and what you download.', version: 'Version {n}, {when}', close: 'Close', top: 'All', openFolder: 'Open', empty: 'Nothing lies here.', loading: 'One moment …',
  vLoading: 'The document is being prepared …', vFailed: 'It cannot be shown here. You can download it.', vNone: 'Documents of this type are not shown in the page. Download it to open it.', vCut: 'Only the beginning is shown.', vEmpty: 'The file is empty.', front: 'Press Show to open them. {sender} then sees that you have.', picture: 'Picture', sound: 'Sound', video: 'Video', table: 'Table', text: 'Text', pdf: 'PDF', other: 'File', letterFrom: 'From {practice}',
  email: 'Your e-mail', stated: '{sender} asks who opens this.', confirmed: '{sender} asks who opens this. A code comes to your address.', sendCode: 'Send me a code', codeSent: 'If {email} is among those it is meant for, six digits are on their way to it. They are good for ten minutes.', code: 'Code', another: 'Another address or code', wrongCode: 'The code is wrong or has run out.', notMeant: 'This address is not among those it is meant for.', noAddress: 'This is not a mail address.', needsAccount: '{sender} gives this to people with an account at {practice}.', signIn: 'Sign in', knownAs: 'You come in as {email}.',
}
const de: typeof en = {
  gives: '{sender} hat Papiere für Sie', show: 'Zeigen', password: 'Passwort', passwordHint: 'Es kam auf einem anderen Weg als dieser Link.', open: 'Öffnen', wrong: 'Das Passwort ist falsch.', slow: 'Zu viele Versuche. Warten Sie {seconds} Sekunden, dann noch einmal.', offline: 'Es gibt keine Verbindung. Versuchen Sie es noch einmal.',
  gone: 'Dieser Link ist nicht mehr verfügbar', goneWhy: 'Er ist zu Ende, oder die Adresse ist unvollständig. Fragen Sie, wer ihn Ihnen geschickt hat.', enclosed: 'Beigefügt: {n}', file: '1 Datei', files: '{n} Dateien', together: 'zusammen {size}', view: 'Ansehen', download: 'Herunterladen', all: 'Alles herunterladen, {size}', both: 'Beide herunterladen, {size}', one: 'Herunterladen, {size}',
  asArchive: 'Als ein Archiv. Die Dateien sind die genannten Fassungen.', newest: 'Sie sehen immer die Fassung, die gilt.', sees: '{sender} sieht, wann Sie diese Seite öffnen und was Sie herunterladen.', version: 'Fassung {n}, {when}', close: 'Schließen', top: 'Alles', openFolder: 'Öffnen', empty: 'Hier liegt nichts.', loading: 'Einen Augenblick …',
  vLoading: 'Das Dokument wird vorbereitet …', vFailed: 'Es kann hier nicht gezeigt werden. Sie können es herunterladen.', vNone: 'Dokumente dieser Art werden nicht in der Seite gezeigt. Laden Sie es herunter, um es zu öffnen.', vCut: 'Nur der Anfang wird gezeigt.', vEmpty: 'Die Datei ist leer.', front: 'Drücken Sie Zeigen, um sie zu öffnen. {sender} sieht dann, dass Sie es getan haben.', picture: 'Bild', sound: 'Ton', video: 'Film', table: 'Tabelle', text: 'Text', pdf: 'PDF', other: 'Datei', letterFrom: 'Von {practice}',
  email: 'Ihre E-Mail', stated: '{sender} fragt, wer dies öffnet.', confirmed: '{sender} fragt, wer dies öffnet. An Ihre Adresse kommt ein Code.', sendCode: 'Code schicken', codeSent: 'Wenn es für {email} bestimmt ist, sind sechs Ziffern unterwegs dorthin. Sie gelten zehn Minuten.', code: 'Code', another: 'Andere Adresse oder neuer Code', wrongCode: 'Der Code ist falsch oder abgelaufen.', notMeant: 'Für diese Adresse ist es nicht bestimmt.', noAddress: 'Das ist keine E-Mail-Adresse.', needsAccount: '{sender} gibt dies Leuten mit einem Konto bei {practice}.', signIn: 'Anmelden', knownAs: 'Sie kommen als {email}.',
}

export const language = ref<Language>('en')
const words = computed(() => (language.value === 'de' ? de : en))

/** A word with its places filled. */
export function say(key: keyof typeof en, fill: Record<string, string | number> = {}): string {
  return words.value[key].replace(/\{(\w+)\}/g, (_, k: string) => String(fill[k] ?? ''))
}
