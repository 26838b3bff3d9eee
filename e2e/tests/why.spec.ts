import { chmod, mkdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { expect, test } from '../support/fixtures'
import { make, named, quietEvening, value, type Device } from '../support/home'
import { pick } from '../support/words'

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })
  test.beforeEach(async ({ hub }) => {
    await quietEvening(hub)
  })

  test('why is it on: from the lamp to the run that switched it on in two clicks; why didn’t it: the value that kept it', async ({
    hub,
    page,
  }) => {
    const lamp = await named(hub, 'Stair lamp')
    // Here it goes by all of the light, so that its own lamp keeps it from starting.
    const live = (await hub.get<Record<string, unknown>[]>('/api/rules')).find((r) => r.id === 'rule-stair')!
    const { id, revision, state, usedBy, draft, ...stair } = live
    expect([id, typeof state, Array.isArray(usedBy), draft]).toEqual(['rule-stair', 'object', true, undefined])
    const provided = { ...(stair.provided as object), property: 'light' }
    const saved = await hub.send('PUT', `/api/rules/rule-stair?revision=${String(revision)}`, { ...stair, provided })
    expect(saved.ok).toBe(true)
    await hub.bench({ what: 'walk', room: 'Landing', person: 'Nell' })
    await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(60)
    await page.goto(`${hub.url}/devices/${lamp.id}`)
    await page.getByRole('link', { name: 'Why', exact: true }).first().click()
    const run = page.getByRole('region', { name: 'This run' })
    await expect(run).toContainText('It began with: Landing sensor: motion moving')
    await expect(run.getByRole('listitem').filter({ hasText: 'Landing sensor light is below' }).first()).toContainText(
      'true',
    )
    await expect(run).toContainText('hold Stair lamp brightness at 60 %')
    await expect(run.getByText('done')).toBeVisible()
    await page.reload()
    await expect(run).toContainText('hold Stair lamp brightness at 60 %')

    // Where it is light already it does not; the rule says on which value.
    await hub.bench({ what: 'walk', room: '', person: 'Nell' })
    await hub.advance(120)
    await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 100 })
    await expect.poll(() => value(hub, 'Landing sensor', 'light')).toBeGreaterThan(20)
    await hub.bench({ what: 'walk', room: 'Landing', person: 'Nell' })
    await expect.poll(() => value(hub, 'Landing sensor', 'motion')).toBe(true)
    await page.getByRole('tab', { name: 'Why not now?' }).click()
    const why = page.getByRole('tabpanel')
    await expect(why.getByRole('listitem').first()).toContainText(
      /Provided: Landing sensor light is below 20 lx, now \d/,
    )
    await why.getByRole('button', { name: 'Show' }).click()
    await expect(run).toContainText('not started')
    await expect(run.getByRole('listitem').filter({ hasText: 'Landing sensor light is below' }).first()).toContainText(
      'false',
    )
  })

  test('pretending shows what a draft would do, and sends nothing', async ({ hub, page }) => {
    const lamp = await named(hub, 'Stair lamp')
    const rules = await hub.get<{ id: string; title: string }[]>('/api/rules')
    const rule = rules.find((r) => r.title === 'Stair light')!
    await page.goto(`${hub.url}/rules/${rule.id}`)
    await page.getByRole('button', { name: 'Pretend', exact: true }).click()
    const panel = page.getByRole('region', { name: 'Pretend' })
    const newest = async () =>
      (await hub.get<{ id: number; kind: string }[]>(`/api/journal?device=${lamp.id}&limit=50`)).find(
        (e) => e.kind === 'commanded',
      )?.id
    const before = await newest()
    await expect(panel).toContainText('Nothing.')
    await panel.getByRole('button', { name: 'Pretend another value of Landing sensor motion' }).click()
    await pick(panel, /^Pretended Landing sensor motion/, 'moving')
    await expect(panel.getByRole('listitem').filter({ hasText: 'asked for 60 %' })).toContainText('at once')
    // The draft is pretended with, not what is live.
    await page
      .getByRole('button', { name: /^For at least/ })
      .first()
      .click()
    await page.locator('.p-popover input').fill('20')
    await page.locator('.p-popover').getByRole('button', { name: 'Set' }).click()
    await expect(panel.getByRole('listitem').filter({ hasText: 'asked for 60 %' })).toContainText('+20 s')
    expect((await named(hub, 'Stair lamp')).states.find((s) => s.name === 'brightness')?.value).not.toBe(60)
    expect(await newest()).toBe(before)

    // What would be different is shown; once live, what was before can be had back.
    await page.getByRole('button', { name: 'Difference' }).click()
    const difference = page.getByRole('region', { name: 'What would be different' })
    await expect(difference.getByText('While, for at least 20 s')).toBeVisible()
    await page.getByRole('button', { name: 'Put live' }).click()
    await page.getByRole('tab', { name: 'Earlier' }).click()
    await expect(page.getByRole('tabpanel').getByText('1 line different, as it is now')).toBeVisible()
    await page.getByRole('button', { name: 'Take as draft' }).last().click()
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect
      .poll(
        async () =>
          (await hub.get<{ id: string; forAtLeastSeconds?: number }[]>('/api/rules')).find((r) => r.id === rule.id)
            ?.forAtLeastSeconds,
      )
      .toBeUndefined()
  })

  test('an expression is typed by names, wrong ones are told at once, and a rule and a variable follow it', async ({
    hub,
    page,
  }) => {
    await page.goto(`${hub.url}/household/groups`)
    const variables = page.getByRole('region', { name: 'Variables' })
    await variables.getByRole('textbox', { name: 'Name of the new variable' }).fill('Lamps on below')
    await variables.getByRole('combobox').click()
    await page.getByRole('option', { name: 'a number' }).click()
    await variables.getByRole('checkbox', { name: 'computed by an expression' }).check()
    await variables.getByRole('button', { name: /^Expression of the new variable/ }).click()
    const popover = page.locator('.p-popover')
    await popover.locator('.cm-content').click()
    await page.keyboard.type('Galley brigh')
    // The list takes no choice in the first moment after it has opened.
    const choice = page.getByRole('option', { name: /^Galley brightness of each/ })
    await expect(async () => {
      if (await choice.isVisible()) await choice.click()
      await expect(popover.getByRole('status')).toContainText('a list of numbers', { timeout: 2000 })
    }).toPass()
    await page.keyboard.press('Home')
    await page.keyboard.type('sum(')
    await page.keyboard.press('End')
    await page.keyboard.type(')')
    await expect(popover.getByRole('status')).toContainText(/comes to \d/)
    await popover.getByRole('button', { name: 'Set' }).click()
    await variables.getByRole('button', { name: 'Add', exact: true }).click()
    // The expression stands in the form as well, until that is emptied: the variable's own is waited for.
    await expect(
      variables.getByRole('button', { name: 'Expression of Lamps on below: sum(brightness in Galley)' }),
    ).toBeVisible()
    await expect(variables.getByRole('button', { name: 'Remove the variable Lamps on below' })).toBeVisible()
    const made = (await hub.get<{ id: string; title: string }[]>('/api/variables')).find(
      (v) => v.title === 'Lamps on below',
    )!
    // One that depends on itself is refused, with its place.
    const refused = await hub.send('PUT', `/api/variables/${made.id}`, {
      title: 'Lamps on below',
      type: 'number',
      minimum: 0,
      maximum: 1000,
      expression: `variable("${made.id}") + 1`,
    })
    expect(refused.status).toBe(422)
    expect(await refused.text()).toContain('depend on itself')

    const stair = await named(hub, 'Stair lamp')
    const worktop = await named(hub, 'Worktop lamps')
    const rule = await make(hub, '/api/rules', {
      title: 'As bright as the Galley',
      enabled: true,
      whenever: { expression: `variable("${made.id}") > 90 && hour > 12` },
      do: [{ kind: 'hold', device: stair.id, property: 'brightness', expression: `variable("${made.id}") / 2` }],
    })
    await hub.send('PUT', `/api/devices/${worktop.id}/properties/brightness`, { value: 0 })
    await hub.advance(5)
    await hub.send('PUT', `/api/devices/${worktop.id}/properties/brightness`, { value: 100 })
    await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBeGreaterThanOrEqual(45)
    await page.goto(`${hub.url}/rules/${rule}`)
    await expect(page.getByRole('button', { name: 'Expression: Lamps on below > 90 && hour > 12' })).toBeVisible()
    await expect(page.getByText('true', { exact: true }).first()).toBeVisible()
    // Wrong: shown where it is, and the rule waits.
    await page.getByRole('button', { name: /^Expression: Lamps on below > 90/ }).click()
    await popover.locator('.cm-content').click()
    await page.keyboard.press('Control+a')
    await page.keyboard.type('hour +')
    await expect(popover.getByRole('status')).toContainText('Something is missing at the end.')
    await popover.getByRole('button', { name: 'Set' }).click()
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect(page.getByRole('alert').filter({ hasText: 'Something is missing at the end.' }).first()).toBeVisible()
    await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBeLessThan(45)
  })

  test('a program, a web address and a speaker: what fails is told, and the house goes on', async ({ hub, page }) => {
    const folder = join(hub.data, 'programs')
    await mkdir(folder)
    await writeFile(join(folder, 'tide'), '#!/bin/sh\necho 4.2\n')
    await writeFile(join(folder, 'forever'), '#!/bin/sh\nwhile :; do echo flood; done\n')
    await chmod(join(folder, 'tide'), 0o755)
    await chmod(join(folder, 'forever'), 0o755)
    const water = await make(hub, '/api/variables', { title: 'High water', type: 'number', minimum: 0, maximum: 10 })
    const player = await named(hub, 'Galley player')
    const rule = await make(hub, '/api/rules', {
      title: 'Tide aloud',
      enabled: true,
      when: [{ kind: 'phrase', words: 'tide' }],
      do: [
        { kind: 'program', program: 'tide', into: water },
        { kind: 'say', device: player.id, property: 'speech', text: `High water is {variable("${water}")} metres.` },
        { kind: 'program', program: 'forever', else: [{ kind: 'notify', text: 'It never ended.' }] },
        {
          kind: 'web',
          address: 'http://127.0.0.1:1/',
          ownMachine: true,
          else: [{ kind: 'notify', text: 'The web is away.' }],
        },
        { kind: 'web', address: `${hub.url}/api/about`, ownMachine: true, into: water, pick: '/version' },
      ],
    })
    await hub.send('POST', '/api/phrases', { words: 'tide' })
    await expect
      .poll(async () => (await hub.get<{ text: string }[]>('/api/notices')).map((n) => n.text))
      .toEqual(expect.arrayContaining(['The web is away.', 'It never ended.']))
    await page.goto(`${hub.url}/bench?place=Galley`)
    await expect(page.getByText('said “High water is 4.2 metres.”').first()).toBeVisible()
    await page.goto(`${hub.url}/rules/${rule}`)
    await page
      .getByRole('button', { name: /: show the run/ })
      .first()
      .click()
    const run = page.getByRole('region', { name: 'This run' })
    await expect(run).toContainText('It said more than 256 kB')
    await expect(run).toContainText('It could not be reached')
  })

  test('the same rule as text: what is typed is the draft, mistakes are at their lines', async ({ hub, page }) => {
    const sensor = await named(hub, 'Landing sensor')
    const rule = await make(hub, '/api/rules', {
      title: 'Typed',
      enabled: true,
      whenever: { device: sensor.id, property: 'motion', comparison: 'is', value: true },
      do: [{ kind: 'notify', text: 'Somebody is there.' }],
    })
    await page.goto(`${hub.url}/rules/${rule}`)
    await page.getByRole('button', { name: 'As text' }).click()
    const text = page.getByRole('region', { name: 'The rule as text' })
    await expect(text.locator('.cm-content')).toContainText('# Landing sensor')
    await text.locator('.cm-content').click()
    await page.keyboard.press('Control+End')
    await page.keyboard.type('note: Typed.')
    await expect(page.getByRole('textbox', { name: 'Note' })).toHaveValue('Typed.')
    await page.keyboard.press('Enter')
    await page.keyboard.type('colour: 1')
    await expect(text.getByRole('status')).toContainText('A rule has no field "colour".')
    await expect(page.getByRole('textbox', { name: 'Note' })).toHaveValue('Typed.')
    await page.getByRole('main').getByRole('button', { name: 'Undo', exact: true }).first().click()
    await expect(text.locator('.cm-content')).not.toContainText('Typed.')
    const schema = await hub.get<{ $schema: string; properties: object }>('/api/schemas/rule')
    expect(schema.$schema).toContain('2020-12')
    expect(Object.keys(schema.properties)).toContain('whenever')
  })

  test('from a starting point: the heating is held off while the Glasshouse door is open, and gets back what it did', async ({
    hub,
    page,
  }) => {
    const heater = await named(hub, 'Glasshouse heater')
    const old = (await hub.get<{ id: string; title: string }[]>('/api/rules')).find((r) =>
      r.title.startsWith('Glasshouse door'),
    )!
    await hub.send('DELETE', `/api/rules/${old.id}`)
    await page.goto(`${hub.url}/rules`)
    await page.getByRole('button', { name: 'New rule' }).click()
    const dialog = page.getByRole('dialog')
    await dialog.getByRole('button', { name: /^Heating off while a window is open/ }).click()
    await expect(dialog.getByRole('button', { name: 'Make the rule' })).toBeDisabled()
    await pick(dialog, /^The window or door/, 'Glasshouse door contact')
    await pick(dialog, /^The heating/, 'Glasshouse heater program')
    await dialog.getByRole('button', { name: 'Make the rule' }).click()
    await page.getByRole('switch', { name: 'Rule on' }).click()
    await expect(page.getByText('on', { exact: true })).toBeVisible()
    await page.getByRole('textbox', { name: 'Search rules' }).fill('glasshouse heater')
    await expect(page.getByRole('link', { name: /Heating off while a window is open/ })).toBeVisible()
    await expect(page.getByRole('link', { name: /Stair light/ })).toBeHidden()

    const program = () => value(hub, 'Glasshouse heater', 'program')
    const set = async (to: string) => {
      await hub.send('PUT', `/api/devices/${heater.id}/properties/program`, { value: to })
      await expect.poll(program).toBe(to)
    }
    const door = async (open: boolean) => {
      await hub.bench({ what: 'open', opening: 'Glasshouse door', on: open })
      await expect.poll(() => value(hub, 'Glasshouse door', 'contact')).toBe(open) // it is heard before time goes on
    }
    await hub.send('PUT', `/api/devices/${heater.id}/properties/power`, { value: true })
    // Flapping faster than both delays does nothing.
    await set('heat')
    for (let i = 0; i < 4; i++) {
      await door(i % 2 === 0)
      await hub.advance(100)
    }
    expect(await program()).toBe('heat')
    // Whatever it did, it gets that back; off already, it stays off.
    for (const was of ['heat', 'cool', 'auto', 'off']) {
      await set(was)
      await door(true)
      await hub.advance(181)
      await expect.poll(program).toBe('off')
      await door(false)
      await hub.advance(121)
      await expect.poll(program).toBe(was)
    }
    // Killed while it holds, it goes on holding, and lets go in its time.
    await set('cool')
    await door(true)
    await hub.advance(181)
    await expect.poll(program).toBe('off')
    await hub.kill()
    await hub.again()
    await hub.bench({ what: 'live', on: false })
    expect(await program()).toBe('off')
    await door(false)
    await hub.advance(121)
    await expect.poll(program).toBe('cool')
    // A hand while it holds is right, and stays.
    await door(true)
    await hub.advance(181)
    await expect.poll(program).toBe('off')
    await set('auto')
    await door(false)
    await hub.advance(121)
    expect(await program()).toBe('auto')
    await page.goto(`${hub.url}/devices/${heater.id}`)
    await expect(page.getByText('How it came about')).toBeVisible()
  })

  test('lock-up with a bolt that jams: tried, verified, and the spoken sentence says which it was', async ({
    hub,
    page,
  }) => {
    const locks = async () => (await hub.get<{ locks: { id: string; locked: boolean }[] }>('/api/bench')).locks
    const bolt = (await locks())[1]!.id
    const lock = await named(hub, 'Boat shed lock')
    const player = await named(hub, 'Galley player')
    const locked = { device: lock.id, property: 'locked', comparison: 'is', value: true }
    const say = (text: string) => ({ kind: 'say', device: player.id, property: 'speech', text })
    const rule = await make(hub, '/api/rules', {
      title: 'Shut the shed',
      enabled: true,
      when: [{ kind: 'phrase', words: 'shut the shed' }],
      do: [
        { kind: 'set', device: lock.id, property: 'locked', value: true },
        { kind: 'until', condition: locked, atMostSeconds: 30 },
        {
          kind: 'if',
          condition: locked,
          then: [say('The shed is locked.')],
          else: [say('The shed could not be locked.')],
        },
      ],
    })
    const heard = () => page.goto(`${hub.url}/bench?place=Galley`)
    await hub.bench({ what: 'turnKey', lock: bolt, on: false })
    await expect.poll(() => value(hub, 'Boat shed lock', 'locked')).toBe(false)
    await hub.bench({ what: 'jam', lock: bolt, on: true })
    await hub.send('POST', '/api/phrases', { words: 'Shut the shed!' })
    await hub.advance(40)
    await heard()
    await expect(page.getByText('said “The shed could not be locked.”').first()).toBeVisible()
    expect((await locks())[1]!.locked).toBe(false)
    await page.goto(`${hub.url}/rules/${rule}`)
    await page
      .getByRole('button', { name: /: show the run/ })
      .first()
      .click()
    const run = page.getByRole('region', { name: 'This run' })
    await expect(run.getByText('failed').first()).toBeVisible()
    await expect(
      run
        .getByRole('listitem')
        .filter({ hasText: /^false/ })
        .first(),
    ).toContainText('Boat shed lock')

    await hub.bench({ what: 'jam', lock: bolt, on: false })
    await hub.send('POST', '/api/phrases', { words: 'shut the shed' })
    await expect.poll(async () => (await locks())[1]!.locked).toBe(true)
    await hub.advance(5)
    await heard()
    await expect(page.getByText('said “The shed is locked.”').first()).toBeVisible()
  })

  test('two rules overlap on the Mill room lamp and end in both orders, with a hand and a scene in between', async ({
    hub,
    page,
  }) => {
    const lamp = (await hub.get<(Device & { roomTitle?: string })[]>('/api/devices')).find(
      (d) => d.title === 'Mill room ceiling',
    )!
    const on = async (title: string) => make(hub, '/api/variables', { title, type: 'boolean' })
    const [film, guests] = [await on('Film'), await on('Guests')]
    const hold = (title: string, variable: string, percent: number) =>
      make(hub, '/api/rules', {
        title,
        enabled: true,
        whenever: { device: 'own', property: variable, comparison: 'is', value: true },
        do: [{ kind: 'hold', device: lamp.id, property: 'brightness', value: percent }],
      })
    await hold('Film', film, 10)
    await hold('Guests', guests, 90)
    const scene = await make(hub, '/api/scenes', {
      title: 'Reading',
      fadeSeconds: 0,
      targets: [{ device: lamp.id, property: 'brightness', value: 40 }],
    })
    const turn = (variable: string, value: boolean) =>
      hub.send('PUT', `/api/devices/own/properties/${variable}`, { value })
    const set = (value: number) => hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value })
    const at = async (percent: number) => {
      await expect.poll(() => value(hub, 'Mill room ceiling', 'brightness')).toBeCloseTo(percent, -0.5)
      await hub.advance(5) // beyond the settling time
    }
    await set(25)
    await at(25)
    for (const [first, second, a, b] of [
      [film, guests, 10, 90],
      [guests, film, 90, 10],
    ] as const) {
      await turn(first, true)
      await at(a)
      await turn(second, true)
      await at(b)
      // The newer ends first: the older shows through; then what was before.
      await turn(second, false)
      await at(a)
      await turn(second, true)
      await at(b)
      // The older ends first: nothing happens until the newer ends.
      await turn(first, false)
      await at(b)
      await turn(second, false)
      await at(25)
    }
    // A hand, on the lamp's page, in each phase and in both orders of ending: it leads until whoever held then has ended,
    // and stays; a rule that begins afterwards holds again.
    await page.goto(`${hub.url}/devices/${lamp.id}`)
    const exact = page.getByRole('spinbutton', { name: /^Brightness/ })
    let percent = 30
    const hand = async () => {
      percent += 1
      await exact.fill(String(percent))
      await exact.press('Enter')
      await at(percent)
    }
    for (const [firstOut, left] of [
      [film, 90],
      [guests, 10],
    ] as const) {
      const secondOut = firstOut === film ? guests : film
      for (const phase of [0, 1, 2, 3]) {
        if (phase === 0) await hand()
        await turn(film, true)
        await at(10)
        if (phase === 1) await hand()
        await turn(guests, true)
        await at(90)
        if (phase === 2) await hand()
        await turn(firstOut, false)
        // Whose hold is newer than the hand shows through; what the hand suspended does not.
        await at(phase === 2 || (phase === 1 && firstOut === guests) ? percent : left)
        if (phase === 3) await hand()
        await turn(secondOut, false)
        await at(percent)
        await expect(page.locator('.figure b').first()).toHaveText(`${percent} %`)
      }
    }
    // A scene started by a person does the same.
    await turn(guests, true)
    await at(90)
    await hub.send('POST', `/api/scenes/${scene}/apply`)
    await at(40)
    await turn(film, true) // a rule that begins anew holds again
    await at(10)
    await turn(film, false)
    await at(40)
    await turn(guests, false)
    await at(40)
  })
})
