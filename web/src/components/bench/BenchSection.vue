<script setup lang="ts">
import { computed } from 'vue'
import type { BenchAct, BenchState } from '@/api/types'

/** The house in section: rooms that brighten, lamps that light, a door, and a person to send about. */
const props = defineProps<{ state: BenchState }>()
const emit = defineEmits<{ act: [BenchAct] }>()

interface Place {
  name: string
  x: number
  y: number
  width: number
  height: number
}
const places: Place[] = [
  { name: 'Landing', x: 150, y: 130, width: 400, height: 140 },
  { name: 'Hall', x: 150, y: 280, width: 170, height: 160 },
  { name: 'Galley', x: 326, y: 280, width: 224, height: 160 },
]
const OUT = { x: 78, y: 440 }
const lampSpots: Record<string, { x: number; y: number }> = {
  '7': { x: 300, y: 130 },
  '3': { x: 235, y: 280 },
  '4': { x: 390, y: 280 },
  '9': { x: 490, y: 280 },
}
const nodeSpots: Record<string, { x: number; y: number }> = {
  n31: { x: 526, y: 148 },
  n32: { x: 162, y: 330 },
  n33: { x: 536, y: 330 },
  n34: { x: 336, y: 372 },
}
const roomOf = (name: string) => props.state.rooms.find((r) => r.name === name)

/** How bright a room looks: the eye answers to the logarithm of the light. */
const brightness = (lux: number) => Math.min(1, Math.max(0, Math.log10(lux + 1) / 2.6))
const sky = computed(() => Math.min(1, Math.max(0, Math.log10(props.state.outdoors.lux + 1) / 5)))

const person = computed(() => {
  const p = places.find((x) => x.name === props.state.person)
  return p ? { x: p.x + p.width * 0.5 + 26, y: p.y + p.height } : OUT
})
const walk = (room: string) => emit('act', { what: 'walk', room })
</script>

<template>
  <svg class="section" viewBox="0 0 620 500" role="group" aria-label="The pretend house in section">
    <rect class="outside" x="0" y="0" width="620" height="440" :style="{ '--light': sky }" />
    <path class="hill" d="M0 440H620V500H0Z" />
    <path class="water" d="M560 440h60v60h-60z" />
    <g class="wheel" aria-hidden="true">
      <circle cx="586" cy="404" r="34" />
      <circle cx="586" cy="404" r="6" />
      <path d="M586 370v68M552 404h68M562 380l48 48M610 380l-48 48" />
    </g>

    <path class="roof" d="M130 128L350 34L570 128Z" />
    <g v-for="p in places" :key="p.name" class="room">
      <rect class="dark" :x="p.x" :y="p.y" :width="p.width" :height="p.height" />
      <rect
        class="lit"
        :x="p.x"
        :y="p.y"
        :width="p.width"
        :height="p.height"
        :style="{ opacity: brightness(roomOf(p.name)?.lux ?? 0) }"
      />
      <g aria-hidden="true">
        <text class="name" :x="p.x + 12" :y="p.y + p.height - 44">{{ p.name }}</text>
        <text class="reading" :x="p.x + 12" :y="p.y + p.height - 27">{{ roomOf(p.name)?.lux }} lx</text>
        <text class="reading" :x="p.x + 12" :y="p.y + p.height - 11">{{ roomOf(p.name)?.temperature }} °C</text>
      </g>
      <rect
        class="wall press"
        :x="p.x"
        :y="p.y"
        :width="p.width"
        :height="p.height"
        role="button"
        tabindex="0"
        :aria-label="`Walk to the ${p.name}, ${roomOf(p.name)?.lux} lx, ${roomOf(p.name)?.temperature} °C`"
        @click="walk(p.name)"
        @keydown.enter="walk(p.name)"
        @keydown.space.prevent="walk(p.name)"
      />
    </g>
    <path class="stairs" d="M262 440v-16h14v-16h14v-16h14v-16h14" aria-hidden="true" />

    <g
      class="door"
      role="button"
      tabindex="0"
      :aria-label="state.doorOpen ? 'Shut the Hall door' : 'Open the Hall door'"
      @click="emit('act', { what: 'door', on: !state.doorOpen })"
      @keydown.enter="emit('act', { what: 'door', on: !state.doorOpen })"
      @keydown.space.prevent="emit('act', { what: 'door', on: !state.doorOpen })"
    >
      <rect class="opening" x="143" y="354" width="14" height="86" />
      <path v-if="state.doorOpen" class="leaf" d="M150 354L116 366V452L150 440Z" />
      <rect v-else class="leaf" x="145" y="354" width="10" height="86" />
    </g>

    <g v-for="l in state.lamps" :key="l.id" class="lamp" :class="{ blinking: l.blinking }">
      <line
        :x1="lampSpots[l.id]?.x"
        :x2="lampSpots[l.id]?.x"
        :y1="lampSpots[l.id]?.y"
        :y2="(lampSpots[l.id]?.y ?? 0) + 20"
      />
      <path
        v-if="lampSpots[l.id]"
        class="shade"
        :d="`M${lampSpots[l.id]!.x - 14} ${lampSpots[l.id]!.y + 34}l7 -15h14l7 15z`"
        :style="l.lit ? { fill: l.swatch, fillOpacity: 0.25 + (l.level / 100) * 0.75 } : {}"
      >
        <title>{{ l.label }}: {{ l.lit ? `${l.level} %` : 'off' }}</title>
      </path>
    </g>
    <g v-for="n in state.nodes" :key="n.node" class="node" :class="{ blinking: n.blinking, sensing: n.sensing }">
      <rect :x="(nodeSpots[n.node]?.x ?? 0) - 6" :y="(nodeSpots[n.node]?.y ?? 0) - 6" width="12" height="12" rx="2">
        <title>{{ n.label }}</title>
      </rect>
    </g>

    <g class="person" :style="{ transform: `translate(${person.x}px, ${person.y}px)` }">
      <circle cx="0" cy="-58" r="9" />
      <path d="M0 -47v23M0 -24l-9 22M0 -24l9 22M-13 -27l13 -15l13 13" />
      <title>{{ state.person ? `In the ${state.person}` : 'Out' }}</title>
    </g>
    <g class="outdoors">
      <rect
        class="press"
        x="8"
        y="452"
        width="172"
        height="38"
        rx="3"
        role="button"
        tabindex="0"
        :aria-label="`Walk out, ${Math.round(state.outdoors.lux)} lx, ${state.outdoors.temperature} °C`"
        @click="walk('')"
        @keydown.enter="walk('')"
        @keydown.space.prevent="walk('')"
      />
      <g aria-hidden="true">
        <text class="name" x="20" y="469">Outdoors</text>
        <text class="reading" x="20" y="484">
          {{ Math.round(state.outdoors.lux) }} lx · {{ state.outdoors.temperature }} °C
        </text>
      </g>
    </g>
  </svg>
</template>

<style scoped>
.section {
  width: 100%;
  max-height: calc(100vh - 190px);
  display: block;
}
.outside {
  fill: color-mix(in oklab, var(--sky-day) calc(var(--light) * 100%), var(--sky-night));
}
.hill {
  fill: var(--sky-twilight);
  stroke: var(--edge);
}
.water {
  fill: var(--slate);
  opacity: 0.5;
}
.wheel {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 2;
}
.roof {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2;
}
.press {
  cursor: pointer;
  outline: none;
}
text {
  pointer-events: none;
}
.dark {
  fill: color-mix(in oklab, var(--sheet) 35%, var(--edge));
}
.lit {
  fill: color-mix(in oklab, var(--sheet) 90%, var(--ochre));
  transition: opacity 300ms;
}
:root[data-look='night'] .dark {
  fill: var(--sky-night);
}
:root[data-look='night'] .lit {
  fill: color-mix(in oklab, var(--sheet) 62%, var(--ochre));
}
.wall {
  fill: transparent;
  stroke: var(--ink);
  stroke-width: 2;
}
.wall:hover,
.wall:focus-visible {
  stroke: var(--verdigris);
  stroke-width: 4;
}
.name {
  font-size: 15px;
  font-weight: 650;
  fill: var(--ink);
}
.reading {
  font: 12px var(--mono);
  fill: var(--ink);
}
.stairs {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 2;
}
.door {
  cursor: pointer;
  outline: none;
}
.opening {
  fill: var(--sheet);
}
.leaf {
  fill: var(--verdigris);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.door:hover .leaf,
.door:focus-visible .leaf {
  stroke: var(--ember);
  stroke-width: 3;
}
.lamp line {
  stroke: var(--ink);
  stroke-width: 1.5;
}
.shade {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.8;
  transition: fill-opacity 250ms;
}
.node rect {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.sensing rect {
  fill: var(--verdigris);
}
.blinking {
  animation: blink 500ms steps(2) infinite;
}
@keyframes blink {
  50% {
    opacity: 0.15;
  }
}
.person circle {
  fill: var(--plum);
}
.person path {
  fill: none;
  stroke: var(--plum);
  stroke-width: 6;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.person {
  transition: transform 400ms ease-in-out;
  pointer-events: none;
}
.outdoors rect {
  fill: var(--paper);
  stroke: var(--edge);
}
.outdoors rect:hover,
.outdoors rect:focus-visible {
  stroke: var(--verdigris);
  stroke-width: 3;
}
</style>
