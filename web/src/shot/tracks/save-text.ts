/** Hands a text to the person as a file of the browser's. */
export function saveText(text: string, name: string, type: string): void {
  const address = URL.createObjectURL(new Blob([text], { type }))
  Object.assign(document.createElement('a'), { href: address, download: name }).click()
  URL.revokeObjectURL(address)
}
