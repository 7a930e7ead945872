export default {
  problem: {
    'view-only': 'This link lets nothing be downloaded.',
    'in-hand': 'Somebody is working on it. It can be looked at, not downloaded, until they are done.',
    looked: 'What was looked at could not be noted.',
    width: 'Pages cannot be shown in this width.',
    'needs-identity': 'The link asks who opens it.',
    'needs-opening': 'The link has to be opened first.',
    'taken-up': 'Somebody works with it already.',
    'handed-in': 'It is handed in already.',
    'paper-unknown': 'This paper is not in the list.',
    'downloads-used-up': 'All downloads of this link are used up.',
    'address-not-allowed': 'This address is not among those it is meant for.',
    'nothing-handed-in': 'Nothing has been handed in yet.',
    'needs-password': 'The link has a password.',
  },
}
