export default {
  player: {
    label: 'What is playing',
    play: 'Play | Play {n} one after another',
    of: '{n} of {of}',
    next: 'Next recording',
    previous: 'Recording before',
    stop: 'Stop playing',
    failed: 'This recording cannot be played here. It can be downloaded.',
  },
}
