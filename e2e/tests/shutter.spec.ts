import type { Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'
import type { Hub } from '../support/hub'

interface State {
  name: string
  value: unknown
  certainty: string
  shutter?: { place: number; known: boolean; travel?: { upSeconds: number; downSeconds: number } }
}
interface Device {
  id: string
  title: string
  states: State[]
}
interface Bench {
  nodes: { node: string; shutter?: { place: number; running: number; burnt: boolean; log: string[] } }[]
}
const NODE = 'n48'
const named = async (hub: Hub, title: string) =>
  (await hub.get<Device[]>('/api/devices')).find((d) => d.title === title)!
const really = async (hub: Hub) => (await hub.get<Bench>('/api/bench')).nodes.find((n) => n.node === NODE)!.shutter!
const believed = async (hub: Hub) => (await named(hub, 'Mill room shutter')).states.find((s) => s.name === 'position')!
const press = (hub: Hub, button: number) => hub.bench({ what: 'wall', node: NODE, button, gesture: 'press' })

const step = (page: Page, title: string) =>
  page.getByRole('region', { name: 'Try it' }).getByRole('listitem').filter({ hasText: title })
async function setUp(page: Page, option: string, choice: RegExp) {
  const settings = page.getByRole('region', { name: 'Set up' })
  await settings.getByRole('combobox', { name: option }).click()
  await page.getByRole('option', { name: choice }).click()
  await expect(page.getByText(`${option} of Mill room shutter changed.`).first()).toBeVisible()
}

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })

  test('a shutter that arrives as two switches, with the wrong button style and reversed, is set right and goes where it is sent', async ({
    hub,
    page,
  }) => {
    await hub.bench({ what: 'live', on: false })
    const { id } = await named(hub, 'Mill room shutter')
    await page.goto(`${hub.url}/devices/${id}`)
    await expect(page.getByRole('button', { name: /Output 1/ })).toBeVisible()
    await page.getByRole('button', { name: 'Try it' }).click()
    await expect(step(page, 'It works by hand')).toContainText('not proved yet')

    // Two switches that may drive one motor are never both on, as long as nobody has said what is wired to them.
    await page.getByRole('button', { name: 'Switch on' }).first().click()
    await expect.poll(async () => (await really(hub)).running).not.toBe(0)
    await page.getByRole('button', { name: 'Switch on' }).last().click()
    await expect(page.getByText(/choose the operating kind first/).first()).toBeVisible()
    await page.getByRole('button', { name: 'Switch off' }).first().click()
    await expect.poll(async () => (await really(hub)).running).toBe(0)
    await hub.advance(5)

    await press(hub, 0)
    await hub.advance(2)
    await expect(step(page, 'It works by hand')).toContainText('proved')
    await step(page, 'Right operating kind').getByRole('button', { name: 'one motor, up and down' }).click()
    await expect(step(page, 'Right operating kind')).toContainText('Look first at: operating kind')
    await setUp(page, 'Operating kind', /^shutter/)
    await expect(step(page, 'Right operating kind')).toContainText('It is set to shutter.')

    await hub.advance(5)
    await press(hub, 0)
    await hub.advance(2)
    await expect(step(page, 'Right button style')).toContainText('only while the button was down')
    await expect(page.getByText('Look here first.')).toBeVisible()
    await setUp(page, 'Wall button style', /^push/)

    await hub.advance(5)
    await press(hub, 0)
    await hub.advance(3)
    expect((await really(hub)).running, 'the upper button lowers it').toBe(-1)
    await expect(step(page, 'Right button style')).toContainText('runs on')
    await step(page, 'Right direction').getByRole('button', { name: 'Down, it closed' }).click()
    await expect(step(page, 'Right direction')).toContainText('Look first at: reversed')
    await setUp(page, 'Reversed', /^yes/)
    await hub.advance(5)
    await press(hub, 0)
    await hub.advance(1)
    await step(page, 'Right direction').getByRole('button', { name: 'Up, it opened' }).click()
    await expect(step(page, 'Right direction')).toContainText('as the hub believed')
    await press(hub, 0)
    await hub.advance(5)

    const travel = page.getByRole('region', { name: 'Travel times' })
    await travel.getByRole('button', { name: 'Measure' }).click()
    await expect(travel.getByRole('status')).toContainText('runs down to its end')
    await hub.advance(120)
    await expect(travel.getByRole('status')).toContainText('Measured.')
    await travel.getByRole('button', { name: 'Keep these times' }).click()
    await expect(page.getByText('Mill room shutter knows its travel times.')).toBeVisible()
    expect((await believed(hub)).shutter?.travel?.upSeconds).toBeCloseTo(24.5, 0)
    expect((await believed(hub)).shutter?.travel?.downSeconds).toBeCloseTo(21, 0)

    const exactly = page.getByRole('spinbutton', { name: 'Position, exactly' })
    await exactly.fill('40 %')
    await exactly.press('Enter')
    await expect.poll(async () => (await believed(hub)).certainty).toBe('pending')
    await hub.advance(60)
    await expect.poll(async () => (await believed(hub)).certainty).toBe('confirmed')
    expect(Math.abs((await really(hub)).place - 40)).toBeLessThan(3)
    await expect(step(page, 'The hub sets it: position')).toContainText('proved')

    await page.getByRole('button', { name: 'Raise' }).click()
    await expect.poll(async () => (await really(hub)).running).toBe(1)
    await hub.advance(6)
    await press(hub, 1)
    await hub.advance(3)
    const stopped = await really(hub)
    expect(stopped.running).toBe(0)
    expect(stopped.place).toBeGreaterThan(50)
    expect(Math.abs(Number((await believed(hub)).value) - stopped.place)).toBeLessThan(3)

    await page.getByRole('button', { name: 'Lower' }).click()
    await expect.poll(async () => (await really(hub)).running).toBe(-1)
    await page.getByRole('button', { name: 'Raise' }).click()
    await page.getByRole('button', { name: 'Lower' }).click()
    await page.getByRole('button', { name: 'Raise' }).click()
    await hub.advance(90)
    const end = await really(hub)
    expect(end.place).toBe(100)
    expect(end.burnt).toBe(false)
    expect(end.log.join(' ')).not.toContain('burnt')
    await page.reload()
    await expect(page.locator('article.property').first()).toContainText('100 %')
  })

  test('power cut in mid-travel, a button pressed while it is measured, and an option taken back', async ({
    hub,
    page,
  }) => {
    await hub.bench({ what: 'live', on: false })
    const { id } = await named(hub, 'East room shutter')
    const east = async () => (await hub.get<Bench>('/api/bench')).nodes.find((n) => n.node === 'n49')!.shutter!
    await page.goto(`${hub.url}/devices/${id}`)
    const travel = page.getByRole('region', { name: 'Travel times' })
    const moves = () => expect.poll(async () => (await east()).running).not.toBe(0)
    await travel.getByRole('button', { name: 'Measure' }).click()
    await moves()
    await hub.advance(3)
    await hub.bench({ what: 'wall', node: 'n49', button: 0, gesture: 'press' })
    await expect(travel.getByRole('alert')).toContainText('Somebody stopped it at the wall.')

    await travel.getByRole('button', { name: /^Measure/ }).click()
    await moves()
    await hub.advance(120)
    await travel.getByRole('button', { name: 'Keep these times' }).click()
    await page.getByRole('button', { name: 'Raise' }).click()
    await expect.poll(async () => (await east()).running).toBe(1)
    await hub.advance(4)
    await hub.bench({ what: 'fuse', node: 'n49', on: false })
    await hub.advance(30)
    await hub.bench({ what: 'fuse', node: 'n49', on: true })
    await expect(page.getByText('Where it stands is not known')).toBeVisible()
    const exactly = page.getByRole('spinbutton', { name: 'Position, exactly' })
    await exactly.fill('30 %')
    await exactly.press('Enter')
    await moves()
    await hub.advance(120)
    // It went to an end first, as nobody knew where it stood; what is left of the second way is waited for.
    await expect
      .poll(async () => {
        await hub.advance(2)
        return Math.abs((await east()).place - 30)
      })
      .toBeLessThan(3)
    await hub.advance(10)
    expect(Math.abs((await east()).place - 30), 'it stays there').toBeLessThan(3)
    await expect(page.getByText('At rest')).toBeVisible()

    const settings = page.getByRole('region', { name: 'Set up' })
    await settings.getByRole('combobox', { name: 'Wall button style' }).click()
    await page.getByRole('option', { name: /^latch/ }).click()
    const notice = page.getByText('Wall button style of East room shutter changed.').locator('..')
    await notice.getByRole('button', { name: 'Undo' }).click()
    await expect(settings.getByRole('combobox', { name: 'Wall button style' })).toContainText('push')
    await settings.getByRole('button', { name: 'Its changes: wall button style' }).click()
    await expect(settings.getByText(/confirmed at latch/)).toBeVisible()
    await settings.getByRole('combobox', { name: 'Operating kind' }).focus()
    await expect(settings.getByText('Mains voltage.')).toBeVisible()
  })
})
