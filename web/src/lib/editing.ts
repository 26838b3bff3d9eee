import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { useChanges, type Removable } from '@/stores/changes'
import { useAutosave } from './autosave'
import { documentOf, type Documents } from './documents'

/** The editing of a definition that is shown: its copy, which saves itself, and its removal, after which its list is shown. */
export function useEditing<K extends Removable>(
  kind: K,
  view: () => Documents[K] & { id: string; title: string; revision: number },
  list: string,
) {
  const router = useRouter()
  const live = computed(() => documentOf(kind, view()))
  const edit = useAutosave(kind, { id: () => view().id, live: () => live.value, revision: () => view().revision })
  const { copy } = edit
  return {
    edit,
    copy,
    /** Changes a part of it. */
    set(part: Partial<Documents[K]>) {
      if (copy.value) copy.value = { ...copy.value, ...part }
    },
    remove: () => useChanges(kind).remove(view(), undefined, () => router.push(list)),
  }
}

/** What the frame of an editor needs, whatever is edited. */
export type Edit = Omit<ReturnType<typeof useAutosave>, 'copy'>
