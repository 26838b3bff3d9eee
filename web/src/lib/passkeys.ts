import { computed, ref } from 'vue'
import { api, ask, Problem } from '@/api/client'
import { useNotices } from '@/stores/notices'

type Passkeys = typeof import('@simplewebauthn/browser')
type Creation = Parameters<Passkeys['startRegistration']>[0]['optionsJSON']
type Request = Parameters<Passkeys['startAuthentication']>[0]['optionsJSON']

const numbers = /^[\d.]+$|^\[/

/** Whether browsers have passkeys for the address at which this page is open: for names alone, where nobody reads along. */
export function passkeysHere(): boolean {
  return isSecureContext && 'PublicKeyCredential' in window && !numbers.test(location.hostname)
}

/** Says why the browser came back without a passkey; nothing where somebody only thought better of it. */
function refused(error: unknown): unknown {
  if (!(error instanceof Error)) return error
  if (error.name === 'NotAllowedError' || error.name === 'AbortError') return undefined
  if (error.name === 'InvalidStateError') return new Problem(0, 'This device has a passkey for you here already.')
  return error
}

/** Asks the browser for a passkey and tells the hub; false where somebody thought better of it. */
async function asking(work: (passkeys: Passkeys) => Promise<void>): Promise<boolean> {
  try {
    await work(await import('@simplewebauthn/browser'))
    return true
  } catch (error) {
    const reason = refused(error)
    if (reason) throw reason
    return false
  }
}

/** Signs in with a passkey of this device. */
export const showPasskey = () =>
  asking(async ({ startAuthentication }) => {
    const { ceremony, options } = await ask(api.POST('/api/session/passkey/offer'))
    const answer = await startAuthentication({ optionsJSON: options as Request })
    await ask(api.POST('/api/session/passkey', { body: { ceremony, answer } }))
  })

/** One's own passkeys. */
export function useOwnPasskeys() {
  const notices = useNotices()
  const list = ref<{ id: string; site: string; on: string; made: string; used?: string }[]>([])
  const busy = ref(false)

  const read = async () => {
    list.value = await ask(api.GET('/api/session/passkeys'))
  }
  async function make() {
    busy.value = true
    await notices.attempt(async () => {
      const made = await asking(async ({ startRegistration }) => {
        const { ceremony, options } = await ask(api.POST('/api/session/passkeys/offer'))
        const answer = await startRegistration({ optionsJSON: options as Creation })
        await ask(api.POST('/api/session/passkeys', { body: { ceremony, answer } }))
      })
      if (made) await read()
    })
    busy.value = false
  }
  const remove = (id: string) =>
    notices.attempt(async () => {
      await ask(api.DELETE('/api/session/passkeys/{id}', { params: { path: { id } } }))
      await read()
    })
  return { list: computed(() => list.value), busy, read, make, remove }
}
