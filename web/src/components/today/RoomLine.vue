<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Column, RoomNow } from '@/lib/houseNow'
import DeviceLamp from '@/instruments/DeviceLamp.vue'
import type { LinePoint } from '@/stores/lines'
import RoomLevel from './RoomLevel.vue'
import RoomOpening from './RoomOpening.vue'
import RoomSomebody from './RoomSomebody.vue'
import RoomWarmth from './RoomWarmth.vue'

/** A room in the table of the house. */
defineProps<{ room: RoomNow; columns: Set<Column>; line: LinePoint[] }>()
</script>

<template>
  <tr>
    <th scope="row">
      <RouterLink class="named" :to="room.id ? `/room/${room.id}` : '/devices'">{{ room.title }}</RouterLink>
    </th>
    <td v-if="columns.has('lamps')" class="lamps">
      <DeviceLamp v-for="d in room.lamps" :key="d.id" :device="d" />
      <RoomLevel :room="room.id" />
    </td>
    <td v-if="columns.has('warmth')" class="warmth">
      <RoomWarmth v-if="room.warmth" :warmth="room.warmth" :wanted="room.wanted" :line="line" />
    </td>
    <td v-if="columns.has('air')" class="mono air">
      <span v-for="r in room.air" :key="r.device.id" :class="{ soft: r.device.silent }">{{ r.state.text }}</span>
    </td>
    <td v-if="columns.has('openings') || columns.has('notes')">
      <span class="things">
        <RoomOpening v-for="r in room.openings" :key="r.device.id + r.property.name" :reading="r" />
        <RouterLink
          v-for="r in room.notes"
          :key="r.device.id + r.property.name"
          :to="`/devices/${r.device.id}`"
          class="note"
          :class="{ alert: r.property.role !== 'level' }"
          >{{ r.device.title }} <span class="mono">{{ r.state.text }}</span></RouterLink
        >
      </span>
    </td>
    <td v-if="columns.has('somebody')">
      <RoomSomebody v-if="room.somebody.length" :readings="room.somebody" />
    </td>
  </tr>
</template>

<style scoped>
th,
td {
  border-bottom: 1px solid var(--rule);
  padding: 0 var(--space-8) 0 0;
  height: 40px;
  vertical-align: middle;
  text-align: left;
  white-space: nowrap;
}
th {
  font-weight: 600;
  max-width: 150px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.lamps {
  white-space: normal;
  min-width: 104px;
}
.things {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--space-14);
  align-items: center;
}
.note {
  font-size: var(--type-small);
  color: var(--ink-soft);
  text-decoration: none;
}
.alert {
  color: var(--ember);
  font-weight: 600;
}
@media (max-width: 720px) {
  tr {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    border-bottom: 1px solid var(--rule);
    padding: var(--space-4) 0;
  }
  th,
  td {
    border: 0;
    height: auto;
    min-height: 32px;
    display: flex;
    align-items: center;
  }
  th {
    flex: 1 0 100%;
    max-width: none;
  }
  td:empty {
    display: none;
  }
  .lamps {
    min-width: 0;
    flex-wrap: wrap;
  }
}
</style>
