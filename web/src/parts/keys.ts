/** Whether a key is meant for a field in which somebody writes. */
export const isTyping = (e: KeyboardEvent, fields = 'input') =>
  e.target instanceof Element && e.target.matches(`${fields}, textarea, select, [contenteditable]`)

/** Whether it is pressed together with one that makes it a command of the browser or the system. */
export const isCommand = (e: KeyboardEvent) => e.ctrlKey || e.metaKey || e.altKey
