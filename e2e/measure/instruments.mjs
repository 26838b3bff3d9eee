// Measures a page of instruments that change all the time, in Debian's Chromium, and prints what it found as JSON: how many
// changes a second were drawn, and how long the frames took.
// Usage: node instruments.mjs http://127.0.0.1:8420/panel/sixty 60
import { chromium } from '@playwright/test'

const [url, count] = process.argv.slice(2)
const SECONDS = 10
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
})
// So high that none of them is out of sight.
const page = await browser.newPage({ viewport: { width: 1280, height: 1560 } })
await page.goto(url)
await page.waitForFunction((n) => document.querySelectorAll('[role=slider]').length === Number(n), count)
const found = await page.evaluate(
  (seconds) =>
    new Promise((resolve) => {
      let changes = 0
      const observer = new MutationObserver((all) => (changes += all.length))
      observer.observe(document.body, { subtree: true, attributeFilter: ['aria-valuenow'] })
      const frames = []
      let last
      const began = performance.now()
      const frame = (now) => {
        if (last !== undefined) frames.push(now - last)
        last = now
        if (now - began < seconds * 1000) return requestAnimationFrame(frame)
        observer.disconnect()
        frames.sort((a, b) => a - b)
        resolve({
          changes: changes / seconds,
          worstFrame: frames.at(-1),
          p99Frame: frames[Math.floor((frames.length - 1) * 0.99)],
          frames: frames.length,
        })
      }
      // The first second, in which all is read in, is not measured.
      setTimeout(() => requestAnimationFrame(frame), 1000)
    }),
  SECONDS,
)
await browser.close()
console.log(JSON.stringify(found))
