<script setup lang="ts">
import Button from 'primevue/button'
import type { Pick } from '@/api/types'
import type { Edit } from '@/lib/editing'
import { undoKeys } from '@/lib/undoKeys'
import EditClash from './EditClash.vue'
import EditorHead from './EditorHead.vue'
import SaveState from './SaveState.vue'

/** The frame of an editor that saves by itself: its head with undo and its keys, and what is asked where two windows differ. */
const props = defineProps<{
  edit: Edit
  title: string
  label: string
  pick?: Pick
}>()
defineEmits<{ 'update:title': [string]; remove: [] }>()
const onKey = undoKeys(props.edit)
</script>

<template>
  <div @keydown="onKey">
    <EditorHead :title="title" :pick="pick" :label="label" @update:title="$emit('update:title', $event)">
      <slot name="state" /> · <SaveState :edit="edit" />
      <template #buttons>
        <Button severity="secondary" label="Undo" :disabled="!edit.past.value.length" @click="edit.undo()" />
        <Button severity="secondary" label="Redo" :disabled="!edit.future.value.length" @click="edit.redo()" />
        <Button severity="secondary" label="Delete" @click="$emit('remove')" />
        <slot name="buttons" />
      </template>
    </EditorHead>
    <EditClash v-if="edit.clash.value" :changes="edit.clash.value" @mine="edit.keepMine" @theirs="edit.takeTheirs" />
    <slot />
  </div>
</template>
