import { expect, test } from '../support/fixtures'
import { make } from '../support/home'

interface Device {
  title: string
  room?: string
  hardware: string
}

test('found devices are recognized by what they read, sorted, and named straight down the column by keys', async ({
  hub,
  page,
}) => {
  const landing = await make(hub, '/api/rooms', { title: 'Landing', order: 0 })
  await page.goto(`${hub.url}/found`)
  const presence = page.getByRole('row').filter({ hasText: 'QM-2 Presence Node 31' })
  await expect(presence).toContainText(/Light [\d.]+ lx/)
  await expect(presence).toContainText('Motion clear')

  // Searched by what they read, and sorted by what was heard last; the rows keep their places while readings come.
  const rows = page.getByRole('row').filter({ has: page.getByRole('textbox', { name: /^Name for / }) })
  const search = page.getByRole('textbox', { name: 'Search found devices' })
  await search.fill('light lx')
  await expect(rows.filter({ hasNotText: 'Presence Node' })).toHaveCount(0)
  await search.fill('nothing of the kind')
  await expect(page.getByText(/^None of \d+ found devices matches “nothing of the kind”\.$/)).toBeVisible()
  await search.fill('Presence Node')
  await page.getByRole('combobox', { name: 'Sort found devices' }).click()
  await page.getByRole('option', { name: 'by signal' }).click()
  const signals = await rows.getByText(/^\d+ %$/).allTextContents()
  expect(signals.length).toBeGreaterThan(2)
  expect(signals).toEqual([...signals].sort((a, b) => parseFloat(b) - parseFloat(a)))
  await hub.bench({ what: 'walk', room: 'Landing' })
  await expect(presence).toContainText(/Motion (?!clear)/)
  await page.getByRole('combobox', { name: 'Sort found devices' }).click()
  await page.getByRole('option', { name: 'by name' }).click()

  // Typed straight down: a name ticks its row, Enter goes to the next; rooms the same.
  await rows.nth(0).getByRole('textbox').fill('First eye')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Second eye')
  await page.keyboard.press('ArrowUp')
  await expect(rows.nth(0).getByRole('textbox')).toBeFocused()
  await page.keyboard.press('ArrowDown')
  await expect(rows.nth(1).getByRole('textbox')).toHaveValue('Second eye')
  await rows.nth(0).getByRole('combobox').focus()
  for (let i = 0; i < 2; i++) {
    await page.keyboard.type('Land')
    // That of the row before is gone.
    await expect(page.getByRole('option', { name: 'Landing' })).toHaveCount(1)
    await page.keyboard.press('Enter')
    await expect(rows.nth(i).getByRole('combobox')).toContainText('Landing')
    await expect(rows.nth(i + 1).getByRole('combobox')).toBeFocused()
  }
  await page.getByRole('button', { name: 'Take 2 into the home' }).click()
  await expect(page.getByText('2 devices are in the home.')).toBeVisible()
  const devices = await hub.get<Device[]>('/api/devices')
  for (const title of ['First eye', 'Second eye']) expect(devices.find((d) => d.title === title)?.room).toBe(landing)
})
