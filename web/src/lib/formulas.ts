/** Fields of a part of a rule that formulas give, by the fields' names. */
export type Formulas = Record<string, string>

/** The formulas with another one for a field, or without one; none at all where none is left. */
export function withFormula(
  formulas: Formulas | undefined,
  field: string,
  formula: string | undefined,
): Formulas | undefined {
  const others = Object.entries(formulas ?? {}).filter(([name]) => name !== field)
  const all = formula === undefined ? others : [...others, [field, formula] as const]
  return all.length ? Object.fromEntries(all) : undefined
}
