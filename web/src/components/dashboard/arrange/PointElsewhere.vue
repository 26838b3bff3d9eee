<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import type { Control, Repointed } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { useHome } from '@/stores/home'

/** Copies controls and points them to another room: what replaces what is shown before it is done. */
const props = defineProps<{ controls: Control[]; below: number; dashboard: string }>()
const emit = defineEmits<{ done: [copies: Control[], into: string, room: string]; close: [] }>()
const home = useHome()

const LEAVE_OUT = 'leave out'
const AS_IT_IS = 'as it is'
const NEW = 'new'
const room = ref<string>()
const into = ref(props.dashboard)
const choices = ref<Record<string, string>>({})
const found = shallowRef<Repointed>()
const failed = ref('')

const lightOf = (id?: string) => home.lights.find((l) => l.id === id)
const from = computed(
  () => new Set(props.controls.flatMap((c) => lightOf(c.light)?.rooms ?? [home.device(c.device)?.room])),
)
const rooms = computed(() =>
  home.rooms
    .filter((r) => !(from.value.size === 1 && from.value.has(r.id)))
    .map((r) => ({ value: r.id, title: r.title })),
)
const boards = computed(() => [
  ...home.dashboards.map((d) => ({ value: d.id, title: d.id === props.dashboard ? 'this dashboard' : d.title })),
  { value: NEW, title: 'a new dashboard' },
])
watch([room, choices], async () => {
  if (!room.value) return
  failed.value = ''
  try {
    const below = into.value === props.dashboard ? props.below : 0
    found.value = await ask(
      api.POST('/api/dashboards/repoint', {
        body: { controls: props.controls, room: room.value, choices: choices.value, below },
      }),
    )
  } catch (error) {
    failed.value = reasonOf(error)
  }
})
watch(room, () => (choices.value = {}))
const title = (id: string) => home.device(id)?.title ?? home.scene(id)?.title ?? lightOf(id)?.title ?? 'gone'
const rows = computed(() =>
  (found.value?.rows ?? []).map((r) => {
    const chosen = choices.value[r.from] ?? r.to ?? ''
    return {
      ...r,
      title: title(r.from),
      chosen: chosen || LEAVE_OUT,
      why: chosen === r.to ? (r.why ?? '') : '',
      options: [
        ...r.fits.map((id) => ({ value: id, title: title(id) })),
        { value: LEAVE_OUT, title: 'nothing: leave it out' },
        { value: AS_IT_IS, title: 'itself: leave it as it is' },
      ],
    }
  }),
)
const left = computed(() => props.controls.length - (found.value?.controls.length ?? 0))
function copy() {
  // The copies of another dashboard begin at its top.
  const copies = found.value!.controls
  const top = into.value === props.dashboard ? 0 : Math.min(...copies.map((c) => c.row))
  emit(
    'done',
    copies.map((c) => ({ ...c, row: c.row - top })),
    into.value === NEW ? '' : into.value,
    home.rooms.find((r) => r.id === room.value)?.title ?? '',
  )
}
</script>

<template>
  <section class="elsewhere" aria-labelledby="point-elsewhere">
    <header>
      <h2 id="point-elsewhere">Copy for another room</h2>
      <button type="button" class="plain link" @click="emit('close')">Cancel</button>
    </header>
    <p>
      {{ controls.length === 1 ? '1 control' : `${controls.length} controls` }}, for
      <TokenPicker v-model="room" :choices="rooms" label="Room" empty="which room?" />
      on <TokenPicker v-model="into" :choices="boards" label="On which dashboard" />
    </p>
    <p v-if="failed" class="failed" role="alert">{{ failed }}</p>
    <template v-if="room && found">
      <table v-if="rows.length">
        <thead>
          <tr>
            <th>Now</th>
            <th>There</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.from" :class="{ none: !r.fits.length }">
            <td>{{ r.title }}</td>
            <td>
              <TokenPicker
                :model-value="r.chosen"
                :choices="r.options"
                :label="`What replaces ${r.title}`"
                @update:model-value="choices = { ...choices, [r.from]: $event }"
              />
              <span class="soft why">{{ r.fits.length ? r.why : 'Nothing there is like it.' }}</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="left" class="soft" role="status">{{ left === 1 ? '1 control is' : `${left} controls are` }} left out.</p>
      <Button
        :label="found.controls.length === 1 ? 'Copy 1 control' : `Copy ${found.controls.length} controls`"
        :disabled="!found.controls.length"
        @click="copy"
      />
    </template>
  </section>
</template>

<style scoped>
.elsewhere {
  display: grid;
  gap: var(--space-10);
  align-content: start;
  justify-items: start;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  width: 100%;
}
h2,
p {
  margin: 0;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--ink-soft);
}
td {
  padding: var(--space-6) var(--space-10) var(--space-6) 0;
  border-top: 1px solid var(--rule);
  vertical-align: top;
}
.why {
  display: block;
  font-size: var(--type-small);
}
.none td:first-child {
  border-left: 3px solid var(--ochre);
  padding-left: var(--space-8);
}
.failed {
  color: var(--ember);
}
</style>
