<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { GivenThing } from '@/api/types'
import { download } from '@/lib/download'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'

/** The descriptions of a connection's devices that the owner gave or made: read again, exported, forgotten. */
const props = defineProps<{ connection: string }>()
const home = useHome()
const notices = useNotices()

const all = ref<GivenThing[]>([])
const here = computed(() => all.value.filter((t) => t.connection === props.connection))
async function read() {
  all.value = await ask(api.GET('/api/things'))
}
onMounted(() => notices.attempt(read))
// A device taken into the home, or out of it, changes what may be forgotten.
watch(
  () => home.devices.length,
  () => void notices.attempt(read),
)

const path = (t: GivenThing) => ({ path: { id: t.id } })
const exported = (t: GivenThing) =>
  notices.attempt(async () => {
    const { document } = await ask(api.GET('/api/things/{id}', { params: path(t) }))
    download(`${t.title}.td.json`, document, 'application/td+json')
  })
const again = (t: GivenThing) =>
  notices.attempt(async () => {
    const check = await ask(api.POST('/api/things/{id}/read', { params: path(t) }))
    notices.done(`${check.title} was read again: ${check.offers.join(', ')}.`)
    await read()
  })
const forget = (t: GivenThing) =>
  notices.attempt(async () => {
    await ask(api.DELETE('/api/things/{id}', { params: path(t) }))
    notices.done(`The description of ${t.title} is forgotten.`, async () => {
      await ask(api.POST('/api/things/{id}/restore', { params: path(t) }))
      await read()
    })
    await read()
  })
</script>

<template>
  <section v-if="here.length">
    <h2>Descriptions given or made here</h2>
    <ul>
      <li v-for="t in here" :key="t.id">
        <div class="name">
          <RouterLink v-if="t.device" class="link" :to="`/devices/${t.device}`">{{ t.title }}</RouterLink>
          <b v-else>{{ t.title }}</b>
          <span class="soft small">
            <span v-if="t.source" class="mono">{{ t.source }}</span>
            <RouterLink v-else-if="t.profile" class="link" :to="`/profiles/${t.profile}`"
              >of a profile made here</RouterLink
            >
            <template v-else>from a file</template>
          </span>
        </div>
        <Button
          v-if="t.source"
          size="small"
          severity="secondary"
          label="Read again"
          :aria-label="`Read again: ${t.title}`"
          @click="again(t)"
        />
        <Button
          size="small"
          severity="secondary"
          label="Export"
          :aria-label="`Export: ${t.title}`"
          @click="exported(t)"
        />
        <Button
          v-if="!t.device"
          size="small"
          severity="secondary"
          label="Forget"
          :aria-label="`Forget: ${t.title}`"
          @click="forget(t)"
        />
        <span v-else class="soft small">in the home</span>
        <EarlierVersions :id="t.id" class="versions" kind="thing" :revision="t.revision" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin-top: var(--space-8);
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
  padding: var(--space-6) 0;
  border-top: 1px solid var(--rule);
}
.name {
  flex: 1;
  display: grid;
  min-width: 200px;
  overflow-wrap: anywhere;
}
.versions {
  flex-basis: 100%;
  margin-top: 0;
}
.small {
  font-size: var(--type-small);
}
</style>
