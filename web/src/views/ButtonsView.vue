<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import DeviceKeys from '@/components/buttons/DeviceKeys.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import ListDetail from '@/components/page/ListDetail.vue'
import ListRow from '@/components/page/ListRow.vue'
import StateMark from '@/components/marks/StateMark.vue'
import ButtonsOverview from '@/components/overview/ButtonsOverview.vue'
import { hasKeys, keysOf, ruleCount, rulesOf } from '@/lib/keys'
import { useHome } from '@/stores/home'

/** Everything that has keys or turns: wall plates, remotes, dials. */
const home = useHome()
const route = useRoute()
const all = computed(() => home.devices.filter(hasKeys))
const chosen = computed(() => all.value.find((d) => d.id === route.params.id))
const rows = computed(() => all.value.map((device) => ({ device, rules: rulesOf(home.rules, device).length })))
</script>

<template>
  <EmptyPage v-if="!all.length" title="Nothing with keys yet">
    <p>
      Wall plates, remotes and dials stand here once they are in the home: what each of their keys does is chosen here.
    </p>
  </EmptyPage>
  <ListDetail v-else title="Buttons" :note="`${all.length}`" :chosen="!!route.params.id" back="/buttons">
    <template #list>
      <ListRow v-for="{ device: d, rules } in rows" :key="d.id" :to="`/buttons/${d.id}`" :chosen="d.id === chosen?.id">
        <template #mark><StateMark :mark="d.silent ? 'silent' : rules ? 'on' : 'off'" /></template>
        {{ d.title }}
        <template #value>{{ keysOf(d).length === 1 ? '1 key' : `${keysOf(d).length} keys` }}</template>
        <template #reason>{{ [home.roomTitle(d.room), ruleCount(rules)].filter(Boolean).join(' · ') }}</template>
      </ListRow>
    </template>
    <DeviceKeys v-if="chosen" :key="chosen.id" :device="chosen" />
    <p v-else-if="route.params.id" class="soft">This device was removed, or has no keys.</p>
    <ButtonsOverview v-else :devices="all" />
  </ListDetail>
</template>
