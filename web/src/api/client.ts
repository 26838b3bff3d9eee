import createClient from 'openapi-fetch'
import type { paths } from './schema.gen'
import type { Change } from './types'

/** An error of the hub as RFC 9457 says, with the place of each thing that is wrong. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly places: { location: string; message: string }[] = [],
    /** Where somebody else changed the same meanwhile: the lines that are different. */
    readonly changes?: Change[],
  ) {
    super(message)
  }

  /** What is wrong with one field, if anything. */
  at(field: string): string | undefined {
    return this.places.find((p) => p.location.replace(/^body\./, '') === field)?.message
  }
}

/** Why something failed, in words. */
export const reasonOf = (error: unknown): string => (error instanceof Error ? error.message : String(error))

interface ProblemDocument {
  detail?: string
  title?: string
  errors?: { location?: string; message?: string }[] | null
  changes?: Change[]
}

/** The pass that the hub put into the page: by it the hub knows that a request comes from a page of its own. */
const pass = document.querySelector<HTMLMetaElement>('meta[name="amvek-page"]')?.content

export const api = createClient<paths>({ baseUrl: '/', headers: pass ? { 'Amvek-Page': pass } : {} })

let outside = () => {}
/** Has something done when the hub says that this browser is not let in, or not any more. */
export function whenOutside(act: () => void) {
  outside = act
}
const NOT_LET_IN = 401

/** Awaits an answer of the hub and returns its body; a refusal becomes a Problem. */
export async function ask<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<NonNullable<T>> {
  let answer
  try {
    answer = await call
  } catch {
    throw new Problem(0, 'The hub cannot be reached. Nothing was changed.')
  }
  if (answer.error !== undefined || !answer.response.ok) {
    if (answer.response.status === NOT_LET_IN) outside()
    const document = (answer.error ?? {}) as ProblemDocument
    const places = (document.errors ?? []).map((e) => ({ location: e.location ?? '', message: e.message ?? '' }))
    const words = document.detail ?? document.title ?? 'The hub refused this.'
    throw new Problem(answer.response.status, words, places, document.changes)
  }
  return answer.data as NonNullable<T>
}
