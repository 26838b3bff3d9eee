<script setup lang="ts">
import { useElementSize, useMediaQuery } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Control, Dashboard } from '@/api/types'
import { useSession } from '@/stores/session'
import { seenByMe } from '@/lib/seenBy'
import BoardBackdrop from './BoardBackdrop.vue'
import { faceFor } from './cell'
import { wideKinds } from './controls'
import ControlCell from './ControlCell.vue'

/** A dashboard as the household uses it: laid out for a wide screen or for a tall one, as high as there is room for. */
const props = defineProps<{ dashboard: Dashboard }>()
const session = useSession()

const COLUMNS = { wide: 24, tall: 12 }
/** The least and the greatest height of a row, in px. */
const LEAST = 38
const MOST = 58
const tall = useMediaQuery('(max-width: 900px)')
const phone = useMediaQuery('(max-width: 520px)')
/** On a phone, what nobody placed for tall screens flows: wide instruments alone, others two side by side. */
const flows = computed(() => phone.value && !props.dashboard.controls.some((c) => c.tall))
const frame = ref<HTMLElement>()
const { height } = useElementSize(frame)

const lying = computed(() =>
  props.dashboard.controls
    .filter((c) => seenByMe(c.seenBy, session))
    .map((c) => (tall.value ? onTall(c) : c))
    .sort((a, b) => a.row - b.row || a.column - b.column),
)
/** A control as it lies on a tall screen, whose columns are twice as wide, with the face that there is room for. */
function onTall(c: Control): Control {
  const place = props.dashboard.tallPlaces[c.id] ?? c
  return { ...c, ...place, face: faceFor({ ...c, ...place, width: 2 * place.width }) }
}
function lies(c: Control) {
  if (!flows.value)
    return { gridColumn: `${c.column + 1} / span ${c.width}`, gridRow: `${c.row + 1} / span ${c.height}` }
  const wide = wideKinds.has(c.kind) || c.width === COLUMNS.tall
  const height = wide ? props.dashboard.controls.find((o) => o.id === c.id)!.height : c.height
  return { gridColumn: `span ${wide ? COLUMNS.tall : COLUMNS.tall / 2}`, gridRow: `span ${height}` }
}
const rows = computed(() => Math.max(1, ...lying.value.map((c) => c.row + c.height)))
const row = computed(() =>
  flows.value ? LEAST : Math.min(MOST, Math.max(LEAST, Math.floor(height.value / rows.value))),
)
</script>

<template>
  <div ref="frame" class="frame">
    <BoardBackdrop
      v-if="dashboard.background"
      class="behind"
      :background="dashboard.background"
      :controls="dashboard.controls"
    />
    <div class="board" :style="{ '--columns': tall ? COLUMNS.tall : COLUMNS.wide, '--row': `${row}px` }">
      <div v-for="c in lying" :key="c.id" class="place" :style="lies(c)">
        <ControlCell :control="c" />
      </div>
      <p v-if="!lying.length" class="soft none">Nothing stands on this dashboard yet.</p>
    </div>
  </div>
</template>

<style scoped>
.frame {
  position: relative;
  min-height: 100%;
}
.behind {
  position: absolute;
}
.board {
  position: relative;
  display: grid;
  grid-template-columns: repeat(var(--columns), minmax(0, 1fr));
  grid-auto-rows: minmax(var(--row), auto);
  grid-auto-flow: row dense;
  align-content: start;
}
.place {
  position: relative;
  min-width: 0;
}
/* Above the next cell, which may begin in the middle of a pixel and would lie over the line. */
.place::after {
  content: '';
  position: absolute;
  inset: 0;
  z-index: 1;
  border-right: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
  pointer-events: none;
}
.none {
  grid-column: 1 / -1;
  padding: var(--space-44);
}
</style>
