import { ref } from 'vue'
import { useNotices } from '@/stores/notices'

/** Something that is asked of the hub: whether it is under way, and what fails is told. */
export function useAsked() {
  const notices = useNotices()
  const asked = ref(false)
  async function attempt(action: () => Promise<unknown>) {
    asked.value = true
    await notices.attempt(action)
    asked.value = false
  }
  return { asked, attempt }
}
