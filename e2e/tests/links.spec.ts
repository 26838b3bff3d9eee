import { expect, test } from '../support/fixtures'
import { named, quietEvening, value } from '../support/home'
import { fill, pick } from '../support/words'

test.use({ flags: ['--fresh'] })

const left = 'Mill room left lamp'
const floor = 'Mill room floor lamp'

test('the dial dims two lamps of two makers; its stages are changed while both streams are watched', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  const at = (lamp: string) => value(hub, lamp, 'brightness').then(Number)
  const dark = async () => {
    for (const lamp of [left, floor]) {
      const { id } = await named(hub, lamp)
      await hub.send('PUT', `/api/devices/${id}/properties/brightness`, { value: 0 })
      await expect.poll(() => at(lamp)).toBe(0)
    }
  }
  await dark()
  const turn = (notches: number) => hub.bench({ what: 'turn', notches })
  await page.goto(`${hub.url}/links/link-dial`)
  const seen = page.getByRole('region', { name: 'What goes through' })
  await expect(seen.getByRole('img', { name: 'Source: 0 values' })).toBeVisible()

  // Fifty messages a second, each 2 % of what it looks like: 25 notches look like half, which is 18 % of the light.
  await turn(25)
  await expect(seen.getByRole('img', { name: 'Source: 25 values' })).toBeVisible()
  await expect.poll(() => at(left)).toBe(18)
  await expect.poll(() => at(floor)).toBeCloseTo(18, 0)
  const count = async (name: string | RegExp) =>
    Number(/(\d+) values/.exec((await seen.getByRole('img', { name }).getAttribute('aria-label')) ?? '')?.[1])
  // Half a second at five a second, the first at once and the last never lost.
  expect(await count(/^After stage 3/)).toBeLessThanOrEqual(5)
  expect(await count(/^After stage 3/)).toBeGreaterThanOrEqual(2)

  // Straight: what is turned is what is set. Up to 20 is off.
  await pick(seen, /^Curve/, 'straight')
  await fill(seen.getByRole('button', { name: /^What counts as off/ }), '20')
  await expect(page.getByText('at work · saved')).toBeVisible()
  await dark()
  await turn(15)
  await expect.poll(() => at(left)).toBe(30)
  await turn(-6)
  await expect.poll(() => at(left)).toBe(0)
  await expect.poll(() => at(floor)).toBeCloseTo(0, 0)
  await fill(seen.getByRole('button', { name: /^What counts as off/ }), '0')

  // A number that no stage takes is refused where it is typed; one that makes no sense says so at its stage.
  await fill(seen.getByRole('button', { name: /^Values a second/ }), '0')
  await expect(seen.getByText('From 1 a minute (0.017) to 100 a second.')).toBeVisible()
  await expect(page.getByText('not at work')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).first().click()
  await expect(page.getByText('at work · saved')).toBeVisible()

  // A hand elsewhere wins: the next turn begins there.
  await hub.send('PUT', `/api/devices/${(await named(hub, left)).id}/properties/brightness`, { value: 60 })
  await expect.poll(() => at(left)).toBe(60)
  await turn(2)
  await expect.poll(() => at(left)).toBe(64)
  await expect.poll(() => at(floor)).toBeCloseTo(64, 0)

  // Paused it carries nothing on.
  await page.getByRole('button', { name: 'Pause the link' }).click()
  await expect(page.getByText('paused · saved')).toBeVisible()
  await turn(5)
  await hub.advance(1)
  expect(await at(left)).toBe(64)
  await page.getByRole('button', { name: 'Resume the link' }).click()
  await expect(page.getByText('at work · saved')).toBeVisible()

  // A power cut in the middle of a turn: from then on it goes on from where the lamps are.
  await turn(1)
  await expect.poll(() => at(left)).toBe(66)
  await turn(10)
  await hub.kill()
  await hub.again()
  await expect.poll(async () => (await named(hub, floor)).silent).toBe(false)
  const began = await at(left)
  await turn(-3)
  await expect.poll(() => at(left)).toBeCloseTo(began - 6, 0)
  await expect.poll(() => at(floor)).toBeCloseTo(began - 6, 0)

  // Pressed first, the dial turns the extractor, and the lamps again ten seconds later.
  await hub.bench({ what: 'pressDial' })
  await expect
    .poll(
      async () =>
        (await hub.get<{ id: string; open: boolean }[]>('/api/links')).find((l) => l.id === 'link-extractor')?.open,
    )
    .toBe(true)
  const speed = Number(await value(hub, 'Extractor', 'speed'))
  await turn(25)
  await expect.poll(async () => Number(await value(hub, 'Extractor', 'speed'))).toBeGreaterThan(speed)
  expect(await at(left)).toBeCloseTo(began - 6, 0)
  await hub.advance(11)
  await turn(1)
  await expect.poll(() => at(left)).toBeCloseTo(began - 4, 0)
})

test('a link from nothing, what is wrong with it said where it is, a ring, and a trial on what was seen', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  await page.goto(`${hub.url}/links`)
  await page.getByRole('button', { name: 'Make a link' }).click()
  await page.getByLabel('Name of the link').fill('Ceiling follows')
  await expect(page.getByText('Choose what feeds it.').first()).toBeVisible()
  const seen = page.getByRole('region', { name: 'What goes through' })
  await pick(seen, /^What feeds it/, 'Mill room left lamp brightness')
  await pick(seen, /^What it sets/, 'Mill room ceiling brightness')
  // It begins with what such a link most likely wants.
  await expect(seen.getByText('only changes')).toBeVisible()
  await expect(page.getByText('at work · saved')).toBeVisible()
  const at = (lamp: string) => value(hub, lamp, 'brightness').then(Number)
  const set = async (lamp: string, to: number) =>
    hub.send('PUT', `/api/devices/${(await named(hub, lamp)).id}/properties/brightness`, { value: to })
  await set(left, 40)
  await expect.poll(() => at('Mill room ceiling')).toBe(40)
  await set(left, 70)
  await expect.poll(() => at('Mill room ceiling')).toBe(70)

  // What was seen is tried on other stages, without setting anything.
  await seen.getByRole('button', { name: 'Try stages on this stretch' }).click()
  await expect(seen.getByText(/^Dashed: what these/)).toBeVisible()
  await expect(seen.locator('.trial').first()).toBeVisible()
  await fill(seen.getByRole('button', { name: /^Goes out, to/ }), '50')
  await expect(page.getByText('at work · saved')).toBeVisible()
  await expect(seen.locator('.trial').last()).toBeVisible()
  expect(await at('Mill room ceiling')).toBe(70)
  await seen.getByRole('button', { name: 'End the trial' }).click()
  await expect(seen.locator('.trial')).toHaveCount(0)
  await expect(seen.getByRole('slider')).toBeVisible()
  await seen.getByRole('button', { name: 'Go on' }).click()
  await seen.getByRole('button', { name: 'Clear' }).click()
  await expect(seen.getByRole('img', { name: 'Source: 0 values' })).toBeVisible()

  // Onto itself, and in a ring with another.
  await pick(seen, /^What it sets/, 'Mill room left lamp brightness')
  await expect(seen.getByText('It feeds the link itself.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).first().click()
  await expect(page.getByText('at work · saved')).toBeVisible()
  type Ref = { device: string; property: string }
  type Link = { id: string; title: string; sources: Ref[]; targets: Ref[]; problems: { message: string }[] }
  const mine = async () => (await hub.get<Link[]>('/api/links')).find((l) => l.title === 'Ceiling follows')!
  const { sources, targets } = await mine()
  const back = await hub.send('POST', '/api/links', {
    title: 'And back',
    enabled: true,
    sources: targets,
    stages: [{ kind: 'changes' }],
    targets: sources,
  })
  expect(back.ok).toBe(true)
  await expect(seen.getByText('What it sets comes back to it by the link “And back”')).toBeVisible()
  const { id } = (await back.json()) as { id: string }
  expect((await hub.send('DELETE', `/api/links/${id}`)).ok).toBe(true)
  await expect(page.getByText('at work · saved')).toBeVisible()

  // It is found, told of where it is used, and what it sets says who set it; deleted, that is undone.
  await page.getByRole('button', { name: 'Earlier versions' }).click()
  await expect(page.locator('.versions li').first()).toContainText('as it is now')
  await page.getByRole('button', { name: 'Delete' }).click()
  await expect(page.getByRole('heading', { name: 'Links' })).toBeVisible()
  await expect.poll(mine).toBeUndefined()
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect.poll(async () => (await mine())?.problems.length).toBe(0)

  // What no link may be is refused where it is wrong.
  const bad = await hub.send('POST', '/api/links', { title: ' ', enabled: true, sources: [], stages: [], targets: [] })
  expect(bad.status).toBe(422)
  expect(await bad.text()).toContain('Give the link a name')
})

test('two keys of a remote feed a link: one adds, the other takes away', async ({ hub, page }) => {
  await quietEvening(hub)
  const lamp = await named(hub, left)
  await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 30 })
  await page.goto(`${hub.url}/links`)
  await page.getByRole('button', { name: 'Make a link' }).click()
  await page.getByLabel('Name of the link').fill('Remote dims')
  const seen = page.getByRole('region', { name: 'What goes through' })
  await pick(seen, /^What feeds it: choose/, 'Handheld remote button 1 pressed')
  await pick(seen, /^What feeds it: and/, 'Handheld remote button 2 pressed')
  await fill(seen.getByRole('button', { name: /^What it counts as/ }).nth(1), '-1')
  await pick(seen, /^What it sets/, 'Mill room left lamp brightness')
  await expect(page.getByText('at work · saved')).toBeVisible()
  const remote = await named(hub, 'Handheld remote')
  const press = (button: string) => hub.send('POST', `/api/devices/${remote.id}/events/${button}`, { value: 'press' })
  const at = () => value(hub, left, 'brightness').then(Number)
  await press('button1')
  await expect.poll(at).toBe(40)
  await press('button2')
  await press('button2')
  await expect.poll(at).toBe(20)
  await expect(seen.getByRole('img', { name: 'Source: 3 values' })).toBeVisible()
})
