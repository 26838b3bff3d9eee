<script setup lang="ts">
import { computed } from 'vue'
import type { Background, DashboardDocument, Upload } from '@/api/types'
import ColorChoice from './ColorChoice.vue'
import IconPicker from './IconPicker.vue'
import SeenByPicker from './SeenByPicker.vue'
import UploadPicker from './UploadPicker.vue'

/** What a dashboard is like as a whole: its icon, who is offered it, and what lies behind its controls. */
const props = defineProps<{ dashboard: DashboardDocument }>()
const emit = defineEmits<{ change: [part: Partial<DashboardDocument>] }>()

const behind = computed(() => props.dashboard.background ?? {})
function background(part: Partial<Background>) {
  const next = Object.fromEntries(Object.entries({ ...behind.value, ...part }).filter(([, value]) => value))
  emit('change', { background: Object.keys(next).length ? (next as Background) : undefined })
}
const choose = (u: Upload) => background({ upload: u.id, darkest: u.darkest, lightest: u.lightest })
const RANGES: { name: 'dim' | 'blur' | 'fade'; title: string; most: number; unit: string }[] = [
  { name: 'dim', title: 'Dimmed', most: 100, unit: '%' },
  { name: 'blur', title: 'Blurred', most: 40, unit: 'px' },
  { name: 'fade', title: 'Fades at its foot', most: 100, unit: '%' },
]
</script>

<template>
  <section class="options" aria-labelledby="board-options">
    <h2 id="board-options">This dashboard</h2>
    <p class="row">
      <span class="soft">Icon</span>
      <IconPicker
        label="Icon of the dashboard"
        :model-value="dashboard.icon"
        @update:model-value="emit('change', { icon: $event })"
      />
    </p>
    <p class="row">
      <span class="soft">Offered to</span>
      <SeenByPicker
        label="Who is offered this dashboard"
        :model-value="dashboard.seenBy"
        @update:model-value="emit('change', { seenBy: $event })"
      />
    </p>
    <p class="soft help">Guests see it where you give it to them, under Household › People.</p>
    <label class="row check">
      <input
        type="checkbox"
        :checked="dashboard.margin ?? false"
        @change="emit('change', { margin: ($event.target as HTMLInputElement).checked || undefined })"
      />
      Clock, modes and what comes next at its side
    </label>
    <h3>Background</h3>
    <p class="row">
      <span class="soft">Tint</span>
      <ColorChoice
        label="Tint of the background"
        :model-value="behind.tint || undefined"
        @update:model-value="background({ tint: $event as Background['tint'] })"
      />
    </p>
    <UploadPicker
      label="Picture of the background"
      :model-value="behind.upload"
      @update:model-value="$event || background({ upload: undefined, darkest: undefined, lightest: undefined })"
      @chosen="choose"
    />
    <template v-if="behind.upload || behind.tint">
      <label v-for="r in RANGES" :key="r.name" class="row">
        <span class="soft name">{{ r.title }}</span>
        <input
          type="range"
          min="0"
          :max="r.most"
          :value="behind[r.name] ?? 0"
          :aria-label="`${r.title}, in ${r.unit === '%' ? 'percent' : 'pixels'}`"
          @change="background({ [r.name]: Number(($event.target as HTMLInputElement).value) })"
        />
        <span class="mono">{{ behind[r.name] ?? 0 }} {{ r.unit }}</span>
      </label>
      <p class="soft help">
        It shows through controls that are see-through. Where text could not be read on it, it is dimmed further.
      </p>
    </template>
  </section>
</template>

<style scoped>
.options {
  display: grid;
  gap: var(--space-8);
  align-content: start;
}
h2,
h3 {
  margin: 0;
}
h3 {
  margin-top: var(--space-10);
}
.help {
  font-size: var(--type-small);
  margin: 0;
}
.check.row {
  flex-wrap: nowrap;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-6) var(--space-10);
  align-items: center;
  min-height: 34px;
  margin: 0;
}
.name {
  flex: 0 0 110px;
}
</style>
