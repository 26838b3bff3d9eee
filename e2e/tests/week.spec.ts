import { expect, test } from '../support/fixtures'
import type { Hub } from '../support/hub'

const BROKER = 'gateways'
const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR
const DAYS = 9

interface Device {
  id: string
  title: string
  states: { name: string; value: unknown }[]
}

/** A device that is no pretend one: it speaks over the hub's broker when the test says so. */
async function speaker(hub: Hub, title: string, field: Record<string, unknown>) {
  const topic = title.toLowerCase().replace(' ', '/')
  const made = await hub.send('POST', '/api/composed', { title, connection: BROKER, topic, fields: [field] })
  const { id: hardware } = (await made.json()) as { id: string }
  const found = () => hub.get<{ devices: { hardware: string }[] }>('/api/found')
  await expect.poll(async () => (await found()).devices.some((d) => d.hardware === hardware)).toBe(true)
  await hub.send('POST', '/api/devices', [{ connection: BROKER, hardware, title }])
  const device = async () => (await hub.get<Device[]>('/api/devices')).find((d) => d.title === title)!
  const { id, states } = await device()
  const says = async (value: number | boolean) => {
    await hub.send('POST', `/api/connections/${BROKER}/say`, { topic, payload: String(value) })
    await expect.poll(async () => (await device()).states[0]?.value).toBe(value)
  }
  return { series: `${id}~${states[0]!.name}`, says }
}

interface Said {
  at: number
  value: number
}

/** The mean over a time of what was said, each until the next: worked out anew, without the hub. */
function meanOf(said: Said[], from: number, to: number): number {
  let area = 0
  said.forEach((s, i) => {
    const begin = Math.max(s.at, from)
    const end = Math.min(said[i + 1]?.at ?? to, to)
    if (end > begin) area += s.value * (end - begin)
  })
  return area / (to - from)
}

test('nine days with a light that hardly changes and a door that opens twice a day', async ({ hub, page }) => {
  test.slow()
  const light = await speaker(hub, 'Cellar light', {
    pointer: '',
    title: 'Light',
    type: 'number',
    role: 'illuminance',
    unit: 'lx',
  })
  const door = await speaker(hub, 'Cellar door', { pointer: '', title: 'Door', type: 'boolean', role: 'contact' })
  const now = async () => Date.parse((await hub.get<{ now: string }>('/api/home')).now)
  await hub.bench({ what: 'jump', clock: '00:00' })
  const begin = Math.round((await now()) / MINUTE) * MINUTE
  const lit: Said[] = []
  const open: Said[] = []
  let at = begin
  const goTo = async (to: number) => {
    if (to > at) await hub.advance((to - at) / 1000)
    at = to
  }
  for (let day = 0; day < DAYS; day++) {
    const acts: { at: number; act: () => Promise<void> }[] = []
    for (let hour = 0; hour < 24; hour += 3) {
      const value = day === 3 && hour === 12 ? 22 : 21
      acts.push({
        at: begin + day * DAY + hour * HOUR,
        act: async () => {
          await light.says(value)
          lit.push({ at: await now(), value })
        },
      })
    }
    for (const [hour, minutes] of [
      [8, 36],
      [18, 24],
    ] as const)
      for (const [after, is] of [
        [0, true],
        [minutes, false],
      ] as const)
        acts.push({
          at: begin + day * DAY + hour * HOUR + after * MINUTE,
          act: async () => {
            await door.says(is)
            open.push({ at: await now(), value: is ? 1 : 0 })
          },
        })
    acts.sort((a, b) => a.at - b.at)
    for (const a of acts) {
      await goTo(a.at)
      await a.act()
    }
  }
  await goTo(begin + DAYS * DAY)

  const from = begin + DAY
  const to = begin + DAYS * DAY
  const query = `series=${light.series}&series=${door.series}&from=${new Date(from).toISOString()}&to=${new Date(to).toISOString()}`
  interface Series {
    summary: { least: number; mean: number; most: number; knownSeconds: number }
  }
  const right = async (when: string) => {
    const [l, d] = await hub.get<Series[]>(`/api/history?${query}`)
    expect(l!.summary.mean, `light, ${when}`).toBeCloseTo(meanOf(lit, from, to), 3)
    expect([l!.summary.least, l!.summary.most]).toEqual([21, 22])
    expect(d!.summary.mean, `door, ${when}`).toBeCloseTo(meanOf(open, from, to), 4)
    expect(d!.summary.mean).toBeCloseTo(1 / 24, 3)
    expect(d!.summary.knownSeconds).toBeCloseTo((to - from) / 1000, -1)
    // The table says the same, worked out from its rows.
    const rows = (await (await fetch(`${hub.url}/api/history.csv?${query}`)).text())
      .trim()
      .split('\r\n')
      .slice(1)
      .map((row) => row.split(','))
    for (const [name, said] of [
      ['Cellar light', lit],
      ['Cellar door', open],
    ] as const) {
      const own = rows
        .filter((r) => r[1] === name)
        .map((r) => ({ at: Date.parse(r[0]!), value: Number(r[4]), span: Number(r[7]) }))
      const spans = own.some((r) => r.span > 0)
      const mean = spans
        ? own.reduce((sum, r) => sum + r.value * r.span, 0) / own.reduce((sum, r) => sum + r.span, 0)
        : meanOf(own, from, to)
      expect(mean, `${name} in the table, ${when}`).toBeCloseTo(meanOf(said, from, to), 2)
    }
    await page.goto(`${hub.url}/history?${query}`)
    const row = (name: RegExp) => page.getByRole('row', { name })
    await expect(row(/Cellar light: light/)).toContainText(/21\s*21\s*22\s*lx/)
    await expect(row(/Cellar door: door/)).toContainText('4 % of the time')
    await expect(page.getByRole('img', { name: /^Cellar door: door: when it was/ })).toBeVisible()
    // Sixteen stretches in which it stood open, in as many bands at least as can be told apart.
    expect(await page.locator('.state svg rect:not(.ground)').count()).toBeGreaterThanOrEqual(16)
  }
  await right('as it was read')
  await hub.kill()
  await hub.again()
  await right('after a restart')
  const kept = await hub.send('PUT', '/api/history/keeping', { days: 7, journalDays: 7, revisions: 10 })
  expect(kept.status).toBe(204)
  // Once readings of the door are gone, what they were rolled up to is shown. The light has but one so old, which is held.
  const spans = async () =>
    (await hub.get<{ spanSeconds: number }[]>(`/api/history?${query}`)).map((s) => s.spanSeconds)
  await expect.poll(async () => (await spans())[1]).toBeGreaterThan(0)
  await right('after its readings were given up')
})

test('what the mode of the house was, and for how much of the time', async ({ hub, page }) => {
  const set = (mode: string) => hub.send('PUT', '/api/devices/own/properties/mode', { value: mode })
  await set('mode-in')
  await hub.advance(30 * 60)
  const from = Date.parse((await hub.get<{ now: string }>('/api/home')).now)
  await hub.advance(3 * 3600)
  await set('mode-out')
  await hub.advance(3600)
  await hub.kill()
  await hub.again()
  const to = from + 4 * HOUR
  await page.goto(`${hub.url}/history?from=${new Date(from).toISOString()}&to=${new Date(to).toISOString()}`)
  await page.locator('.which').click()
  await page.getByRole('option', { name: /mode of the house/ }).click()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('row', { name: /mode of the house/ })).toContainText('In 75 %, Out 25 %')
  const stretches = page.getByRole('list', { name: /mode of the house: what it was/ }).getByRole('listitem')
  await expect(stretches).toHaveText(['In', 'Out'])
  const series = 'series=own~mode'
  const span = `from=${new Date(from).toISOString()}&to=${new Date(to).toISOString()}`
  const table = await (await fetch(`${hub.url}/api/history.csv?${series}&${span}`)).text()
  expect(table).toMatch(/,Mode of the house,,In,,,10\d{3}/)
})
