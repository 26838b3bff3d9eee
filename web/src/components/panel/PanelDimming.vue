<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Device, RuleDocument } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Has a panel dim by the light that a sensor measures: an ordinary rule, made here and changed like any other. */
const props = defineProps<{ panel: Device }>()
const home = useHome()
const notices = useNotices()
const router = useRouter()

/** What is dark, in lux, and how bright the panel is then, in percent, until the owner says otherwise. */
const DARK = 10
const DIM = 30

const sensors = computed(() =>
  home.devices.flatMap((d) =>
    d.description.properties
      .filter((p) => p.role === 'illuminance' && !p.without) // a screen is as bright as all that is around it
      .map((p) => ({ value: `${d.id}~${p.name}`, title: d.title, note: home.roomTitle(d.room) })),
  ),
)
const made = computed(() =>
  home.rules.filter((r) =>
    r.do.some((s) => s.kind === 'hold' && s.device === props.panel.id && s.property === 'brightness'),
  ),
)
const make = (chosen: string) =>
  notices.attempt(async () => {
    const [device, property] = chosen.split('~') as [string, string]
    const body: RuleDocument = {
      title: `Dim ${props.panel.title}`,
      enabled: true,
      whenever: { all: [{ device, property, comparison: 'below', value: DARK }] },
      do: [{ kind: 'hold', device: props.panel.id, property: 'brightness', value: DIM }],
    }
    const saved = await ask(api.POST('/api/rules', { body }))
    await home.arrived('rule', saved.id)
    notices.done(`While it is darker than ${DARK} lx, ${props.panel.title} is at ${DIM} %.`, () =>
      ask(api.DELETE('/api/rules/{id}', { params: { path: { id: saved.id } } })),
    )
    await router.push(`/rules/${saved.id}`)
  })
</script>

<template>
  <p v-if="made.length || sensors.length" class="row">
    <span class="soft">Dimmed by</span>
    <RouterLink v-for="r in made" :key="r.id" class="link" :to="`/rules/${r.id}`">{{ r.title }}</RouterLink>
    <TokenPicker
      v-if="sensors.length"
      :model-value="undefined"
      :choices="sensors"
      label="Light sensor by which it is dimmed"
      empty="a light sensor …"
      verb
      @update:model-value="make"
    />
  </p>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8) var(--space-14);
  align-items: baseline;
  margin: 0;
}
</style>
