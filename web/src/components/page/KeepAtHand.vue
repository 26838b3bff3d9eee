<script setup lang="ts">
import Button from 'primevue/button'
import { IconBookmark, IconBookmarkFilled } from '@tabler/icons-vue'
import { computed } from 'vue'
import type { Pick } from '@/api/types'
import { useFavorites } from '@/stores/favorites'
import { useSession } from '@/stores/session'

/** Keeps what the page is about at hand, for whoever looks at it. */
const props = defineProps<{ pick: Pick; title: string; small?: boolean }>()
const favorites = useFavorites()
const session = useSession()
const kept = computed(() => favorites.has(props.pick))
</script>

<template>
  <Button
    v-if="!session.guest && !session.panel"
    severity="secondary"
    :size="small ? 'small' : undefined"
    :aria-pressed="kept"
    :aria-label="`Keep ${title} at hand`"
    :title="kept ? 'Kept at hand' : 'Keep at hand'"
    @click="favorites.toggle(pick, title)"
  >
    <IconBookmarkFilled v-if="kept" :size="17" />
    <IconBookmark v-else :size="17" stroke="1.8" />
  </Button>
</template>
