import { expect, test } from '../support/fixtures'
import type { Hub } from '../support/hub'
import { fromNothing, pick, type } from '../support/words'

interface State {
  name: string
  text: string
  holders: {
    kind: string
    inEffect: boolean
    suspended?: boolean
    text: string
  }[]
}
interface Device {
  id: string
  title: string
  states: State[]
}

async function device(hub: Hub, title: string): Promise<Device> {
  const all = await hub.get<Device[]>('/api/devices')
  const found = all.find((d) => d.title === title)
  if (!found) throw new Error(`there is no ${title}`)
  return found
}
const brightness = async (hub: Hub, title: string) =>
  (await device(hub, title)).states.find((s) => s.name === 'brightness')

test('from an empty home to a lamp held by a rule, by hand, on a dashboard and across a power cut', async ({
  hub,
  page,
  context,
  browser,
}) => {
  await page.goto(hub.url)
  await expect(page.getByRole('heading', { name: 'First steps' })).toBeVisible()

  await test.step('pair with the bridge, pressing its button on the bench', async () => {
    await page.goto(`${hub.url}/found`)
    await page.getByRole('button', { name: 'Pair', exact: true }).click()
    await expect(page.getByText('Press the button on the bridge')).toBeVisible()
    const bench = await context.newPage()
    await bench.goto(`${hub.url}/bench`)
    await bench.getByRole('button', { name: 'Press its button' }).click()
    await bench.close()
    await expect(page.getByText('The key works: 21 devices behind the bridge')).toBeVisible()
  })

  await test.step('take the sensor and two lamps into the home, with names and rooms', async () => {
    const wanted = [
      ['QM-2 Presence Node 31', 'Landing sensor', 'Landing'],
      ['Lumbrook TWX2 Tuned Lamp 7', 'Stair lamp', 'Landing'],
      ['Lumbrook DMX9 Warm Lamp 4', '', 'Galley'],
    ] as const
    for (const [label, name, room] of wanted) {
      await page.getByLabel(`Take ${label} into the home`).check()
      if (name) await page.getByLabel(`Name for ${label}`).fill(name)
      await page.getByRole('combobox', { name: `Room for ${label}` }).click()
      const existing = page.getByRole('option', { name: room, exact: true })
      if (await existing.isVisible()) {
        await existing.click()
      } else {
        await page.getByPlaceholder('New room').fill(room)
        await page.getByRole('button', { name: 'Add', exact: true }).click()
      }
      await expect(page.getByRole('option')).toHaveCount(0)
    }
    await expect(page.getByLabel('Name for Lumbrook DMX9 Warm Lamp 4')).toHaveAttribute('placeholder', 'Galley lamp')
    await page.getByRole('button', { name: 'Take 3 into the home' }).click()
    await expect(page.getByText('3 devices are in the home.')).toBeVisible()
  })

  const stair = await device(hub, 'Stair lamp')
  await test.step('switch each lamp from its page, and from the maker’s app; the hub follows', async () => {
    for (const title of ['Stair lamp', 'Galley lamp']) {
      await page.goto(`${hub.url}/devices/${(await device(hub, title)).id}`)
      await page.getByRole('button', { name: 'On', exact: true }).click()
      await expect.poll(async () => (await brightness(hub, title))?.text).toBe('100 %')
      await expect(page.locator('.figure b').first()).toHaveText('100 %')
      await page.getByRole('button', { name: 'Off', exact: true }).click()
      await expect(page.locator('.figure b').first()).toHaveText('off')
    }
    await hub.advance(5)
    await page.goto(`${hub.url}/devices/${stair.id}`)
    const bench = await context.newPage()
    await bench.goto(`${hub.url}/bench?place=Landing`)
    await bench.getByRole('switch', { name: 'Lumbrook TWX2 Tuned Lamp 7 in its maker’s app' }).click()
    await expect(page.locator('.figure b').first()).toHaveText('100 %')
    await expect(page.getByText('By hand, at the device').first()).toBeVisible()
    await bench.getByRole('switch', { name: 'Lumbrook TWX2 Tuned Lamp 7 in its maker’s app' }).click()
    await bench.close()
    await expect(page.locator('.figure b').first()).toHaveText('off')
  })

  await test.step('capture a scene', async () => {
    await page.goto(`${hub.url}/scenes`)
    await page.getByRole('button', { name: 'New scene' }).click()
    await page.getByLabel('Name', { exact: true }).fill('All dark')
    for (const room of ['Landing', 'Galley']) await page.getByRole('checkbox', { name: room, exact: true }).check()
    await page.getByRole('button', { name: 'Capture' }).click()
    await expect(page.getByText('in effect now')).toBeVisible()
    await expect.poll(async () => (await hub.get<{ title: string }[]>('/api/scenes'))[0]?.title).toBe('All dark')
  })

  await hub.bench({ what: 'walk', room: 'Galley' })
  await hub.bench({ what: 'jump', clock: '21:00' })

  await test.step('write the rule as a sentence', async () => {
    await page.goto(`${hub.url}/rules`)
    await page.getByRole('button', { name: 'Write the first rule' }).click()
    await fromNothing(page)
    await page.getByLabel('Name of the rule').fill('Stair light')
    await page.getByLabel('Name of the rule').blur()
    await pick(page, /^Device and property/, 'Landing sensor motion')
    await page.getByRole('button', { name: 'Add a condition', exact: true }).click()
    await pick(page, 'Device and property: choose a device', 'Landing sensor light')
    await type(page, /^Value: choose/, '20')
    await page.getByRole('button', { name: 'Add a step', exact: true }).click()
    await pick(page, /^What to set/, 'Stair lamp brightness')
    await type(page, /^Value: choose/, '60')
    await type(page, /^Ended for at least/, '30', 's')
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect(page.getByText('Stair light is live.')).toBeVisible()
    await expect(page.locator('.line').first()).toContainText('waiting')
  })

  await test.step('walk in: the lamp is on, and its reason line says why', async () => {
    await hub.bench({ what: 'walk', room: 'Landing' })
    await page.goto(`${hub.url}/devices/${stair.id}`)
    await expect(page.locator('.figure b').first()).toHaveText('60 %')
    await expect(page.locator('article.property').first()).toContainText('Stair light rule')
  })

  await test.step('set it to 20 % by hand: the rule leaves it', async () => {
    const exact = page.getByLabel('Brightness, exactly')
    await exact.fill('20')
    await exact.press('Enter')
    await expect(page.locator('.figure b').first()).toHaveText('20 %')
    await expect(page.locator('article.property').first()).toContainText('By hand')
    await expect(page.locator('article.property').first()).toContainText('Stair light waits below')
    await hub.advance(10)
    await expect(page.locator('.figure b').first()).toHaveText('20 %')
  })

  await test.step('walk out: it stays at the hand’s 20 %', async () => {
    await hub.bench({ what: 'walk', room: 'Galley' })
    await hub.advance(120)
    await expect.poll(async () => (await brightness(hub, 'Stair lamp'))?.holders.length).toBe(1)
    expect((await brightness(hub, 'Stair lamp'))?.text).toBe('20 %')
  })

  await test.step('in and out again untouched: 60 %, then back to 20 %', async () => {
    await hub.bench({ what: 'walk', room: 'Landing' })
    await expect.poll(async () => (await brightness(hub, 'Stair lamp'))?.text).toBe('60 %')
    await hub.advance(10)
    await hub.bench({ what: 'walk', room: 'Galley' })
    await hub.advance(40)
    await expect.poll(async () => (await brightness(hub, 'Stair lamp'))?.text).toBe('60 %')
    await hub.advance(15)
    await expect.poll(async () => (await brightness(hub, 'Stair lamp'))?.text).toBe('20 %')
  })

  await test.step('the journal shows the whole chain from motion to lamp', async () => {
    await page.goto(`${hub.url}/journal`)
    await page
      .getByRole('button', { name: /Stair lamp: brightness confirmed at 60 %/ })
      .first()
      .click()
    const chain = page.locator('aside .chain li')
    await expect(chain.nth(0)).toContainText('Landing sensor: motion moving')
    await expect(chain.nth(1)).toContainText('Rule Stair light began to hold')
    await expect(chain.nth(2)).toContainText('Stair lamp: brightness asked for 60 %')
    await expect(chain.nth(3)).toContainText('Stair lamp: brightness confirmed at 60 %')
  })

  await test.step('put lamp, scene and rule on a dashboard and operate it on a phone', async () => {
    await page.goto(`${hub.url}/dashboards`)
    await pick(page, 'New dashboard', 'an empty one')
    await page.getByRole('button', { name: 'Add a control' }).click()
    await pick(page, 'Add: Lamp', 'Stair lamp brightness')
    await pick(page, 'Add: Scene', 'All dark')
    await pick(page, 'Add: Rule', 'Stair light')
    await expect
      .poll(async () => (await hub.get<{ controls: unknown[] }[]>('/api/dashboards'))[0]?.controls.length)
      .toBe(3)
    const address = (await page.getByRole('link', { name: 'Show it' }).getAttribute('href')) ?? ''
    await page.goto(hub.url + address)
    const other = await browser.newContext({
      viewport: { width: 390, height: 844 },
    })
    const phone = await other.newPage()
    await phone.goto(hub.url + address)
    const onPhone = phone.getByRole('article', { name: 'Stair lamp' })
    const onWall = page.getByRole('article', { name: 'Stair lamp' })
    await expect(onPhone.locator('.figure')).toHaveText(/^20/)
    await phone.getByRole('article', { name: 'All dark' }).getByRole('button').click()
    await expect(onPhone.locator('.figure')).toHaveText('off')
    await expect(onWall.locator('.figure')).toHaveText('off')
    await expect(page.getByRole('article', { name: 'All dark' }).locator('.figure')).toHaveText('on')
    await onPhone.getByRole('button', { name: /^Stair lamp/ }).click()
    await expect(onWall.locator('.figure')).toHaveText(/^20/)
    await other.close()
  })

  await test.step('kill -9 while the rule holds: definitions, hold and timer go on', async () => {
    await hub.advance(5)
    await hub.bench({ what: 'walk', room: 'Landing' })
    await expect.poll(async () => (await brightness(hub, 'Stair lamp'))?.text).toBe('60 %')
    await hub.bench({ what: 'walk', room: 'Galley' })
    await hub.advance(30) // 20 s until the sensor says clear, then 10 of the 30 s
    type RuleView = {
      title: string
      state: { phase: string; deadline?: string }
    }
    const rule = async () => (await hub.get<RuleView[]>('/api/rules'))[0]
    await expect.poll(async () => (await rule())?.state.phase).toBe('ending')
    const before = await rule()
    await page.goto(`${hub.url}/devices/${stair.id}`)
    await expect(page.locator('article.property').first()).toContainText('Stair light rule')
    await hub.kill()
    await expect(page.locator('p.lost').first()).toBeVisible()
    await hub.again()
    await expect(page.locator('p.lost')).toBeHidden()
    expect((await rule())?.state).toMatchObject({
      phase: 'ending',
      deadline: before?.state.deadline,
    })
    const held = (await brightness(hub, 'Stair lamp'))?.holders.find((h) => h.inEffect)
    expect(held).toMatchObject({ kind: 'rule', text: '60 %' })
    await expect(page.locator('article.property').first()).toContainText('Stair light rule')
    expect(await hub.get<unknown[]>('/api/scenes')).toHaveLength(1)
    expect(await hub.get<unknown[]>('/api/dashboards')).toHaveLength(1)
    expect((await hub.get<{ own?: boolean }[]>('/api/devices')).filter((d) => !d.own)).toHaveLength(3)
    await hub.advance(25)
    await expect(page.locator('.figure b').first()).toHaveText('20 %')
  })
})
