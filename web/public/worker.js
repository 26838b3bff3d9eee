// Keeps the page itself, so that it opens and can say that the hub is not reached. Nothing of the home is kept: what a page shows
// always comes from the hub.
const KEPT = 'amvek-page'

self.addEventListener('install', () => self.skipWaiting())
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()))

/** Gives what the hub has, and keeps it; without the hub what was kept. */
async function fromHub(request, name) {
  const kept = await caches.open(KEPT)
  try {
    const answer = await fetch(request)
    if (answer.ok) await kept.put(name, answer.clone())
    return answer
  } catch (error) {
    const last = await kept.match(name)
    if (last) return last
    throw error
  }
}

/** Files whose names change with what is in them: what was kept is as good. Those of an earlier version go. */
async function unchanging(request) {
  const kept = await caches.open(KEPT)
  const last = await kept.match(request)
  if (last) return last
  const answer = await fetch(request)
  if (answer.ok) await kept.put(request, answer.clone())
  return answer
}

self.addEventListener('fetch', (event) => {
  const { request } = event
  const address = new URL(request.url)
  if (request.method !== 'GET' || address.origin !== self.location.origin) return
  if (request.mode === 'navigate') event.respondWith(fromHub(request, '/'))
  else if (address.pathname.startsWith('/assets/')) event.respondWith(unchanging(request))
})

// A page that begins says which files it is made of; what belongs to none of them is dropped.
self.addEventListener('message', async (event) => {
  const wanted = new Set(event.data?.files ?? [])
  if (!wanted.size) return
  const kept = await caches.open(KEPT)
  for (const request of await kept.keys()) {
    const { pathname } = new URL(request.url)
    if (pathname.startsWith('/assets/') && !wanted.has(pathname)) await kept.delete(request)
  }
})
