import type { Component } from 'vue'
import type { Step } from '@/api/types'
import ActionWords from './ActionWords.vue'
import EachWords from './EachWords.vue'
import LightWords from './LightWords.vue'
import NotifyWords from './NotifyWords.vue'
import OtherRuleWords from './OtherRuleWords.vue'
import OutsideWords from './OutsideWords.vue'
import QuestionWords from './QuestionWords.vue'
import RememberWords from './RememberWords.vue'
import RepeatWords from './RepeatWords.vue'
import SayWords from './SayWords.vue'
import SceneWords from './SceneWords.vue'
import ScriptBlock from './ScriptBlock.vue'
import SequenceWords from './SequenceWords.vue'
import SettingWords from './SettingWords.vue'
import ShowWords from './ShowWords.vue'
import ThroughWords from './ThroughWords.vue'
import UntilWords from './UntilWords.vue'
import WaitWords from './WaitWords.vue'

/** What is known around a step: see the props of StepWords. */
type Context = 'lasts' | 'self' | 'member'

/** What edits the rest of a step, after its kind, and what it wants to know of what is around. */
interface StepComponent {
  component: Component
  wants?: Context[]
}

const setting: StepComponent = { component: SettingWords, wants: ['lasts', 'self', 'member'] }
const remember: StepComponent = { component: RememberWords, wants: ['member'] }
const other: StepComponent = { component: OtherRuleWords, wants: ['self'] }

/** By kind; null where the kind says it all, and its steps stand below it. */
export const stepComponents: Record<Step['kind'], StepComponent | null> = {
  set: setting,
  hold: setting,
  ramp: setting,
  stepThrough: { component: ThroughWords },
  wait: { component: WaitWords },
  until: { component: UntilWords },
  if: null,
  repeat: { component: RepeatWords },
  each: { component: EachWords },
  together: null,
  oneOf: null,
  remember,
  putBack: remember,
  action: { component: ActionWords },
  play: { component: ActionWords },
  scene: { component: SceneWords },
  light: { component: LightWords },
  sequence: { component: SequenceWords },
  run: other,
  stop: other,
  pause: other,
  resume: other,
  notify: { component: NotifyWords },
  say: { component: SayWords },
  show: { component: ShowWords },
  question: { component: QuestionWords },
  web: { component: OutsideWords },
  publish: { component: OutsideWords },
  program: { component: OutsideWords },
  script: { component: ScriptBlock },
}
