import { expect, test } from '../support/fixtures'
import { named, quietEvening, value } from '../support/home'
import { open, pick, type } from '../support/words'

test.use({ flags: ['--fresh'] })

test('a rule has a player play a station, at a volume that is worked out', async ({ hub, page }) => {
  await quietEvening(hub)
  for (const r of await hub.get<{ id: string }[]>('/api/rules')) await hub.send('DELETE', `/api/rules/${r.id}`)
  const player = await named(hub, 'Galley player')
  const plays = () => value(hub, player.title, 'track')
  await page.goto(`${hub.url}/rules`)
  await page.getByRole('button', { name: 'Write the first rule' }).click()
  await page.getByRole('button', { name: /^From nothing/ }).click()
  await page.getByRole('textbox', { name: 'Name of the rule' }).fill('Supper music')
  const editor = page.getByRole('main')
  await pick(page, /^Kind of rule/, 'When')
  await editor.getByRole('button', { name: 'Add a step' }).click()
  await pick(page, /^Step: /, 'play')
  await editor.getByRole('button', { name: /^What is played/ }).click()
  await page.getByRole('textbox', { name: 'What is played' }).fill('quiet weirside')
  await page.keyboard.press('Enter')
  await pick(page, /^What plays/, 'Galley player')
  await editor.getByRole('button', { name: 'Add a step' }).click()
  await open(
    editor.getByRole('button', { name: /^Step: / }).last(),
    page.getByRole('option', { name: 'wait', exact: true }),
  )
  await pick(page, /^How the time is given/, 'for as many seconds as is worked out:')
  await open(editor.getByRole('button', { name: /^How many seconds to wait/ }), page.locator('.p-popover .cm-content'))
  await page.locator('.p-popover .cm-content').fill('60.0 * 2.0')
  await page.keyboard.press('Control+Enter')
  await editor.getByRole('button', { name: 'Add a step' }).click()
  await open(
    editor.getByRole('button', { name: /^Step: / }).last(),
    page.getByRole('option', { name: 'ask a device', exact: true }),
  )
  await pick(page, /^What to ask/, 'Galley player: play')
  // What it needs and is not given is said before it goes live.
  await page.getByRole('button', { name: 'Put live' }).click()
  await expect(page.getByText('Station or title is needed.').first()).toBeVisible()
  await editor.getByRole('button', { name: /^Station or title: / }).click()
  await page.getByRole('textbox', { name: 'Station or title' }).fill('lockgate')
  await page.keyboard.press('Enter')
  await pick(page, /^Also give/, 'volume')
  await type(page, /^Volume: /, '45')
  await page.getByRole('button', { name: 'Put live' }).click()
  await expect(page.getByText('Supper music is live.')).toHaveCount(2) // the first time with its problem

  const id = (await hub.get<{ id: string; title: string }[]>('/api/rules')).find((r) => r.title === 'Supper music')!.id
  await hub.send('POST', `/api/rules/${id}/run`)
  await expect.poll(plays).toBe('Weirside Quiet - station')
  expect(await value(hub, player.title, 'playing')).toBe(true)
  await hub.advance(118)
  expect(await plays()).toBe('Weirside Quiet - station')
  await hub.advance(4)
  await expect.poll(plays).toBe('Radio Lockgate - station')
  await expect.poll(() => value(hub, player.title, 'volume')).toBeCloseTo(45, 0)
  await page.reload()
  await expect(editor.getByRole('button', { name: 'Volume: 45 %' })).toBeVisible()

  // By hand, from the page of the device; what it does not have is said.
  await page.goto(`${hub.url}/devices/${player.id}`)
  await page.getByRole('button', { name: 'Play …' }).click()
  const asked = page.getByRole('group', { name: 'Play' })
  await asked.getByRole('button', { name: 'Ask' }).click()
  await expect(page.getByText('Station or title: is needed.')).toBeVisible()
  const search = async (words: string) => {
    await asked.getByRole('button', { name: /^Station or title/ }).click()
    await page.getByRole('textbox', { name: 'Station or title' }).fill(words)
    await page.keyboard.press('Enter')
    await asked.getByRole('button', { name: 'Ask' }).click()
  }
  await search('paddles')
  await expect.poll(plays).toBe('Seven Paddles - Undershot')
  await page.getByRole('button', { name: 'Play …' }).click()
  await search('an opera')
  await page.goto(`${hub.url}/journal?device=${player.id}`)
  await expect(page.getByText(/NONE/).first()).toBeVisible()
  await expect(page.getByText(/volume: 45 %/).first()).toBeVisible()
})
