/** A document as a text that is the same whatever the order of its fields: documents are the same when these are. */
export function canonical(document: unknown): string {
  return JSON.stringify(document, (_, value: unknown) =>
    value && typeof value === 'object' && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  )
}
