import { createServer as httpServer } from 'node:http'
import { createServer as lineServer, type AddressInfo, type Server, type Socket } from 'node:net'
import { expect, test } from '../support/fixtures'
import { make, named, value } from '../support/home'

/** A plug that is switched by addresses, wants a key in a header, and answers JSON. */
async function plug() {
  const state = { relay: 'off', watts: 0 }
  const server = httpServer((request, response) => {
    if (request.headers['x-plug-key'] !== 'fern') return void response.writeHead(403).end()
    const turned = /^\/turn\/(on|off)$/.exec(request.url ?? '')
    if (turned) Object.assign(state, { relay: turned[1], watts: turned[1] === 'on' ? 46 : 0 })
    response.setHeader('Content-Type', 'application/json')
    response.end(JSON.stringify(state))
  })
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready))
  return { server, state, at: `http://127.0.0.1:${(server.address() as AddressInfo).port}` }
}

/** An amplifier on a line: messages end with a carriage return alone, and a turn at its knob is told. */
async function amplifier() {
  const state = { power: 'OFF', volume: 12 }
  const lines = new Set<Socket>()
  const say = (text: string) => lines.forEach((l) => l.write(`${text}\r`))
  const server: Server = lineServer((socket) => {
    lines.add(socket)
    socket.on('close', () => lines.delete(socket)).on('error', () => undefined)
    let heard = ''
    socket.on('data', (data) => {
      heard += data.toString()
      for (let end = heard.indexOf('\r'); end >= 0; end = heard.indexOf('\r')) {
        const message = heard.slice(0, end)
        heard = heard.slice(end + 1)
        const power = /^PW(ON|OFF)$/.exec(message)
        const volume = /^MV(\d+)$/.exec(message)
        if (power) state.power = power[1]!
        if (volume) state.volume = Number(volume[1])
        if (power || message === 'PW?') say(`PW ${state.power}`)
        else if (volume || message === 'MV?') say(`MV ${state.volume}`)
        else say('WHAT')
      }
    })
  })
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready))
  const stop = () => {
    lines.forEach((l) => l.destroy())
    server.close()
  }
  return { state, say, stop, at: `127.0.0.1:${(server.address() as AddressInfo).port}` }
}

test('a plug over HTTP and an amplifier on a line, described in the interface alone, are switched from a rule', async ({
  hub,
  page,
}) => {
  test.setTimeout(90_000)
  const kiln = await plug()
  const amp = await amplifier()
  const wire = page.getByRole('region', { name: 'Over the wire' })
  const address = page.getByLabel('Address of the device')
  try {
    // The plug: wrong key first, then asked, ticked, tried and made.
    await page.goto(`${hub.url}/found`)
    await page.getByRole('link', { name: 'Describe it yourself' }).click()
    await address.fill('ftp://nowhere')
    await page.getByRole('button', { name: 'Ask it' }).click()
    await expect(page.getByText('This is not an address that begins with http:// or https://.').first()).toBeVisible()
    await address.fill(`${kiln.at}/state`)
    await page.getByRole('combobox', { name: 'What it wants to be shown' }).click()
    await page.getByRole('option', { name: 'a key in a header' }).click()
    await page.getByLabel('Name of the key').fill('X-Plug-Key')
    await page.getByLabel('Key', { exact: true }).fill('moss')
    await page.getByRole('button', { name: 'Ask it' }).click()
    await expect(page.getByText('The device does not accept the key.')).toBeVisible()
    await page.getByLabel('Key', { exact: true }).fill('fern')
    await page.getByRole('button', { name: 'Ask it' }).click()
    await expect(wire.getByText('"watts":0')).toBeVisible()
    await expect(wire).not.toContainText('fern')
    await page.getByRole('checkbox', { name: 'Use /relay' }).check()
    await page.getByRole('checkbox', { name: '/relay can be set' }).check()
    await page.getByRole('combobox', { name: 'Method for /relay' }).click()
    await page.getByRole('option', { name: 'GET' }).click()
    await page.getByLabel('Address for /relay').fill(`${kiln.at}/turn`)
    await page.getByRole('button', { name: 'Try on' }).click()
    await expect(page.getByText('Write {value} where the value stands.').first()).toBeVisible()
    await page.getByLabel('Address for /relay').fill(`${kiln.at}/turn/{value}`)
    await page.getByRole('button', { name: 'Try on' }).click()
    await expect(wire.getByText(`GET ${kiln.at}/turn/on`)).toBeVisible()
    await expect(page.getByText('reads on')).toBeVisible()
    expect(kiln.state.relay).toBe('on')
    await page.getByRole('checkbox', { name: 'Use /watts' }).check()
    await page.getByRole('combobox', { name: 'Meaning of /watts' }).click()
    await page.getByRole('option', { name: 'a number of its own' }).click()
    await page.getByLabel('Unit of /watts').fill('VA')
    await page.getByLabel('Name of /watts').fill('Apparent power')
    await page.reload() // what was described is still there, the key is not
    await expect(page.getByLabel('Unit of /watts')).toHaveValue('VA')
    await expect(page.getByLabel('Key', { exact: true })).toHaveValue('')
    await page.getByLabel('Key', { exact: true }).fill('fern')
    await page.getByLabel('Seconds between readings').fill('1')
    await page.getByLabel('Name of the device').fill('Kiln plug')
    await page.getByRole('button', { name: 'Make a device of it' }).click()
    await expect(page.getByText('Kiln plug is in the home.')).toBeVisible()

    await expect(page).toHaveURL(/\/devices\/device-/)

    // The amplifier: asked, listened to, tried and made.
    await page.goto(`${hub.url}/found`)
    await page.getByRole('link', { name: 'Describe it yourself' }).click()
    await page.getByRole('button', { name: 'A line of TCP' }).click()
    await address.fill('127.0.0.1:1')
    await page.getByLabel('Message to send').fill('PW?')
    await page.getByRole('button', { name: 'Send it' }).click()
    await expect(
      page.getByText('The device cannot be reached at 127.0.0.1:1: nothing listens at this address and port.'),
    ).toBeVisible()
    await address.fill(amp.at)
    await page.getByRole('combobox', { name: 'What messages end with' }).click()
    await page.getByRole('option', { name: 'CR alone' }).click()
    for (const [message, heard] of [
      ['PW?', 'PW OFF'],
      ['MV?', 'MV 12'],
    ] as const) {
      await page.getByLabel('Message to send').fill(message)
      await page.getByRole('button', { name: 'Send it' }).click()
      await expect(wire.getByText(heard)).toBeVisible()
    }
    const listening = page.getByRole('button', { name: /^Listen, up to/ })
    await listening.click()
    await expect(page.getByRole('button', { name: 'Listening …' })).toBeVisible()
    const turning = setInterval(() => amp.say('KNOB 3'), 200)
    await expect(wire.getByText('KNOB 3').first()).toBeVisible()
    clearInterval(turning)

    await page.getByRole('checkbox', { name: 'Use PW OFF' }).check()
    await page.getByRole('checkbox', { name: 'Pw can be set' }).check()
    await page.getByLabel('Message for Pw').fill('PW{value}')
    await page.getByRole('combobox', { name: 'Meaning of Pw' }).click()
    await page.getByRole('option', { name: 'power', exact: true }).click()
    await page.getByRole('button', { name: 'Try on' }).click()
    await expect(page.getByText('reads on')).toBeVisible()
    expect(amp.state.power).toBe('ON')
    await page.getByRole('checkbox', { name: 'Use KNOB 3' }).check()
    await page.getByRole('combobox', { name: 'What Knob is' }).click()
    await page.getByRole('option', { name: 'something that happens' }).click()
    await page.getByLabel('Name of the device').fill('Amplifier')
    await page.getByRole('checkbox', { name: 'Take it into the home' }).uncheck()
    await page.getByRole('button', { name: 'Make a device of it' }).click()
    await expect(page.getByText('Amplifier is among the found devices.')).toBeVisible()

    // The plug is in the home already, the amplifier is taken in under the name that was typed.
    await page.getByRole('checkbox', { name: 'Take Amplifier into the home' }).check()
    await expect(page.getByPlaceholder('Amplifier')).toBeVisible()
    await page.getByRole('button', { name: 'Take 1 into the home' }).click()
    await expect(page.getByText('1 device is in the home.')).toBeVisible()
    const plugged = await named(hub, 'Kiln plug')
    const amplified = await named(hub, 'Amplifier')
    await expect.poll(() => value(hub, 'Amplifier', 'p1')).toBe(true)
    await expect.poll(() => value(hub, 'Kiln plug', 'relay')).toBe(true)

    // A rule follows the knob of the one to both.
    await make(hub, '/api/rules', {
      title: 'Knob switches both off',
      enabled: true,
      when: [{ device: amplified.id, event: 'p2' }],
      do: [
        { kind: 'set', device: amplified.id, property: 'p1', value: false },
        { kind: 'set', device: plugged.id, property: 'relay', value: false },
      ],
    })
    amp.say('KNOB 7')
    await expect.poll(() => amp.state.power).toBe('OFF')
    await expect.poll(() => kiln.state.relay).toBe('off')
    await expect.poll(() => value(hub, 'Kiln plug', 'relay')).toBe(false)
    await expect.poll(() => value(hub, 'Kiln plug', 'watts')).toBe(0)
  } finally {
    kiln.server.close()
    amp.stop()
  }
})
