import { api, ask } from '@/api/client'
import type { Rule } from '@/api/types'
import { copyOf, type Carried } from './keys'

/** Copies the rules of keys to other keys, all or none of them; it returns how many, and what takes them back. */
export async function copyRules(
  rules: Rule[],
  way: Carried,
): Promise<{ count: number; takeBack: () => Promise<void> }> {
  const ids = new Map<string, string>()
  const takeBack = async () => {
    for (const made of [...ids.values()].toReversed())
      await ask(api.DELETE('/api/rules/{id}', { params: { path: { id: made } } }))
  }
  // Those that speak of none of the others first: what speaks of them speaks of the copies.
  const speaks = (text: string) => Number(rules.some((r) => text.includes(JSON.stringify(r.id))))
  const order = rules.toSorted((a, b) => speaks(JSON.stringify(a.do)) - speaks(JSON.stringify(b.do)))
  try {
    for (const r of order) {
      const saved = await ask(api.POST('/api/rules', { body: copyOf(r, way, ids) }))
      ids.set(r.id, saved.id)
    }
  } catch (error) {
    await takeBack()
    throw error
  }
  return { count: ids.size, takeBack }
}
