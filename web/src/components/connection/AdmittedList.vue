<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { Problem, reasonOf } from '@/api/client'

/** What an owner lets reach the hub, one line each: added and removed here. */
const { add, remove, field } = defineProps<{
  title: string
  list: string[]
  /** Of the field in which the next is written. */
  label: string
  example: string
  /** What the hub calls the list, for what it says is wrong with a line. */
  field: string
  add: (one: string) => Promise<void>
  remove: (one: string) => Promise<void>
}>()

const next = ref('')
const failed = ref('')
const busy = ref(false)

async function attempt(work: () => Promise<void>): Promise<boolean> {
  failed.value = ''
  busy.value = true
  try {
    await work()
    return true
  } catch (error) {
    failed.value = (error instanceof Problem && error.at(`${field}[0]`)) || reasonOf(error)
    return false
  } finally {
    busy.value = false
  }
}
async function addNext() {
  if (await attempt(() => add(next.value))) next.value = ''
}
</script>

<template>
  <section :aria-label="title">
    <h2>{{ title }}</h2>
    <slot />
    <ul>
      <li v-for="one in list" :key="one">
        <span class="mono">{{ one }}</span>
        <Button
          size="small"
          severity="secondary"
          label="Remove"
          :aria-label="`Remove ${one}`"
          :disabled="busy"
          @click="attempt(() => remove(one))"
        />
      </li>
    </ul>
    <form @submit.prevent="addNext">
      <InputText
        v-model="next"
        class="mono"
        :aria-label="label"
        :placeholder="example"
        :invalid="!!failed"
        maxlength="260"
        @update:model-value="failed = ''"
      />
      <Button type="submit" severity="secondary" label="Add" :disabled="!next.trim()" :loading="busy" />
    </form>
    <p v-if="failed" class="wrong" role="alert">{{ failed }}</p>
  </section>
</template>

<style scoped>
section {
  max-width: 640px;
}
ul {
  margin: var(--space-8) 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: var(--space-14);
  padding: var(--space-6) 0;
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}
form {
  display: flex;
  gap: var(--space-8);
}
form :deep(input) {
  flex: 1;
  min-width: 0;
}
.wrong {
  color: var(--ember);
}
</style>
