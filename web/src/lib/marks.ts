import type { Text } from '@codemirror/state'
import type { Diagnostic } from '@codemirror/lint'

/** What is wrong at a place of a text, counted from 1. */
export interface Mark {
  line: number
  column: number
  message: string
}

/** Marks as an editor shows them: from their place to the end of the line. */
export function diagnosticsOf(doc: Text, marks: Mark[]): Diagnostic[] {
  return marks.map((m) => {
    const line = doc.line(Math.min(Math.max(m.line, 1), doc.lines))
    const from = Math.min(line.from + Math.max(m.column - 1, 0), line.to)
    return { from, to: line.to, severity: 'error', message: m.message }
  })
}
