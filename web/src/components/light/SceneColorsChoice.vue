<script setup lang="ts">
import { computed, onMounted, shallowRef, useTemplateRef } from 'vue'
import { api, ask } from '@/api/client'
import type { Palette } from '@/api/types'
import NumberToken from '@/components/tokens/NumberToken.vue'
import { uploadAddress, uploadPicture } from '@/lib/uploads'
import { useNotices } from '@/stores/notices'
import ColorRow from './ColorRow.vue'

/** In which colors the lamps of a new scene are to be: as they are now, those of a palette, one's own, or those of a picture. */
export interface InColors {
  colors?: string[]
  picture?: string
  level: number
}
const model = defineModel<InColors | undefined>({ required: true })
const notices = useNotices()

const palettes = shallowRef<Palette[]>([])
onMounted(() => notices.attempt(async () => void (palettes.value = await ask(api.GET('/api/palettes')))))

const USUAL_LEVEL = 60
const level = computed(() => model.value?.level ?? USUAL_LEVEL)
const same = (a: string[] | undefined, b: string[]) => a?.join() === b.join()
const take = (colors: string[]) => (model.value = { colors, level: level.value })
/** Colors that are no palette's: one's own. */
const own = computed(() =>
  model.value?.colors && !palettes.value.some((p) => same(model.value!.colors, p.colors))
    ? model.value.colors
    : undefined,
)
const MOST = 8
const file = useTemplateRef<HTMLInputElement>('file')
const upload = (event: Event) =>
  notices.attempt(async () => {
    const chosen = (event.target as HTMLInputElement).files?.[0]
    if (!chosen) return
    model.value = { picture: (await uploadPicture(chosen)).id, level: level.value }
    if (file.value) file.value.value = ''
  })
</script>

<template>
  <fieldset class="colors">
    <legend>In which colors</legend>
    <div class="choices">
      <label class="choice">
        <input type="radio" name="colors" :checked="!model" @change="model = undefined" />
        As they are now
      </label>
      <label v-for="p in palettes" :key="p.id" class="choice">
        <input type="radio" name="colors" :checked="same(model?.colors, p.colors)" @change="take(p.colors)" />
        {{ p.title }}
        <span class="swatches" aria-hidden="true"
          ><i v-for="(c, i) in p.colors" :key="i" :style="{ background: c }"
        /></span>
      </label>
      <label class="choice">
        <input type="radio" name="colors" :checked="!!model?.picture" @change="file?.click()" />
        Of a picture
        <img v-if="model?.picture" :src="uploadAddress(model.picture)" alt="The picture" />
      </label>
      <input
        ref="file"
        class="unseen"
        type="file"
        accept="image/*"
        aria-label="Picture for the colors"
        @change="upload"
      />
    </div>
    <p v-if="model" class="row">
      <template v-if="model.colors">
        <ColorRow :colors="model.colors" :most="MOST" @change="take" />
        <span v-if="own" class="soft">your own</span>
      </template>
      <span class="soft">at</span>
      <NumberToken
        :model-value="level"
        label="How bright"
        unit="%"
        :minimum="1"
        :maximum="100"
        @update:model-value="model = { ...model, level: $event }"
      />
    </p>
    <p v-if="model" class="soft small">
      Spread evenly over the lamps that have colors; the others take the nearest white. Once it is made it can be tried
      and changed.
    </p>
  </fieldset>
</template>

<style scoped>
fieldset.colors {
  border: 0;
  margin: var(--space-20) 0 0;
  padding: 0;
}
legend {
  font-size: var(--type-small);
  font-weight: 650;
  color: var(--ink-soft);
  padding: 0 0 var(--space-6);
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--space-20);
}
.choice {
  display: inline-flex;
  gap: var(--space-8);
  align-items: center;
  min-height: 38px;
  cursor: pointer;
}
.swatches {
  display: inline-flex;
}
.swatches i {
  width: 16px;
  height: 16px;
  border: 1px solid var(--edge);
}
.choice input {
  margin: 0;
  width: 16px;
  height: 16px;
  accent-color: var(--verdigris);
}
.choice img {
  height: 34px;
  border: 1px solid var(--edge);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-8);
  align-items: center;
}
.small {
  font-size: var(--type-small);
}
</style>
