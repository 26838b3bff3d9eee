<script setup lang="ts">
import { computed } from 'vue'
import type { BenchAct, BenchState } from '@/api/types'

/** The house in section: rooms that brighten, lamps that light, shutters, doors, and people to send about. */
const props = defineProps<{ state: BenchState; chosen: string }>()
const emit = defineEmits<{ act: [BenchAct]; choose: [string] }>()
/** Who walks when a place is pointed at. */
const who = defineModel<string>('who', { required: true })

interface Place {
  name: string
  x: number
  y: number
  width: number
  height: number
  outside?: boolean
}
const GROUND = 410
const places: Place[] = [
  { name: 'Reading loft', x: 362, y: 104, width: 216, height: 84 },
  { name: 'West room', x: 236, y: 190, width: 154, height: 104 },
  { name: 'Landing', x: 394, y: 190, width: 152, height: 104 },
  { name: 'East room', x: 550, y: 190, width: 154, height: 104 },
  { name: 'Glasshouse', x: 24, y: 300, width: 116, height: 110 },
  { name: 'Wash house', x: 144, y: 300, width: 108, height: 110 },
  { name: 'Galley', x: 256, y: 300, width: 140, height: 110 },
  { name: 'Hall', x: 400, y: 300, width: 98, height: 110 },
  { name: 'Mill room', x: 502, y: 300, width: 146, height: 110 },
  { name: 'Wheel room', x: 652, y: 300, width: 112, height: 110 },
  { name: 'Yard', x: 24, y: 430, width: 228, height: 72, outside: true },
  { name: 'Weir', x: 640, y: 430, width: 236, height: 72, outside: true },
  { name: 'Boat shed', x: 810, y: 322, width: 76, height: 88 },
]
const OUT = { x: 330, y: 498 }
const placeOf = (name: string) => places.find((p) => p.name === name)
const roomOf = (name: string) => props.state.rooms.find((r) => r.name === name)

/** How bright a room looks: the eye answers to the logarithm of the light. */
const brightness = (lux: number) => Math.min(1, Math.max(0, Math.log10(lux + 1) / 2.6))
const sky = computed(() => Math.min(1, Math.max(0, Math.log10(props.state.outdoors.lux + 1) / 5)))

/** Spreads the things of each place over its width, in their order. */
function spread<T extends { room: string }>(things: T[], spot: (p: Place, i: number, n: number) => [number, number]) {
  return places.flatMap((p) => {
    const here = things.filter((t) => t.room === p.name)
    return here.map((t, i) => {
      const [x, y] = spot(p, i, here.length)
      return { ...t, x, y }
    })
  })
}
const lamps = computed(() => spread(props.state.shades, (p, i, n) => [p.x + ((i + 1) * p.width) / (n + 1), p.y]))
const nodes = computed(() =>
  spread(
    props.state.nodes.filter((n) => n.joined),
    (p, i) => [p.x + p.width - 13 - 17 * (i % 4), p.y + p.height - 13 - 17 * Math.floor(i / 4)],
  ),
)
const doors: Record<string, string> = {
  'Hall door': 'Hall',
  'Galley window': 'Galley',
  'Glasshouse door': 'Glasshouse',
  'Boat shed door': 'Boat shed',
  'Weir gate': 'Weir',
  'Cat flap': 'Wash house',
}
const openings = computed(() =>
  props.state.openings.flatMap((o) => {
    const p = placeOf(doors[o.name] ?? '')
    const height = o.name === 'Cat flap' ? 22 : o.name === 'Galley window' ? 34 : 54
    const lift = o.name === 'Galley window' ? 34 : 0
    return p ? [{ ...o, x: p.x, y: p.y + p.height - height - lift, height }] : []
  }),
)

const windows = computed(() =>
  props.state.nodes.flatMap((n) => {
    const p = placeOf(n.room)
    if (!n.shutter || !p) return []
    const width = 34
    return [{ id: n.node, x: p.x + p.width * 0.6, y: p.y + 34, width, height: 32, shutter: n.shutter }]
  }),
)
const shutterWords = (s: { place: number; running: number; burnt: boolean }) =>
  s.burnt
    ? 'Shutter, its relay burnt out'
    : `Shutter ${Math.round(s.place)} % open${s.running ? (s.running > 0 ? ', going up' : ', going down') : ''}`

/** People stand side by side. */
const people = computed(() =>
  props.state.people.map((person) => {
    const together = props.state.people.filter((x) => x.room === person.room)
    const at = together.findIndex((x) => x.name === person.name)
    const p = placeOf(person.room)
    const stand = p ? { x: p.x + p.width - 20, y: p.y + p.height - 1 } : OUT
    return { ...person, x: stand.x - at * 19, y: stand.y }
  }),
)
function walk(room: string) {
  emit('choose', room)
  emit('act', { what: 'walk', room, person: who.value })
}
const toggle = (name: string, open: boolean) => emit('act', { what: 'open', opening: name, on: !open })
</script>

<template>
  <svg class="section" viewBox="0 0 900 520" role="group" aria-label="The pretend house in section">
    <rect class="outside" x="0" y="0" width="900" :height="GROUND" :style="{ '--light': sky }" />
    <path class="hill" :d="`M0 ${GROUND}H900V520H0Z`" />
    <path class="water" d="M630 422H900V520H630Z" />
    <g class="wheel" aria-hidden="true">
      <circle cx="787" cy="376" r="34" />
      <circle cx="787" cy="376" r="6" />
      <path d="M787 342v68M753 376h68M763 352l48 48M811 352l-48 48" />
    </g>

    <path class="roof" d="M214 190L470 60L726 190Z" />
    <path class="roof glass" d="M20 300L140 262V300Z" />
    <path class="roof" d="M804 322L848 296L892 322Z" />
    <g v-for="p in places" :key="p.name" class="room" :class="{ out: p.outside, chosen: p.name === chosen }">
      <template v-if="!p.outside">
        <rect class="dark" :x="p.x" :y="p.y" :width="p.width" :height="p.height" />
        <rect
          class="lit"
          :x="p.x"
          :y="p.y"
          :width="p.width"
          :height="p.height"
          :style="{ opacity: brightness(roomOf(p.name)?.lux ?? 0) }"
        />
      </template>
      <rect v-if="roomOf(p.name)?.wet" class="wet" :x="p.x" :y="p.y + p.height - 7" :width="p.width" height="7" />
      <g aria-hidden="true">
        <text class="name" :x="p.x + 9" :y="p.y + p.height - 41">{{ p.name }}</text>
        <text class="reading" :x="p.x + 9" :y="p.y + p.height - 26">{{ Math.round(roomOf(p.name)?.lux ?? 0) }} lx</text>
        <text class="reading" :x="p.x + 9" :y="p.y + p.height - 12">{{ roomOf(p.name)?.temperature }} °C</text>
      </g>
      <rect
        class="wall press"
        :x="p.x"
        :y="p.y"
        :width="p.width"
        :height="p.height"
        role="button"
        tabindex="0"
        :aria-label="`${who}: walk to the ${p.name}, ${roomOf(p.name)?.lux} lx, ${roomOf(p.name)?.temperature} °C`"
        @click="walk(p.name)"
        @keydown.enter="walk(p.name)"
        @keydown.space.prevent="walk(p.name)"
      />
    </g>
    <g
      v-for="o in openings"
      :key="o.name"
      class="door"
      role="button"
      tabindex="0"
      :aria-label="`${o.open ? 'Shut' : 'Open'} the ${o.name}`"
      @click="toggle(o.name, o.open)"
      @keydown.enter="toggle(o.name, o.open)"
      @keydown.space.prevent="toggle(o.name, o.open)"
    >
      <rect class="opening" :x="o.x - 5" :y="o.y" width="10" :height="o.height" />
      <path v-if="o.open" class="leaf" :d="`M${o.x} ${o.y}l-18 7v${o.height - 2}l18 -5Z`" />
      <rect v-else class="leaf" :x="o.x - 3.5" :y="o.y" width="7" :height="o.height" />
      <title>{{ o.name }}</title>
    </g>

    <g v-for="w in windows" :key="w.id" class="window" :class="{ burnt: w.shutter.burnt }">
      <rect class="pane" :x="w.x" :y="w.y" :width="w.width" :height="w.height" />
      <rect class="slats" :x="w.x" :y="w.y" :width="w.width" :height="w.height * (1 - w.shutter.place / 100)" />
      <path
        v-if="w.shutter.running"
        class="going"
        :d="
          w.shutter.running > 0
            ? `M${w.x + w.width + 5} ${w.y + 20}l5 -9l5 9z`
            : `M${w.x + w.width + 5} ${w.y + 12}l5 9l5 -9z`
        "
      />
      <title>{{ shutterWords(w.shutter) }}</title>
    </g>

    <g v-for="l in lamps" :key="l.label" class="lamp" :class="{ blinking: l.blinking, flickering: l.flickering }">
      <line :x1="l.x" :x2="l.x" :y1="l.y" :y2="l.y + 14" />
      <path
        class="shade"
        :d="`M${l.x - 11} ${l.y + 26}l6 -12h10l6 12z`"
        :style="l.lit ? { fill: l.swatch, fillOpacity: 0.25 + (l.level / 100) * 0.75 } : {}"
      >
        <title>{{ l.label }}: {{ l.lit ? `${l.level} %` : 'off' }}</title>
      </path>
      <text v-if="l.lit" class="level" :x="l.x + 2" :y="l.y + 11" aria-hidden="true">{{ l.level }}</text>
    </g>
    <g v-for="n in nodes" :key="n.node" class="node" :class="{ blinking: n.blinking, sensing: n.sensing }">
      <rect :x="n.x - 5" :y="n.y - 5" width="11" height="11" rx="2">
        <title>{{ n.label }}</title>
      </rect>
    </g>

    <g
      v-for="person in people"
      :key="person.name"
      class="person"
      :class="{ picked: person.name === who }"
      :style="{ transform: `translate(${person.x}px, ${person.y}px) scale(0.7)` }"
      role="button"
      tabindex="0"
      :aria-pressed="person.name === who"
      :aria-label="`${person.name}, ${person.room ? `in the ${person.room}` : 'out'}`"
      @click="who = person.name"
      @keydown.enter="who = person.name"
      @keydown.space.prevent="who = person.name"
    >
      <rect class="reach" x="-12" y="-70" width="24" height="70" />
      <circle cx="0" cy="-58" r="9" />
      <path d="M0 -47v23M0 -24l-9 22M0 -24l9 22M-13 -27l13 -15l13 13" />
      <text class="initial" x="0" y="-54">{{ person.name[0] }}</text>
      <title>{{ person.name }}: {{ person.room || 'out' }}</title>
    </g>
    <g class="outdoors">
      <rect
        class="press"
        x="352"
        y="454"
        width="200"
        height="44"
        rx="3"
        role="button"
        tabindex="0"
        :aria-label="`${who}: walk out, ${Math.round(state.outdoors.lux)} lx, ${state.outdoors.temperature} °C`"
        @click="walk('')"
        @keydown.enter="walk('')"
        @keydown.space.prevent="walk('')"
      />
      <g aria-hidden="true">
        <text class="name" x="364" y="473">Away from home</text>
        <text class="reading" x="364" y="489">
          {{ Math.round(state.outdoors.lux) }} lx · {{ state.outdoors.temperature }} °C
        </text>
      </g>
    </g>
  </svg>
</template>

<style scoped>
.section {
  width: 100%;
  max-height: calc(100vh - 260px);
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
  font-size: var(--type-small);
  font-weight: 650;
  fill: var(--ink);
}
.reading {
  font: var(--type-note) var(--mono);
  fill: var(--ink);
}
.out .wall {
  stroke: var(--edge);
  stroke-dasharray: 2 4;
}
.chosen .wall {
  stroke-width: 3.5;
}
.wet {
  fill: var(--slate);
}
.glass {
  fill: color-mix(in oklab, var(--slate) 22%, var(--paper));
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
.level {
  font-size: var(--type-note);
  fill: var(--ink);
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
.flickering .shade {
  animation: blink 130ms steps(2) infinite;
}
.blinking {
  animation: blink 500ms steps(2) infinite;
}
@keyframes blink {
  50% {
    opacity: 0.15;
  }
}
.pane {
  fill: color-mix(in oklab, var(--sky-day) 70%, var(--slate));
  stroke: var(--ink);
  stroke-width: 1.5;
}
.slats {
  fill: var(--ink-soft);
  stroke: var(--ink);
  stroke-width: 1;
  transition: height 300ms linear;
}
.burnt .slats,
.burnt .pane {
  stroke: var(--ember);
  stroke-width: 3;
}
.going {
  fill: var(--plum);
}
.person circle {
  fill: var(--ink-soft);
}
.person.picked circle {
  fill: var(--plum);
}
.reach {
  fill: transparent;
}
.initial {
  font-size: var(--type-note);
  font-weight: 700;
  fill: var(--on-strong);
  text-anchor: middle;
}
.person:focus-visible .reach,
.person:hover .reach {
  stroke: var(--verdigris);
  stroke-width: 3;
}
.person path {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 6;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.person.picked path {
  stroke: var(--plum);
}
.person {
  transition: transform 400ms ease-in-out;
  cursor: pointer;
  outline: none;
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
