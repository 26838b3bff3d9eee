<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import MultiSelect from 'primevue/multiselect'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import CommitInput from '@/components/inputs/CommitInput.vue'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import UsedBy from './UsedBy.vue'

/** Named lists of devices: a device that is put in is in every rule that uses the group. */
const home = useHome()
const notices = useNotices()
const { change, remove } = useChanges('group')

const title = ref('')
const choices = computed(() =>
  home.devices.map((d) => ({ value: d.id, title: `${d.title}${d.room ? `, ${home.roomTitle(d.room)}` : ''}` })),
)
async function add() {
  const made = await notices.attempt(() =>
    ask(api.POST('/api/groups', { body: { title: title.value.trim(), devices: [] } })),
  )
  if (made) title.value = ''
}
</script>

<template>
  <section aria-label="Groups of devices">
    <h2>Groups of devices</h2>
    <p v-if="!home.groups.length" class="soft">
      Devices that rules treat as one, such as the lamps outside. A device put in here is in every rule at once.
    </p>
    <article v-for="g in home.groups" :key="g.id">
      <div class="top">
        <CommitInput
          class="name"
          :value="g.title"
          :aria-label="`Name of the group ${g.title}`"
          maxlength="80"
          @commit="$event.trim() && change(g, { title: $event.trim() })"
        />
        <button
          class="plain soft"
          :aria-label="`Remove the group ${g.title}`"
          @click="remove(g, `${g.title} removed.`)"
        >
          ×
        </button>
      </div>
      <MultiSelect
        :model-value="g.devices"
        :options="choices"
        option-value="value"
        option-label="title"
        filter
        display="chip"
        placeholder="Choose devices"
        class="members"
        :aria-label="`Devices of ${g.title}`"
        @update:model-value="change(g, { devices: $event })"
      />
      <UsedBy :uses="g.usedBy" />
      <EarlierVersions :id="g.id" kind="group" :revision="g.revision" />
    </article>
    <form class="row" @submit.prevent="add">
      <InputText v-model="title" placeholder="New group" aria-label="Name of the new group" maxlength="80" />
      <Button type="submit" severity="secondary" label="Add" :disabled="!title.trim()" />
    </form>
  </section>
</template>

<style scoped>
article {
  border-top: 1px solid var(--rule);
  padding: var(--space-8) 0 var(--space-12);
}
.top,
.row {
  display: flex;
  gap: var(--space-8);
  align-items: center;
}
.name {
  flex: 1;
  font-weight: 650;
}
.members {
  width: 100%;
}
.members :deep(.p-multiselect-label) {
  flex-wrap: wrap;
}
.row {
  margin-top: var(--space-12);
}
</style>
