<script setup lang="ts">
import ToggleSwitch from 'primevue/toggleswitch'
import { computed, provide } from 'vue'
import type { Daily, Schedule } from '@/api/types'
import { useEditing } from '@/lib/editing'
import { weekdays } from '@/lib/schedules'
import { scheduleKinds } from '@/lib/steps'
import { stepMoving } from '@/lib/stepMoves'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import CommitInput from '@/components/inputs/CommitInput.vue'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import DefinitionEditor from '@/components/documents/DefinitionEditor.vue'
import DurationToken from '@/components/tokens/DurationToken.vue'
import SentenceLine from '@/components/tokens/SentenceLine.vue'
import StepLines from '@/components/rule/StepLines.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import WeekBands from './WeekBands.vue'

const props = defineProps<{ schedule: Schedule }>()
const home = useHome()
const notices = useNotices()

const { edit, copy, set, remove } = useEditing('schedule', () => props.schedule, '/schedules')

const anchors: { value: Daily['anchor']; title: string }[] = [
  { value: 'clock', title: 'a time of day' },
  { value: 'sunrise', title: 'sunrise' },
  { value: 'sunset', title: 'sunset' },
]
const sides = [
  { value: 'before', title: 'before' },
  { value: 'after', title: 'after' },
]

provide(
  ...stepMoving(
    () => ({ do: copy.value?.do ?? [] }),
    ({ do: steps }) => set({ do: steps }),
  ),
)
function setAt(part: Partial<Daily>) {
  set({ at: { ...copy.value!.at, ...part } })
}
function anchor(to: Daily['anchor']) {
  const weekdays = copy.value!.at.weekdays
  set({ at: to === 'clock' ? { anchor: to, clock: '18:00', weekdays } : { anchor: to, offsetMinutes: 0, weekdays } })
}
const offset = computed(() => copy.value?.at.offsetMinutes ?? 0)
const side = computed(() => (offset.value > 0 ? 'after' : 'before'))
const on = (day: number) => !copy.value?.at.weekdays?.length || copy.value.at.weekdays.includes(day)
function toggle(day: number) {
  const all = weekdays.map((w) => w.day)
  const now = copy.value!.at.weekdays?.length ? copy.value!.at.weekdays : all
  const next = now.includes(day) ? now.filter((d) => d !== day) : [...now, day]
  if (next.length === 0) notices.done('A schedule needs at least one day; switch it off instead.')
  else setAt({ weekdays: next.length === 7 ? undefined : next.sort() })
}
</script>

<template>
  <DefinitionEditor
    v-if="copy"
    :edit="edit"
    :title="copy.title"
    label="Name of the schedule"
    @update:title="set({ title: $event })"
    @remove="remove"
  >
    <template #state>
      <label class="enabled">
        <ToggleSwitch
          :model-value="copy.enabled"
          aria-label="Schedule on"
          @update:model-value="set({ enabled: $event })"
        />
        {{ copy.enabled ? 'on' : 'off' }}
      </label>
    </template>

    <div class="sentence">
      <SentenceLine :problem="schedule.state.problems.find((p) => p.path === 'at')?.message">
        <b>At</b> {{ ' ' }}
        <template v-if="copy.at.anchor !== 'clock'">
          <DurationToken
            :model-value="Math.abs(offset) * 60"
            label="How long before or after"
            @update:model-value="
              setAt({ offsetMinutes: Math.min(720, Math.round($event / 60)) * (side === 'before' ? -1 : 1) })
            "
          />
          {{ ' ' }}
          <TokenPicker
            :model-value="side"
            :choices="sides"
            label="Before or after"
            @update:model-value="setAt({ offsetMinutes: Math.abs(offset) * ($event === 'before' ? -1 : 1) })"
          />
          {{ ' ' }}
        </template>
        <TokenPicker
          :model-value="copy.at.anchor"
          :choices="anchors"
          label="Reckoned from"
          @update:model-value="anchor"
        />
        <CommitInput
          v-if="copy.at.anchor === 'clock'"
          class="clock mono"
          maxlength="5"
          size="5"
          placeholder="18:00"
          :value="copy.at.clock"
          aria-label="Time of day"
          @commit="setAt({ clock: $event })"
        />
      </SentenceLine>
      <SentenceLine>
        <b>on</b>
        <span class="days" role="group" aria-label="Days">
          <button
            v-for="w in weekdays"
            :key="w.day"
            type="button"
            class="plain day"
            :aria-pressed="on(w.day)"
            :class="{ on: on(w.day) }"
            @click="toggle(w.day)"
          >
            {{ w.title }}
          </button>
        </span>
      </SentenceLine>
      <SentenceLine><b>do</b></SentenceLine>
      <StepLines
        :model-value="copy.do"
        path="do"
        :problems="schedule.state.problems"
        :kinds="scheduleKinds"
        @update:model-value="set({ do: $event })"
      />
    </div>

    <h2>Next dates</h2>
    <WeekBands v-if="schedule.state.upcoming.length" :dates="schedule.state.upcoming" />
    <p v-else class="soft">
      {{
        schedule.enabled
          ? schedule.state.problems.length
            ? 'None until the above is mended.'
            : 'None within a year.'
          : 'None while it is off.'
      }}
    </p>
    <p v-if="schedule.state.lastRan" class="soft small">
      Last acted {{ home.times.since(schedule.state.lastRan, home.now) }}.
    </p>
    <EarlierVersions :id="schedule.id" kind="schedule" :revision="schedule.revision" />
  </DefinitionEditor>
</template>

<style scoped>
.enabled {
  display: inline-flex;
  gap: var(--space-8);
  align-items: center;
}
.sentence {
  padding: var(--space-14) 0 var(--space-10);
}
.clock {
  margin-left: var(--space-10);
  background: transparent;
  border: 0;
  border-bottom: 2px solid var(--verdigris);
  font-size: var(--type-lead);
}
.days {
  display: inline-flex;
  flex-wrap: wrap;
  gap: var(--space-4);
  margin-left: var(--space-10);
}
.day {
  padding: 1px var(--space-8);
  font-size: var(--type-text);
  border: 1px solid var(--edge);
  border-radius: var(--radius);
  color: var(--ink-soft);
}
.day.on {
  background: var(--verdigris);
  border-color: var(--verdigris);
  color: var(--on-strong);
  font-weight: 600;
}
.small {
  font-size: var(--type-small);
  margin-top: var(--space-10);
}
</style>
