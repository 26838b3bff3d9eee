import { ref } from 'vue'
import { reasonOf } from '@/api/client'

/** Reads something from the hub, and keeps why that failed until it could be read; what can be tried again is shown with `ErrorNote`. */
export function useReading(read: () => Promise<unknown>) {
  const failed = ref('')
  async function again() {
    try {
      await read()
      failed.value = ''
    } catch (error) {
      failed.value = reasonOf(error)
    }
  }
  return { failed, again }
}
