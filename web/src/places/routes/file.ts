/** A value as a file that the browser saves. */
export function saveFile(name: string, value: unknown) {
  saveText(name, JSON.stringify(value, null, 2), 'application/json')
}

/** Text as a file that the browser saves. */
export function saveText(name: string, text: string, type: string) {
  const url = URL.createObjectURL(new Blob([text], { type }))
  const a = Object.assign(document.createElement('a'), { href: url, download: name })
  a.click()
  URL.revokeObjectURL(url)
}

/** Rows as CSV (RFC 4180); what a spreadsheet would take for a formula is marked as text. */
export function csvOf(rows: (string | number)[][]): string {
  const cell = (v: string | number) => {
    const s = typeof v === 'string' && /^[=+\-@\t\r]/.test(v) ? `'${v}` : String(v)
    return /[",\n\r]/.test(s) ? `"${s.replaceAll('"', '""')}"` : s
  }
  return rows.map((r) => r.map(cell).join(',')).join('\r\n')
}
