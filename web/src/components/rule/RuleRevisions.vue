<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ask, Problem } from '@/api/client'
import type { Revision, RuleDocument } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import ChangedLines from './ChangedLines.vue'

/** How a rule once was, and what each change was; any of it can be taken as the draft. */
const props = defineProps<{ rule: string; revision: number }>()
const emit = defineEmits<{ take: [RuleDocument, number] }>()
const home = useHome()
const notices = useNotices()
const revisions = ref<Revision[]>([])
const opened = ref<number>()
const failed = ref('')

watch(
  () => [props.rule, props.revision],
  async () => {
    try {
      revisions.value = await ask(api.GET('/api/rules/{id}/revisions', { params: { path: { id: props.rule } } }))
      failed.value = ''
    } catch (error) {
      failed.value = error instanceof Problem ? error.message : String(error)
    }
  },
  { immediate: true },
)
const take = (r: Revision) =>
  notices.attempt(async () => {
    const { id, revision } = { id: props.rule, revision: r.revision }
    emit(
      'take',
      await ask(api.GET('/api/rules/{id}/revisions/{revision}', { params: { path: { id, revision } } })),
      revision,
    )
  })
const said = (r: Revision) => {
  if (r.removed) return 'deleted'
  const count = r.changes.filter((c) => c.mark !== 'same').length
  if (r.revision === 1) return 'written'
  return count ? `${count} ${count === 1 ? 'line' : 'lines'} different` : 'name, note or switch'
}
</script>

<template>
  <p v-if="failed" class="fault" role="alert">{{ failed }}</p>
  <ol>
    <li v-for="r in revisions" :key="r.revision">
      <div class="top">
        <button
          type="button"
          class="plain when mono"
          :aria-expanded="opened === r.revision"
          @click="opened = opened === r.revision ? undefined : r.revision"
        >
          {{ home.times.since(r.at, home.now) }}
        </button>
        <span class="what">{{ said(r) }}<template v-if="r.revision === revision">, live now</template></span>
        <button v-if="r.revision !== revision && !r.removed" type="button" class="plain link" @click="take(r)">
          Take as draft
        </button>
      </div>
      <ChangedLines v-if="opened === r.revision" :lines="r.changes" />
    </li>
  </ol>
</template>

<style scoped>
li {
  border-top: 1px solid var(--rule);
  padding: 6px 0;
  font-size: 13.5px;
}
.top {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
.when {
  color: var(--verdigris);
  font-size: 12.5px;
}
.what {
  flex: 1;
}
.fault {
  color: var(--ember);
}
</style>
