import { expect, test } from '../support/fixtures'
import { named } from '../support/home'

test.use({ flags: ['--fresh'] })

test('names that look alike are said, and many are named by the pattern, looked at first', async ({ hub, page }) => {
  const lamp = await named(hub, 'Table lamp')
  await page.goto(`${hub.url}/devices/${lamp.id}`)
  await page.getByRole('button', { name: 'Name and room' }).click()
  await page.getByLabel('Name', { exact: true }).fill('stair-lamp')
  await expect(page.getByText('Easily confused with Stair lamp')).toBeVisible()
  await page.getByLabel('Name', { exact: true }).fill('Table lamp')
  await expect(page.getByText(/Easily confused/)).toBeHidden()

  await page.goto(`${hub.url}/devices`)
  await page.getByRole('button', { name: 'Select several' }).click()
  for (const title of ['Table lamp', 'Stair lamp'])
    await page.getByRole('checkbox', { name: `Choose ${title}` }).check()
  await page.getByRole('button', { name: 'Names by the pattern' }).click()
  const names = page.getByRole('textbox', { name: /^New name of / })
  await expect(names.first()).not.toHaveValue(/^(Table|Stair) lamp$/)
  await expect(page.getByText('now Table lamp')).toBeVisible()
  expect((await named(hub, 'Table lamp')).id).toBe(lamp.id) // nothing is renamed yet
  const proposed = await names.evaluateAll((all) => all.map((i) => (i as HTMLInputElement).value))
  await page.getByRole('button', { name: 'Change them' }).click()
  await expect(page.getByText('2 devices changed.')).toBeVisible()
  for (const title of proposed) await named(hub, title)
  await page.getByText('2 devices changed.').locator('..').getByRole('button', { name: 'Undo' }).click()
  await expect.poll(async () => ((await named(hub, 'Table lamp')) as { id: string } | undefined)?.id).toBe(lamp.id)
})

test('a device that was removed is offered its old place when it is found again', async ({ hub, page }) => {
  const lamp = await named(hub, 'Stair lamp')
  expect((await hub.send('DELETE', `/api/devices/${lamp.id}`)).status).toBe(204)
  await page.goto(`${hub.url}/found`)
  await expect(page.getByText('It was Stair lamp, Landing, before that was removed.')).toBeVisible()
  await page.getByRole('button', { name: /^Bring Stair lamp back/ }).click()
  await expect(page.getByText('Stair lamp is in the home again')).toBeVisible()
  await expect(page.getByText('It was Stair lamp')).toBeHidden()
  await page.goto(`${hub.url}/rules/rule-stair`)
  await expect(page.getByRole('button', { name: /Stair lamp brightness/ })).toBeVisible()
})
