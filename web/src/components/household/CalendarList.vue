<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import type { Calendar } from '@/api/types'
import { useChanges } from '@/stores/changes'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import CommitInput from '@/components/inputs/CommitInput.vue'
import EarlierVersions from '@/components/documents/EarlierVersions.vue'
import UsedBy from './UsedBy.vue'

/** Calendars elsewhere that the hub reads: an event of one can start a rule. */
const home = useHome()
const notices = useNotices()
const { change, remove } = useChanges('calendar')
const EVERY_MINUTES = 30

const title = ref('')
const address = ref('')
async function add() {
  const body = { title: title.value.trim(), address: address.value.trim(), everyMinutes: EVERY_MINUTES }
  if (await notices.attempt(() => ask(api.POST('/api/calendars', { body })))) {
    title.value = ''
    address.value = ''
  }
}
const read = (c: Calendar) =>
  notices.attempt(() => ask(api.POST('/api/calendars/{id}/read', { params: { path: { id: c.id } } })))
</script>

<template>
  <section aria-label="Calendars">
    <p v-if="!home.calendars.length" class="soft">
      Calendars elsewhere, in the format of iCalendar: the hub reads them now and again, and their events can start
      rules. A key in an address is hidden once it is saved.
    </p>
    <article v-for="c in home.calendars" :key="c.id" :aria-label="c.title">
      <div class="top">
        <CommitInput
          class="name"
          :value="c.title"
          :aria-label="`Name of the calendar ${c.title}`"
          maxlength="80"
          @commit="$event.trim() && change(c, { title: $event.trim() })"
        />
        <Button size="small" severity="secondary" label="Read now" @click="read(c)" />
        <button
          class="plain soft"
          :aria-label="`Remove the calendar ${c.title}`"
          @click="remove(c, `${c.title} removed.`)"
        >
          ×
        </button>
      </div>
      <CommitInput
        class="address mono"
        :value="c.address"
        :aria-label="`Address of ${c.title}`"
        maxlength="2000"
        @commit="$event.trim() && change(c, { address: $event.trim() })"
      />
      <p class="soft small">
        {{ c.readAt ? `Read ${home.times.since(c.readAt, home.now)}` : 'Not read yet' }}, every
        <CommitInput
          class="every"
          :value="String(c.everyMinutes)"
          :aria-label="`How often ${c.title} is read, in minutes`"
          inputmode="numeric"
          maxlength="4"
          @commit="change(c, { everyMinutes: Number($event) || EVERY_MINUTES })"
        />
        min.
        <label class="own">
          <Checkbox
            :model-value="c.ownMachine ?? false"
            binary
            @update:model-value="change(c, { ownMachine: $event })"
          />
          It may be on this machine
        </label>
      </p>
      <p v-if="c.failed" class="failed" role="alert">It could not be read: {{ c.failed }}</p>
      <p v-for="s in c.skipped ?? []" :key="s" class="failed small">Left out: {{ s }}</p>
      <ol v-if="c.next.length" class="next" :aria-label="`What comes next in ${c.title}`">
        <li v-for="(e, i) in c.next" :key="i">
          <span class="mono when">{{ e.days ? home.times.date(e.begin) : home.times.since(e.begin, home.now) }}</span>
          <span>{{ e.title }}</span>
          <span v-if="e.where" class="soft small">{{ e.where }}</span>
        </li>
      </ol>
      <p v-else-if="c.readAt && !c.failed" class="soft small">Nothing stands in it for the next year.</p>
      <UsedBy :uses="c.usedBy" />
      <EarlierVersions :id="c.id" kind="calendar" :revision="c.revision" />
    </article>
    <form class="row" @submit.prevent="add">
      <InputText v-model="title" placeholder="New calendar" aria-label="Name of the new calendar" maxlength="80" />
      <InputText
        v-model="address"
        class="grow"
        placeholder="https://…/house.ics"
        aria-label="Address of the new calendar"
        maxlength="2000"
      />
      <Button type="submit" severity="secondary" label="Add" :disabled="!title.trim() || !address.trim()" />
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
.name,
.grow {
  flex: 1;
  min-width: 0;
}
.name {
  font-weight: 650;
}
.address {
  width: 100%;
  font-size: var(--type-small);
}
.every {
  width: 56px;
}
.own {
  display: inline-flex;
  gap: var(--space-6);
  align-items: center;
  margin-left: var(--space-12);
}
.failed {
  color: var(--ember);
}
.next {
  margin: var(--space-6) 0;
  padding: 0;
  list-style: none;
}
.next li {
  display: flex;
  gap: var(--space-10);
  align-items: baseline;
  padding: var(--space-2) 0;
}
.when {
  min-width: 108px;
  font-size: var(--type-small);
}
.row {
  margin-top: var(--space-12);
}
</style>
