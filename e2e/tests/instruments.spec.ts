import { expect, test } from '../support/fixtures'
import { expectAccessible } from '../support/accessible'
import { named, quietEvening, value, withoutCurves } from '../support/home'

test.use({ flags: ['--fresh'] })

// What Chromium draws differs a little from version to version; a face that is drawn otherwise differs more.
const LITTLE = { maxDiffPixelRatio: 0.01 }

test('every instrument in every state looks as it did', async ({ hub, page }) => {
  await page.setViewportSize({ width: 1600, height: 2900 })
  await page.goto(`${hub.url}/instruments`)
  await page.evaluate(() => document.fonts.ready)
  for (const look of ['day', 'night']) {
    await page.emulateMedia({ colorScheme: look === 'day' ? 'light' : 'dark' })
    await expect(page.locator('html')).toHaveAttribute('data-look', look)
    await expect(page.locator('table')).toHaveScreenshot(`instruments-${look}.png`, LITTLE)
  }
  await expectAccessible(page, '/instruments')
})

test('a level is dragged and moved by keys; what is asked for stands beside what is', async ({ hub, page }) => {
  await quietEvening(hub)
  const lamp = await named(hub, 'Table lamp')
  await page.goto(`${hub.url}/devices/${lamp.id}`)
  const level = page.getByRole('slider', { name: 'Brightness' })
  const box = (await level.boundingBox())!
  await page.mouse.click(box.x + box.width / 2, box.y + 20)
  await expect.poll(() => value(hub, lamp.title, 'brightness')).toBe(50)
  await level.focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  await expect.poll(() => value(hub, lamp.title, 'brightness')).toBe(52)
  await page.keyboard.press('End')
  await expect(level).toHaveAttribute('aria-valuetext', /^100 %/)
  await expect.poll(() => value(hub, lamp.title, 'brightness')).toBe(100)
  await page.keyboard.press('Home')
  await expect.poll(() => value(hub, lamp.title, 'brightness')).toBe(0)
  await page.keyboard.press('PageUp')
  await expect.poll(() => value(hub, lamp.title, 'brightness')).toBe(10)
  // From its list, too.
  await page.getByRole('region', { name: 'Devices' }).getByRole('switch', { name: 'Table lamp' }).click()
  await expect.poll(() => value(hub, lamp.title, 'brightness')).toBe(0)
})

test('a lock is locked by a tap, and unlocked only by holding it or by pressing it twice', async ({ hub, page }) => {
  await quietEvening(hub)
  const lock = await named(hub, 'Boat shed lock')
  await page.goto(`${hub.url}/devices/${lock.id}`)
  const isLocked = () => value(hub, lock.title, 'locked')
  await expect.poll(isLocked).toBe(true)
  const key = page.getByRole('button', { name: 'Locked: hold' })
  await key.click()
  await expect(page.getByText('Hold it, or press it again.')).toBeVisible()
  await key.dispatchEvent('click') // as a screen reader presses
  await expect.poll(isLocked).toBe(false)
  await page.getByRole('button', { name: 'Locked: lock' }).click()
  await expect.poll(isLocked).toBe(true)

  await key.hover()
  await page.mouse.down()
  await expect(page.getByText('Hold on …')).toBeVisible()
  await expect.poll(isLocked).toBe(false)
  await page.mouse.up()
  await expect(page.getByRole('button', { name: 'Locked: lock' })).toBeVisible()
  await page.getByRole('button', { name: 'Locked: lock' }).press('Enter')
  await expect.poll(isLocked).toBe(true)
  await key.focus()
  await page.keyboard.down('Enter')
  await expect.poll(isLocked).toBe(false)
  await page.keyboard.up('Enter')
  await expect(page.getByRole('button', { name: 'Locked: lock' })).toBeVisible()
})

test('a player is started, skipped and made louder by its face', async ({ hub, page }) => {
  await quietEvening(hub)
  const player = await named(hub, 'Mill room player')
  await page.goto(`${hub.url}/devices/${player.id}`)
  const before = await value(hub, player.title, 'track')
  await page.getByRole('button', { name: `${player.title}: play` }).click()
  await expect.poll(() => value(hub, player.title, 'playing')).toBe(true)
  await page.getByRole('button', { name: `${player.title}: next` }).click()
  await expect.poll(() => value(hub, player.title, 'track')).not.toBe(before)
  const track = String(await value(hub, player.title, 'track'))
  await expect(page.getByRole('group', { name: `${player.title}: ${track}` })).toBeVisible()
  await page.getByRole('slider', { name: `${player.title}: volume` }).press('End')
  await expect.poll(() => value(hub, player.title, 'volume')).toBe(100)
  await page.getByRole('button', { name: `${player.title}: pause` }).click()
  await expect.poll(() => value(hub, player.title, 'playing')).toBe(false)
})

test('a lamp comes on with what it was last on with, after a restart too', async ({ hub, page }) => {
  await quietEvening(hub)
  await withoutCurves(hub)
  const lamp = await named(hub, 'Table lamp')
  const level = () => value(hub, lamp.title, 'brightness')
  await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 35 })
  await expect.poll(level).toBe(35)
  await page.goto(`${hub.url}/devices`)
  await page.getByRole('switch', { name: lamp.title }).click()
  await expect.poll(level).toBe(0)
  await hub.shutDown()
  await hub.again()
  await page.goto(`${hub.url}/devices`)
  await page.getByRole('switch', { name: lamp.title }).click()
  await expect.poll(level).toBe(35)
})

test('warmth is set beside what is measured, by keys, by less and more', async ({ hub, page }) => {
  await quietEvening(hub)
  const thermostat = await named(hub, 'Mill room thermostat')
  await page.goto(`${hub.url}/devices/${thermostat.id}`)
  const scale = page.getByRole('slider', { name: 'Set temperature' })
  await expect(scale).toHaveAttribute('aria-valuetext', /^19\.0 °C wanted, \d+\.\d °C measured$/)
  await page.getByRole('button', { name: 'Set temperature: more' }).click()
  await expect.poll(() => value(hub, thermostat.title, 'target')).toBe(19.5)
  await scale.focus()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await expect.poll(() => value(hub, thermostat.title, 'target')).toBe(18.5)
  await page.keyboard.press('End')
  await expect(page.getByRole('button', { name: 'Set temperature: more' })).toBeDisabled()
  await expect.poll(() => value(hub, thermostat.title, 'target')).toBe(30)
})

test('a camera shows what it sees, large where it is tapped, and says when it cannot', async ({ hub, page }) => {
  const camera = await named(hub, 'Weir camera')
  await page.goto(`${hub.url}/devices/${camera.id}`)
  const picture = page.getByRole('img', { name: 'What Weir camera sees' })
  await expect(picture).toHaveJSProperty('naturalWidth', 640)
  await expect(page.getByText(/^0:\d\d ago$/)).toBeVisible()
  await page.getByRole('button', { name: 'Weir camera: show it large' }).click()
  await expect(page.getByRole('dialog').getByRole('img')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)

  const opened = await hub.send('GET', `/api/devices/${camera.id}/pictures/picture`)
  expect(opened.headers.get('content-security-policy')).toContain('sandbox')
  expect((await hub.send('GET', `/api/devices/${camera.id}/pictures/recording`)).status).toBe(404)
  await page.route('**/pictures/**', (route) =>
    route.fulfill({
      status: 502,
      contentType: 'application/problem+json',
      body: '{"detail":"No picture arrived."}',
    }),
  )
  await page.reload()
  await expect(page.getByText('No picture arrived.')).toBeVisible()
})
