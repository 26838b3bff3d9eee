<script setup lang="ts">
import Button from 'primevue/button'
import { ref, watch } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import type { Aside } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import DocumentEditor from './DocumentEditor.vue'

/** A definition that is set aside: why, its text to mend in place, and its earlier versions. */
const props = defineProps<{ aside: Aside }>()
const emit = defineEmits<{ changed: [] }>()
const home = useHome()
const notices = useNotices()
const text = ref(props.aside.text)
const wrong = ref('')
const removing = ref(false)
watch(
  () => props.aside.text,
  (now) => (text.value = now),
)

const path = () => ({ params: { path: { kind: props.aside.kind, id: props.aside.id } } })

async function attempt(done: string, action: () => Promise<unknown>) {
  wrong.value = ''
  try {
    await action()
    notices.done(done)
    emit('changed')
  } catch (error) {
    wrong.value = reasonOf(error)
  }
}
const save = () =>
  attempt(`“${props.aside.title}” is at work again.`, () =>
    ask(api.PUT('/api/set-aside/{kind}/{id}', { ...path(), body: { text: text.value } })),
  )
const take = (revision: number) =>
  attempt(`“${props.aside.title}” is at work again, as it was.`, () =>
    ask(api.PUT('/api/set-aside/{kind}/{id}', { ...path(), body: { revision } })),
  )
const remove = () =>
  attempt(`“${props.aside.title}” is removed.`, () => ask(api.DELETE('/api/set-aside/{kind}/{id}', path())))
</script>

<template>
  <section class="aside" :aria-label="`${aside.title}, set aside`">
    <h2>
      The {{ aside.kind }} <b>{{ aside.title }}</b> is set aside
    </h2>
    <p>{{ aside.reason }} The rest of the home goes on without it.</p>
    <p class="soft small">Since {{ home.times.since(aside.at, home.now) }}</p>
    <div v-if="aside.earlier.length" class="earlier">
      <span>Put it back as it was</span>
      <button
        v-for="e in aside.earlier.slice(0, 5)"
        :key="e.revision"
        type="button"
        class="plain link"
        @click="take(e.revision)"
      >
        {{ home.times.since(e.at, home.now) }}
      </button>
    </div>
    <DocumentEditor v-model="text" :marks="[]" :label="`The text of ${aside.title}`" language="json" />
    <p v-if="wrong" class="fault" role="alert">{{ wrong }}</p>
    <div class="buttons">
      <Button label="Save and put to work" @click="save" />
      <Button v-if="!removing" label="Remove …" severity="secondary" @click="removing = true" />
      <template v-else>
        <span>Its text is lost.</span>
        <Button label="Remove for good" severity="danger" @click="remove" />
        <Button label="Leave it" severity="secondary" @click="removing = false" />
      </template>
    </div>
  </section>
</template>

<style scoped>
.aside {
  border-bottom: 1px solid var(--rule);
  padding: var(--space-16) 0 var(--space-20);
  max-width: 860px;
}
h2 {
  color: var(--ink);
  font-size: var(--type-head);
  font-weight: 400;
}
.small {
  font-size: var(--type-small);
}
.earlier {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-14);
  margin: var(--space-8) 0;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--space-8);
  margin-top: var(--space-10);
}
</style>
