import { fileURLToPath } from 'node:url'
import { type Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'

// The pictures of the README, from the demo home. Run by `make screenshots`.
const folder = fileURLToPath(new URL('../../docs/screenshots/', import.meta.url))

async function picture(page: Page, name: string): Promise<void> {
  await page.mouse.move(0, 799)
  await page.evaluate(() => document.fonts.ready)
  await expect(page.getByText('Asking the hub …')).toHaveCount(0)
  await page.screenshot({ path: `${folder}${name}.png` })
}

test.describe('the demo home', () => {
  test.use({ flags: ['--fresh', '--history', '3'] })

  test('every main view', async ({ hub, page }) => {
    await hub.bench({ what: 'live', on: false })
    await hub.bench({ what: 'walk', room: 'Galley' })
    await hub.bench({ what: 'jump', clock: '19:42' })
    await hub.bench({ what: 'walk', room: 'Landing' })
    await hub.advance(3)
    type Device = { id: string; title: string }
    const stair = (await hub.get<Device[]>('/api/devices')).find((d) => d.title === 'Stair lamp')
    await hub.send('PUT', `/api/devices/${stair?.id}/properties/brightness`, { value: 20 })
    await hub.advance(4)

    await page.goto(`${hub.url}/devices/${stair?.id}`)
    await expect(page.locator('.figure b').first()).toHaveText('20 %')
    await expect(page.locator('.chain li').first()).toBeVisible()
    await picture(page, 'devices')
    await page.goto(`${hub.url}/today`)
    await expect(page.getByText(/rules acted/)).toBeVisible()
    await expect(page.locator('.spark .dot').first()).toBeAttached()
    await picture(page, 'today')
    await page.goto(`${hub.url}/rules/rule-stair`)
    await expect(page.getByText('holds', { exact: true }).first()).toBeVisible()
    await picture(page, 'rule')
    await hub.send('POST', '/api/rules/rule-river/run')
    await hub.advance(3)
    await page.goto(`${hub.url}/household/messages`)
    await expect(page.getByText('The river is high.')).toBeVisible()
    await picture(page, 'household')
    await hub.send('PUT', '/api/devices/own/properties/variable-river-seen', { value: true })
    await hub.advance(10)
    await page.goto(`${hub.url}/scenes/scene-supper`)
    await picture(page, 'scenes')
    await hub.send('POST', '/api/scenes/scene-mill-evening/apply')
    await hub.advance(10)
    await page.goto(`${hub.url}/lights/light-mill-room`)
    await expect(page.getByRole('region', { name: 'Its scenes' })).toContainText('in effect')
    await picture(page, 'light')
    await page.goto(`${hub.url}/curves/curve-living`)
    await expect(page.getByRole('slider', { name: 'Point at 12:30' })).toBeVisible()
    await picture(page, 'curve')
    await page.goto(`${hub.url}/moving/sequence-harvest`)
    await expect(page.getByRole('figure', { name: /^The coming/ })).toBeVisible()
    await picture(page, 'moving')
    const galley = (await hub.get<Device[]>('/api/devices')).find((d) => d.title === 'Galley plate')
    await page.goto(`${hub.url}/buttons/${galley?.id}`)
    await expect(page.getByRole('region', { name: 'Button 1' })).toContainText('now')
    await picture(page, 'buttons')
    await page.goto(`${hub.url}/links/link-dial`)
    const seen = page.getByRole('region', { name: 'What goes through' })
    await hub.bench({ what: 'turn', notches: 45 })
    await expect(seen.getByRole('img', { name: 'Source: 45 values' })).toBeVisible()
    await hub.bench({ what: 'turn', notches: -20 })
    await expect(seen.getByRole('img', { name: 'Source: 65 values' })).toBeVisible()
    await picture(page, 'links')
    await page.goto(`${hub.url}/dashboards/dashboard-galley`)
    await expect(page.locator('.placed .spark .dot').first()).toBeAttached()
    await page.getByRole('group', { name: /^Table lamp: column/ }).click()
    await picture(page, 'dashboard')
    await page.goto(`${hub.url}/journal`)
    await page
      .getByRole('button', { name: /Stair lamp: brightness asked for 60 %/ })
      .first()
      .click()
    await expect(page.locator('.chain li').first()).toBeVisible()
    await picture(page, 'journal')
    await page.goto(`${hub.url}/bench`)
    await expect(page.getByText('Away from home')).toBeVisible()
    await picture(page, 'bench')
    await page.goto(`${hub.url}/connections/gateways`)
    await expect(page.getByRole('heading', { name: 'Its devices in the home' })).toBeVisible()
    await picture(page, 'connections')
    await page.goto(`${hub.url}/household/people`)
    await expect(page.getByRole('article', { name: 'Tove' })).toBeVisible()
    await picture(page, 'people')

    const devices = await hub.get<Device[]>('/api/devices')
    const id = (title: string) => devices.find((d) => d.title === title)?.id
    const looked = ['Galley thermometer~temperature', 'Mill room climate~humidity', 'Landing sensor~motion'].map(
      (s) => {
        const [title, name] = s.split('~')
        return `series=${id(title!)}~${name}`
      },
    )
    await page.goto(`${hub.url}/history?last=259200000&${looked.join('&')}`)
    await expect(page.getByRole('row', { name: /Landing sensor/ })).toContainText('% of the time')
    await picture(page, 'history')

    await page.emulateMedia({ colorScheme: 'dark' })
    await page.goto(`${hub.url}/panel/dashboard-wall`)
    await expect(page.getByRole('article').first()).toBeVisible()
    await expect(page.locator('.drawn canvas')).toBeVisible()
    await picture(page, 'panel')
    await page.setViewportSize({ width: 390, height: 844 })
    await page.goto(
      `${hub.url}/room/${(await hub.get<{ rooms: { id: string; title: string }[] }>('/api/home')).rooms.find((r) => r.title === 'Mill room')!.id}`,
    )
    for (const [address, name] of [
      [page.url(), 'Mill room'],
      [`${hub.url}/devices/${id('Table lamp')}`, 'Table lamp'],
      [`${hub.url}/scenes/scene-supper`, 'Supper'],
    ] as const) {
      await page.goto(address)
      await page.getByRole('button', { name: `Keep ${name} at hand` }).click()
    }
    await page.goto(`${hub.url}/hand`)
    await expect(page.getByRole('region', { name: 'Kept at hand' }).getByRole('article')).toHaveCount(2)
    await expect(page.getByText('is kept at hand.')).toHaveCount(0)
    await picture(page, 'phone')
  })
})

test('what is found', async ({ hub, page }) => {
  await page.goto(`${hub.url}/found`)
  await page.getByRole('button', { name: 'Pair', exact: true }).click()
  await expect(page.getByText('Press the button on the bridge')).toBeVisible()
  await page.getByLabel('Take QM-2 Presence Node 31 into the home').check()
  await page.getByLabel('Take QT-1 Climate Node 33 into the home').check()
  await expect(page.getByLabel('Name for QM-2 Presence Node 31')).toHaveAttribute('placeholder', 'Sensor')
  await picture(page, 'found')
})
