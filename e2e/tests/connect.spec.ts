import { expect, test } from '../support/fixtures'
import { fromNothing, pick } from '../support/words'

interface Found {
  devices: { label: string; gateway?: string; device?: string; groups?: string }[]
}
interface Connection {
  id: string
  gateways: { name: string; openUntil?: string }[]
}

test('a radio gateway is opened to new devices, shows what joins, and shuts by itself', async ({
  hub,
  page,
  context,
}) => {
  const open = async () => (await hub.get<Connection[]>('/api/connections')).some((c) => c.gateways[0]?.openUntil)
  await page.goto(`${hub.url}/found`)
  await expect(page.getByText('Shut: no new device can join.')).toBeVisible()
  const bench = await context.newPage()
  await bench.goto(`${hub.url}/bench?place=Galley`)
  await bench.getByRole('button', { name: 'Press its joining button: QL-1 Leak Node 50' }).click()
  await expect(bench.getByText('looks for a gateway')).toBeVisible()
  await hub.advance(70)
  await expect(bench.getByText('looks for a gateway')).toHaveCount(0)

  await page.getByRole('button', { name: 'Let devices join' }).click()
  await expect(page.getByRole('timer')).toHaveText(/^(90|8\d) s$/)
  await expect(page.getByText('Nothing has joined yet.')).toBeVisible()
  await bench.getByRole('button', { name: 'Press its joining button: QL-1 Leak Node 50' }).click()
  await expect(page.getByText('Joined: QL-1 Leak Node 50')).toBeVisible()
  await expect(page.getByLabel('Take QL-1 Leak Node 50 into the home')).toBeVisible()
  await hub.advance(95)
  await expect(page.getByText('Shut: no new device can join.')).toBeVisible()
  expect(await open()).toBe(false)

  await page.getByRole('button', { name: 'Let devices join' }).click()
  await page.getByRole('button', { name: 'Shut it' }).click()
  await expect(page.getByText('Shut: no new device can join.')).toBeVisible()

  // Killed while it is open: the time went along to the gateway, so it is never left open.
  await page.getByRole('button', { name: 'Let devices join' }).click()
  await expect.poll(open).toBe(true)
  await hub.kill()
  await hub.again()
  await hub.advance(100)
  await expect.poll(open).toBe(false)
  expect((await hub.send('POST', '/api/connections/gateways/join', { gateway: 'g-41f0', seconds: 4000 })).status).toBe(
    422,
  )
  expect((await hub.send('POST', '/api/connections/gateways/join', { gateway: 'none', seconds: 40 })).status).toBe(404)
})

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })

  test('a plate of another maker starts a rule, and only one side acts on a press', async ({ hub, page }) => {
    await hub.bench({ what: 'live', on: false })
    interface Device {
      id: string
      title: string
      states: { name: string; text: string }[]
    }
    const state = async (title: string, name: string) =>
      (await hub.get<Device[]>('/api/devices')).find((d) => d.title === title)?.states.find((s) => s.name === name)
        ?.text
    const plate = (await hub.get<Device[]>('/api/devices')).find((d) => d.title === 'Landing plate')
    await page.goto(`${hub.url}/devices/${plate?.id}`)
    await expect(page.getByText('Who acts on a press')).toBeVisible()
    await page.getByRole('combobox', { name: 'Handled by' }).click()
    await page.getByRole('option', { name: 'this hub' }).click()
    await expect.poll(() => state('Landing plate', 'handler')).toBe('this hub')

    await page.goto(`${hub.url}/rules`)
    await page.getByRole('button', { name: 'New rule' }).click()
    await fromNothing(page)
    await page.getByLabel('Name of the rule').fill('Plate: supper')
    await pick(page, /^Kind of rule/, 'Each time')
    await page.getByRole('button', { name: 'Choose what starts it' }).click()
    await pick(page, /^What starts it/, 'Landing plate button 1')
    await pick(page, /^Which gesture/, 'is held')
    await page.getByRole('button', { name: 'Add a step' }).click()
    await pick(page, /^Step: /, 'apply scene')
    await pick(page, /^Scene: choose/, 'Supper')
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect(page.getByText('Plate: supper is live.')).toBeVisible()

    const before = await state('Worktop lamps', 'brightness')
    await hub.bench({ what: 'press', plate: '42', button: 1, gesture: 'press' })
    await hub.advance(5)
    expect(await state('Worktop lamps', 'brightness')).toBe(before)
    await hub.bench({ what: 'press', plate: '42', button: 1, gesture: 'hold' })
    await expect(page.getByText(/1 in all/)).toBeVisible()
    await hub.advance(5)
    await expect.poll(() => state('Worktop lamps', 'brightness')).toBe('35 %')
    await page.goto(`${hub.url}/journal`)
    await expect(page.getByText('Landing plate: button 1 held').first()).toBeVisible()
  })

  test('a group switched in the maker’s app is followed lamp by lamp', async ({ hub, page }) => {
    await hub.bench({ what: 'live', on: false })
    await page.goto(`${hub.url}/bench`)
    await page.getByRole('button', { name: 'Group Upstairs on from the app' }).click()
    interface Device {
      title: string
      states: { name: string; text: string; holders: { text: string }[] }[]
    }
    for (const title of ['Stair lamp', 'Loft lamp', 'West bedside lamp'])
      await expect
        .poll(
          async () =>
            (await hub.get<Device[]>('/api/devices'))
              .find((d) => d.title === title)
              ?.states.find((s) => s.name === 'brightness')?.text,
        )
        .not.toBe('off')
    const found = await hub.get<Found>('/api/found')
    expect(found.devices.find((d) => d.label === 'Lumbrook CLX8 Color Lamp 22')?.groups).toBe('Upstairs')
  })
})
