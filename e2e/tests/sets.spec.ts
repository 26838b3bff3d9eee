import { expect, test } from '../support/fixtures'
import { make, named, quietEvening, value } from '../support/home'
import { fromNothing, open, pick, type } from '../support/words'

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })
  test.beforeEach(async ({ hub }) => {
    await quietEvening(hub)
  })

  test('a floor starts a rule, a room is set, for as long as a formula says, while an event of a calendar is on', async ({
    hub,
    page,
  }) => {
    const minutes = await make(hub, '/api/variables', { title: 'Minutes of light', type: 'number', maximum: 60 })
    await hub.send('PUT', `/api/devices/own/properties/${minutes}`, { value: 2 })
    await page.goto(`${hub.url}/bench`)
    const diary = page.getByRole('region', { name: 'Family diary' })
    await diary.getByRole('textbox', { name: 'What is written into the diary' }).fill('Film evening')
    await diary.getByRole('spinbutton', { name: 'In how many minutes' }).fill('10')
    await diary.getByRole('button', { name: 'Write it down' }).click()
    await page.goto(`${hub.url}/household/calendars`)
    const calendars = page.getByRole('region', { name: 'Calendars' })
    await calendars.getByRole('button', { name: 'Read now' }).click()
    await expect(calendars).toContainText('Film evening')

    await page.goto(`${hub.url}/rules`)
    await page.getByRole('button', { name: 'New rule' }).click()
    await fromNothing(page)
    await page.getByRole('textbox', { name: 'Name of the rule' }).fill('A little light')
    const editor = page.getByRole('main')
    await pick(page, /^Kind of rule/, 'Each time')
    await editor.getByRole('button', { name: 'Choose what starts it' }).click()
    await pick(page, /^What starts it/, 'any on Upper: motion')
    await editor.getByRole('button', { name: 'Add a condition', exact: true }).click()
    await pick(page, /^Device and property/, 'a calendar event')
    const words = page.getByRole('textbox', { name: 'Words in its title' })
    await open(editor.getByRole('button', { name: /^Words in its title/ }), words)
    await words.fill('film')
    await page.keyboard.press('Enter')
    await editor.getByRole('button', { name: 'Add a step' }).click()
    await pick(page, /^Step: /, 'hold')
    await pick(page, /^What to set/, 'all in Galley: brightness')
    await type(page, /^Value: choose/, '35')
    // How long: a formula, typed by names; a wrong one is said at its place.
    const popover = page.locator('.p-popover')
    const byFormula = popover.getByRole('button', { name: 'By a formula' })
    await open(editor.getByRole('button', { name: /^How long to hold/ }), byFormula)
    const formula = editor.getByRole('button', { name: /^How long to hold, in seconds/ })
    await formula.click()
    await popover.locator('.cm-content').click()
    await page.keyboard.type(`"long"`)
    await popover.getByRole('button', { name: 'Set' }).click()
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect(editor.getByRole('alert').filter({ hasText: 'not to a number of seconds' }).first()).toBeVisible()
    await formula.click()
    await popover.locator('.cm-content').click()
    await page.keyboard.press('Control+a')
    await page.keyboard.type(`variable("${minutes}") * 60`)
    await expect(popover.getByRole('status')).toContainText('comes to 120')
    await popover.getByRole('button', { name: 'Set' }).click()
    await expect(formula).toContainText('Minutes of light * 60')
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect(editor.getByRole('alert').filter({ hasText: 'not to a number' })).toHaveCount(0)
    await page.reload()
    await expect(formula).toContainText('Minutes of light * 60')

    // Before the film nothing happens; the reason is said.
    await hub.send('PUT', `/api/devices/${(await named(hub, 'Worktop lamps')).id}/properties/brightness`, { value: 0 })
    await hub.bench({ what: 'walk', room: 'Landing', person: 'Tove' })
    await expect(editor.getByText('its calendar said otherwise').first()).toBeVisible()
    await hub.bench({ what: 'walk', room: '', person: 'Tove' })
    await hub.advance(15 * 60)
    await hub.bench({ what: 'walk', room: 'Landing', person: 'Tove' })
    await expect.poll(() => value(hub, 'Worktop lamps', 'brightness')).toBeCloseTo(35, 0)
    await hub.advance(2 * 60 + 5)
    await expect.poll(() => value(hub, 'Worktop lamps', 'brightness')).toBe(0)
  })

  test('another program calls and sends something with it, which the steps use', async ({ hub }) => {
    const lamp = await named(hub, 'Worktop lamps')
    await make(hub, '/api/rules', {
      title: 'As bright as they say',
      enabled: true,
      when: [{ kind: 'call', words: 'light' }],
      do: [{ kind: 'set', device: lamp.id, property: 'brightness', expression: 'sentNumber("/light/level")' }],
    })
    expect((await hub.send('POST', '/api/calls/light', { light: { level: 44 } })).status).toBe(204)
    await expect.poll(() => value(hub, 'Worktop lamps', 'brightness')).toBeCloseTo(44, 0)
    const wrong = await fetch(`${hub.url}/api/calls/light`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: '{"light":',
    })
    expect(wrong.status).toBe(400)
    expect(await wrong.text()).toContain('JSON')
    expect((await hub.send('POST', '/api/calls/light', { light: { level: 'x'.repeat(20_000) } })).status).toBe(422)
    expect((await fetch(`${hub.url}/api/calls/light`, { method: 'POST' })).status).toBe(204)
    await expect.poll(() => value(hub, 'Worktop lamps', 'brightness')).toBeCloseTo(44, 0)
  })
})
