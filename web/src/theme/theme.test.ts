import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'

/** The styles of all components and of the base, by file. */
function styles(folder: string): [file: string, css: string][] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name)
    if (entry.isDirectory()) return styles(path)
    const text = /\.(vue|css)$/.test(path) ? readFileSync(path, 'utf8') : ''
    if (path.endsWith('tokens.css')) return []
    const css = path.endsWith('.vue') ? [...text.matchAll(/<style[^>]*>(.*?)<\/style>/gs)].map((m) => m[1]!) : [text]
    return css.map((c): [string, string] => [path, c])
  })
}

const all = styles(join(import.meta.dirname, '..'))
const found = (pattern: RegExp) =>
  all.flatMap(([file, css]) => [...css.matchAll(pattern)].map((m) => `${file}: ${m[0]}`))

describe('styles use only the tokens of the theme', () => {
  it('finds them', () => expect(all.length).toBeGreaterThan(80))
  it('for colors', () => expect(found(/#[0-9a-f]{3,8}\b|\b(?:rgb|hsl|oklch)a?\([^v][^)]*\)/gi)).toEqual([]))
  it('for sizes of type', () => expect(found(/font(?:-size)?:[^;]*\b\d[\d.]*px[^;]*/g)).toEqual([]))
  it('for distances', () =>
    expect(
      found(
        /(?<![\w-])(?:(?:row|column)-gap|gap|margin[\w-]*|padding[\w-]*):[^;{}]*?(?<![\w.-])(?!1px)\d[\d.]*px[^;]*/g,
      ),
    ).toEqual([]))
})
