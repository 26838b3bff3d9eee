<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import BoardView from '@/components/dashboard/BoardView.vue'
import PanelModes from '@/components/dashboard/PanelModes.vue'
import PanelNotices from '@/components/dashboard/PanelNotices.vue'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'

/** A dashboard as the household sees it, on a phone, a tablet or a wall. */
const home = useHome()
const session = useSession()
const route = useRoute()

const board = computed(() => home.dashboards.find((d) => d.id === route.params.id))
const ahead = computed(() => home.day?.marks.filter((m) => m.tone === 'planned').slice(0, 4) ?? [])
</script>

<template>
  <div class="panel" :class="{ bare: board && !board.margin }">
    <aside v-if="home.loaded && (!board || board.margin)" class="side">
      <b class="clock mono">{{ home.times.clock(home.now) }}</b>
      <h1>{{ board?.title ?? 'No such dashboard' }}</h1>
      <p class="soft date">{{ home.times.date(home.now) }}</p>
      <PanelModes />
      <ul v-if="ahead.length" class="ahead" aria-label="Planned today">
        <li v-for="m in ahead" :key="m.at + m.text">
          <b class="mono">{{ home.times.clock(m.at) }}</b> {{ m.text }}
        </li>
      </ul>
      <RouterLink v-if="session.setsUp" class="link leave" :to="board ? `/dashboards/${board.id}` : '/dashboards'"
        >Arrange</RouterLink
      >
    </aside>
    <main v-if="board" class="main">
      <BoardView :key="board.id" :dashboard="board" />
      <RouterLink v-if="session.setsUp && !board.margin" class="link arrange" :to="`/dashboards/${board.id}`"
        >Arrange</RouterLink
      >
    </main>
    <p v-else-if="home.loaded" class="soft none">This dashboard was removed.</p>
    <p v-else class="soft none" role="status">
      {{ home.feed === 'lost' ? 'The hub cannot be reached. Trying again …' : 'Asking the hub …' }}
    </p>
    <PanelNotices v-if="board" :dashboard="board.id" />
  </div>
</template>

<style scoped>
.panel {
  min-height: 100%;
  display: grid;
  grid-template-columns: 220px minmax(0, 1fr);
  background: var(--paper);
}
.side {
  border-right: 1px solid var(--rule);
  padding: var(--space-20) var(--space-26);
  display: flex;
  flex-direction: column;
}
.clock {
  font-size: var(--type-clock);
  font-weight: 400;
  letter-spacing: -0.03em;
  line-height: 1.1;
}
.ahead {
  margin-top: var(--space-26);
  border-left: 1px solid var(--rule);
}
.ahead li {
  padding: var(--space-6) 0 var(--space-6) var(--space-14);
  position: relative;
  font-size: var(--type-small);
  color: var(--ink-soft);
}
.ahead li::before {
  content: '';
  position: absolute;
  left: -6px;
  top: 12px;
  width: 9px;
  height: 9px;
  border-radius: 50%;
  border: 1.5px solid var(--ink-soft);
  background: var(--paper);
}
.leave {
  margin-top: auto;
  padding-top: var(--space-20);
  font-size: var(--type-small);
}
.bare {
  grid-template-columns: minmax(0, 1fr);
}
.main {
  position: relative;
  min-width: 0;
}
.arrange {
  position: absolute;
  right: var(--space-14);
  bottom: var(--space-8);
  font-size: var(--type-small);
}
.none {
  padding: var(--space-44);
}
@media (max-width: 900px) {
  .panel {
    grid-template-columns: minmax(0, 1fr);
    align-content: start;
  }
  .side {
    flex-direction: row;
    flex-wrap: wrap;
    align-items: baseline;
    gap: var(--space-14);
    border-right: 0;
    border-bottom: 1px solid var(--rule);
    padding: var(--space-12) var(--space-16);
  }
  .clock {
    font-size: var(--type-figure);
  }
  .ahead {
    display: none;
  }
  .leave {
    margin-left: auto;
    padding: var(--space-10) 0;
  }
}
@media (max-width: 620px) {
  .side h1 {
    font-size: var(--type-title);
  }
  .date {
    display: none;
  }
}
</style>
