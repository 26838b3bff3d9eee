import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { expect, test } from '../support/fixtures'
import { make, named, quietEvening, value } from '../support/home'
import { fromNothing, open, pick } from '../support/words'

/** A device that describes itself, of no maker that the hub knows. It tells what it was asked for. */
async function barrel() {
  const asked: string[] = []
  const server = createServer((request, response) => {
    asked.push(`${request.method} ${request.url}`)
    response.setHeader('Content-Type', 'application/json')
    if (request.url === '/measure') response.end(JSON.stringify({ water: { liters: 4.5 } }))
    else if (request.method === 'PUT') response.writeHead(204).end()
    else if (request.url === '/speed') response.end('2')
    else response.end(JSON.stringify({ lid: { open: true, angle: { degrees: 30 } } }))
  })
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready))
  const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  const description = {
    '@context': 'https://www.w3.org/2022/wot/td/v1.1',
    id: 'urn:test:barrel',
    title: 'Rain barrel',
    base,
    security: 'n',
    securityDefinitions: { n: { scheme: 'nosec' } },
    properties: {
      state: {
        type: 'object',
        readOnly: true,
        title: 'Lid',
        properties: {
          lid: {
            type: 'object',
            properties: {
              open: { type: 'boolean' },
              angle: { type: 'object', properties: { degrees: { type: 'number' } } },
              history: { type: 'array' },
            },
          },
        },
        forms: [{ href: '/state' }],
      },
      speed: { title: 'Pump speed', enum: [1, 2, 3], forms: [{ href: '/speed' }] },
    },
    actions: { measure: { title: 'Measure', output: { type: 'object' }, forms: [{ href: '/measure' }] } },
  }
  return { server, asked, document: JSON.stringify(description) }
}

test('a device of any maker: described, not asked before it is taken, read, set, and what it answers used', async ({
  hub,
  page,
}) => {
  const { server, asked, document } = await barrel()
  try {
    const check = await hub.send('POST', '/api/things/check', { document })
    expect(await check.text()).toContain('values of the type \\"array\\" cannot be used')
    expect((await hub.send('POST', '/api/things', { document })).status).toBe(200)
    const found = () => hub.get<{ devices: { hardware: string; connection: string }[] }>('/api/found')
    const mine = async () => (await found()).devices.find((d) => d.hardware === 'urn:test:barrel')
    await expect.poll(mine).toBeTruthy()
    await hub.send('POST', '/api/found/look', {})
    expect(asked).toEqual([])
    const { connection, hardware } = (await mine())!
    expect((await hub.send('POST', '/api/devices', [{ connection, hardware, title: 'Rain barrel' }])).ok).toBe(true)
    await expect.poll(() => asked.length).toBeGreaterThan(0)

    const { id } = await named(hub, 'Rain barrel')
    await page.goto(`${hub.url}/devices/${id}`)
    const main = page.getByRole('main')
    await expect(main.getByText('Lid lid angle degrees').first()).toBeVisible()
    await expect.poll(() => value(hub, 'Rain barrel', 'state/lid/angle/degrees')).toBe(30)
    await expect.poll(() => value(hub, 'Rain barrel', 'speed')).toBe('2')
    await hub.send('PUT', `/api/devices/${id}/properties/speed`, { value: '3' })
    await expect.poll(() => asked).toContain('PUT /speed')
    expect((await hub.send('PUT', `/api/devices/${id}/properties/speed`, { value: '9' })).status).toBe(422)
    await main.getByRole('button', { name: 'Measure' }).click()
    await expect(main.getByRole('status').filter({ hasText: 'Measure was answered with' })).toContainText(
      '"liters":4.5',
    )

    const water = await make(hub, '/api/variables', { title: 'Water', type: 'number', maximum: 200 })
    await page.goto(`${hub.url}/rules`)
    await page.getByRole('button', { name: 'Write the first rule' }).click()
    await fromNothing(page)
    await page.getByRole('textbox', { name: 'Name of the rule' }).fill('How much rain')
    await pick(page, /^Kind of rule/, 'Each time')
    await main.getByRole('button', { name: 'Add a step' }).click()
    await pick(page, /^Step: /, 'ask a device')
    await pick(page, /^What to ask/, 'Rain barrel: measure')
    await pick(page, /^Where the answer goes/, 'Water')
    const part = page.getByRole('textbox', { name: 'Part of the answer' })
    await open(main.getByRole('button', { name: /^Part of the answer/ }), part)
    await part.fill('/water/liters')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect(page.getByText('How much rain is live.')).toBeVisible()
    const [rule] = await hub.get<{ id: string }[]>('/api/rules')
    await hub.send('POST', `/api/rules/${rule!.id}/run`)
    const own = async () =>
      (await hub.get<{ own?: boolean; states: { name: string; value: unknown }[] }[]>('/api/devices'))
        .find((d) => d.own)!
        .states.find((s) => s.name === water)?.value
    await expect.poll(own).toBe(4.5)
    await page.goto(`${hub.url}/journal`)
    await expect(page.getByText('measure was answered with').first()).toBeVisible()
  } finally {
    server.close()
  }
})

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })

  test('set blue, then a white: the lamp shows the white, and so says the hub; a rule puts the color back', async ({
    hub,
    page,
  }) => {
    await quietEvening(hub)
    const lamp = await named(hub, 'Mill room left lamp')
    const shown = async () =>
      (await hub.get<{ lamps: { id: string; swatch: string }[] }>('/api/bench')).lamps.find((l) => l.id === '10')!
        .swatch
    const set = (property: string, to: unknown) =>
      hub.send('PUT', `/api/devices/${lamp.id}/properties/${property}`, { value: to })
    await set('brightness', 80)
    await page.goto(`${hub.url}/devices/${lamp.id}`)
    const main = page.getByRole('main')
    await set('color', { x: 0.15, y: 0.06 })
    await expect.poll(shown).toBe('#0000ff')
    await expect(main.getByText('not in use', { exact: true })).toHaveCount(1)
    await hub.advance(20)
    await set('colorTemperature', 3000)
    await expect.poll(shown).not.toBe('#0000ff')
    await expect.poll(() => value(hub, lamp.title, 'colorTemperature')).toBeCloseTo(3000, -2)
    await expect(main.getByText('not in use', { exact: true })).toHaveCount(1)
    expect(await value(hub, lamp.title, 'color')).toBeNull()
    // A scene takes what is shown, and a rule that holds the other lets it show again.
    const captured = await (await hub.send('POST', '/api/scenes/capture', { devices: [lamp.id] })).json()
    expect((captured as { property: string }[]).map((t) => t.property).sort()).toEqual([
      'brightness',
      'colorTemperature',
    ])
    await hub.advance(20)
    const door = await named(hub, 'Glasshouse door')
    await make(hub, '/api/rules', {
      title: 'Red while it is open',
      enabled: true,
      whenever: { device: door.id, property: 'contact', comparison: 'is', value: true },
      do: [{ kind: 'hold', device: lamp.id, property: 'color', value: { x: 0.6, y: 0.3 } }],
    })
    const white = await shown()
    await hub.bench({ what: 'open', opening: 'Glasshouse door', on: true })
    await expect.poll(shown).not.toBe(white)
    await hub.advance(20)
    await hub.bench({ what: 'open', opening: 'Glasshouse door', on: false })
    await expect.poll(shown).toBe(white)
  })
})
