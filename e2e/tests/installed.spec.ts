import { expect, test } from '../support/fixtures'

test.use({ serviceWorkers: 'allow' })

test('it can be installed, and opens without its hub to say that it is not reached, with nothing of the home', async ({
  hub,
  page,
}) => {
  await page.goto(`${hub.url}/today`)
  const manifest = await page.evaluate(async () => {
    const address = document.querySelector<HTMLLinkElement>('link[rel=manifest]')!.href
    const answer = await fetch(address)
    return { type: answer.headers.get('content-type'), ...((await answer.json()) as { icons: { src: string }[] }) }
  })
  expect(manifest.type).toBe('application/manifest+json')
  for (const icon of manifest.icons) expect((await fetch(hub.url + icon.src)).ok, icon.src).toBe(true)
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready
    if (!navigator.serviceWorker.controller)
      await new Promise((done) => navigator.serviceWorker.addEventListener('controllerchange', done, { once: true }))
  })
  // What it is made of is read once through the worker, and kept.
  await page.reload()
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible()
  await hub.kill()
  await page.reload()
  await expect(page.getByText(/cannot be reached/)).toBeVisible()
  const kept = await page.evaluate(async () => {
    const names = await caches.keys()
    const all = await Promise.all(names.map(async (name) => (await caches.open(name)).keys()))
    return all.flat().map((request) => new URL(request.url).pathname)
  })
  expect(kept.length).toBeGreaterThan(1)
  expect(kept.filter((path) => path.startsWith('/api') || path.startsWith('/things'))).toEqual([])
  await hub.again()
  await page.reload()
  await expect(page.getByText(/cannot be reached/)).toHaveCount(0)
})
