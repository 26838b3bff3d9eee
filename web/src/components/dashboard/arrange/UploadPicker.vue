<script setup lang="ts">
import Button from 'primevue/button'
import { onMounted, ref, shallowRef } from 'vue'
import { api, ask, reasonOf } from '@/api/client'
import type { Upload } from '@/api/types'
import { uploadAddress, uploadPicture } from '@/lib/uploads'

/** Chooses one of the pictures that were uploaded, or uploads another. */
const model = defineModel<string | undefined>({ required: true })
defineProps<{ label: string }>()
const emit = defineEmits<{ chosen: [Upload] }>()

const uploads = shallowRef<Upload[]>([])
const busy = ref(false)
const failed = ref('')
const input = ref<HTMLInputElement>()
const read = async () => (uploads.value = await ask(api.GET('/api/uploads')))
onMounted(() => read().catch((error: unknown) => (failed.value = reasonOf(error))))

function choose(upload: Upload) {
  model.value = upload.id
  emit('chosen', upload)
}
async function take(files: FileList | null | undefined) {
  const file = files?.[0]
  if (!file) return
  busy.value = true
  failed.value = ''
  try {
    choose(await uploadPicture(file))
    await read()
  } catch (error) {
    failed.value = reasonOf(error)
  } finally {
    busy.value = false
    if (input.value) input.value.value = ''
  }
}
</script>

<template>
  <div class="uploads" @dragover.prevent @drop.prevent="take($event.dataTransfer?.files)">
    <span class="row">
      <Button
        size="small"
        severity="secondary"
        :label="busy ? 'Uploading …' : 'Upload a picture'"
        :disabled="busy"
        @click="input?.click()"
      />
      <button v-if="model" type="button" class="plain link" @click="model = undefined">No picture</button>
    </span>
    <input
      ref="input"
      class="unseen"
      type="file"
      tabindex="-1"
      accept="image/png,image/jpeg,image/gif,image/webp"
      :aria-label="label"
      @change="take(($event.target as HTMLInputElement).files)"
    />
    <p v-if="failed" class="failed" role="alert">{{ failed }}</p>
    <div v-if="uploads.length" class="earlier" role="radiogroup" :aria-label="`${label}, uploaded before`">
      <button
        v-for="u in uploads"
        :key="u.id"
        type="button"
        class="plain one"
        role="radio"
        :aria-checked="u.id === model"
        :aria-label="`Picture, ${u.width} by ${u.height}`"
        @click="choose(u)"
      >
        <img :src="uploadAddress(u.id)" alt="" loading="lazy" />
      </button>
    </div>
  </div>
</template>

<style scoped>
.uploads {
  display: grid;
  gap: var(--space-8);
}
.row {
  display: flex;
  gap: var(--space-12);
  align-items: center;
}
.failed {
  color: var(--ember);
  font-size: var(--type-small);
  margin: 0;
}
.earlier {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: var(--space-6);
  max-height: 132px;
  overflow-y: auto;
}
.one {
  aspect-ratio: 4 / 3;
  border: 2px solid transparent;
}
.one[aria-checked='true'] {
  border-color: var(--verdigris);
}
img {
  width: 100%;
  height: 100%;
  object-fit: cover;
}
</style>
