// Measures the list of devices of a running hub in Debian's Chromium and prints what it found as JSON:
// from a typed letter to the drawn result, and the longest frame while the list is scrolled.
// Usage: node list.mjs http://127.0.0.1:8420
import { chromium } from '@playwright/test'

const url = process.argv[2]
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
await page.goto(`${url}/devices`)
await page.locator('.p-virtualscroller a').first().waitFor()
const all = await page.evaluate(() => document.querySelector('.p-virtualscroller').scrollHeight)

// Until the second frame after the key, what was typed is on the screen.
const search = page.getByLabel('Search devices')
await search.focus()
const searches = []
for (const letter of ['device-04217', 'device-099', 'device-1', '0', 'device-00001']) {
  await search.fill('')
  await page.waitForFunction((height) => document.querySelector('.p-virtualscroller')?.scrollHeight === height, all)
  searches.push(
    await page.evaluate(
      (text) =>
        new Promise((resolve) => {
          const input = document.activeElement
          const began = performance.now()
          input.value = text
          input.dispatchEvent(new Event('input', { bubbles: true }))
          requestAnimationFrame(() => requestAnimationFrame(() => resolve(performance.now() - began)))
        }),
      letter,
    ),
  )
}
await search.fill('')
await page.waitForFunction((height) => document.querySelector('.p-virtualscroller')?.scrollHeight === height, all)

const list = await page.locator('.p-virtualscroller').boundingBox()
await page.mouse.move(list.x + 100, list.y + 300)
await page.evaluate(() => {
  window.frames_ = []
  let last = performance.now()
  const frame = (now) => {
    window.frames_.push(now - last)
    last = now
    window.measuring = requestAnimationFrame(frame)
  }
  window.measuring = requestAnimationFrame((now) => {
    last = now
    requestAnimationFrame(frame)
  })
})
for (let i = 0; i < 150; i++) await page.mouse.wheel(0, i % 3 === 2 ? 4000 : 500)
const frames = await page.evaluate(() => {
  cancelAnimationFrame(window.measuring)
  return window.frames_
})
await browser.close()
searches.sort((a, b) => a - b)
frames.sort((a, b) => a - b)
console.log(
  JSON.stringify({
    search: searches[Math.floor(searches.length / 2)],
    worstFrame: frames.at(-1),
    p99Frame: frames[Math.floor((frames.length - 1) * 0.99)],
    frames: frames.length,
  }),
)
