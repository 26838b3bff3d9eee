<script setup lang="ts">
import Button from 'primevue/button'
import InputNumber from 'primevue/inputnumber'
import ToggleSwitch from 'primevue/toggleswitch'
import { computed, ref } from 'vue'
import type { BenchAct, BenchState } from '@/api/types'
import { useHome } from '@/stores/home'

const props = defineProps<{ state: BenchState; walker: string; jumping: boolean }>()
const emit = defineEmits<{ act: [BenchAct]; walker: [string] }>()

const home = useHome()
const room = computed(() => props.state.people.find((p) => p.name === props.walker)?.room)
const hour = ref('18:30')
const entry = ref('')
const inMinutes = ref(30)
const MINUTE = 60
function write() {
  emit('act', { what: 'diary', title: entry.value, seconds: inMinutes.value * MINUTE })
  entry.value = ''
}
/** How many times faster than real time hub and house live. */
const paces = [1, 10, 60, 600]
const openFor = computed(() => {
  if (!props.state.joiningUntil) return 0
  return Math.max(0, Math.round((Date.parse(props.state.joiningUntil) - home.now) / 1000))
})
</script>

<template>
  <aside class="tools">
    <section>
      <h2>Who lives here</h2>
      <p class="row wrap" role="group" aria-label="Who walks">
        <Button
          v-for="p in state.people"
          :key="p.name"
          size="small"
          :severity="p.name === walker ? undefined : 'secondary'"
          :aria-pressed="p.name === walker"
          :label="p.name"
          :title="p.room ? `in the ${p.room}` : 'away'"
          @click="emit('walker', p.name)"
        />
      </p>
      <p class="row">
        {{ walker }} {{ room ? `is in the ${room}` : 'is away' }}
        <Button
          v-if="room"
          size="small"
          severity="secondary"
          label="Walk out"
          @click="emit('act', { what: 'walk', room: '', person: walker })"
        />
      </p>
      <p class="soft small">Point at a place in the house: {{ walker }} walks there.</p>
      <label class="row"
        ><ToggleSwitch :model-value="state.living" @update:model-value="emit('act', { what: 'live', on: $event })" />
        everybody follows their own day</label
      >
    </section>
    <section aria-label="Family diary">
      <h2>Family diary</h2>
      <form class="row wrap" @submit.prevent="write">
        <input
          v-model="entry"
          type="text"
          placeholder="Dentist"
          maxlength="120"
          required
          size="14"
          aria-label="What is written into the diary"
        />
        in
        <InputNumber
          v-model="inMinutes"
          :min="1"
          :max="10000"
          :use-grouping="false"
          aria-label="In how many minutes"
          size="small"
          :input-style="{ width: '64px' }"
        />
        min
        <Button type="submit" size="small" severity="secondary" label="Write it down" />
      </form>
      <p v-for="e in state.diary.entries ?? []" :key="e.begin + e.title" class="soft small">
        {{ home.times.since(e.begin, home.now) }} {{ e.title }}
      </p>
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
      <p class="row wrap" role="group" aria-label="How fast time runs">
        <Button
          v-for="p in paces"
          :key="p"
          size="small"
          :severity="state.pace === p ? undefined : 'secondary'"
          :aria-pressed="state.pace === p"
          :label="`×${p}`"
          @click="emit('act', { what: 'pace', pace: p })"
        />
      </p>
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
      <h2>Lumbrook’s own app: its groups</h2>
      <p v-for="g in state.groups" :key="g.id" class="row">
        <span class="grow">{{ g.label }}</span>
        <Button
          size="small"
          severity="secondary"
          label="On"
          :aria-label="`Group ${g.label} on from the app`"
          @click="emit('act', { what: 'group', group: g.id, on: true })"
        />
        <Button
          size="small"
          severity="secondary"
          label="Off"
          :aria-label="`Group ${g.label} off from the app`"
          @click="emit('act', { what: 'group', group: g.id, on: false })"
        />
      </p>
    </section>
    <section>
      <h2>
        Haskett remotes <span class="mono address">{{ state.radio.address }}</span>
      </h2>
      <div v-for="r in state.radio.remotes" :key="r.id" class="remote">
        <span class="name">{{ r.label }}</span>
        <span class="row wrap">
          <template v-for="k in 2" :key="k">
            <Button
              size="small"
              severity="secondary"
              :label="`${k} on`"
              :aria-label="`${r.label}: key ${k} on`"
              @click="emit('act', { what: 'key', radio: r.id, button: k, on: true })"
            />
            <Button
              size="small"
              severity="secondary"
              :label="`${k} off`"
              :aria-label="`${r.label}: key ${k} off`"
              @click="emit('act', { what: 'key', radio: r.id, button: k, on: false })"
            />
          </template>
        </span>
      </div>
    </section>
    <section>
      <h2>Penrook box</h2>
      <p class="row">
        <span class="soft">code on its label</span> <b class="mono">{{ state.boxCode }}</b>
      </p>
    </section>
    <section>
      <h2>Power of the house</h2>
      <p class="row">
        <Button
          size="small"
          severity="secondary"
          label="Cut it for a moment"
          @click="emit('act', { what: 'blackout' })"
        />
        <span class="soft">lamps and plugs then do as they are set up</span>
      </p>
    </section>
    <section>
      <h2>Weir</h2>
      <p class="row">
        <Button
          size="small"
          severity="secondary"
          :label="state.outdoors.dammed ? 'Clear the driftwood' : 'Let driftwood dam it up'"
          @click="emit('act', { what: 'dam', on: !state.outdoors.dammed })"
        />
        <span class="soft"
          >the water stands at <b class="mono">{{ state.outdoors.river }} cm</b></span
        >
      </p>
    </section>
    <section>
      <h2>Router</h2>
      <p class="row">
        <Button size="small" severity="secondary" label="Restart it" @click="emit('act', { what: 'restartRouter' })" />
        <span class="soft">every device on the network gets another address</span>
      </p>
    </section>
    <section>
      <h2>Quillet gateway</h2>
      <p class="soft small">
        {{ openFor ? `Open to new devices for ${openFor} s.` : 'Shut to new devices.' }}
      </p>
    </section>
  </aside>
</template>

<style scoped>
.tools {
  display: grid;
  gap: var(--space-16);
  align-content: start;
}
section {
  border-top: 1px solid var(--rule);
  padding-top: var(--space-10);
}
.row {
  display: flex;
  gap: var(--space-8);
  align-items: center;
  margin-top: var(--space-8);
  font-size: var(--type-small);
}
.wrap {
  flex-wrap: wrap;
}
input {
  background: var(--sheet);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  padding: var(--space-4) var(--space-8);
}
.small {
  font-size: var(--type-small);
  margin-top: var(--space-6);
}
.address {
  font-weight: 400;
  font-size: var(--type-note);
}
.remote {
  margin-top: var(--space-8);
  font-size: var(--type-small);
}
.grow {
  flex: 1;
}
</style>
