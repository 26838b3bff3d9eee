import type { Page } from '@playwright/test'

/** Counts what a person does on a page: its clicks, and the keys that it presses. */
export async function counted(page: Page): Promise<() => Promise<{ clicks: number; keys: number }>> {
  const sum = { clicks: 0, keys: 0 }
  await page.exposeFunction('countedAct', (kind: 'clicks' | 'keys') => void sum[kind]++)
  await page.addInitScript(() => {
    const tell = (kind: string) => (window as unknown as { countedAct: (kind: string) => void }).countedAct(kind)
    addEventListener('pointerdown', (e) => e.isTrusted && tell('clicks'), true)
    addEventListener('keydown', (e) => e.isTrusted && tell('keys'), true)
  })
  return () => Promise.resolve({ ...sum })
}
