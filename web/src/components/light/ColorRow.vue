<script setup lang="ts">
/** Colors side by side, each changed in place, and one more or less of them. */
defineProps<{ colors: string[]; most: number }>()
const emit = defineEmits<{ change: [string[]] }>()
const changed = (all: string[], at: number, color: string) => all.map((c, i) => (i === at ? color : c))
</script>

<template>
  <span class="colors">
    <input
      v-for="(c, i) in colors"
      :key="i"
      type="color"
      :value="c"
      :aria-label="`Color ${i + 1}`"
      @change="emit('change', changed(colors, i, ($event.target as HTMLInputElement).value))"
    />
    <button
      v-if="colors.length && colors.length < most"
      type="button"
      class="plain link"
      @click="emit('change', [...colors, colors.at(-1)!])"
    >
      One more
    </button>
    <button v-if="colors.length > 1" type="button" class="plain link" @click="emit('change', colors.slice(0, -1))">
      One less
    </button>
  </span>
</template>

<style scoped>
.colors {
  display: inline-flex;
  flex-wrap: wrap;
  gap: var(--space-6) var(--space-8);
  align-items: center;
  vertical-align: middle;
}
input {
  width: 38px;
  height: 30px;
  padding: 0;
  border: 1px solid var(--edge);
  background: none;
}
.link {
  font-size: var(--type-small);
}
</style>
