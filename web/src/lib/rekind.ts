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
  if (t.kind || !t.device || !t.property || !t.comparison) return undefined
  const { device, property, comparison, value } = t
  return { device, property, comparison, value, ...(t.forSeconds ? { forAtLeastSeconds: t.forSeconds } : {}) }
}

/** The triggers that a condition is, where it is nothing but comparisons any of which will do; none otherwise. */
function triggersOf(c: Condition): Trigger[] {
  const parts = c.any?.length && !c.forAtLeastSeconds ? c.any : [c]
  const triggers = parts.map(({ device, property, comparison, value, forAtLeastSeconds, group, all, any, none }) =>
    device && property && comparison && !group && !all?.length && !any?.length && !none?.length
      ? { device, property, comparison, value, ...(forAtLeastSeconds ? { forSeconds: forAtLeastSeconds } : {}) }
      : undefined,
  )
  return triggers.every((t) => t !== undefined) ? triggers : []
}

const both = (one: Condition | undefined, other: Condition | undefined): Condition | undefined =>
  one && other ? { all: [one, other] } : (one ?? other)

/** Outside of what lasts a hold has no end: the value is set, and a scene applied. */
function setInstead(s: Step): Step {
  if (s.kind !== 'hold' || s.forSeconds) return s
  if (s.scene !== undefined) return { kind: 'scene', scene: s.scene }
  return { ...s, kind: 'set', firm: undefined }
}
