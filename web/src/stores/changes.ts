import { api, ask } from '@/api/client'
import { documentOf, type Documents, type Editable } from '@/lib/documents'
import { useEdits } from './edits'
import { useNotices } from './notices'

/** The kinds of definition that can be removed. */
export type Removable = Exclude<Editable, 'home' | 'modes'>

const of = (id: string) => ({ params: { path: { id } } })
/** How a definition of each kind is removed. */
const removals: Record<Removable, (id: string) => Promise<unknown>> = {
  calendar: (id) => ask(api.DELETE('/api/calendars/{id}', of(id))),
  dashboard: (id) => ask(api.DELETE('/api/dashboards/{id}', of(id))),
  device: (id) => ask(api.DELETE('/api/devices/{id}', of(id))),
  group: (id) => ask(api.DELETE('/api/groups/{id}', of(id))),
  room: (id) => ask(api.DELETE('/api/rooms/{id}', of(id))),
  rule: (id) => ask(api.DELETE('/api/rules/{id}', of(id))),
  scene: (id) => ask(api.DELETE('/api/scenes/{id}', of(id))),
  schedule: (id) => ask(api.DELETE('/api/schedules/{id}', of(id))),
  link: (id) => ask(api.DELETE('/api/links/{id}', of(id))),
  mirror: (id) => ask(api.DELETE('/api/mirrors/{id}', of(id))),
  curve: (id) => ask(api.DELETE('/api/curves/{id}', of(id))),
  light: (id) => ask(api.DELETE('/api/lights/{id}', of(id))),
  sequence: (id) => ask(api.DELETE('/api/sequences/{id}', of(id))),
  person: (id) => ask(api.DELETE('/api/people/{id}', of(id))),
  variable: (id) => ask(api.DELETE('/api/variables/{id}', of(id))),
}

/** Changes and removes definitions of a kind at once, and tells of it with the way back. */
export function useChanges<K extends Removable>(kind: K) {
  const notices = useNotices()
  const edits = useEdits()

  /** Changes a part of a definition that is shown. */
  function change(
    entry: Documents[K] & { id: string },
    part: Partial<Documents[K]>,
    told = `${entry.title} changed.`,
  ): Promise<boolean> {
    const before = documentOf(kind, entry)
    const after = { ...before, ...part }
    return notices.attempt(async () => {
      await edits.now(kind, entry.id, before, after)
      notices.done(told, () => edits.now(kind, entry.id, after, before))
    })
  }

  /** Removes a definition, and then goes on. */
  function remove(
    { id, title }: { id: string; title: string },
    told = `${title} deleted.`,
    then?: () => Promise<unknown>,
  ): Promise<boolean> {
    return notices.attempt(async () => {
      await removals[kind](id)
      notices.done(told, () =>
        ask(api.POST('/api/definitions/{kind}/{id}/restore', { params: { path: { kind, id } } })),
      )
      await then?.()
    })
  }

  return { change, remove }
}
