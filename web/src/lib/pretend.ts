import type { Condition, RuleDocument, Step } from '@/api/types'
import { OWN } from './own'

/** A property that a rule looks at, and whether it is what starts the rule. */
export interface Looked {
  device: string
  name: string
  starts: boolean
}

/** The properties that a rule looks at, each once, in the order of its text. */
export function lookedAt(rule: RuleDocument): Looked[] {
  const list: Looked[] = []
  const put = (device: string | undefined, name: string | undefined, starts: boolean) => {
    if (device && name && !list.some((l) => l.device === device && l.name === name)) list.push({ device, name, starts })
  }
  const expression = (text: string | undefined, starts: boolean) => {
    for (const m of (text ?? '').matchAll(/\bvalue\(\s*"([^"]*)"\s*,\s*"([^"]*)"/g)) put(m[1], m[2], starts)
    for (const m of (text ?? '').matchAll(/\bvariable\(\s*"([^"]*)"/g)) put(OWN, m[1], starts)
  }
  const condition = (c: Condition | undefined, starts: boolean) => {
    if (!c) return
    put(c.device, c.property, starts)
    expression(c.expression, starts)
    for (const inner of [...(c.all ?? []), ...(c.any ?? []), ...(c.none ?? [])]) condition(inner, starts)
  }
  const steps = (all: Step[] | undefined) => {
    for (const s of all ?? []) {
      condition(s.condition, false)
      steps(s.then)
      steps(s.else)
      steps(s.do)
      for (const b of s.branches ?? []) steps(b.do)
    }
  }
  for (const t of rule.when ?? []) put(t.device, t.property, true)
  condition(rule.whenever, true)
  condition(rule.provided, false)
  condition(rule.gate, false)
  steps(rule.do)
  return list
}
