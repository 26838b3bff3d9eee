<script setup lang="ts">
import { computed } from 'vue'
import { useHome } from '@/stores/home'

/** The day line grown to one line a date: when the next ones come. */
const props = defineProps<{ dates: string[] }>()
const home = useHome()

const lines = computed(() =>
  props.dates.map((at) => {
    const [h = '0', m = '0'] = home.times.clock(at).split(':')
    return {
      at,
      date: home.times.date(at),
      clock: home.times.clock(at),
      left: ((Number(h) * 60 + Number(m)) / 1440) * 100,
    }
  }),
)
const hours = [6, 12, 18]
</script>

<template>
  <ol class="bands">
    <li v-for="l in lines" :key="l.at">
      <span class="soft date">{{ l.date }}</span>
      <span class="band">
        <i v-for="h in hours" :key="h" class="hour" :style="{ left: (h / 24) * 100 + '%' }" />
        <i class="mark" :style="{ left: l.left + '%' }" />
      </span>
      <b class="mono">{{ l.clock }}</b>
    </li>
  </ol>
</template>

<style scoped>
.bands {
  margin-top: var(--space-8);
  border-top: 1px solid var(--rule);
}
li {
  display: grid;
  grid-template-columns: 100px minmax(0, 1fr) 56px;
  gap: var(--space-14);
  align-items: center;
  border-bottom: 1px solid var(--rule);
  height: 32px;
}
.date {
  font-size: var(--type-small);
}
.band {
  position: relative;
  height: 100%;
  background: var(--sheet);
}
.hour {
  position: absolute;
  inset-block: 0;
  width: 1px;
  background: var(--rule);
}
.mark {
  position: absolute;
  top: 11px;
  width: 10px;
  height: 10px;
  border-radius: 50%;
  border: 2px solid var(--verdigris);
  transform: translateX(-50%);
  background: var(--sheet);
}
b {
  font-weight: 500;
  text-align: right;
}
</style>
