import type en from '../en/terms'

const de: typeof en = {
  terms: {
    typed: 'In Ihren Worten',
    typedHint: 'Freitag, einmal, Passwort, nur für dunlin.example …',
    why: {
      unknown: '„{word}“ bedeutet hier nichts.',
      twice: '„{word}“: Davor steht dazu schon etwas anderes.',
      past: '„{word}“ ist vorbei.',
      range: '„{word}“ ist nicht möglich.',
    },
  },
}

export default de
