import type {
  Dashboard,
  DashboardDocument,
  Rule,
  RuleDocument,
  Scene,
  SceneDocument,
  Schedule,
  Sequence,
  SequenceDocument,
  ScheduleDocument,
} from '@/api/types'

/** The documents within the views: what is saved, without how it stands now. */

export const ruleDocument = ({
  title,
  note,
  enabled,
  labels,
  when,
  whenever,
  forAtLeastSeconds,
  endedForAtLeastSeconds,
  formulas,
  gate,
  provided,
  do: steps,
  afterwards,
  policy,
  giveUpAfterSeconds,
  intended,
}: Rule): RuleDocument =>
  plain({
    title,
    note,
    enabled,
    labels,
    when,
    whenever,
    forAtLeastSeconds,
    endedForAtLeastSeconds,
    formulas,
    gate,
    provided,
    do: steps,
    afterwards,
    policy,
    giveUpAfterSeconds,
    intended,
  })

export const sceneDocument = ({ title, note, fadeSeconds, fadeExpression, targets, modes }: Scene): SceneDocument =>
  plain({ title, note, fadeSeconds, fadeExpression, targets, modes })

export const sequenceDocument = ({ title, note, passages, ending }: Sequence): SequenceDocument =>
  plain({ title, note, passages, ending })

export const scheduleDocument = ({ title, note, enabled, at, do: steps }: Schedule): ScheduleDocument =>
  plain({ title, note, enabled, at, do: steps })

export const dashboardDocument = ({ title, controls }: Dashboard): DashboardDocument => plain({ title, controls })

function plain<T>(document: T): T {
  return JSON.parse(JSON.stringify(document)) as T
}
