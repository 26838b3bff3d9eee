<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Entry } from '@/api/types'
import EntryWords from '@/components/marks/EntryWords.vue'
import { delay } from '@/lib/format'
import type { CauseGroup } from '@/lib/journal'
import { useHome } from '@/stores/home'

/** What followed from one cause: the first of it, the rest set in below. */
const props = defineProps<{ group: CauseGroup; chosen?: number }>()
const emit = defineEmits<{ choose: [entry: Entry] }>()
const home = useHome()

/** How many that follow are shown at first. */
const SHOWN = 4
const DEEPEST = 4
const all = ref(false)
const followers = computed(() => {
  const list = props.group.followers
  // One more than is shown is no more to show than the words that say so.
  return all.value || list.length <= SHOWN + 1 ? list : list.slice(0, SHOWN)
})
const hidden = computed(() => props.group.followers.length - followers.value.length)
// The time stands where it is another than that of the line above.
const lines = computed(() =>
  [{ entry: props.group.root, depth: 0 }, ...followers.value].map((l, i, list) => {
    const time = home.times.exact(l.entry.at)
    return { ...l, time: i > 0 && home.times.exact(list[i - 1]!.entry.at) === time ? '' : time }
  }),
)
const markOf = ({ by }: Entry) => (by?.who === 'person' ? home.markOf(by.id) : undefined)
</script>

<template>
  <li class="group">
    <template v-for="l in lines" :key="l.entry.id">
      <button
        class="plain entry"
        :class="[l.entry.tone, { chosen: l.entry.id === chosen }]"
        :aria-expanded="l.entry.id === chosen"
        @click="emit('choose', l.entry)"
      >
        <span class="mono when">{{ l.time }}</span>
        <span class="depth" :style="{ '--depth': Math.min(l.depth, DEEPEST) }"
          ><i :style="markOf(l.entry)" aria-hidden="true"
        /></span>
        <span
          ><EntryWords :entry="l.entry" /><span v-if="delay(l.entry.milliseconds ?? 0)" class="soft mono ms">{{
            delay(l.entry.milliseconds ?? 0)
          }}</span></span
        >
      </button>
      <slot v-if="l.entry.id === chosen" />
    </template>
    <button v-if="hidden" class="plain link entry hidden" @click="all = true">
      <span /><span class="depth" /><span>{{ hidden }} more that followed</span>
    </button>
  </li>
</template>

<style scoped>
.group {
  border-top: 1px solid var(--rule);
  padding-block: var(--space-2);
}
.entry {
  width: 100%;
  display: grid;
  grid-template-columns: 74px auto minmax(0, 1fr);
  gap: var(--space-12);
  align-items: baseline;
  padding: var(--space-2) var(--space-14) var(--space-2) var(--space-4);
}
.entry:hover {
  background: var(--verdigris-wash);
}
.chosen {
  background: var(--sheet);
  box-shadow: inset 3px 0 var(--verdigris);
}
.when {
  font-size: var(--type-note);
  color: var(--ink-soft);
}
.depth {
  padding-left: calc(var(--depth) * var(--space-16));
}
i {
  display: block;
  width: 8px;
  height: 8px;
  border-radius: 50%;
  border: 1.5px solid var(--ink-soft);
}
.automation i {
  background: var(--ink);
  border-color: var(--ink);
}
.hand i {
  background: var(--mark, var(--plum));
  border-color: var(--mark, var(--plum));
}
.fault i {
  background: var(--ember);
  border-color: var(--ember);
  border-radius: 1px;
}
.fault {
  color: var(--ember);
}
.ms {
  margin-left: var(--space-10);
  font-size: var(--type-note);
}
.hidden {
  font-size: var(--type-small);
}
.hidden .depth {
  --depth: 1;
}
</style>
