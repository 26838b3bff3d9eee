import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { expect, test } from '../support/fixtures'
import { named, quietEvening, value } from '../support/home'

test.use({ flags: ['--fresh'] })

/** A page of another origin. */
function serve(html: string): Promise<{ url: string; server: Server }> {
  return new Promise((resolve) => {
    const server = createServer((_, answer) => answer.setHeader('Content-Type', 'text/html').end(html))
    server.listen(0, '127.0.0.1', () =>
      resolve({ url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/`, server }),
    )
  })
}

test('a page of another origin tries to unlock the door: by form, by fetch, by WebSocket, framed; nothing happens, and the journal says so', async ({
  hub,
  page,
  context,
}) => {
  await quietEvening(hub)
  const lock = await named(hub, 'Hall lock')
  expect(await value(hub, 'Hall lock', 'locked')).toBe(true)
  // Somebody who is in, and at whose browser the other page is opened.
  await page.goto(`${hub.url}/devices`)
  await expect(page.getByRole('heading', { name: 'Devices', exact: true })).toBeVisible()

  const write = `${hub.url}/api/devices/${lock.id}/properties/locked`
  const { url, server } = await serve(`<!doctype html>
    <form id="form" method="post" enctype="text/plain" target="answer" action="${hub.url}/api/devices/${lock.id}/actions/unlock">
      <input name='{"value":false,"x":"' value='"}'></form>
    <iframe name="answer"></iframe>
    <iframe id="framed" src="${hub.url}/panel/dashboard-galley"></iframe>`)
  try {
    const evil = await context.newPage()
    const framed = evil.waitForResponse((r) => r.url().includes('/panel/dashboard-galley'))
    await evil.goto(url)
    expect((await framed).status()).toBe(403)
    const tries = await evil.evaluate(
      async ({ write, hub }) => {
        const tried: Record<string, string> = {}
        const attempt = async (name: string, path: string, init: RequestInit) => {
          try {
            const answer = await fetch(path, init)
            tried[name] = answer.type === 'opaque' ? 'opaque' : String(answer.status)
          } catch {
            tried[name] = 'refused'
          }
        }
        const body = JSON.stringify({ value: false })
        const json = { 'Content-Type': 'application/json' }
        await attempt('put', write, { method: 'PUT', body, headers: json, credentials: 'include' })
        await attempt('text', `${hub}/api/scenes/try`, {
          method: 'POST',
          body,
          mode: 'no-cors',
          credentials: 'include',
        })
        await attempt('read', `${hub}/api/devices`, { credentials: 'include' })
        tried['socket'] = await new Promise((resolve) => {
          const socket = new WebSocket(`${hub.replace('http', 'ws')}/api/live?look=`)
          socket.onmessage = () => resolve('told')
          socket.onclose = () => resolve('refused')
        })
        return tried
      },
      { write, hub: hub.url },
    )
    expect(tries).toEqual({ put: 'refused', text: 'opaque', read: 'refused', socket: 'refused' })
    const posted = evil.waitForResponse((r) => r.request().method() === 'POST' && r.url().includes('/actions/unlock'))
    await evil.evaluate(() => document.querySelector<HTMLFormElement>('#form')!.submit())
    expect((await posted).status()).toBe(403)
  } finally {
    server.close()
  }
  await hub.advance(5)
  expect(await value(hub, 'Hall lock', 'locked')).toBe(true)
  await page.goto(`${hub.url}/journal?words=kept+out`)
  for (const said of [
    /asked for GET \/api\/live/,
    /asked for POST .*\/actions\/unlock/,
    /asked for GET \/panel\/dashboard/,
  ])
    await expect(page.getByText(said).first()).toBeVisible()
})
