export default {
  remembered: {
    title: 'As usual, or as you gave before',
    again: 'Give out like this',
    send: 'Send like this to {to}',
    take: 'Take over, to change',
    last: 'given {when} | given {n} times, last {when}',
    password: '· the password will be a new one',
  },
}
