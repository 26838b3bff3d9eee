import type { useSession } from '@/stores/session'

/** Whether something that is for some roles and people is for whoever looks. */
export function seenByMe(who: string[] | undefined, session: ReturnType<typeof useSession>): boolean {
  if (!who?.length) return true
  const { role, view } = session
  const me = view?.looksAs || view?.person
  return (!!role && who.includes(role)) || (!!me && who.includes(me))
}
