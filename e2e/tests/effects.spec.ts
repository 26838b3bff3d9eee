import { expect, test } from '../support/fixtures'
import { make, named, quietEvening, value, withoutCurves } from '../support/home'
import type { Hub } from '../support/hub'
import { pick, type } from '../support/words'

test.use({ flags: ['--fresh'] })

const candles = 'sequence-candles'
const level = (hub: Hub, lamp = 'Mill room ceiling') => value(hub, lamp, 'brightness').then(Number)
/** How many requests the pretend bridge has taken that changed lamps. */
const taken = async (hub: Hub) => (await hub.get<{ bridge: { taken: number } }>('/api/bench')).bridge.taken
const running = async (hub: Hub, id = candles) =>
  (await hub.get<{ id: string; state: { running?: boolean } }[]>('/api/sequences')).find((s) => s.id === id)?.state
    .running === true

/** Waits until the light moves: frames reach the lamps. */
async function moves(hub: Hub) {
  await expect.poll(() => running(hub)).toBe(true)
  const before = await taken(hub)
  await expect.poll(() => taken(hub)).toBeGreaterThan(before + 5)
}
/** Sees that nothing is sent any more, once all that was under way has come. */
async function rests(hub: Hub) {
  await expect.poll(() => running(hub)).toBe(false)
  await hub.advance(5)
  const after = await taken(hub)
  await hub.advance(120)
  expect(await taken(hub)).toBe(after)
}

test('candlelight is started by a plate, a rule, a schedule and a dashboard, changed while it runs, and stops for good', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  await withoutCurves(hub)
  await hub.send('PUT', `/api/devices/${(await named(hub, 'Mill room ceiling')).id}/properties/brightness`, {
    value: 25,
  })
  await expect.poll(() => level(hub)).toBe(25)

  // Its page shows the coming minute before anything is sent; its brightness and speed are changed while it runs.
  await page.goto(`${hub.url}/moving/${candles}`)
  await expect(page.getByRole('figure', { name: 'The coming 1 min' })).toBeVisible()
  await expect(page.getByRole('img', { name: /^Mill room ceiling, from \d+ to \d+ %$/ })).toBeVisible()
  const quiet = await taken(hub)
  const began = (await hub.get<{ id: number }[]>('/api/journal?limit=1'))[0]!.id
  const main = page.getByRole('main')
  await type(main, /^Speed/, '200')
  await expect(main.getByText('saved', { exact: true })).toBeVisible()
  expect(await taken(hub)).toBe(quiet)
  await main.getByRole('button', { name: 'Start', exact: true }).click()
  await moves(hub)
  await expect(page.getByText('running', { exact: true }).first()).toBeVisible()
  await type(main, /^Level at its brightest/, '10')
  await expect.poll(() => level(hub)).toBeLessThan(12)
  await main.getByRole('button', { name: 'Stop', exact: true }).click()
  await rests(hub)
  await expect.poll(() => level(hub)).toBe(25)

  // What moved is nobody's doing, and nothing of it is written down but that it began and ended.
  type Entry = { id: number; kind: string }
  const journal = (await hub.get<Entry[]>('/api/journal?limit=200')).filter((e) => e.id > began)
  expect(journal.filter((e) => e.kind === 'byDevice')).toEqual([])
  expect(journal.filter((e) => e.kind === 'commanded').length).toBeLessThan(20)

  // A plate: pressed it starts, pressed again it stops.
  const plate = await named(hub, 'Landing plate')
  await hub.send('PUT', `/api/devices/${plate.id}/properties/handler`, { value: 'client' })
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  await page.getByRole('radio', { name: /^Button 2/ }).click()
  const doings = page.getByRole('region', { name: 'Button 2' })
  await doings.getByRole('button', { name: /^What Button 2 does when pressed: / }).click()
  await page.getByRole('searchbox').fill('candlelight')
  await page.getByRole('option', { name: /^Candlelight, stopped when pressed again/ }).click()
  await expect(doings.getByRole('link', { name: /Candlelight/ })).toBeVisible()
  await hub.bench({ what: 'press', plate: '42', button: 2, gesture: 'press' })
  await moves(hub)
  await hub.bench({ what: 'press', plate: '42', button: 2, gesture: 'press' })
  await rests(hub)

  // A rule, and a scene that takes its lights.
  const rule = await make(hub, '/api/rules', {
    title: 'Dinner',
    enabled: true,
    when: [{ kind: 'time', at: { anchor: 'clock', clock: '03:00' } }],
    do: [{ kind: 'sequence', sequence: candles }],
  })
  await hub.send('POST', `/api/rules/${rule}/run`)
  await moves(hub)
  await hub.send('POST', '/api/scenes/scene-mill-film/apply')
  await rests(hub)
  await expect.poll(() => level(hub)).toBe(0)

  // A schedule, and all off at the room's light.
  await make(hub, '/api/schedules', {
    title: 'Every evening',
    enabled: true,
    at: { anchor: 'clock', clock: '21:00' },
    do: [{ kind: 'sequence', sequence: candles }],
  })
  await hub.bench({ what: 'jump', clock: '20:59' })
  await hub.advance(61)
  await moves(hub)
  await hub.send('POST', '/api/lights/light-mill-room/do', { verb: 'off' })
  await rests(hub)

  // A dashboard, and a power cut of the hub.
  const board = await make(hub, '/api/dashboards', {
    title: 'Evening',
    grid: 24,
    controls: [{ id: 'a', kind: 'sequence', sequence: candles, column: 0, row: 0, width: 8, height: 4 }],
  })
  await page.goto(`${hub.url}/panel/${board}`)
  await page
    .getByRole('button', { name: /Candlelight/ })
    .first()
    .click()
  await moves(hub)
  await hub.kill()
  await hub.again()
  await rests(hub)
  await expect.poll(() => level(hub)).toBe(0)
})

test('a hand takes one lamp and the others go on, or ends it for all; a dead bridge does not bring it back', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  await withoutCurves(hub)
  await page.goto(`${hub.url}/moving/${candles}`)
  const main = page.getByRole('main')
  await main.getByRole('button', { name: 'Start', exact: true }).click()
  await moves(hub)
  const left = await named(hub, 'Mill room left lamp')
  await hub.send('PUT', `/api/devices/${left.id}/properties/brightness`, { value: 77 })
  await expect.poll(() => level(hub, left.title)).toBe(77)
  await moves(hub)
  expect(await level(hub, left.title)).toBe(77)

  // Put out at the lamp itself, by its maker's app, it is left so too.
  await hub.advance(10)
  await hub.bench({ what: 'lamp', lamp: '12', on: false })
  await expect
    .poll(async () => (await hub.get<{ kind: string }[]>('/api/journal?limit=50')).some((e) => e.kind === 'byDevice'))
    .toBe(true)
  await moves(hub)
  expect(await level(hub)).toBe(0)
  await main.getByRole('button', { name: 'Stop', exact: true }).click()
  await rests(hub)
  expect(await level(hub, left.title)).toBe(77)

  await pick(main, /^What a hand does/, 'ends it for all')
  await expect(main.getByText('saved', { exact: true })).toBeVisible()
  await main.getByRole('button', { name: 'Start', exact: true }).click()
  await moves(hub)
  await hub.send('PUT', `/api/devices/${left.id}/properties/brightness`, { value: 50 })
  await rests(hub)

  // The bridge's network is cut in the middle of it.
  await main.getByRole('button', { name: 'Start', exact: true }).click()
  await moves(hub)
  await hub.bench({ what: 'cutBridge', on: true })
  await main.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect.poll(() => running(hub)).toBe(false)
  await hub.bench({ what: 'cutBridge', on: false })
  await expect.poll(() => level(hub, left.title)).toBe(50)
  await rests(hub)
})

test('each way in which light moves moves, and stops when told', async ({ hub }) => {
  await quietEvening(hub)
  for (const kind of ['drift', 'candle', 'embers', 'storm', 'pulse', 'sunrise']) {
    const id = await make(hub, '/api/sequences', {
      title: kind,
      passages: [],
      ending: 'letGo',
      effect: { kind, lights: ['light-mill-room'], roundSeconds: 20 },
    })
    const before = await taken(hub)
    await hub.send('POST', `/api/sequences/${id}/start`)
    await expect.poll(() => taken(hub)).toBeGreaterThan(before + 12) // seven are the first values
    await hub.send('POST', `/api/sequences/${id}/stop`)
    await rests(hub)
    await expect.poll(() => level(hub)).toBe(0)
  }
})

test('wrong settings of moving light are refused where they are', async ({ hub, page }) => {
  await quietEvening(hub)
  await page.goto(`${hub.url}/moving`)
  await page.getByRole('button', { name: 'Make a moving light' }).first().click()
  const main = page.getByRole('main')
  await pick(main, /^How it moves/, 'pulse')
  await type(main, /^How long a round takes/, '0.2', 's')
  await expect(page.getByText(/more than three pulses a second can harm people/i).first()).toBeVisible()
  await main.getByRole('switch').click()
  await expect(page.getByText(/more than three pulses a second can harm people/i)).toBeHidden()
  await expect(main.getByText('saved', { exact: true })).toBeVisible()
  for (const [wrong, said] of [
    [{ kind: 'disco', lights: ['light-mill-room'] }, 'expected value to be one of'],
    [{ kind: 'candle' }, 'Choose a room, or lamps'],
    [{ kind: 'candle', lamps: ['nothing'] }, 'There is no such lamp'],
    [{ kind: 'candle', lights: ['light-mill-room'], pace: 5000 }, '1000'],
  ] as const) {
    const response = await hub.send('POST', '/api/sequences', {
      title: 'X',
      passages: [],
      ending: 'letGo',
      effect: wrong,
    })
    expect(response.status).toBe(422)
    expect(await response.text()).toContain(said)
  }
})

test('a lamp that can flicker by itself does so where the owner prefers it, and is still once it is stopped', async ({
  hub,
  page,
}) => {
  await quietEvening(hub, '19:00')
  const of = (lamp: string, property: string) => value(hub, lamp, property)
  await page.goto(`${hub.url}/moving/sequence-candles`)
  await expect(page.getByText(/Mill room (left|right) lamp, Mill room (left|right) lamp can do it/)).toBeVisible()
  await page.getByRole('button', { name: /^Who moves lamps that can do it themselves/ }).click()
  await page.getByRole('option', { name: 'they do it themselves' }).click()
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Start', exact: true }).click()
  await expect.poll(() => of('Mill room left lamp', 'ownEffect')).toBe('candle')
  await expect.poll(() => of('Mill room right lamp', 'ownEffect')).toBe('candle')
  await expect.poll(() => of('Mill room left lamp', 'brightness').then(Number)).toBeCloseTo(40, 0)

  // A hand at one of them: that one is still, the other goes on.
  const { id } = await named(hub, 'Mill room left lamp')
  await hub.send('PUT', `/api/devices/${id}/properties/brightness`, { value: 70 })
  await expect.poll(() => of('Mill room left lamp', 'ownEffect')).toBe('off')
  expect(await of('Mill room right lamp', 'ownEffect')).toBe('candle')
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect.poll(() => of('Mill room right lamp', 'ownEffect')).toBe('off')

  // The hub is killed in the middle of it: at its start they are told to be still.
  await page.getByRole('button', { name: 'Start', exact: true }).click()
  await expect.poll(() => of('Mill room right lamp', 'ownEffect')).toBe('candle')
  await hub.kill()
  await hub.again()
  await expect.poll(() => of('Mill room right lamp', 'ownEffect')).toBe('off')
  await expect.poll(() => of('Mill room left lamp', 'ownEffect')).toBe('off')
})
