import type { Browser, Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'
import type { Hub } from '../support/hub'

const stranger = async (browser: Browser) => (await browser.newContext({ reducedMotion: 'reduce' })).newPage()

/** Has the owner show the code that lets somebody in, and another browser come in by it. */
async function letIn(owner: Page, browser: Browser, hub: Hub, name: string): Promise<Page> {
  const card = owner.getByRole('article', { name })
  await card.getByRole('button', { name: 'Let a phone or tablet in' }).click()
  const dialog = owner.getByRole('dialog', { name: `Let ${name} in` })
  await expect(dialog.getByRole('img', { name: `Picture code that lets ${name} in` })).toBeVisible()
  const [made] = await Promise.all([
    owner.waitForResponse((r) => r.url().endsWith('/code') && r.request().method() === 'POST'),
    dialog
      .getByRole('button', { name: 'Close' })
      .click()
      .then(() => card.getByRole('button', { name: 'Let a phone or tablet in' }).click()),
  ])
  const { code } = (await made.json()) as { code: string }
  const page = await stranger(browser)
  await page.goto(`${hub.url}/enter#${code}`)
  await page.getByRole('button', { name: 'Come in' }).click()
  await expect(page.getByRole('heading', { name: 'Come in' })).toHaveCount(0)
  await dialog.getByRole('button', { name: 'Close' }).click()
  return page
}

async function add(owner: Page, name: string, role: string) {
  await owner.getByRole('textbox', { name: 'Name of the new person' }).fill(name)
  await owner.getByRole('combobox', { name: 'Role of the new person' }).click()
  await owner.getByRole('option', { name: role }).click()
  await owner.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(owner.getByRole('article', { name })).toBeVisible()
}

test.describe('in a home that signs people in', () => {
  test.use({ flags: ['--fresh', '--open=false'] })

  test('nothing but set-up is there; an owner is made, lets in a member and a guest, who sees one dashboard until tomorrow', async ({
    hub,
    page: owner,
    browser,
  }) => {
    // Until somebody owns the home every address shows how to.
    await owner.goto(`${hub.url}/rules`)
    await expect(owner.getByRole('heading', { name: 'Become the owner' })).toBeVisible()
    const enter = async (code: string, password: string) => {
      await owner.getByLabel('Code').fill(code)
      await owner.getByLabel('Name').fill('Nell')
      await owner.getByLabel('Password', { exact: true }).fill(password)
      await owner.getByRole('button', { name: 'Become the owner' }).click()
    }
    await enter(hub.code, 'short')
    await expect(owner.getByRole('alert')).toHaveText('A password has from 8 to 200 characters.')
    for (let i = 0; i < 3; i++) {
      await enter('AAAA-BBBB-CCCC-DDDD', 'under the weir')
      await expect(owner.getByRole('alert')).toContainText(/not the code|too many wrong ones/)
    }
    await enter('AAAA-BBBB-CCCC-DDDD', 'under the weir')
    await expect(owner.getByRole('alert')).toContainText('There were too many wrong ones.')
    await expect(async () => {
      if (await owner.getByLabel('Code').isVisible()) await enter(hub.code, 'under the weir')
      await expect(owner.getByRole('heading', { name: 'The house now' })).toBeVisible({ timeout: 3000 })
    }).toPass()

    // A member by a picture code: sees and operates, and sets nothing up.
    await owner.goto(`${hub.url}/household/people`)
    await add(owner, 'Wren', 'member')
    const tove = await letIn(owner, browser, hub, 'Wren')
    await expect(tove.getByRole('heading', { name: 'The house now' })).toBeVisible()
    await expect(tove.getByRole('link', { name: 'Dashboards' })).toBeVisible()
    await expect(tove.getByRole('link', { name: 'Rules' })).toHaveCount(0)
    await tove.goto(`${hub.url}/rules`)
    await expect(tove.getByRole('heading', { name: 'This is the owner’s' })).toBeVisible()
    await tove.goto(`${hub.url}/devices`)
    const lamp = tove.getByRole('region', { name: 'Devices' }).getByRole('switch', { name: 'Table lamp' })
    // By the hour at which the test runs it is on or off.
    const was = await lamp.getAttribute('aria-checked')
    await lamp.click()
    await expect(lamp).toHaveAttribute('aria-checked', was === 'true' ? 'false' : 'true')
    await tove.getByRole('link', { name: 'Table lamp' }).first().click()
    await expect(tove.getByRole('heading', { name: 'Table lamp' })).toBeVisible()
    await expect(tove.getByText(/^By Wren · /).first()).toBeVisible()
    await expect(tove.getByRole('button', { name: 'Remove' })).toHaveCount(0)

    // What the owner hides is offered to the household no more.
    await tove.goto(`${hub.url}/hand`)
    const offered = tove.getByRole('article', { name: 'Film' })
    await expect(offered.first()).toBeVisible()
    await owner.goto(`${hub.url}/scenes/scene-mill-film`)
    await owner.getByRole('checkbox', { name: /Hidden from the household/ }).click()
    await expect(offered).toHaveCount(0)
    await expect(tove.getByRole('article', { name: 'Evening' }).first()).toBeVisible()
    await tove.keyboard.press('Control+k')
    await tove.keyboard.type('Film')
    await expect(tove.getByRole('option', { name: /^Film/ })).toHaveCount(0)
    await tove.keyboard.press('Escape')
    await owner.goto(`${hub.url}/scenes`)
    await expect(owner.getByRole('link', { name: /Film/ }).first()).toBeVisible()
    await owner.goto(`${hub.url}/household/people`)

    // A guest until tomorrow, with one dashboard.
    await add(owner, 'Ida', 'guest')
    const card = owner.getByRole('article', { name: 'Ida' })
    await card.getByText('Choose dashboards').click()
    await owner.getByRole('option', { name: 'Galley' }).click()
    await owner.keyboard.press('Escape')
    await card.getByRole('combobox', { name: 'How long Ida is let in' }).click()
    await owner.getByRole('option', { name: 'for a day' }).click()
    await expect(card.getByRole('combobox', { name: 'How long Ida is let in' })).toContainText('until')
    const ada = await letIn(owner, browser, hub, 'Ida')
    await expect(ada).toHaveURL(/\/panel\/dashboard-galley/)
    await expect(ada.getByRole('article', { name: 'Table lamp' })).toBeVisible()
    for (const path of ['/rules', '/devices', '/today', '/household/people', '/journal']) {
      await ada.goto(hub.url + path)
      await expect(ada).toHaveURL(/\/panel\/dashboard-galley/)
      await expect(ada.getByRole('navigation', { name: 'Places' })).toHaveCount(0)
    }
    const tries = await ada.evaluate(async () => {
      const status = async (path: string, method = 'GET') => (await fetch(path, { method })).status
      return [
        await status('/api/devices'),
        await status('/api/journal'),
        await status('/api/people'),
        await status('/api/rules/rule-stairs/run', 'POST'),
        await status('/things'),
      ]
    })
    expect(tries).toEqual([403, 403, 403, 403, 401])

    // The clock moves on: the guest is out, and has a new code to come in by no more.
    await hub.askAs(owner)
    await hub.advance(25 * 3600)
    await expect(ada.getByRole('heading', { name: 'Sign in' })).toBeVisible()
    await expect(tove.getByRole('main')).toBeVisible()
    await expect(card.getByText('was in until')).toBeVisible()

    // The journal says who did what, and who came in.
    await owner.goto(`${hub.url}/journal?words=Wren`)
    await expect(owner.getByText(/Table lamp: .* by Wren/).first()).toBeVisible()
    await expect(owner.getByText(/Wren came in by a picture code/).first()).toBeVisible()
    await owner.goto(`${hub.url}/journal?words=kept+out`)
    await expect(owner.getByText(/Kept out: a wrong owner's code/).first()).toBeVisible()
  })
})

test('the demo lets whoever is at the machine in, who may look at it as a guest does', async ({ hub, page }) => {
  await page.goto(`${hub.url}/household/people`)
  await add(page, 'Ada', 'guest')
  await page.getByRole('article', { name: 'Ada' }).getByRole('button', { name: 'Look as Ada' }).click()
  await expect(page.getByText('You see the home as Ada does.')).toBeVisible()
  await expect(page.getByRole('heading', { name: 'Nothing here for you yet' })).toBeVisible()
  await page.reload()
  await expect(page.getByRole('heading', { name: 'Nothing here for you yet' })).toBeVisible()
  await page.getByRole('button', { name: 'Back to your own' }).click()
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible()
  await page.goto(`${hub.url}/household/people`)
  await page.getByRole('button', { name: 'Remove Ada' }).click()
  await expect(page.getByRole('article', { name: 'Ada' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(page.getByRole('article', { name: 'Ada' })).toBeVisible()
})
