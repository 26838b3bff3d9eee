<script setup lang="ts">
import { useSessionStorage } from '@vueuse/core'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, ask, Problem } from '@/api/client'
import type { Composed, Field, Fitting, TriedOut, Wire } from '@/api/types'
import ReachEdit from '@/components/compose/ReachEdit.vue'
import SendingEdit from '@/components/compose/SendingEdit.vue'
import TakenIn from '@/components/compose/TakenIn.vue'
import ValueEdit from '@/components/compose/ValueEdit.vue'
import WireLog from '@/components/compose/WireLog.vue'
import PageHead from '@/components/page/PageHead.vue'
import {
  appended,
  draftOf,
  emptyReach,
  emptySending,
  pickedOf,
  reachOf,
  sameValue,
  sendingOf,
  setOnlyDraft,
  type CommandDraft,
  type ReachDraft,
  type ValueDraft,
} from '@/lib/composing'
import { goOnWith, takingIn } from '@/lib/takingIn'
import { useNotices } from '@/stores/notices'

/** A device that nothing describes is described here: how it is reached, what counts in what it says, and how it is set. */
const notices = useNotices()
const route = useRoute()
const router = useRouter()

interface Work {
  title: string
  reach: ReachDraft
  values: ValueDraft[]
  commands: CommandDraft[]
}
const empty = (): Work => ({ title: '', reach: emptyReach(), values: [], commands: [] })
/** What is described is kept over a reload, the key alone is not. */
const work = useSessionStorage<Work>('amvek.describing', empty(), {
  serializer: {
    read: (text) => JSON.parse(text) as Work,
    write: (w) => JSON.stringify({ ...w, reach: { ...w.reach, key: '' } }),
  },
})
const given = String(route.query.address ?? '')
if (given && given !== work.value.reach.address) {
  work.value = empty()
  work.value.reach.address = given
  work.value.reach.way = /^https?:/.test(given) ? 'http' : 'line'
}

const taking = ref(takingIn())
const wire = ref<Wire[]>([])
const reason = ref('')
const problem = ref<Problem>()
const busy = ref('')
const fits = ref<Fitting[]>([])
const message = ref('')
const reads = ref(new Map<string, string>())

const way = computed(() => work.value.reach.way)
const chosen = computed(() => work.value.values.filter((v) => v.on))
const composed = computed<Composed>(() => ({
  title: work.value.title.trim() || 'The device',
  ...reachOf(work.value.reach),
  pollSeconds: Number(work.value.reach.seconds) || undefined,
  fields: chosen.value.map((v) => pickedOf(way.value, v)),
  commands: work.value.commands.map((c) => ({ title: c.title.trim() || 'Command', send: sendingOf(c.send) })),
}))

/** Does something with the hub, and shows what is wrong where it is wrong. */
async function doing(what: string, act: () => Promise<void>) {
  busy.value = what
  problem.value = undefined
  reason.value = ''
  try {
    await act()
  } catch (error) {
    problem.value = error instanceof Problem ? error : new Problem(0, String(error))
  } finally {
    busy.value = ''
  }
}

function found(fields: Field[]) {
  for (const f of fields) {
    const known = work.value.values.find((v) => v.field && sameValue(v.field, f))
    if (known) known.field = { ...f, asked: f.asked || known.field?.asked }
    else work.value.values.push(draftOf(f))
  }
}
const LISTEN_SECONDS = 15
const SHORT_SECONDS = 1
const look = (send: string[] = [], seconds = SHORT_SECONDS) =>
  doing(seconds > SHORT_SECONDS ? 'listen' : 'look', async () => {
    const { address, ...rest } = reachOf(work.value.reach)
    const looked = await ask(
      api.POST('/api/composed/look', { body: { address: address ?? '', ...rest, send, seconds } }),
    )
    wire.value = appended(wire.value, looked.wire)
    reason.value = looked.reason ?? ''
    fits.value = looked.fits
    found(looked.fields)
    if (!looked.reason) message.value = ''
  })

/** Speaks with the device as it would be spoken with if it was made now. */
const attempt = (how: { field?: number; value?: boolean | number | string; command?: number }) =>
  doing('try', async () => {
    const out: TriedOut = await ask(api.POST('/api/composed/try', { body: { composed: composed.value, ...how } }))
    wire.value = appended(wire.value, out.wire)
    reads.value = new Map(out.readings.map((r) => [r.title, r.text]))
    reason.value = [out.reason, ...out.faults].filter(Boolean).join(' ')
  })

const wrongAt = (list: string, index: number) =>
  index < 0 ? undefined : problem.value?.places.find((p) => p.location.includes(`${list}[${index}]`))?.message

const make = (how: Partial<Composed> = {}) =>
  doing('make', async () => {
    const made = await ask(api.POST('/api/composed', { body: { ...composed.value, ...how } }))
    const next = await goOnWith(made, taking.value)
    work.value = empty()
    await router.push(next)
  })

function clear() {
  const before = work.value
  work.value = empty()
  wire.value = []
  problem.value = undefined
  notices.done('What was described is cleared.', () => {
    work.value = before
    return Promise.resolve()
  })
}
</script>

<template>
  <div class="page">
    <PageHead title="Describe a device">
      One that no profile knows: how it is reached, what counts in what it says, and how it is set.
      <template #buttons>
        <Button severity="secondary" label="Clear" @click="clear" />
      </template>
    </PageHead>

    <div class="columns">
      <div class="left">
        <ReachEdit v-model="work.reach" :problem="problem" />
        <form v-if="way === 'line'" class="row" @submit.prevent="look(message.trim() ? [message.trim()] : [])">
          <InputText v-model="message" class="mono grow" placeholder="message to send" aria-label="Message to send" />
          <Button
            type="submit"
            :label="busy === 'look' ? 'Sending …' : 'Send it'"
            :disabled="!work.reach.address.trim() || !!busy"
          />
          <Button
            type="button"
            severity="secondary"
            :label="busy === 'listen' ? 'Listening …' : `Listen, up to ${LISTEN_SECONDS} s`"
            :disabled="!work.reach.address.trim() || !!busy"
            @click="look([], LISTEN_SECONDS)"
          />
        </form>
        <p v-else class="row">
          <Button
            :label="busy === 'look' ? 'Asking …' : 'Ask it'"
            :disabled="!work.reach.address.trim() || !!busy"
            @click="look()"
          />
        </p>
        <p v-if="reason" class="wrong" role="alert">{{ reason }}</p>
        <WireLog :wire="wire" />
      </div>

      <form class="right" @submit.prevent="make()">
        <h2>What counts</h2>
        <p v-if="!work.values.length && !work.commands.length" class="soft">
          {{
            way === 'http'
              ? 'Ask it, and tick what counts in its answer. What it can be told without answering is added below.'
              : 'Send it a message that it knows, or listen while you operate it, and tick what counts in what it says.'
          }}
        </p>
        <p v-if="fits.length" class="row small">
          Such a device was described before:
          <Button
            v-for="f in fits"
            :key="f.model"
            type="button"
            size="small"
            severity="secondary"
            :label="`Another like ${f.title}`"
            :disabled="!work.title.trim()"
            @click="make({ profile: f.model, fields: undefined, commands: undefined })"
          />
        </p>
        <ul>
          <li v-for="(v, i) in work.values" :key="i">
            <label v-if="v.field" class="pick">
              <Checkbox
                v-model="v.on"
                binary
                :aria-label="`Use ${v.field.pointer || v.field.message || v.field.value}`"
              />
              <span class="mono">{{ v.field.pointer || v.field.message || 'the whole answer' }}</span>
              <b class="mono found">{{ v.field.value }}</b>
            </label>
            <ValueEdit
              v-if="v.on"
              :model-value="v"
              :way="way"
              :own="work.reach.address"
              :wrong="wrongAt('fields', chosen.indexOf(v))"
              :reads="reads.get(v.title.trim())"
              @attempt="attempt({ field: chosen.indexOf(v), value: $event })"
              @drop="work.values.splice(i, 1)"
            />
          </li>
          <li v-for="(c, i) in work.commands" :key="`command ${i}`" class="command">
            <div class="row">
              <InputText
                v-model="c.title"
                size="small"
                placeholder="Command"
                :aria-label="`Name of command ${i + 1}`"
              />
              <SendingEdit v-model="c.send" :way="way" :of="c.title || `command ${i + 1}`" :own="work.reach.address" />
              <Button
                type="button"
                size="small"
                severity="secondary"
                label="Try it"
                :aria-label="`Try ${c.title || `command ${i + 1}`}`"
                @click="attempt({ command: i })"
              />
              <button
                type="button"
                class="plain link small"
                :aria-label="`Leave out ${c.title || `command ${i + 1}`}`"
                @click="work.commands.splice(i, 1)"
              >
                Leave it out
              </button>
            </div>
            <p v-if="wrongAt('commands', i)" class="wrong small" role="alert">{{ wrongAt('commands', i) }}</p>
          </li>
        </ul>
        <p class="row">
          <Button
            type="button"
            size="small"
            severity="secondary"
            label="Add a value that is only set"
            @click="work.values.push(setOnlyDraft())"
          />
          <Button
            type="button"
            size="small"
            severity="secondary"
            label="Add a command"
            @click="work.commands.push({ title: '', send: emptySending() })"
          />
          <Button
            v-if="chosen.some((v) => v.kind === 'read')"
            type="button"
            size="small"
            severity="secondary"
            label="Read all that is ticked"
            :disabled="!!busy"
            @click="attempt({})"
          />
        </p>
        <div class="make">
          <InputText v-model="work.title" placeholder="Name of the device" aria-label="Name of the device" />
          <label class="row small"
            >{{ way === 'http' ? 'read every' : 'asked every' }}
            <InputText
              v-model="work.reach.seconds"
              size="small"
              class="seconds"
              aria-label="Seconds between readings"
            />
            s</label
          >
          <TakenIn v-model="taking" />
          <Button
            type="submit"
            label="Make a device of it"
            :disabled="!work.title.trim() || !(chosen.length || work.commands.length) || !!busy"
          />
          <RouterLink to="/found" class="link small">Back to Found</RouterLink>
        </div>
        <p v-if="problem" class="wrong" role="alert">{{ problem.message }}</p>
        <p class="soft small">A profile is kept of it, for others of its kind.</p>
      </form>
    </div>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  padding: var(--space-20) var(--space-26) var(--space-60);
}
.columns {
  display: grid;
  grid-template-columns: minmax(300px, 0.8fr) minmax(0, 1.2fr);
  gap: var(--space-34);
  padding-top: var(--space-16);
}
.left,
.right {
  display: grid;
  gap: var(--space-12);
  align-content: start;
  min-width: 0;
}
.row,
.make {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
}
.make {
  border-top: 1px solid var(--rule);
  padding-top: var(--space-12);
}
.grow {
  flex: 1;
  min-width: 120px;
}
.pick {
  display: flex;
  gap: var(--space-10);
  align-items: center;
  min-height: 32px;
  overflow-wrap: anywhere;
}
.found {
  margin-left: auto;
  font-weight: 500;
}
li {
  padding: var(--space-6) 0;
  border-top: 1px solid var(--rule);
}
.command .row {
  align-items: flex-start;
}
.small {
  font-size: var(--type-small);
}
.seconds {
  width: 60px;
}
.wrong {
  color: var(--ember);
}
p {
  margin: 0;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
