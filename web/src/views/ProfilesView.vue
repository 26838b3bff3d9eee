<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Profile } from '@/api/types'
import ListDetail from '@/components/page/ListDetail.vue'
import ListRow from '@/components/page/ListRow.vue'
import ProfilesOverview from '@/components/overview/ProfilesOverview.vue'
import ProfileDetail from '@/components/profile/ProfileDetail.vue'
import ProfileImport from '@/components/profile/ProfileImport.vue'
import StateMark from '@/components/marks/StateMark.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** The catalogue of profiles: what Amvek knows how to speak with. */
const home = useHome()
const notices = useNotices()
const route = useRoute()
const router = useRouter()

const NEW = 'new'
const profiles = ref<Profile[]>([])
const search = ref('')
const model = computed(() => String(route.params.model ?? ''))
const chosen = computed(() => profiles.value.find((p) => p.model === model.value))
/** A model that a found device asked for, though the catalogue has nothing for it. */
const wanted = computed(() => String(route.query.model ?? ''))

const read = () =>
  notices.attempt(async () => {
    profiles.value = await ask(api.GET('/api/profiles'))
  })
onMounted(read)
watch(() => home.found, read)

const groups = computed(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean)
  const fits = (p: Profile) => {
    const text = `${p.title} ${p.maker} ${p.model} ${p.what}`.toLowerCase()
    return words.every((w) => text.includes(w))
  }
  const makers = [...new Set(profiles.value.map((p) => p.maker))].sort()
  return makers
    .map((maker) => ({ maker, profiles: profiles.value.filter((p) => p.maker === maker && fits(p)) }))
    .filter((g) => g.profiles.length)
})
async function saved(model: string) {
  await read()
  await router.replace(`/profiles/${encodeURIComponent(model)}`)
}
</script>

<template>
  <ListDetail
    title="Profiles"
    :note="`${profiles.filter((p) => p.inUse).length} in use`"
    :chosen="!!model"
    back="/profiles"
  >
    <template #tools>
      <div class="tools">
        <InputText v-model="search" fluid placeholder="Search by model, maker" aria-label="Search profiles" />
        <Button severity="secondary" label="New" aria-label="New profile" @click="router.push(`/profiles/${NEW}`)" />
      </div>
    </template>
    <template #list>
      <div v-for="g in groups" :key="g.maker">
        <h2 class="group">{{ g.maker || 'Of no maker' }}</h2>
        <ListRow
          v-for="p in g.profiles"
          :key="p.model"
          :to="`/profiles/${encodeURIComponent(p.model)}`"
          :chosen="p.model === model"
        >
          <template #mark><StateMark :mark="p.inUse ? 'on' : 'off'" /></template>
          {{ p.title }}
          <template #value>{{ p.model }}</template>
          <template #reason>
            {{
              p.inUse
                ? p.changed
                  ? 'in use, changed by you'
                  : p.own && !p.shipped
                    ? 'in use, yours'
                    : 'in use'
                : 'not installed'
            }}
            <template v-if="p.devices"> · {{ p.devices }} in the home</template>
          </template>
        </ListRow>
      </div>
      <p v-if="!groups.length" class="soft none">No profile matches.</p>
    </template>
    <ProfileImport v-if="model === NEW" :model="wanted" @saved="saved" />
    <ProfileDetail
      v-else-if="chosen"
      :key="chosen.model + chosen.own"
      :profile="chosen"
      @changed="read"
      @saved="saved"
    />
    <p v-else-if="model" class="soft">
      The catalogue has no profile for the model {{ model }}.
      <RouterLink class="link" :to="{ path: '/profiles/new', query: { model } }">Write or import one.</RouterLink>
    </p>
    <ProfilesOverview v-else :profiles="profiles" />
  </ListDetail>
</template>

<style scoped>
.tools {
  display: flex;
  gap: var(--space-8);
  padding: 0 var(--space-16) var(--space-8);
}
.group {
  padding: var(--space-14) var(--space-16) var(--space-6);
}
.none {
  padding: var(--space-16);
}
</style>
