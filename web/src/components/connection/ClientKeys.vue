<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { reasonOf } from '@/api/client'
import { useNotices } from '@/stores/notices'

/** Who has a key to something, with making and revoking. A new key is shown once; how each stands is the caller's to say. */
const props = defineProps<{
  title: string
  help: string
  names: string[]
  add: (name: string) => Promise<string>
  remove: (name: string) => Promise<unknown>
}>()
const notices = useNotices()
const name = ref('')
const wrong = ref('')
const made = ref<{ name: string; key: string }>()

async function make() {
  try {
    const key = await props.add(name.value.trim())
    made.value = { name: name.value.trim(), key }
    name.value = ''
    wrong.value = ''
  } catch (error) {
    wrong.value = reasonOf(error)
  }
}
const drop = (client: string) =>
  notices.attempt(async () => {
    await props.remove(client)
    if (made.value?.name === client) made.value = undefined
    notices.done(`The key of ${client} no longer opens anything.`)
  })
</script>

<template>
  <section>
    <h2>{{ title }}</h2>
    <p class="soft small">{{ help }}</p>
    <slot />
    <ul>
      <li v-for="n in names" :key="n">
        <span class="who">
          <span class="mono">{{ n }}</span>
          <slot name="stands" :client="n" />
        </span>
        <button class="plain link small" :aria-label="`Revoke the key of ${n}`" @click="drop(n)">Revoke</button>
      </li>
    </ul>
    <form class="row" @submit.prevent="make">
      <InputText v-model="name" size="small" placeholder="name" :aria-label="`${title}: name`" :invalid="!!wrong" />
      <slot name="may" />
      <Button type="submit" size="small" severity="secondary" label="Make a key" :disabled="!name.trim()" />
    </form>
    <p v-if="wrong" class="wrong small" role="alert">{{ wrong }}</p>
    <p v-if="made" class="made" role="status">
      The key of {{ made.name }} is <b class="mono">{{ made.key }}</b>. It is not shown again.
    </p>
  </section>
</template>

<style scoped>
.small {
  font-size: var(--type-small);
}
.row {
  flex-wrap: wrap;
}
li,
.row {
  display: flex;
  gap: var(--space-12);
  align-items: center;
  padding: var(--space-4) 0;
}
li {
  justify-content: space-between;
  border-top: 1px solid var(--rule);
}
.who {
  display: flex;
  flex-direction: column;
  min-width: 0;
  overflow-wrap: anywhere;
}
.made {
  border-left: 3px solid var(--verdigris);
  background: var(--sheet);
  padding: var(--space-8) var(--space-12);
  margin-top: var(--space-8);
  overflow-wrap: anywhere;
}
.wrong {
  color: var(--ember);
}
</style>
