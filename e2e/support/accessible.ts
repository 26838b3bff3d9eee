import { expect, type Page } from '@playwright/test'
import axe from 'axe-core'
import { drawn } from './words'

const LOOKS = ['light', 'dark'] as const

/** Expects that nothing serious is wrong with a page for those who use it otherwise than by eye and pointer, in both looks,
 * between which only colors differ. */
export async function expectAccessible(page: Page, name: string): Promise<void> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe.source)
  for (const look of LOOKS) {
    await page.emulateMedia({ colorScheme: look })
    await expect(page.locator('html')).toHaveAttribute('data-look', look === 'light' ? 'day' : 'night')
    await drawn(page)
    const options: axe.RunOptions = { resultTypes: ['violations'] }
    if (look !== 'light') options.runOnly = ['color-contrast', 'link-in-text-block']
    const violations = await page.evaluate(
      async (given) => (await (window as unknown as { axe: typeof axe }).axe.run(document, given)).violations,
      options,
    )
    const serious = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical')
    expect(serious.map((v) => `${name}, ${look}: ${v.id} at ${v.nodes[0]?.target.join(' ')}`)).toEqual([])
  }
}
