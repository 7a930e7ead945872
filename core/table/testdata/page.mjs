// What the page makes of a table: two series of random changes of one table, the table after each, and the first series as the
// page carries it over the second. Printed, a line a case. Usage: node page.mjs WEB SEED CASES
import { createRequire } from 'node:module'
import { readFileSync } from 'node:fs'
import { resolve } from 'node:path'
import { chances } from '../../richtext/testdata/random.mjs'

const [web, seed, cases] = process.argv.slice(2)
const { transpileModule, ModuleKind, ScriptTarget } = createRequire(resolve(web) + '/')('typescript')
const modules = new Map()
/** A module of the page, with those that it imports. */
function address(name) {
  if (!modules.has(name)) {
    const source = readFileSync(resolve(web, 'src/parts/writing/table', name + '.ts'), 'utf8')
    const { outputText } = transpileModule(source, { compilerOptions: { module: ModuleKind.ES2022, target: ScriptTarget.ES2022 } })
    const whole = outputText.replace(/from '\.\/(\w+)'/g, (_, other) => `from '${address(other)}'`)
    modules.set(name, 'data:text/javascript;base64,' + Buffer.from(whole).toString('base64'))
  }
  return modules.get(name)
}
const { applied, across, inverse, readBook } = await import(address('book'))
const { copied } = await import(address('formula'))
const { valueOf } = await import(address('values'))

const { below, one } = chances(seed)

const texts = ['8.9', '007', "'12", 'Frame', '12%', '2026-02-29', '2026-11-30', 'TRUE', '1e3', '=A1', '=SUM(A1:B3)*2', "='Year''s end'!A$2+$B2", '=SUM(B:C)', '=SUM(2:3)&"A1"', '=LOG10(A2)+Hull!B2', '=IF(A2>1,"re: A3",B4)', '=é2+A2', '=B3:A1', '-0', '1.', '']
const start = {
  sheets: [
    { name: 'Hull', head: 1, columns: 4, rows: [['Frame', 'Original', 'Measured', 'Loss'], ['12', '10', '8.9', '=B2-C2'], ['15', '10', '8.7', { t: '=B3-C3', f: '0.0' }], [], ['', '', '', '=SUM(D2:D3)']] },
    { name: "Year's end", head: 0, columns: 2, rows: [['=Hull!D5', 'x'], ['=SUM(Hull!B2:B3)']] },
  ],
}

function change(book) {
  const sheet = below(4) ? 0 : 1
  const s = book[sheet]
  switch (one(['set', 'set', 'set', 'rows+', 'rows-', 'columns+', 'columns-', 'format'])) {
    case 'rows+': return { op: 'rows', sheet, at: below(s.rows.length + 1), add: 1 + below(3) }
    case 'rows-': return s.rows.length ? { op: 'rows', sheet, at: below(s.rows.length), drop: 1 + below(3) } : change(book)
    case 'columns+': return { op: 'columns', sheet, at: below(s.columns + 1), add: 1 }
    case 'columns-': return s.columns > 1 ? { op: 'columns', sheet, at: below(s.columns), drop: 1 } : change(book)
    case 'format': return { op: 'format', sheet, area: { row: below(4), column: below(3), rows: 1 + below(4), columns: 1 + below(3) }, format: one(['', '0.0', '0%']) }
  }
  return { op: 'set', sheet, cells: Array.from({ length: 1 + below(3) }, () => ({ r: below(s.rows.length + 2), c: below(s.columns + 1), t: one(texts) })) }
}
function series(book) {
  const steps = []
  for (let n = 1 + below(4); n > 0; n--) {
    const s = change(book)
    steps.push(s)
    book = applied(book, s)
  }
  return steps
}
const plain = (book) => ({ sheets: book.map((s) => ({ name: s.name, head: s.head, columns: s.columns, rows: s.rows })) })

for (let i = 0; i < Number(cases); i++) {
  const book = readBook(start)
  const [mine, theirs] = [series(book), series(book)]
  const [carried] = across(mine, theirs, book.map((s) => s.name))
  const after = theirs.reduce(applied, book)
  const both = carried.reduce(applied, after)
  // What is undone is as it was, but for rows and columns that were written beyond the last.
  const s = change(book)
  const undone = inverse(book, s).reduce(applied, applied(book, s))
  const text = one(texts)
  console.log(JSON.stringify({
    start, mine, theirs, carried, after: plain(after), both: plain(both), step: s, undone: plain(undone),
    text, value: valueOf(text, '.'),
  }))
}
console.log(JSON.stringify({ copies: [copied('=A2+$B$2+C$2', 1, 1), copied('=SUM(B:B)', 3, 1), copied('=A1', -1, 0), copied('A1', 1, 1)] }))
