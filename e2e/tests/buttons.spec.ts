import { expect, test } from '../support/fixtures'
import { named, quietEvening, value, withoutCurves } from '../support/home'

test.use({ flags: ['--fresh'] })

const left = 'Mill room left lamp'

test('keys of a plate: lit as the real ones are pressed, given something to do, tried, and changed under Rules', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  const plate = await named(hub, 'Landing plate')
  // The bridge leaves it to the hub.
  await hub.send('PUT', `/api/devices/${plate.id}/properties/handler`, { value: 'client' })
  await page.goto(`${hub.url}/buttons`)
  await expect(page.getByRole('region', { name: 'Keys that do nothing yet' })).toContainText('Button 1, Button 2')
  await page.locator('a[data-row]').filter({ hasText: 'Landing plate' }).click()
  const keys = page.getByRole('radiogroup', { name: 'Keys of Landing plate' })
  await expect(keys.getByRole('radio')).toHaveCount(4)

  // The third real key is pressed: it is chosen here, and the journal says that no rule is for it.
  await hub.bench({ what: 'press', plate: '42', button: 3, gesture: 'press' })
  await expect(keys.getByRole('radio', { name: /^Button 3/ })).toBeChecked()
  await expect(page.getByRole('status').filter({ hasText: 'Last:' })).toContainText('no rule is for it')

  // It is given a scene, and does it.
  const doings = page.getByRole('region', { name: 'Button 3' })
  await doings.getByRole('button', { name: /^What Button 3 does when pressed:/ }).click()
  await page.getByRole('option', { name: 'Supper', exact: true }).click()
  const made = doings.getByRole('link', { name: 'Landing plate, button 3 pressed: Supper' })
  await expect(made).toBeVisible()
  await expect(keys.getByRole('radio', { name: 'Button 3: 1 rule' })).toBeVisible()
  await hub.bench({ what: 'press', plate: '42', button: 3, gesture: 'press' })
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(60)

  // Held, it toggles a lamp: tried from here, as by hand.
  await doings.getByRole('button', { name: 'What Button 3 does when held' }).click()
  await page.getByRole('searchbox').fill('switch stair lamp')
  await page.getByRole('option', { name: 'Stair lamp' }).first().click()
  const was = await value(hub, 'Stair lamp', 'brightness')
  await doings.getByRole('button', { name: 'Try Button 3 held' }).click()
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(was ? 0 : 60) // as it was last on
  await doings.getByRole('button', { name: 'Try Button 3 held' }).click()
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(was ? 60 : 0)

  // They are ordinary rules: renamed under Rules, they are called so here; deleted here, that is undone.
  await made.click()
  await page.getByLabel('Name of the rule').fill('Supper time')
  await page.getByRole('button', { name: 'Put live' }).click()
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  await keys.getByRole('radio', { name: /^Button 3/ }).click()
  await doings.getByRole('button', { name: 'Delete Supper time' }).click()
  await expect(doings.getByRole('link', { name: 'Supper time' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(doings.getByRole('link', { name: 'Supper time' })).toBeVisible()
  await page.getByRole('link', { name: '2 rules', exact: true }).click()
  await expect(page.locator('a[data-row]')).toHaveCount(2)

  // Copied to the other plate, what is held stops there when that is released; undone in one.
  const other = await named(hub, 'Galley plate')
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  await keys.getByRole('radio', { name: /^Button 1/ }).click()
  const first = page.getByRole('region', { name: 'Button 1' })
  await first.getByRole('button', { name: 'What Button 1 does when held' }).click()
  await page.getByRole('searchbox').fill('brighter worktop')
  await page.getByRole('option', { name: 'Worktop lamps' }).first().click()
  await expect(first.getByRole('link', { name: /released: stop/ })).toBeVisible()
  await page.goto(`${hub.url}/buttons/${other.id}`)
  await page.getByRole('button', { name: 'Copy from another device' }).click()
  await page.getByRole('option', { name: /Landing plate/ }).click()
  await expect(page.getByText('4 rules copied from Landing plate.')).toBeVisible()
  type Rule = { id: string; title: string; do: { kind: string; rule?: string }[] }
  const rules = await hub.get<Rule[]>('/api/rules')
  const held = rules.find((r) => r.title === 'Galley plate, button 1 held: Worktop lamps')!
  const ends = rules.find((r) => r.title.startsWith('Galley plate, button 1 released'))!
  expect(ends.do[0]).toMatchObject({ kind: 'stop', rule: held.id })
  const at = async () => Number(await value(hub, 'Worktop lamps', 'brightness'))
  await hub.send('PUT', `/api/devices/${(await named(hub, 'Worktop lamps')).id}/properties/brightness`, { value: 10 })
  await expect.poll(at).toBe(10)
  await hub.send('PUT', `/api/devices/${other.id}/properties/handler`, { value: 'client' })
  await hub.bench({ what: 'press', plate: '41', button: 1, gesture: 'hold' })
  await hub.advance(2)
  await hub.bench({ what: 'press', plate: '41', button: 1, gesture: 'release' })
  await hub.advance(10)
  await expect.poll(at).toBeGreaterThan(20)
  expect(await at()).toBeLessThan(90)
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect
    .poll(async () => (await hub.get<Rule[]>('/api/rules')).filter((r) => r.title.startsWith('Galley plate')).length)
    .toBe(0)

  // A key pressed in the drawing does what the real one would, for as long as the pointer is down.
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  await page.getByLabel('A key pressed here does what the real one would').check()
  const before = await value(hub, 'Stair lamp', 'brightness')
  const third = keys.getByRole('radio', { name: /^Button 3/ })
  await third.hover()
  await page.mouse.down()
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(before ? 0 : 60)
  await page.mouse.up()
  await hub.send('PUT', `/api/devices/${(await named(hub, 'Table lamp')).id}/properties/brightness`, { value: 5 })
  await expect.poll(() => value(hub, 'Table lamp', 'brightness').then(Number)).toBeCloseTo(5, 0)
  await third.click()
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(60)

  // A press that the key does not know is refused where it is.
  const wrong = await hub.send('POST', `/api/devices/${plate.id}/events/button3`, { value: 'shout' })
  expect(wrong.status).toBe(422)
  expect(await wrong.text()).toContain('press, double, hold, release')
})

test('a key by parts of the day: another thing by the hour and by the mode, and what belongs to now is marked', async ({
  hub,
  page,
}) => {
  await quietEvening(hub, '16:50')
  const plate = await named(hub, 'Landing plate')
  await hub.send('PUT', `/api/devices/${plate.id}/properties/handler`, { value: 'client' })
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  const doings = page.getByRole('region', { name: 'Button 1' })
  const pressed = doings.getByRole('button', { name: /^What Button 1 does when pressed:/ })
  for (const scene of ['Cooking', 'Supper']) {
    await pressed.click()
    await page.getByRole('option', { name: scene, exact: true }).click()
    await expect(doings.getByRole('link', { name: `Landing plate, button 1 pressed: ${scene}` })).toBeVisible()
  }
  const pick = async (of: string, choice: string | RegExp) => {
    await doings.getByRole('button', { name: of }).click()
    await page.getByRole('option', { name: choice, exact: true }).click()
  }
  await pick('When: Landing plate, button 1 pressed: Supper', 'between …')
  await expect(
    doings.getByRole('button', { name: 'From: Landing plate, button 1 pressed: Supper: 17:00' }),
  ).toBeVisible()
  await pick('When: Landing plate, button 1 pressed: Cooking', 'in Out')
  await expect(doings.getByText('now', { exact: true })).toHaveCount(0)

  // It is 16:50, and nobody is out: the key does nothing, and it is said why.
  const table = () => value(hub, 'Table lamp', 'brightness')
  const was = await table()
  await hub.bench({ what: 'press', plate: '42', button: 1, gesture: 'press' })
  await hub.advance(5)
  expect(await table()).toBe(was)
  // At five o'clock its part begins by itself.
  await hub.bench({ what: 'jump', clock: '17:01' })
  await expect(doings.getByText('now', { exact: true })).toHaveCount(1)
  await hub.bench({ what: 'press', plate: '42', button: 1, gesture: 'press' })
  await expect.poll(table).toBe(60)
  // In the other mode, the other too.
  await hub.send('PUT', '/api/devices/own/properties/mode', { value: 'mode-out' })
  await expect(doings.getByText('now', { exact: true })).toHaveCount(2)
  await page.reload()
  await expect(doings.getByText('now', { exact: true })).toHaveCount(2)
})

test('press, double and hold on a key that sends only downs and ups; a press waits only where another may follow', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  await withoutCurves(hub)
  const rocker = await named(hub, 'East room switch')
  const lamp = () => value(hub, 'East bedside lamp', 'brightness')
  await hub.send('PUT', `/api/devices/${(await named(hub, 'East bedside lamp')).id}/properties/brightness`, {
    value: 0,
  })
  await expect.poll(lamp).toBe(0)
  await page.goto(`${hub.url}/buttons/${rocker.id}`)
  await page
    .getByRole('radiogroup', { name: 'Keys of East room switch' })
    .getByRole('radio', { name: /^Right/ })
    .click()
  const doings = page.getByRole('region', { name: 'Right rocker' })
  const give = async (gesture: string, search: string, choice: string | RegExp) => {
    await doings.getByRole('button', { name: new RegExp(`^What Right rocker does when ${gesture}:`) }).click()
    await page.getByRole('searchbox').fill(search)
    await page.getByRole('option', { name: choice }).first().click()
    await expect(doings.getByRole('link', { name: new RegExp(`right rocker ${gesture}:`) })).toBeVisible()
  }
  const rock = (gesture: 'down' | 'up') => hub.bench({ what: 'rocker', node: 'n54', button: 1, gesture })
  const press = async () => {
    await rock('down')
    await rock('up')
  }
  const pressed = () => page.getByRole('status').filter({ hasText: 'Last:' })
  await give('pressed', '10 % brighter east bedside', /East bedside lamp/)
  // Nothing else means anything: it counts as the key goes down.
  await rock('down')
  await expect.poll(lamp).toBe(10)
  await rock('up')
  await give('pressed twice', 'switch east bedside', /East bedside lamp/)
  await expect(doings.getByText('A single press waits 0.4 s here: another may follow.')).toBeVisible()
  await press()
  await hub.advance(1)
  await expect.poll(lamp).toBe(20)
  await press()
  await press()
  await expect.poll(lamp).toBe(0)
  await expect(pressed()).toContainText('right rocker pressed twice')
  await give('held', 'supper', 'Supper')
  await rock('down')
  await hub.advance(1)
  await expect(pressed()).toContainText('right rocker held')
  await rock('up')
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(60)
  expect(await lamp()).toBe(0)

  // Slower fingers: within 1 s; it is kept, and wrong times are refused where they are.
  await page.getByRole('button', { name: 'Time between two presses' }).click()
  await page.getByRole('spinbutton').or(page.getByRole('textbox')).last().fill('1')
  await page.keyboard.press('Enter')
  await expect(doings.getByText('A single press waits 1 s here: another may follow.')).toBeVisible()
  await press()
  await hub.advance(0.7)
  await press()
  await expect.poll(lamp).toBe(20) // as it was last on
  const now = await named(hub, 'East room switch')
  const from = { title: now.title, room: now.room, keys: { within: 1000 } }
  const to = { ...from, keys: { within: 20 } }
  const bad = await hub.send('PATCH', `/api/devices/${rocker.id}`, { from, to })
  expect(bad.status).toBe(422)
  expect(await bad.text()).toContain('100 to 3000 ms')
})

test('held through a palette of colors and released at the third, a lamp comes on with it; for now only, as before', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  await withoutCurves(hub)
  const plate = await named(hub, 'Landing plate')
  const lamp = await named(hub, 'Table lamp')
  await hub.send('PUT', `/api/devices/${plate.id}/properties/handler`, { value: 'client' })
  const set = (name: string, to: unknown) =>
    hub.send('PUT', `/api/devices/${lamp.id}/properties/${name}`, { value: to })
  await set('brightness', 60)
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(60)
  const [key, ...keys] = ['color', 'colorTemperature'].filter((name) => lamp.states.some((s) => s.name === name))
  const property = key === 'color' ? 'color' : 'colorTemperature'
  expect([property, ...keys].length).toBeGreaterThan(0)
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  await page.getByRole('radio', { name: /^Button 4/ }).click()
  const doings = page.getByRole('region', { name: 'Button 4' })
  await doings.getByRole('button', { name: 'What Button 4 does when held' }).click()
  await page.getByRole('searchbox').fill(property === 'color' ? 'colors table lamp' : 'warm and cool table lamp')
  await page.getByRole('option', { name: 'Table lamp' }).first().click()
  await expect(doings.getByRole('link', { name: /released: stop/ })).toBeVisible()
  type Rule = { id: string; title: string; do: { kind: string; values?: unknown[]; gapSeconds?: number }[] }
  const rule = (await hub.get<Rule[]>('/api/rules')).find((r) => r.title.startsWith('Landing plate, button 4 held'))!
  const step = rule.do[0]!
  expect(step.kind).toBe('stepThrough')
  const gap = step.gapSeconds!
  const held = async () => {
    await hub.bench({ what: 'press', plate: '42', button: 4, gesture: 'hold' })
    await hub.advance(2.4 * gap)
    await hub.bench({ what: 'press', plate: '42', button: 4, gesture: 'release' })
    await hub.advance(10)
  }
  const offAndOn = async () => {
    await set('brightness', 0)
    await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(0)
    await hub.advance(10)
    await set('brightness', 60)
    await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(60)
    await hub.advance(10)
  }
  const now = () => value(hub, 'Table lamp', property)
  const before = await now()
  await held()
  const third = await now()
  expect(third).not.toEqual(before)
  await offAndOn()
  expect(await now()).toEqual(third)

  // The same for now only, changed under Rules as any rule is.
  await doings.getByRole('link', { name: /^Landing plate, button 4 held: Table lamp$/ }).click()
  await page.getByRole('button', { name: /^Whether it is kept/ }).click()
  await page.getByRole('option', { name: 'only until it was off' }).click()
  await page.getByRole('button', { name: /^Dial that sets its pace/ }).click()
  await page.getByRole('option', { name: 'Mill room dial, turn' }).click()
  await page.getByRole('button', { name: 'Put live' }).click()
  await expect
    .poll(async () => JSON.stringify((await hub.get<Rule[]>('/api/rules')).find((r) => r.id === rule.id)!.do))
    .toContain('"forNow":true')
  await expect
    .poll(async () => JSON.stringify((await hub.get<Rule[]>('/api/rules')).find((r) => r.id === rule.id)!.do))
    .toContain('"dial":{')
  await held()
  expect(await now()).not.toEqual(third)
  await offAndOn()
  expect(await now()).toEqual(third)
})

test('each press takes the next color of a palette, and a dial does another thing to the right than to the left', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  const [plate, dial] = [await named(hub, 'Landing plate'), await named(hub, 'Mill room dial')]
  await hub.send('PUT', `/api/devices/${plate.id}/properties/handler`, { value: 'client' })
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  const first = page.getByRole('region', { name: 'Button 1' })
  await first.getByRole('button', { name: /^What Button 1 does when pressed:/ }).click()
  await page.getByRole('searchbox').fill('next color mill room left')
  await page.getByRole('option', { name: left }).first().click()
  await expect(first.getByRole('link', { name: `Landing plate, button 1 pressed: ${left}` })).toBeVisible()
  const color = async () => JSON.stringify(await value(hub, left, 'color'))
  const seen = [await color()]
  for (let i = 0; i < 3; i++) {
    await hub.bench({ what: 'press', plate: '42', button: 1, gesture: 'press' })
    await expect.poll(color).not.toBe(seen.at(-1))
    seen.push(await color())
    await hub.advance(10)
    expect(await color(), 'and no further by itself').toBe(seen.at(-1))
  }
  expect(new Set(seen.slice(1)).size).toBe(3)

  // The link of the demo would dim lamps by the same dial.
  await hub.send('DELETE', '/api/links/link-dial')
  const lamp = await named(hub, 'Table lamp')
  await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 50 })
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(50)
  await page.goto(`${hub.url}/buttons/${dial.id}`)
  await page.getByRole('radio', { name: /^Turn:/ }).click()
  const turn = page.getByRole('region', { name: 'Turn' })
  for (const [way, group] of [
    ['right', '10 % brighter table lamp'],
    ['left', '10 % darker table lamp'],
  ] as const) {
    await turn.getByRole('button', { name: new RegExp(`^What Turn does when turned to the ${way}:`) }).click()
    await page.getByRole('searchbox').fill(group)
    await page.getByRole('option', { name: 'Table lamp' }).first().click()
    await expect(turn.getByRole('link', { name: `Mill room dial, turn to the ${way}: Table lamp` })).toBeVisible()
  }
  await hub.bench({ what: 'turn', notches: 2 })
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(70)
  await hub.bench({ what: 'turn', notches: -3 })
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(40)
  await turn.getByRole('button', { name: 'Try Turn turned to the left' }).click()
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(30)
})

test('pressed again, a scene goes off', async ({ hub, page }) => {
  await quietEvening(hub)
  const plate = await named(hub, 'Landing plate')
  await hub.send('PUT', `/api/devices/${plate.id}/properties/handler`, { value: 'client' })
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  const doings = page.getByRole('region', { name: 'Button 1' })
  await doings.getByRole('button', { name: /^What Button 1 does when pressed:/ }).click()
  await page.getByRole('searchbox').fill('off when pressed again')
  await page.getByRole('option', { name: 'Supper, off when pressed again' }).click()
  await expect(doings.getByRole('link', { name: /button 1 pressed: Supper/ })).toBeVisible()
  const table = () => value(hub, 'Table lamp', 'brightness').then(Number)
  const press = async () => {
    await hub.bench({ what: 'press', plate: '42', button: 1, gesture: 'press' })
    await hub.advance(20)
  }
  const lamp = await named(hub, 'Table lamp')
  await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 10 })
  await expect.poll(table).toBe(10)
  await press()
  await expect.poll(table).toBe(60)
  await press()
  await expect.poll(table).toBe(0)
  await press()
  await expect.poll(table).toBe(60)
})

test('the Galley plate of the demo by the part of the day, off when pressed again, held to dim', async ({
  hub,
  page,
}) => {
  await quietEvening(hub, '16:50')
  const plate = await named(hub, 'Galley plate')
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  const doings = page.getByRole('region', { name: 'Button 1' })
  const now = (title: string) =>
    doings
      .locator('.rule')
      .filter({ has: page.getByRole('link', { name: title }) })
      .getByText('now', { exact: true })
  await expect(now('Plate: day')).toBeVisible()
  const table = () => value(hub, 'Table lamp', 'brightness').then(Number)
  const worktop = () => value(hub, 'Worktop lamps', 'brightness').then(Number)
  const press = async (gesture: string) => {
    await hub.bench({ what: 'press', plate: '41', button: 1, gesture })
    await hub.advance(10)
  }
  // At five o'clock its part changes by itself.
  await hub.bench({ what: 'jump', clock: '17:01' })
  await expect(now('Plate: supper')).toBeVisible()
  await expect(now('Plate: day')).toHaveCount(0)
  await hub.send('PUT', `/api/devices/${(await named(hub, 'Table lamp')).id}/properties/brightness`, { value: 5 })
  await expect.poll(table).toBe(5)
  await press('press')
  await expect.poll(table).toBe(60)
  await press('press')
  await expect.poll(table).toBe(0)
  // Held it dims to and fro, and stays where it is released.
  await hub.send('PUT', `/api/devices/${(await named(hub, 'Worktop lamps')).id}/properties/brightness`, { value: 20 })
  await expect.poll(worktop).toBe(20)
  await hub.bench({ what: 'press', plate: '41', button: 1, gesture: 'hold' })
  await hub.advance(1.1)
  await hub.bench({ what: 'press', plate: '41', button: 1, gesture: 'release' })
  await hub.advance(10)
  const there = await worktop()
  expect(there).toBeGreaterThan(30)
  expect(there).toBeLessThan(60)
  await hub.advance(10)
  expect(await worktop()).toBe(there)
})
