import type { Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'
import { make, named, quietEvening, value } from '../support/home'
import type { Hub } from '../support/hub'
import { row } from '../support/words'

test.use({ flags: ['--fresh'] })
test.beforeEach(async ({ hub }) => {
  await quietEvening(hub)
})

/** Why is it so: from the list of devices, searched, by two clicks: the device and the reason under its value. */
async function whyIs(page: Page, hub: Hub, device: string, value: RegExp) {
  await page.goto(`${hub.url}/devices`)
  await page.getByPlaceholder('Search by name, room, maker').fill(device)
  await row(page, device).click()
  await page.getByRole('button', { name: value }).click()
  return page.getByRole('main').locator('aside section').filter({ hasText: 'How it came about' })
}

/** Why did it not: from the list of rules by two clicks, the rule and the question. */
async function whyNot(page: Page, hub: Hub, rule: string) {
  await page.goto(`${hub.url}/rules`)
  await row(page, rule).click()
  await page.getByRole('tab', { name: 'Why not now?' }).click()
  return page.getByRole('tabpanel').getByRole('listitem')
}

test('each story is explained by two clicks', async ({ hub, page }) => {
  await test.step('two rules on one lamp: who has it, and who waits below', async () => {
    const lamp = await named(hub, 'Mill room ceiling')
    const hold = async (title: string, percent: number) => {
      const variable = await make(hub, '/api/variables', { title: `${title} on`, type: 'boolean' })
      await make(hub, '/api/rules', {
        title,
        enabled: true,
        whenever: { device: 'own', property: variable, comparison: 'is', value: true },
        do: [{ kind: 'hold', device: lamp.id, property: 'brightness', value: percent }],
      })
      await hub.send('PUT', `/api/devices/own/properties/${variable}`, { value: true })
    }
    await hold('Film', 10)
    await hold('Guests', 90)
    await expect.poll(() => value(hub, 'Mill room ceiling', 'brightness')).toBe(90)
    const chain = await whyIs(page, hub, 'Mill room ceiling', /^Why is brightness/)
    await expect(chain).toContainText('Rule Guests began to hold')
    await expect(chain).toContainText('guests on set to yes by hand')
    const holders = page.getByRole('main').locator('aside section').filter({ hasText: 'What holds brightness' })
    await expect(holders.getByRole('listitem').nth(0)).toContainText('Guests')
    await expect(holders.getByRole('listitem').nth(1)).toContainText('Film')
    // Why does the lamp not do what Film wants? It holds, and something newer has the lamp.
    await expect(await whyNot(page, hub, 'Film')).toContainText(['While: Film on is yes', 'It has held since'])
  })

  await test.step('the glasshouse: why is the heater off, and why is it not while the door is shut', async () => {
    await expect((await whyNot(page, hub, 'Glasshouse door open')).first()).toContainText(
      'While: Glasshouse door contact is open, now shut',
    )
    await hub.bench({ what: 'open', opening: 'Glasshouse door', on: true })
    await expect.poll(() => value(hub, 'Glasshouse door', 'contact')).toBe(true)
    await hub.advance(60)
    await expect((await whyNot(page, hub, 'Glasshouse door open')).first()).toContainText('That must last until 20:0')
    await hub.advance(125)
    await expect.poll(() => value(hub, 'Glasshouse heater', 'program')).toBe('off')
    const chain = await whyIs(page, hub, 'Glasshouse heater', /^Why is program off/)
    await expect(chain).toContainText('Glasshouse door: contact open')
    await expect(chain).toContainText('Rule Glasshouse door open began to hold')
    await expect(chain.getByText(/3 min/).first()).toBeVisible() // the delay between the two
  })

  await test.step('a long wait: why has it not yet, and afterwards why it did', async () => {
    const lamp = await named(hub, 'Stair lamp')
    const rule = await make(hub, '/api/rules', {
      title: 'Later',
      enabled: true,
      policy: 'ignore',
      when: [{ kind: 'phrase', words: 'later' }],
      do: [
        { kind: 'wait', forSeconds: 2400 },
        { kind: 'set', device: lamp.id, property: 'brightness', value: 47 },
      ],
    })
    await hub.send('POST', '/api/phrases', { words: 'Later' })
    await hub.advance(600)
    await expect((await whyNot(page, hub, 'Later')).first()).toContainText('It has been under way since')
    await hub.advance(1830)
    await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(47)
    const chain = await whyIs(page, hub, 'Stair lamp', /^Why is brightness 47 %/)
    await expect(chain).toContainText('“Later” was said')
    await expect(chain).toContainText('Rule Later: the wait was over')
    expect(rule).toBeTruthy()
  })

  await test.step('a rule that started itself for ever: why does it not act any more', async () => {
    const made = await make(hub, '/api/variables', { title: 'Ping', type: 'number', minimum: 0, maximum: 100_000 })
    await make(hub, '/api/rules', {
      title: 'For ever',
      enabled: true,
      when: [{ device: 'own', property: made }],
      do: [{ kind: 'set', device: 'own', property: made, value: 1, by: true }],
    })
    await hub.send('PUT', `/api/devices/own/properties/${made}`, { value: 5 })
    await expect((await whyNot(page, hub, 'For ever')).first()).toContainText(
      'It was stopped. It is part of a chain of rules that does not end.',
    )
  })

  await test.step('the jammed bolt: why is it not locked', async () => {
    const locks = await hub.get<{ locks: { id: string }[] }>('/api/bench')
    const bolt = locks.locks[1]!.id
    await hub.bench({ what: 'turnKey', lock: bolt, on: false })
    await expect.poll(() => value(hub, 'Boat shed lock', 'locked')).toBe(false)
    await hub.bench({ what: 'jam', lock: bolt, on: true })
    const lock = await named(hub, 'Boat shed lock')
    await make(hub, '/api/rules', {
      title: 'Shut the shed',
      enabled: true,
      when: [{ kind: 'phrase', words: 'shut the shed' }],
      do: [{ kind: 'set', device: lock.id, property: 'locked', value: true, untilDone: true }],
    })
    await hub.send('POST', '/api/phrases', { words: 'Shut the shed' })
    await hub.advance(60)
    const chain = await whyIs(page, hub, 'Boat shed lock', /^Why is locked unlocked/)
    await expect(chain).toContainText('“Shut the shed” was said')
    await expect(chain).toContainText('locked')
    await expect(page.getByRole('button', { name: /^Why is locked/ })).toContainText('Failed:')
  })
})
