<script setup lang="ts">
import { api, ask } from '@/api/client'
import type { Curve, DayPoint } from '@/api/types'
import DefinitionsPage from '@/components/documents/DefinitionsPage.vue'
import CurveEditor from '@/components/light/CurveEditor.vue'
import CurvesOverview from '@/components/overview/CurvesOverview.vue'
import { useHome } from '@/stores/home'

/** Day curves: how bright and how white light is over the day, by the clock and the sun. */
const home = useHome()
const followers = (c: Curve) => home.lights.filter((l) => l.members.some((m) => m.curve === c.id))
const reason = (c: Curve) =>
  followers(c)
    .map((l) => l.title)
    .join(', ') || (c.usedBy.length ? 'in scenes' : 'nothing follows it yet')
const mark = (c: Curve) => (home.lights.some((l) => l.members.some((m) => m.follows === c.id)) ? 'on' : 'off')

// Low and warm at night, bright and cool at midday, and warm again towards the night, as many homes have it.
const BEGIN: DayPoint[] = [
  { at: { anchor: 'clock', clock: '05:30' }, level: 15, kelvin: 2200 },
  { at: { anchor: 'clock', clock: '08:00' }, level: 80, kelvin: 3400 },
  { at: { anchor: 'clock', clock: '13:00' }, level: 100, kelvin: 4200 },
  { at: { anchor: 'sunset' }, level: 70, kelvin: 3000 },
  { at: { anchor: 'clock', clock: '22:30' }, level: 25, kelvin: 2200 },
]
const create = async () => (await ask(api.POST('/api/curves', { body: { title: 'New day curve', points: BEGIN } }))).id
</script>

<template>
  <DefinitionsPage title="Day curves" one="curve" named="day curve" :items="home.curves" :mark="mark" :create="create">
    <template #empty>
      A day curve says how bright and how white light is over the day, such as bright and cool at noon, low and warm at
      night. A lamp that is switched on comes on as its curve says at that moment, and follows it.
    </template>
    <template #reason="{ item }">{{ reason(item) }}</template>
    <template #default="{ chosen }"><CurveEditor :key="chosen.id" :curve="chosen" /></template>
    <template #overview><CurvesOverview /></template>
  </DefinitionsPage>
</template>
