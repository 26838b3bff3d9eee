// Measures panels in Debian's Chromium, and prints what it found as lines of JSON: when changes were drawn, or how
// long pictures take while controls are arranged. A line {"ready": true} says that all is open.
// Usage: node panels.mjs changes|arrange http://127.0.0.1:8420 DASHBOARD BROWSERS
import { chromium } from '@playwright/test'

const [what, hub, dashboard, browsers] = process.argv.slice(2)
const LASTS = 12_000 // longer than what is sent takes
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

if (what === 'changes') {
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
