import { expect, test } from '../support/fixtures'
import type { Hub } from '../support/hub'
import { row } from '../support/words'

interface Device {
  id: string
  title: string
  room?: string
  hardware: string
  silent: boolean
  states: { name: string; text: string; certainty: string }[]
  usedBy: { id: string }[]
}
const devices = (hub: Hub) => hub.get<Device[]>('/api/devices')
const device = async (hub: Hub, title: string) => (await devices(hub)).find((d) => d.title === title)

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })

  test('a thermometer with a new id and plugs with new addresses: nothing that uses them notices', async ({
    hub,
    page,
  }) => {
    await hub.bench({ what: 'live', on: false })
    const before = await device(hub, 'Yard thermometer')
    const points = async () =>
      (
        await hub.get<{ points: unknown[] }[]>(
          `/api/history?series=${before?.id}~temperature&from=2026-01-01T00:00:00Z&to=2027-12-31T00:00:00Z`,
        )
      )[0]!.points.length
    const history = await points()
    expect(history).toBeGreaterThan(0)
    await page.goto(`${hub.url}/bench?place=Yard`)
    await page.getByRole('button', { name: 'Change its battery: Yard thermometer' }).click()
    await page.goto(`${hub.url}/found`)
    await page.getByRole('button', { name: /^Put Outdoor thermometer .* in the place of Yard thermometer$/ }).click()
    await expect(page.getByText(/is now Yard thermometer/)).toBeVisible()
    const after = await device(hub, 'Yard thermometer')
    expect(after?.id).toBe(before?.id)
    expect(after?.hardware).not.toBe(before?.hardware)
    await hub.advance(700)
    await expect.poll(points).toBeGreaterThanOrEqual(history)

    await page.goto(`${hub.url}/bench`)
    await page.getByRole('button', { name: 'Restart it' }).click()
    await hub.send('POST', '/api/found/look', {})
    const plug = await device(hub, 'Mill room shelf lamp')
    await hub.send('PUT', `/api/devices/${plug?.id}/properties/power`, { value: true })
    await expect
      .poll(async () => (await device(hub, 'Mill room shelf lamp'))?.states.find((s) => s.name === 'power'))
      .toMatchObject({ text: 'on', certainty: 'confirmed' })
  })

  test('ten devices are renamed and moved at once; what uses them is unchanged, and undo takes it back', async ({
    hub,
    page,
  }) => {
    const scene = await hub.get<unknown>('/api/scenes')
    await page.goto(`${hub.url}/devices?by=maker&search=lumbrook`)
    await page.getByRole('button', { name: 'Select several' }).click()
    const boxes = page.getByRole('checkbox', { name: /^Choose / })
    for (let i = 0; i < 10; i++) await boxes.nth(i).check()
    await expect(page.getByRole('heading', { name: '10 devices chosen' })).toBeVisible()
    const names = page.getByRole('textbox', { name: /^New name of / })
    await expect(names).toHaveCount(10)
    const old = await names.evaluateAll((list) => list.map((i) => (i as HTMLInputElement).value))
    for (let i = 0; i < 10; i++) await names.nth(i).fill(`Lamp number ${i}`)
    await page.getByRole('combobox', { name: 'Room for all' }).click()
    await page.getByRole('option', { name: 'Reading loft' }).click()
    await page.getByLabel('Label for all').fill('moved')
    await page.getByRole('button', { name: 'Change them' }).click()
    await expect(page.getByText('10 devices changed.')).toBeVisible()
    const moved = (await devices(hub)).filter((d) => d.title.startsWith('Lamp number'))
    expect(new Set(moved.map((d) => d.room))).toEqual(new Set(['room-Reading-loft']))
    expect(await hub.get<unknown>('/api/scenes')).toEqual(scene)
    await page.goto(`${hub.url}/devices?by=label`)
    await expect(page.getByRole('heading', { name: 'moved' })).toBeVisible()
    await page.goBack()
    // The same by the interface for programs: a wrong one among several changes nothing.
    const refused = await hub.send('PATCH', '/api/devices', [{ id: moved[0]?.id, title: 'Kept out' }, { id: 'none' }])
    expect(refused.status).toBe(422)
    expect((await devices(hub)).some((d) => d.title === 'Kept out')).toBe(false)
    await hub.send(
      'PATCH',
      '/api/devices',
      moved.map((d, i) => ({ id: d.id, title: old[i] })),
    )
    expect((await devices(hub)).filter((d) => d.title.startsWith('Lamp number'))).toHaveLength(0)
  })

  test('a connection is paused and resumed, tested, and removed only with what would be lost said', async ({
    hub,
    page,
  }) => {
    await page.goto(`${hub.url}/connections`)
    await row(page, 'Lumbrook bridge').click()
    await page.getByRole('button', { name: 'Test', exact: true }).click()
    await expect(page.getByText(/It answers, in \d+ ms/)).toBeVisible()
    await page.getByRole('button', { name: 'Pause' }).click()
    await expect.poll(async () => (await device(hub, 'Stair lamp'))?.silent).toBe(true)
    const lamp = await device(hub, 'Stair lamp')
    await hub.send('PUT', `/api/devices/${lamp?.id}/properties/brightness`, { value: 70 })
    await expect
      .poll(async () => (await device(hub, 'Stair lamp'))?.states.find((s) => s.name === 'brightness')?.certainty)
      .toBe('failed')
    await page.getByRole('button', { name: 'Resume' }).click()
    await expect
      .poll(async () => (await device(hub, 'Stair lamp'))?.states.find((s) => s.name === 'brightness')?.text)
      .toBe('70 %')

    await page.getByRole('button', { name: 'Edit' }).click()
    await page.getByLabel('Address').fill('nowhere')
    await page.getByRole('button', { name: 'Save', exact: true }).click()
    await expect(page.getByRole('alert').filter({ hasText: 'is not host and port' })).toBeVisible()
    await page.getByRole('button', { name: 'Remove', exact: true }).click()
    await expect(page.getByText('What would be lost:')).toBeVisible()
    await page.getByRole('button', { name: 'Keep it' }).click()
    expect((await hub.send('DELETE', '/api/connections/network')).status).toBe(409)
  })
})

test('which lamp is this: by identify, and by switching it in the maker’s app', async ({ hub, page, context }) => {
  await hub.bench({ what: 'pressBridge' })
  const { bridges } = await hub.get<{ bridges: { address: string }[] }>('/api/found')
  await hub.send('POST', '/api/pairing', { address: bridges[0]?.address })
  await page.goto(`${hub.url}/found`)
  await page.getByRole('button', { name: 'Identify Lumbrook CLX8 Color Lamp 22' }).click()
  await expect
    .poll(async () =>
      (await hub.get<{ lamps: { id: string; blinking: boolean }[] }>('/api/bench')).lamps
        .filter((l) => l.blinking)
        .map((l) => l.id),
    )
    .toEqual(['22'])
  const bench = await context.newPage()
  await bench.goto(`${hub.url}/bench?place=Reading loft`)
  await bench.getByRole('switch', { name: 'Lumbrook CLX8 Color Lamp 22 in its maker’s app' }).click()
  await expect(page.locator('tr.reacting')).toContainText('Lumbrook CLX8 Color Lamp 22')
})

test('from an empty home to everything of the mill, with a missing profile and a wrong key on the way', async ({
  hub,
  page,
}) => {
  await hub.bench({ what: 'pressBridge' })
  await page.goto(`${hub.url}/found`)
  await page.getByRole('button', { name: 'Pair', exact: true }).click()
  await expect(page.getByText('The key works: 21 devices behind the bridge')).toBeVisible()

  await page.getByLabel('Address to look at').fill('127.0.0.1:1')
  await page.getByRole('button', { name: 'Look there' }).click()
  await expect(page.getByText('Nothing answers at 127.0.0.1:1.')).toBeVisible()
  const { radio } = await hub.get<{ radio: { address: string } }>('/api/bench')
  await page.getByLabel('Address to look at').fill(radio.address)
  await page.getByRole('button', { name: 'Look there' }).click()
  await page.getByRole('button', { name: 'Connect to Haskett transceiver' }).click()
  await expect(page.getByText('Haskett transceiver is connected.')).toBeVisible()
  await hub.advance(700)
  for (const [id, button] of [
    ['20F4', 1],
    ['20F4', 2],
    ['31B7', 1],
  ] as const)
    await hub.bench({ what: 'key', radio: id, button, on: true })

  await page.getByRole('button', { name: 'Install it' }).click()
  const lock = 'Penrook L5 Lock 1'
  await page.getByRole('textbox', { name: `Key for ${lock}` }).fill('guess')
  await page.getByRole('button', { name: `Try the key for ${lock}` }).click()
  await expect(page.getByText('The device does not accept the key.')).toBeVisible()
  await page.getByRole('textbox', { name: `Key for ${lock}` }).fill('weir-4417')
  await page.getByRole('button', { name: `Try the key for ${lock}` }).click()
  await expect(page.getByText('The key fits.')).toBeVisible()
  await expect(page.getByText('It needs a key.')).toHaveCount(0)

  await expect(page.getByLabel('Take Outdoor thermometer 7A31 into the home')).toBeVisible()
  await page.getByLabel('Tick all').check()
  await page.getByRole('button', { name: 'Use the rooms that their bridge names' }).click()
  await page.getByRole('button', { name: /^Take \d+ into the home$/ }).click()
  await expect(page.getByText(/^\d+ devices are in the home\.$/)).toBeVisible()
  const all = await devices(hub)
  expect(all.length).toBeGreaterThanOrEqual(60)
  await expect.poll(async () => (await devices(hub)).filter((d) => d.silent).map((d) => d.title)).toEqual([])
  await expect
    .poll(async () =>
      (await devices(hub)).some((d) => d.states.some((s) => s.name === 'locked' && s.text === 'locked')),
    )
    .toBe(true)
})
