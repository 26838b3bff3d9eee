<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Mark } from '@/api/types'
import { act } from '@/lib/act'
import { MODE, OWN } from '@/lib/own'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

defineEmits<{ search: [] }>()

const home = useHome()
const router = useRouter()
const pointed = ref<Mark>()
const notices = useNotices()
const mode = computed(() => home.state(OWN, MODE))
const modes = computed(() => (home.modes?.modes ?? []).map((m) => ({ value: m.id, title: m.title })))
const setMode = (id: string) => notices.attempt(() => act.write(OWN, MODE, id))

const start = computed(() => (home.day ? new Date(home.day.from).getTime() : 0))
const length = computed(() => (home.day ? new Date(home.day.to).getTime() - start.value : 1))
const share = (at: string | number) => ((new Date(at).getTime() - start.value) / length.value) * 100
const nowShare = computed(() => Math.min(100, Math.max(0, share(home.now))))

const hours = computed(() =>
  [3, 6, 9, 12, 15, 18, 21].map((h) => ({ hour: h, left: share(start.value + h * 3_600_000) })),
)

function go(mark: Mark) {
  if (mark.schedule) void router.push(`/schedules/${mark.schedule}`)
  else if (mark.entry) void router.push({ path: '/journal', query: { entry: mark.entry } })
}

const whole = computed(() => {
  const d = home.day
  if (!d) return ''
  if (d.polar) return d.polar === 'day' ? 'the sun does not set' : 'the sun does not rise'
  return d.rise && d.set ? `sun ${home.times.clock(d.rise)} – ${home.times.clock(d.set)}` : ''
})
</script>

<template>
  <header class="day">
    <div class="who">
      <b>{{ home.house?.title }}</b>
      <span class="soft">{{ home.house ? home.times.date(home.now) : '' }}</span>
      <span v-if="mode" class="mode">
        <TokenPicker
          :model-value="String(mode.value ?? '')"
          :choices="modes"
          label="Mode of the house"
          @update:model-value="setMode"
        />
      </span>
    </div>
    <div v-if="home.day" class="band" role="group" :aria-label="`Today, ${whole}`">
      <i
        v-for="s in home.day.stretches"
        :key="s.from"
        class="sky"
        :class="s.light"
        :style="{ left: share(s.from) + '%', width: share(s.to) - share(s.from) + '%' }"
      />
      <span v-for="h in hours" :key="h.hour" class="hour mono" :style="{ left: h.left + '%' }">{{ h.hour }}</span>
      <button
        v-for="(m, i) in home.day.marks"
        :key="i"
        class="plain mark day-mark"
        :class="m.tone"
        :style="{ left: share(m.at) + '%', ...home.markOf(m.person) }"
        :aria-label="`${home.times.clock(m.at)} ${m.text}${m.tone === 'planned' ? ', planned' : ''}`"
        @click="go(m)"
        @mouseenter="pointed = m"
        @mouseleave="pointed = undefined"
        @focus="pointed = m"
        @blur="pointed = undefined"
      />
      <div class="now" :style="{ left: nowShare + '%' }">
        <b class="mono" :class="{ before: nowShare > 85 }">{{ home.times.clock(home.now) }}</b>
      </div>
      <p
        v-if="pointed"
        class="told"
        :class="{ right: share(pointed.at) > 60 }"
        :style="share(pointed.at) > 60 ? { right: 100 - share(pointed.at) + '%' } : { left: share(pointed.at) + '%' }"
      >
        <span class="mono">{{ home.times.exact(pointed.at) }}</span> {{ pointed.text }}
        <span v-if="pointed.tone === 'planned'" class="soft">planned</span>
      </p>
    </div>
    <div v-else />
    <button class="plain find" @click="$emit('search')">Find or go <kbd class="mono">Ctrl K</kbd></button>
  </header>
</template>

<style scoped>
.day {
  display: grid;
  grid-template-columns: 168px minmax(0, 1fr) auto;
  border-bottom: 1px solid var(--rule);
}
.who {
  padding: 0 var(--space-16);
  border-right: 1px solid var(--rule);
  display: flex;
  flex-direction: column;
  justify-content: center;
  line-height: 1.25;
  min-width: 0;
}
.who b {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.mode {
  font-size: var(--type-small);
}
.band {
  position: relative;
}
.sky {
  position: absolute;
  inset-block: 0;
}
.night {
  background: var(--sky-night);
}
.twilight {
  background: var(--sky-twilight);
}
.day .sky.day {
  display: block;
  border: 0;
  background: var(--sky-day);
}
.hour {
  position: absolute;
  bottom: 2px;
  font-size: var(--type-note);
  transform: translateX(-50%);
  color: var(--ink);
}
.mark {
  top: 12px;
}
.mark:hover {
  z-index: 3;
}
.now {
  position: absolute;
  inset-block: 0;
  width: 2px;
  margin-left: -1px;
  background: var(--verdigris);
  pointer-events: none;
}
.now b {
  position: absolute;
  top: 1px;
  left: 6px;
  font-size: var(--type-small);
  color: var(--verdigris);
  padding: 0 var(--space-4);
  background: var(--paper);
}
.now .before {
  left: auto;
  right: 6px;
}
.told {
  position: absolute;
  top: 100%;
  z-index: 20;
  background: var(--sheet);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  padding: var(--space-4) var(--space-10);
  font-size: var(--type-small);
  white-space: nowrap;
  pointer-events: none;
}
.find {
  padding: 0 var(--space-16);
  border-left: 1px solid var(--rule);
  color: var(--ink-soft);
  font-size: var(--type-small);
  white-space: nowrap;
}
.find:hover {
  color: var(--ink);
}
kbd {
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  padding: 1px var(--space-6);
  margin-left: var(--space-8);
  font-size: var(--type-note);
}
@media (max-width: 720px) {
  .day {
    grid-template-columns: minmax(0, 1fr);
    grid-template-rows: auto 44px;
  }
  .band {
    grid-row: 2;
  }
  .who {
    padding: var(--space-6) var(--space-14);
    border: 0;
    flex-direction: row;
    align-items: baseline;
    justify-content: flex-start;
    gap: var(--space-10);
  }
  .mode {
    margin-left: auto;
  }
  /* It stands in the bar at the foot. */
  .find {
    display: none;
  }
}
</style>
