import { expect, test } from '../support/fixtures'
import { make, named, quietEvening, value } from '../support/home'
import type { Hub } from '../support/hub'

const today = (page: import('@playwright/test').Page) => ({
  house: page.getByRole('region', { name: 'The house now' }),
  needs: page.getByRole('region', { name: 'Needs you' }),
  since: page.getByRole('region', { name: /^(Since you were here|In the last 24 hours)/ }),
})

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })

  test('one arrives at Today: a lamp is switched there, and what needs somebody is done beside it', async ({
    hub,
    page,
  }) => {
    await quietEvening(hub)
    await hub.send('POST', '/api/scenes/scene-all-off/apply')
    await hub.advance(5)
    await page.goto(hub.url)
    await expect(page).toHaveURL(/\/today$/)
    const { house, needs } = today(page)
    const lamp = house.getByRole('switch', { name: 'Table lamp' })
    await expect(lamp).not.toBeChecked()
    await lamp.click()
    await expect(lamp).toBeChecked()
    // As the day curve of the Galley says at eight in the evening.
    await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(53)
    await expect(house).toContainText('1 lamp on')
    await hub.send('PUT', `/api/devices/${(await named(hub, 'Table lamp')).id}/properties/brightness`, { value: 40 })
    await expect(lamp).toHaveAccessibleDescription(/40 %/)
    // By keys, and on again with what it had.
    await lamp.focus()
    await page.keyboard.press('Space')
    await expect(lamp).not.toBeChecked()
    await page.keyboard.press('Enter')
    await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(53) // back on its curve
    // A lamp that only switches is one, too.
    await house.getByRole('switch', { name: 'Hall lantern' }).click()
    await expect.poll(() => value(hub, 'Hall lantern', 'power')).toBe(true)

    await hub.bench({ what: 'walk', room: 'Hall', person: 'Nell' })
    await hub.advance(5)
    await expect(house.getByRole('row', { name: /^Hall/ })).toContainText('now')

    // The bolt jams: Today says so, and asks again once it is free.
    const lock = await named(hub, 'Boat shed lock')
    const bolt = (await hub.get<{ locks: { id: string }[] }>('/api/bench')).locks[1]!
    await hub.bench({ what: 'turnKey', lock: bolt.id, on: false })
    await expect.poll(() => value(hub, 'Boat shed lock', 'locked')).toBe(false)
    await hub.bench({ what: 'jam', lock: bolt.id, on: true })
    await hub.send('PUT', `/api/devices/${lock.id}/properties/locked`, { value: true })
    await hub.advance(300)
    await expect(needs).toContainText('Boat shed lock')
    await expect(house.getByRole('row', { name: /^Boat shed/ })).toContainText('not locked')
    await hub.bench({ what: 'jam', lock: bolt.id, on: false })
    await needs.getByRole('button', { name: 'Try again: Boat shed lock' }).click()
    await hub.advance(60)
    await expect.poll(() => value(hub, 'Boat shed lock', 'locked')).toBe(true)
    await expect(needs).not.toContainText('Boat shed lock')
  })

  /** Somebody comes up the stairs in the evening, and turns the lamp down where they do; later it is put out. */
  async function evening(hub: Hub, id: string, turnedTo?: number) {
    const set = (to: number) => hub.send('PUT', `/api/devices/${id}/properties/brightness`, { value: to })
    await hub.bench({ what: 'jump', clock: '19:00' })
    await hub.bench({ what: 'walk', room: 'Landing', person: 'Nell' })
    await hub.advance(20)
    if (turnedTo) await set(turnedTo)
    await hub.advance(60)
    await hub.bench({ what: 'walk', room: '', person: 'Nell' })
    await hub.advance(3600)
    await set(0)
    await hub.advance(60)
  }

  test('a hand turns the Stair lamp down on seven of nine evenings: Today says so, and offers it', async ({
    hub,
    page,
  }) => {
    await quietEvening(hub)
    const { id } = await named(hub, 'Stair lamp')
    for (const turned of [25, undefined, 20, undefined, undefined, 30, undefined, undefined, undefined])
      await evening(hub, id, turned)
    await page.goto(`${hub.url}/today`)
    const { since } = today(page)
    await expect(since).toContainText('acted, most often')
    await expect(since).not.toContainText('Stair lamp') // three of nine may be chance

    const rules = await hub.get<{ id: string; title: string; do: unknown }[]>('/api/rules')
    const stair = rules.find((r) => r.title === 'Stair light')!
    await hub.send('DELETE', `/api/rules/${stair.id}`)
    await hub.send('POST', `/api/definitions/rule/${stair.id}/restore`) // so that it begins anew
    for (const turned of [25, 20, undefined, 25, 30, 25, undefined, 20, 25]) await evening(hub, id, turned)
    await page.reload()
    await expect(since).toContainText('7 of 9')
    await expect(since).toContainText('times a hand turned Stair lamp down from 60 % to about 25 % after Stair light')
    await since.getByRole('button', { name: 'Let the rule set 25 %' }).click()
    await expect(page.getByText('a draft differs from what is live')).toBeVisible()
    await expect(page.getByRole('button', { name: '25 %' }).first()).toBeVisible()
    // Nothing changes by itself.
    expect(
      JSON.stringify((await hub.get<{ id: string; do: unknown }[]>('/api/rules')).find((r) => r.id === stair.id)!.do),
    ).toBe(JSON.stringify(stair.do))
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect(page.getByText('Stair light is live.').last()).toBeVisible()

    await page.goto(`${hub.url}/today`)
    await expect(since).toContainText('acted, most often')
    await expect(since).not.toContainText('Stair lamp')
    for (let n = 0; n < 3; n++) await evening(hub, id)
    await page.reload()
    await expect(since).toContainText('0 of 3')
    await expect(since).toContainText('since you changed Stair light')
    await expect(since).toContainText('before, 7 of 9')
  })
})

test.describe('in a new home', () => {
  test.use({ flags: ['--empty'] })

  test('Today shows the first steps, and which are done', async ({ hub, page }) => {
    await page.goto(hub.url)
    const steps = page.getByRole('region', { name: 'First steps' })
    await expect(steps.getByRole('listitem')).toHaveCount(5)
    const rooms = steps.getByRole('listitem').filter({ hasText: 'Name its rooms' })
    await expect(rooms).not.toContainText('done')
    await make(hub, '/api/rooms', { title: 'Attic', order: 0 })
    await expect(rooms).toContainText('done')
    await steps.getByRole('link', { name: 'Take in devices' }).click()
    await expect(page).toHaveURL(/\/found$/)
  })
})
