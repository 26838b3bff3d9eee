import { expect, type Locator, type Page } from '@playwright/test'

/** Opens a word of a sentence and clicks what is in its list. A choice by its name is typed where there is a field for that:
 * of a long list only what is in view is there. A page that scrolls, as it does when a word comes into view, shuts the list
 * again: then once more. */
export async function open(word: Locator, choice: string | Locator): Promise<void> {
  const page = word.page()
  const option = typeof choice === 'string' ? page.getByRole('option', { name: choice, exact: true }) : choice
  const search = page.locator('.p-popover').getByRole('searchbox')
  await expect(async () => {
    if (!(await option.isVisible())) {
      if (!(await search.isVisible())) await word.click({ timeout: 5000 })
      await expect(search.or(option).first()).toBeVisible({ timeout: 5000 })
      if (typeof choice === 'string' && (await search.isVisible())) await search.fill(choice)
    }
    await option.click({ timeout: 5000 })
  }).toPass({ timeout: process.env.CI ? 120_000 : 40_000 })
}

/** Chooses one of the choices of a word in a sentence. */
export const pick = (scope: Page | Locator, label: string | RegExp, choice: string): Promise<void> =>
  open(scope.getByRole('button', { name: label }).first(), choice)

/** Types a number into a word of a sentence. */
export async function type(scope: Page | Locator, label: RegExp, value: string, unit?: string): Promise<void> {
  const page = 'page' in scope ? scope.page() : scope
  await scope.getByRole('button', { name: label }).first().click()
  const form = page.locator('.p-popover form')
  await form.locator('input').fill(value)
  if (unit) await form.locator('select').selectOption({ label: unit })
  await form.getByRole('button', { name: 'Set' }).click()
  await expect(form).toBeHidden()
}

/** Chooses from a list that drops down. */
export async function choose(page: Page, label: string, choice: RegExp): Promise<void> {
  await page.getByRole('combobox', { name: label }).click()
  await page.getByRole('option', { name: choice }).click()
}
