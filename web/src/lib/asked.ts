import { ref } from 'vue'
import { useAttempt } from './attempt'

/** Something that is asked of the hub: whether it is under way, and what fails is told. */
export function useAsked() {
  const attempted = useAttempt()
  const asked = ref(false)
  async function attempt(action: () => Promise<unknown>) {
    asked.value = true
    await attempted(action)
    asked.value = false
  }
  return { asked, attempt }
}
