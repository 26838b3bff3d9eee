<script setup lang="ts">
import { seriesOf, type Column, type FloorNow, type RoomNow } from '@/lib/houseNow'
import type { LinePoint } from '@/stores/lines'
import RoomLine from './RoomLine.vue'

/** The rooms of a floor. Of them only those are drawn anew of which a device changed. */
const props = defineProps<{
  floor: FloorNow
  columns: Set<Column>
  /** How many columns the name of the floor goes over; 0 for no name. */
  width: number
  lineOf: (series: string) => LinePoint[]
}>()
const lineFor = (room: RoomNow) => (room.warmth ? props.lineOf(seriesOf(room.warmth)) : [])
</script>

<template>
  <tbody>
    <tr v-if="width && floor.title" class="floor">
      <th scope="rowgroup" :colspan="width">{{ floor.title }}</th>
    </tr>
    <RoomLine
      v-for="room in floor.rooms"
      :key="room.id"
      v-memo="[...room.devices, room.warmth && lineOf(seriesOf(room.warmth)), columns.size, room.title]"
      :room="room"
      :columns="columns"
      :line="lineFor(room)"
    />
  </tbody>
</template>

<style scoped>
.floor th {
  height: 26px;
  text-align: left;
  font-size: var(--type-note);
  font-weight: 400;
  color: var(--ink-soft);
  border-bottom: 1px solid var(--rule);
  vertical-align: bottom;
  padding: var(--space-6) 0 var(--space-2);
}
@media (max-width: 720px) {
  tbody,
  .floor,
  .floor th {
    display: block;
  }
}
</style>
