export default {
  templates: {
    begin: 'From a document …',
    menu: 'New from this …',
    which: 'Which document: number, name or words',
    noneFound: 'No document is called like that.',
    from: 'A new document from “{name}”',
    name: 'Name',
    known: 'known here',
    without: 'Nothing is to be filled in. Words in double brackets, as [[client]], would be.',
    makeAndWrite: 'Make it and write on',
    make: 'Make document',
    made: '{ref} {name} is made.',
  },
  problem: {
    'no-template': 'Nothing can be filled in in a document of this kind.',
    'blank-value': 'What is filled in is text of up to 2,000 characters.',
    'blank-unfilled': 'A word is not filled in yet.',
  },
}
