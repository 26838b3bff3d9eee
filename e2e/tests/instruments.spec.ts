import { expect, test } from '../support/fixtures'
import { expectAccessible } from '../support/accessible'
import { named, quietEvening, value } from '../support/home'

test.use({ flags: ['--fresh'] })

// What Chromium draws differs a little from version to version; a face that is drawn otherwise differs more.
const LITTLE = { maxDiffPixelRatio: 0.01 }

test('every instrument in every state looks as it did', async ({ hub, page }) => {
  await page.setViewportSize({ width: 1280, height: 2000 })
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
