<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Mirror, Property } from '@/api/types'
import PropertyControl from '@/components/device/PropertyControl.vue'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import DefinitionEditor from '@/components/documents/DefinitionEditor.vue'
import NoteField from '@/components/documents/NoteField.vue'
import UsedBy from '@/components/household/UsedBy.vue'
import TokenPicker from '@/components/tokens/TokenPicker.vue'
import { useEditing } from '@/lib/editing'
import { join, propertyChoices, split } from '@/lib/sentences'
import { useHome } from '@/stores/home'

/** A mirror: what is kept at the same state, each with how it stands, and whom the others follow after a time apart. */
const props = defineProps<{ mirror: Mirror }>()
const home = useHome()

const { edit, copy, set, remove } = useEditing('mirror', () => props.mirror, '/mirrors')

const choices = computed(() =>
  propertyChoices(
    home.everything,
    home.rooms,
    (p: Property) => !!p.writable && p.type !== 'text' && p.role !== 'option' && !p.setting,
  ),
)
const members = computed(() => copy.value?.members ?? [])
const rows = computed(() => [...members.value.map((m) => join(m.device, m.property)), ''])
function choose(i: number, value: string) {
  const [device, property] = split(value)
  const member = { device, property }
  set({
    members:
      i < members.value.length ? members.value.map((m, k) => (k === i ? member : m)) : [...members.value, member],
  })
}
const drop = (i: number) => set({ members: members.value.filter((_, k) => k !== i) })
const problemAt = (path: string) => props.mirror.problems.find((p) => p.path.startsWith(path))?.message
const winners = computed(() => [
  { value: 'latest', title: 'the one that was changed last' },
  { value: 'first', title: `the first, ${home.device(members.value[0]?.device)?.title ?? '…'}` },
])
const state = computed(() => {
  if (props.mirror.problems.length) return 'not at work'
  if (!props.mirror.enabled) return 'paused'
  return props.mirror.agree.every(Boolean) ? 'all agree' : 'they differ now'
})
</script>

<template>
  <DefinitionEditor
    v-if="copy"
    :edit="edit"
    :title="copy.title"
    label="Name of the mirror"
    @update:title="set({ title: $event })"
    @remove="remove"
  >
    <template #state>
      <span role="status">{{ state }}</span>
    </template>
    <template #buttons>
      <Button
        :severity="copy.enabled ? 'secondary' : undefined"
        :label="copy.enabled ? 'Pause the mirror' : 'Resume the mirror'"
        @click="set({ enabled: !copy.enabled })"
      />
    </template>

    <p class="line soft">Whichever of these is changed, and however, the others follow.</p>
    <p v-if="problemAt('members') && !members.length" class="problem">{{ problemAt('members') }}</p>
    <ul aria-label="Kept at the same state">
      <li v-for="(value, i) in rows" :key="i" :class="{ differs: mirror.agree[i] === false }">
        <span class="what">
          <TokenPicker
            :model-value="value || undefined"
            :choices="choices"
            label="What is kept at the same state"
            :empty="i ? 'and …' : 'choose what is kept at the same state'"
            :verb="!!i && !value"
            lately
            @update:model-value="choose(i, $event)"
          />
          <RouterLink v-if="members[i]" class="soft small" :to="`/devices/${members[i]!.device}`">{{
            home.roomTitle(home.device(members[i]!.device)?.room) || 'The device'
          }}</RouterLink>
          <span v-if="problemAt(`members/${i}`)" class="problem">{{ problemAt(`members/${i}`) }}</span>
          <span v-else-if="mirror.agree[i] === false" class="problem">Differs from the first now</span>
        </span>
        <PropertyControl
          v-if="
            members[i] &&
            home.property(members[i]!.device, members[i]!.property) &&
            home.state(members[i]!.device, members[i]!.property)
          "
          :device="members[i]!.device"
          :property="home.property(members[i]!.device, members[i]!.property)!"
          :state="home.state(members[i]!.device, members[i]!.property)!"
        />
        <span v-else />
        <button v-if="value" type="button" class="plain soft" aria-label="Remove from the mirror" @click="drop(i)">
          ×
        </button>
      </li>
    </ul>
    <p v-if="problemAt('members') && members.length === 1" class="problem">{{ problemAt('members') }}</p>
    <p class="line">
      <span class="soft">After a time apart, such as a power cut, all follow </span>
      <TokenPicker
        :model-value="copy.winner ?? 'latest'"
        :choices="winners"
        label="Whom they follow after a time apart"
        @update:model-value="set({ winner: $event === 'first' ? 'first' : undefined })"
      />
    </p>
    <NoteField :model-value="copy.note" @update:model-value="set({ note: $event })" />
    <UsedBy :uses="mirror.usedBy" />
    <EarlierVersions :id="mirror.id" kind="mirror" :revision="mirror.revision" />
  </DefinitionEditor>
</template>

<style scoped>
ul {
  margin: var(--space-8) 0 0;
  padding: 0;
  list-style: none;
  border-top: 1px solid var(--ink);
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(180px, 320px) 24px;
  gap: var(--space-14);
  align-items: center;
  padding: var(--space-10) 0 var(--space-10) var(--space-8);
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid transparent;
}
.differs {
  border-left-color: var(--ember);
}
.what {
  display: grid;
  gap: var(--space-2);
  justify-items: start;
}
.line {
  padding: var(--space-12) 0 0;
  font-size: var(--type-lead);
}
.small,
.problem {
  font-size: var(--type-small);
}
.problem {
  color: var(--ember);
}
@media (max-width: 720px) {
  li {
    grid-template-columns: minmax(0, 1fr) 24px;
  }
  .what {
    grid-column: 1 / -1;
  }
}
</style>
