import type { Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'
import type { Hub } from '../support/hub'
import { make, named, quietEvening, value } from '../support/home'
import { fill, fromNothing, open, pick, row, type } from '../support/words'

/** Rules of the mill's owner, each written in the editor from nothing. */
test.use({ flags: ['--fresh'] })
test.beforeEach(async ({ hub }) => {
  await quietEvening(hub)
  for (const r of await hub.get<{ id: string }[]>('/api/rules')) await hub.send('DELETE', `/api/rules/${r.id}`)
})

async function begin(page: Page, hub: Hub, title: string) {
  await page.goto(`${hub.url}/rules`)
  await page.getByRole('button', { name: 'Write the first rule' }).click()
  await fromNothing(page)
  await page.getByRole('textbox', { name: 'Name of the rule' }).fill(title)
}
async function live(page: Page, title: string) {
  await page.getByRole('button', { name: 'Put live' }).click()
  await expect(page.getByText(`${title} is live.`).last()).toBeVisible() // one of before may still be there
  await expect(page.getByText('a draft differs from what is live')).toHaveCount(0)
}
/** Types a rule as text, over what is there. */
async function write(page: Page, text: string, shown: string) {
  await page.getByRole('button', { name: 'As text' }).click()
  const panel = page.getByRole('region', { name: 'The rule as text' })
  await expect(panel.locator('.cm-content')).toContainText('title:')
  await panel.locator('.cm-content').click()
  await page.keyboard.press('Control+a')
  await page.keyboard.insertText(text)
  await expect(page.getByRole('button', { name: shown }).first()).toBeVisible()
  await expect(panel.getByRole('status')).not.toContainText('Line')
}
const newestRun = (page: Page) => page.getByRole('tabpanel').getByRole('listitem').first()

test('the stair light: dim once the house is asleep, afterwards as it was', async ({ hub, page }) => {
  const lamp = await named(hub, 'Stair lamp')
  await begin(page, hub, 'Stairs')
  const editor = page.getByRole('main')
  await pick(page, /^Device and property/, 'Landing sensor motion')
  await editor.getByRole('button', { name: 'Add a condition', exact: true }).click()
  await open(editor.getByRole('button', { name: 'Device and property: choose a device' }), 'Landing sensor light')
  await open(editor.getByRole('button', { name: /^Comparison: / }).last(), 'is below')
  await type(page, /^Value: .*lx|^Value: (0|choose)/, '20')
  await type(page, /^Ended for at least/, '20')
  await editor.getByRole('button', { name: 'Add a step', exact: true }).click()
  const steps = editor.getByRole('button', { name: /^Step: / })
  await open(steps.first(), 'if')
  await open(editor.getByRole('button', { name: 'Device and property: choose a device' }), 'Mode of the house')
  await pick(page, /^Value: .*(choose|nothing|…)/, 'Asleep')
  const lampAt = async (nth: number, percent: string) => {
    await open(steps.nth(nth), 'hold')
    await open(editor.getByRole('button', { name: 'What to set: choose a device' }), 'Stair lamp brightness')
    await type(page, /^Value: (choose|0|off|nothing)/, percent)
  }
  await lampAt(1, '25')
  await editor.getByRole('button', { name: 'Add what is done otherwise' }).click()
  await lampAt(2, '70')
  await live(page, 'Stairs')

  const brightness = () => value(hub, 'Stair lamp', 'brightness')
  const walk = async (there: boolean) => {
    await hub.bench({ what: 'walk', room: there ? 'Landing' : '', person: 'Nell' })
    await expect.poll(() => value(hub, 'Landing sensor', 'motion')).toBe(there)
  }
  await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 7 })
  await expect.poll(brightness).toBe(7)
  await walk(true)
  await expect.poll(brightness).toBe(70)
  await hub.bench({ what: 'walk', room: '', person: 'Nell' })
  await hub.advance(90)
  await expect.poll(brightness).toBe(7)
  await hub.send('PUT', '/api/devices/own/properties/mode', { value: 'mode-asleep' })
  await walk(true)
  await expect.poll(brightness).toBe(25)
  await expect(newestRun(page)).toBeVisible()
  await newestRun(page).getByRole('button').first().click()
  await expect(page.getByRole('region', { name: 'This run' })).toContainText('Landing sensor: motion moving')
})

test('the kiln: after nine hours the household is asked, and the answer is done', async ({ hub, page }) => {
  const kiln = await named(hub, 'Kiln')
  await begin(page, hub, 'Kiln')
  const editor = page.getByRole('main')
  await pick(page, /^Kind of rule/, 'Each time')
  await editor.getByRole('button', { name: 'Choose what starts it' }).click()
  await pick(page, /^What starts it/, 'Kiln power')
  await pick(page, /^How it changes/, 'becomes')
  await pick(page, /^Value: /, 'on')
  await editor.getByRole('button', { name: 'And stays so for some time' }).click()
  await type(page, /^And stays so/, '9', 'h')
  await editor.getByRole('button', { name: 'Add a step' }).click()
  await pick(page, /^Step: /, 'ask the household')
  await editor.getByRole('button', { name: /^What is asked/ }).click()
  await page.getByRole('textbox', { name: 'What is asked' }).fill('The kiln is still on. Switch it off?')
  await page.keyboard.press('Enter')
  await editor.getByRole('button', { name: 'Add a step' }).first().click()
  await open(editor.getByRole('button', { name: 'What to set: choose a device' }), 'Kiln power')
  await expect(editor.getByRole('button', { name: 'What to set: Kiln power' })).toBeVisible()
  await expect(editor.getByRole('button', { name: /^Value: / })).toHaveCount(2) // the trigger's, and the step's
  await open(editor.getByRole('button', { name: /^Value: / }).last(), 'off')
  await expect(editor.getByRole('button', { name: /^Value: on/ })).toHaveCount(1)
  await expect(editor.getByRole('button', { name: /^Value: off/ })).toHaveCount(1)
  await live(page, 'Kiln')

  const power = () => value(hub, 'Kiln', 'power')
  const on = async () => {
    await hub.send('PUT', `/api/devices/${kiln.id}/properties/power`, { value: true })
    await expect.poll(power).toBe(true)
    await hub.advance(9 * 3600 + 5)
  }
  await on()
  // The question waits on every panel, over a power cut the moment after it was asked.
  await hub.kill()
  await hub.again()
  const board = (await hub.get<{ id: string }[]>('/api/dashboards'))[0]!
  await page.goto(`${hub.url}/panel/${board.id}`)
  const shown = page.getByRole('status', { name: 'Shown' })
  await expect(shown).toContainText('The kiln is still on.')
  await shown.getByRole('button', { name: 'Yes' }).click()
  await expect.poll(power).toBe(false)
  await expect(shown).toBeHidden()
  await page.goto(`${hub.url}/devices/${kiln.id}`)
  await page.getByRole('link', { name: 'Why', exact: true }).first().click()
  await expect(page.getByRole('region', { name: 'This run' })).toContainText('Kiln: power')
  // Answered No, it stays on, and nobody can answer twice.
  await on()
  const asked = (await hub.get<{ id: string; answer?: string; text: string }[]>('/api/notices')).find((n) => !n.answer)!
  expect((await hub.send('POST', `/api/notices/${asked.id}/answer`, { answer: 'Perhaps' })).status).toBe(422)
  expect((await hub.send('POST', `/api/notices/${asked.id}/answer`, { answer: 'No' })).ok).toBe(true)
  expect((await hub.send('POST', `/api/notices/${asked.id}/answer`, { answer: 'Yes' })).status).toBe(409)
  expect(await power()).toBe(true)
})

test('river high: told, the weir gate opened, and the lamps in the yard pulse until somebody has seen it', async ({
  hub,
  page,
}) => {
  const level = await named(hub, 'Water level')
  const lantern = await named(hub, 'Yard lantern by the door')
  const motor = await named(hub, 'Weir gate motor')
  await hub.send('PUT', `/api/devices/${lantern.id}/properties/brightness`, { value: 33 })
  const brightness = () => value(hub, lantern.title, 'brightness') as Promise<number>
  await expect.poll(brightness).toBeCloseTo(33, 0)
  await begin(page, hub, 'River')
  await write(
    page,
    `title: River
enabled: true
when:
  - device: ${level.id}
    property: level
    comparison: above
    value: 160
    forSeconds: 600
do:
  - {kind: set, device: ${motor.id}, property: power, value: true}
  - kind: remember
    group: group-lanterns
  - kind: together
    branches:
      - do:
          - kind: question
            text: The river is high.
            branches:
              - answer: Seen
                do:
                  - {kind: set, device: own, property: variable-river-seen, value: true}
      - do:
          - {kind: set, device: own, property: variable-river-seen, value: false}
          - kind: repeat
            until: true
            condition: {device: own, property: variable-river-seen, comparison: is, value: true}
            do:
              - {kind: set, group: group-lanterns, property: brightness, value: 90}
              - {kind: wait, forSeconds: 3}
              - {kind: set, group: group-lanterns, property: brightness, value: 10}
              - {kind: wait, forSeconds: 3}
  - kind: putBack
    group: group-lanterns
`,
    'What is asked: The river is high.',
  )
  await live(page, 'River')

  await hub.bench({ what: 'dam', on: true })
  await expect.poll(() => value(hub, 'Water level', 'level') as Promise<number>).toBeGreaterThan(160)
  await hub.advance(300)
  await expect.poll(brightness).toBeCloseTo(33, 0)
  await hub.advance(302)
  await expect.poll(brightness).toBeGreaterThan(85)
  await hub.advance(3)
  await expect.poll(brightness).toBeLessThan(15)
  await hub.advance(3)
  await expect.poll(brightness).toBeGreaterThan(85)
  // The gate is wound open, which is heard of its contact, and the water goes down; the lamps pulse until it is seen.
  await expect.poll(() => value(hub, 'Weir gate', 'contact')).toBe(true)
  await hub.advance(60)
  await expect.poll(() => value(hub, 'Water level', 'level') as Promise<number>).toBeLessThan(160)
  await page.goto(`${hub.url}/household/messages`)
  await page.getByRole('region', { name: 'Messages' }).getByRole('button', { name: 'Seen' }).click()
  await hub.advance(7)
  await expect.poll(brightness).toBeCloseTo(33, 0)
  await page.goto(`${hub.url}/rules`)
  await row(page, 'River').click()
  await newestRun(page).getByRole('button').first().click()
  const run = page.getByRole('region', { name: 'This run' })
  await expect(run).toContainText('Water level rises above 160 cm and stays so for 10 min')
  await expect(run).toContainText('The household was told: The river is high.')
})

test('looks lived in while away: now this lamp, now that one, until somebody returns', async ({ hub, page }) => {
  const lamps = ['Stair lamp', 'Table lamp', 'Loft lamp']
  const ids = await Promise.all(lamps.map(async (l) => (await named(hub, l)).id))
  await begin(page, hub, 'Lived in')
  await write(
    page,
    `title: Lived in
enabled: true
while:
  all:
    - {device: own, property: mode, comparison: is, value: mode-away}
    - between: {from: {anchor: clock, clock: "17:00"}, to: {anchor: clock, clock: "23:59"}}
do:
  - kind: repeat
    do:
      - kind: oneOf
        branches:
${ids.map((id) => `          - do: [{kind: hold, device: ${id}, property: brightness, value: 60, forSeconds: 600}]`).join('\n')}
      - {kind: wait, forSeconds: 240, toSeconds: 700}
`,
    'How long to wait: 4 min',
  )
  await live(page, 'Lived in')
  const lit = async () => {
    const at = await Promise.all(lamps.map((l) => value(hub, l, 'brightness')))
    return lamps.filter((_, i) => at[i] === 60)
  }
  for (const id of ids) await hub.send('PUT', `/api/devices/${id}/properties/brightness`, { value: 0 })
  await hub.advance(60)
  expect(await lit()).toEqual([])
  await hub.send('PUT', '/api/devices/own/properties/mode', { value: 'mode-away' })
  const seen = new Set<string>()
  for (let i = 0; i < 12; i++) {
    await hub.advance(500)
    for (const l of await lit()) seen.add(l)
  }
  expect(seen.size).toBeGreaterThan(1)
  await hub.send('PUT', '/api/devices/own/properties/mode', { value: 'mode-in' })
  await expect.poll(lit).toEqual([])
  await hub.advance(1200)
  expect(await lit()).toEqual([])
  await page.reload()
  await newestRun(page).getByRole('button').first().click()
  await expect(page.getByRole('region', { name: 'This run' })).toContainText('round')
})

test('a script: its mistakes are told while it is typed, what it would do is seen, it does all or nothing', async ({
  hub,
  page,
}) => {
  const lamp = await named(hub, 'Stair lamp')
  const table = await named(hub, 'Table lamp')
  await begin(page, hub, 'Scripted')
  const editor = page.getByRole('main')
  await pick(page, /^Kind of rule/, 'Each time')
  await editor.getByRole('button', { name: 'Add a step' }).click()
  await pick(page, /^Step: /, 'run a script')
  const code = editor.locator('.cm-content')
  const status = editor.getByRole('status').filter({ hasText: /Starlark|Line|would/ })
  await code.click()
  await page.keyboard.insertText('for i in range(3)\n    pass')
  await expect(status).toContainText('Line 1')
  await page.keyboard.press('Control+a')
  await page.keyboard.insertText('x = "a"\nfor i in range(60):\n    x = x + x')
  await expect(status).toContainText('It would fail now, at line 3')
  await page.keyboard.press('Control+a')
  await page.keyboard.insertText(
    `set("${lamp.id}", "brightness", 20 + 1)\nset("${table.id}", "brightness", 22)\nprint("done")`,
  )
  await expect(status).toContainText('set Stair lamp brightness to 21 %')
  await expect(status).toContainText('done')
  await expect(code).toContainText('Stair lamp')
  await expect(code).not.toContainText(lamp.id)
  await live(page, 'Scripted')
  await page.getByRole('button', { name: 'Try now' }).click()
  await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(21)
  await expect.poll(() => value(hub, 'Table lamp', 'brightness')).toBe(22)

  await code.click()
  await page.keyboard.press('Control+Home')
  await page.keyboard.insertText(`set("${lamp.id}", "brightness", 90)\nfail("not today")\n`)
  await expect(status).toContainText('not today')
  await live(page, 'Scripted')
  await page.getByRole('button', { name: 'Try now' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'not today' })).toContainText('line 2')
  expect(await value(hub, 'Stair lamp', 'brightness')).toBe(21)
  await expect(page.getByText(/Used by/)).toHaveCount(0)
  await page.goto(`${hub.url}/devices/${table.id}`)
  await expect(page.getByText('Scripted').first()).toBeVisible()
})

test('lock-up: locks checked and verified, lamps out but the night route, heating down, players fade, and what was found open is said', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  const group = async (title: string, ...titles: string[]) =>
    make(hub, '/api/groups', { title, devices: await Promise.all(titles.map(async (t) => (await named(hub, t)).id)) })
  await group('Locks', 'Hall lock', 'Boat shed lock')
  await group('Out at night', 'Worktop lamps', 'Table lamp')
  await group('Heating', 'Mill room thermostat', 'East room thermostat')
  await group('Openings', 'Hall door', 'Glasshouse door', 'Galley window')
  const bolt = (await hub.get<{ locks: { id: string }[] }>('/api/bench')).locks[1]!.id

  await test.step('written in the editor', async () => {
    for (const r of await hub.get<{ id: string }[]>('/api/rules')) await hub.send('DELETE', `/api/rules/${r.id}`)
    await page.goto(`${hub.url}/rules`)
    await page.getByRole('button', { name: 'Write the first rule' }).click()
    await fromNothing(page)
    await page.getByRole('textbox', { name: 'Name of the rule' }).fill('Lock-up')
    const editor = page.getByRole('main')
    const choose = async (label: RegExp, choice: string) =>
      open(editor.getByRole('button', { name: label }).last(), choice)
    const write = async (label: RegExp, what: string, text: string) => {
      const box = page.getByRole('textbox', { name: what })
      await open(editor.getByRole('button', { name: label }).last(), box)
      await box.fill(text)
      await page.keyboard.press('Enter')
    }
    const last = async (label: RegExp, amount: string, unit?: string) =>
      fill(editor.getByRole('button', { name: label }).last(), amount, unit)
    await pick(page, /^Kind of rule/, 'Each time')
    const starts = async (what: string) => {
      await editor.getByRole('button', { name: /^(Choose what starts it|Or when something else happens)$/ }).click()
      await choose(/^What starts it/, what)
    }
    await starts('a phrase is said or typed')
    await write(/^Phrase/, 'Phrase', 'lock up')
    await starts('Landing plate button 4')
    await starts('a time of day')
    await choose(/^Time: \d/, '23:30')
    await editor.getByRole('button', { name: 'Add a condition', exact: true }).click()
    await choose(/^Device and property/, 'Mode of the house')
    await choose(/^Comparison/, 'is not')
    await choose(/^Value/, 'Asleep')

    const step = async (kind: string) => {
      await editor.getByRole('button', { name: 'Add a step', exact: true }).last().click()
      await choose(/^Step: /, kind)
    }
    await step('set')
    await choose(/^What to set/, 'Mode of the house')
    await choose(/^Value/, 'Asleep')
    await step('set')
    await choose(/^What to set/, 'all Locks: locked')
    await choose(/^Value/, 'locked')
    await step('set')
    await choose(/^What to set/, 'all Out at night: brightness')
    await last(/^Value/, '0')
    await last(/^Fade/, '4', 's')
    await step('set')
    await choose(/^What to set/, 'all Heating: set temperature')
    await last(/^Value/, '16')
    await step('ramp')
    await choose(/^What to set/, 'Mill room player volume')
    await last(/^Value/, '0')
    await last(/^Over how long/, '20', 's')
    await step('set')
    await choose(/^What to set/, 'Mill room player playing')
    await choose(/^Value/, 'off')
    // Verified: it waits until all are locked, and goes on with the truth when they are not.
    await step('wait until')
    await choose(/^Device and property/, 'Locks: locked')
    await choose(/^How many of the group/, 'every one of')
    await last(/^At most/, '30', 's')
    await step('say')
    await choose(/^What speaks/, 'Galley player announcement')
    // The values in what is said are typed by their names.
    const said = page.getByRole('textbox', { name: 'What is said' })
    await open(editor.getByRole('button', { name: /^What is said/ }), said)
    await page.keyboard.type('Unlocked: {which of Locks')
    await page.getByRole('option', { name: 'which of Locks are unlocked' }).click()
    await page.keyboard.press('ArrowRight')
    await page.keyboard.type('. Open: {which of Openings')
    await page.getByRole('option', { name: 'which of Openings are open' }).click()
    await page.keyboard.press('ArrowRight')
    await page.keyboard.type('.')
    await expect(page.locator('.p-popover').getByRole('status')).toContainText('now: “Unlocked: none. Open: none.”')
    await page.keyboard.press('Enter')
    await expect(
      editor.getByRole('button', {
        name: 'What is said: Unlocked: {which of Locks are unlocked}. Open: {which of Openings are open}.',
      }),
    ).toBeVisible()
    await live(page, 'Lock-up')
  })

  const heard = async (text: string) => {
    await page.goto(`${hub.url}/bench?place=Galley`)
    await expect(page.getByText(`said “${text}”`).first()).toBeVisible()
  }
  const set = async (title: string, property: string, to: unknown) => {
    await hub.send('PUT', `/api/devices/${(await named(hub, title)).id}/properties/${property}`, { value: to })
    await expect.poll(() => value(hub, title, property)).toBe(to)
  }
  await test.step('said: everything is done, and it is said what stands open', async () => {
    await set('Hall lock', 'locked', false)
    await set('Worktop lamps', 'brightness', 80)
    await set('Stair lamp', 'brightness', 15)
    await set('Mill room player', 'volume', 40)
    await set('Mill room player', 'playing', true)
    await hub.bench({ what: 'open', opening: 'Glasshouse door', on: true })
    await expect.poll(() => value(hub, 'Glasshouse door', 'contact')).toBe(true)
    await hub.send('POST', '/api/phrases', { words: 'Lock up!' })
    await hub.advance(30)
    await expect.poll(() => value(hub, 'Hall lock', 'locked')).toBe(true)
    await expect.poll(() => value(hub, 'Worktop lamps', 'brightness')).toBe(0)
    expect(await value(hub, 'Stair lamp', 'brightness')).toBe(15) // the night route
    await expect.poll(() => value(hub, 'Mill room thermostat', 'target')).toBe(16)
    await expect.poll(() => value(hub, 'Mill room player', 'playing')).toBe(false)
    await hub.advance(10)
    await heard('Unlocked: none. Open: Glasshouse door.')
  })
  await test.step('at 23:30 it has been done already', async () => {
    await hub.bench({ what: 'jump', clock: '23:35' })
    await page.goto(`${hub.url}/rules`)
    await row(page, 'Lock-up').click()
    await expect(page.getByText('not started: Mode of the house was Asleep').first()).toBeVisible()
  })
  await test.step('by the button, with a bolt that jams: the truth is said', async () => {
    await hub.send('PUT', '/api/devices/own/properties/mode', { value: 'mode-in' })
    await hub.bench({ what: 'turnKey', lock: bolt, on: false })
    await expect.poll(() => value(hub, 'Boat shed lock', 'locked')).toBe(false)
    await hub.bench({ what: 'jam', lock: bolt, on: true })
    await hub.bench({ what: 'open', opening: 'Galley window', on: true })
    await expect.poll(() => value(hub, 'Galley window', 'contact')).toBe(true)
    await hub.bench({ what: 'press', plate: '42', button: 4, gesture: 'press' })
    await hub.advance(70)
    await heard('Unlocked: Boat shed lock. Open: Glasshouse door and Galley window.')
  })
})
