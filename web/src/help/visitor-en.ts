import type { HelpTopic } from './topics'

const topics: HelpTopic[] = [
  {
    id: 'open',
    places: [],
    title: 'See what was sent to you',
    text: 'Press Show; whoever sent it then sees that you opened it. If a password is asked for, it came to you by another way than the link. If a code is asked for, it is mailed to the address you give.',
    keys: [],
  },
  {
    id: 'read',
    places: [],
    title: 'Read and download',
    text: 'View shows a document in the page: pages can be listed, gone to by number, and searched. Download saves it; where only viewing is allowed, pages bear your address and there is no download.',
    keys: [
      ['/', 'find in it'],
      ['+ −', 'larger, smaller'],
      ['Esc', 'back'],
    ],
  },
  {
    id: 'send',
    places: [],
    title: 'Send files to somebody',
    text: 'At somebody’s address you confirm your mail address by a code, choose files, give your name and press Send. Nobody opens them before they are accepted. A receipt with the hash of each file comes to your mail address. Where it says so, files, names and message are sealed in your browser: do not leave the page before they are sent.',
    keys: [],
  },
  {
    id: 'sent',
    places: [],
    title: 'Fetch what is still arriving',
    text: 'Files can be fetched while they are still arriving: press Begin now, and they come as the sender sends them. If the sender stops, your download waits; if they give up, it fails rather than look complete, and goes on when they do. When the time is over the copies are destroyed.',
    keys: [],
  },
  {
    id: 'hand-in',
    places: [],
    title: 'Hand papers in',
    text: 'Drag files or whole folders onto the page, or choose them. A wrong file can be taken back until you press Done. You get a receipt with the fingerprint of every file; nobody else from outside can open what you hand in. You may come back and hand in more.',
    keys: [],
  },
  {
    id: 'write',
    places: [],
    title: 'Write with others',
    text: 'Where a link lets you change papers, texts have “Write”: say by what name the others know you, and write. You see who else is there, and everybody sees what you write as you write it; it is kept by itself. “Call” begins a small call beside the text, or brings you to one.',
    keys: [],
  },
  {
    id: 'fill',
    places: [],
    title: 'Fill in a form',
    text: 'Press Begin and answer; what you write is kept as you go. A thick edge marks what must be answered, and “Next to answer” leads there. When nothing is left, give your name and hand it in: you get a receipt, and nobody but the practice sees your answers. Until somebody there begins to work on it, you can correct it by the same link. If you confirmed your address, or the link came to you by mail, you can stop and come back on another day.',
    keys: [],
  },
  {
    id: 'sealed',
    places: [],
    title: 'A sealed transfer',
    text: 'It is opened in your browser, by the key behind the link or by words that the sender tells you another way. If the link was cut on its way, paste the whole of it, or the key. A file that was altered on its way is not saved. Lost connections are gone on with. Where a browser cannot hold a large file, save the sealed one and open it with the age program by the line that is shown.',
    keys: [],
  },
  {
    id: 'gone',
    places: [],
    title: 'The link does not work',
    text: 'Links end at a time, after a number of openings, or when the sender ends them. Ask whoever sent it to you for a new one; their address stands in the mail.',
    keys: [],
  },
]

export default topics
