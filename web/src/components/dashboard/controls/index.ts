import type { Component } from 'vue'
import type { Control } from '@/api/types'
import type { Choice } from '@/lib/choice'
import { propertyChoices, split } from '@/lib/sentences'
import type { useHome } from '@/stores/home'
import LampControl from './LampControl.vue'
import RuleControl from './RuleControl.vue'
import SceneControl from './SceneControl.vue'
import ValueControl from './ValueControl.vue'

/** What a control is about, before it has a place. */
export type NewControl = Pick<Control, 'kind' | 'device' | 'property' | 'scene' | 'rule'>

/** A kind of control: how it looks, and what one can be made of. */
interface ControlKind {
  component: Component
  /** What is added, as it stands after "Add". */
  adds: string
  label: string
  choices: (home: ReturnType<typeof useHome>) => Choice[]
  make: (choice: string) => Omit<NewControl, 'kind'>
}

const ofDevice = (choice: string) => {
  const [device, property] = split(choice)
  return { device, property }
}

/** By kind, in the order in which they are offered. */
export const controlKinds: Record<Control['kind'], ControlKind> = {
  lamp: {
    component: LampControl,
    adds: 'a lamp',
    label: 'Lamp to add',
    choices: (home) =>
      propertyChoices(home.everything, home.rooms, (p) => p.role === 'power' || p.role === 'brightness'),
    make: ofDevice,
  },
  value: {
    component: ValueControl,
    adds: 'a value',
    label: 'Value to add',
    choices: (home) => propertyChoices(home.everything, home.rooms),
    make: ofDevice,
  },
  scene: {
    component: SceneControl,
    adds: 'a scene',
    label: 'Scene to add',
    choices: (home) => home.scenes.map((s) => ({ value: s.id, title: s.title })),
    make: (scene) => ({ scene }),
  },
  rule: {
    component: RuleControl,
    adds: 'a rule',
    label: 'Rule to add',
    choices: (home) => home.rules.map((r) => ({ value: r.id, title: r.title })),
    make: (rule) => ({ rule }),
  },
}
