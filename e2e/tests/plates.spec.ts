import { expect, test } from '../support/fixtures'
import { named, quietEvening, value } from '../support/home'

test.use({ flags: ['--fresh'] })

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
