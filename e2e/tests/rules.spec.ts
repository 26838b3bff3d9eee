import { expect, test } from '../support/fixtures'
import { make, named, quietEvening, value, type Device } from '../support/home'
import type { Hub } from '../support/hub'
import { fromNothing, open, pick, row, type } from '../support/words'

interface Rule {
  id: string
  title: string
  state: { frames?: { at: string }[]; problems: unknown[]; stopped?: string }
}
const ruleOf = async (hub: Hub, id: string) => (await hub.get<Rule[]>('/api/rules')).find((r) => r.id === id)!

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })
  test.beforeEach(async ({ hub }) => {
    await quietEvening(hub)
  })

  test('harvest festival: written in the editor, lights at random while a switch is on, then as they were', async ({
    hub,
    page,
  }) => {
    await page.goto(`${hub.url}/household/groups`)
    await page.getByRole('textbox', { name: 'Name of the new variable' }).fill('Harvest festival')
    await page.getByRole('region', { name: 'Variables' }).getByRole('button', { name: 'Add', exact: true }).click()
    const festival = page
      .getByRole('article')
      .filter({ has: page.getByRole('textbox', { name: 'Name of the variable Harvest festival' }) })
    await expect(festival.getByRole('button', { name: 'Set to yes' })).toBeVisible()
    await page.getByRole('textbox', { name: 'Name of the new group' }).fill('Festival lights')
    await page
      .getByRole('region', { name: 'Groups of devices' })
      .getByRole('button', { name: 'Add', exact: true })
      .click()
    await page.getByLabel('Devices of Festival lights').first().click({ force: true })
    for (const lantern of ['Yard lantern by the door, Yard', 'Yard lantern by the wheel, Yard'])
      await page.getByRole('option', { name: lantern }).click()
    await page.keyboard.press('Escape')
    const lights = async () =>
      (await hub.get<{ title: string; devices: string[] }[]>('/api/groups')).find((g) => g.title === 'Festival lights')
    await expect.poll(async () => (await lights())?.devices.length).toBe(2)

    const door = await named(hub, 'Yard lantern by the door')
    await hub.send('PUT', `/api/devices/${door.id}/properties/brightness`, { value: 33 })
    await expect.poll(() => value(hub, door.title, 'brightness')).toBeCloseTo(33, 0)

    await page.goto(`${hub.url}/rules`)
    await page.getByRole('button', { name: 'New' }).click()
    await fromNothing(page)
    const editor = page.getByRole('main')
    await editor.getByRole('textbox', { name: 'Name of the rule' }).fill('Harvest festival')
    await pick(page, /^Kind of rule/, 'Each time')
    await editor.getByRole('button', { name: 'Choose what starts it' }).click()
    await pick(page, /^What starts it/, 'Harvest festival')
    const steps = editor.getByRole('button', { name: /^Step: / })
    await editor.getByRole('button', { name: 'Add a step' }).click()
    await pick(page, /^Step: /, 'remember how it is')
    await pick(page, /^What to remember/, 'all Festival lights')
    await editor.getByRole('button', { name: 'Add a step' }).click()
    await open(steps.nth(1), 'repeat')
    await pick(page, /^How often/, 'while')
    await pick(page, /^Device and property/, 'Harvest festival')
    // Within it: each lantern by chance, then a pause by chance.
    await open(steps.nth(2), 'for each of')
    await pick(page, /^Group or room: /, 'Festival lights')
    await pick(page, /^What to set/, 'the one’s brightness')
    await pick(page, /^How to set it/, 'to, by chance between')
    await type(page, /^Value: (0|off)/, '10')
    await editor.getByRole('button', { name: 'by chance', exact: true }).click()
    await editor.getByRole('button', { name: 'Add a step' }).last().click()
    await open(steps.last(), 'put back as remembered')
    await open(
      editor.getByRole('button', { name: 'What to remember: choose a device' }),
      page.getByRole('option', { name: 'all Festival lights' }),
    )
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect(page.getByText('Harvest festival is live.')).toBeVisible()

    const seen = new Set<unknown>()
    await page.goto(`${hub.url}/household/groups`)
    await festival.getByRole('button', { name: 'Set to yes' }).click()
    for (let i = 0; i < 12; i++) {
      await hub.advance(5)
      seen.add(await value(hub, door.title, 'brightness'))
    }
    expect(seen.size).toBeGreaterThan(4)
    await page.goto(`${hub.url}/rules`)
    await row(page, 'Harvest festival').click()
    await expect(page.getByText('here', { exact: true })).toBeVisible()
    await page.goto(`${hub.url}/household/groups`)
    await festival.getByRole('button', { name: 'Set to no' }).click()
    await hub.advance(30)
    expect(await value(hub, door.title, 'brightness')).toBeCloseTo(33, 0)
    await expect(page.getByText('Used by Harvest festival').first()).toBeVisible()
  })

  test('a 40-minute wait goes on where it stood when the hub was killed, and is given up when far too late', async ({
    hub,
    page,
  }) => {
    const lamp = await named(hub, 'Stair lamp')
    const steps = [
      { kind: 'repeat', times: 1, do: [{ kind: 'wait', forSeconds: 2400 }] },
      { kind: 'set', device: lamp.id, property: 'brightness', value: 47 },
    ]
    const goes = await make(hub, '/api/rules', { title: 'Forty minutes', enabled: true, do: steps })
    const gives = await make(hub, '/api/rules', {
      title: 'Or not at all',
      enabled: true,
      giveUpAfterSeconds: 300,
      do: [steps[0], { kind: 'notify', text: 'Too late.' }],
    })
    for (const id of [goes, gives]) await hub.send('POST', `/api/rules/${id}/run`)
    await hub.advance(600)
    await page.goto(`${hub.url}/rules/${goes}`)
    await expect(page.getByText('here', { exact: true })).toBeVisible()
    await hub.kill() // at minute 10, and on again at minute 15
    await hub.again('--off', '5m')
    await page.reload()
    await expect(page.getByText('here', { exact: true })).toBeVisible()
    expect((await ruleOf(hub, goes)).state.frames?.[0]?.at).toBe('do/0/do/0')
    expect(await value(hub, 'Stair lamp', 'brightness')).not.toBe(47)
    await hub.advance(24 * 60)
    expect(await value(hub, 'Stair lamp', 'brightness')).not.toBe(47)
    await hub.advance(2 * 60)
    await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(47)
    expect(await hub.get<{ text: string }[]>('/api/notices')).toHaveLength(1)

    // Killed at minute 10 of another round, and on again at minute 60: one is late and goes on, one gives up.
    await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 5 })
    await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(5)
    for (const id of [goes, gives]) await hub.send('POST', `/api/rules/${id}/run`)
    await hub.advance(600)
    await hub.kill()
    await hub.again('--off', '50m')
    await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(47)
    expect((await hub.get<{ text: string }[]>('/api/notices')).map((n) => n.text)).toEqual([
      expect.stringMatching(/Or not at all.*it came too late, since the hub was off/),
      'Too late.',
    ])
    await page.goto(`${hub.url}/rules/${gives}`)
    await expect(page.getByText('it came too late, since the hub was off').first()).toBeVisible()
  })

  test('a phrase ends the day: doors checked, lamps out but the night route, the household told what was open', async ({
    hub,
    page,
  }) => {
    const group = await make(hub, '/api/groups', {
      title: 'Doors',
      devices: [(await named(hub, 'Hall door')).id, (await named(hub, 'Glasshouse door')).id],
    })
    const lock = (await named(hub, 'Hall lock')).id
    const lamp = (await named(hub, 'Worktop lamps')).id
    const rule = await make(hub, '/api/rules', {
      title: 'Lock-up',
      enabled: true,
      when: [
        { kind: 'phrase', words: 'Good night' },
        { kind: 'time', at: { anchor: 'clock', clock: '23:30' } },
      ],
      provided: { device: 'own', property: 'mode', comparison: 'isNot', value: 'mode-asleep' },
      do: [
        { kind: 'set', device: 'own', property: 'mode', value: 'mode-asleep' },
        { kind: 'set', device: lamp, property: 'brightness', value: 0 },
        { kind: 'set', device: lock, property: 'locked', value: true, untilDone: true },
        {
          kind: 'if',
          condition: { group, which: 'any', property: 'contact', comparison: 'is', value: true },
          then: [{ kind: 'notify', text: 'Locked up, but a door stands open.' }],
          else: [{ kind: 'notify', text: 'Locked up; all doors are shut.' }],
        },
      ],
    })
    expect((await ruleOf(hub, rule)).state.problems).toEqual([])
    await hub.send('PUT', `/api/devices/${lamp}/properties/brightness`, { value: 60 })
    await hub.send('PUT', `/api/devices/${lock}/properties/locked`, { value: false })
    await expect.poll(() => value(hub, 'Hall lock', 'locked')).toBe(false)
    await hub.bench({ what: 'open', opening: 'Glasshouse door', on: true })
    await hub.advance(5)

    await page.goto(`${hub.url}/devices`)
    await expect(page.getByRole('heading', { name: 'Devices', exact: true })).toBeVisible()
    await page.keyboard.press('/')
    await page.getByRole('searchbox', { name: 'Find or go' }).fill('good night')
    await page.getByRole('option', { name: /Start what waits for “good night”/ }).click()
    await expect.poll(() => value(hub, 'Hall lock', 'locked')).toBe(true)
    await expect.poll(() => value(hub, 'Worktop lamps', 'brightness')).toBe(0)
    await expect(page.getByRole('button', { name: 'Mode of the house: Asleep' })).toBeVisible()
    await page.goto(`${hub.url}/household/messages`)
    const told = page.getByRole('region', { name: 'Messages' })
    await expect(told.getByText('Locked up, but a door stands open.')).toBeVisible()
    await expect(page.getByRole('navigation', { name: 'Places' }).getByText('Household 1')).toBeVisible()
    await told.getByRole('button', { name: 'Seen' }).click()
    await expect(told.getByText('seen')).toBeVisible()
    await told.getByRole('link', { name: 'Why?' }).click()
    await expect(page.getByText('“good night” was said').first()).toBeVisible()
    // At 23:30 it has been done already.
    await hub.bench({ what: 'jump', clock: '23:40' })
    expect(await hub.get<{ text: string }[]>('/api/notices')).toHaveLength(1)
    await page.goto(`${hub.url}/rules/${rule}`)
    await expect(page.getByText('not started: Mode of the house was Asleep').first()).toBeVisible()
  })

  test('steps are undone and done again, copied to another rule, and what is wrong is said where it is', async ({
    hub,
    page,
  }) => {
    const lamp = await named(hub, 'Stair lamp')
    const set = { kind: 'set', device: lamp.id, property: 'brightness', value: 20 }
    const id = await make(hub, '/api/rules', { title: 'From here', enabled: false, do: [set] })
    const other = await make(hub, '/api/rules', { title: 'To there', enabled: false, do: [set] })
    await page.goto(`${hub.url}/rules/${id}`)
    const editor = page.getByRole('main')
    const steps = editor.getByRole('button', { name: /^Step: / })
    await editor.getByRole('button', { name: 'Add a step' }).click()
    await expect(steps).toHaveCount(2)
    await editor.getByRole('button', { name: 'Undo' }).click()
    await expect(steps).toHaveCount(1)
    await editor.getByRole('button', { name: 'Redo' }).click()
    await expect(steps).toHaveCount(2)
    await open(steps.nth(1), 'repeat')
    await pick(page, /^How often/, 'until it is stopped')
    await editor.getByRole('button', { name: 'Remove step 2.2' }).click()
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect(page.getByText('It would never come to an end within one moment').first()).toBeVisible()
    await expect(page.getByText(/still to be filled in/)).toBeVisible() // the device of the other step

    await editor.getByRole('button', { name: 'Copy step 1', exact: true }).click()
    await page.goto(`${hub.url}/rules/${other}`)
    await editor.getByRole('button', { name: 'Put in what was copied' }).click()
    await expect(editor.getByRole('button', { name: 'What to set: Stair lamp brightness' })).toHaveCount(2)
  })

  test('a rule that starts itself for ever is told so when it is written; run all the same it is stopped, and the house goes on', async ({
    hub,
    page,
  }) => {
    const made = await make(hub, '/api/variables', { title: 'Ping', type: 'number', minimum: 0, maximum: 100_000 })
    await page.goto(`${hub.url}/rules`)
    await page.getByRole('button', { name: 'New rule' }).click()
    await fromNothing(page)
    await page.getByRole('textbox', { name: 'Name of the rule' }).fill('For ever')
    const editor = page.getByRole('main')
    await pick(page, /^Kind of rule/, 'Each time')
    await editor.getByRole('button', { name: 'Choose what starts it' }).click()
    await pick(page, /^What starts it/, 'Ping')
    await editor.getByRole('button', { name: 'Add a step' }).click()
    await pick(page, /^What to set/, 'Ping')
    await pick(page, /^How to set it/, 'by')
    await type(page, /^By how much/, '1')
    await page.getByRole('button', { name: 'Put live' }).click()
    const found = page.getByRole('region', { name: 'Probably a mistake' })
    await expect(
      found.getByText('This sets what starts the rule, so it may start itself again and again.'),
    ).toBeVisible()
    const rule = (await hub.get<{ id: string; title: string }[]>('/api/rules')).find((r) => r.title === 'For ever')!.id
    await hub.send('PUT', `/api/devices/own/properties/${made}`, { value: 5 })
    await expect.poll(async () => (await ruleOf(hub, rule)).state.stopped ?? '').toContain('chain')
    await page.goto(`${hub.url}/rules/${rule}`)
    await expect(page.getByRole('alert').filter({ hasText: 'Stopped.' })).toBeVisible()
    const lamp = await named(hub, 'Stair lamp')
    await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 12 })
    await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(12)
  })

  test('a rule that can never begin is told when it is written, and can be meant so', async ({ hub, page }) => {
    const lamp = await named(hub, 'Stair lamp')
    const sensor = await named(hub, 'Landing sensor')
    const light = { device: sensor.id, property: 'illuminance' }
    const name = (
      await hub.get<{ id: string; description: { properties: { name: string; role: string }[] } }[]>('/api/devices')
    )
      .find((d) => d.id === sensor.id)!
      .description.properties.find((p) => p.role === light.property)!.name
    const rule = await make(hub, '/api/rules', {
      title: 'Neither dark nor light',
      enabled: true,
      provided: {
        all: [
          { device: sensor.id, property: name, comparison: 'below', value: 5 },
          { device: sensor.id, property: name, comparison: 'above', value: 50 },
        ],
      },
      do: [
        { kind: 'set', device: lamp.id, property: 'brightness', value: 20 },
        { kind: 'until', condition: { device: sensor.id, property: name, comparison: 'above', value: 50 } },
      ],
    })
    await page.goto(`${hub.url}/rules/${rule}`)
    const found = page.getByRole('region', { name: 'Probably a mistake' })
    await expect(found.getByText('This can never be true.')).toBeVisible()
    await expect(found.getByText('This may wait for ever.')).toBeVisible()
    const endless = found.getByRole('paragraph').filter({ hasText: 'Step 2' })
    await endless.getByRole('button', { name: 'This is intended' }).click()
    await page.getByRole('textbox', { name: 'Why this is intended' }).fill('The sun comes up, in the end')
    await page.getByRole('button', { name: 'Save', exact: true }).click()
    await expect(found.getByText('This may wait for ever.')).toHaveCount(0)
    await page.reload()
    await expect(found.getByText('This can never be true.')).toBeVisible()
    await expect(found.getByText('This may wait for ever.')).toHaveCount(0)
  })
})
