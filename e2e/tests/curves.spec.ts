import { expect, test } from '../support/fixtures'
import { named, quietEvening, value } from '../support/home'
import type { Hub } from '../support/hub'

test.use({ flags: ['--fresh'] })

const lamp = 'Mill room ceiling'
const level = (hub: Hub) => value(hub, lamp, 'brightness').then(Number)
const white = (hub: Hub) => value(hub, lamp, 'colorTemperature').then(Number)

/** What the hub sent to the lamp, in order. */
async function sent(hub: Hub): Promise<{ name: string; value: unknown }[]> {
  const { id } = await named(hub, lamp)
  type Wire = { sent?: boolean; became?: { kind: string; device?: string; name?: string; value?: unknown }[] }
  const { messages } = await hub.get<{ messages: Wire[] }>(`/api/messages?device=${id}&way=out&limit=1000`)
  return messages
    .filter((m) => m.sent)
    .flatMap((m) => m.became ?? [])
    .filter((b) => b.kind === 'command' && b.device === id)
    .map((b) => ({ name: b.name!, value: b.value }))
}
const curve = async (hub: Hub) => {
  const all = await hub.get<{ title: string; points: unknown[] }[]>('/api/curves')
  const points = all.find((c) => c.title === 'Living rooms')!.points
  const day = await hub.send('POST', '/api/curves/day', { title: 'x', points })
  return ((await day.json()) as { now: { level: number; kelvin: number } }).now
}

test('a lamp that is switched on at 21:00 starts where its day curve is, follows it, leaves it by hand, and is back after off and on', async ({
  hub,
  page,
}) => {
  await quietEvening(hub, '21:00')
  await page.goto(`${hub.url}/lights/light-mill-room`)
  const row = page.getByRole('list', { name: 'Its lamps' }).getByRole('listitem').filter({ hasText: 'Ceiling' })
  const pendant = row.getByRole('switch', { name: lamp })
  await expect(pendant).toBeVisible()
  const before = (await sent(hub)).length

  await pendant.click()
  const now = await curve(hub)
  await expect.poll(() => level(hub)).toBe(Math.round(now.level))
  expect(Math.abs((await white(hub)) - now.kelvin)).toBeLessThan(25)
  const first = (await sent(hub)).slice(before)
  expect(first.map((s) => s.name)).toEqual(['colorTemperature', 'brightness'])
  expect(first[1]!.value).toBe(Math.round(now.level))

  // Nothing within a minute; then in steps, down to where the curve is half an hour later.
  await hub.advance(59)
  expect(await sent(hub)).toHaveLength(before + 2)
  await hub.advance(1740)
  const later = await curve(hub)
  await expect.poll(() => level(hub)).toBeLessThan(now.level)
  expect(Math.abs((await level(hub)) - later.level)).toBeLessThan(3)

  // By hand it leaves the curve, and says so.
  await row.getByRole('slider').press('End')
  await expect.poll(() => level(hub)).toBe(100)
  await expect(row).toContainText('off its day curve')
  const byHand = (await sent(hub)).filter((s) => s.name === 'brightness').length
  await hub.advance(3600)
  expect((await sent(hub)).filter((s) => s.name === 'brightness')).toHaveLength(byHand)

  // Off and on, it is back; so it is when told.
  await pendant.click()
  await expect.poll(() => level(hub)).toBe(0)
  await expect(pendant).not.toBeChecked()
  await pendant.click()
  const back = await curve(hub)
  await expect.poll(() => level(hub)).toBe(Math.round(back.level))
  await row.getByRole('slider').press('End')
  await row.getByRole('button', { name: /follows its day curve again/ }).click()
  await expect.poll(async () => Math.abs((await level(hub)) - back.level)).toBeLessThan(2)
  await expect(row).not.toContainText('off its day curve')

  // After a restart it follows on.
  await hub.advance(5)
  await hub.kill()
  await hub.again('--off', '1h')
  await expect.poll(async () => Math.abs((await level(hub)) - (await curve(hub)).level)).toBeLessThan(3)
})

test('a day curve is made, dragged, typed and given to a room; wrong input is said where it is', async ({
  hub,
  page,
}) => {
  await quietEvening(hub, '12:00')
  await page.goto(`${hub.url}/curves`)
  await page.getByRole('button', { name: 'Make a day curve' }).first().click()
  await page.getByLabel('Name of the curve').fill('Workshop')
  await expect(page.locator('a[data-row]').filter({ hasText: 'Workshop' })).toBeVisible()
  const points = page.getByRole('list', { name: 'Its points' }).getByRole('listitem')
  await expect(points).toHaveCount(5)

  // A point is dragged to half as bright and an hour later, and takes one undo.
  const noon = page.getByRole('slider', { name: 'Point at 13:00' })
  const box = (await noon.boundingBox())!
  const plot = (await page.getByRole('group', { name: 'Workshop over the day' }).boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + box.height - 16)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width / 2 + (plot.width - 42) / 24, box.y + box.height - 16 + 90, { steps: 6 })
  await page.mouse.up()
  const moved = page.getByRole('slider', { name: 'Point at 14:00' })
  await expect(moved).toBeVisible()
  expect(Number(await moved.getAttribute('aria-valuenow'))).toBeLessThan(70)
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByRole('slider', { name: 'Point at 13:00' })).toHaveAttribute('aria-valuenow', '100')

  // By keys: five minutes, one percent, fifty kelvin.
  const point = page.getByRole('slider', { name: 'Point at 13:00' })
  await point.press('ArrowDown')
  await point.press('Shift+ArrowUp')
  await expect(point).toHaveAttribute('aria-valuetext', '99 %, 4250 K')
  await point.press('ArrowRight')
  await expect(page.getByRole('slider', { name: 'Point at 13:05' })).toBeVisible()

  // The sun's points move with the year.
  const sunset = points.filter({ hasText: 'sunset' })
  const today = (await sunset.textContent())!.slice(0, 5)
  expect(today).toMatch(/^\d\d:\d\d$/)
  await page.getByRole('slider', { name: 'Day of the year' }).press('Home')
  await expect(sunset).toContainText('16:12') // on New Year's Day
  await page.getByRole('button', { name: 'Back to today' }).click()
  await expect(sunset).toContainText(today)

  // What cannot be is said in place, and nothing is lost.
  await points
    .nth(1)
    .getByRole('button', { name: /^Level/ })
    .click()
  await page.getByRole('textbox', { name: 'Level' }).fill('140')
  await page.getByRole('button', { name: 'Set', exact: true }).click()
  await expect(page.getByText('At most 100 %.')).toBeVisible()
  await page.keyboard.press('Escape')
  const refused = await hub.send('POST', '/api/curves', { title: 'Nothing', points: [] })
  expect(refused.status).toBe(422)
  expect(await refused.text()).toContain('A curve needs a point')

  // A point more, and less.
  await page.getByRole('button', { name: 'Add a point' }).click()
  await expect(points).toHaveCount(6)
  await points
    .first()
    .getByRole('button', { name: /^Remove the point/ })
    .click()
  await expect(points).toHaveCount(5)

  // A room follows it, and its lamp comes on so.
  await page.getByRole('button', { name: /^Room that is to follow it/ }).click()
  await page.getByRole('option', { name: 'Wheel room' }).click()
  await expect(page.getByRole('link', { name: 'Wheel room' }).last()).toBeVisible()
  await page.reload()
  await expect(page.getByLabel('Name of the curve')).toHaveValue('Workshop')
  await expect(points).toHaveCount(5)
  const used = await hub.get<{ id: string; title: string; curve?: string }[]>('/api/lights')
  expect(used.find((l) => l.title === 'Wheel room')?.curve).toBe(page.url().split('/').pop())

  // Without the curve the room says that it is gone.
  await page.getByRole('button', { name: 'Delete', exact: true }).click()
  await page.goto(`${hub.url}/lights/light-wheel-room`)
  await expect(page.getByRole('region', { name: 'Day curve' })).toContainText('a removed day curve')
})

test('two scenes are mixed, and how much of each is changed in place', async ({ hub, page }) => {
  await quietEvening(hub)
  await page.goto(`${hub.url}/scenes/scene-mill-evening`)
  const ceiling = page.getByRole('button', { name: /^Mill room ceiling brightness/ })
  await expect(ceiling).toHaveText('30 %')
  await page.getByRole('button', { name: /^Scene to mix in/ }).click()
  await page.getByRole('option', { name: 'Reading' }).click() // where the ceiling is off
  await expect(ceiling).toHaveText('7 %') // half as light to the eye
  await page.getByRole('button', { name: /^How much of it/ }).click()
  await page.getByRole('textbox', { name: 'How much of it' }).fill('100')
  await page.getByRole('button', { name: 'Set', exact: true }).click()
  await expect(ceiling).toHaveText('off')
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(ceiling).not.toHaveText('off')
  const wrong = await hub.send('POST', '/api/scenes/mix', { targets: [], scene: 'nothing', percent: 50 })
  expect(wrong.status).toBe(404)
})

test('a scene follows a day curve as long as it is in effect', async ({ hub, page }) => {
  await quietEvening(hub, '19:00')
  await page.goto(`${hub.url}/scenes/scene-mill-evening`)
  const line = page.getByRole('listitem').filter({ hasText: 'Mill room floor lamp' })
  await line.getByRole('button', { name: /^Day curve that/ }).click()
  await page.getByRole('option', { name: 'Living rooms' }).click()
  await expect(line).toContainText('follows Living rooms')
  await page.getByRole('button', { name: 'Apply' }).click()
  const floor = () => value(hub, 'Mill room floor lamp', 'brightness').then(Number)
  await expect.poll(floor).toBe(Math.round((await curve(hub)).level))
  await expect(page.getByText('in effect now')).toBeVisible()
  const before = await floor()
  await hub.advance(3600)
  await expect.poll(floor).toBeLessThan(before)
  await expect(page.getByText('in effect now')).toBeVisible()
})
