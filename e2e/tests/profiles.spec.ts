import { expect, test } from '../support/fixtures'

interface Found {
  devices: { label: string; model: string; profile?: string }[]
}

test('a missing profile is said, installed on the way, and the ticks are kept', async ({ hub, page }) => {
  await page.goto(`${hub.url}/found`)
  await page.getByLabel('Take MP-1 Plug C412A0 into the home').check()
  await page.getByLabel('Name for MP-1 Plug C412A0').fill('Kettle plug')
  await expect(page.getByLabel('Take MW-1 Power Reader C412E0 into the home')).toBeDisabled()
  await expect(page.getByText('It needs the profile MW-1.')).toBeVisible()

  await page.goto(`${hub.url}/profiles/MW-1`)
  await page.getByRole('button', { name: 'Try it' }).click()
  await expect(page.locator('.tried').getByText('640 W')).toBeVisible()
  expect((await hub.get<Found>('/api/found')).devices.find((d) => d.model === 'MW-1')?.profile).toBeUndefined()
  await page.getByRole('link', { name: 'Found' }).click()

  await page.getByRole('button', { name: 'Install it' }).click()
  await expect(page.getByText('The profile MW-1 is installed.')).toBeVisible()
  await page.getByLabel('Take MW-1 Power Reader C412E0 into the home').check()
  await expect(page.getByLabel('Name for MP-1 Plug C412A0')).toHaveValue('Kettle plug')
  await page.getByRole('button', { name: 'Take 2 into the home' }).click()
  await expect(page.getByText('2 devices are in the home.')).toBeVisible()
  await page.goto(`${hub.url}/devices`)
  await page.getByRole('link', { name: /Power reader/ }).click()
  await expect(page.locator('.figure b').first()).toHaveText('640 W')
})

test('a profile is written with its errors shown, and a broken one changes nothing', async ({ hub, page }) => {
  await page.goto(`${hub.url}/profiles/MP-1`)
  const editor = page.getByRole('textbox', { name: 'Text of the profile' })
  await expect(editor).toContainText('tm:ThingModel')
  const { document } = await hub.get<{ document: string }>('/api/profiles/MP-1')
  await editor.fill(document.replace('"unit": "W"', '"unit": "watt"'))
  await expect(page.getByText(/line \d+ Property electricPower: role electricPower needs the unit "W"/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Save and use' })).toBeDisabled()
  await editor.fill(document.replace('{', ''))
  await expect(page.getByText(/This is not JSON/)).toBeVisible()
  const refused = await hub.send('POST', '/api/profiles', {
    document: document.replace('"unit": "W"', '"unit": "watt"'),
  })
  expect(refused.status).toBe(422)
  expect(await refused.text()).toContain('Line ')
  expect((await hub.get<{ document: string }>('/api/profiles/MP-1')).document).toBe(document)

  await editor.fill(document.replace('Plug with power reading', 'Plug that measures'))
  await expect(page.getByText('Nothing is wrong with it.')).toBeVisible()
  await page.getByRole('button', { name: 'Save and use' }).click()
  await expect(page.getByRole('heading', { name: 'Plug that measures' })).toBeVisible()
  await hub.kill()
  await hub.again()
  await page.reload()
  await expect(page.getByRole('heading', { name: 'Plug that measures' })).toBeVisible()
  await page.getByRole('button', { name: 'Take back what was changed' }).click()
  await expect(page.getByRole('heading', { name: 'Plug with power reading' })).toBeVisible()
})

test('an address that sends the hub elsewhere is not followed', async ({ hub, page }) => {
  const { createServer } = await import('node:http')
  const server = createServer((request, response) => {
    if (request.url === '/away') response.writeHead(302, { Location: 'http://localhost:1/x' }).end()
    else if (request.url === '/large') response.end('x'.repeat(2_000_000))
    else response.writeHead(404).end()
  })
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready))
  const at = server.address()
  const base = `http://127.0.0.1:${typeof at === 'object' && at ? at.port : 0}`
  await page.goto(`${hub.url}/profiles/new`)
  for (const [path, words] of [
    ['/away', 'another host'],
    ['/large', 'larger than'],
    ['/none', 'answers 404'],
  ] as const) {
    await page.getByLabel('Address of a profile').fill(base + path)
    await page.getByRole('button', { name: 'From this address' }).click()
    await expect(page.getByRole('alert').filter({ hasText: words })).toBeVisible()
  }
  server.close()
})
