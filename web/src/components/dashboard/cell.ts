import { inject, type InjectionKey, type Ref } from 'vue'
import type { Control } from '@/api/types'

/** How much of an instrument is drawn. */
export type Face = 'small' | 'middle' | 'large'

/** What a face knows of the cell that it stands in. */
export interface Cell {
  control: Readonly<Ref<Control>>
  face: Readonly<Ref<Face>>
  /** Whether it is only looked at, while the dashboard is arranged. */
  still: Readonly<Ref<boolean>>
  /** What a touch does where that was chosen, or what the cell does by itself. */
  deed: (touch: 'tap' | 'double' | 'hold') => (() => void) | undefined
  /** Tells the cell what a tap does by itself, so that it is done once it was asked about. */
  taps: (tap: (() => void) | undefined) => void
}

export const cellKey: InjectionKey<Cell> = Symbol('cell')

/** The cell that this stands in. */
export function useCell(): Cell {
  const cell = inject(cellKey)
  if (!cell) throw new Error('a control stands in no cell')
  return cell
}

/** The least height of a middle and of a large face, in rows. */
const MIDDLE = 3
const LARGE = { height: 6, width: 8 }

/** The face that there is room for. */
export function faceFor(control: Control): Face {
  if (control.face) return control.face
  if (control.height < MIDDLE) return 'small'
  return control.height >= LARGE.height && control.width >= LARGE.width ? 'large' : 'middle'
}

/** An option of a control; as usual where it was not said. */
export function optionOf<T>(control: Control, name: string, usual: T): T {
  const value = control.options?.[name]
  return typeof value === typeof usual ? (value as T) : usual
}
