<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import ControlCell from '@/components/dashboard/ControlCell.vue'
import PanelModes from '@/components/dashboard/PanelModes.vue'
import PanelNotices from '@/components/dashboard/PanelNotices.vue'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'

/** A dashboard as the household sees it, on a phone, a tablet or a wall. */
const home = useHome()
const session = useSession()
const route = useRoute()

const board = computed(() => home.dashboards.find((d) => d.id === route.params.id))
const inOrder = computed(() => [...(board.value?.controls ?? [])].sort((a, b) => a.row - b.row || a.column - b.column))
const ahead = computed(() => home.day?.marks.filter((m) => m.tone === 'planned').slice(0, 4) ?? [])
</script>

<template>
  <div class="panel">
    <aside v-if="home.loaded" class="side">
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
    <main v-if="board" class="board">
      <div
        v-for="c in inOrder"
        :key="c.id"
        class="place"
        :style="{
          '--column': c.column + 1,
          '--width': c.width,
          '--row': c.row + 1,
          '--height': c.height,
          '--narrow': Math.min(2, Math.ceil(c.width / 6)),
        }"
      >
        <ControlCell :control="c" />
      </div>
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
.board {
  display: grid;
  grid-template-columns: repeat(12, minmax(0, 1fr));
  grid-auto-rows: minmax(72px, auto);
  gap: 1px;
  align-content: start;
}
.place {
  grid-column: var(--column) / span var(--width);
  grid-row: var(--row) / span var(--height);
  min-width: 0;
  box-shadow: 1px 1px 0 var(--rule);
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
  .board {
    grid-template-columns: repeat(2, minmax(0, 1fr));
    grid-auto-flow: row dense;
    grid-auto-rows: minmax(128px, auto);
  }
  .place {
    grid-column: span var(--narrow);
    grid-row: auto;
  }
  .side h1 {
    font-size: var(--type-title);
  }
  .date {
    display: none;
  }
}
</style>
