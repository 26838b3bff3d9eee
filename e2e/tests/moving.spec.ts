import type { Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'
import { make } from '../support/home'

const tell = (text: string) => ({ kind: 'notify', text })

/** Drags a step by its grip to a bit above or below the middle of another's line. */
async function drag(page: Page, from: string, to: string, beside: 'above' | 'below') {
  const grip = page.locator(`[data-step="${from}"] > .line .grip`)
  const line = page.locator(`[data-step="${to}"] > .line`)
  await grip.scrollIntoViewIfNeeded()
  const [a, b] = [(await grip.boundingBox())!, (await line.boundingBox())!]
  const at = ({ y, height }: { y: number; height: number }) => y + height * (beside === 'above' ? 0.1 : 0.9)
  const y = at(b)
  await page.mouse.move(a.x + a.width / 2, a.y + a.height / 2)
  await page.mouse.down()
  await page.mouse.move(a.x + a.width / 2, a.y + a.height / 2 + (y > a.y ? 6 : -6), { steps: 3 })
  await page.mouse.move(b.x + b.width / 2, y, { steps: 12 })
  // The lines make room on the way: it is where the other one stands now that counts, until the step stands beside it.
  const stands = () =>
    page.evaluate(
      ([from, to, beside]) => {
        const other = document.querySelector(`[data-step="${to}"]`)
        const next = beside === 'above' ? other?.previousElementSibling : other?.nextElementSibling
        return next?.getAttribute('data-step') === from
      },
      [from, to, beside],
    )
  let nudge = 0
  await expect(async () => {
    await page.mouse.move(b.x + b.width / 2 + (++nudge % 3), at((await line.boundingBox())!), { steps: 3 })
    expect(await stands()).toBe(true)
  }).toPass()
  await page.mouse.up()
}

test('steps are moved by dragging and by keys, also into and out of others, and back by undo', async ({
  hub,
  page,
}) => {
  const id = await make(hub, '/api/rules', {
    title: 'Order',
    enabled: true,
    when: [],
    do: [tell('one'), { kind: 'repeat', times: 2, do: [tell('two'), tell('three')] }, tell('four')],
  })
  // Where lines glide to their places, one is not yet where it is going to be when it is gripped.
  await page.emulateMedia({ reducedMotion: 'reduce' })
  await page.goto(`${hub.url}/rules/${id}`)
  const words = page.getByRole('button', { name: /^What is told/ })
  /** The texts from top to bottom, each with the path of its step. */
  const order = async () =>
    (
      await page
        .locator('[data-step]')
        .evaluateAll((all) =>
          all.map((e) => [
            e.getAttribute('data-step'),
            /“(\w+)”/.exec(e.querySelector('.line')?.textContent ?? '')?.[1],
          ]),
        )
    )
      .filter(([, text]) => text)
      .map(([path, text]) => `${path} ${text}`)
  await expect(words).toHaveCount(4)
  const first = ['do/0 one', 'do/1/do/0 two', 'do/1/do/1 three', 'do/2 four']
  expect(await order()).toEqual(first)

  // By the pointer: within a list, into the repeat, and out of it.
  await drag(page, 'do/2', 'do/0', 'above')
  await expect.poll(order).toEqual(['do/0 four', 'do/1 one', 'do/2/do/0 two', 'do/2/do/1 three'])
  await drag(page, 'do/1', 'do/2/do/1', 'above')
  await expect.poll(order).toEqual(['do/0 four', 'do/1/do/0 two', 'do/1/do/1 one', 'do/1/do/2 three'])
  await drag(page, 'do/1/do/0', 'do/0', 'above')
  await expect.poll(order).toEqual(['do/0 two', 'do/1 four', 'do/2/do/0 one', 'do/2/do/1 three'])

  // Back to how it was, and forth again. What is done within a moment is one step, so how many there are is not said.
  const all = async (name: string) => {
    const button = page.getByRole('button', { name, exact: true })
    await expect(async () => {
      if (await button.isVisible()) await button.click({ timeout: 1000 })
      await expect(button).toBeHidden({ timeout: 100 })
    }).toPass({ timeout: 60_000 })
  }
  await all('Undo')
  await expect.poll(order).toEqual(first)
  await all('Redo')
  await expect.poll(order).toEqual(['do/0 two', 'do/1 four', 'do/2/do/0 one', 'do/2/do/1 three'])

  // By keys: the focus stays with the step.
  await page.locator('[data-step="do/0"]').getByRole('button', { name: 'Move step 1 down' }).focus()
  await page.keyboard.press('Enter')
  await expect.poll(order).toEqual(['do/0 four', 'do/1 two', 'do/2/do/0 one', 'do/2/do/1 three'])
  await page.keyboard.press('Alt+ArrowDown')
  await expect.poll(order).toEqual(['do/0 four', 'do/1/do/0 two', 'do/1/do/1 one', 'do/1/do/2 three'])
  await expect(page.getByRole('button', { name: 'Move step 2.1 down' })).toBeFocused()
  for (let i = 0; i < 3; i++) await page.keyboard.press('Alt+ArrowDown')
  await expect.poll(order).toEqual(['do/0 four', 'do/1/do/0 one', 'do/1/do/1 three', 'do/2 two'])

  // It is what goes live.
  await page.getByRole('button', { name: 'Put live' }).click()
  await expect(page.getByText('Order is live.')).toBeVisible()
  type Step = { text?: string; do?: Step[] }
  const rule = (await hub.get<{ id: string; do: Step[] }[]>('/api/rules')).find((r) => r.id === id)!
  expect(rule.do.map((s) => s.text ?? s.do!.map((x) => x.text))).toEqual(['four', ['one', 'three'], 'two'])
})
