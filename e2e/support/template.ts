import type { FullConfig } from '@playwright/test'
import { mkdtemp, rename, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Hub, TEMPLATES } from './hub'

/** Below the ports that the system gives to whoever asks for any, so that nobody else has them. */
const FIRST_PORT = 21_000
const PORTS_EACH = 10

/** When the demo homes begin: shortly before most tests want it to be, so that nearly no time is to be lived through, whatever the
 * hour is at which the tests run. */
const BEGINS = '19:30'

/** Makes the demo home, a day old, once for each worker: living through that day takes longer than most tests. */
export default async function makeTemplates(config: FullConfig): Promise<() => Promise<void>> {
  const folder = await mkdtemp(join(tmpdir(), 'amvek-e2e-homes-'))
  const make = async (worker: number) => {
    const hub = await Hub.start('--fresh', '--boxes', String(FIRST_PORT + worker * PORTS_EACH))
    await hub.bench({ what: 'jump', clock: BEGINS })
    await hub.shutDown()
    await rename(hub.data, join(folder, String(worker)))
  }
  await Promise.all(Array.from({ length: config.workers }, (_, worker) => make(worker)))
  process.env[TEMPLATES] = folder
  return () => rm(folder, { recursive: true, force: true })
}
