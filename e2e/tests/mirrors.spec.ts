import { expect, test } from '../support/fixtures'
import { named, quietEvening, value, withoutCurves } from '../support/home'
import { pick } from '../support/words'

test.use({ flags: ['--fresh'] })

test('a wall switch and a lamp are kept at the same state, whoever changes which; each change is one command', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  await withoutCurves(hub)
  const lamp = await named(hub, 'East bedside lamp')
  const wall = await named(hub, 'East room switch')
  const level = () => value(hub, 'East bedside lamp', 'brightness').then(Number)
  const lit = () => value(hub, 'East room switch', 'on')
  type Entry = { id: number; kind: string; device?: string }
  const newest = async () => (await hub.get<Entry[]>('/api/journal?limit=1'))[0]?.id ?? 0
  const commands = async (device: string, since: number) =>
    (await hub.get<Entry[]>(`/api/journal?device=${device}&limit=50`)).filter(
      (e) => e.id > since && e.kind === 'commanded',
    ).length
  /** Does something, and says how many commands the lamp and the switch were sent. */
  const doing = async (what: () => Promise<unknown>, brightness: number, on: boolean) => {
    const before = await newest()
    await what()
    await expect.poll(level).toBeCloseTo(brightness, 0)
    await expect.poll(lit).toBe(on)
    await hub.advance(20)
    expect(await level()).toBeCloseTo(brightness, 0)
    expect(await lit()).toBe(on)
    return [await commands(lamp.id, before), await commands(wall.id, before)]
  }
  const set = (to: number) => hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: to })
  const press = () => hub.bench({ what: 'rocker', node: 'n54', button: 0, gesture: 'down' })

  await page.goto(`${hub.url}/mirrors/mirror-east`)
  await expect(page.getByRole('status').filter({ hasText: 'all agree' })).toBeVisible()
  await doing(() => set(0), 0, false)
  expect(await doing(() => set(40), 40, true)).toEqual([1, 1]) // by a dashboard or a page
  expect(await doing(press, 0, false)).toEqual([1, 0]) // at the wall: the small lamp is out by itself
  expect(await doing(press, 40, true)).toEqual([1, 0]) // on as it was on last
  expect(await doing(() => hub.bench({ what: 'lamp', lamp: '19', on: false }), 0, false)).toEqual([0, 1]) // by its maker's app
  expect(await doing(() => hub.bench({ what: 'lamp', lamp: '19', on: true, level: 72 }), 72, true)).toEqual([0, 1])
  const scene = await hub.send('POST', '/api/scenes', {
    title: 'Bedtime',
    fadeSeconds: 0,
    targets: [{ device: lamp.id, property: 'brightness', value: 0 }],
  })
  const { id } = (await scene.json()) as { id: string }
  expect(await doing(() => hub.send('POST', `/api/scenes/${id}/apply`), 0, false)).toEqual([1, 1]) // by a scene

  // The bridge tells an old state as the lamp is switched on, and the truth later: nothing goes to and fro.
  await hub.bench({ what: 'lie', lamp: '19', on: true })
  const before = await newest()
  await set(55)
  await expect.poll(lit).toBe(true)
  await hub.advance(1)
  await hub.bench({ what: 'lie', lamp: '19', on: false })
  await expect.poll(level).toBeCloseTo(55, 0)
  await hub.advance(20)
  expect(await lit()).toBe(true)
  expect([await commands(lamp.id, before), await commands(wall.id, before)]).toEqual([1, 1])

  // Paused, each goes its own way; at work again all follow the one that was changed last.
  await page.getByRole('button', { name: 'Pause the mirror' }).click()
  await expect(page.getByText('paused · saved')).toBeVisible()
  await set(0)
  await expect.poll(level).toBe(0)
  expect(await lit()).toBe(true)
  await page.getByRole('button', { name: 'Resume the mirror' }).click()
  await expect.poll(lit).toBe(false)
  await expect(page.getByRole('status').filter({ hasText: 'all agree' })).toBeVisible()

  // It goes on after a power cut.
  await hub.kill()
  await hub.again()
  await expect.poll(async () => (await named(hub, 'East bedside lamp')).silent).toBe(false)
  await expect.poll(async () => (await named(hub, 'East room switch')).silent).toBe(false)
  await set(30)
  await expect.poll(lit).toBe(true)

  // From nothing; what cannot be at the same state says so where it is.
  await page.goto(`${hub.url}/mirrors`)
  await page.getByRole('button', { name: 'Make a mirror' }).click()
  await page.getByLabel('Name of the mirror').fill('Loft')
  await expect(page.getByText('Choose two or more things').first()).toBeVisible()
  const list = page.getByRole('list', { name: 'Kept at the same state' })
  await pick(list, /^What is kept/, 'Loft lamp brightness')
  await pick(list.getByRole('listitem').last(), /^What is kept/, 'Table lamp color temperature')
  await expect(list.getByText('Brightness and Color temperature cannot be at the same state.')).toBeVisible()
  await pick(list.getByRole('listitem').nth(1), /^What is kept/, 'Loft plug power')
  await expect(page.getByRole('status').filter({ hasText: 'all agree' })).toBeVisible()
  await hub.send('PUT', `/api/devices/${(await named(hub, 'Loft lamp')).id}/properties/brightness`, { value: 25 })
  await expect.poll(() => value(hub, 'Loft plug', 'power')).toBe(true)
})
