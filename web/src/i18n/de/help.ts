import type en from '../en/help'

const de: typeof en = {
  help: {
    title: 'Hilfe',
    find: 'Was möchten Sie wissen?',
    none: 'Dazu steht hier nichts. Wer in der Kanzlei hilft, weiß mehr.',
    keys: 'Tasten',
    key: 'Die Taste ? öffnet dies von überall.',
    helper: 'In der Kanzlei hilft: {helper}.',
    askAround: 'Fragen Sie jemanden aus der Verwaltung der Kanzlei.',
  },
}

export default de
