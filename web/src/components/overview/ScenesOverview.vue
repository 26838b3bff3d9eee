<script setup lang="ts">
import Button from 'primevue/button'
import { RouterLink } from 'vue-router'
import SceneGlyph from '@/components/light/SceneGlyph.vue'
import KeepAtHand from '@/components/page/KeepAtHand.vue'
import type { Scene } from '@/api/types'
import SceneColors from '@/instruments/SceneColors.vue'
import { act } from '@/lib/act'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** All scenes as rows of the colors that they make, each applied from its row. */
const home = useHome()
const notices = useNotices()
const apply = (s: Scene) => notices.attempt(() => act.pressScene(s))
const verb = (s: Scene) => (s.laid ? (s.inEffect ? 'Lift off' : 'Lay on top') : 'Apply')
</script>

<template>
  <section aria-label="What the scenes make">
    <h2>What the scenes make of the lamps</h2>
    <ul>
      <li v-for="s in home.scenes" :key="s.id" :class="{ effect: s.inEffect }">
        <RouterLink class="named" :to="`/scenes/${s.id}`"><SceneGlyph :scene="s" /> {{ s.title }}</RouterLink>
        <SceneColors v-if="s.lights.length" :scene="s" />
        <span v-else class="soft small">no lamps</span>
        <span class="soft small"
          ><template v-if="s.hidden">hidden </template
          >{{ s.inEffect ? (s.laid ? 'laid on top' : 'in effect') : '' }}</span
        >
        <KeepAtHand small :pick="{ kind: 'scene', id: s.id }" :title="s.title" />
        <Button
          size="small"
          severity="secondary"
          :label="verb(s)"
          :aria-label="`${verb(s)} ${s.title}`"
          @click="apply(s)"
        />
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin-top: var(--space-8);
  border-top: 1px solid var(--ink);
}
li {
  display: grid;
  grid-template-columns: minmax(90px, 180px) minmax(80px, 1fr) auto auto auto;
  gap: var(--space-14);
  align-items: center;
  min-height: 48px;
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid transparent;
  padding-left: var(--space-10);
}
.effect {
  border-left-color: var(--verdigris);
}
.small {
  font-size: var(--type-small);
}
</style>
