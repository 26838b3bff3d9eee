import type { Condition, RuleDocument, Step, Trigger } from '@/api/types'

/**
 * A rule that starts each time something happens becomes one that lasts, or the other way round. No condition is lost: what it
 * lasted for is needed for it to start, and the comparisons that started it are what it lasts for.
 */
export function rekindRule(rule: RuleDocument, lasts: boolean): RuleDocument {
  const { title, note, enabled, labels, provided, gate } = rule
  const kept = { title, note, enabled, labels, gate }
  if (lasts) {
    const compared = (rule.when ?? []).map(conditionOf).filter((c) => c !== undefined)
    const whenever: Condition =
      compared.length === 1 ? compared[0]! : compared.length ? { any: compared } : (provided ?? {})
    return { ...kept, provided: compared.length ? provided : undefined, do: rule.do, whenever }
  }
  const condition = rule.whenever
  const complete = condition && Object.keys(condition).length > 0
  return {
    ...kept,
    when: complete ? triggersOf(condition) : [],
    provided: both(provided, complete && triggersOf(condition).length === 0 ? condition : undefined),
    do: rule.do.map(setInstead),
  }
}

/** What a trigger compares, as a condition; none of one that compares nothing. */
function conditionOf(t: Trigger): Condition | undefined {
  if (t.kind || !(t.device || t.group) || !t.property || !t.comparison) return undefined
  const { property, comparison, value } = t
  const about: Condition = t.group ? { group: t.group, which: 'any' } : { device: t.device }
  return {
    ...about,
    property,
    comparison,
    value,
    ...(t.forSeconds ? { forAtLeastSeconds: t.forSeconds } : {}),
    ...renamed(t.formulas, 'forSeconds', 'forAtLeastSeconds'),
  }
}

/** The triggers that a condition is, where it is nothing but comparisons any of which will do; none otherwise. */
function triggersOf(c: Condition): Trigger[] {
  const lasts = c.forAtLeastSeconds || c.formulas?.forAtLeastSeconds
  const parts = c.any?.length && !lasts ? c.any : [c]
  const triggers = parts.map(triggerOf)
  return triggers.every((t) => t !== undefined) ? triggers : []
}

function triggerOf(c: Condition): Trigger | undefined {
  const { device, group, which, property, comparison, value, forAtLeastSeconds } = c
  if (!property || !comparison || c.all?.length || c.any?.length || c.none?.length) return undefined
  if (group ? which !== 'any' || forAtLeastSeconds || c.formulas?.forAtLeastSeconds : !device) return undefined
  return {
    ...(group ? { group } : { device }),
    property,
    comparison,
    value,
    ...(forAtLeastSeconds ? { forSeconds: forAtLeastSeconds } : {}),
    ...renamed(c.formulas, 'forAtLeastSeconds', 'forSeconds'),
  }
}

/** Formulas with another name for a field. */
function renamed(formulas: Record<string, string> | undefined, from: string, to: string) {
  if (!formulas) return {}
  return {
    formulas: Object.fromEntries(Object.entries(formulas).map(([field, f]) => [field === from ? to : field, f])),
  }
}

const both = (one: Condition | undefined, other: Condition | undefined): Condition | undefined =>
  one && other ? { all: [one, other] } : (one ?? other)

/** Outside of what lasts a hold has no end: the value is set, and a scene applied. */
function setInstead(s: Step): Step {
  if (s.kind !== 'hold' || s.forSeconds || s.formulas?.forSeconds !== undefined) return s
  if (s.scene !== undefined) return { kind: 'scene', scene: s.scene }
  return { ...s, kind: 'set', firm: undefined }
}
