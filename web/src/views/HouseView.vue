<script setup lang="ts">
import Button from 'primevue/button'
import InputNumber from 'primevue/inputnumber'
import InputText from 'primevue/inputtext'
import { reactive, ref, watch } from 'vue'
import { Problem } from '@/api/client'
import type { HomeDocument } from '@/api/types'
import PlainPage from '@/components/page/PlainPage.vue'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import { documentOf } from '@/lib/documents'
import { useEdits } from '@/stores/edits'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

const home = useHome()
const notices = useNotices()
const edits = useEdits()

const form = reactive({ title: '', latitude: 0, longitude: 0, zone: '', namePattern: '' })
const wrong = ref<Problem>()
let before!: HomeDocument

watch(
  () => home.house?.revision,
  () => {
    const h = home.house
    if (!h) return
    const now = documentOf('home', h)
    // What is typed here and not saved yet stays; all else is as others made it.
    for (const name of Object.keys(now) as (keyof HomeDocument)[])
      if (!before || form[name] === before[name]) Object.assign(form, { [name]: now[name] })
    before = now
  },
  { immediate: true },
)

async function save() {
  wrong.value = undefined
  try {
    const from = before
    const to = { ...form }
    await edits.now('home', 'home', from, to)
    notices.done('The house is saved.', () => edits.now('home', 'home', to, from))
  } catch (error) {
    if (error instanceof Problem) wrong.value = error
    else throw error
  }
}
</script>

<template>
  <PlainPage title="House">
    <template #lead>Where it is gives sunrise and sunset; its time zone, the times of day everywhere.</template>
    <form class="form" @submit.prevent="save">
      <label><span>Name</span><InputText v-model="form.title" fluid :invalid="!!wrong?.at('title')" /></label>
      <label><span>Time zone</span><InputText v-model="form.zone" fluid :invalid="!!wrong?.at('zone')" /></label>
      <label
        ><span>Latitude, north positive</span
        ><InputNumber v-model="form.latitude" fluid :max-fraction-digits="4" :invalid="!!wrong?.at('latitude')"
      /></label>
      <label
        ><span>Longitude, east positive</span
        ><InputNumber v-model="form.longitude" fluid :max-fraction-digits="4" :invalid="!!wrong?.at('longitude')"
      /></label>
      <label class="wide">
        <span>Pattern for names</span>
        <InputText v-model="form.namePattern" fluid class="mono" :invalid="!!wrong?.at('namePattern')" />
        <span class="soft help"
          >From {room}, {what}, {maker} and {number}; what you type yourself always stays. The place gives sunrise and
          sunset.</span
        >
      </label>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong.message }}</p>
      <div class="wide"><Button type="submit" label="Save" /></div>
    </form>

    <EarlierVersions v-if="home.house" id="home" kind="home" :revision="home.house.revision" />
  </PlainPage>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--space-14) var(--space-20);
  padding-bottom: var(--space-26);
  max-width: 720px;
}
label > span:first-child {
  font-size: var(--type-small);
  color: var(--ink-soft);
}
.wide {
  grid-column: 1 / 3;
}
.help {
  font-size: var(--type-small);
}
.wrong {
  grid-column: 1 / 3;
  color: var(--ember);
}
</style>
