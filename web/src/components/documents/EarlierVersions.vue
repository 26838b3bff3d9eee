<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { Change, Revision } from '@/api/types'
import { useReading } from '@/lib/reading'
import { useHome } from '@/stores/home'
import { useSession } from '@/stores/session'
import { useNotices } from '@/stores/notices'
import ErrorNote from '@/components/page/ErrorNote.vue'
import ChangedLines from './ChangedLines.vue'

/**
 * How a definition once was, what each change was, and back to any of it: at once, or, where something listens to take,
 * in its own way.
 */
const props = defineProps<{ kind: string; id: string; revision: number; verb?: string; always?: boolean }>()
const emit = defineEmits<{ take: [revision: number] }>()
const home = useHome()
const session = useSession()
const notices = useNotices()
const revisions = ref<Revision[]>([])
const shown = ref(props.always)
const opened = ref<number>()
const { failed, again } = useReading(async () => {
  if (!shown.value) return
  const { kind, id } = props
  revisions.value = await ask(api.GET('/api/definitions/{kind}/{id}/revisions', { params: { path: { kind, id } } }))
})
watch(() => [props.id, props.revision, shown.value], again, { immediate: true })
watch(
  () => props.id,
  () => (opened.value = undefined),
)

const takeBack = (revision: number) =>
  ask(
    api.POST('/api/definitions/{kind}/{id}/revisions/{revision}/take-back', {
      params: { path: { kind: props.kind, id: props.id, revision } },
    }),
  )
const take = (r: Revision) =>
  props.verb
    ? emit('take', r.revision)
    : notices.attempt(async () => {
        const before = props.revision
        await takeBack(r.revision)
        notices.done(`${r.title || 'It'} is as it was ${home.times.since(r.at, home.now)}.`, () => takeBack(before))
      })

/** How many lines a revision changed; one that is different is gone and added. */
function count(r: Revision): number {
  const marked = (mark: Change['mark']) => r.changes.filter((c) => c.mark === mark).length
  return Math.max(marked('gone'), marked('added'))
}
function said(r: Revision): string {
  if (r.unreadable) return 'cannot be read any more'
  if (r.removed) return 'deleted'
  if (r.revision === 1) return 'made'
  const lines = count(r)
  return lines ? `${lines} ${lines === 1 ? 'line' : 'lines'} different` : 'brought back, or nothing that is shown'
}
</script>

<template>
  <section v-if="always || revision > 1" class="versions" :class="{ always }">
    <button v-if="!always" type="button" class="plain link" :aria-expanded="shown" @click="shown = !shown">
      Earlier versions
    </button>
    <template v-if="shown">
      <ErrorNote v-if="failed" :reason="failed" @again="again" />
      <ol>
        <li v-for="r in revisions" :key="r.revision">
          <div class="top">
            <button
              type="button"
              class="plain when mono"
              :aria-expanded="opened === r.revision"
              :disabled="r.unreadable"
              @click="opened = opened === r.revision ? undefined : r.revision"
            >
              {{ home.times.since(r.at, home.now) }}
            </button>
            <span class="what">{{ said(r) }}<template v-if="r.revision === revision">, as it is now</template></span>
            <button
              v-if="session.setsUp && r.revision !== revision && !r.removed && !r.unreadable"
              type="button"
              class="plain link"
              :aria-label="`${verb ?? 'Take back'}: as it was ${home.times.since(r.at, home.now)}`"
              @click="take(r)"
            >
              {{ verb ?? 'Take back' }}
            </button>
          </div>
          <ChangedLines v-if="opened === r.revision" :lines="r.changes" />
        </li>
      </ol>
    </template>
  </section>
</template>

<style scoped>
.versions {
  margin-top: var(--space-16);
  font-size: var(--type-small);
}
.versions.always {
  margin-top: 0;
}
ol {
  margin-top: var(--space-6);
}
li {
  border-top: 1px solid var(--rule);
  padding: var(--space-6) 0;
}
.top {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-12);
}
.when {
  color: var(--verdigris);
  font-size: var(--type-note);
}
.what {
  flex: 1;
}
</style>
