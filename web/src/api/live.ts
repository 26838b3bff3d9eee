import type { Message } from './types'

const FIRST_WAIT = 300
const LONGEST_WAIT = 5000

/** Keeps a live feed open: calls joined at every (re)connection, told for every message, lost when it breaks. */
export function follow(handlers: {
  joined: () => Promise<void>
  told: (m: Message) => void
  lost: () => void
}): () => void {
  let socket: WebSocket | undefined
  let wait = FIRST_WAIT
  let timer: ReturnType<typeof setTimeout> | undefined
  let ended = false

  function open() {
    const scheme = location.protocol === 'https:' ? 'wss' : 'ws'
    socket = new WebSocket(`${scheme}://${location.host}/api/live`)
    socket.onopen = () => {
      // When not everything could be read, joining again tries again.
      handlers.joined().then(
        () => (wait = FIRST_WAIT),
        () => socket?.close(),
      )
    }
    socket.onmessage = (event) => handlers.told(JSON.parse(String(event.data)) as Message)
    socket.onclose = () => {
      if (ended) return
      handlers.lost()
      timer = setTimeout(open, wait)
      wait = Math.min(LONGEST_WAIT, wait * 1.7)
    }
  }

  open()
  return () => {
    ended = true
    clearTimeout(timer)
    socket?.close()
  }
}
