import { expect, test } from '../support/fixtures'
import { quietEvening } from '../support/home'

interface Device {
  id: string
  title: string
}

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })

  test('a bridge whose network is cut is said everywhere, and all mends itself', async ({ hub, page }) => {
    await quietEvening(hub)
    const stair = (await hub.get<Device[]>('/api/devices')).find((d) => d.title === 'Stair lamp')
    await hub.send('PUT', `/api/devices/${stair?.id}/properties/brightness`, { value: 0 })
    await page.goto(`${hub.url}/devices/${stair?.id}`)
    await expect(page.locator('.figure b').first()).toHaveText('off')
    await hub.bench({ what: 'cutBridge', on: true })
    await expect(page.getByRole('alert').filter({ hasText: 'Its connection is down' })).toContainText(
      'The bridge cannot be reached',
    )
    await page.getByRole('button', { name: 'On', exact: true }).click()
    await expect(page.locator('article.property').first()).toContainText('Failed: The bridge cannot be reached')
    const panel = await page.context().newPage()
    await panel.goto(`${hub.url}/panel/dashboard-galley`)
    await expect(panel.getByRole('article', { name: 'Worktop lamps' })).toContainText('Its connection is down')
    await hub.bench({ what: 'cutBridge', on: false })
    await expect(page.getByRole('alert').filter({ hasText: 'Its connection is down' })).toHaveCount(0)
    await expect(page.locator('article.property').first()).not.toContainText('Failed')
    await expect(page.locator('.figure b').first()).toHaveText(/%$/)
    await expect(panel.getByRole('article', { name: 'Worktop lamps' })).not.toContainText('Its connection is down')
  })

  test('a sensor falls silent: its last reading stays with its time, and it is heard again', async ({ hub, page }) => {
    await hub.bench({ what: 'live', on: false })
    await page.goto(`${hub.url}/bench?place=Galley`)
    await page.getByRole('button', { name: 'Silence it: QT-1 Climate Node 33' }).click()
    await expect(page.getByRole('button', { name: 'Let it speak: QT-1 Climate Node 33' })).toBeVisible()
    type View = { title: string; states: { name: string; reportedAt: string }[] }
    const heard = async () =>
      (await hub.get<View[]>('/api/devices'))
        .find((d) => d.title === 'Galley thermometer')
        ?.states.find((s) => s.name === 'temperature')?.reportedAt ?? ''
    const reports = async () => new Date(await heard()).getTime()
    await hub.advance(1)
    const before = await reports()
    await hub.advance(3600)
    expect((await reports()) - before).toBeLessThan(3_600_000 / 2)
    await page.getByRole('button', { name: 'Let it speak: QT-1 Climate Node 33' }).click()
    await expect.poll(async () => (await reports()) - before).toBeGreaterThanOrEqual(3_600_000)
    const unknown = await hub.send('POST', '/api/bench', { what: 'silence', node: 'n99', on: true })
    expect(unknown.status).toBe(422)
  })

  test('a bridge that is paired with again keeps its one connection and its devices', async ({ hub }) => {
    type View = { id: string; kind: string; address: string; devices: number }
    const bridges = async () => (await hub.get<View[]>('/api/connections')).filter((c) => c.kind === 'bridge')
    const [before] = await bridges()
    await hub.bench({ what: 'pressBridge' })
    expect((await hub.send('POST', '/api/pairing', { address: before?.address })).status).toBe(200)
    await expect.poll(async () => (await hub.get<{ state: string } | null>('/api/pairing'))?.state).toBe('done')
    const after = await bridges()
    expect(after.map((c) => [c.id, c.devices])).toEqual([[before?.id, before?.devices]])
    expect(before?.devices).toBeGreaterThan(10)
  })

  test('a rule that names a removed device says so where it is wrong', async ({ hub, page }) => {
    const sensor = (await hub.get<Device[]>('/api/devices')).find((d) => d.title === 'Landing sensor')
    await hub.send('DELETE', `/api/devices/${sensor?.id}`)
    await page.goto(`${hub.url}/rules/rule-stair`)
    await expect(
      page.locator('.line').filter({ hasText: 'This device is no longer in the home.' }).first(),
    ).toBeVisible()
    await expect(page.locator('.line').first()).toContainText('cannot run')
    await expect(page.getByRole('navigation', { name: 'Places' })).toContainText('Rules 2')
  })

  test('a change made in one browser shows in the other without reload', async ({ hub, page, browser }) => {
    const other = await (await browser.newContext()).newPage()
    await other.goto(`${hub.url}/rules/rule-stair`)
    await page.goto(`${hub.url}/rules/rule-stair`)
    await page.getByRole('switch', { name: 'Rule on' }).click()
    await expect(other.getByRole('switch', { name: 'Rule on' })).not.toBeChecked()
    const stair = (await hub.get<Device[]>('/api/devices')).find((d) => d.title === 'Stair lamp')
    await hub.send('PUT', `/api/devices/${stair?.id}`, {
      title: 'Lamp on the stairs',
      room: 'room-Landing',
    })
    await expect(other.getByRole('button', { name: /Lamp on the stairs brightness/ })).toBeVisible()
    await other.context().close()
  })
})

test('pairing that is not answered can be stopped, and a wrong address is told apart', async ({ hub, page }) => {
  await page.goto(`${hub.url}/found`)
  await page.getByRole('button', { name: 'Pair', exact: true }).click()
  await expect(page.getByText('Press the button on the bridge')).toBeVisible()
  await page.getByRole('button', { name: 'Stop waiting' }).click()
  await expect(page.getByText('Stopped. Nothing was changed.')).toBeVisible()

  await page.getByLabel('Address to look at').fill('127.0.0.1:1')
  await page.getByRole('button', { name: 'Look there' }).click()
  await expect(page.getByText('Nothing answers at 127.0.0.1:1.')).toBeVisible()
  await page.getByLabel('Address to look at').fill(hub.url.replace('http://', ''))
  await page.getByRole('button', { name: 'Look there' }).click()
  await expect(page.getByText('nothing that the hub knows how to speak with')).toBeVisible()
  await hub.bench({ what: 'cutBridge', on: true })
  await page.getByRole('button', { name: 'Pair', exact: true }).click()
  await expect(page.getByText('The bridge cannot be reached').first()).toBeVisible()
  await expect(page.getByRole('button', { name: 'Pair', exact: true })).toBeVisible()
})

test('an address that leads nowhere says so', async ({ hub, page }) => {
  await page.goto(`${hub.url}/attic`)
  await expect(page.getByRole('heading', { name: 'There is nothing at this address' })).toBeVisible()
  await page.goto(`${hub.url}/panel/none`)
  await expect(page.getByText('This dashboard was removed.')).toBeVisible()
})
