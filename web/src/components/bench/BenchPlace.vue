<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed } from 'vue'
import LampPendant from '@/instruments/LampPendant.vue'
import LevelScale from '@/instruments/LevelScale.vue'
import LockBolt from '@/instruments/LockBolt.vue'
import BenchDial from './BenchDial.vue'
import BenchShutter from './BenchShutter.vue'
import HeldKey from './HeldKey.vue'
import type { BenchAct, BenchLamp, BenchState } from '@/api/types'

/** Everything in one place of the house, to be operated there or from its maker's app. */
const props = defineProps<{ state: BenchState }>()
const place = defineModel<string>({ required: true })
const emit = defineEmits<{ act: [BenchAct] }>()

const names = computed(() => props.state.rooms.map((r) => r.name))
const room = computed(() => props.state.rooms.find((r) => r.name === place.value))
const here = <T extends { room: string }>(list: T[]) => list.filter((x) => x.room === place.value)
/** How long a plate's key is down until the plate says that it is held, in ms. */
const HELD_AFTER = 500
const press = (plate: string, button: number, gesture: 'press' | 'double' | 'hold' | 'release') =>
  emit('act', { what: 'press', plate, button, gesture })
const sides = ['Left', 'Right']
const hasDial = computed(() => here(props.state.nodes).some((n) => n.label.includes('Rotary')))

const level = (lamp: BenchLamp, value: number) =>
  emit('act', { what: 'lamp', lamp: lamp.id, on: value > 0, level: value || undefined })
</script>

<template>
  <section>
    <h2 class="title">
      In the
      <Select v-model="place" :options="names" size="small" aria-label="Place whose things are shown" />
    </h2>
    <ul>
      <li v-for="l in here(state.lamps)" :key="l.id">
        <span class="name">{{ l.label }} <span class="soft">in its maker’s app</span></span>
        <span class="row">
          <LampPendant
            :label="`${l.label} in its maker’s app`"
            :on="l.lit"
            :level="l.dims ? l.level : undefined"
            @tap="emit('act', { what: 'lamp', lamp: l.id, on: !l.lit })"
          />
          <LevelScale
            v-if="l.dims"
            class="slider"
            :label="`${l.label} level in its maker’s app`"
            :value="l.lit ? l.level : 0"
            :minimum="0"
            :maximum="100"
            unit="%"
            size="row"
            @set="level(l, $event)"
          />
          <Button
            size="small"
            severity="secondary"
            :label="l.lying ? 'Bridge tells the truth' : 'Bridge lies'"
            :aria-pressed="l.lying"
            :aria-label="`${l.lying ? 'Bridge tells the truth' : 'Bridge lies'}: ${l.label}`"
            title="What the bridge reports of it stays as it is now"
            @click="emit('act', { what: 'lie', lamp: l.id, on: !l.lying })"
          />
          <span v-if="l.flickering" class="flickers">flickers</span>
          <b class="mono level">{{ l.lit ? `${l.level} %` : 'off' }}</b>
        </span>
      </li>
      <li v-for="p in here(state.plates)" :key="p.id">
        <span class="name"
          >{{ p.label }}
          <span class="soft">{{ p.acts ? 'its bridge acts too' : 'its bridge leaves it to others' }}</span></span
        >
        <span v-for="b in p.buttons" :key="b" class="row wrap">
          <HeldKey
            :label="`Button ${b}`"
            :of="p.label"
            :held-after="HELD_AFTER"
            @press="press(p.id, b, 'press')"
            @hold="press(p.id, b, 'hold')"
            @release="press(p.id, b, 'release')"
          />
          <Button
            size="small"
            severity="secondary"
            label="Twice"
            :aria-label="`${p.label}: button ${b} twice`"
            @click="press(p.id, b, 'double')"
          />
        </span>
      </li>
      <li v-if="hasDial">
        <span class="row wrap">
          <BenchDial @turn="emit('act', { what: 'turn', notches: $event })" />
          <Button size="small" severity="secondary" label="Press dial" @click="emit('act', { what: 'pressDial' })" />
        </span>
      </li>
      <li v-for="n in here(state.nodes).filter((x) => x.rockers)" :key="`rockers ${n.node}`">
        <span class="name"
          >{{ n.label }} <span class="soft">{{ n.lit ? 'its lamp is on' : 'its lamp is off' }}</span></span
        >
        <span class="row wrap">
          <HeldKey
            v-for="(side, i) in sides.slice(0, n.rockers)"
            :key="side"
            :label="`${side} rocker`"
            :of="n.label"
            @down="emit('act', { what: 'rocker', node: n.node, button: i, gesture: 'down' })"
            @up="emit('act', { what: 'rocker', node: n.node, button: i, gesture: 'up' })"
          />
        </span>
      </li>
      <li v-for="n in here(state.nodes)" :key="n.node" class="radio">
        <span class="name"
          >{{ n.label }}
          <span v-if="n.offering" class="soft">looks for a gateway</span>
          <span v-else-if="!n.joined" class="soft">has not joined</span>
          <span v-else-if="n.battery >= 0" class="soft mono">{{ Math.round(n.battery) }} %</span>
        </span>
        <span class="row">
          <Button
            v-if="!n.joined"
            size="small"
            severity="secondary"
            label="Press its joining button"
            :aria-label="`Press its joining button: ${n.label}`"
            @click="emit('act', { what: 'offer', node: n.node })"
          />
          <template v-else>
            <Button
              size="small"
              severity="secondary"
              :label="n.silent ? 'Let it speak' : 'Silence it'"
              :aria-label="`${n.silent ? 'Let it speak' : 'Silence it'}: ${n.label}`"
              @click="emit('act', { what: 'silence', node: n.node, on: !n.silent })"
            />
            <Button
              size="small"
              severity="secondary"
              label="Reset"
              :aria-label="`Reset ${n.label} as it left the factory`"
              @click="emit('act', { what: 'reset', node: n.node })"
            />
            <Button
              v-if="n.battery >= 0"
              size="small"
              severity="secondary"
              :label="n.battery > 10 ? 'Drain its battery' : 'New battery'"
              :aria-label="`${n.battery > 10 ? 'Drain its battery' : 'New battery'}: ${n.label}`"
              @click="emit('act', { what: 'charge', node: n.node, level: n.battery > 10 ? 4 : 100 })"
            />
          </template>
        </span>
        <BenchShutter v-if="n.shutter" :node="n" :shutter="n.shutter" @act="emit('act', $event)" />
      </li>
      <li v-for="p in here(state.plugs)" :key="p.hardware" class="radio">
        <span class="name"
          >{{ p.label }}
          <span class="soft mono">{{ p.pulled ? 'pulled out' : p.on ? `on, ${p.watts} W` : 'off' }}</span></span
        >
        <span class="row">
          <Button
            size="small"
            severity="secondary"
            :label="p.on ? 'Off' : 'On'"
            :disabled="p.pulled"
            :aria-label="`Switch ${p.label} ${p.on ? 'off' : 'on'} at its button`"
            @click="emit('act', { what: 'plug', hardware: p.hardware, on: !p.on })"
          />
          <Button
            size="small"
            severity="secondary"
            :label="p.pulled ? 'Plug it in' : 'Pull it out'"
            :aria-label="`${p.pulled ? 'Plug it in' : 'Pull it out'}: ${p.label}`"
            @click="emit('act', { what: 'pull', hardware: p.hardware, on: !p.pulled })"
          />
        </span>
      </li>
      <li v-for="t in here(state.radio.thermometers)" :key="t.label">
        <span class="name"
          >{{ t.label }} <span class="soft mono">{{ t.id }}</span></span
        >
        <span class="row">
          <Button
            size="small"
            severity="secondary"
            label="Change its battery"
            :aria-label="`Change its battery: ${t.label}`"
            @click="emit('act', { what: 'battery', radio: t.id })"
          />
        </span>
      </li>
      <li v-for="l in here(state.locks)" :key="l.id" class="radio">
        <span class="name"
          >{{ l.label }}
          <span class="soft"
            >{{ l.locked ? 'locked' : 'unlocked' }}{{ l.jammed ? ', its bolt is jammed' : '' }}</span
          ></span
        >
        <span class="row">
          <LockBolt :label="l.label" :locked="l.locked" :certainty="l.jammed ? 'failed' : 'confirmed'" />
          <Button
            size="small"
            severity="secondary"
            :label="l.locked ? 'Unlock by key' : 'Lock by key'"
            :aria-label="`${l.locked ? 'Unlock by key' : 'Lock by key'}: ${l.label}`"
            @click="emit('act', { what: 'turnKey', lock: l.id, on: !l.locked })"
          />
          <Button
            size="small"
            severity="secondary"
            :label="l.jammed ? 'Free the bolt' : 'Jam the bolt'"
            :aria-label="`${l.jammed ? 'Free the bolt' : 'Jam the bolt'}: ${l.label}`"
            @click="emit('act', { what: 'jam', lock: l.id, on: !l.jammed })"
          />
        </span>
      </li>
      <li v-for="g in here(state.gear)" :key="g.label" class="name">
        {{ g.label }} <span class="soft">{{ g.says }}</span>
      </li>
      <li v-for="s in here(state.radio.sockets)" :key="s.label" class="name">
        {{ s.label }} <span class="soft">really {{ s.on ? 'on' : 'off' }}</span>
      </li>
      <li>
        <Button
          size="small"
          severity="secondary"
          :label="room?.wet ? 'Dry the floor' : 'Pour water'"
          @click="emit('act', { what: 'pour', room: place, on: !room?.wet })"
        />
      </li>
    </ul>
  </section>
</template>

<style scoped>
section {
  padding-top: var(--space-14);
}
.title {
  display: flex;
  gap: var(--space-10);
  align-items: center;
}
.row {
  display: flex;
  gap: var(--space-8);
  align-items: center;
  margin-top: var(--space-6);
  font-size: var(--type-small);
}
.wrap {
  flex-wrap: wrap;
}
li {
  padding: var(--space-6) 0;
  border-top: 1px solid var(--rule);
}
ul {
  margin-top: var(--space-8);
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  column-gap: var(--space-26);
}
.name {
  font-size: var(--type-small);
}
.slider {
  flex: 1;
  margin-inline: var(--space-8);
}
.level {
  width: 48px;
  text-align: right;
  font-weight: 500;
}
.flickers {
  color: var(--ember);
  font-size: var(--type-small);
}
</style>
