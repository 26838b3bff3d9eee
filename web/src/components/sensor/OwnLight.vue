<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { Device, OwnLight, Property } from '@/api/types'
import ErrorNote from '@/components/page/ErrorNote.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** What the lamps around a sensor give it, learned from its record, and taken off in a reading of its own. */
const props = defineProps<{ device: Device; property: Property }>()
const emit = defineEmits<{
  /** The name of the reading without the lamps, once there is one. */
  taken: [name: string]
}>()
const home = useHome()
const notices = useNotices()

const own = ref<OwnLight>()
const failed = ref('')
const path = computed(() => ({ params: { path: { id: props.device.id, property: props.property.name } } }))
async function learn() {
  failed.value = ''
  try {
    own.value = await ask(api.GET('/api/devices/{id}/properties/{property}/own-light', path.value))
  } catch (error) {
    own.value = undefined
    failed.value = error instanceof Error ? error.message : String(error)
  }
}
watch(path, learn, { immediate: true })

/** The reading without the lamps, once it is there. */
const without = computed(() => props.device.description.properties.find((p) => p.without?.of === props.property.name))
const reads = computed(() => without.value && home.state(props.device.id, without.value.name)?.text)
const takeOff = () => ask(api.PUT('/api/devices/{id}/properties/{property}/own-light', path.value))
const leave = () => ask(api.DELETE('/api/devices/{id}/properties/{property}/own-light', path.value))
const take = () =>
  notices.attempt(async () => {
    const anew = !!without.value
    await takeOff()
    await home.arrived('device', props.device.id)
    if (without.value) emit('taken', without.value.name)
    notices.done(
      anew ? 'What its lamps give it was learned again.' : `${props.device.title} has a reading without the lamps.`,
      anew ? undefined : leave,
    )
  })
const give = () =>
  notices.attempt(async () => {
    await leave()
    notices.done(`${props.device.title} has no reading without the lamps any more.`, takeOff)
  })

const shown = computed(() => own.value?.lamps.filter((l) => l.times > 0 || (l.unseen ?? 0) > 0) ?? [])
const never = computed(() => own.value?.lamps.filter((l) => !l.times && !l.unseen) ?? [])
const title = (id: string) => home.device(id)?.title ?? 'a removed lamp'
const times = (n: number) => (n === 1 ? 'once' : n === 2 ? 'twice' : `${n} times`)
/** How wide a part of what is read now is drawn, in percent. */
const width = (lux: number) => `${own.value?.now ? Math.min(100, (100 * lux) / own.value.now) : 0}%`
</script>

<template>
  <section class="own" :aria-label="`The lamps in ${property.title.toLowerCase()} of ${device.title}`">
    <ErrorNote v-if="failed" :reason="failed" @again="learn" />
    <p v-else-if="!own" class="soft small">Looking through the last four weeks …</p>
    <template v-else>
      <p v-if="own.why" class="soft small">
        {{ own.why }} Switch each lamp of the room a few times in the dark, and wait two minutes each time.
      </p>
      <template v-else>
        <p class="said" role="status">
          Now <b class="mono">{{ own.now }} lx</b
          ><template v-if="own.own"
            >: <b class="mono">{{ own.own }} lx</b> from its own lamps, <b class="mono">{{ own.without }} lx</b> from
            elsewhere.</template
          ><template v-else>, none of it from its own lamps.</template>
        </p>
        <div class="bar" aria-hidden="true">
          <i class="lamps" :style="{ width: width(own.own) }" /><i
            class="rest"
            :style="{ width: width(own.without) }"
          />
        </div>
        <table>
          <thead>
            <tr>
              <th>Lamp</th>
              <th class="number">at full light</th>
              <th>how sure</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in shown" :key="l.device">
              <td>{{ title(l.device) }}</td>
              <td class="number mono">
                <template v-if="l.times">{{ l.lux }} lx</template><template v-else>–</template>
              </td>
              <td class="soft">
                <template v-if="!l.times">switched {{ times(l.unseen!) }}, and the sensor noticed nothing</template>
                <template v-else>
                  ± {{ l.spread }} lx, from {{ times(l.times) }}<template v-if="!l.sure">: not sure yet</template>
                </template>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="never.length" class="soft small">
          Not switched in the last four weeks: {{ never.map((l) => title(l.device)).join(', ') }}.
        </p>
        <p class="soft small">
          Learned from {{ own.times === 1 ? 'one change' : `${own.times} changes` }} of the lamps; typically off by
          {{ own.left }} lx.
          <template v-if="!own.sure">
            That is not sure enough: switch each lamp a few times in the dark, and wait two minutes each time.
          </template>
        </p>
        <details>
          <summary class="small">What it was learned from</summary>
          <table>
            <thead>
              <tr>
                <th>when</th>
                <th class="number">before</th>
                <th class="number">after</th>
                <th class="number">explained</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="s in own.switchings" :key="s.at">
                <td>{{ home.times.since(s.at, home.now) }}</td>
                <td class="number mono">{{ s.before }} lx</td>
                <td class="number mono">{{ s.after }} lx</td>
                <td class="number mono">{{ s.explained }} lx</td>
              </tr>
            </tbody>
          </table>
        </details>
      </template>
      <p class="row">
        <template v-if="without">
          <span class="small"
            ><b>{{ without.title }}</b> reads <b class="mono">{{ reads }}</b>, learned
            {{ home.times.since(without.without!.learned ?? '', home.now) }}.</span
          >
          <Button v-if="own.sure" size="small" severity="secondary" label="Learn again" @click="take" />
          <Button size="small" severity="secondary" label="Remove that reading" @click="give" />
        </template>
        <Button v-else-if="own.sure" size="small" label="Add a reading without the lamps" @click="take" />
      </p>
    </template>
  </section>
</template>

<style scoped>
.own {
  border-left: 3px solid var(--verdigris);
  background: var(--sheet);
  padding: var(--space-10) var(--space-14) var(--space-14);
  margin-top: var(--space-8);
}
.bar {
  display: flex;
  height: 10px;
  border: 1px solid var(--edge);
  margin: var(--space-8) 0;
  max-width: 420px;
}
.lamps {
  background: var(--ochre);
}
.rest {
  background: var(--verdigris);
}
table {
  border-collapse: collapse;
  font-size: var(--type-small);
  margin-top: var(--space-8);
}
th {
  text-align: left;
  font-weight: 650;
  border-bottom: 1px solid var(--ink);
}
td,
th {
  padding: var(--space-4) var(--space-14) var(--space-4) 0;
}
td {
  border-bottom: 1px solid var(--rule);
}
.number {
  text-align: right;
}
details {
  margin-top: var(--space-8);
}
summary {
  cursor: pointer;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
  margin-top: var(--space-8);
}
.small {
  font-size: var(--type-small);
}
</style>
