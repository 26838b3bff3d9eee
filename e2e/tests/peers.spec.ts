import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import binding from '@node-wot/binding-http'
import { Servient } from '@node-wot/core'
import Ajv, { type ValidateFunction } from 'ajv'
import addFormats from 'ajv-formats'
import { expect, test } from '../support/fixtures'

const { HttpClientFactory, HttpServer } = binding

/** Peers that are not ours: another implementation of the Web of Things, and the standard's own schema. */

interface Device {
  id: string
  title: string
  states: { name: string; value: unknown; text: string }[]
}

async function tdSchema(): Promise<ValidateFunction> {
  const file = createRequire(import.meta.url).resolve('td-schema/schema/td-json-schema-validation.json')
  const ajv = new Ajv({ strict: false, allErrors: true })
  addFormats(ajv)
  ajv.addFormat('iri-reference', true) // RFC 3987, which the package does not check
  return ajv.compile(JSON.parse(await readFile(file, 'utf8')) as object)
}

test('a Thing served by another implementation is added by its address, read, written, invoked and observed', async ({
  hub,
  page,
}) => {
  const servient = new Servient()
  const server = new HttpServer({ port: 0 })
  servient.addServer(server)
  const wot = await servient.start()
  let level = 20
  let blinked = 0
  const thing = await wot.produce({
    title: 'Peer lamp',
    properties: {
      level: { type: 'number', unit: 'percent', minimum: 0, maximum: 100, observable: true },
      warm: { type: 'boolean', readOnly: true },
    },
    actions: { blink: {} },
  })
  thing.setPropertyReadHandler('level', async () => level)
  thing.setPropertyWriteHandler('level', async (value) => {
    level = (await value.value()) as number
    await thing.emitPropertyChange('level')
  })
  thing.setPropertyReadHandler('warm', async () => true)
  thing.setActionHandler('blink', async () => {
    blinked++
    return undefined
  })
  await thing.expose()
  const address = `http://127.0.0.1:${server.getPort()}/peer-lamp`

  try {
    await page.goto(`${hub.url}/found`)
    await page.getByLabel('Address to look at').fill(address)
    await page.getByRole('button', { name: 'Look there' }).click()
    await expect(page.getByText('Peer lamp').first()).toBeVisible()
    await page.getByRole('button', { name: 'List it as found' }).click()
    await page.getByLabel('Take Peer lamp into the home').check()
    await page.getByRole('button', { name: 'Take 1 into the home' }).click()
    await expect(page.getByText(/ is in the home\./)).toBeVisible()
    const device = async () => (await hub.get<Device[]>('/api/devices')).find((d) => d.title.includes('evice'))
    const shown = async () => (await device())?.states.find((s) => s.name === 'level')?.value
    await expect.poll(shown).toBe(20)
    const id = (await device())?.id ?? ''

    await hub.send('PUT', `/api/devices/${id}/properties/level`, { value: 65 })
    await expect.poll(() => level).toBe(65)
    level = 40
    await thing.emitPropertyChange('level')
    await expect.poll(shown).toBe(40)
    await hub.send('POST', `/api/devices/${id}/actions/blink`)
    await expect.poll(() => blinked).toBe(1)
  } finally {
    await hub.kill() // it observes, and a server waits for its observers
    await servient.shutdown()
  }
})

test.describe('the demo home as Things', () => {
  test.use({ flags: ['--fresh'] })

  test('another implementation reads, writes, observes and invokes our devices, with a key of its own', async ({
    hub,
  }) => {
    await hub.bench({ what: 'live', on: false })
    const all = (await (await fetch(`${hub.url}/things`)).json()) as { id: string; title: string }[]
    const validate = await tdSchema()
    expect(all.length).toBeGreaterThan(40)
    for (const td of all) expect(validate(td) ? [] : validate.errors, td.title).toEqual([])

    const lamp = all.find((t) => t.title === 'Worktop lamps')
    const id = lamp?.id.replace('urn:amvek:', '') ?? ''
    expect((await fetch(`${hub.url}/things/${id}/properties/brightness`)).status).toBe(401)
    const { key } = (await (await hub.send('POST', '/api/clients', { name: 'peer' })).json()) as { key: string }
    expect((await hub.send('POST', '/api/clients', { name: 'peer' })).status).toBe(409)

    const servient = new Servient()
    servient.addClientFactory(new HttpClientFactory())
    servient.addCredentials({ [lamp?.id ?? '']: { token: key } })
    const wot = await servient.start()
    try {
      const td = (await (await fetch(`${hub.url}/things/${id}`)).json()) as WoT.ThingDescription
      const thing = await wot.consume(td)
      await hub.send('PUT', `/api/devices/${id}/properties/brightness`, { value: 0 }) // at supper it is on
      await expect.poll(async () => (await thing.readProperty('brightness')).value()).toBe(0)
      const observed: unknown[] = []
      const subscription = await thing.observeProperty('brightness', async (output) => {
        observed.push(await output.value())
      })
      // An observer asks by itself, and may do so for the first time after something was written: it is written until it is seen.
      let level = 40
      await expect
        .poll(async () => {
          level = 100 - level
          await thing.writeProperty('brightness', level)
          return observed.length
        })
        .toBeGreaterThan(0)
      const bench = async () => (await hub.get<{ lamps: { id: string; lit: boolean }[] }>('/api/bench')).lamps
      await expect.poll(async () => (await bench()).find((l) => l.id === '4')?.lit).toBe(true)
      await subscription.stop()
      await thing.invokeAction('identify')
      await expect(thing.writeProperty('brightness', 600)).rejects.toThrow()
    } finally {
      await servient.shutdown()
    }
    await hub.send('DELETE', '/api/clients/peer')
    const after = await fetch(`${hub.url}/things/${id}/properties/brightness`, {
      headers: { Authorization: `Bearer ${key}` },
    })
    expect(after.status).toBe(401)
  })
})
