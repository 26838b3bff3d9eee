<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Link } from '@/api/types'
import LinkEditor from '@/components/link/LinkEditor.vue'
import StateMark from '@/components/marks/StateMark.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import ListDetail from '@/components/page/ListDetail.vue'
import ListRow from '@/components/page/ListRow.vue'
import LongList from '@/components/page/LongList.vue'
import { newLink, stands } from '@/lib/stages'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Links: what one device says, carried on to others. */
const home = useHome()
const notices = useNotices()
const route = useRoute()
const router = useRouter()
const chosen = computed(() => home.links.find((l) => l.id === route.params.id))

const names = (ids: { device: string }[]) =>
  [...new Set(ids.map((x) => home.device(x.device)?.title ?? 'a removed device'))].join(', ')
const reason = (l: Link) =>
  l.problems[0]?.message ?? (l.enabled ? `${names(l.sources)} → ${names(l.targets)}` : 'paused')
const make = () =>
  notices.attempt(async () => {
    const saved = await ask(api.POST('/api/links', { body: newLink() }))
    await home.arrived('link', saved.id)
    await router.push(`/links/${saved.id}`)
  })
</script>

<template>
  <EmptyPage v-if="!home.links.length" title="No links yet">
    <p>
      A link carries on what one device says to others, of any maker: a dial dims lamps, a sensor moves a shutter. You
      see what goes through it as it goes.
    </p>
    <Button label="Make a link" @click="make" />
  </EmptyPage>
  <ListDetail v-else title="Links" :note="`${home.links.length}`" :chosen="!!route.params.id" back="/links">
    <template #tools>
      <div class="tools"><Button severity="secondary" label="Make a link" @click="make" /></div>
    </template>
    <template #list>
      <LongList v-slot="{ item: l }" :items="home.links" :item-key="(row) => row.id">
        <ListRow :to="`/links/${l.id}`" :chosen="l.id === chosen?.id">
          <template #mark><StateMark :mark="stands(l)" /></template>
          {{ l.title }}
          <template #reason>{{ reason(l) }}</template>
        </ListRow>
      </LongList>
    </template>
    <LinkEditor v-if="chosen" :key="chosen.id" :link="chosen" />
    <p v-else-if="route.params.id" class="soft">This link was deleted.</p>
    <p v-else class="soft">Choose a link to see what goes through it.</p>
  </ListDetail>
</template>

<style scoped>
.tools {
  padding: 0 var(--space-16) var(--space-10);
}
</style>
