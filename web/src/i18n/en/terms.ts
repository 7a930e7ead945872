export default {
  terms: {
    typed: 'In your words',
    typedHint: 'Friday, once, password, only for dunlin.example …',
    noMoment: '“{word}” is no moment. Type “4 Dec 18:00”, “Friday” or “in 3 weeks”.',
    why: {
      unknown: '“{word}” means nothing here.',
      twice: '“{word}”: something else was said of that before.',
      past: '“{word}” has gone by.',
      range: '“{word}” is not possible.',
    },
  },
}
