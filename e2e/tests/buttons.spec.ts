import { expect, test } from '../support/fixtures'
import { named, quietEvening, value } from '../support/home'

test.use({ flags: ['--fresh'] })

test('keys of a plate: lit as the real ones are pressed, given something to do, tried, and changed under Rules', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  const plate = await named(hub, 'Galley plate')
  // The bridge leaves it to the hub.
  await hub.send('PUT', `/api/devices/${plate.id}/properties/handler`, { value: 'client' })
  await page.goto(`${hub.url}/buttons`)
  await expect(page.getByRole('region', { name: 'Keys that do nothing yet' })).toContainText('Button 1, Button 2')
  await page.locator('a[data-row]').filter({ hasText: 'Galley plate' }).click()
  const keys = page.getByRole('radiogroup', { name: 'Keys of Galley plate' })
  await expect(keys.getByRole('radio')).toHaveCount(4)
  await expect(page.getByRole('status').filter({ hasText: 'Last:' })).toHaveCount(0)

  // The third real key is pressed: it is chosen here, and the journal says that no rule is for it.
  await hub.bench({ what: 'press', plate: '41', button: 3, gesture: 'press' })
  await expect(keys.getByRole('radio', { name: /^Button 3/ })).toBeChecked()
  await expect(page.getByRole('status').filter({ hasText: 'Last:' })).toContainText('no rule is for it')

  // It is given a scene, and does it.
  const doings = page.getByRole('region', { name: 'Button 3' })
  await doings.getByRole('button', { name: 'What Button 3 does when pressed', exact: true }).click()
  await page.getByRole('option', { name: 'Supper', exact: true }).click()
  const made = doings.getByRole('link', { name: 'Galley plate, button 3 pressed: Supper' })
  await expect(made).toBeVisible()
  await expect(keys.getByRole('radio', { name: 'Button 3: 1 rule' })).toBeVisible()
  await hub.bench({ what: 'press', plate: '41', button: 3, gesture: 'press' })
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(60)

  // Held, it toggles a lamp: tried from here, as by hand.
  await doings.getByRole('button', { name: 'What Button 3 does when held' }).click()
  await page.getByRole('searchbox').fill('switch stair lamp')
  await page.getByRole('option', { name: 'Stair lamp' }).first().click()
  const was = await value(hub, 'Stair lamp', 'brightness')
  await doings.getByRole('button', { name: 'Try Button 3 held' }).click()
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(was ? 0 : 100)
  await doings.getByRole('button', { name: 'Try Button 3 held' }).click()
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(was ? 100 : 0)

  // They are ordinary rules: renamed under Rules, they are called so here; deleted here, that is undone.
  await made.click()
  await page.getByLabel('Name of the rule').fill('Supper time')
  await page.getByRole('button', { name: 'Put live' }).click()
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  await keys.getByRole('radio', { name: /^Button 3/ }).click()
  await doings.getByRole('button', { name: 'Delete Supper time' }).click()
  await expect(doings.getByRole('link', { name: 'Supper time' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(doings.getByRole('link', { name: 'Supper time' })).toBeVisible()
  await page.getByRole('link', { name: '2 rules', exact: true }).click()
  await expect(page.locator('a[data-row]')).toHaveCount(2)

  // Copied to the other plate, what is held stops there when that is released; undone in one.
  const other = await named(hub, 'Landing plate')
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  await keys.getByRole('radio', { name: /^Button 1/ }).click()
  const first = page.getByRole('region', { name: 'Button 1' })
  await first.getByRole('button', { name: 'What Button 1 does when held' }).click()
  await page.getByRole('searchbox').fill('brighter worktop')
  await page.getByRole('option', { name: 'Worktop lamps' }).first().click()
  await expect(first.getByRole('link', { name: /released: stop/ })).toBeVisible()
  await page.goto(`${hub.url}/buttons/${other.id}`)
  await page.getByRole('button', { name: 'Copy from another device' }).click()
  await page.getByRole('option', { name: /Galley plate/ }).click()
  await expect(page.getByText('4 rules copied from Galley plate.')).toBeVisible()
  type Rule = { id: string; title: string; do: { kind: string; rule?: string }[] }
  const rules = await hub.get<Rule[]>('/api/rules')
  const held = rules.find((r) => r.title === 'Landing plate, button 1 held: Worktop lamps')!
  const ends = rules.find((r) => r.title.startsWith('Landing plate, button 1 released'))!
  expect(ends.do[0]).toMatchObject({ kind: 'stop', rule: held.id })
  const at = async () => Number(await value(hub, 'Worktop lamps', 'brightness'))
  await hub.send('PUT', `/api/devices/${(await named(hub, 'Worktop lamps')).id}/properties/brightness`, { value: 10 })
  await expect.poll(at).toBe(10)
  await hub.send('PUT', `/api/devices/${other.id}/properties/handler`, { value: 'client' })
  await hub.bench({ what: 'press', plate: '42', button: 1, gesture: 'hold' })
  await hub.advance(2)
  await hub.bench({ what: 'press', plate: '42', button: 1, gesture: 'release' })
  await hub.advance(10)
  await expect.poll(at).toBeGreaterThan(20)
  expect(await at()).toBeLessThan(90)
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect
    .poll(async () => (await hub.get<Rule[]>('/api/rules')).filter((r) => r.title.startsWith('Landing')).length)
    .toBe(0)

  // A press that the key does not know is refused where it is.
  const wrong = await hub.send('POST', `/api/devices/${plate.id}/events/button3`, { value: 'shout' })
  expect(wrong.status).toBe(422)
  expect(await wrong.text()).toContain('press, double, hold, release')
})

test('a key by parts of the day: another thing by the hour and by the mode, and what belongs to now is marked', async ({
  hub,
  page,
}) => {
  await quietEvening(hub, '16:50')
  const plate = await named(hub, 'Galley plate')
  await hub.send('PUT', `/api/devices/${plate.id}/properties/handler`, { value: 'client' })
  await page.goto(`${hub.url}/buttons/${plate.id}`)
  const doings = page.getByRole('region', { name: 'Button 1' })
  const pressed = doings.getByRole('button', { name: 'What Button 1 does when pressed', exact: true })
  for (const scene of ['Cooking', 'Supper']) {
    await pressed.click()
    await page.getByRole('option', { name: scene, exact: true }).click()
    await expect(doings.getByRole('link', { name: `Galley plate, button 1 pressed: ${scene}` })).toBeVisible()
  }
  const pick = async (of: string, choice: string | RegExp) => {
    await doings.getByRole('button', { name: of }).click()
    await page.getByRole('option', { name: choice, exact: true }).click()
  }
  await pick('When: Galley plate, button 1 pressed: Supper', 'between …')
  await expect(
    doings.getByRole('button', { name: 'From: Galley plate, button 1 pressed: Supper: 17:00' }),
  ).toBeVisible()
  await pick('When: Galley plate, button 1 pressed: Cooking', 'in Out')
  await expect(doings.getByText('now', { exact: true })).toHaveCount(0)

  // It is 16:50, and nobody is out: the key does nothing, and it is said why.
  const table = () => value(hub, 'Table lamp', 'brightness')
  const was = await table()
  await hub.bench({ what: 'press', plate: '41', button: 1, gesture: 'press' })
  await hub.advance(5)
  expect(await table()).toBe(was)
  // At five o'clock its part begins by itself.
  await hub.bench({ what: 'jump', clock: '17:01' })
  await expect(doings.getByText('now', { exact: true })).toHaveCount(1)
  await hub.bench({ what: 'press', plate: '41', button: 1, gesture: 'press' })
  await expect.poll(table).toBe(60)
  // In the other mode, the other too.
  await hub.send('PUT', '/api/devices/own/properties/mode', { value: 'mode-out' })
  await expect(doings.getByText('now', { exact: true })).toHaveCount(2)
  await page.reload()
  await expect(doings.getByText('now', { exact: true })).toHaveCount(2)
})
