/** One of those that can be chosen: its value, what it is called, and what it is listed under. */
export interface Choice<V extends string = string> {
  value: V
  title: string
  group?: string
  /** What is said beside it. */
  note?: string
}

/** The choices in which all words are found. */
export function narrowed<C extends Choice>(choices: C[], words: string): C[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean)
  return choices.filter((c) => {
    const text = `${c.title} ${c.group ?? ''} ${c.note ?? ''}`.toLowerCase()
    return wanted.every((w) => text.includes(w))
  })
}
