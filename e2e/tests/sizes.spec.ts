import { execFile } from 'node:child_process'
import { mkdtemp } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { expect, test } from '../support/fixtures'
import { make, named } from '../support/home'
import { Hub } from '../support/hub'

const root = fileURLToPath(new URL('../..', import.meta.url))
const ROOMS = 60
const FLOORS = 6
const DEVICES = 2000

test('a home of one room and three devices has a table of one row, with the columns that it needs', async ({
  hub,
  page,
}) => {
  const room = await make(hub, '/api/rooms', { title: 'Studio', order: 0 })
  const found = (await hub.get<{ devices: { connection: string; hardware: string; label: string }[] }>('/api/found'))
    .devices
  const wanted = ['QM-2 Presence Node 31', 'QK-1 Reed Node 32', 'MP-1 Plug C412A0']
  const adding = wanted.map((label) => {
    const { connection, hardware } = found.find((d) => d.label === label)!
    return { connection, hardware, title: label.replace(/ \w+$/, ''), room }
  })
  expect((await hub.send('POST', '/api/devices', adding)).status).toBe(200)

  await page.goto(hub.url)
  const table = page.getByRole('table', { name: 'The house now' }).or(page.getByRole('main').getByRole('table')).first()
  await expect(table.getByRole('rowheader')).toHaveText(['Studio'])
  await expect(table.getByRole('columnheader')).toHaveText(['Room', 'Open and shut', 'Somebody'])
  await expect(page.getByRole('region', { name: 'First steps' })).toBeVisible()
  await table.getByRole('link', { name: 'Studio' }).click()
  await expect(page.getByRole('heading', { name: 'Studio' })).toBeVisible()
  await page.getByRole('link', { name: 'Its devices' }).click()
  await expect(page.locator('a[data-row]')).toHaveCount(3)
})

test('a home of 60 rooms and 2,000 devices is read by its floors, searched and switched', async ({ page }) => {
  test.setTimeout(240_000)
  const folder = await mkdtemp(join(tmpdir(), 'amvek-sizes-'))
  await promisify(execFile)(
    'go',
    ['run', './bench', '-furnish', folder, '-devices', String(DEVICES), '-rules', '200'],
    { cwd: root },
  )
  const hub = await Hub.over(folder)
  try {
    const rooms: string[] = []
    for (let i = 0; i < ROOMS; i++)
      rooms.push(
        await make(hub, '/api/rooms', { title: `Room ${i + 1}`, floor: `Floor ${(i % FLOORS) + 1}`, order: i }),
      )
    const ids = (await hub.get<{ id: string; own?: boolean }[]>('/api/devices')).filter((d) => !d.own).map((d) => d.id)
    expect(ids.length).toBeGreaterThanOrEqual(DEVICES)
    const AT_ONCE = 500
    for (let i = 0; i < ids.length; i += AT_ONCE) {
      const edits = ids.slice(i, i + AT_ONCE).map((id, k) => ({ id, room: rooms[(i + k) % ROOMS] }))
      expect((await hub.send('PATCH', '/api/devices', edits)).ok).toBe(true)
    }
    const wrong: string[] = []
    page.on('pageerror', (error) => wrong.push(error.message))
    await page.goto(hub.url)
    const main = page.getByRole('main')
    await expect(main.getByRole('heading', { name: 'The house now' })).toBeVisible()
    await expect(main.getByRole('rowheader', { name: /^Room \d+$/ })).toHaveCount(ROOMS)
    for (let f = 1; f <= FLOORS; f++) await expect(main.getByText(`Floor ${f}`, { exact: true })).toBeVisible()
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1280)
    await main.getByRole('link', { name: 'Room 60', exact: true }).click()
    await expect(main.getByRole('article').first()).toBeVisible()
    await page.getByRole('link', { name: 'Its devices' }).click()
    await expect(page.getByText(/^\d+ of 2\d{3}$/)).toBeVisible()
    await page.locator('a[data-row]').first().click()
    await expect(page.getByRole('slider', { name: /brightness/i }).first()).toBeVisible()
    await page.getByRole('link', { name: 'Today' }).first().click()
    await expect(main.getByRole('rowheader', { name: /^Room \d+$/ })).toHaveCount(ROOMS)
    expect((await named(hub, 'device-00059')).id).toBe('device-00059')
    expect(wrong).toEqual([])
  } finally {
    await hub.stop()
  }
})
