<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import type { Action, Given } from '@/api/types'
import { act } from '@/lib/act'
import { useLooking } from '@/lib/looking'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import ActionInputs from '@/components/rule/steps/ActionInputs.vue'

/** Asks a device for what it can do. What can be given something opens a line where that is said. */
const props = defineProps<{ device: string; title: string; actions: Action[] }>()
const notices = useNotices()
const home = useHome()
useLooking('journal')
const open = ref<Action>()
/** What was asked last here, so that its answer is shown. */
const askedAt = ref<{ name: string; title: string; at: string }>()
const SLACK = 2000
const answer = computed(() => {
  const last = askedAt.value
  if (!last) return undefined
  const since = Date.parse(last.at) - SLACK
  return home.entries.find(
    (e) => e.kind === 'replied' && e.device === props.device && e.name === last.name && Date.parse(e.at) >= since,
  )
})
const given = ref<Record<string, Given>>({})

function press(action: Action) {
  if (!action.inputs?.length) return void ask(action)
  open.value = open.value?.name === action.name ? undefined : action
  given.value = {}
}
const ask = (action: Action) =>
  notices.attempt(async () => {
    const input = Object.fromEntries(
      Object.entries(given.value).flatMap(([name, g]) =>
        g.value === undefined || g.value === null ? [] : [[name, g.value]],
      ),
    )
    askedAt.value = { name: action.name, title: action.title, at: new Date(home.now).toISOString() }
    await act.ask(props.device, action.name, input)
    notices.done(`${props.title} was asked: ${action.title.toLowerCase()}.`)
    open.value = undefined
  })
</script>

<template>
  <div v-if="actions.length" class="asks">
    <Button
      v-for="a in actions"
      :key="a.name"
      severity="secondary"
      :label="a.inputs?.length ? `${a.title} …` : a.title"
      :aria-expanded="a.inputs?.length ? open?.name === a.name : undefined"
      @click="press(a)"
    />
    <p v-if="open" class="given" role="group" :aria-label="open.title">
      {{ open.title }}<ActionInputs v-model="given" :action="open" />
      {{ ' ' }}
      <Button size="small" label="Ask" @click="ask(open)" />
    </p>
    <p v-if="answer && askedAt" class="given" role="status">
      <span class="soft">{{ askedAt.title }} was answered with</span> <span class="mono">{{ answer.note }}</span>
    </p>
  </div>
</template>

<style scoped>
.asks {
  display: contents;
}
.given {
  flex-basis: 100%;
  order: 1;
  margin: var(--space-6) 0 0;
}
</style>
