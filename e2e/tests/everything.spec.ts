import { spawn } from 'node:child_process'
import { readFile } from 'node:fs/promises'
import { expect, test } from '../support/fixtures'
import { named, quietEvening, value } from '../support/home'
import { publish } from '../support/mosquitto'

test.use({ flags: ['--fresh'] })

test('every message is seen as it was and as what it became, filtered, sent by hand, and survives a flood', async ({
  hub,
  page,
}) => {
  await quietEvening(hub)
  const lamp = await named(hub, 'Mill room floor lamp')
  await page.goto(`${hub.url}/messages`)
  const list = page.getByRole('list', { name: 'Messages' })
  const line = (text: string | RegExp) => list.getByRole('listitem').filter({ hasText: text })

  // A command out and what the lamp says to it, raw beside what it became, and why it was sent.
  await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 50 })
  await expect(line('{"br":127}').filter({ hasText: 'set Mill room floor lamp brightness 50 %' })).toContainText('done')
  await expect(
    line(/"br":127.*Mill room floor lamp brightness 50 %/)
      .filter({ hasText: 'in' })
      .first(),
  ).toBeVisible()
  await line('set Mill room floor lamp').getByRole('button').click()
  await line('set Mill room floor lamp').getByRole('link', { name: 'Why it was sent' }).click()
  await expect(page).toHaveURL(/\/journal\?entry=\d+/)
  await page.goBack()

  // A line that is wrong is refused, and says why; a press at a plate is an event.
  await hub.bench({ what: 'press', plate: '41', button: 2, gesture: 'press' })
  await expect(line('event Galley plate button 2').first()).toContainText('"button":2')
  await page.getByRole('textbox', { name: 'Words or topic' }).fill('button 2 nonsense')
  await expect(page.getByText('No message yet that fits.')).toBeVisible()
  await page.getByRole('textbox', { name: 'Words or topic' }).fill('button2')
  await expect(line('Galley plate').first()).toBeVisible()
  await expect(line('Mill room floor lamp')).toHaveCount(0)
  await page.getByRole('textbox', { name: 'Words or topic' }).fill('')

  // One is sent by hand: it does what it says, and the journal tells who sent it.
  const topic = await line('set Mill room floor lamp').locator('.place .mono').first().innerText()
  await page.getByRole('textbox', { name: 'Topic to send to' }).fill(topic)
  await page.getByRole('textbox', { name: 'Message to send' }).fill('{"br":254}')
  await page.getByRole('button', { name: 'Send', exact: true }).click()
  await expect.poll(async () => Number(await value(hub, 'Mill room floor lamp', 'brightness'))).toBe(100)
  const journal = await hub.get<{ text: string }[]>('/api/journal?limit=30')
  expect(journal.map((e) => e.text)).toContainEqual(expect.stringContaining(`A message was sent to ${topic}`))
  await page.getByRole('textbox', { name: 'Topic to send to' }).fill('all/+')
  await page.getByRole('button', { name: 'Send', exact: true }).click()
  await expect(page.getByText('A message goes to one topic, without + and #.')).toBeVisible()

  // What nothing in the home listens to stands there too, and a device can be made of it.
  const client = await hub.send('POST', '/api/broker/clients', { name: 'shed', publish: ['shed/#'], subscribe: [] })
  const shed = (await client.json()) as { key: string }
  await publish(hub.mqtt, 'shed', shed.key, 'shed/box', '{"warmth":18.4}')
  await expect(line('{"warmth":18.4}')).toContainText('nothing that the home uses')
  await line('{"warmth":18.4}').getByRole('button').click()
  await line('{"warmth":18.4}').getByRole('link', { name: 'Make a device of it' }).click()
  await expect(page.getByLabel('Use /warmth')).toBeVisible()
  await page.goBack()

  // Paused, nothing moves; saved, it is a file of what is shown; cleared, it begins anew.
  await page.getByRole('button', { name: 'Pause', exact: true }).click()
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as a file' }).click(),
  ])
  const saved = JSON.parse(await readFile(await file.path(), 'utf8')) as { text: string; connection: string }[]
  expect(saved.some((m) => m.text === '{"br":127}')).toBe(true)
  await page.getByRole('button', { name: 'Clear', exact: true }).click()
  await expect(page.getByText('No message yet that fits.')).toBeVisible()
  await page.getByRole('button', { name: 'Go on', exact: true }).click()

  // A thousand messages a second for some seconds: what cannot be shown is counted, the page answers, and so does the house.
  const { key } = (await (
    await hub.send('POST', '/api/broker/clients', { name: 'loud', publish: ['quillet/#'], subscribe: [] })
  ).json()) as { key: string }
  const [host, port] = hub.mqtt.split(':') as [string, string]
  const loud = spawn('mosquitto_pub', [
    '-V',
    '5',
    '-h',
    host,
    '-p',
    port,
    '-u',
    'loud',
    '-P',
    key,
    '-t',
    'quillet/loud/n1/say',
    '-l',
  ])
  const flood = setInterval(() => loud.stdin.write('{"mv":1}\n'.repeat(50)), 50)
  try {
    await expect(line('quillet/loud/n1/say').first()).toBeVisible()
    await expect(
      page
        .getByText(/came faster than can be shown/)
        .or(line('not on its gateway'))
        .first(),
    ).toBeVisible()
    for (const level of [10, 90, 20]) {
      await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: level })
      await expect
        .poll(async () => Number(await value(hub, 'Mill room floor lamp', 'brightness')))
        .toBeCloseTo(level, 0)
    }
    await page.getByRole('combobox', { name: 'Way' }).click()
    await page.getByRole('option', { name: 'sent' }).click()
    // What was sent before may be out of the record by now, which keeps a few seconds of such a flood.
    await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 60 })
    await expect(line('set Mill room floor lamp').first()).toBeVisible()
    await expect(line('quillet/loud/n1/say')).toHaveCount(0)
  } finally {
    clearInterval(flood)
    loud.kill()
  }
})
