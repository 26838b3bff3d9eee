import { expect, test } from '../support/fixtures'
import { named, quietEvening, value } from '../support/home'
import type { Hub } from '../support/hub'
import { pick, type } from '../support/words'

test.use({ flags: ['--fresh'] })

const [ceiling, left, right, floor] = [
  'Mill room ceiling',
  'Mill room left lamp',
  'Mill room right lamp',
  'Mill room floor lamp',
] as const
const level = (hub: Hub, lamp: string) => value(hub, lamp, 'brightness').then(Number)
const levels = async (hub: Hub) => Promise.all([ceiling, left, right, floor].map((l) => level(hub, l)))

test('the Mill room from nothing: its lamps as one, scenes by capture and in an order, stepped through by a plate', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  await expect.poll(() => value(hub, 'Mill room shelf lamp', 'power')).toBe(false)
  expect((await hub.send('DELETE', '/api/lights/light-mill-room')).ok).toBe(true)
  await page.goto(`${hub.url}/lights`)
  await page.getByRole('button', { name: 'Make the light of Mill room' }).click()
  await expect(page.getByLabel('Name of the light')).toHaveValue('Mill room')
  const lamps = page.getByRole('list', { name: 'Its lamps' })
  await expect(lamps.getByRole('listitem'), 'five circuits of three makers').toHaveCount(5)
  const shelf = () => value(hub, 'Mill room shelf lamp', 'power')
  await expect(lamps).toContainText('tunable white')

  // A level for all keeps the lamps as bright beside each other as they are, also once they were as dark as they go.
  const set = async (lamp: string, to: number) =>
    hub.send('PUT', `/api/devices/${(await named(hub, lamp)).id}/properties/brightness`, { value: to })
  await set(ceiling, 80)
  await set(left, 40)
  await expect.poll(() => levels(hub)).toEqual([80, 40, 0, 0])
  const whole = page.getByRole('group', { name: 'The whole light' })
  await whole.getByRole('button', { name: '− darker' }).click()
  await expect.poll(() => levels(hub)).toEqual([70, 35, 0, 0])
  const scale = page.getByRole('slider', { name: 'Level of Mill room' })
  await scale.press('Home')
  await expect.poll(() => levels(hub)).toEqual([0, 0, 0, 0])
  await whole.getByRole('button', { name: 'Full', exact: true }).click()
  await expect.poll(() => levels(hub)).toEqual([100, 100, 100, 100])
  await expect.poll(shelf, 'what only switches joins').toBe(true)
  await whole.getByRole('button', { name: 'Warmer' }).click()
  await expect.poll(() => value(hub, ceiling, 'colorTemperature').then(Number)).toBeLessThan(4000)

  // A scene by capture, put into the order; the seasonal one is skipped. The others are there, found by their lamps.
  const scenes = page.getByRole('region', { name: 'Its scenes' })
  await expect(scenes.getByRole('listitem')).toHaveCount(5)
  await scenes.getByRole('link', { name: 'Capture a new one' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Cleaning')
  await page.getByRole('checkbox', { name: 'Mill room', exact: true }).check()
  await page.getByRole('button', { name: 'Capture', exact: true }).click()
  await expect(page.getByText('Captured as it is now.')).toBeVisible()
  // One of a palette, and one by hand, value for value.
  await page.goto(`${hub.url}/scenes/new`)
  await page.getByLabel('Name', { exact: true }).fill('Kiln glow')
  await page.getByRole('checkbox', { name: 'Mill room', exact: true }).check()
  await page.getByRole('radio', { name: /^Kiln/ }).check()
  await page.getByRole('button', { name: 'Make it', exact: true }).click()
  await expect(page.getByText('Made of these colors.')).toBeVisible()
  await page.goto(`${hub.url}/scenes/new`)
  await page.getByLabel('Name', { exact: true }).fill('Corner')
  await page.getByRole('button', { name: 'Make it empty' }).click()
  await pick(page, /^Value to add/, 'Mill room floor lamp brightness')
  await type(page, /^Mill room floor lamp brightness/, '35')
  await pick(page, /^Value to add/, 'Mill room shelf lamp power')
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await page.goto(`${hub.url}/lights`)
  await page.locator('a[data-row]').filter({ hasText: 'Mill room' }).click()
  await scenes.getByRole('button', { name: /^Scene to add/ }).click()
  await page.getByRole('option', { name: 'Cleaning' }).click()
  await expect(scenes.getByRole('listitem').last()).toContainText('Cleaning')
  for (const more of ['Kiln glow', 'Corner']) {
    await pick(page, /^Scene to add/, more)
    await expect(scenes.getByRole('listitem').filter({ hasText: more })).toHaveCount(1)
  }
  await scenes.getByRole('button', { name: 'Move Cleaning up' }).click()
  await scenes.getByRole('listitem').filter({ hasText: 'Midwinter' }).getByRole('button', { name: 'Skip it' }).click()
  type Of = {
    id: string
    title: string
    scenes: { scene: string; skip?: boolean }[]
    scene?: string
    differs: string[]
  }
  const mill = async () => (await hub.get<Of[]>('/api/lights')).find((l) => l.title === 'Mill room')!
  const titles = async () => {
    const all = await hub.get<{ id: string; title: string; laid?: boolean }[]>('/api/scenes')
    const stepped = (await mill()).scenes.filter((s) => !s.skip).map((s) => all.find((x) => x.id === s.scene)!)
    return stepped.filter((s) => !s.laid).map((s) => s.title)
  }
  await expect.poll(async () => (await titles()).includes('Midwinter')).toBe(false)
  const order = await titles()
  expect(order).toHaveLength(6)

  // A key of a plate steps through them, and puts it off after the last.
  const plate = await named(hub, 'Landing plate')
  await hub.send('PUT', `/api/devices/${plate.id}/properties/handler`, { value: 'client' })
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  const first = page.getByRole('region', { name: 'Button 1' })
  await first.getByRole('button', { name: /^What Button 1 does when pressed:/ }).click()
  await page.getByRole('searchbox').fill('next scene of a room off after mill room')
  await page.getByRole('option', { name: 'Mill room' }).first().click()
  await expect(first.getByRole('link', { name: 'Landing plate, button 1 pressed: Mill room' })).toBeVisible()
  const press = () => hub.bench({ what: 'press', plate: '42', button: 1, gesture: 'press' })
  await hub.send('POST', `/api/lights/${(await mill()).id}/do`, { verb: 'off' })
  await expect.poll(() => levels(hub)).toEqual([0, 0, 0, 0])
  const now = async () => {
    const id = (await mill()).scene
    return id ? (await hub.get<{ id: string; title: string }[]>('/api/scenes')).find((s) => s.id === id)?.title : ''
  }
  for (const title of order) {
    await press()
    await expect.poll(now).toBe(title)
    await hub.advance(10) // the floor lamp takes five messages a second
  }
  await press()
  await expect.poll(now).toBe('')
  await expect.poll(() => levels(hub)).toEqual([0, 0, 0, 0])

  // What was changed since is said, and what differs; the next press goes on from there.
  await press()
  await expect.poll(now).toBe(order[0])
  await set(floor, 77)
  await page.goto(`${hub.url}/lights/${(await mill()).id}`)
  await expect(page.getByText(/changed since: Floor lamp/)).toBeVisible()
  await scenes.getByRole('button', { name: `Keep the change in ${order[0]}` }).click()
  await expect(page.getByText(`${order[0]} is as it is now.`)).toBeVisible()
  await expect(page.getByText(/changed since/)).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(page.getByText(/changed since: Floor lamp/)).toBeVisible()
  await press()
  await expect.poll(now).toBe(order[1])
})

test('a rule lights a room, its text can be read, and what is wrong with it is said', async ({ hub, page }) => {
  await quietEvening(hub)
  const made = await hub.send('POST', '/api/rules', {
    title: 'Mill room dims',
    enabled: true,
    when: [],
    do: [{ kind: 'light', light: 'light-mill-room', verb: 'level', value: 35 }],
  })
  const { id } = (await made.json()) as { id: string }
  await hub.send('POST', `/api/rules/${id}/run`)
  await expect.poll(() => levels(hub)).toEqual([35, 35, 35, 35])
  await page.goto(`${hub.url}/journal`)
  await expect(page.getByText('Mill room: to 35 %').first()).toBeVisible()
  await page.goto(`${hub.url}/rules/${id}`)
  await page.getByRole('button', { name: /^What is done with it/ }).click()
  await page.getByRole('option', { name: /^becomes brighter by/ }).click()
  await expect(page.getByRole('button', { name: /^How much/ })).toContainText('10 %')
  await hub.send('DELETE', '/api/lights/light-mill-room')
  await expect(page.getByText('This light no longer exists.').first()).toBeVisible()
  const wrong = await hub.send('POST', '/api/lights/light-galley/do', { verb: 'level', value: 130 })
  expect(wrong.status).toBe(422)
  expect(await wrong.text()).toContain('from 0 to 100')
  expect((await hub.send('POST', '/api/lights/light-galley/do', { verb: 'level' })).status).toBe(422)
  expect((await hub.send('POST', '/api/lights/attic/do', { verb: 'off' })).status).toBe(404)
  const twice = { title: 'Twice', rooms: ['room-Galley', 'room-Galley'], scenes: [] }
  expect(await (await hub.send('POST', '/api/lights', twice)).text()).toContain('It is there twice')
})

test('a panel has the light of a room: dimmed by its face, stepped through, and nothing else', async ({
  hub,
  page,
  browser,
}) => {
  await quietEvening(hub)
  const controls = [
    { id: 'mill', kind: 'room', light: 'light-mill-room', column: 0, row: 0, width: 12, height: 8, face: 'large' },
  ]
  const made = await hub.send('POST', '/api/dashboards', { title: 'Evenings', grid: 24, margin: true, controls })
  expect(made.ok).toBe(true)
  const { id } = (await made.json()) as { id: string }
  await page.goto(`${hub.url}/panel/${id}`)
  const face = page.getByRole('article', { name: 'Mill room' })
  await expect(face).toContainText('off')
  await face.getByRole('slider', { name: 'Level of Mill room' }).press('End')
  await expect.poll(() => levels(hub)).toEqual([100, 100, 100, 100])
  await face.getByRole('button', { name: 'Mill room: Next scene' }).click()
  await expect.poll(() => levels(hub)).toEqual([30, 45, 45, 20])
  await expect(face).toContainText('Evening')

  // A panel that was given it may do this, and not so with another room.
  const added = await hub.send('POST', '/api/panels', { title: 'Evening panel', dashboards: [id] })
  const { id: panel } = (await added.json()) as { id: string }
  const { code } = (await (await hub.send('POST', `/api/people/${panel}/code`)).json()) as { code: string }
  const tablet = await (await browser.newContext()).newPage()
  await tablet.goto(`${hub.url}/enter#${code}`)
  await tablet.getByRole('button', { name: 'Come in' }).click()
  await tablet.getByRole('button', { name: 'Begin' }).click()
  await expect(tablet.getByRole('article', { name: 'Mill room' })).toContainText('45%')
  const status = (light: string) =>
    tablet.evaluate(
      async (of) =>
        (
          await fetch(`/api/lights/${of}/do`, {
            method: 'POST',
            headers: { 'Content-Type': 'application/json' },
            body: '{"verb":"off"}',
          })
        ).status,
      light,
    )
  expect(await status('light-galley')).toBe(403)
  expect(await status('light-mill-room')).toBeLessThan(300)
  await expect.poll(() => levels(hub)).toEqual([0, 0, 0, 0])
})

test('Desk is laid over Evening, Film takes its place below, Desk is lifted: Film whole; a hand in between keeps its lamp', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  await page.goto(`${hub.url}/lights/light-mill-room`)
  const scenes = page.getByRole('region', { name: 'Its scenes' })
  const press = (name: string) => scenes.getByRole('button', { name, exact: true }).click()
  await press('Apply Evening')
  await expect.poll(() => levels(hub)).toEqual([30, 45, 45, 20])
  await press('Apply Desk')
  await expect.poll(() => levels(hub)).toEqual([30, 45, 100, 20])
  await expect(scenes.getByRole('listitem').filter({ hasText: 'Desk' })).toContainText('laid on top')
  await press('Apply Film')
  await expect.poll(() => levels(hub)).toEqual([0, 8, 100, 0])

  await hub.advance(10)

  // Killed and started again, it lies there still, and what is below is still known.
  await hub.kill()
  await hub.again()
  await page.reload()
  await press('Lift Desk')
  await expect.poll(() => levels(hub)).toEqual([0, 8, 8, 0])
  await expect(scenes.getByRole('listitem').filter({ hasText: 'Film' })).toContainText('in effect')

  // The same key lays it and lifts it; a hand in between keeps the lamp.
  const lamp = await named(hub, right)
  await press('Apply Desk')
  await expect.poll(() => level(hub, right)).toBe(100)
  await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 33 })
  await expect.poll(() => level(hub, right)).toBe(33)
  await press('Lift Desk')
  await hub.advance(10)
  expect(await level(hub, right)).toBe(33)

  // A scene becomes one that is laid on top in its editor, and says so.
  await page.goto(`${hub.url}/scenes/scene-supper`)
  await page.getByRole('button', { name: /^How it is applied/ }).click()
  await page.getByRole('option', { name: /^is laid on top of what is on/ }).click()
  await page.getByRole('button', { name: 'Lay on top', exact: true }).click()
  await expect(page.getByText('laid on top now')).toBeVisible()
  await page.getByRole('button', { name: 'Lift off', exact: true }).click()
  await expect(page.getByText('not in effect')).toBeVisible()
})

test('a scene is made of a palette, of own colors, and of a picture', async ({ hub, page }) => {
  await quietEvening(hub)
  type Scene = { title: string; targets: { device: string; property: string; value: unknown }[] }
  const scene = async (title: string) => (await hub.get<Scene[]>('/api/scenes')).find((s) => s.title === title)!
  const begin = async (title: string) => {
    await page.goto(`${hub.url}/scenes/new`)
    await page.getByLabel('Name', { exact: true }).fill(title)
    await page.getByRole('checkbox', { name: 'Mill room', exact: true }).check()
  }
  await begin('Kiln glow')
  await page.getByRole('radio', { name: /^Kiln/ }).check()
  await page.getByRole('button', { name: 'Make it', exact: true }).click()
  await expect(page.getByText('Made of these colors.')).toBeVisible()
  const made = (await scene('Kiln glow')).targets
  const lit = await named(hub, left)
  expect(made.filter((t) => t.property === 'color')).toHaveLength(2)
  expect(made.filter((t) => t.property === 'brightness').every((t) => t.value === 60)).toBe(true)
  expect(made.filter((t) => t.property === 'colorTemperature')).toHaveLength(1)
  await page.getByRole('button', { name: 'Apply', exact: true }).click()
  await expect.poll(() => level(hub, left)).toBe(60)
  expect(JSON.stringify(made.find((t) => t.device === lit.id && t.property === 'color')!.value)).toContain('"x"')

  // One color is for all of them.
  await begin('All blue')
  await page.getByRole('radio', { name: /^Slate/ }).check()
  for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'One less' }).click()
  await page.getByLabel('Color 1').fill('#2040ff')
  await page.getByRole('button', { name: 'Make it', exact: true }).click()
  await expect(page.getByText('Made of these colors.').last()).toBeVisible()
  const blue = (await scene('All blue')).targets.filter((t) => t.property === 'color')
  expect(new Set(blue.map((t) => JSON.stringify(t.value))).size).toBe(1)

  // Of a picture that is half orange and half blue, drawn by the page itself; what is no picture is refused and nothing is lost.
  await begin('Of a picture')
  const file = page.getByLabel('Picture for the colors')
  await file.setInputFiles({ name: 'none.png', mimeType: 'image/png', buffer: Buffer.from('no picture') })
  await expect(page.getByText(/not a picture/)).toBeVisible()
  const drawn = await page.evaluate(() => {
    const canvas = document.createElement('canvas')
    canvas.width = canvas.height = 60
    const to = canvas.getContext('2d')!
    to.fillStyle = 'rgb(240, 120, 20)'
    to.fillRect(0, 0, 60, 30)
    to.fillStyle = 'rgb(30, 60, 220)'
    to.fillRect(0, 30, 60, 30)
    return canvas.toDataURL('image/png').split(',')[1]!
  })
  await file.setInputFiles({ name: 'weir.png', mimeType: 'image/png', buffer: Buffer.from(drawn, 'base64') })
  await expect(page.getByAltText('The picture')).toBeVisible()
  await page.getByRole('button', { name: 'Make it', exact: true }).click()
  await expect(page.getByText('Made of these colors.').last()).toBeVisible()
  const of = (await scene('Of a picture')).targets.filter((t) => t.property === 'color')
  expect(new Set(of.map((t) => JSON.stringify(t.value))).size).toBe(2)
  const black = await hub.send('POST', '/api/scenes/colors', { devices: [lit.id], colors: ['#000000'], level: 50 })
  expect(black.status).toBe(422)
})

test('forty minutes to dark from a starting point, even to the eye; a hand at minute 12, and from then on it is left alone', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  const lamp = await named(hub, 'Stair lamp')
  const set = (to: number) => hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: to })
  const at = () => level(hub, 'Stair lamp')
  const chosen = { devices: { lamp: { device: lamp.id, name: 'brightness' } } }
  const made = await hub.send('POST', '/api/starting-points/slowly-dark', chosen)
  const { id } = (await made.json()) as { id: string }
  await page.goto(`${hub.url}/rules/${id}`)
  await expect(page.getByRole('button', { name: /^How it goes/ })).toContainText('even to the eye')
  await page.getByRole('switch', { name: 'Rule on' }).click()
  await expect(page.getByRole('switch', { name: 'Rule on' })).toBeChecked()
  await hub.send('DELETE', '/api/rules/rule-stair')

  await set(100)
  await expect.poll(at).toBe(100)
  expect((await hub.send('POST', `/api/rules/${id}/run`)).ok).toBe(true)
  await hub.advance(20 * 60)
  await expect.poll(at, 'half as light are 18 % of the light').toBeCloseTo(18, -0.5)
  await hub.kill()
  await hub.again() // it goes on where it stood
  await hub.advance(21 * 60)
  await expect.poll(at).toBe(0)

  await set(100)
  await expect.poll(at).toBe(100)
  await hub.send('POST', `/api/rules/${id}/run`)
  await hub.advance(12 * 60)
  await set(70)
  await expect.poll(at).toBeCloseTo(70, 0)
  await hub.advance(45 * 60)
  expect(await at(), 'a hand ended it').toBeCloseTo(70, 0)
})
