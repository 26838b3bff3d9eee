import { defineStore } from 'pinia'
import { ref } from 'vue'
import { Problem } from '@/api/client'

export interface Notice {
  id: number
  text: string
  fault: boolean
  undo?: () => Promise<unknown>
}

const SHOWN_FOR = 12_000

/** Short notices at the foot of the page: what was done, with its undo, and what failed. */
export const useNotices = defineStore('notices', () => {
  const list = ref<Notice[]>([])
  let count = 0

  function add(notice: Omit<Notice, 'id'>) {
    const id = ++count
    list.value = [...list.value.slice(-2), { ...notice, id }]
    setTimeout(() => drop(id), SHOWN_FOR)
  }

  function drop(id: number) {
    list.value = list.value.filter((n) => n.id !== id)
  }

  function done(text: string, undo?: () => Promise<unknown>) {
    add({ text, fault: false, undo })
  }

  function fault(error: unknown) {
    add({ text: error instanceof Problem ? error.message : `Something went wrong in this page: ${error}`, fault: true })
  }

  /** Runs something and tells of its failure; returns whether it worked. */
  async function attempt(action: () => Promise<unknown>): Promise<boolean> {
    try {
      await action()
      return true
    } catch (error) {
      fault(error)
      return false
    }
  }

  async function undo(notice: Notice) {
    drop(notice.id)
    if (notice.undo) await attempt(notice.undo)
  }

  async function undoLast() {
    const last = list.value.findLast((n) => n.undo)
    if (last) await undo(last)
  }

  return { list, done, fault, attempt, drop, undo, undoLast }
})
