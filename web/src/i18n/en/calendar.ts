export default {
  calendar: {
    title: 'What ends, in a calendar',
    about:
      'A calendar program reads by a secret address when links and access that you see end, and when what you checked out is to be back. Whoever has the address reads that, too.',
    make: 'Make an address and copy it',
    anew: 'Make another address',
    forget: 'Take the address away',
    forgotten: 'The address leads nowhere now.',
    once: 'It is said this once; one that there was before leads nowhere now.',
    read: 'Your calendar was last read {when}.',
    unread: 'The address was made {when} and has not been read yet.',
  },
}
