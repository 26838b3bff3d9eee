import { expect, test } from '../support/fixtures'
import { named, quietEvening } from '../support/home'

test.use({ flags: ['--fresh', '--history', '0'] })

test('the journal groups what follows from one cause, sets names apart, and is read up to a day that is typed', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  const lamp = await named(hub, 'Stair lamp')
  await page.goto(`${hub.url}/journal`)
  await expect(page.getByRole('heading', { name: 'In the last 24 hours' })).toBeVisible()
  await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 37 })

  // The asking and the answer stand below what was done by hand, and nothing is said of 0 ms.
  const group = page
    .getByRole('listitem')
    .filter({ has: page.getByRole('button', { name: 'Stair lamp: brightness set to 37 % by hand' }) })
  const lines = group.getByRole('button')
  await expect(lines).toHaveText([/set to 37 % by hand/, /asked for 37 %/, /confirmed at 37 %/])
  await expect(lines.first().getByText('Stair lamp', { exact: true })).toHaveJSProperty('tagName', 'B')
  await expect(page.getByText(/\b0 ms/)).toHaveCount(0)
  await lines.nth(2).click()
  await expect(page.getByRole('heading', { name: 'How it came about' })).toBeVisible()

  const day = page.getByRole('textbox', { name: 'Up to this day' })
  await day.fill('soon')
  await day.press('Enter')
  await expect(page.getByRole('alert')).toHaveText('A day, such as 28 Nov')
  await expect(group).toBeVisible()
  await day.fill('yesterday')
  await day.press('Enter')
  await expect(page.getByRole('alert')).toHaveCount(0)
  await expect(day).toHaveValue(/^\d{1,2} \w{3} \d{4}$/)
  await expect(group).toHaveCount(0)

  // On a narrow screen how it came about stands below the entry, not below the list.
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(`${hub.url}/journal`)
  await lines.first().click()
  await expect(group.getByRole('heading', { name: 'How it came about' })).toBeVisible()
})
