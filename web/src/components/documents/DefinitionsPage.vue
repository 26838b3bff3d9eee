<script setup lang="ts" generic="T extends { id: string; title: string }">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import StateMark from '@/components/marks/StateMark.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import ListDetail from '@/components/page/ListDetail.vue'
import ListRow from '@/components/page/ListRow.vue'
import LongList from '@/components/page/LongList.vue'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** All definitions of a kind in a list, and the editor of the chosen one; the first is made from here too. */
const props = defineProps<{
  /** What they are called, and one of them. */
  title: string
  one: 'link' | 'mirror' | 'schedule' | 'curve' | 'sequence'
  /** Its address, where that is not the plural of its word. */
  at?: string
  /** What one is called, where that is more than its word in addresses. */
  named?: string
  items: T[]
  mark: (item: T) => 'failed' | 'on' | 'off'
  /** Makes one and returns its id. */
  create: () => Promise<string>
}>()
const home = useHome()
const notices = useNotices()
const route = useRoute()
const router = useRouter()
const name = computed(() => props.named ?? props.one)
const list = computed(() => props.at ?? `/${props.one}s`)
const chosen = computed(() => props.items.find((i) => i.id === route.params.id))
const make = () =>
  notices.attempt(async () => {
    const id = await props.create()
    await home.arrived(props.one, id)
    await router.push(`${list.value}/${id}`)
  })
</script>

<template>
  <EmptyPage v-if="!items.length" :title="`No ${title.toLowerCase()} yet`">
    <p><slot name="empty" /></p>
    <Button :label="`Make a ${name}`" @click="make" />
  </EmptyPage>
  <ListDetail v-else :title="title" :note="`${items.length}`" :chosen="!!route.params.id" :back="list">
    <template #tools>
      <div class="tools"><Button severity="secondary" :label="`Make a ${name}`" @click="make" /></div>
    </template>
    <template #list>
      <LongList v-slot="{ item }" :items="items" :item-key="(row) => row.id">
        <ListRow :to="`${list}/${item.id}`" :chosen="item.id === chosen?.id">
          <template #mark><StateMark :mark="mark(item)" /></template>
          {{ item.title }}
          <template v-if="$slots.value" #value><slot name="value" :item="item" /></template>
          <template #reason><slot name="reason" :item="item" /></template>
        </ListRow>
      </LongList>
    </template>
    <slot v-if="chosen" :chosen="chosen" />
    <p v-else-if="route.params.id" class="soft">This {{ name }} was deleted.</p>
    <slot v-else name="overview" />
  </ListDetail>
</template>

<style scoped>
.tools {
  padding: 0 var(--space-16) var(--space-10);
}
</style>
