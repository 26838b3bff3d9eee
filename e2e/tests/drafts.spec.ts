import { expect, test } from '../support/fixtures'
import { type } from '../support/words'

test.use({ flags: ['--fresh'] })

test('a draft is in every browser; when two change it at the same time nobody’s work is lost', async ({
  hub,
  page,
  browser,
}) => {
  const elsewhere = await browser.newContext()
  const other = await elsewhere.newPage()
  const address = `${hub.url}/rules/rule-stair`
  await page.goto(address)
  await other.goto(address)

  await type(page, /^Value: 60 %/, '35')
  await expect(other.getByRole('button', { name: /^Value: 35 %/ })).toBeVisible()
  await expect(other.getByText('This draft was changed in another window.')).toBeVisible()
  await expect(other.getByRole('link', { name: /Stair light/ }).first()).toContainText('draft')

  // Each changes it while the other’s change is on its way.
  await elsewhere.route('**/api/rules/rule-stair/draft*', (route) => route.abort())
  await type(other, /^Value: 35 %/, '45')
  await expect(other.getByText('kept in this browser until it does')).toBeVisible()
  await type(page, /^Value: 35 %/, '25')
  await expect
    .poll(
      async () =>
        (await hub.get<{ document: { do: { value: number }[] } }>('/api/rules/rule-stair/draft')).document.do[0]?.value,
    )
    .toBe(25)
  // Even leaving loses nothing.
  await other.goto(`${hub.url}/journal`)
  await elsewhere.unroute('**/api/rules/rule-stair/draft*')
  await other.goto(address)
  const clash = other.getByRole('alert', { name: 'Two drafts' })
  await expect(clash).toBeVisible()
  await expect(other.getByRole('button', { name: /^Value: 45 %/ })).toBeVisible()
  await clash.getByRole('button', { name: 'What differs' }).click()
  await expect(clash).toContainText('hold Stair lamp brightness at 25 %')
  await expect(clash).toContainText('hold Stair lamp brightness at 45 %')
  await clash.getByRole('button', { name: 'Keep mine' }).click()
  await expect(clash).toBeHidden()
  await expect(page.getByRole('button', { name: /^Value: 45 %/ })).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(other.getByRole('button', { name: /^Value: 25 %/ })).toBeVisible()

  // One puts another version live while the draft is there: that is said, and stays among the earlier ones.
  const rules = await hub.get<{ id: string; revision: number }[]>('/api/rules')
  const live = await hub.get<{ text: string }>('/api/home').then(() => rules.find((r) => r.id === 'rule-stair')!)
  const { id, revision, state, usedBy, draft, ...document } = live as unknown as Record<string, unknown>
  expect([id, typeof state, Array.isArray(usedBy), !!draft]).toEqual(['rule-stair', 'object', true, true])
  await hub.send('PUT', `/api/rules/rule-stair?revision=${String(revision)}`, {
    ...document,
    note: 'Changed elsewhere',
  })
  await expect(page.getByText('What is live was changed since this draft was begun')).toBeVisible()
  await page.getByRole('button', { name: 'Put live over it' }).click()
  await expect(page.getByText('Stair light is live.')).toBeVisible()
  await expect(other.getByText('a draft differs from what is live')).toBeHidden()
  await expect(other.getByRole('button', { name: /^Value: 25 %/ })).toBeVisible()
  await elsewhere.close()
})
