import type { Locator, Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'
import { named, quietEvening, value } from '../support/home'

test.use({ flags: ['--fresh'] })

/** The parts of the README's tour, in its order, each with the heading that it has. */
const TOUR = [
  ['Today', 'The house now'],
  ['Found', 'Found'],
  ['Devices', 'Devices'],
  ['Scenes and sequences', 'Scenes'],
  ['Rules', 'Rules'],
  ['Schedules', 'Schedules'],
  ['Modes', 'Modes'],
  ['Dashboards', 'Galley'],
  ['Journal', 'Journal'],
  ['History', 'History'],
  ['Care', 'Care'],
  ['Connections', 'Connections'],
  ['Profiles', 'Profiles'],
  ['House', 'House'],
  ['Bench', 'Bench'],
] as const

/** As many stops as a page may have before what is wanted. */
const STOPS = 250

/** Goes to something by the tab key alone. */
async function tabTo(page: Page, wanted: Locator): Promise<void> {
  await expect(wanted).toBeVisible()
  const element = await wanted.elementHandle()
  for (let i = 0; i < STOPS; i++) {
    if (await element!.evaluate((e) => e === document.activeElement)) return
    await page.keyboard.press('Tab')
  }
  throw new Error(`${wanted} is not reached by the tab key`)
}

const heading = (page: Page, title: string) =>
  page.getByRole('main').getByRole('heading', { name: title, exact: true }).first()

/** Goes to a place by search, as one does who uses keys. */
async function go(page: Page, part: string): Promise<void> {
  await page.keyboard.press('Control+k')
  await page.keyboard.type(part)
  await expect(page.getByRole('option', { name: new RegExp(`^${part}`) }).first()).toBeVisible()
  await page.keyboard.press('Enter')
}

test('the whole tour by keyboard', async ({ hub, page }) => {
  await page.goto(hub.url)
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible()
  for (const [part, title] of TOUR) {
    await go(page, part)
    await expect(heading(page, title), part).toBeVisible()
  }
})

test('what the tour shows is done by keyboard', async ({ hub, page }) => {
  await quietEvening(hub)
  await page.goto(hub.url)
  const pendant = page.getByRole('switch', { name: 'Table lamp' })
  await tabTo(page, pendant)
  const was = await pendant.getAttribute('aria-checked')
  await page.keyboard.press('Enter')
  await expect(pendant).toHaveAttribute('aria-checked', was === 'true' ? 'false' : 'true')

  // A device is found, read and set.
  await page.keyboard.press('Control+k')
  await page.keyboard.type('Stair lamp')
  await page.keyboard.press('Enter')
  await expect(heading(page, 'Stair lamp')).toBeVisible()
  const scale = page.getByRole('slider', { name: /brightness/i })
  await tabTo(page, scale)
  await page.keyboard.press('End')
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(100)

  // A scene is applied, a rule opened in the list, somebody sent about on the bench.
  await page.keyboard.press('Control+k')
  await page.keyboard.type('apply all off')
  await expect(page.getByRole('option', { name: /^Apply All off/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(0)
  await go(page, 'Rules')
  await expect(page).toHaveURL(/\/rules$/)
  const first = page.locator('a[data-row]').first()
  await tabTo(page, first)
  await page.keyboard.press('ArrowDown')
  await expect(page).toHaveURL(/\/rules\/rule-/)
  await go(page, 'Bench')
  await tabTo(page, page.getByRole('button', { name: /^Nell: walk to the Landing/ }))
  await page.keyboard.press('Enter')
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(60)
  await go(page, 'Journal')
  const entry = page.getByRole('button', { name: /Landing sensor: motion moving/ }).first()
  await tabTo(page, entry)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'How it came about' })).toBeVisible()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
})

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true })

  test('the whole tour by touch', async ({ hub, page }) => {
    await quietEvening(hub)
    await page.goto(hub.url)
    const rail = page.getByRole('navigation', { name: 'Places' })
    const goTo = async (place: string, part?: string) => {
      const link = rail.getByRole('link', { name: new RegExp(`^${place}`) })
      if (!(await link.isVisible())) await rail.getByRole('button', { name: 'More' }).tap()
      await link.tap()
      if (part)
        await page
          .getByRole('navigation', { name: place })
          .getByRole('link', { name: new RegExp(`^${part}`) })
          .tap()
    }
    for (const [place, part, title] of [
      ['Today', undefined, 'The house now'],
      ['Devices', 'Found', 'Found'],
      ['Devices', 'All', 'Devices'],
      ['Light', undefined, 'Rooms'],
      ['Light', 'Scenes', 'Scenes'],
      ['Rules', 'Rules', 'Rules'],
      ['Rules', 'Schedules', 'Schedules'],
      ['Household', 'Modes', 'Modes'],
      ['Dashboards', undefined, 'Galley'],
      ['Record', 'Journal', 'Journal'],
      ['Record', 'History', 'History'],
      ['Devices', 'Care', 'Care'],
      ['Devices', 'Connections', 'Connections'],
      ['Devices', 'Profiles', 'Profiles'],
      ['Hub', 'House', 'House'],
      ['Bench', undefined, 'Bench'],
    ] as const) {
      await goTo(place, part)
      await expect(heading(page, title), title).toBeVisible()
      expect(await page.evaluate(() => document.documentElement.scrollWidth), title).toBeLessThanOrEqual(390)
    }

    // A tap counts only where nothing lies over what is tapped.
    await goTo('Today')
    const pendant = page.getByRole('switch', { name: 'Table lamp' })
    const was = await pendant.getAttribute('aria-checked')
    await pendant.tap()
    await expect(pendant).toHaveAttribute('aria-checked', was === 'true' ? 'false' : 'true')
    await goTo('Devices', 'All')
    await page.getByRole('textbox', { name: 'Search devices' }).fill('stair')
    await page.locator('a[data-row]').filter({ hasText: 'Stair lamp' }).tap()
    await expect(heading(page, 'Stair lamp')).toBeVisible()
    await page.getByRole('button', { name: 'On', exact: true }).tap()
    await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).not.toBe(0)
    await page.getByRole('link', { name: 'Devices' }).first().tap()
    await goTo('Light', 'Scenes')
    await page.locator('a[data-row]').filter({ hasText: 'All off' }).tap()
    await page.getByRole('button', { name: 'Apply' }).first().tap()
    await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(0)
    await goTo('Rules', 'Rules')
    await page.locator('a[data-row]').filter({ hasText: 'Stair light' }).first().tap()
    await expect(page.getByRole('textbox', { name: 'Name of the rule' })).toBeVisible()
    await goTo('Record', 'Journal')
    await page
      .getByRole('button', { name: /Scene All off/ })
      .first()
      .tap()
    await expect(page.getByRole('heading', { name: 'How it came about' })).toBeVisible()
    await page.goto(`${hub.url}/panel/${(await hub.get<{ id: string }[]>('/api/dashboards'))[0]!.id}`)
    await page
      .getByRole('switch', { name: /Table lamp/ })
      .or(page.getByRole('button', { name: /Table lamp/ }))
      .first()
      .tap()
    expect((await named(hub, 'Table lamp')).title).toBe('Table lamp')
  })
})
