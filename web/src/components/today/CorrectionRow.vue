<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { Correction } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import FigureRow from './FigureRow.vue'

/** Where hands correct a rule, with the change that would have spared it; or that they no longer do. */
const props = defineProps<{ of: Correction }>()
const home = useHome()
const notices = useNotices()
const router = useRouter()

const drafted = computed(() => !!home.rule(props.of.rule)?.draft)
const figure = computed(() =>
  props.of.ended ? `0 of ${props.of.actsSince}` : `${props.of.corrected} of ${props.of.acts}`,
)

/** Puts the change into a draft of the rule, which is opened. */
const offer = () =>
  notices.attempt(async () => {
    const { rule, based, change } = props.of
    await ask(
      api.PUT('/api/rules/{id}/draft', { params: { path: { id: rule }, query: { after: 0, based } }, body: change }),
    )
    await router.push(`/rules/${rule}`)
    notices.done('The change is in a draft. Look at it, then put it live.')
  })
</script>

<template>
  <FigureRow :figure="figure">
    <template v-if="!of.ended">
      times a hand turned <RouterLink class="named" :to="`/devices/${of.device}`">{{ of.deviceTitle }}</RouterLink>
      {{ of.lower ? 'down' : 'up' }} from {{ of.from }} to about {{ of.to }} after
      <RouterLink class="link" :to="`/rules/${of.rule}`">{{ of.ruleTitle }}</RouterLink> had set it.
      <span v-if="drafted" class="soft">The rule has a draft that is not live yet.</span>
      <span v-else-if="of.change" class="offer">
        <Button size="small" severity="secondary" :label="`Let the rule set ${of.to}`" @click="offer" />
        <span class="soft small">as a draft, for you to look at</span>
      </span>
    </template>
    <template v-else>
      times a hand has corrected
      <RouterLink class="named" :to="`/devices/${of.device}`">{{ of.deviceTitle }}</RouterLink> since you changed
      <RouterLink class="link" :to="`/rules/${of.rule}`">{{ of.ruleTitle }}</RouterLink>,
      {{ home.times.since(of.ended, home.now) }}; before, {{ of.corrected }} of {{ of.acts }}.
    </template>
  </FigureRow>
</template>

<style scoped>
.offer {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-8);
  align-items: center;
  margin-top: var(--space-6);
}
.small {
  font-size: var(--type-small);
}
</style>
