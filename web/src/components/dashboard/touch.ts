import type { Router } from 'vue-router'
import type { Control, Touch } from '@/api/types'
import { act } from '@/lib/act'
import { switchedOn } from '@/instruments/useLamp'
import { wantedOf } from '@/lib/sliding'
import type { useHome } from '@/stores/home'

interface Around {
  home: ReturnType<typeof useHome>
  router: Router
}

/** Does what was chosen for a touch. */
export async function doTouch(touch: Touch, control: Control, { home, router }: Around): Promise<unknown> {
  switch (touch.do) {
    case 'set':
      return act.write(touch.device!, touch.property!, touch.value ?? null)
    case 'toggle':
      return toggle(touch.device ?? control.device ?? '', touch.property ?? control.property ?? '', home)
    case 'action':
      return act.ask(touch.device!, touch.action!, touch.inputs)
    case 'scene': {
      const scene = home.scene(touch.scene)
      return scene ? act.pressScene(scene) : act.applyScene(touch.scene!)
    }
    case 'sequence':
      return home.sequences.find((s) => s.id === touch.sequence)?.state.running
        ? act.stopSequence(touch.sequence!)
        : act.startSequence(touch.sequence!)
    case 'rule':
      return act.runRule(touch.rule!)
    case 'dashboard':
      return router.push(`/panel/${touch.dashboard}`)
    default:
      return undefined
  }
}

function toggle(device: string, property: string, home: Around['home']) {
  const state = home.state(device, property)
  const wanted = wantedOf(state)
  if (typeof wanted === 'number') {
    const described = home.device(device)?.description.properties.find((p) => p.name === property)
    return act.write(device, property, wanted > 0 ? 0 : switchedOn(described, state))
  }
  return act.write(device, property, wanted !== true)
}
