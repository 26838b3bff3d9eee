<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import type { ValueDraft, Way } from '@/lib/composing'
import { rolesFor } from '@/lib/roles'
import SendingEdit from './SendingEdit.vue'

/** What one value means, how the device writes it, how it is asked for and set; and trying that. */
const props = defineProps<{ way: Way; own?: string; wrong?: string; reads?: string }>()
const emit = defineEmits<{ attempt: [value: boolean | number | string]; drop: [] }>()
const value = defineModel<ValueDraft>({ required: true })

const of = computed(() => value.value.field?.pointer || value.value.title || 'the value')
const types = [
  { value: 'boolean', title: 'yes or no' },
  { value: 'number', title: 'a number' },
  { value: 'text', title: 'a text' },
]
const kinds = [
  { value: 'read', title: 'a state' },
  { value: 'event', title: 'something that happens' },
]
const attempted = ref('')
const choices = computed(() =>
  value.value.choices
    .split(',')
    .map((c) => c.trim())
    .filter(Boolean),
)
function attempt() {
  const text = attempted.value.trim()
  emit('attempt', value.value.type === 'number' ? Number(text.replace(',', '.')) : text)
}
const settable = computed(() => value.value.kind !== 'event' && value.value.sets)
</script>

<template>
  <div class="value">
    <div class="row">
      <InputText v-model="value.title" size="small" placeholder="Name" :aria-label="`Name of ${of}`" />
      <Select
        v-if="props.way === 'line' && value.field"
        v-model="value.kind"
        size="small"
        :options="kinds"
        option-label="title"
        option-value="value"
        :aria-label="`What ${of} is`"
      />
      <Select
        v-model="value.type"
        size="small"
        :options="types"
        option-label="title"
        option-value="value"
        :aria-label="`Type of ${of}`"
      />
      <Select
        v-if="value.kind !== 'event'"
        v-model="value.role"
        size="small"
        :options="rolesFor(value.type)"
        :placeholder="rolesFor(value.type)[0]!.title"
        option-label="title"
        option-value="value"
        :aria-label="`Meaning of ${of}`"
      />
      <InputText
        v-if="value.type === 'number' && !value.role && value.kind !== 'event'"
        v-model="value.unit"
        size="small"
        class="short"
        placeholder="unit"
        :aria-label="`Unit of ${of}`"
      />
      <span v-if="reads" class="reads" role="status">reads {{ reads }}</span>
      <button v-if="!value.field" class="plain link small" :aria-label="`Leave out ${of}`" @click="emit('drop')">
        Leave it out
      </button>
    </div>

    <div v-if="value.pattern && value.kind !== 'setOnly'" class="row">
      <span class="small">found by</span>
      <InputText v-model="value.pattern" size="small" class="mono wide" :aria-label="`Pattern of ${of}`" />
    </div>
    <div v-if="way === 'line' && value.kind === 'read'" class="row">
      <span class="small">asked for by</span>
      <InputText
        v-model="value.ask"
        size="small"
        class="mono"
        placeholder="it tells by itself"
        :aria-label="`Message that asks for ${of}`"
      />
    </div>

    <div v-if="value.type === 'number' && value.kind !== 'event'" class="row small">
      its numbers go from
      <InputText v-model="value.from" size="small" class="short" :aria-label="`Lowest number of ${of}`" />
      to
      <InputText v-model="value.to" size="small" class="short" :aria-label="`Highest number of ${of}`" />
      <template v-if="!value.from && !value.to">
        or are multiplied by
        <InputText v-model="value.factor" size="small" class="short" placeholder="1" :aria-label="`Factor for ${of}`" />
      </template>
    </div>
    <div v-if="value.type === 'boolean'" class="row small">
      it writes
      <InputText
        v-model="value.no"
        size="small"
        class="short"
        placeholder="false"
        :aria-label="`Word for no of ${of}`"
      />
      for no and
      <InputText
        v-model="value.yes"
        size="small"
        class="short"
        placeholder="true"
        :aria-label="`Word for yes of ${of}`"
      />
      for yes
    </div>
    <div v-if="value.type === 'text' && value.kind !== 'event'" class="row small">
      it is one of
      <InputText
        v-model="value.choices"
        size="small"
        class="wide"
        placeholder="any text; or choices, parted by commas"
        :aria-label="`Choices of ${of}`"
      />
    </div>

    <div v-if="value.kind !== 'event'" class="row top">
      <label v-if="value.field" class="row small">
        <Checkbox v-model="value.sets" binary :aria-label="`${of} can be set`" /> set by
      </label>
      <span v-else class="small">set by</span>
      <SendingEdit v-if="settable" v-model="value.set" :way="way" :of="of" :own="own" value />
    </div>
    <p v-if="settable" class="soft small">{value} is the place of what it is set to.</p>
    <div v-if="settable" class="row">
      <template v-if="value.type === 'boolean'">
        <Button type="button" size="small" severity="secondary" label="Try on" @click="emit('attempt', true)" />
        <Button type="button" size="small" severity="secondary" label="Try off" @click="emit('attempt', false)" />
      </template>
      <template v-else>
        <Select
          v-if="value.type === 'text' && choices.length"
          v-model="attempted"
          size="small"
          :options="choices"
          :aria-label="`Value to try for ${of}`"
        />
        <InputText v-else v-model="attempted" size="small" class="short" :aria-label="`Value to try for ${of}`" />
        <Button
          type="button"
          size="small"
          severity="secondary"
          label="Try it"
          :aria-label="`Try ${of}`"
          :disabled="!attempted.trim()"
          @click="attempt"
        />
      </template>
    </div>
    <p v-if="wrong" class="wrong small" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
.value {
  display: grid;
  gap: var(--space-8);
  padding: var(--space-8) 0 var(--space-8) var(--space-34);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
}
.top {
  align-items: flex-start;
}
.small {
  font-size: var(--type-small);
}
.short {
  width: 78px;
}
.wide {
  flex: 1;
  min-width: 180px;
}
.reads {
  color: var(--verdigris);
}
.wrong {
  color: var(--ember);
}
</style>
