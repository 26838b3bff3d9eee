<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { VariableDocument } from '@/api/types'
import { OWN } from '@/lib/own'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import CommitInput from '@/components/inputs/CommitInput.vue'
import PropertyControl from '@/components/device/PropertyControl.vue'
import ReasonLine from '@/components/marks/ReasonLine.vue'
import ExpressionToken from '@/components/tokens/ExpressionToken.vue'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import UsedBy from './UsedBy.vue'

/** Named values that rules share. */
const home = useHome()
const notices = useNotices()
const { change, remove } = useChanges('variable')

const kinds: { value: VariableDocument['type']; title: string }[] = [
  { value: 'boolean', title: 'yes or no' },
  { value: 'number', title: 'a number' },
  { value: 'option', title: 'a choice' },
  { value: 'text', title: 'a text' },
]
const computing = ref(false)
const expression = ref('')
const title = ref('')
const type = ref<VariableDocument['type']>('boolean')
const least = ref('0')
const most = ref('100')
const options = ref('')
const rows = computed(() =>
  home.variables.map((v) => ({ v, property: home.property(OWN, v.id), state: home.state(OWN, v.id) })),
)

async function add() {
  const body: VariableDocument = { title: title.value.trim(), type: type.value }
  if (type.value === 'number') Object.assign(body, { minimum: Number(least.value), maximum: Number(most.value) })
  if (type.value === 'option')
    body.options = options.value
      .split(',')
      .map((o) => o.trim())
      .filter(Boolean)
  if (computing.value) body.expression = expression.value.trim()
  const made = await notices.attempt(() => ask(api.POST('/api/variables', { body })))
  if (made) title.value = options.value = expression.value = ''
}
</script>

<template>
  <section aria-label="Variables">
    <h2>Variables</h2>
    <p v-if="!rows.length" class="soft">
      A value with a name, such as the wanted warmth or whether guests are here. Rules use it and set it; it has a
      history like any reading.
    </p>
    <article v-for="{ v, property, state } in rows" :key="v.id">
      <div class="top">
        <CommitInput
          class="name"
          :value="v.title"
          :aria-label="`Name of the variable ${v.title}`"
          maxlength="80"
          @commit="$event.trim() && change(v, { title: $event.trim() })"
        />
        <b class="mono">{{ state?.text || '–' }}</b>
        <button
          class="plain soft"
          :aria-label="`Remove the variable ${v.title}`"
          @click="remove(v, `${v.title} removed.`)"
        >
          ×
        </button>
      </div>
      <p v-if="v.expression !== undefined" class="worked">
        <span class="soft">computed: </span>
        <ExpressionToken
          :model-value="v.expression"
          :label="`Expression of ${v.title}`"
          empty="write an expression"
          @update:model-value="change(v, { expression: $event })"
        />
      </p>
      <PropertyControl v-else-if="property && state" :device="OWN" :property="property" :state="state" />
      <ReasonLine v-if="state" :state="state" />
      <UsedBy :uses="v.usedBy" />
      <EarlierVersions :id="v.id" kind="variable" :revision="v.revision" />
      <RouterLink class="link small" :to="{ path: '/history', query: { series: `${OWN}~${v.id}` } }"
        >Its history</RouterLink
      >
    </article>
    <form class="row" @submit.prevent="add">
      <InputText v-model="title" placeholder="New variable" aria-label="Name of the new variable" maxlength="80" />
      <Select
        v-model="type"
        :options="kinds"
        option-label="title"
        option-value="value"
        aria-label="Kind of the new variable"
      />
      <template v-if="type === 'number'">
        from <InputText v-model="least" class="number mono" aria-label="Least" inputmode="decimal" /> to
        <InputText v-model="most" class="number mono" aria-label="Greatest" inputmode="decimal" />
      </template>
      <InputText
        v-if="type === 'option'"
        v-model="options"
        placeholder="one, another"
        aria-label="Choices, parted by commas"
      />
      <label class="small"><input v-model="computing" type="checkbox" /> computed by an expression</label>
      <ExpressionToken
        v-if="computing"
        v-model="expression"
        label="Expression of the new variable"
        empty="write an expression"
      />
      <Button
        type="submit"
        severity="secondary"
        label="Add"
        :disabled="!title.trim() || (computing && !expression.trim())"
      />
    </form>
  </section>
</template>

<style scoped>
article {
  border-top: 1px solid var(--rule);
  padding: var(--space-8) 0 var(--space-12);
}
.top,
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8) var(--space-12);
  align-items: center;
}
.name {
  flex: 1;
  font-weight: 650;
}
.row {
  margin-top: var(--space-12);
}
.number {
  width: 84px;
}
.worked {
  margin: var(--space-4) 0;
}
.small {
  font-size: var(--type-small);
}
</style>
