<script setup lang="ts">
import {
  IconBookmark,
  IconDoor,
  IconDots,
  IconHome2,
  IconKeyboard,
  IconLayoutGrid,
  IconMoon,
  IconSearch,
  IconSun,
} from '@tabler/icons-vue'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { type Place, placeAt, placesOf, waitsIn } from '@/lib/places'
import { useFavorites } from '@/stores/favorites'
import { useHome } from '@/stores/home'
import { useLook } from '@/stores/look'
import { useSession } from '@/stores/session'

/** The places, down the left side; on a phone a bar at the foot: what is at hand first, the first of it, and the way to find all else. */
defineEmits<{ keys: []; search: [] }>()

/** On a phone, the place beside which all others are under More. */
const USED_MOST = 'Today'

const home = useHome()
const look = useLook()
const route = useRoute()

const session = useSession()
const all = computed(() => placesOf(home, session.setsUp))
const here = computed(() => placeAt(route.path)?.title)
const link = (p: Place) => p.parts[0]!.to
/** The first room or dashboard that somebody keeps at hand. */
const favorites = useFavorites()
const first = computed(() => {
  for (const { kind, id } of favorites.list) {
    const room = kind === 'room' && home.rooms.find((r) => r.id === id)
    if (room) return { to: `/room/${id}`, title: room.title, icon: IconDoor }
    const board = kind === 'dashboard' && home.dashboards.find((d) => d.id === id)
    if (board) return { to: `/panel/${id}`, title: board.title, icon: IconLayoutGrid }
  }
  return undefined
})
/** How much waits in the places that are under More. */
const waits = computed(() => all.value.reduce((sum, p) => sum + waitsIn(home, p), 0))
const more = ref(false)
watch(
  () => route.path,
  () => (more.value = false),
)
</script>

<template>
  <nav class="rail" :class="{ more }" aria-label="Places">
    <svg class="brand" viewBox="0 0 40 34" aria-hidden="true">
      <path class="first" d="M3 8h10c5 0 5 6 10 6h14" />
      <path d="M3 16h6c5 0 5 6 10 6h18" />
      <path class="last" d="M3 24h2c5 0 5 6 10 6h22" />
    </svg>
    <RouterLink to="/hand" class="place foot" :class="{ here: route.path === '/hand' }">
      <IconBookmark :size="20" stroke="1.6" aria-hidden="true" /> At hand
    </RouterLink>
    <template v-for="place in all" :key="place.title">
      <span v-if="place.foot && place === all.find((p) => p.foot)" class="space" />
      <RouterLink
        :to="link(place)"
        class="place"
        :class="{ here: place.title === here, rare: place.title !== USED_MOST }"
        :aria-current="place.title === here ? 'page' : undefined"
      >
        <IconHome2 v-if="place.title === USED_MOST" class="only-foot" :size="20" stroke="1.6" aria-hidden="true" />
        {{ place.title }}
        <b v-if="waitsIn(home, place)" class="mono count">{{ waitsIn(home, place) }}</b>
      </RouterLink>
    </template>
    <RouterLink v-if="session.view?.person" to="/me" class="place rare" :class="{ here: route.path === '/me' }">
      {{ session.view.title }}
    </RouterLink>
    <div class="tools rare">
      <button
        class="plain tool"
        :aria-label="look.night ? 'Day look' : 'Night look'"
        :title="look.night ? 'Day look' : 'Night look'"
        @click="look.choice = look.night ? 'day' : 'night'"
      >
        <IconSun v-if="look.night" :size="18" stroke="1.6" />
        <IconMoon v-else :size="18" stroke="1.6" />
      </button>
      <button class="plain tool" aria-label="Keys and marks" title="Keys and marks (?)" @click="$emit('keys')">
        <IconKeyboard :size="18" stroke="1.6" />
      </button>
    </div>
    <RouterLink v-if="first" :to="first.to" class="place foot" :class="{ here: route.path === first.to }">
      <component :is="first.icon" :size="20" stroke="1.6" aria-hidden="true" />
      <span class="cut">{{ first.title }}</span>
    </RouterLink>
    <button class="plain place foot" @click="$emit('search')">
      <IconSearch :size="20" stroke="1.6" aria-hidden="true" /> Find
    </button>
    <button class="plain place foot" :aria-expanded="more" @click="more = !more">
      <IconDots :size="20" stroke="1.6" aria-hidden="true" /> More
      <b v-if="waits" class="mono count">{{ waits }}</b>
    </button>
  </nav>
</template>

<style scoped>
.rail {
  grid-row: 1 / 4;
  border-right: 1px solid var(--rule);
  display: flex;
  flex-direction: column;
  padding: var(--space-14) 0 var(--space-10);
  overflow-y: auto;
}
.brand {
  width: 42px;
  margin: var(--space-2) auto var(--space-16);
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.4;
  flex: none;
}
.first {
  stroke: var(--verdigris);
}
.last {
  stroke: var(--ink-soft);
}
.place {
  display: flex;
  gap: var(--space-6);
  align-items: baseline;
  padding: var(--space-8) 0 var(--space-8) var(--space-20);
  color: var(--ink-soft);
  text-decoration: none;
  border-left: 3px solid transparent;
}
.place:hover,
.tool:hover {
  color: var(--ink);
}
.here {
  color: var(--ink);
  font-weight: 650;
  border-left-color: var(--verdigris);
}
.count {
  font-size: var(--type-note);
  color: var(--ember);
}
.space {
  flex: 1;
}
.tools {
  display: flex;
  padding: var(--space-6) 0 0 var(--space-14);
}
.tool {
  color: var(--ink-soft);
  padding: var(--space-8);
}
.foot,
.only-foot {
  display: none;
}
@media (max-width: 720px) {
  .rail {
    position: fixed;
    inset: auto 0 0 0;
    z-index: 950;
    background: var(--paper);
    flex-flow: row wrap;
    border-right: 0;
    border-top: 1px solid var(--rule);
    padding: 0;
  }
  .brand,
  .space,
  .rail:not(.more) .rare {
    display: none;
  }
  .place {
    flex: 1 0 0;
    min-width: 20%;
    justify-content: center;
    align-items: center;
    min-height: var(--foot-bar);
    padding: 0 var(--space-2);
    font-size: var(--type-note);
    border-left: 0;
    border-top: 3px solid transparent;
    position: relative;
  }
  .place:not(.rare) {
    flex-direction: column;
    gap: 0;
    line-height: 1.3;
  }
  .only-foot,
  .foot {
    display: flex;
  }
  .foot .count {
    position: absolute;
    top: 4px;
    right: calc(50% - 24px);
  }
  .cut {
    max-width: 100%;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .here {
    border-top-color: var(--verdigris);
  }
  .rare {
    order: -1;
    border-bottom: 1px solid var(--rule);
  }
  .tools {
    flex: 1 0 20%;
    justify-content: center;
    align-items: center;
    padding: 0;
  }
}
</style>
