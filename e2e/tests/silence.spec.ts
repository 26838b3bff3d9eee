import { expect, test } from '../support/fixtures'
import type { Hub } from '../support/hub'

interface Device {
  id: string
  title: string
  silent: boolean
  states: { value: unknown; reportedAt?: string }[]
  care: { rhythm?: { kind: string; everySeconds: number } }
}
const device = async (hub: Hub, title: string) =>
  (await hub.get<Device[]>('/api/devices')).find((d) => d.title === title)!

const BROKER = 'gateways'

/** A thermometer that is no pretend one: it speaks over the hub's broker when the test says so. */
async function thermometer(hub: Hub, title: string, topic: string) {
  const made = await hub.send('POST', '/api/composed', {
    title,
    connection: BROKER,
    topic,
    fields: [{ pointer: '', title: 'Temperature', type: 'number', role: 'temperature', unit: '°C' }],
  })
  const { id: hardware } = (await made.json()) as { id: string }
  await expect
    .poll(async () =>
      (await hub.get<{ devices: { hardware: string }[] }>('/api/found')).devices.some((d) => d.hardware === hardware),
    )
    .toBe(true)
  await hub.send('POST', '/api/devices', [{ connection: BROKER, hardware, title }])
  let said = 15
  return async () => {
    said += 0.1
    const payload = said.toFixed(1)
    await hub.send('POST', `/api/connections/${BROKER}/say`, { topic, payload })
    await expect.poll(async () => (await device(hub, title)).states[0]?.value).toBeCloseTo(Number(payload), 3)
  }
}

test('a sensor that speaks every 40 s and one that speaks every 4 h fall silent: each is missed after its own time', async ({
  hub,
  page,
}) => {
  const slow = await thermometer(hub, 'Cellar', 'cellar/temperature')
  const quick = await thermometer(hub, 'Oven', 'oven/temperature')
  for (let i = 0; i < 10; i++) {
    await slow()
    await hub.advance(4 * 3600)
  }
  await slow()
  for (let i = 0; i < 25; i++) {
    await quick()
    await hub.advance(40)
  }
  await page.goto(`${hub.url}/care`)
  await expect(page.getByRole('row').filter({ hasText: 'Oven' })).toContainText('every 40 s')
  await expect(page.getByRole('row').filter({ hasText: 'Cellar' })).toContainText('every 4 h')
  expect((await device(hub, 'Oven')).silent).toBe(false)

  await hub.advance(180)
  await expect(page.getByText('1 of 2 devices need attention.')).toBeVisible()
  await expect(page.getByText(/Nothing was heard from it for .* it usually speaks every 40 s/)).toBeVisible()
  expect((await device(hub, 'Cellar')).silent).toBe(false)
  await hub.advance(6 * 3600)
  expect((await device(hub, 'Cellar')).silent).toBe(false)
  await hub.advance(6 * 3600)
  await expect(page.getByText('2 of 2 devices need attention.')).toBeVisible()
  await quick()
  await expect(page.getByText('1 of 2 devices need attention.')).toBeVisible()
})
