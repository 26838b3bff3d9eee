import type { Rule } from '@/api/types'

/** Whether a rule cannot act since something is wrong with it, or a guard stopped it. */
export const broken = (r: Rule) => !!r.state.stopped || r.state.problems.some((p) => !p.open)

/** Whether a rule is only not filled in yet. */
export const unfinished = (r: Rule) => !broken(r) && r.state.problems.length > 0
