import type { Control, ControlKind } from '@/api/types'
import { join, split } from '@/lib/sentences'

/** What of a control says what it is about, made of a choice. */
export function aimAt(kind: ControlKind, choice: string): Partial<Control> {
  const [device, name] = split(choice)
  switch (kind.subject) {
    case 'property':
      return { device, property: name }
    case 'action':
      return { device, action: name }
    case 'camera':
      return { device, camera: name }
    case 'values':
      return { values: [{ device, name }] }
    case 'scene':
      return { scene: choice }
    case 'sequence':
      return { sequence: choice }
    case 'light':
      return { light: choice }
    case 'rule':
      return { rule: choice }
    case 'dashboard':
      return { dashboard: choice }
    case 'upload':
      return { upload: choice }
    default:
      return {}
  }
}

/** The choice that says what a control is about. */
export function aimOf(kind: ControlKind, control: Control): string | undefined {
  switch (kind.subject) {
    case 'property':
      return join(control.device ?? '', control.property ?? '')
    case 'action':
      return join(control.device ?? '', control.action ?? '')
    case 'camera':
      return join(control.device ?? '', control.camera ?? '')
    case 'scene':
      return control.scene
    case 'sequence':
      return control.sequence
    case 'light':
      return control.light
    case 'rule':
      return control.rule
    case 'dashboard':
      return control.dashboard
    default:
      return undefined
  }
}
