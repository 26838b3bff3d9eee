import { onScopeDispose, ref } from 'vue'
import type { Value } from '@/api/types'

/** What the hub tells a panel to do. */
export interface Order {
  order: number
  property?: string
  value?: Value
  action?: string
  inputs?: Record<string, Value>
  picture?: string
}

const FIRST_WAIT = 500
const LONGEST_WAIT = 8000

/** A panel's own line to the hub: it says how it is, and does what it is told. It is joined again whenever it breaks. */
export function usePanelLine(obey: (order: Order) => Promise<string | void>, all: () => Record<string, Value>) {
  const open = ref(false)
  let socket: WebSocket | undefined
  let wait = FIRST_WAIT
  let timer: ReturnType<typeof setTimeout> | undefined
  let ended = false
  const said = new Map<string, Value>()

  const send = (message: object) => socket?.readyState === WebSocket.OPEN && socket.send(JSON.stringify(message))
  /** Says how something of the panel is, where that is not as before. */
  function say(property: string, value: Value) {
    if (said.get(property) === value || !open.value) return
    said.set(property, value)
    send({ property, value })
  }
  /** Says that something happened at the panel. What happens while it is not connected is lost, as at any device. */
  const happened = (event: string, value: Value) => send({ event, value })
  async function take(order: Order) {
    try {
      const picture = await obey(order)
      send({ done: order.order, picture: picture || undefined })
    } catch (error) {
      send({ done: order.order, failed: error instanceof Error ? error.message : String(error) })
    }
  }
  function join() {
    socket = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/api/panel`)
    socket.onopen = () => {
      open.value = true
      wait = FIRST_WAIT
      said.clear()
      for (const [property, value] of Object.entries(all())) say(property, value)
    }
    socket.onmessage = (event) => void take(JSON.parse(String(event.data)) as Order)
    socket.onclose = () => {
      open.value = false
      if (ended) return
      timer = setTimeout(join, wait)
      wait = Math.min(LONGEST_WAIT, wait * 1.7)
    }
  }
  join()
  onScopeDispose(() => {
    ended = true
    clearTimeout(timer)
    socket?.close()
  })
  return { open, say, happened }
}
