import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { preset } from './preset'

/** All components and styles, by file. */
function sources(folder: string): [file: string, text: string][] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry): [string, string][] => {
    const path = join(folder, entry.name)
    if (entry.isDirectory()) return sources(path)
    return /\.(vue|css)$/.test(path) ? [[path, readFileSync(path, 'utf8')]] : []
  })
}

const written = sources(join(import.meta.dirname, '..'))
/** The styles of all components and of the base, by file. */
const all = written
  .filter(([path]) => !path.endsWith('tokens.css'))
  .flatMap(([path, text]) => {
    const css = path.endsWith('.vue') ? [...text.matchAll(/<style[^>]*>(.*?)<\/style>/gs)].map((m) => m[1]!) : [text]
    return css.map((c): [string, string] => [path, c])
  })
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

it('each component of PrimeVue that is used has its tokens', () => {
  const used = new Set(written.flatMap(([, text]) => [...text.matchAll(/'primevue\/(\w+)'/g)].map((m) => m[1]!)))
  used.delete('column') // is drawn by its table
  expect(used.size).toBeGreaterThan(10)
  expect([...used].filter((name) => !(name in (preset.components ?? {})))).toEqual([])
})

it('each component that a template uses is imported: an unknown one draws nothing', () => {
  const everywhere = new Set(['RouterLink', 'RouterView'])
  const missing = written
    .filter(([path]) => path.endsWith('.vue'))
    .flatMap(([path, text]) => {
      const scripts = [...text.matchAll(/<script.*?<\/script>/gs)].map((m) => m[0]).join('')
      const template = text.replace(/<script.*?<\/script>/gs, '')
      const own = path.split('/').at(-1)!.replace('.vue', '')
      return [...new Set([...template.matchAll(/<([A-Z]\w+)[\s/>]/g)].map((m) => m[1]!))]
        .filter((tag) => tag !== own && !everywhere.has(tag) && !new RegExp(`\\b${tag}\\b`).test(scripts))
        .map((tag) => `${path}: ${tag}`)
    })
  expect(missing).toEqual([])
})
