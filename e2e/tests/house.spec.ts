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

test('rooms are made, renamed, moved by keys and by the pointer, and removed; what is in them stays', async ({
  hub,
  page,
}) => {
  await page.goto(`${hub.url}/rooms`)
  const room = (name: string) => page.locator('.rooms li').filter({ has: page.getByLabel(`Name of ${name}`) })
  const order = () =>
    page.locator('.rooms li input').evaluateAll((all) => all.map((i) => (i as HTMLInputElement).value))
  await page.getByLabel('New room', { exact: true }).fill('Attic')
  await page.getByLabel('Floor of the new room').fill('Upper')
  await page.getByRole('button', { name: 'Add room' }).click()
  await expect(room('Attic')).toBeVisible()
  const before = await order()
  const at = before.indexOf('Attic')
  const grip = page.getByRole('button', { name: /^Move Attic/ })
  await grip.press('ArrowUp')
  await expect(page.getByText('The rooms are in their new order.')).toBeVisible()
  expect((await order()).indexOf('Attic')).toBe(at - 1)
  await expect(grip).toBeFocused()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(order).toEqual(before)

  await page.getByRole('button', { name: /^Move Hall/ }).hover()
  await page.mouse.down()
  const target = (await room('Wash house').boundingBox())!
  await page.mouse.move(target.x + 12, target.y + target.height / 2, { steps: 12 })
  await page.mouse.move(target.x + 12, target.y + target.height - 3, { steps: 4 })
  await page.mouse.up()
  await expect.poll(async () => (await order()).indexOf('Hall')).toBeGreaterThan(0)
  const dragged = await order()
  await page.reload()
  await expect.poll(order).toEqual(dragged)

  await page.getByLabel('Name of Galley').fill('Kitchen')
  await page.getByLabel('Name of Galley').press('Enter')
  await expect(page.getByLabel('Name of Kitchen')).toBeVisible()
  await expect(room('Kitchen')).toContainText('cannot be removed')
  await page.getByLabel('Name of the floor Upper').fill('first floor')
  await page.getByLabel('Name of the floor Upper').press('Enter')
  await expect(page.getByLabel('Name of the floor first floor')).toBeVisible()
  await room('Attic').getByRole('button', { name: 'Remove' }).click()
  await page.getByText('Attic removed.').locator('..').getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByLabel('Name of Attic')).toBeVisible()
  await page.goto(`${hub.url}/devices`)
  await expect(page.getByRole('heading', { name: 'Kitchen' })).toBeVisible()
})

test('labels are given to a device, renamed and taken off everywhere', async ({ hub, page }) => {
  await page.goto(`${hub.url}/devices`)
  await page.getByLabel('Search devices').fill('galley')
  await page.locator('.list a').first().click()
  await page.getByRole('button', { name: 'Name and room' }).click()
  await page.getByLabel('Labels').fill('guests')
  await page.getByLabel('Labels').press('Enter')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/saved\./)).toBeVisible()
  await page.goto(`${hub.url}/rooms`)
  await page.getByLabel('Label guests', { exact: true }).fill('visitors')
  await page.getByLabel('Label guests', { exact: true }).press('Enter')
  await expect(page.getByLabel('Label visitors')).toBeVisible()
  await page.getByRole('button', { name: 'Remove from all: visitors' }).click()
  await expect(page.getByLabel('Label visitors')).toBeHidden()
  await page.getByText('was taken off').locator('..').getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByLabel('Label visitors')).toBeVisible()
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
  await expect(page.getByText('Stair lamp was asked: identify.')).toBeVisible()
  type Bench = { lamps: { id: string; blinking: boolean }[] }
  expect((await hub.get<Bench>('/api/bench')).lamps.find((l) => l.id === '7')?.blinking).toBe(true)
})

test('what was typed of a device is kept when its form is left', async ({ hub, page }) => {
  const lamp = (await hub.get<Device[]>('/api/devices')).find((d) => d.title === 'Table lamp')!
  await page.goto(`${hub.url}/devices/${lamp.id}`)
  await page.getByRole('button', { name: 'Name and room' }).click()
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Reading lamp')
  await page.getByRole('link', { name: 'Rules', exact: true }).first().click()
  await expect(page.getByText('Reading lamp saved.')).toBeVisible()
  const title = async () => (await hub.get<Device[]>('/api/devices')).find((d) => d.id === lamp.id)?.title
  await expect.poll(title).toBe('Reading lamp')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(title).toBe('Table lamp')
})
