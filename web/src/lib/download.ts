/** Gives the browser a text as a file to keep. */
export function download(name: string, text: string, type = 'application/json'): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type }))
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}
