import type { Message } from './types'

const FIRST_WAIT = 300
const LONGEST_WAIT = 5000

/** The last message that was taken, by which what came after it is caught up with. */
export interface Known {
  run: string
  number: number
}

export interface Feed {
  /** Says what is looked at besides the home itself. */
  look(at: string[]): void
  end(): void
}

/**
 * Keeps a live feed open. The first message of each (re)connection says whether what was known before is enough; told is
 * called for every message, one after the other, and lost when the feed breaks. Where told fails, the feed is joined again.
 */
export function follow(handlers: {
  known: () => Known | undefined
  told: (m: Message) => Promise<void>
  lost: () => void
}): Feed {
  let socket: WebSocket | undefined
  let wait = FIRST_WAIT
  let timer: ReturnType<typeof setTimeout> | undefined
  let ended = false
  let looking: string[] = []

  function open() {
    const scheme = location.protocol === 'https:' ? 'wss' : 'ws'
    const known = handlers.known()
    const query = new URLSearchParams({
      look: looking.join(','),
      ...(known && { run: known.run, since: String(known.number) }),
    })
    const now = new WebSocket(`${scheme}://${location.host}/api/live?${query}`)
    const asked = looking
    now.onopen = () => void (looking !== asked && now.send(JSON.stringify({ look: looking })))
    socket = now
    let last = Promise.resolve()
    now.onmessage = (event) => {
      const message = JSON.parse(String(event.data)) as Message
      last = last
        .then(() => handlers.told(message))
        .then(
          () => void (wait = FIRST_WAIT),
          () => now.close(),
        )
    }
    now.onclose = () => {
      if (ended) return
      handlers.lost()
      timer = setTimeout(open, wait)
      wait = Math.min(LONGEST_WAIT, wait * 1.7)
    }
  }

  open()
  return {
    look(at) {
      looking = at
      if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify({ look: at }))
    },
    end() {
      ended = true
      clearTimeout(timer)
      socket?.close()
    },
  }
}
