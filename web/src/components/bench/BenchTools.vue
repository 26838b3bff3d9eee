<script setup lang="ts">
import Button from 'primevue/button'
import Slider from 'primevue/slider'
import ToggleSwitch from 'primevue/toggleswitch'
import { ref } from 'vue'
import type { BenchAct, BenchLamp, BenchState } from '@/api/types'

defineProps<{ state: BenchState; jumping: boolean }>()
const emit = defineEmits<{ act: [BenchAct] }>()

const hour = ref('18:30')
const rooms = ['Hall', 'Galley', 'Landing']

function level(lamp: BenchLamp, value: number | number[]) {
  emit('act', { what: 'lamp', lamp: lamp.id, on: true, level: Array.isArray(value) ? value[0] : value })
}
</script>

<template>
  <aside>
    <section>
      <h2>The person</h2>
      <p class="row wrap">
        <Button
          v-for="r in rooms"
          :key="r"
          size="small"
          :severity="state.person === r ? undefined : 'secondary'"
          :label="r"
          @click="emit('act', { what: 'walk', room: r })"
        />
        <Button
          size="small"
          :severity="state.person ? 'secondary' : undefined"
          label="Out"
          @click="emit('act', { what: 'walk', room: '' })"
        />
      </p>
      <label class="row"
        ><ToggleSwitch :model-value="state.living" @update:model-value="emit('act', { what: 'live', on: $event })" />
        follows their own day</label
      >
    </section>
    <section>
      <h2>Clock</h2>
      <form class="row" @submit.prevent="emit('act', { what: 'jump', clock: hour })">
        <input
          v-model="hour"
          type="text"
          pattern="([01]?\d|2[0-3]):[0-5]\d"
          placeholder="18:30"
          maxlength="5"
          size="6"
          required
          aria-label="Hour to jump to"
          class="mono"
        />
        <Button type="submit" size="small" severity="secondary" label="Jump there" :disabled="jumping" />
      </form>
      <p class="row wrap">
        <Button
          size="small"
          severity="secondary"
          label="+30 s"
          :disabled="jumping"
          @click="emit('act', { what: 'advance', seconds: 30 })"
        />
        <Button
          size="small"
          severity="secondary"
          label="+5 min"
          :disabled="jumping"
          @click="emit('act', { what: 'advance', seconds: 300 })"
        />
        <Button
          size="small"
          severity="secondary"
          label="+1 h"
          :disabled="jumping"
          @click="emit('act', { what: 'advance', seconds: 3600 })"
        />
      </p>
      <p class="soft small" role="status">
        {{
          jumping ? 'Everything due on the way happens, in order …' : 'All that falls due on the way happens, in order.'
        }}
      </p>
    </section>
    <section>
      <h2>Hall door, dial</h2>
      <p class="row wrap">
        <Button
          size="small"
          severity="secondary"
          :label="state.doorOpen ? 'Shut the door' : 'Open the door'"
          @click="emit('act', { what: 'door', on: !state.doorOpen })"
        />
        <Button
          size="small"
          severity="secondary"
          label="Dial left"
          @click="emit('act', { what: 'turn', notches: -10 })"
        />
        <Button
          size="small"
          severity="secondary"
          label="Dial right"
          @click="emit('act', { what: 'turn', notches: 10 })"
        />
        <Button size="small" severity="secondary" label="Press dial" @click="emit('act', { what: 'pressDial' })" />
      </p>
    </section>
    <section>
      <h2>Radio devices</h2>
      <ul>
        <li v-for="n in state.nodes" :key="n.node" class="radio">
          <span class="name">{{ n.label }}</span>
          <Button
            size="small"
            severity="secondary"
            :label="n.silent ? 'Let it speak' : 'Silence it'"
            :aria-label="`${n.silent ? 'Let it speak' : 'Silence it'}: ${n.label}`"
            @click="emit('act', { what: 'silence', node: n.node, on: !n.silent })"
          />
        </li>
      </ul>
    </section>
    <section>
      <h2>
        Lumbrook bridge <span class="mono address">{{ state.bridge.address }}</span>
      </h2>
      <p class="row wrap">
        <Button
          size="small"
          :severity="state.bridge.pressed ? undefined : 'secondary'"
          :label="state.bridge.pressed ? 'Button pressed' : 'Press its button'"
          @click="emit('act', { what: 'pressBridge' })"
        />
        <Button
          size="small"
          severity="secondary"
          :label="state.bridge.cut ? 'Mend its network' : 'Cut its network'"
          @click="emit('act', { what: 'cutBridge', on: !state.bridge.cut })"
        />
      </p>
    </section>
    <section>
      <h2>Lumbrook’s own app</h2>
      <ul>
        <li v-for="l in state.lamps" :key="l.id">
          <span class="name"
            >{{ l.label }} <span class="soft">{{ l.room }}</span></span
          >
          <span class="row">
            <Button
              size="small"
              severity="secondary"
              :label="l.lit ? 'Off' : 'On'"
              :aria-label="`${l.label} ${l.lit ? 'off' : 'on'} from the app`"
              @click="emit('act', { what: 'lamp', lamp: l.id, on: !l.lit })"
            />
            <Slider
              v-if="l.dims"
              class="slider"
              :model-value="l.lit ? Math.max(1, l.level) : 1"
              :min="1"
              :max="100"
              :aria-label="`${l.label} level from the app`"
              @update:model-value="level(l, $event)"
            />
            <b class="mono level">{{ l.lit ? `${l.level} %` : 'off' }}</b>
          </span>
        </li>
      </ul>
    </section>
  </aside>
</template>

<style scoped>
aside {
  display: grid;
  gap: 18px;
  align-content: start;
}
section {
  border-top: 1px solid var(--rule);
  padding-top: 10px;
}
.row {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
  font-size: 14px;
}
.wrap {
  flex-wrap: wrap;
}
input {
  background: var(--sheet);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  padding: 4px 8px;
}
.small {
  font-size: 13px;
  margin-top: 6px;
}
.address {
  font-weight: 400;
  font-size: 12.5px;
}
li {
  padding: 7px 0;
  border-top: 1px solid var(--rule);
}
ul {
  margin-top: 8px;
}
.radio {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 10px;
}
.name {
  font-size: 13.5px;
}
.slider {
  flex: 1;
  margin-inline: 8px;
}
.level {
  width: 48px;
  text-align: right;
  font-weight: 500;
}
</style>
