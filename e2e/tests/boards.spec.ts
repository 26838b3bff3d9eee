import type { Browser, Locator, Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'
import type { Hub } from '../support/hub'
import { quietEvening } from '../support/home'
import { drawn, pick, type } from '../support/words'

interface Control {
  id: string
  kind: string
  device?: string
  scene?: string
  label?: string
  icon?: string
  color?: string
  clear?: number
  column: number
  row: number
  width: number
  height: number
  tall?: { column: number; row: number; width: number; height: number }
}
interface Board {
  id: string
  title: string
  controls: Control[]
  background?: { upload?: string }
}
interface Device {
  id: string
  title: string
  room?: string
  states: { name: string; value: unknown; text: string }[]
}

const boards = (hub: Hub) => hub.get<Board[]>('/api/dashboards')
const board = async (hub: Hub, title: string) => (await boards(hub)).find((b) => b.title === title)!
const devices = (hub: Hub) => hub.get<Device[]>('/api/devices')
const device = async (hub: Hub, title: string) => (await devices(hub)).find((d) => d.title === title)!
const placed = (page: Page, name: string | RegExp) =>
  page.getByRole('group', { name: typeof name === 'string' ? new RegExp(`^${name}: column`) : name })
const control = async (hub: Hub, title: string, label: string) =>
  (await board(hub, title)).controls.find((c) => c.label === label)!

/** Drags something by a way, in px, with the mouse. */
async function drag(page: Page, from: Locator, way: { x: number; y: number }, at?: { x: number; y: number }) {
  const box = (await from.boundingBox())!
  const [x, y] = [box.x + (at?.x ?? box.width / 2), box.y + (at?.y ?? box.height / 2)]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + way.x / 2, y + way.y / 2, { steps: 4 })
  await page.mouse.move(x + way.x, y + way.y, { steps: 4 })
  await page.mouse.up()
}

async function second(browser: Browser, address: string): Promise<Page> {
  const page = await (await browser.newContext({ reducedMotion: 'reduce' })).newPage()
  await page.goto(address)
  return page
}

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })

  test('a dashboard is drafted for the Mill room, arranged, copied for the East room and undone; two browsers arrange at once', async ({
    hub,
    page,
    browser,
  }) => {
    await hub.bench({ what: 'live', on: false })
    // Without its light and its scenes the lamps of the room stand in the first row.
    expect((await hub.send('DELETE', '/api/lights/light-mill-room')).ok).toBe(true)
    for (const scene of ['evening', 'reading', 'film', 'midwinter', 'desk'])
      expect((await hub.send('DELETE', `/api/scenes/scene-mill-${scene}`)).ok).toBe(true)
    await page.goto(`${hub.url}/dashboards`)
    await pick(page, 'New dashboard', 'Mill room')
    await expect(page.getByRole('textbox', { name: 'Name of the dashboard' })).toHaveValue('Mill room')
    await expect(placed(page, 'Ceiling')).toBeVisible()
    const drafted = await board(hub, 'Mill room')
    expect(drafted.controls.map((c) => c.kind)).toEqual(
      expect.arrayContaining(['lamp', 'shutter', 'warmth', 'value', 'player', 'action']),
    )

    await test.step('by dragging, sizing and keys, several at once', async () => {
      const before = await control(hub, 'Mill room', 'Ceiling')
      const beside = await control(hub, 'Mill room', 'Left lamp')
      await drag(page, placed(page, 'Ceiling'), { x: 280, y: 0 })
      await expect
        .poll(async () => (await control(hub, 'Mill room', 'Ceiling')).column)
        .toBeGreaterThan(before.column + 5)
      // What lay there made room.
      const left = await control(hub, 'Mill room', 'Left lamp')
      expect(left.row).toBeGreaterThan(beside.row)
      await page.getByRole('button', { name: 'Undo' }).first().click()
      await expect.poll(async () => (await control(hub, 'Mill room', 'Ceiling')).column).toBe(before.column)
      await expect.poll(async () => (await control(hub, 'Mill room', 'Left lamp')).row).toBe(beside.row)

      const handle = placed(page, 'Ceiling').locator('.handle.corner')
      await placed(page, 'Ceiling').click({ position: { x: 30, y: 12 } })
      await drag(page, handle, { x: 0, y: 76 })
      await expect.poll(async () => (await control(hub, 'Mill room', 'Ceiling')).height).toBe(before.height + 2)

      await placed(page, 'Left lamp').click()
      await placed(page, 'Right lamp').click({ modifiers: ['Shift'] })
      await expect(page.getByRole('heading', { name: '2 controls' })).toBeVisible()
      const rows = async () =>
        Promise.all(['Left lamp', 'Right lamp'].map(async (l) => (await control(hub, 'Mill room', l)).row))
      const were = await rows()
      await placed(page, 'Right lamp').press('ArrowDown')
      await expect.poll(rows).toEqual(were.map((r) => r + 1))
    })

    await test.step('by touch, and for tall screens by itself', async () => {
      const touch = await browser.newContext({ hasTouch: true, viewport: { width: 820, height: 1180 } })
      const tablet = await touch.newPage()
      await tablet.goto(`${hub.url}/dashboards/${drafted.id}`)
      await tablet.getByRole('radio', { name: 'Tall screens' }).click()
      await expect(tablet.getByText('As proposed from the wide one')).toBeVisible()
      const lamp = placed(tablet, 'Ceiling')
      await lamp.tap()
      await expect(lamp).toHaveAccessibleName(/chosen$/)
      const box = (await lamp.boundingBox())!
      const at = { x: box.x + 40, y: box.y + 20 }
      const finger = await touch.newCDPSession(tablet)
      const touched = (type: string, points: object[]) =>
        finger.send('Input.dispatchTouchEvent', { type, touchPoints: points } as never)
      await touched('touchStart', [at])
      for (const by of [20, 40, 60, 76]) await touched('touchMove', [{ x: at.x, y: at.y + by }])
      await touched('touchEnd', [])
      await expect.poll(async () => (await control(hub, 'Mill room', 'Ceiling')).tall?.row).toBe(2)
      expect((await control(hub, 'Mill room', 'Ceiling')).row).toBe(0)
      await tablet.getByRole('button', { name: 'Arrange as proposed' }).click()
      await expect.poll(async () => (await control(hub, 'Mill room', 'Ceiling')).tall).toBeUndefined()
      await touch.close()
    })

    await test.step('some of it copied for the East room, which has nothing like the climate sensor', async () => {
      await page.reload()
      await placed(page, 'Ceiling').click({ position: { x: 30, y: 12 } })
      for (const label of ['Shutter', 'Thermostat', 'Climate, humidity'])
        await placed(page, label).click({ modifiers: ['Shift'], position: { x: 30, y: 12 } })
      await page.getByRole('button', { name: 'Copy for another room …' }).click()
      const copying = page.getByRole('region', { name: 'Copy for another room' })
      await pick(copying, /^Room/, 'East room')
      const row = (name: string) => copying.getByRole('row').filter({ has: page.getByText(name, { exact: true }) })
      await expect(row('Mill room ceiling')).toContainText('East room ceiling')
      await expect(row('Mill room climate')).toContainText('Nothing there is like it.')
      await expect(copying.getByRole('status')).toHaveText('1 control is left out.')
      await copying.getByRole('button', { name: 'Copy 3 controls' }).click()
      const ceiling = await device(hub, 'East room ceiling')
      const copies = async () => (await board(hub, 'Mill room')).controls.filter((c) => c.device === ceiling.id)
      await expect.poll(async () => (await copies()).length).toBe(1)

      // Both work.
      const panel = await second(browser, `${hub.url}/panel/${drafted.id}`)
      const both = panel.getByRole('article', { name: 'Ceiling' })
      await expect(both).toHaveCount(2)
      for (const n of [0, 1]) await both.nth(n).getByRole('button').first().click()
      const on = async (title: string) =>
        Number((await device(hub, title)).states.find((s) => s.name === 'brightness')?.value) > 0
      await expect.poll(() => on('Mill room ceiling')).toBe(true)
      await expect.poll(() => on('East room ceiling')).toBe(true)
      await panel.context().close()

      await page.getByRole('button', { name: 'Undo' }).first().click()
      await expect.poll(copies).toEqual([])
    })

    await test.step('two browsers at once, and neither loses anything', async () => {
      const other = await second(browser, `${hub.url}/dashboards/${drafted.id}`)
      await placed(other, 'Thermostat').focus()
      await placed(page, 'Ceiling').focus()
      const warmth = await control(hub, 'Mill room', 'Thermostat')
      await Promise.all([other.keyboard.press('Shift+ArrowUp'), page.keyboard.press('Shift+ArrowLeft')])
      await expect.poll(async () => (await control(hub, 'Mill room', 'Thermostat')).height).toBe(warmth.height - 1)
      await expect.poll(async () => (await control(hub, 'Mill room', 'Ceiling')).width).toBe(7)
      await expect(placed(other, /^Ceiling: column 1, row 1, 7 wide/)).toBeVisible()
      await other.context().close()
    })
  })

  test('a remote for music, with stations as keys, icons, colors, a picture behind and a way to another dashboard, is used on a phone', async ({
    hub,
    page,
    browser,
  }) => {
    await hub.bench({ what: 'live', on: false })
    await page.goto(`${hub.url}/dashboards`)
    await page.emulateMedia({ colorScheme: 'dark' })
    const picture = await page.screenshot({ type: 'jpeg' })
    await page.emulateMedia({ colorScheme: 'light' })
    await pick(page, 'New dashboard', 'an empty one')
    const name = page.getByRole('textbox', { name: 'Name of the dashboard' })
    await expect(name).toHaveValue('New dashboard')
    await name.fill('Music')
    await page.getByRole('button', { name: 'Add a control' }).click()
    await pick(page, 'Add: Player', 'Galley player track')
    await pick(page, 'Add: Cover', 'Galley player track')
    await pick(page, 'Add: Level', 'Galley player volume')
    await pick(page, 'Add: Action', 'Galley player play')
    await pick(page, 'Add: Link', 'Galley')
    await page.getByRole('button', { name: 'Done' }).click()
    await expect.poll(async () => (await board(hub, 'Music'))?.controls.length).toBe(5)
    const options = page.getByRole('complementary').last()
    const kind = async (of: string) => (await board(hub, 'Music')).controls.find((c) => c.kind === of)!

    await test.step('a station as a key, with an icon and a color of its own', async () => {
      const key = await kind('action')
      await page.locator(`[data-id="${key.id}"]`).click({ position: { x: 20, y: 12 } })
      await options.getByRole('textbox', { name: 'Title', exact: true }).fill('Weirside')
      await type(options, /station or title/i, 'Harbor')
      await options.getByRole('textbox', { name: 'On its key' }).fill('Listen')
      await options.getByRole('button', { name: /^Icon/ }).click()
      await page.getByRole('searchbox', { name: 'Search icons' }).fill('radio')
      await page.getByRole('option', { name: 'radio', exact: true }).click()
      await options.getByRole('radiogroup', { name: 'Color' }).getByRole('radio', { name: 'plum' }).click()
      await expect
        .poll(() => kind('action'))
        .toMatchObject({
          label: 'Weirside',
          icon: 'radio',
          color: 'plum',
          inputs: { search: 'Harbor' },
          options: { verb: 'Listen' },
        })
    })

    await test.step('a picture behind, which is refused where it is none', async () => {
      await page.keyboard.press('Escape')
      await expect(page.getByRole('heading', { name: 'This dashboard' })).toBeVisible()
      const upload = options.locator('input[type=file]')
      await upload.setInputFiles({ name: 'cover.png', mimeType: 'image/png', buffer: Buffer.from('no picture at all') })
      await expect(options.getByRole('alert')).toContainText('This is not a picture')
      await upload.setInputFiles({ name: 'mill.jpg', mimeType: 'image/jpeg', buffer: picture })
      await expect.poll(async () => (await board(hub, 'Music')).background?.upload).toMatch(/^upload-/)
      await expect(options.getByRole('alert')).toHaveCount(0)
      await page.getByRole('button', { name: 'Choose all' }).click()
      await options.getByRole('slider', { name: 'See-through, in percent' }).fill('60')
      await expect.poll(async () => (await board(hub, 'Music')).controls.map((c) => c.clear)).toEqual(Array(5).fill(60))
    })

    const phone = await (
      await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, reducedMotion: 'reduce' })
    ).newPage()
    await test.step('a station that the player does not have says so at its key', async () => {
      await phone.goto(`${hub.url}/panel/${(await board(hub, 'Music')).id}`)
      const key = phone.getByRole('article', { name: 'Weirside' })
      await key.getByRole('button', { name: /Listen/ }).tap()
      await expect(key).toContainText('Not done: The device refuses')
      const action = await kind('action')
      const music = await board(hub, 'Music')
      const controls = music.controls.map((c) => (c.id === action.id ? { ...c, inputs: { search: 'weirside' } } : c))
      await hub.send('PUT', `/api/dashboards/${music.id}`, {
        ...music,
        controls,
        id: undefined,
        revision: undefined,
        tallPlaces: undefined,
      })
    })
    await test.step('on a phone', async () => {
      const player = phone.getByRole('article', { name: 'Galley player', exact: true }).first()
      await expect(player).toBeVisible()
      await phone
        .getByRole('article', { name: 'Weirside' })
        .getByRole('button', { name: /Listen/ })
        .tap()
      const state = async (name: string) => (await device(hub, 'Galley player')).states.find((s) => s.name === name)
      await expect.poll(async () => (await state('track'))?.text).toContain('Weirside Quiet')
      await expect(player).toContainText('Weirside Quiet')
      await expect(phone.getByRole('img', { name: /Weirside Quiet/ }).first()).toBeVisible()
      await player.getByRole('button', { name: 'Galley player: pause' }).tap()
      await expect.poll(async () => (await state('playing'))?.value).toBe(false)
      const volume = Number((await state('volume'))?.value)
      await phone.getByRole('button', { name: /: more$/ }).tap()
      await expect.poll(async () => Number((await state('volume'))?.value)).toBeGreaterThan(volume)
      // Whatever stands on the picture can be read.
      expect(
        await phone.locator('.backdrop .paper').evaluate((paper) => Number(getComputedStyle(paper).opacity)),
      ).toBeGreaterThan(0.1)
      expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
      await phone.getByRole('article', { name: 'Galley', exact: true }).getByRole('button').tap()
      await expect(phone.getByRole('article', { name: 'Worktop lamps' })).toBeVisible()
      await phone.context().close()
    })
  })

  test('what fails says so in its place: a lamp that does not follow, a bolt that jams, a connection that is dead', async ({
    hub,
    page,
  }) => {
    await quietEvening(hub)
    const lock = await device(hub, 'Boat shed lock')
    const lamp = await device(hub, 'Stair lamp')
    const of = (id: string, kind: string, device: string, property: string, column: number, more = {}) => ({
      ...{ id, kind, device, property, column, row: 0, width: 8, height: 5, ...more },
    })
    const controls = [
      of('a', 'lamp', lamp.id, 'brightness', 0, { ask: true }),
      of('b', 'lock', lock.id, 'locked', 8),
      { id: 'c', kind: 'scene', scene: 'scene-gone', column: 16, row: 0, width: 8, height: 4 },
    ]
    const { id } = (await (
      await hub.send('POST', '/api/dashboards', { title: 'Doors', grid: 24, controls })
    ).json()) as { id: string }
    await page.goto(`${hub.url}/panel/${id}`)
    await expect(page.getByRole('article', { name: 'Nothing' })).toContainText('It is no longer in the home')

    await test.step('a bolt that jams', async () => {
      const bolt = (await hub.get<{ locks: { id: string }[] }>('/api/bench')).locks[1]!.id
      await hub.bench({ what: 'turnKey', lock: bolt, on: false })
      await hub.bench({ what: 'jam', lock: bolt, on: true })
      const shed = page.getByRole('article', { name: 'Boat shed lock' })
      await hub.send('PUT', `/api/devices/${lock.id}/properties/locked`, { value: true })
      await expect(shed).toContainText('Failed')
      await hub.bench({ what: 'jam', lock: bolt, on: false })
      await shed.getByRole('button', { name: 'Try again' }).click()
      await expect(shed.getByRole('button', { name: 'Try again' })).toHaveCount(0)
      await expect(shed.locator('.figure')).toHaveText('locked')
    })

    await test.step('what is risky is asked about first', async () => {
      const stair = page.getByRole('article', { name: 'Stair lamp' })
      const level = async () => (await device(hub, 'Stair lamp')).states.find((s) => s.name === 'brightness')?.value
      await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 0 })
      await expect(stair.locator('.figure')).toHaveText('off')
      await page.getByRole('button', { name: 'Stair lamp', exact: true }).click()
      const question = page.getByRole('alertdialog', { name: 'Use Stair lamp?' })
      await question.getByRole('button', { name: 'Leave it' }).click()
      expect(await level()).toBe(0)
      await page.getByRole('button', { name: 'Stair lamp', exact: true }).click()
      await question.getByRole('button', { name: 'Yes' }).click()
      await expect.poll(level).not.toBe(0)
    })

    await test.step('a connection that is dead, and a hub that is gone', async () => {
      await hub.bench({ what: 'cutBridge', on: true })
      const stair = page.getByRole('article', { name: 'Stair lamp' })
      await expect(stair).toContainText('Its connection is down')
      await expect(stair).toHaveClass(/silent/)
      await hub.bench({ what: 'cutBridge', on: false })
      await expect(stair).not.toContainText('Its connection is down')
      await page.route('**/api/devices/**', (route) => route.abort())
      await stair.getByRole('button').first().click()
      if (await page.getByRole('alertdialog').isVisible()) await page.getByRole('button', { name: 'Yes' }).click()
      const failed = page.getByRole('alert').filter({ has: page.getByRole('button', { name: 'Again' }) })
      await expect(failed).toBeVisible()
      await page.unroute('**/api/devices/**')
      await failed.getByRole('button', { name: 'Again' }).click()
      await expect(failed).toHaveCount(0)
    })
  })

  test('a large dashboard, long names in any script, icons and kinds that do not exist', async ({ hub, page }) => {
    const long = '木漏れ日'.repeat(20)
    const controls = Array.from({ length: 300 }, (_, i) => ({
      ...{ id: `c${i}`, kind: 'clock', label: i % 2 ? long : `Clock ${i}`, icon: i === 1 ? 'no-such-icon' : 'clock' },
      ...{ column: (i % 6) * 4, row: Math.floor(i / 6) * 3, width: 4, height: 3 },
    }))
    const { id } = (await (await hub.send('POST', '/api/dashboards', { title: long, grid: 24, controls })).json()) as {
      id: string
    }
    const refused = await hub.send('POST', '/api/dashboards', {
      ...{ title: 'Wrong', grid: 24, controls: [{ ...controls[0]!, kind: 'gauge' }] },
    })
    expect(refused.status).toBe(422)
    await page.goto(`${hub.url}/dashboards/${id}`)
    await expect(page.locator('.placed')).toHaveCount(300)
    await page.goto(`${hub.url}/panel/${id}`)
    await expect(page.getByRole('article')).toHaveCount(300)
    await drawn(page)
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1280)
  })
})
