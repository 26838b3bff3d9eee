import type {
  CalendarDocument,
  CurveDocument,
  DashboardDocument,
  DeviceDocument,
  GroupDocument,
  HomeDocument,
  LightDocument,
  LinkDocument,
  MirrorDocument,
  ModesDocument,
  PersonDocument,
  RoomDocument,
  RuleDocument,
  SceneDocument,
  ScheduleDocument,
  SequenceDocument,
  VariableDocument,
} from '@/api/types'

/** The documents that are edited, by their kinds. */
export interface Documents {
  calendar: CalendarDocument
  curve: CurveDocument
  dashboard: DashboardDocument
  device: DeviceDocument
  group: GroupDocument
  home: HomeDocument
  light: LightDocument
  link: LinkDocument
  mirror: MirrorDocument
  modes: ModesDocument
  person: PersonDocument
  room: RoomDocument
  rule: RuleDocument
  scene: SceneDocument
  schedule: ScheduleDocument
  sequence: SequenceDocument
  variable: VariableDocument
}
export type Editable = keyof Documents

/** The fields of each document: a view has them beside how the definition stands now. */
const fields: { [K in Editable]: Record<keyof Required<Documents[K]>, true> } = {
  calendar: { title: true, note: true, address: true, ownMachine: true, everyMinutes: true },
  curve: { title: true, note: true, points: true },
  dashboard: {
    title: true,
    icon: true,
    order: true,
    seenBy: true,
    margin: true,
    background: true,
    grid: true,
    controls: true,
  },
  device: {
    title: true,
    room: true,
    note: true,
    labels: true,
    attendedOnly: true,
    keptTo: true,
    keys: true,
    layout: true,
    lamp: true,
    lighting: true,
    agreement: true,
    dashboards: true,
  },
  group: { title: true, note: true, devices: true },
  home: { title: true, latitude: true, longitude: true, zone: true, namePattern: true },
  modes: { modes: true },
  person: { title: true, color: true, role: true, until: true, dashboards: true },
  room: { title: true, floor: true, order: true },
  rule: {
    title: true,
    note: true,
    enabled: true,
    labels: true,
    when: true,
    whenever: true,
    forAtLeastSeconds: true,
    endedForAtLeastSeconds: true,
    backFadeSeconds: true,
    formulas: true,
    gate: true,
    provided: true,
    do: true,
    afterwards: true,
    policy: true,
    giveUpAfterSeconds: true,
    intended: true,
  },
  scene: {
    title: true,
    note: true,
    fadeSeconds: true,
    fadeExpression: true,
    targets: true,
    laid: true,
    modes: true,
    icon: true,
    color: true,
    hidden: true,
  },
  schedule: { title: true, note: true, enabled: true, at: true, do: true },
  link: {
    title: true,
    note: true,
    enabled: true,
    sources: true,
    stages: true,
    targets: true,
    holds: true,
    modes: true,
    only: true,
  },
  mirror: { title: true, note: true, enabled: true, members: true, winner: true },
  light: {
    title: true,
    note: true,
    rooms: true,
    lamps: true,
    without: true,
    circuits: true,
    scenes: true,
    curve: true,
  },
  sequence: { title: true, note: true, passages: true, ending: true, effect: true, hidden: true },
  variable: {
    title: true,
    note: true,
    type: true,
    minimum: true,
    maximum: true,
    unit: true,
    options: true,
    initial: true,
    expression: true,
  },
}

/** The document within a view: what is saved, without how it stands now. It shares nothing with the view. */
export function documentOf<K extends Editable>(kind: K, view: Documents[K]): Documents[K] {
  const names = Object.keys(fields[kind]) as (keyof Documents[K])[]
  return JSON.parse(JSON.stringify(Object.fromEntries(names.map((name) => [name, view[name]])))) as Documents[K]
}
