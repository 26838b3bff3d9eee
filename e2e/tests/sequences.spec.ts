import { expect, test } from '../support/fixtures'
import { quietEvening, value } from '../support/home'
import { fromNothing, pick, row, type } from '../support/words'

test.use({ flags: ['--fresh'] })

test('scenes follow each other, started by a rule; stop is stop, and a hand keeps its lamp', async ({ hub, page }) => {
  await quietEvening(hub)
  const lamp = (name: string) => async () => await value(hub, name, 'brightness')
  const worktop = lamp('Worktop lamps')
  const table = lamp('Table lamp')
  await hub.send('POST', '/api/scenes/scene-all-off/apply')
  await hub.advance(5)
  await expect.poll(table).toBe(0)

  await page.goto(`${hub.url}/scenes`)
  await page.getByRole('button', { name: 'New sequence' }).click()
  const main = page.getByRole('main')
  await expect(main.getByText('There is no scene in it yet.')).toBeVisible()
  await expect(main.getByRole('button', { name: 'Start' })).toBeDisabled()
  await main.getByRole('textbox', { name: 'Name of the sequence' }).fill('Slow supper')
  await pick(main, /^Scene to add/, 'Cooking')
  await pick(main, /^Scene to add/, 'Supper')
  const passages = main.getByRole('list', { name: 'Scenes of the sequence' }).getByRole('listitem')
  await expect(passages).toHaveCount(2)
  await type(passages.first(), /^Stay/, '2', 'min')
  await type(passages.last(), /^Fade/, '10', 's')
  await type(passages.last(), /^Level/, '50')
  await pick(main, /^After the last/, 'be again as they were before')
  await expect(main.getByText('One round takes 3 min 15')).toBeVisible()
  await expect(main.getByText('saved', { exact: true })).toBeVisible() // what is done in one go is undone in one go

  // The order is changed by keys, taken back, and kept.
  await main.getByRole('button', { name: 'Move scene 2 up' }).click()
  await expect(passages.first()).toContainText('Supper')
  await main.getByRole('button', { name: 'Undo' }).click()
  await expect(passages.first()).toContainText('Cooking')
  await expect(main.getByText('saved', { exact: true })).toBeVisible()
  await page.reload()
  await expect(passages.first()).toContainText('Cooking')

  // A rule starts it.
  await page.goto(`${hub.url}/rules`)
  await page.getByRole('button', { name: 'New rule' }).click()
  await fromNothing(page)
  await page.getByRole('textbox', { name: 'Name of the rule' }).fill('Long supper')
  await pick(page, /^Kind of rule/, 'Each time')
  await main.getByRole('button', { name: 'Add a step' }).click()
  await pick(page, /^Step: /, 'start sequence')
  await page.getByRole('button', { name: 'Put live' }).click()
  await expect(page.getByText('1 place is still to be filled in')).toBeVisible()
  await pick(page, /^Sequence/, 'Slow supper')
  await page.getByRole('button', { name: 'Put live' }).click()
  await expect(page.getByText('Long supper is live.').last()).toBeVisible()
  await main.getByRole('button', { name: 'Try now' }).click()
  await hub.advance(6)
  await expect.poll(table).toBe(20)
  expect(await worktop()).toBe(100)

  // A hand takes one lamp; the other goes on to the next scene at half of it, and back to what was below.
  await hub.send(
    'PUT',
    `/api/devices/${(await hub.get<{ id: string; title: string }[]>('/api/devices')).find((d) => d.title === 'Worktop lamps')!.id}/properties/brightness`,
    { value: 77 },
  )
  await hub.advance(130)
  await expect.poll(table).toBe(30)
  expect(await worktop()).toBe(77)
  await hub.advance(70)
  await expect.poll(table).toBe(0)
  expect(await worktop()).toBe(77)

  // Stop is stop.
  await page.goto(`${hub.url}/scenes`)
  await page.getByRole('link', { name: /Slow supper/ }).click()
  await main.getByRole('button', { name: 'Start' }).click()
  await hub.advance(6)
  await expect.poll(table).toBe(20)
  await expect(passages.first().getByRole('progressbar')).toBeVisible()
  await main.getByRole('button', { name: 'Stop' }).click()
  await expect(main.getByText(/^not running/)).toBeVisible()
  await hub.advance(6)
  await expect.poll(table).toBe(0)
  await hub.advance(600)
  expect(await table()).toBe(0)

  // What uses it is told, and a rule without it is told so.
  await expect(main.getByRole('link', { name: 'Long supper' })).toBeVisible()
  await main.getByRole('button', { name: 'Delete' }).click()
  await page.goto(`${hub.url}/rules`)
  await row(page, 'Long supper').click()
  await expect(page.getByText('This sequence no longer exists.').first()).toBeVisible()
})
