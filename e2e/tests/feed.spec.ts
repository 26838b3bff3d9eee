import { expect, test } from '../support/fixtures'
import { make, named, value } from '../support/home'

test.use({ flags: ['--fresh'] })

test('what changes is told, and nothing makes a browser read a list again; after a pause it catches up', async ({
  hub,
  page,
}) => {
  const joined: string[] = []
  let cut: () => Promise<void> = () => Promise.resolve()
  let held = false
  await page.routeWebSocket(/\/api\/live/, async (ws) => {
    while (held) await new Promise((resolve) => setTimeout(resolve, 20))
    joined.push(ws.url())
    const server = ws.connectToServer()
    cut = async () => {
      await server.close()
      await ws.close()
    }
  })
  const reads: string[] = []
  page.on('request', (r) => {
    if (r.method() === 'GET' && new URL(r.url()).pathname.startsWith('/api/')) reads.push(r.url())
  })
  const lamp = await named(hub, 'Table lamp')
  await page.goto(`${hub.url}/devices/${lamp.id}`)
  const brightness = page.getByRole('spinbutton', { name: 'Brightness, exactly' })
  await expect(brightness).toBeVisible()
  await page.waitForLoadState('networkidle')
  reads.length = 0

  // A lamp is set, a device renamed, a scene made, a room renamed, a rule runs: all of it is seen.
  const set = (to: number) => hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: to })
  await set(31)
  await expect(brightness).toHaveValue('31 %')
  await hub.send('PATCH', '/api/devices', [{ id: lamp.id, title: 'Reading lamp' }])
  await expect(page.getByRole('heading', { name: 'Reading lamp' })).toBeVisible()
  await make(hub, '/api/scenes', {
    title: 'Made elsewhere',
    fadeSeconds: 0,
    targets: [{ device: lamp.id, property: 'brightness', value: 12 }],
  })
  await expect(page.getByRole('link', { name: 'Made elsewhere' })).toBeVisible()
  await hub.advance(120)
  await hub.send('POST', '/api/scenes/scene-supper/apply')
  await expect.poll(() => value(hub, 'Reading lamp', 'brightness')).toBe(60)
  await expect(brightness).toHaveValue('60 %')
  // The page itself asks why it is so; no list is read.
  expect(reads.filter((r) => !/\/api\/(journal|history|devices\/[^/]+)\b/.test(r))).toEqual([])

  held = true
  await cut()
  await expect(page.getByText('The hub cannot be reached. What you see may be old')).toBeVisible()
  await set(47)
  await hub.send('PATCH', '/api/devices', [{ id: lamp.id, title: 'Lamp of the pause' }])
  reads.length = 0
  held = false
  await expect(brightness).toHaveValue('47 %')
  await expect(page.getByRole('heading', { name: 'Lamp of the pause' })).toBeVisible()
  expect(joined.at(-1)).toMatch(/run=\w+&since=\d+/)
  expect(reads.filter((r) => r.endsWith('/api/shown'))).toEqual([])

  // A hub that started anew knows nothing of what was told before: all is read again.
  await hub.kill()
  await hub.again()
  await expect.poll(() => reads.filter((r) => r.endsWith('/api/shown')).length).toBe(1)
  await expect(page.getByRole('heading', { name: 'Lamp of the pause' })).toBeVisible()
})
