<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import type { Modes } from '@/api/types'
import { act } from '@/lib/act'
import { MODE, OWN } from '@/lib/own'
import { useEdits } from '@/stores/edits'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'
import { useNotices } from '@/stores/notices'
import CommitInput from '@/components/inputs/CommitInput.vue'
import ReasonLine from '@/components/marks/ReasonLine.vue'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import UsedBy from './UsedBy.vue'

/** The household's modes: which it is in and why, and the list itself. */
const home = useHome()
const session = useSession()
const notices = useNotices()
const edits = useEdits()

const state = computed(() => home.state(OWN, MODE))
const modes = computed(() => home.modes?.modes ?? [])
const uses = (id: string) => home.modes?.uses[id] ?? []
const often = (times: number) => `used ${['', 'once', 'twice'][times] ?? `${times} times`}`
const title = ref('')

const set = (id: string) => notices.attempt(() => act.write(OWN, MODE, id))
function save(list: Modes['modes'], done: string) {
  const before = modes.value
  const change = (from: Modes['modes'], to: Modes['modes']) =>
    edits.now('modes', 'modes', { modes: from }, { modes: to })
  return notices.attempt(async () => {
    await change(before, list)
    notices.done(done, () => change(list, before))
  })
}
function rename(id: string, to: string) {
  const name = to.trim()
  const old = modes.value.find((m) => m.id === id)
  if (!name || !old || name === old.title) return
  void save(
    modes.value.map((m) => (m.id === id ? { ...m, title: name } : m)),
    `${old.title} is called ${name} now.`,
  )
}
/** The mode that is about to be removed, though something uses modes. */
const removing = ref('')
async function remove(id: string) {
  const gone = modes.value.find((m) => m.id === id)
  removing.value = ''
  await save(
    modes.value.filter((m) => m.id !== id),
    `${gone?.title} removed.`,
  )
}
async function add() {
  const name = title.value.trim()
  const id = `mode-${Math.random().toString(36).slice(2, 10)}`
  if (await save([...modes.value, { id, title: name }], `${name} added.`)) title.value = ''
}
</script>

<template>
  <section aria-label="Mode of the house">
    <div class="row" role="group" aria-label="Set the mode">
      <Button
        v-for="m in modes"
        :key="m.id"
        :label="m.title"
        :severity="state?.value === m.id ? undefined : 'secondary'"
        :aria-pressed="state?.value === m.id"
        @click="set(m.id)"
      />
    </div>
    <ReasonLine v-if="state" :state="state" />
    <UsedBy v-if="home.modes" :uses="home.modes.usedBy" />
    <EarlierVersions v-if="home.modes?.revision" id="modes" kind="modes" :revision="home.modes.revision" />
    <ul v-if="session.setsUp" class="list">
      <li v-for="m in modes" :key="m.id">
        <CommitInput
          :value="m.title"
          :aria-label="`Name of the mode ${m.title}`"
          maxlength="40"
          @commit="rename(m.id, $event)"
        />
        <template v-if="removing === m.id">
          <span class="soft small"
            >Used by
            {{
              uses(m.id)
                .map((u) => u.title)
                .join(', ')
            }}. They keep it, and never find the house in it.</span
          >
          <button class="plain link" @click="remove(m.id)">Remove {{ m.title }}</button>
          <button class="plain link" @click="removing = ''">Keep it</button>
        </template>
        <span
          v-else-if="uses(m.id).length"
          class="soft small uses"
          :title="
            uses(m.id)
              .map((u) => u.title)
              .join(', ')
          "
          >{{ often(uses(m.id).length) }}</span
        >
        <button
          v-if="removing !== m.id && modes.length > 2"
          class="plain soft"
          :disabled="state?.value === m.id"
          :title="state?.value === m.id ? 'The house is in this mode now' : undefined"
          :aria-label="`Remove the mode ${m.title}`"
          @click="uses(m.id).length ? (removing = m.id) : remove(m.id)"
        >
          ×
        </button>
      </li>
    </ul>
    <form v-if="session.setsUp" class="row" @submit.prevent="add">
      <InputText v-model="title" placeholder="Another mode" aria-label="Another mode" maxlength="40" />
      <Button type="submit" severity="secondary" label="Add" :disabled="!title.trim()" />
    </form>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  margin: var(--space-10) 0;
}
.list li {
  display: flex;
  justify-content: space-between;
  border-top: 1px solid var(--rule);
}
.small {
  font-size: var(--type-small);
}
.list li {
  gap: var(--space-10);
  align-items: center;
}
.list :deep(input) {
  flex: 1;
}
</style>
