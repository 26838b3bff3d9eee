import { expect, test as base } from '@playwright/test'
import { Hub } from './hub'

/** A test with a hub: the demo home, or an empty one where the test says `test.use({ flags: ['--empty'] })`. */
export const test = base.extend<{ flags: string[]; hub: Hub }>({
  flags: [['--empty'], { option: true }],
  hub: async ({ flags }, use, info) => {
    const hub = await Hub.start(...flags)
    await use(hub)
    if (info.status !== info.expectedStatus) await info.attach('hub output', { body: hub.output })
    await hub.stop()
  },
  // Whatever a test does: no page needs more than the content security policy lets it.
  page: async ({ page }, use) => {
    const against: string[] = []
    page.on('console', (said) => {
      const { url, lineNumber } = said.location()
      if (said.text().includes('Content Security Policy')) against.push(`${said.text()} (${url}:${lineNumber})`)
    })
    await use(page)
    expect(against, 'what a page did against its content security policy').toEqual([])
  },
})

export { expect }
