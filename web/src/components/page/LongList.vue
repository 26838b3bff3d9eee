<script setup lang="ts" generic="T">
import VirtualScroller from 'primevue/virtualscroller'

/** The rows of a list. Of a long one only those in view are drawn, each at one height. */
defineProps<{ items: T[]; itemKey: (item: T) => string }>()

/** From how many rows on, and how high each then is. */
const MANY = 200
const ROW = 58
</script>

<template>
  <VirtualScroller v-if="items.length > MANY" :items="items" :item-size="ROW" :num-tolerated-items="3" class="long">
    <template #item="{ item }">
      <div class="tall"><slot :item="item as T" long /></div>
    </template>
  </VirtualScroller>
  <template v-for="item in items" v-else :key="itemKey(item)"><slot :item="item" :long="false" /></template>
</template>

<style scoped>
.long {
  height: 100%;
}
.tall {
  height: 58px;
  overflow: hidden;
}
.tall :deep(a) {
  height: 100%;
}
</style>
