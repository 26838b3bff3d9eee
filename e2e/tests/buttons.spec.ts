import { expect, test } from '../support/fixtures'
import { named, quietEvening, value } from '../support/home'

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
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(was ? 0 : 100)
  await doings.getByRole('button', { name: 'Try Button 3 held' }).click()
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(was ? 100 : 0)

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
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(before ? 0 : 100)
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

test('what a key does is copied to the wall button of a shutter, which then is the hub’s alone', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  const [plate, shutter, lamp] = [
    await named(hub, 'Landing plate'),
    await named(hub, 'East room shutter'),
    await named(hub, 'Worktop lamps'),
  ]
  await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 10 })
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  const first = page.getByRole('region', { name: 'Button 1' })
  await first.getByRole('button', { name: 'What Button 1 does when held' }).click()
  await page.getByRole('searchbox').fill('brighter worktop')
  await page.getByRole('option', { name: 'Worktop lamps' }).first().click()
  await expect(first.getByRole('link', { name: /released: stop/ })).toBeVisible()
  await first.getByRole('button', { name: 'Copy what Button 1 does to another key' }).click()
  await page.getByRole('option', { name: 'East room shutter, upper wall button' }).click()
  await expect(page.getByText('2 rules copied to East room shutter, upper wall button.')).toBeVisible()

  await page.goto(`${hub.url}/buttons/${shutter.id}`)
  const upper = page.getByRole('region', { name: 'Upper wall button' })
  await expect(upper.getByRole('link', { name: /^East room shutter, upper wall button held/ })).toBeVisible()
  const warning = page.getByRole('alert').filter({ hasText: 'One press acts twice' })
  await expect(warning).toContainText('the module does something with it, and 2 rules here do too')
  await warning.getByRole('button', { name: 'Let Amvek act alone' }).click()
  await expect.poll(() => value(hub, 'East room shutter', 'handler')).toBe('client')
  await expect(warning).toHaveCount(0)

  const at = async () => Number(await value(hub, 'Worktop lamps', 'brightness'))
  const place = await value(hub, 'East room shutter', 'position')
  const wall = (button: number, gesture: string) => hub.bench({ what: 'wall', node: 'n49', button, gesture })
  await wall(0, 'down')
  await expect(page.getByRole('radio', { name: /^Upper wall button/ })).toBeChecked()
  await hub.advance(2)
  await expect.poll(at).toBeGreaterThan(20)
  await wall(0, 'up')
  await hub.advance(1)
  const kept = await at()
  await hub.advance(10)
  expect(await at(), 'released, it stays where it is').toBe(kept)
  expect(kept).toBeLessThan(90)
  expect(await value(hub, 'East room shutter', 'position'), 'its buttons move nothing any more').toBe(place)

  // What a key cannot give has no place there, and changes nothing.
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  await first.getByRole('button', { name: 'Copy what Button 1 does to another key' }).click()
  await page.getByRole('option', { name: 'Mill room dial, press' }).click()
  await expect(page.getByText(/Nothing of it can be done at Mill room dial, press/)).toBeVisible()
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
  await expect.poll(lamp).toBe(100)
  const now = await named(hub, 'East room switch')
  const from = { title: now.title, room: now.room, keys: { within: 1000 } }
  const to = { ...from, keys: { within: 20 } }
  const bad = await hub.send('PATCH', `/api/devices/${rocker.id}`, { from, to })
  expect(bad.status).toBe(422)
  expect(await bad.text()).toContain('100 to 3000 ms')
})

test('on the bench a key is down for as long as the pointer is, and the dial turns by dragging', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  await page.goto(`${hub.url}/bench`)
  const place = page.getByRole('combobox', { name: 'Place whose things are shown' })
  const go = async (to: string) => {
    await place.click()
    await page.getByRole('option', { name: to }).click()
  }
  const happened = async (text: string) =>
    expect
      .poll(async () => (await hub.get<{ text: string }[]>('/api/journal?limit=20')).map((e) => e.text))
      .toContainEqual(expect.stringContaining(text))
  await go('Galley')
  const key = page.getByRole('button', { name: /: button 2$/ })
  await key.hover()
  await page.mouse.down()
  await happened('button 2 held')
  await page.mouse.up()
  await happened('button 2 released')
  await key.click()
  await happened('button 2 pressed')
  await go('Mill room')
  const dial = page.getByRole('spinbutton', { name: 'Dial' })
  const box = (await dial.boundingBox())!
  const at = (degrees: number) =>
    [
      box.x + box.width / 2 + 20 * Math.cos((degrees * Math.PI) / 180),
      box.y + box.height / 2 + 20 * Math.sin((degrees * Math.PI) / 180),
    ] as const
  await page.mouse.move(...at(0))
  await page.mouse.down()
  for (const degrees of [30, 60, 90]) await page.mouse.move(...at(degrees))
  await page.mouse.up()
  await expect(dial).toHaveAttribute('aria-valuenow', '6')
  await dial.press('ArrowLeft')
  await expect(dial).toHaveAttribute('aria-valuenow', '5')
})

test('held through a palette of colors and released at the third, a lamp comes on with it; for now only, as before', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
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

test('a key that its bridge and the hub act on is seen, explained and settled', async ({ hub, page }) => {
  await quietEvening(hub)
  const plate = await named(hub, 'Landing plate')
  await hub.send('PUT', `/api/devices/${plate.id}/properties/handler`, { value: 'bridge' })
  const stair = () => value(hub, 'Stair lamp', 'brightness').then(Number)
  const table = () => value(hub, 'Table lamp', 'brightness').then(Number)
  const dark = async () => {
    for (const title of ['Stair lamp', 'Table lamp']) {
      await hub.send('PUT', `/api/devices/${(await named(hub, title)).id}/properties/brightness`, { value: 0 })
    }
    await expect.poll(stair).toBe(0)
    await expect.poll(table).toBe(0)
  }
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  const warning = page.getByRole('alert').filter({ hasText: 'One press acts twice' })
  await expect(page.getByText('Who acts on it')).toBeVisible()
  await expect(warning).toHaveCount(0)
  const doings = page.getByRole('region', { name: 'Button 1' })
  await doings.getByRole('button', { name: /^What Button 1 does when pressed:/ }).click()
  await page.getByRole('option', { name: 'Supper', exact: true }).click()
  await expect(warning).toContainText('and 1 rule here does too')
  const press = async () => {
    await hub.bench({ what: 'press', plate: '42', button: 1, gesture: 'press' })
    await hub.advance(10)
  }
  await dark()
  await press()
  await expect.poll(table).toBe(60)
  await expect.poll(stair).toBeGreaterThan(0)

  // Settled: the bridge is told to leave it to the hub.
  await warning.getByRole('button', { name: 'Let Amvek act alone' }).click()
  await expect(warning).toHaveCount(0)
  await dark()
  await press()
  await expect.poll(table).toBe(60)
  expect(await stair()).toBe(0)

  // Or the other way round, undone with one press.
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(warning).toBeVisible()
  await warning.getByRole('button', { name: /^Leave it to/ }).click()
  await expect(warning).toHaveCount(0)
  await dark()
  await press()
  await expect.poll(stair).toBeGreaterThan(0)
  expect(await table()).toBe(0)
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

test('a plate takes the place of another: its rules are for the new keys, what finds none is said, undone in one', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  const rocker = await named(hub, 'East room switch')
  type Rule = { title: string; when: { device: string; event: string; comparison?: string; value?: string }[] }
  const of = async (device: string) =>
    (await hub.get<Rule[]>('/api/rules')).filter((r) => r.when?.[0]?.device === device)
  const plate = await named(hub, 'Landing plate')
  const galley = await named(hub, 'Galley plate')
  const before = (await of(galley.id)).length
  expect(before).toBe(7)
  // A switch of other keys has a place for none of them; another plate of four keys for all.
  await page.goto(`${hub.url}/buttons/${rocker.id}`)
  await expect(page.getByRole('button', { name: 'Take over from another device' })).toHaveCount(0)
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  await page.getByRole('button', { name: 'Take over from another device' }).click()
  await page.getByRole('option', { name: /Galley plate/ }).click()
  await expect(page.getByText('7 rules of Galley plate taken over.')).toBeVisible()
  await expect.poll(async () => (await of(plate.id)).length).toBe(7)
  expect(await of(galley.id)).toHaveLength(0)
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect.poll(async () => (await of(galley.id)).length).toBe(7)
  expect(await of(plate.id)).toHaveLength(0)
})

test('keys are put where they really sit, by dragging and by arrow keys, and back', async ({ hub, page }) => {
  await quietEvening(hub)
  const plate = await named(hub, 'Landing plate')
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  await page.getByRole('button', { name: 'Arrange the keys' }).click()
  const face = page.getByRole('group', { name: 'Where the keys sit' })
  await face.getByRole('button', { name: 'Button 1: column 1, row 1' }).press('ArrowDown')
  await expect(face.getByRole('button', { name: 'Button 1: column 1, row 2' })).toBeFocused()
  const box = (await face.boundingBox())!
  await face.getByRole('button', { name: /^Button 4/ }).hover()
  await page.mouse.down()
  await page.mouse.move(box.x + box.width - 4, box.y + 4)
  await page.mouse.up()
  await expect(face.getByRole('button', { name: 'Button 4: column 6, row 1' })).toBeVisible()
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(face).toHaveCount(0)
  type Keyed = { id: string; description: { events: { name: string; layout?: { column: number; row: number } }[] } }
  const at = async (name: string) =>
    (await hub.get<Keyed[]>('/api/devices'))
      .find((d) => d.id === plate.id)!
      .description.events.find((e) => e.name === name)?.layout
  await expect.poll(() => at('button4')).toMatchObject({ column: 5, row: 0 })
  expect(await at('button1')).toMatchObject({ column: 0, row: 1 })
  await page.reload()
  await page.getByRole('button', { name: 'Arrange the keys' }).click()
  await expect(face.getByRole('button', { name: 'Button 4: column 6, row 1' })).toBeVisible()
  await page.getByRole('button', { name: 'As its profile says' }).click()
  await expect.poll(() => at('button4')).toMatchObject({ column: 1, row: 1 })
})
