import type en from '../en/remembered'

const de: typeof en = {
  remembered: {
    title: 'Wie üblich, oder wie Sie schon herausgaben',
    again: 'So herausgeben',
    send: 'So an {to} senden',
    take: 'Übernehmen, zum Ändern',
    last: 'gegeben {when} | {n}-mal gegeben, zuletzt {when}',
    password: '· das Passwort wird ein neues sein',
  },
}

export default de
