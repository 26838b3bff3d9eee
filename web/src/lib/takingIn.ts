import { watch } from 'vue'
import { api, ask, Problem } from '@/api/client'
import type { FoundDevice } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'

/** How long a device that was just made may take to be found, in ms. */
const FOUND_WITHIN = 10_000

/** Whether a device that is made is taken into the home at once, and where to. */
export interface Taking {
  taken: boolean
  room: string | null
}
export const takingIn = (): Taking => ({ taken: true, room: null })

interface Adding {
  connection: string
  hardware: string
  title: string
  room?: string
}

/** Takes found devices into the home; that can be undone. Returns their ids. */
export async function takeIn(devices: Adding[]): Promise<string[]> {
  const ids = await ask(api.POST('/api/devices', { body: devices }))
  const said = devices.length === 1 ? `${devices[0]!.title || '1 device'} is` : `${devices.length} devices are`
  useNotices().done(`${said} in the home.`, () =>
    Promise.all(ids.map((id) => ask(api.DELETE('/api/devices/{id}', { params: { path: { id } } })))),
  )
  return ids
}

/** Returns a device once it is found by a connection, by what its hardware is called. */
export function whenFound(hardware: string): Promise<FoundDevice> {
  const home = useHome()
  return new Promise((resolve, reject) => {
    const limit = setTimeout(() => {
      stop()
      reject(new Problem(0, 'It is made, but has not been found yet. Look for it under Found.'))
    }, FOUND_WITHIN)
    const stop = watch(
      () => home.found.devices.find((d) => d.hardware === hardware),
      (device) => {
        if (!device) return
        clearTimeout(limit)
        resolve(device)
        queueMicrotask(() => stop())
      },
      { immediate: true },
    )
  })
}

/** Takes a device that was just made into the home, where that is wanted; returns the address to go on at. */
export async function goOnWith(made: { id?: string; title?: string }, taking: Taking): Promise<string> {
  const title = made.title ?? ''
  if (!taking.taken) {
    useNotices().done(`${title} is among the found devices.`)
    return '/found'
  }
  const { connection, hardware } = await whenFound(made.id ?? '')
  const [id] = await takeIn([{ connection, hardware, title, room: taking.room ?? undefined }])
  return `/devices/${id}`
}
