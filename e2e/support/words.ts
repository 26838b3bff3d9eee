import { expect, type Locator, type Page } from '@playwright/test'

/** Returns once the page has drawn what was so. */
export const drawn = (page: Page): Promise<unknown> =>
  page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))))

/** Returns once all pages of the interface are read, as they are after a while, so that they open without the hub. */
export const pagesRead = (page: Page): Promise<unknown> =>
  page.waitForFunction(() => performance.getEntriesByName('pages read').length > 0)

/** Tries again what a list that was shut by a page that scrolled kept from being done. */
const again = (what: () => Promise<void>): Promise<void> =>
  expect(what).toPass({ timeout: process.env.CI ? 120_000 : 40_000 })

/** What waits in one try. */
const ONE_TRY = { timeout: 2000 }

/** Clicks a word that is in view. A page that scrolls, as it does when a word comes into view, shuts the list of the word again:
 * so it is scrolled first. The list of the word before is not this one's, so it is waited for until that is gone. */
async function press(word: Locator): Promise<void> {
  const page = word.page()
  await expect(page.locator('.p-anchored-overlay-leave-active')).toHaveCount(0)
  await word.scrollIntoViewIfNeeded(ONE_TRY)
  await drawn(page)
  await word.click(ONE_TRY)
}

/** Opens a word of a sentence and clicks what is in its list. A choice by its name is typed where there is a field for that:
 * of a long list only what is in view is there. */
export async function open(word: Locator, choice: string | Locator): Promise<void> {
  const page = word.page()
  const option = typeof choice === 'string' ? page.getByRole('option', { name: choice, exact: true }) : choice
  const search = page.locator('.p-popover').getByRole('searchbox')
  await expect(page.locator('.p-anchored-overlay-leave-active')).toHaveCount(0)
  await again(async () => {
    if (!(await option.isVisible())) {
      if (!(await search.isVisible())) await press(word)
      await expect(search.or(option).first()).toBeVisible(ONE_TRY)
      if (typeof choice === 'string' && (await search.isVisible())) await search.fill(choice)
    }
    await option.click(ONE_TRY)
  })
}

/** Chooses one of the choices of a word in a sentence. */
export const pick = (scope: Page | Locator, label: string | RegExp, choice: string): Promise<void> =>
  open(scope.getByRole('button', { name: label }).first(), choice)

/** Begins a rule from nothing, leaving the list of its first place, which opens by itself. */
export async function fromNothing(page: Page): Promise<void> {
  await page.getByRole('button', { name: /^From nothing/ }).click()
  await expect(page.locator('.p-popover')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.locator('.p-popover')).toHaveCount(0)
}

/** Types a number into a word of a sentence. */
export async function fill(word: Locator, value: string, unit?: string): Promise<void> {
  const form = word.page().locator('.p-popover form')
  await again(async () => {
    if (!(await form.isVisible())) await press(word)
    await form.locator('input').fill(value, ONE_TRY)
    if (unit) await form.locator('select').selectOption({ label: unit }, ONE_TRY)
    await form.getByRole('button', { name: 'Set' }).click(ONE_TRY)
  })
  await expect(form).toBeHidden()
}

/** Types a number into the first word of a sentence that is labelled so. */
export const type = (scope: Page | Locator, label: RegExp, value: string, unit?: string): Promise<void> =>
  fill(scope.getByRole('button', { name: label }).first(), value, unit)

/** Chooses from a list that drops down. */
export async function choose(page: Page, label: string, choice: RegExp): Promise<void> {
  await page.getByRole('combobox', { name: label }).click()
  await page.getByRole('option', { name: choice }).click()
}

/** The row of a list with words in it; the page beside the list may name the same. */
export const row = (page: Page, words: string | RegExp) => page.locator('a[data-row]').filter({ hasText: words })
