<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import type { Pick } from '@/api/types'
import { useFavorites } from '@/stores/favorites'
import { useHome } from '@/stores/home'

/** Puts what is kept at hand into another order, and takes things from it. */
const favorites = useFavorites()
const home = useHome()
const open = ref(false)

const titleOf = (p: Pick) =>
  ({
    device: home.device(p.id)?.title,
    scene: home.scene(p.id)?.title,
    sequence: home.sequences.find((s) => s.id === p.id)?.title,
    rule: home.rule(p.id)?.title,
    dashboard: home.dashboards.find((d) => d.id === p.id)?.title,
    room: home.roomTitle(p.id),
  })[p.kind]
const rows = computed(() =>
  favorites.list.flatMap((pick, at) => {
    const title = titleOf(pick)
    return title ? [{ pick, at, title }] : []
  }),
)
</script>

<template>
  <p>
    <button class="plain link" :aria-expanded="open" @click="open = !open">{{ open ? 'Done' : 'Arrange' }}</button>
  </p>
  <ol v-if="open" aria-label="Order of what is at hand">
    <li v-for="{ pick, at, title } in rows" :key="pick.kind + pick.id">
      <span
        >{{ title }} <span class="soft">{{ pick.kind }}</span></span
      >
      <span class="moves">
        <Button
          size="small"
          severity="secondary"
          label="Up"
          :aria-label="`Move ${title} up`"
          :disabled="at === 0"
          @click="favorites.move(pick, at - 1)"
        />
        <Button
          size="small"
          severity="secondary"
          label="Down"
          :aria-label="`Move ${title} down`"
          :disabled="at === favorites.list.length - 1"
          @click="favorites.move(pick, at + 1)"
        />
        <Button
          size="small"
          severity="secondary"
          label="Remove"
          :aria-label="`Remove ${title}`"
          @click="favorites.toggle(pick, title)"
        />
      </span>
    </li>
  </ol>
</template>

<style scoped>
ol {
  margin: 0;
  padding: 0;
  list-style: none;
  max-width: 640px;
}
li {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: center;
  gap: var(--space-6) var(--space-14);
  padding: var(--space-8) 0;
  border-bottom: 1px solid var(--rule);
}
.moves {
  display: flex;
  gap: var(--space-6);
}
</style>
