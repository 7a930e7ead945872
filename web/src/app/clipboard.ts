/**
 * Puts a text on the clipboard that is still on its way. Browsers let that happen only at once after somebody has acted, so it is
 * promised to them then.
 */
export async function copyComing(text: Promise<string | undefined>): Promise<boolean> {
  try {
    const promised = text.then((t) => (t ? new Blob([t], { type: 'text/plain' }) : Promise.reject(new Error('there is nothing to copy'))))
    await navigator.clipboard.write([new ClipboardItem({ 'text/plain': promised })])
    return true
  } catch {
    return text.then(
      (t) => !!t && copyText(t),
      () => false,
    )
  }
}

/** Puts a text on the clipboard; says whether that was possible. */
export async function copyText(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text)
    return true
  } catch {
    const area = document.createElement('textarea')
    area.value = text
    area.style.position = 'fixed'
    area.style.opacity = '0'
    document.body.append(area)
    area.select()
    const done = document.execCommand('copy')
    area.remove()
    return done
  }
}
