import type { Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'
import { named } from '../support/home'
import type { Hub } from '../support/hub'
import { pick } from '../support/words'

interface Bench {
  lamps: { id: string; label: string; room: string; lit: boolean }[]
  locks: { id: string; label: string; locked: boolean }[]
}
const main = async (hub: Hub, title: string, name: string) =>
  (await named(hub, title)).states.find((s) => s.name === name)!

async function agreement(hub: Hub, page: Page, title: string, policy: RegExp) {
  await page.goto(`${hub.url}/devices/${(await named(hub, title)).id}`)
  await page.getByRole('button', { name: 'Name and room' }).click()
  await page.getByRole('combobox', { name: 'When it is not as the hub left it' }).click()
  await page.getByRole('option', { name: policy }).click()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(`${title} saved.`)).toBeVisible()
}

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })

  test('lamps are switched in the maker’s app while the bridge lies about one: each is dealt with by its policy', async ({
    hub,
    page,
  }) => {
    await hub.bench({ what: 'live', on: false })
    const lamps = ['Mill room left lamp', 'Mill room right lamp', 'Mill room ceiling']
    const property = 'brightness'
    const inTheHouse = async () => (await hub.get<Bench>('/api/bench')).lamps.filter((l) => l.room === 'Mill room')
    const [left, right, ceiling] = (await inTheHouse()).map((l) => l.id)
    for (const title of lamps)
      await hub.send('PUT', `/api/devices/${(await named(hub, title)).id}/properties/${property}`, {
        value: 0,
      })
    for (const title of lamps)
      await expect.poll(async () => (await main(hub, title, property)).certainty).toBe('confirmed')
    await hub.advance(30)
    await agreement(hub, page, lamps[0]!, /^Believe it/)
    await agreement(hub, page, lamps[1]!, /^Set it again/)
    await agreement(hub, page, lamps[2]!, /^Ask me/)

    await hub.bench({ what: 'lie', lamp: right, on: true })
    for (const lamp of [left, right, ceiling]) await hub.bench({ what: 'lamp', lamp, on: true })
    await expect.poll(async () => Number((await main(hub, lamps[0]!, property)).value)).toBeGreaterThan(0)
    await expect.poll(async () => (await main(hub, lamps[2]!, property)).difference).toBeTruthy()
    expect((await main(hub, lamps[1]!, property)).value, 'the bridge lies about it').toBe(0)
    expect((await inTheHouse()).find((l) => l.id === right)?.lit).toBe(true)

    // Once the bridge tells the truth, the next comparison finds the difference, and it is set again.
    await hub.bench({ what: 'lie', lamp: right, on: false })
    await hub.advance(10)
    await expect.poll(async () => (await inTheHouse()).find((l) => l.id === right)?.lit).toBe(false)

    await page.goto(`${hub.url}/care`)
    const open = page.getByRole('alert').filter({ hasText: 'and should be off' })
    await expect(open).toHaveCount(1)
    await page.getByRole('button', { name: `Set it again: ${lamps[2]}` }).click()
    await expect.poll(async () => (await inTheHouse()).find((l) => l.id === ceiling)?.lit).toBe(false)
    await expect(open).toHaveCount(0)

    await hub.advance(30)
    await hub.bench({ what: 'lamp', lamp: ceiling, on: true })
    await page.goto(`${hub.url}/devices/${(await named(hub, lamps[2]!)).id}`)
    await page.getByRole('button', { name: 'Believe the device: Brightness' }).click()
    await expect.poll(async () => Number((await main(hub, lamps[2]!, property)).target)).toBeGreaterThan(0)
    await expect(page.getByRole('alert').filter({ hasText: 'and should be' })).toHaveCount(0)

    await page.goto(`${hub.url}/journal`)
    await expect(page.getByText(/Mill room right lamp: brightness is found at .* set again, 1 of 2\./)).toBeVisible()
    await expect(
      page.getByText(/Mill room ceiling: brightness is found at .* the owner is asked\./).first(),
    ).toBeVisible()
    await expect(page.getByText(/Mill room left lamp: brightness changed to .* at the device/)).toBeVisible()
  })

  test('the Boat shed bolt jams: the lock is shown as not locked, and a rule that waits for it sees the failure', async ({
    hub,
    page,
  }) => {
    await hub.bench({ what: 'live', on: false })
    const lock = (await hub.get<Bench>('/api/bench')).locks[1]!
    const device = await named(hub, 'Boat shed lock')
    await hub.bench({ what: 'turnKey', lock: lock.id, on: false })
    await expect.poll(async () => (await main(hub, 'Boat shed lock', 'locked')).value).toBe(false)
    await hub.bench({ what: 'jam', lock: lock.id, on: true })

    const yard = await named(hub, 'Yard lantern by the door')
    const made = await hub.send('POST', '/api/rules', {
      title: 'Lock up',
      enabled: true,
      when: [{ device: (await named(hub, 'Mill room dial')).id, event: 'press' }],
      do: [
        { kind: 'set', device: device.id, property: 'locked', value: true },
        { kind: 'set', device: yard.id, property: 'brightness', value: 0 },
      ],
    })
    const { id } = (await made.json()) as { id: string }
    await page.goto(`${hub.url}/rules/${id}`)
    await pick(page, /^Whether to wait until it is done/, 'and go on once it is done')
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect(page.getByText('Lock up is live.')).toBeVisible()
    await page.getByRole('button', { name: 'Try now' }).click()
    await expect.poll(async () => (await main(hub, 'Boat shed lock', 'locked')).certainty).not.toBe('confirmed')
    await hub.advance(60)
    await expect(page.getByRole('alert').filter({ hasText: 'Its last run went no further' })).toContainText(
      'Boat shed lock did not follow.',
    )
    await page.goto(`${hub.url}/devices/${device.id}`)
    await expect(page.locator('article.property').first()).toContainText('unlocked')
    await expect(page.locator('article.property').first()).toContainText('Failed')
    await page.goto(`${hub.url}/care`)
    await expect(page.getByText(/Lock is not locked|is not locked/).first()).toBeVisible()

    await hub.bench({ what: 'jam', lock: lock.id, on: false })
    await page.goto(`${hub.url}/rules/${id}`)
    await page.getByRole('button', { name: 'Try now' }).click()
    await expect.poll(async () => (await main(hub, 'Boat shed lock', 'locked')).certainty).toBe('confirmed')
    expect((await hub.get<Bench>('/api/bench')).locks[1]!.locked).toBe(true)
    await expect(page.getByRole('alert').filter({ hasText: 'went no further' })).toHaveCount(0)
  })
})
