import { readFile } from 'node:fs/promises'
import { counted } from '../support/counted'
import { expect, test } from '../support/fixtures'
import type { Hub } from '../support/hub'
import { listen, Mosquitto, publish } from '../support/mosquitto'

interface Device {
  id: string
  title: string
  silent: boolean
  states: { name: string; value: unknown; text: string }[]
}
const device = async (hub: Hub, title: string) =>
  (await hub.get<Device[]>('/api/devices')).find((d) => d.title === title)

test('a device nobody has a profile for becomes a thermometer with a chart and a switch that works', async ({
  hub,
  page,
}) => {
  const acts = await counted(page)
  let triedOn = 0
  await page.goto(`${hub.url}/connections/gateways`)
  await page.getByLabel('Topics of the new client').fill('shed/#')
  const [host, port] = hub.mqtt.split(':')
  await expect(page.getByRole('definition').filter({ hasText: host! })).toBeVisible()
  await expect(page.getByRole('definition').filter({ hasText: port! })).toBeVisible()
  await page.getByLabel('Who may join this broker: name').click()
  await page.getByLabel('Who may join this broker: name').fill('shed')
  await page.getByRole('button', { name: 'Make a key' }).click()
  await expect(page.getByText('It is not shown again.')).toBeVisible()
  const key = (await page.locator('.made b').innerText()).trim()

  await page.getByRole('button', { name: 'Watch what arrives' }).click()
  await expect(page.getByRole('button', { name: 'Stop watching' })).toBeVisible()
  await publish(hub.mqtt, 'shed', key, 'shed/box', '{"env":{"temp":18.4},"relay":"OFF"}')
  await page.getByRole('button', { name: /shed\/box/ }).click()
  // What has a meaning is ticked, and is set where most devices listen.
  await expect(page.getByLabel('Use /env/temp')).toBeChecked()
  await expect(page.getByRole('combobox', { name: 'Meaning of /env/temp' })).toHaveText('temperature')
  await page.getByLabel('Name of /relay').click()
  await page.getByLabel('Name of /relay').fill('Lamp')
  await page.getByRole('checkbox', { name: '/relay can be set' }).check()
  await expect(page.getByRole('textbox', { name: 'Topic that sets /relay' })).toHaveValue('shed/box/set')
  const heard = listen(hub.mqtt, 'shed', key, 'shed/box/set')
  await expect
    .poll(async () => {
      await page.getByRole('button', { name: 'Try on' }).click()
      triedOn++
      return Promise.race([
        heard.first.then((said) => said.includes('ON')),
        new Promise((r) => setTimeout(r, 300, false)),
      ])
    })
    .toBe(true)
  await page.getByLabel('Name of the device').click()
  await page.getByLabel('Name of the device').fill('Shed box')
  await page.getByRole('button', { name: 'Make a device of it' }).click()
  await expect(page.getByText('Shed box is in the home.')).toBeVisible()
  await expect(page).toHaveURL(/\/devices\/device-/)
  // docs/benchmarks.md has this as clicks_mqtt_device.
  expect((await acts()).clicks - triedOn).toBeLessThanOrEqual(8)

  // The profile is there for the next of its kind.
  await page.goto(`${hub.url}/connections/gateways`)
  await page.getByRole('button', { name: 'Watch what arrives' }).click()
  await publish(hub.mqtt, 'shed', key, 'shed/second', '{"env":{"temp":17.5},"relay":"ON"}')
  await page.getByRole('button', { name: /shed\/second/ }).click()
  await page.getByLabel('Name of the device').fill('Shed shelf')
  await page.getByRole('checkbox', { name: 'Take it into the home' }).uncheck()
  await page.getByRole('button', { name: 'Another like Shed box' }).click()
  await expect(page.getByText('Shed shelf is among the found devices.')).toBeVisible()
  await page.reload()
  const saved = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Export: Shed shelf' }).click()
  const text = await readFile(await (await saved).path(), 'utf8')
  expect(text).toContain('shed/second')
  expect(text).toContain('https://www.w3.org/2022/wot/td/v1.1')
  await page.getByRole('button', { name: 'Forget: Shed shelf' }).click()
  await expect(page.getByRole('button', { name: 'Forget: Shed shelf' })).toBeHidden()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('button', { name: 'Forget: Shed shelf' })).toBeVisible()
  await page.goto(`${hub.url}/profiles`)
  await expect(page.getByRole('link', { name: /Shed box/ }).first()).toBeVisible()

  await page.goto(`${hub.url}/found`)
  await page.getByLabel('Take Shed shelf into the home').check()
  await page.getByLabel('Name for Shed shelf').fill('Shed shelf')
  await page.getByRole('button', { name: 'Take 1 into the home' }).click()
  await expect(page.getByText('Shed shelf is in the home.')).toBeVisible()
  await publish(hub.mqtt, 'shed', key, 'shed/box', '{"env":{"temp":19.1},"relay":"OFF"}')
  const id = (await device(hub, 'Shed box'))?.id
  await page.goto(`${hub.url}/devices/${id}`)
  await expect(page.getByText('19.1 °C')).toBeVisible()
  await page.getByRole('button', { name: 'Temperature', exact: false }).first().click()
  await expect(page.getByRole('heading', { name: /The last day: temperature/ })).toBeVisible()

  const set = listen(hub.mqtt, 'shed', key, 'shed/box/set')
  await publish(hub.mqtt, 'shed', key, 'shed/box', '{"env":{"temp":19.2},"relay":"OFF"}')
  await expect(page.getByText('19.2 °C')).toBeVisible()
  await expect
    .poll(async () => {
      await hub.send('PUT', `/api/devices/${id}/properties/relay`, { value: true })
      await hub.send('PUT', `/api/devices/${id}/properties/relay`, { value: false })
      return Promise.race([
        set.first.then((said) => /\nO(N|FF)/.test(said)),
        new Promise((r) => setTimeout(r, 300, false)),
      ])
    })
    .toBe(true)

  // Elsewhere it may neither speak nor listen.
  await publish(hub.mqtt, 'shed', key, 'house/secret', 'x').catch(() => undefined)
  expect(JSON.stringify(await (await hub.send('POST', '/api/connections/gateways/topics')).json())).not.toContain(
    'house/secret',
  )
  const refused = listen(hub.mqtt, 'shed', key, 'house/#')
  expect(await Promise.race([refused.first, new Promise((r) => setTimeout(r, 700, 'still waiting'))])).not.toContain(
    'secret',
  )
  refused.stop()
  await expect(publish(hub.mqtt, 'shed', 'guess', 'shed/box', '1')).rejects.toThrow()
  await hub.send('DELETE', '/api/broker/clients/shed')
  await expect(publish(hub.mqtt, 'shed', key, 'shed/box', '1')).rejects.toThrow()
})

test('a broker elsewhere is joined with user and password, and found again after it was killed', async ({
  hub,
  page,
}) => {
  const broker = await Mosquitto.start('hub', 'secret word')
  try {
    await page.goto(`${hub.url}/connections/broker`)
    await page.getByLabel('Address').fill(broker.address)
    await page.getByLabel('User').fill('hub')
    await page.getByLabel('Password').fill('wrong word')
    await page.getByRole('button', { name: 'Join it' }).click()
    await expect(page.getByText('The broker does not accept user and password.')).toBeVisible()
    await page.getByLabel('Password').fill('secret word')
    await page.getByRole('button', { name: 'Join it' }).click()
    await expect(page).not.toHaveURL(/connections\/broker$/)
    await expect(page.getByText(/up since/).first()).toBeVisible()
    const id = page.url().split('/').pop() ?? ''
    expect(await (await fetch(`${hub.url}/api/connections`)).text()).not.toContain('secret word')

    const { id: thing } = (await (
      await hub.send('POST', '/api/composed', {
        title: 'Barn thermometer',
        connection: id,
        topic: 'barn/temp',
        fields: [{ pointer: '', title: 'Temperature', type: 'number', role: 'temperature', unit: '°C' }],
      })
    ).json()) as { id: string }
    await expect
      .poll(async () =>
        (await hub.get<{ devices: { hardware: string }[] }>('/api/found')).devices.some((d) => d.hardware === thing),
      )
      .toBe(true)
    await hub.send('POST', '/api/devices', [{ connection: id, hardware: thing, title: 'Barn' }])
    const shown = async () => (await device(hub, 'Barn'))?.states[0]?.text
    await expect
      .poll(async () => {
        await publish(broker.address, 'hub', 'secret word', 'barn/temp', '7.5')
        return shown()
      })
      .toBe('7.5 °C')

    await broker.kill()
    await expect(page.getByText(/down since/).first()).toBeVisible()
    await expect.poll(async () => (await device(hub, 'Barn'))?.silent).toBe(true)
    await broker.run()
    await expect(page.getByText(/up since/).nth(1)).toBeVisible()
    await expect
      .poll(async () => {
        await publish(broker.address, 'hub', 'secret word', 'barn/temp', '8')
        return shown()
      })
      .toBe('8 °C')
  } finally {
    await broker.stop()
  }
})
