import { type ChildProcess, execFile, spawn } from 'node:child_process'
import { mkdtemp } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { expect, test } from '@playwright/test'
import { make, named } from '../support/home'
import { Hub } from '../support/hub'

const root = fileURLToPath(new URL('../..', import.meta.url))
const BROWSERS = 20
const FLOOD_EVERY = 50

/** Debian's own client of a broker, over one connection for as long as it is wanted. */
function client(kind: 'pub' | 'sub', at: string, name: string, key: string, topic: string): ChildProcess {
  const [host, port] = at.split(':') as [string, string]
  const more = kind === 'pub' ? ['-l'] : []
  return spawn(`mosquitto_${kind}`, ['-V', '5', '-h', host, '-p', port, '-u', name, '-P', key, '-t', topic, ...more])
}

test('with 5,000 devices and 2,000 rules every page opens, and a lamp answers while twenty look and nonsense floods in', async ({
  page,
}) => {
  test.setTimeout(300_000)
  const folder = await mkdtemp(join(tmpdir(), 'amvek-large-'))
  await promisify(execFile)('go', ['run', './bench', '-furnish', folder, '-devices', '5000', '-rules', '2000'], {
    cwd: root,
  })
  const hub = await Hub.over(folder)
  const children: ChildProcess[] = []
  const timers: ReturnType<typeof setInterval>[] = []
  try {
    expect((await hub.get<unknown[]>('/api/rules')).length).toBe(2000)
    const { key } = (await (
      await hub.send('POST', '/api/broker/clients', { name: 'all', publish: ['#'], subscribe: ['#'] })
    ).json()) as { key: string }

    // A lamp that answers what it is told.
    const { id: hardware } = (await (
      await hub.send('POST', '/api/composed', {
        title: 'Answering lamp',
        topic: 'lamp/state',
        fields: [
          {
            pointer: '',
            title: 'Brightness',
            type: 'number',
            role: 'brightness',
            unit: '%',
            from: 0,
            to: 100,
            set: { topic: 'lamp/set' },
          },
        ],
      })
    ).json()) as { id: string }
    const find = async () =>
      (await hub.get<{ devices: { hardware: string; connection: string }[] }>('/api/found')).devices.find(
        (d) => d.hardware === hardware,
      )
    await expect.poll(find).toBeTruthy()
    await hub.send('POST', '/api/devices', [
      { connection: (await find())!.connection, hardware, title: 'Answering lamp' },
    ])
    const lamp = await named(hub, 'Answering lamp')
    const told = client('sub', hub.mqtt, 'all', key, 'lamp/set')
    const says = client('pub', hub.mqtt, 'all', key, 'lamp/state')
    told.stdout!.on('data', (data: Buffer) => says.stdin!.write(data))
    children.push(told, says)
    says.stdin!.write('0\n')
    await expect
      .poll(async () => (await hub.get<{ states: { value: number }[] }>(`/api/devices/${lamp.id}`)).states[0]?.value)
      .toBe(0)

    // Twenty look, hardware that nobody knows announces itself anew again and again, and nonsense floods in.
    const looking = await page.context().newPage()
    // A page that may open connections, and asks for nothing by itself.
    await looking.goto(`${hub.url}/enter`)
    await looking.evaluate((number) => {
      const heard: number[] = Array.from({ length: number }, () => 0)
      Object.assign(window, { heard })
      for (let i = 0; i < number; i++)
        new WebSocket(`ws://${location.host}/api/live?look=journal`).onmessage = () => void heard[i]!++
    }, BROWSERS - 1)
    const heard = () => looking.evaluate(() => (window as unknown as { heard: number[] }).heard)
    const nonsense = client('pub', hub.mqtt, 'all', key, 'quillet/strange/n0/say')
    const strangers = client('pub', hub.mqtt, 'all', key, 'quillet/strange/roster')
    children.push(nonsense, strangers)
    let turn = 0
    timers.push(
      setInterval(() => {
        nonsense.stdin!.write('{"count":\n'.repeat(200))
        const nodes = Array.from({ length: 20 }, (_, i) => {
          const name = `n${(turn * 20 + i) % 1000}`
          return { node: `n${i}`, model: 'NOBODY-1', hardware: `stranger-${name}`, label: `Stranger ${name}` }
        })
        if (turn++ % 4 === 0) strangers.stdin!.write(`${JSON.stringify({ nodes })}\n`)
      }, FLOOD_EVERY),
    )
    type Connection = { id: string; faults: number }
    const refused = async () =>
      (await hub.get<Connection[]>('/api/connections')).find((c) => c.id === 'gateways')?.faults ?? 0
    await expect.poll(refused).toBeGreaterThan(1000)

    // Every page opens, says its name, and shows no error.
    const wrong: string[] = []
    page.on('pageerror', (error) => wrong.push(error.message))
    for (const [path, title] of [
      ['today', 'The house now'],
      ['found', 'Found'],
      ['devices', 'Devices'],
      ['devices/device-02500', 'device-02500'],
      ['scenes', 'Scenes'],
      ['rules', 'Rules'],
      ['schedules', 'Schedules'],
      ['dashboards', 'Dashboards'],
      ['history', 'History'],
      ['journal', 'Journal'],
      ['profiles', 'Profiles'],
      ['connections', 'Connections'],
      ['care', 'Care'],
      ['household', 'Modes'],
      ['household/groups', 'Groups and variables'],
      ['rooms', 'Rooms'],
      ['health', 'Health'],
      ['house', 'House'],
    ]) {
      await page.goto(`${hub.url}/${path}`)
      const heading = page
        .getByRole('main')
        .getByRole('heading', path!.includes('/') ? { name: title, exact: true } : {})
      await expect(heading.first(), path).toBeVisible()
    }
    await page.goto(`${hub.url}/rules/rule-1000`)
    await expect(page.getByRole('textbox', { name: 'Name of the rule' })).toHaveValue('Rule 1000')
    expect(wrong).toEqual([])

    // The lamp does what it is told, meanwhile, and says so.
    await page.goto(`${hub.url}/devices/${lamp.id}`)
    const exactly = page.getByRole('spinbutton', { name: 'Brightness, exactly' })
    for (const percent of [80, 15, 64]) {
      await exactly.fill(String(percent))
      await exactly.blur()
      await expect
        .poll(
          async () =>
            (await hub.get<{ states: { value: number; certainty?: string }[] }>(`/api/devices/${lamp.id}`)).states[0],
        )
        .toMatchObject({ value: percent })
      await expect(page.locator('.figure b').first()).toHaveText(`${percent} %`)
    }
    await page.getByRole('button', { name: 'Find or go' }).click()
    await page.getByRole('searchbox', { name: 'Find or go' }).fill('device-04321')
    await expect(page.getByRole('option', { name: /device-04321/ }).first()).toBeVisible()
    await page.keyboard.press('Escape')

    // All twenty were told, what was refused was counted, and the hub goes on when it is over.
    expect((await heard()).filter((n) => n < 2)).toEqual([])
    const before = await refused()
    await expect.poll(refused).toBeGreaterThan(before)
    timers.forEach((t) => clearInterval(t))
    await expect.poll(async () => (await hub.get<Connection[]>('/api/connections')).length).toBeGreaterThan(0)
    await make(hub, '/api/rooms', { title: 'Made after the flood', order: 0 })
  } finally {
    timers.forEach((t) => clearInterval(t))
    children.forEach((c) => c.kill())
    await hub.stop()
  }
})
