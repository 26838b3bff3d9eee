import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { api, ask, reasonOf, whenOutside } from '@/api/client'
import type { Session } from '@/api/types'

/** Who this browser is to the hub, and what they may do here. */
export const useSession = defineStore('session', () => {
  const view = shallowRef<Session>()
  /** Why it is not known. */
  const failed = shallowRef('')

  async function read() {
    try {
      view.value = await ask(api.GET('/api/session'))
      failed.value = ''
    } catch (error) {
      failed.value = reasonOf(error)
    }
  }
  whenOutside(() => void read())

  /** Begins anew as somebody else: nothing that was read before stays. */
  function begin() {
    location.assign('/')
  }

  const signIn = async (title: string, password: string) => {
    await ask(api.POST('/api/session', { body: { title, password } }))
    begin()
  }
  const becomeOwner = async (code: string, title: string, password: string) => {
    await ask(api.POST('/api/owner', { body: { code, title, password } }))
    begin()
  }
  const comeIn = async (code: string) => {
    await ask(api.POST('/api/session/code', { body: { code } }))
    begin()
  }
  const byPasskey = async () => {
    const { showPasskey } = await import('@/lib/passkeys')
    if (await showPasskey()) begin()
  }
  const signOut = async () => {
    await ask(api.DELETE('/api/session'))
    begin()
  }
  const lookAs = async (person: string) => {
    await ask(api.PUT('/api/session/eyes', { body: { person } }))
    begin()
  }

  const state = computed(() => view.value?.state)
  const role = computed(() => view.value?.role)
  /** Whether they change what the home is made of. */
  const setsUp = computed(() => role.value === 'owner')
  const guest = computed(() => role.value === 'guest')
  const panel = computed(() => role.value === 'panel')
  return {
    view,
    failed,
    state,
    role,
    setsUp,
    guest,
    panel,
    read,
    signIn,
    becomeOwner,
    comeIn,
    byPasskey,
    signOut,
    lookAs,
  }
})
