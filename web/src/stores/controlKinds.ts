import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { api, ask } from '@/api/client'
import type { ControlKind, Device, Property } from '@/api/types'
import type { Choice } from '@/lib/choice'
import { PANELS } from '@/lib/panel/settings'
import { grouped, propertyChoices } from '@/lib/sentences'
import { useHome } from './home'

/** The kinds of control that the hub knows, with what each can be about and its options. */
export const useControlKinds = defineStore('controlKinds', () => {
  const list = shallowRef<ControlKind[]>([])
  const byKind = computed(() => new Map(list.value.map((k) => [k.kind, k])))
  let reading: Promise<void> | undefined
  const read = () =>
    (reading ??= ask(api.GET('/api/controls')).then(
      (all) => void (list.value = all),
      (error: unknown) => {
        reading = undefined
        throw error
      },
    ))

  /** Whether a kind can be about a property. */
  function fits(kind: ControlKind, property: Property): boolean {
    const wanted = kind.property
    return (
      !wanted ||
      ((!wanted.roles?.length || wanted.roles.includes(property.role ?? '')) &&
        (!wanted.types?.length || wanted.types.includes(property.type)) &&
        (!wanted.writable || property.writable) &&
        (!wanted.limited || property.minimum !== property.maximum))
    )
  }

  /** What a kind of control can be about. */
  function choices(kind: ControlKind): Choice[] {
    const home = useHome()
    const named = (all: { id: string; title: string }[]) => all.map((s) => ({ value: s.id, title: s.title }))
    const ofDevices = (names: (d: Device) => { name: string; title: string }[]) =>
      grouped(home.devices, home.rooms, names)
    switch (kind.subject) {
      case 'property':
      case 'values':
        return propertyChoices(home.everything, home.rooms, (p) => fits(kind, p))
      case 'action':
        return ofDevices((d) => d.description.actions)
      case 'camera':
        return ofDevices((d) => (d.connection === PANELS ? [] : (d.description.pictures ?? [])))
      case 'scene':
        return named(home.scenes)
      case 'sequence':
        return named(home.sequences)
      case 'light':
        return named(home.lights)
      case 'rule':
        return named(home.rules)
      case 'dashboard':
        return named(home.dashboards)
      default:
        return []
    }
  }
  return { list, byKind, read, choices }
})
