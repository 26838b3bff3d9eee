import { api, ask } from '@/api/client'
import type { LightVerb, Step, Value } from '@/api/types'
import { useHome } from '@/stores/home'

/** What a person can do to the home from this browser, whose pass tells the hub who it is. Each returns once taken. */
export const act = {
  write: (device: string, property: string, value: Value) =>
    useHome().askingFor(device, property, value, () =>
      ask(
        api.PUT('/api/devices/{id}/properties/{property}', {
          params: { path: { id: device, property } },
          body: { value },
        }),
      ),
    ),
  keep: (device: string, property: string, value: Value, until?: string) =>
    ask(
      api.POST('/api/devices/{id}/properties/{property}/keep', {
        params: { path: { id: device, property } },
        body: { value, until },
      }),
    ),
  letGo: (device: string, property: string, owner: string) =>
    ask(
      api.DELETE('/api/devices/{id}/properties/{property}/holds/{owner}', {
        params: { path: { id: device, property, owner } },
      }),
    ),
  ask: (device: string, action: string, input?: Record<string, Value>) =>
    ask(
      api.POST('/api/devices/{id}/actions/{action}', {
        params: { path: { id: device, action } },
        body: { input },
      }),
    ),
  applyScene: (id: string) => ask(api.POST('/api/scenes/{id}/apply', { params: { path: { id } } })),
  liftScene: (id: string) => ask(api.POST('/api/scenes/{id}/lift', { params: { path: { id } } })),
  /** Applies a scene; one that lies on top of what is on is lifted off again. */
  pressScene: (s: { id: string; laid?: boolean; inEffect: boolean }) =>
    s.laid && s.inEffect ? act.liftScene(s.id) : act.applyScene(s.id),
  light: (id: string, verb: Exclude<LightVerb, ''>, value?: Value) =>
    ask(api.POST('/api/lights/{id}/do', { params: { path: { id } }, body: { verb, value } })),
  startSequence: (id: string) => ask(api.POST('/api/sequences/{id}/start', { params: { path: { id } } })),
  stopSequence: (id: string) => ask(api.POST('/api/sequences/{id}/stop', { params: { path: { id } } })),
  tryStep: (step: Step) => ask(api.POST('/api/steps/try', { body: step })),
  runRule: (id: string) => ask(api.POST('/api/rules/{id}/run', { params: { path: { id } } })),
}
