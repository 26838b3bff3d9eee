import { defineAsyncComponent, type Component } from 'vue'
import type { Control } from '@/api/types'
import ActionControl from './ActionControl.vue'
import CareControl from './CareControl.vue'
import ClockControl from './ClockControl.vue'
import ColorControl from './ColorControl.vue'
import LabelControl from './LabelControl.vue'
import LampControl from './LampControl.vue'
import LevelControl from './LevelControl.vue'
import LinkControl from './LinkControl.vue'
import ListControl from './ListControl.vue'
import LockControl from './LockControl.vue'
import MessagesControl from './MessagesControl.vue'
import ModesControl from './ModesControl.vue'
import NextControl from './NextControl.vue'
import OpeningControl from './OpeningControl.vue'
import PictureControl from './PictureControl.vue'
import RoomControl from './RoomControl.vue'
import RuleControl from './RuleControl.vue'
import SceneControl from './SceneControl.vue'
import SequenceControl from './SequenceControl.vue'
import ShutterControl from './ShutterControl.vue'
import SomebodyControl from './SomebodyControl.vue'
import SwitchControl from './SwitchControl.vue'
import ValueControl from './ValueControl.vue'
import WarmthControl from './WarmthControl.vue'

/** The kinds whose instruments need the whole width of a phone. */
export const wideKinds = new Set<Control['kind']>([
  'lamp',
  'color',
  'room',
  'level',
  'warmth',
  'shutter',
  'lock',
  'player',
  'cover',
  'chart',
  'list',
  'camera',
  'modes',
  'next',
  'messages',
  'care',
])

/** How each kind of control looks. What it can be about and its options are said by the hub: core/board/specs.go. */
export const components: Record<Control['kind'], Component> = {
  lamp: LampControl,
  color: ColorControl,
  room: RoomControl,
  scene: SceneControl,
  sequence: SequenceControl,
  switch: SwitchControl,
  level: LevelControl,
  warmth: WarmthControl,
  shutter: ShutterControl,
  lock: LockControl,
  action: ActionControl,
  opening: OpeningControl,
  value: ValueControl,
  list: ListControl,
  rule: RuleControl,
  modes: ModesControl,
  somebody: SomebodyControl,
  next: NextControl,
  messages: MessagesControl,
  care: CareControl,
  clock: ClockControl,
  label: LabelControl,
  picture: PictureControl,
  link: LinkControl,
  // Rarely there, and much to load.
  chart: defineAsyncComponent(() => import('./ChartControl.vue')),
  camera: defineAsyncComponent(() => import('./CameraControl.vue')),
  player: defineAsyncComponent(() => import('./PlayerControl.vue')),
  cover: defineAsyncComponent(() => import('./CoverControl.vue')),
}
