<script setup lang="ts">
import AutoComplete from 'primevue/autocomplete'
import { computed } from 'vue'

/** Labels of one thing, typed or chosen from those that others of its kind carry. */
const labels = defineModel<string[]>({ required: true })
const props = defineProps<{ known: string[]; label: string; inputId: string }>()
const unused = computed(() => [...new Set(props.known)].filter((l) => !labels.value.includes(l)).sort())
</script>

<template>
  <div>
    <AutoComplete
      v-model="labels"
      multiple
      fluid
      :typeahead="false"
      :input-id="inputId"
      :pt="{ input: { 'aria-label': label, maxlength: 40 } }"
      placeholder="Labels: type one, then Enter"
    />
    <p v-if="unused.length" class="soft small">
      In use:
      <button v-for="l in unused" :key="l" type="button" class="plain link" @click="labels = [...labels, l]">
        {{ l }}
      </button>
    </p>
  </div>
</template>

<style scoped>
.small {
  margin: 6px 0 0;
  font-size: 14px;
}
</style>
