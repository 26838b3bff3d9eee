<script setup lang="ts">
import { computed } from 'vue'
import type { Target } from '@/api/types'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import ValueToken from '@/components/tokens/ValueToken.vue'
import { useHome } from '@/stores/home'

/** What a scene gives to a property: a value, what a formula comes to, or what a day curve says as long as the scene is in effect. */
const props = defineProps<{ target: Target }>()
const emit = defineEmits<{ change: [Partial<Target>] }>()
const home = useHome()

const property = computed(() => home.property(props.target.device, props.target.property))
const label = computed(() => `${home.device(props.target.device)?.title} ${props.target.property}`)
const follows = computed(() =>
  ['brightness', 'colorTemperature', 'color'].includes(property.value?.role ?? '')
    ? home.curves.map((c) => ({ value: c.id, title: c.title }))
    : [],
)
const OWN = ''
const often = [
  { value: 'once', title: 'once', note: 'worked out as the scene is applied' },
  { value: 'always', title: 'all the time', note: 'it follows as long as the scene is in effect' },
]
</script>

<template>
  <span v-if="target.curve">
    <span class="soft">follows </span>
    <TokenPicker
      :model-value="target.curve"
      :choices="[...follows, { value: OWN, title: 'a value of its own' }]"
      :label="`Day curve of ${label}`"
      @update:model-value="emit('change', { curve: $event || undefined })"
    />
  </span>
  <template v-else>
    <ValueToken
      :model-value="target.value"
      :property="property"
      :label="label"
      workable
      :formula="target.expression"
      @update:model-value="emit('change', { value: $event })"
      @update:formula="emit('change', { expression: $event, follows: $event ? target.follows : undefined })"
    />
    <small v-if="target.expression" class="soft">
      {{ ' ' }}
      <TokenPicker
        :model-value="target.follows ? 'always' : 'once'"
        :choices="often"
        :label="`How often ${label} is worked out`"
        @update:model-value="emit('change', { follows: $event === 'always' || undefined })"
      />
    </small>
    <small v-else-if="follows.length && target.expression === undefined" class="soft">
      {{ ' or ' }}
      <TokenPicker
        :model-value="undefined"
        :choices="follows"
        :label="`Day curve that ${label} is to follow`"
        empty="a curve"
        verb
        @update:model-value="emit('change', { curve: $event })"
      />
    </small>
  </template>
</template>
