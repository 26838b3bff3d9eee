import { expect, test } from '../support/fixtures'
import { quietEvening, value } from '../support/home'

test.use({ flags: ['--fresh'], viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true })

test('a phone: what is kept at hand first, then the rooms, then keys, each operated by the thumb', async ({
  hub,
  page,
  browser,
}) => {
  await quietEvening(hub)
  const bar = page.getByRole('navigation', { name: 'Places' })
  await page.goto(hub.url)
  await bar.getByRole('link', { name: 'At hand' }).tap()
  await expect(page.getByText('Nothing is kept at hand yet.')).toBeVisible()

  // Kept from the pages of a lamp and a scene, found by the bar.
  for (const name of ['Table lamp', 'Supper']) {
    await bar.getByRole('button', { name: 'Find' }).tap()
    await page.getByRole('searchbox', { name: 'Find or go' }).fill(name)
    await page
      .getByRole('option', { name: new RegExp(`^${name}`) })
      .first()
      .tap()
    await page.getByRole('button', { name: `Keep ${name} at hand` }).tap()
    await expect(page.getByRole('button', { name: `Keep ${name} at hand` })).toHaveAttribute('aria-pressed', 'true')
  }
  // A room is kept from its own page, and stands in the bar from then on.
  await bar.getByRole('link', { name: 'At hand' }).tap()
  const rooms = page.getByRole('region', { name: 'Rooms' }).getByRole('listitem')
  await expect(rooms.first()).toContainText('Hall')
  await rooms.filter({ hasText: 'Mill room' }).getByRole('link').first().tap()
  await expect(page.getByRole('heading', { name: 'Mill room' })).toBeVisible()
  await page.getByRole('button', { name: 'Keep Mill room at hand' }).tap()
  await expect(bar.getByRole('link', { name: 'Mill room' })).toBeVisible()
  const ceiling = page.getByRole('article', { name: 'Ceiling' })
  await ceiling.getByRole('switch').tap()
  await expect.poll(() => value(hub, 'Mill room ceiling', 'brightness')).not.toBe(0)

  await bar.getByRole('link', { name: 'At hand' }).tap()
  const kept = page.getByRole('region', { name: 'Kept at hand' })
  await expect(kept.getByRole('article')).toHaveCount(2)
  await expect(rooms.first()).toContainText('Mill room')
  const was = await value(hub, 'Table lamp', 'brightness')
  await kept.getByRole('article', { name: 'Table lamp' }).getByRole('switch').tap()
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).not.toBe(was)
  const keys = page.getByRole('region', { name: 'Keys' })
  await expect(keys.getByRole('article', { name: 'Supper' })).toHaveCount(0)
  await keys.getByRole('article', { name: 'All off' }).getByRole('button').tap()
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(0)
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)

  // Another browser of the same person has the same, in the order that was chosen here.
  await page.getByRole('button', { name: 'Arrange' }).tap()
  await page.getByRole('button', { name: 'Move Supper up' }).tap()
  await expect(page.getByRole('button', { name: 'Move Supper up' })).toBeDisabled()
  const other = await (await browser.newContext({ reducedMotion: 'reduce' })).newPage()
  await other.goto(`${hub.url}/hand`)
  await expect(other.getByRole('region', { name: 'Kept at hand' }).getByRole('article').first()).toHaveAccessibleName(
    'Supper',
  )
  await page.getByRole('button', { name: 'Remove Supper' }).tap()
  await expect(kept.getByRole('article')).toHaveCount(1)
  await page.getByRole('button', { name: 'Undo' }).last().tap()
  await expect(kept.getByRole('article')).toHaveCount(2)

  // What is deleted is not at hand, and is again once that is undone.
  await other.goto(`${hub.url}/scenes/scene-supper`)
  await other.getByRole('button', { name: 'Delete' }).click()
  await page.reload()
  await expect(kept.getByRole('article')).toHaveCount(1)
  await other.getByRole('button', { name: 'Undo' }).last().click()
  await page.reload()
  await expect(kept.getByRole('article')).toHaveCount(2)
})
