import type en from '../en/visits'

const de: typeof en = {
  problem: {
    'view-only': 'Dieser Link lässt nichts herunterladen.',
    'in-hand': 'Jemand arbeitet daran. Es lässt sich ansehen, aber erst danach wieder herunterladen.',
    looked: 'Was angesehen wurde, ließ sich nicht vermerken.',
    width: 'In dieser Breite lassen sich Seiten nicht zeigen.',
    'needs-identity': 'Der Link fragt, wer ihn öffnet.',
    'needs-opening': 'Der Link muss erst geöffnet werden.',
    'taken-up': 'Damit wird schon gearbeitet.',
    'handed-in': 'Es ist schon abgegeben.',
    'paper-unknown': 'Dieses Papier steht nicht in der Liste.',
    'downloads-used-up': 'Alle Downloads dieses Links sind verbraucht.',
    'address-not-allowed': 'Diese Adresse gehört nicht zu denen, für die er gedacht ist.',
    'nothing-handed-in': 'Es wurde noch nichts abgegeben.',
    'needs-password': 'Der Link hat ein Passwort.',
  },
}

export default de
