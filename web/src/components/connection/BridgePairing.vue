<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { FoundBridge } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** Walks the owner through pairing: asked, pressed, key, tested, found. */
const props = defineProps<{ bridge: FoundBridge }>()
const home = useHome()
const notices = useNotices()

const pairing = computed(() => (home.pairing?.address === props.bridge.address ? home.pairing : undefined))
const busy = computed(() => pairing.value?.state === 'waiting' || pairing.value?.state === 'testing')

const steps = computed(() => {
  const order = ['waiting', 'testing', 'done']
  const at = order.indexOf(pairing.value?.state ?? '')
  // Once it is done, that it is done is what is left to say.
  if (at > 1) return [{ words: `The key works: ${pairing.value?.devices} devices behind the bridge`, state: 'past' }]
  return [
    { words: 'Press the button on the bridge', state: at > 0 ? 'past' : 'now' },
    { words: 'The bridge hands out its key; the hub tries it', state: at === 1 ? 'now' : 'next' },
    { words: 'Its devices appear below', state: 'next' },
  ]
})

const begin = () =>
  // How it stands is told by the live feed, which may be ahead of this answer.
  notices.attempt(() => ask(api.POST('/api/pairing', { body: { address: props.bridge.address } })))
const cancel = () => notices.attempt(() => ask(api.DELETE('/api/pairing')))
</script>

<template>
  <article class="bridge">
    <div class="row">
      <div>
        <b>{{ bridge.title }}</b>
        <span class="soft mono small">{{ bridge.serial }} · {{ bridge.address }} · firmware {{ bridge.firmware }}</span>
      </div>
      <Button v-if="busy" severity="secondary" label="Stop waiting" @click="cancel" />
      <Button
        v-else
        :severity="bridge.connection ? 'secondary' : undefined"
        :label="bridge.connection ? 'Pair again' : 'Pair'"
        @click="begin"
      />
    </div>
    <ol v-if="pairing && pairing.state !== 'canceled' && pairing.state !== 'failed'" class="steps" aria-live="polite">
      <li v-for="(s, i) in steps" :key="i" :class="s.state">
        <i aria-hidden="true" />{{ s.words }}
        <span v-if="i === 0 && s.state === 'now'" class="mono soft">{{ pairing.secondsLeft }} s left</span>
      </li>
    </ol>
    <p v-if="pairing?.state === 'failed'" class="wrong" role="alert">{{ pairing.reason }}</p>
    <p v-if="pairing?.state === 'canceled'" class="soft">Stopped. Nothing was changed.</p>
    <p v-if="!pairing && bridge.connection" class="soft small">Paired. Its lamps are listed with the devices.</p>
  </article>
</template>

<style scoped>
.bridge {
  border-top: 1px solid var(--rule);
  padding: var(--space-12) 0;
  margin-top: var(--space-8);
}
.row {
  display: flex;
  justify-content: space-between;
  gap: var(--space-16);
  align-items: center;
}
.small {
  display: block;
  font-size: var(--type-small);
}
.steps {
  margin-top: var(--space-10);
}
li {
  display: flex;
  gap: var(--space-10);
  align-items: baseline;
  padding: var(--space-2) 0;
  color: var(--ink-soft);
}
li i {
  width: 11px;
  height: 11px;
  border: 2px solid var(--ink-soft);
  border-radius: 50%;
  flex: none;
}
.now {
  color: var(--ink);
  font-weight: 600;
}
.now i {
  border: 2px dashed var(--ochre);
}
.past i {
  background: var(--verdigris);
  border-color: var(--verdigris);
}
.wrong {
  color: var(--ember);
  margin-top: var(--space-8);
}
</style>
