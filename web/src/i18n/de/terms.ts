import type en from '../en/terms'

const de: typeof en = {
  terms: {
    typed: 'In Ihren Worten',
    typedHint: 'Freitag, einmal, Passwort, nur für dunlin.example …',
    noMoment: '„{word}“ ist kein Zeitpunkt. Schreiben Sie „4. Dez. 18:00“, „Freitag“ oder „in 3 Wochen“.',
    why: {
      unknown: '„{word}“ bedeutet hier nichts.',
      twice: '„{word}“: Davor steht dazu schon etwas anderes.',
      past: '„{word}“ ist vorbei.',
      range: '„{word}“ ist nicht möglich.',
    },
  },
}

export default de
