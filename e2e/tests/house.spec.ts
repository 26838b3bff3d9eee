import { expect, test } from '../support/fixtures'

test.use({ flags: ['--fresh'] })

interface Device {
  id: string
  title: string
  room?: string
}

test('the house says which of its fields is wrong, and keeps what was right', async ({ hub, page }) => {
  await page.goto(`${hub.url}/house`)
  await page.getByLabel('Time zone').fill('Mill/Time')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('alert')).toContainText('"Mill/Time" is not a known time zone')
  await expect(page.getByLabel('Time zone')).toHaveValue('Mill/Time')
  await page.getByLabel('Time zone').fill('Europe/London')
  await page.getByLabel('Pattern for names').fill('{room} {color}')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('alert')).toContainText('may stand in braces')
  await page.getByLabel('Pattern for names').fill('{what} in {room}')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('The house is saved.')).toBeVisible()
  await page.reload()
  await expect(page.getByLabel('Pattern for names')).toHaveValue('{what} in {room}')
})

test('rooms are made, renamed, moved and removed; what is in them stays', async ({ hub, page }) => {
  await page.goto(`${hub.url}/house`)
  await page.getByLabel('New room', { exact: true }).fill('Reading loft')
  await page.getByLabel('Floor of the new room').fill('Upper')
  await page.getByRole('button', { name: 'Add room' }).click()
  await expect(page.getByLabel('Name of Reading loft')).toBeVisible()
  await page.getByRole('button', { name: 'Move Reading loft up' }).click()
  await expect(page.locator('.rooms li').nth(2).getByLabel('Name of Reading loft')).toBeVisible()
  await page.getByLabel('Name of Galley').fill('Kitchen')
  await page.getByLabel('Name of Galley').press('Enter')
  await expect(page.getByLabel('Name of Kitchen')).toBeVisible()
  await expect(page.locator('.rooms li').filter({ hasText: '4 devices' })).toContainText('in use')
  await page.locator('.rooms li').nth(2).getByRole('button', { name: 'Remove' }).click()
  await expect(page.getByText('Reading loft removed.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByLabel('Name of Reading loft')).toBeVisible()
  await page.goto(`${hub.url}/devices`)
  await expect(page.getByRole('heading', { name: 'Kitchen' })).toBeVisible()
})

test('a device is renamed and moved; everything that uses it shows the new name', async ({ hub, page }) => {
  const stair = (await hub.get<Device[]>('/api/devices')).find((d) => d.title === 'Stair lamp')
  await page.goto(`${hub.url}/devices/${stair?.id}`)
  await page.getByRole('button', { name: 'Name and room' }).click()
  await page.getByLabel('Name', { exact: true }).fill('')
  await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeDisabled()
  await page.getByLabel('Name', { exact: true }).fill('Lamp on the stairs')
  await page.getByRole('combobox', { name: 'Room' }).click()
  await page.getByRole('option', { name: 'Hall' }).click()
  await page.getByPlaceholder('Where it sits').fill('Battery from October')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Lamp on the stairs' })).toBeVisible()
  await expect(page.getByText('Battery from October')).toBeVisible()
  await page.goto(`${hub.url}/rules/rule-stair`)
  await expect(page.getByRole('button', { name: /Lamp on the stairs brightness/ })).toBeVisible()
  await page.goto(`${hub.url}/panel/dashboard-galley`)
  await expect(page.getByRole('article', { name: 'Lamp on the stairs' })).toBeVisible()
})

test('a value is kept by hand above a rule until it is let go, and a device shows itself', async ({ hub, page }) => {
  await hub.bench({ what: 'live', on: false })
  await hub.bench({ what: 'walk', room: 'Galley' })
  await hub.bench({ what: 'jump', clock: '21:00' })
  const stair = (await hub.get<Device[]>('/api/devices')).find((d) => d.title === 'Stair lamp')
  await page.goto(`${hub.url}/devices/${stair?.id}`)
  await page.getByLabel('Brightness, exactly').fill('25')
  await page.getByLabel('Brightness, exactly').press('Enter')
  await expect(page.locator('.figure b').first()).toHaveText('25 %')
  await page.getByRole('button', { name: '1 h', exact: true }).click()
  await expect(page.locator('.stack li').first()).toContainText('Kept by hand')
  await hub.bench({ what: 'walk', room: 'Landing' })
  await expect(page.locator('.stack li')).toHaveCount(3)
  await expect(page.locator('.figure b').first()).toHaveText('25 %')
  await page.locator('.stack li').first().getByRole('button', { name: 'Let go' }).click()
  await expect(page.locator('.figure b').first()).toHaveText('60 %')
  await page.getByRole('button', { name: 'Identify' }).click()
  await expect(page.getByText('Stair lamp was asked to show itself.')).toBeVisible()
  type Bench = { lamps: { id: string; blinking: boolean }[] }
  expect((await hub.get<Bench>('/api/bench')).lamps.find((l) => l.id === '7')?.blinking).toBe(true)
})
