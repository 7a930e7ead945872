import type en from '../en/player'

const de: typeof en = {
  player: {
    label: 'Was gerade läuft',
    play: 'Abspielen | {n} nacheinander abspielen',
    of: '{n} von {of}',
    next: 'Nächste Aufnahme',
    previous: 'Aufnahme davor',
    stop: 'Nicht mehr abspielen',
    failed: 'Diese Aufnahme lässt sich hier nicht abspielen. Sie lässt sich herunterladen.',
  },
}

export default de
