<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, reasonOf } from '@/api/client'
import type { ThingCheck } from '@/api/types'
import { useNotices } from '@/stores/notices'

/** A device by its own Thing Description, from a file or an address. */
const notices = useNotices()
const file = ref<HTMLInputElement>()
const check = ref<ThingCheck>()
const document = ref('')
const source = ref('')
const wrong = ref('')

/** How many descriptions are in a text that lists them. */
function listedIn(text: string): number {
  try {
    const list: unknown = JSON.parse(text)
    return Array.isArray(list) ? list.filter((d) => typeof d === 'object' && d && '@context' in d).length : 0
  } catch {
    return 0
  }
}
const listed = ref(0)

async function look(text: string, at: string) {
  document.value = text
  source.value = at
  wrong.value = ''
  listed.value = listedIn(text)
  check.value = await ask(api.POST('/api/things/check', { body: { document: text, source: at || undefined } }))
}
async function fromFile(event: Event) {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  if (chosen) await notices.attempt(async () => look(await chosen.text(), ''))
  input.value = ''
}
/** Reads a description at an address; returns what was wrong. */
async function fromAddress(at: string): Promise<string> {
  try {
    const text = (await ask(api.POST('/api/fetch', { body: { address: at } }))).document
    await look(text, at)
    return ''
  } catch (error) {
    return reasonOf(error)
  }
}
defineExpose({ fromAddress })

async function take() {
  try {
    const taken = await ask(
      api.POST('/api/things', { body: { document: document.value, source: source.value || undefined } }),
    )
    notices.done(`${taken.title} is among the found devices.`)
    check.value = undefined
  } catch (error) {
    wrong.value = reasonOf(error)
  }
}
</script>

<template>
  <section>
    <h2>A device that describes itself</h2>
    <p class="soft small">A W3C Thing Description from a file; what of it can be reached is used.</p>
    <input
      ref="file"
      type="file"
      accept=".json,.jsonld,application/json,application/td+json"
      hidden
      aria-label="File of a Thing Description"
      @change="fromFile"
    />
    <p><Button severity="secondary" label="From a file" @click="file?.click()" /></p>
    <article v-if="check" class="check" aria-live="polite">
      <template v-if="check.problems.length">
        <p v-if="source && listed">
          It lists {{ listed }} {{ listed === 1 ? 'description' : 'descriptions' }}.
          <RouterLink class="link" :to="{ path: '/connections/directory', query: { address: source } }">
            Follow it as a directory
          </RouterLink>
        </p>
        <p v-else-if="source">
          What answers there does not describe itself.
          <RouterLink class="link" :to="{ path: '/found/describe', query: { address: source } }">
            Describe it yourself
          </RouterLink>
        </p>
        <ul v-else class="wrong">
          <li v-for="(p, i) in check.problems" :key="i">
            <span class="mono">line {{ p.line }}</span> {{ p.message }}
          </li>
        </ul>
      </template>
      <template v-else>
        <b>{{ check.title }}</b>
        <p class="soft small">{{ check.offers.join(', ') || 'nothing that can be used' }}</p>
        <ul v-if="check.unreachable.length" class="small">
          <li v-for="u in check.unreachable" :key="u.affordance">
            <span class="mono">{{ u.affordance }}</span> cannot be used: {{ u.reason }}.
          </li>
        </ul>
        <p v-if="check.needsKey" class="soft small">It needs a key, which you enter once it is listed.</p>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <p class="row">
          <Button label="List it as found" @click="take" />
          <Button severity="secondary" label="Leave it" @click="check = undefined" />
        </p>
      </template>
    </article>
  </section>
</template>

<style scoped>
p {
  margin-top: var(--space-6);
}
.small {
  font-size: var(--type-small);
}
.check {
  border-left: 3px solid var(--verdigris);
  background: var(--sheet);
  padding: var(--space-10) var(--space-12);
  margin-top: var(--space-10);
  overflow-wrap: anywhere;
}
.wrong {
  color: var(--ember);
}
.row {
  display: flex;
  gap: var(--space-8);
  flex-wrap: wrap;
}
</style>
