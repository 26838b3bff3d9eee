import { api, ask } from '@/api/client'
import type { Step, Value } from '@/api/types'

export type Actor = 'page' | 'dashboard' | 'palette'

/** What a person can do to the home from this browser. Each returns once the hub has taken it. */
export const act = {
  write: (device: string, property: string, value: Value, actor: Actor = 'page') =>
    ask(
      api.PUT('/api/devices/{id}/properties/{property}', {
        params: { path: { id: device, property }, query: { actor } },
        body: { value },
      }),
    ),
  keep: (device: string, property: string, value: Value, until?: string) =>
    ask(
      api.POST('/api/devices/{id}/properties/{property}/keep', {
        params: { path: { id: device, property }, query: { actor: 'page' } },
        body: { value, until },
      }),
    ),
  letGo: (device: string, property: string, owner: string) =>
    ask(
      api.DELETE('/api/devices/{id}/properties/{property}/holds/{owner}', {
        params: { path: { id: device, property, owner: encodeURIComponent(owner) }, query: { actor: 'page' } },
      }),
    ),
  ask: (device: string, action: string, input?: Record<string, Value>) =>
    ask(
      api.POST('/api/devices/{id}/actions/{action}', {
        params: { path: { id: device, action }, query: { actor: 'page' } },
        body: { input },
      }),
    ),
  applyScene: (id: string, actor: Actor = 'page') =>
    ask(api.POST('/api/scenes/{id}/apply', { params: { path: { id }, query: { actor } } })),
  startSequence: (id: string, actor: Actor = 'page') =>
    ask(api.POST('/api/sequences/{id}/start', { params: { path: { id }, query: { actor } } })),
  stopSequence: (id: string, actor: Actor = 'page') =>
    ask(api.POST('/api/sequences/{id}/stop', { params: { path: { id }, query: { actor } } })),
  tryStep: (step: Step, actor: Actor = 'page') =>
    ask(api.POST('/api/steps/try', { params: { query: { actor } }, body: step })),
  runRule: (id: string, actor: Actor = 'page') =>
    ask(api.POST('/api/rules/{id}/run', { params: { path: { id }, query: { actor } } })),
}
