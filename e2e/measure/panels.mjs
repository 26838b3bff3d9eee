// Measures panels in Debian's Chromium, and prints what it found as lines of JSON: when changes were drawn, how soon a tap
// shows what it asked for, by how much the memory of a panel grows in ten minutes, or how long pictures take while controls
// are arranged. A line {"ready": true} says that all is open.
// Usage: node panels.mjs changes|taps|heap|arrange http://127.0.0.1:8420 DASHBOARD BROWSERS
import { chromium } from '@playwright/test'

const [what, hub, dashboard, browsers] = process.argv.slice(2)
const LASTS = 12_000 // longer than what is sent takes
const SETTLES = 60_000 // until all that is loaded later is there
const TEN_MINUTES = 600_000
const say = (line) => console.log(JSON.stringify(line))
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-renderer-backgrounding'],
})
const open = async (path) => {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage()
  await page.goto(hub + path)
  return page
}

/** When each value of the first dial was drawn: noted in the picture after it changed. */
const watchDial = (page, lasts) =>
  page.evaluate(
    (ms) =>
      new Promise((resolve) => {
        const dial = document.querySelector('[role=slider]')
        const shown = []
        const observer = new MutationObserver(() => {
          const value = Number(dial.getAttribute('aria-valuenow'))
          requestAnimationFrame(() => shown.push([value, performance.timeOrigin + performance.now()]))
        })
        observer.observe(dial, { attributeFilter: ['aria-valuenow'] })
        setTimeout(() => resolve({ shown }), ms)
      }),
    lasts,
  )

/** Taps each scale once, beside where it is, and returns how long it took until the picture with its asked-for mark was drawn, in ms. */
const tapAll = (page) =>
  page.evaluate(async () => {
    const drawn = () =>
      new Promise((resolve) => {
        const after = new MessageChannel() // its message comes once the picture is drawn
        after.port1.onmessage = () => resolve(performance.now())
        requestAnimationFrame(() => after.port2.postMessage(''))
      })
    const late = []
    for (const scale of document.querySelectorAll('.scale')) {
      const face = scale.querySelector('[role=slider]')
      const { x, y, width, height } = face.getBoundingClientRect()
      const at = face.ariaValueNow > 50 ? 0.25 : 0.75
      const point = { bubbles: true, pointerId: 1, button: 0, clientX: x + at * width, clientY: y + height / 2 }
      face.setPointerCapture = () => undefined // there is no finger to capture
      await drawn()
      const marked = new Promise((resolve) => {
        const observer = new MutationObserver(() => {
          if (!scale.matches('.pending')) return
          observer.disconnect()
          const after = new MessageChannel()
          after.port1.onmessage = () => resolve(performance.now())
          after.port2.postMessage('')
        })
        observer.observe(scale, { attributeFilter: ['class'] })
      })
      // Anywhere between two pictures, as a finger comes.
      await new Promise((resolve) => setTimeout(resolve, Math.random() * 17))
      const tapped = performance.now()
      face.dispatchEvent(new PointerEvent('pointerdown', point))
      face.dispatchEvent(new PointerEvent('pointerup', point))
      late.push((await marked) - tapped)
    }
    return late
  })

/** How much memory the scripts of a page hold once what is not used any more was let go, in bytes. */
async function heapOf(cdp) {
  await cdp.send('HeapProfiler.collectGarbage')
  return (await cdp.send('Runtime.getHeapUsage')).usedSize
}

/** How long a page has worked since it was opened, and what time it is, in s. */
async function busyOf(cdp) {
  const { metrics } = await cdp.send('Performance.getMetrics')
  return Object.fromEntries(metrics.map((m) => [m.name, m.value]))
}

if (what === 'taps') {
  const page = await open(`/panel/${dashboard}`)
  await page.locator('[role=slider]').nth(59).waitFor()
  say({ ready: true })
  say({ taps: await tapAll(page) })
} else if (what === 'heap') {
  const page = await open(`/panel/${dashboard}`)
  await page.locator('[role=slider]').nth(59).waitFor()
  const cdp = await page.context().newCDPSession(page)
  await cdp.send('Performance.enable')
  say({ ready: true })
  await page.waitForTimeout(SETTLES)
  const before = await heapOf(cdp)
  const from = await busyOf(cdp)
  await page.waitForTimeout(TEN_MINUTES)
  const to = await busyOf(cdp)
  const load = (to.TaskDuration - from.TaskDuration) / (to.Timestamp - from.Timestamp)
  say({ grown: (await heapOf(cdp)) - before, heap: before, load })
} else if (what === 'changes') {
  const pages = []
  for (let i = 0; i < Number(browsers); i++) {
    const page = await open(`/panel/${dashboard}`)
    await page.locator('[role=slider]').first().waitFor()
    pages.push(page)
  }
  const watching = pages.map((page) => watchDial(page, LASTS))
  say({ ready: true })
  for (const found of await Promise.all(watching)) say(found)
} else {
  const page = await open(`/dashboards/${dashboard}`)
  await page.locator('.placed').nth(99).waitFor()
  const box = await page.locator('.placed').first().boundingBox()
  await page.mouse.move(box.x + 30, box.y + 20)
  await page.mouse.down()
  await page.evaluate(() => {
    window.frames_ = []
    let last
    const frame = (now) => {
      if (last !== undefined) window.frames_.push(now - last)
      last = now
      requestAnimationFrame(frame)
    }
    requestAnimationFrame(frame)
  })
  for (let i = 0; i < 120; i++) await page.mouse.move(box.x + 30 + i * 3, box.y + 20 + (i % 40) * 4)
  await page.mouse.up()
  say({ worst: Math.max(...(await page.evaluate(() => window.frames_))) })
}
await browser.close()
