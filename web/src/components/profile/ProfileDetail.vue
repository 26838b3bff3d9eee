<script setup lang="ts">
import Button from 'primevue/button'
import { onMounted, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Profile } from '@/api/types'
import { download } from '@/lib/download'
import { useNotices } from '@/stores/notices'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import ProfileWords from './ProfileWords.vue'
import ProfileText from './ProfileText.vue'
import PageHead from '@/components/page/PageHead.vue'

const props = defineProps<{ profile: Profile }>()
const emit = defineEmits<{ changed: []; saved: [string] }>()
const notices = useNotices()

const before = ref<string>()
const text = ref('')
const path = { path: { model: props.profile.model } }
onMounted(() =>
  notices.attempt(async () => {
    const { document } = await ask(api.GET('/api/profiles/{model}', { params: path }))
    before.value = document
    text.value = document
  }),
)

const install = () =>
  notices.attempt(async () => {
    await ask(api.POST('/api/profiles/{model}/install', { params: path }))
    notices.done(`${props.profile.title} is installed.`, () =>
      ask(api.DELETE('/api/profiles/{model}', { params: path })).then(() => emit('changed')),
    )
    emit('changed')
  })
const remove = () =>
  notices.attempt(async () => {
    const document = before.value ?? ''
    await ask(api.DELETE('/api/profiles/{model}', { params: path }))
    notices.done(
      props.profile.shipped ? `${props.profile.title} is as it was shipped.` : `${props.profile.title} removed.`,
      () => ask(api.POST('/api/profiles', { body: { document } })).then(() => emit('changed')),
    )
    emit('changed')
  })
</script>

<template>
  <PageHead :title="profile.title">
    {{ profile.maker }} · <span class="mono">{{ profile.model }}</span>
    <template #buttons>
      <Button v-if="!profile.inUse" label="Install" @click="install" />
      <Button
        v-if="before"
        severity="secondary"
        label="Export"
        @click="download(`${profile.model}.tm.json`, before, 'application/tm+json')"
      />
      <Button
        v-if="profile.own"
        severity="secondary"
        :label="profile.changed ? 'Take back what was changed' : profile.shipped ? 'Uninstall' : 'Remove'"
        @click="remove"
      />
    </template>
  </PageHead>
  <p v-if="profile.inUse && !profile.devices" class="soft note">
    In use: devices of this model can be taken into the home under
    <RouterLink class="link" to="/found">Found</RouterLink>.
  </p>
  <EarlierVersions v-if="profile.own" :id="`profile-${profile.model}`" kind="profile" :revision="profile.revision" />
  <div class="beside">
    <ProfileWords :profile="profile" />
    <section class="text" aria-label="As JSON">
      <h2>As JSON</h2>
      <ProfileText v-if="before !== undefined" v-model="text" :before="before" @saved="emit('saved', $event)" />
    </section>
  </div>
</template>

<style scoped>
.note {
  margin-top: var(--space-10);
}
.beside {
  margin-top: var(--space-16);
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(320px, 100%), 1fr));
  gap: var(--space-26) var(--space-34);
}
.text {
  min-width: 0;
}
</style>
