<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { computed, ref, watch } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import type { StartingPoint } from '@/api/types'
import { join, propertyChoices, split } from '@/lib/sentences'
import { useHome } from '@/stores/home'
import TokenPicker from '@/components/tokens/TokenPicker.vue'

/** Where a new rule begins: from nothing, or from a common wish that asks only for the devices. */
const visible = defineModel<boolean>('visible', { required: true })
const emit = defineEmits<{ empty: []; made: [string] }>()
const home = useHome()
const points = ref<StartingPoint[]>([])
const chosen = ref<StartingPoint>()
const devices = ref<Record<string, { device: string; name: string }>>({})
const failed = ref('')

const begin = async (now: boolean) => {
  if (!now) return
  chosen.value = undefined
  failed.value = ''
  points.value = await ask(api.GET('/api/starting-points')).catch((error: unknown) => {
    failed.value = reasonOf(error)
    return []
  })
}
watch(visible, begin, { immediate: true }) // also where the address opens it
function choose(p: StartingPoint) {
  chosen.value = p
  devices.value = {}
  failed.value = ''
}
const choices = (roles: string[]) => propertyChoices(home.devices, home.rooms, (p) => roles.includes(p.role ?? ''))
function take(slot: string, value: string) {
  const [device, name] = split(value)
  devices.value = { ...devices.value, [slot]: { device, name } }
}
const complete = computed(() => chosen.value?.slots.every((s) => s.optional || devices.value[s.id]))
async function make() {
  try {
    const saved = await ask(
      api.POST('/api/starting-points/{id}', {
        params: { path: { id: chosen.value!.id } },
        body: { devices: devices.value },
      }),
    )
    visible.value = false
    emit('made', saved.id)
  } catch (error) {
    failed.value = reasonOf(error)
  }
}
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    dismissable-mask
    :header="chosen ? chosen.title : 'A new rule'"
    class="starting"
  >
    <p v-if="failed" class="fault" role="alert">{{ failed }}</p>
    <ul v-if="!chosen" class="points">
      <li class="soft small">
        Write it yourself, or choose a wish: you say which devices, and get a finished rule to look at.
      </li>
      <li>
        <button type="button" class="plain point" @click="emit('empty')">
          <b>From nothing</b
          ><span class="soft">You fill in what is missing, word by word. It does nothing until then.</span>
        </button>
      </li>
      <li v-for="p in points" :key="p.id">
        <button type="button" class="plain point" @click="choose(p)">
          <b>{{ p.title }}</b><span class="soft">{{ p.help }}</span>
        </button>
      </li>
    </ul>
    <template v-else>
      <p class="soft">{{ chosen.help }}</p>
      <p v-for="s in chosen.slots" :key="s.id" class="slot">
        <span>{{ s.title }}<span v-if="s.optional" class="soft"> (may be left out)</span></span>
        <TokenPicker
          :model-value="devices[s.id] ? join(devices[s.id]!.device, devices[s.id]!.name) : undefined"
          :choices="choices(s.roles)"
          :label="s.title"
          :empty="choices(s.roles).length ? 'choose a device' : 'there is none in the home'"
          @update:model-value="take(s.id, $event)"
        />
      </p>
      <p class="soft small">It is made switched off, and is an ordinary rule: look at it, change it, switch it on.</p>
      <div class="end">
        <Button severity="secondary" label="Back" @click="chosen = undefined" />
        <Button label="Make the rule" :disabled="!complete" @click="make" />
      </div>
    </template>
  </Dialog>
</template>

<style scoped>
.point {
  display: grid;
  gap: var(--space-2);
  width: 100%;
  text-align: left;
  padding: var(--space-8) var(--space-10);
  border-top: 1px solid var(--rule);
}
.point:hover,
.point:focus-visible {
  background: var(--verdigris-wash);
}
.point .soft {
  font-size: var(--type-small);
}
.slot {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: var(--space-4) var(--space-16);
  border-top: 1px solid var(--rule);
  padding: var(--space-8) 0;
}
.end {
  display: flex;
  justify-content: flex-end;
  gap: var(--space-10);
  margin-top: var(--space-12);
}
.small {
  font-size: var(--type-small);
}
.fault {
  color: var(--ember);
}
:global(.starting) {
  width: min(560px, 92vw);
}
</style>
