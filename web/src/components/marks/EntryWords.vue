<script setup lang="ts">
import { computed } from 'vue'
import type { Entry } from '@/api/types'
import { pieces } from '@/lib/journal'

/** What the journal says of something that happened, its names set apart. */
const props = defineProps<{ entry: Pick<Entry, 'text' | 'names'> }>()
const list = computed(() => pieces(props.entry.text, props.entry.names))
</script>

<template>
  <span
    ><template v-for="(p, i) in list" :key="i"
      ><b v-if="p.name">{{ p.text }}</b
      ><template v-else>{{ p.text }}</template></template
    ></span
  >
</template>
