<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'
import type { Action, Given } from '@/api/types'
import { act } from '@/lib/act'
import { useNotices } from '@/stores/notices'
import ActionInputs from './rule/ActionInputs.vue'

/** Asks a device for what it can do. What can be given something opens a line where that is said. */
const props = defineProps<{ device: string; title: string; actions: Action[] }>()
const notices = useNotices()
const open = ref<Action>()
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
  </div>
</template>

<style scoped>
.asks {
  display: contents;
}
.given {
  flex-basis: 100%;
  order: 1;
  margin: 6px 0 0;
}
</style>
