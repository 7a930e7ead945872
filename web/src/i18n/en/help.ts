export default {
  help: {
    title: 'Help',
    find: 'What do you want to know?',
    none: 'Nothing is written about that. Whoever helps in the practice knows more.',
    keys: 'Keys',
    key: 'The key ? opens this from everywhere.',
    helper: 'In the practice helps: {helper}.',
    askAround: 'Ask an administrator of the practice.',
  },
}
