import type { Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'
import { writeFilm, writeHum } from '../support/film'
import type { Hub } from '../support/hub'
import { quietEvening } from '../support/home'

interface Device {
  id: string
  title: string
  silent: boolean
  states: { name: string; value: unknown; text: string }[]
}
const device = async (hub: Hub, title: string) =>
  (await hub.get<Device[]>('/api/devices')).find((d) => d.title === title)!
const at = async (hub: Hub, title: string, name: string) =>
  (await device(hub, title)).states.find((s) => s.name === name)?.value
const set = async (hub: Hub, id: string, name: string, value: unknown) => {
  const answer = await hub.send('PUT', `/api/devices/${id}/properties/${name}`, { value })
  expect(answer.ok).toBe(true)
}

/** Has the owner add a panel and a tablet come in as it. */
async function tabletOf(owner: Page, tablet: Page, hub: Hub, name: string) {
  await owner.goto(`${hub.url}/panels`)
  const card = owner.getByRole('article', { name })
  const [made] = await Promise.all([
    owner.waitForResponse((r) => r.url().endsWith('/code') && r.request().method() === 'POST'),
    card.getByRole('button', { name: 'Let a tablet in' }).click(),
  ])
  const { code } = (await made.json()) as { code: string }
  await owner.getByRole('dialog').getByRole('button', { name: 'Close' }).click()
  await tablet.goto(`${hub.url}/enter#${code}`)
  await tablet.getByRole('button', { name: 'Come in' }).click()
  await tablet.getByRole('button', { name: 'Begin' }).click()
  return card
}

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })

  test('a tablet becomes a panel, goes dark, wakes at somebody and not at a hum, shows, asks and outlives the hub', async ({
    hub,
    page: owner,
    playwright,
  }, info) => {
    await quietEvening(hub)
    const [film, hum] = [info.outputPath('film.y4m'), info.outputPath('hum.wav')]
    await writeFilm(film, 12, 3)
    await writeHum(hum, 10)
    const browser = await playwright.chromium.launch({
      ...info.project.use.launchOptions,
      args: [
        ...(info.project.use.launchOptions?.args ?? []),
        '--use-fake-ui-for-media-stream',
        '--use-fake-device-for-media-stream',
        `--use-file-for-fake-video-capture=${film}`,
        `--use-file-for-fake-audio-capture=${hum}`,
      ],
    })
    const tablet = await (
      await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })
    ).newPage()

    // A voice that says nothing aloud and remembers what it said.
    await tablet.addInitScript(() => {
      const said: string[] = []
      Object.assign(window, {
        said,
        SpeechSynthesisUtterance: class {
          constructor(readonly text: string) {}
        },
      })
      Object.defineProperty(window, 'speechSynthesis', {
        value: { getVoices: () => [{}], speak: (u: { text: string }) => said.push(u.text) },
      })
    })
    const said = () => tablet.evaluate(() => (window as unknown as { said: string[] }).said)

    const gate = await device(hub, 'Weir gate')
    const robot = await device(hub, 'Floor robot')
    const controls = [
      { id: 'gate', kind: 'opening', device: gate.id, property: 'contact', column: 0, row: 0, width: 8, height: 4 },
      { id: 'robot', kind: 'action', device: robot.id, action: 'start', column: 8, row: 0, width: 8, height: 4 },
    ]
    const made = await hub.send('POST', '/api/dashboards', { title: 'Wall', grid: 24, margin: true, controls })
    const { id: wall } = (await made.json()) as { id: string }

    await test.step('its owner sets it up with two dashboards, and a tablet is let in', async () => {
      await owner.goto(`${hub.url}/panels`)
      await owner.getByRole('textbox', { name: 'Name of the new panel' }).fill('Galley panel')
      await owner.getByText('Its dashboards, its own first').click()
      await owner.getByRole('option', { name: 'Wall' }).click()
      await owner.getByRole('option', { name: 'Galley' }).click()
      await owner.keyboard.press('Escape')
      await owner.getByRole('button', { name: 'Add', exact: true }).click()
      await expect(owner.getByText('The panel is not connected.')).toBeVisible()
      const card = await tabletOf(owner, tablet, hub, 'Galley panel')
      await expect(tablet).toHaveURL(new RegExp(`/panel/${wall}`))
      await expect(tablet.getByRole('navigation', { name: 'Places' })).toHaveCount(0)
      await expect(card).toContainText('connected')
      await expect(card).toContainText('Wall')
    })
    const panel = await device(hub, 'Galley panel')

    await test.step('the gate is seen at a glance, the robot started, the mode chosen', async () => {
      await expect(tablet.getByRole('article', { name: 'Weir gate' }).locator('.figure')).toHaveText('shut')
      await tablet.getByRole('button', { name: /Start cleaning/ }).click()
      await expect.poll(() => at(hub, 'Floor robot', 'doing')).toBe('cleaning')
      await tablet.getByRole('button', { name: 'Out', exact: true }).click()
      await expect.poll(() => at(hub, 'This home', 'mode')).toBe('mode-out')
      await owner.goto(`${hub.url}/journal`)
      await expect(owner.getByText(/by hand, at Galley panel/).first()).toBeVisible()
    })

    await test.step('it goes dark by its own clock, and wakes at somebody, not at the hum', async () => {
      await set(hub, panel.id, 'hearsFrom', 12)
      await set(hub, panel.id, 'seesFrom', 6)
      await set(hub, panel.id, 'quietFor', 0)
      await set(hub, panel.id, 'darkAfter', 4)
      await expect.poll(() => at(hub, 'Galley panel', 'lit')).toBe(false)
      await expect(tablet.locator('.shade')).toHaveCSS('opacity', '1')
      await expect.poll(() => at(hub, 'Galley panel', 'lit')).toBe(true)
      expect(await at(hub, 'Galley panel', 'wokenBy')).toBe('somebody')
      await expect.poll(() => at(hub, 'Galley panel', 'near')).toBe(true)
      await set(hub, panel.id, 'darkAfter', 0)
      // Whoever it sees would wake it again before the dark is looked at.
      await set(hub, panel.id, 'seesFrom', 0)
      await set(hub, panel.id, 'lit', false)
      await expect(tablet.locator('.shade.dark')).toHaveCount(1)
      // What wakes it by touch does nothing else.
      await tablet.mouse.click(640, 400)
      await expect(tablet.locator('.shade.dark')).toHaveCount(0)
      await expect.poll(() => at(hub, 'Galley panel', 'lit')).toBe(true)
      await expect.poll(() => at(hub, 'Galley panel', 'wokenBy')).toBe('touch')
    })

    await test.step('a rule calls everyone to the table on it, and asks; it is answered on it', async () => {
      const rule = await hub.send('POST', '/api/rules', {
        title: 'Call to the table',
        enabled: true,
        when: [],
        do: [
          { kind: 'action', device: panel.id, action: 'message', input: { text: { value: 'Supper is ready' } } },
          {
            kind: 'question',
            text: 'Who washes up?',
            branches: [
              { answer: 'I do', do: [] },
              { answer: 'Later', do: [] },
            ],
          },
        ],
      })
      expect(rule.ok).toBe(true)
      const { id } = (await rule.json()) as { id: string }
      await hub.send('POST', `/api/rules/${id}/run`)
      const message = tablet.getByRole('alert').filter({ hasText: 'Supper is ready' })
      await expect(message).toBeVisible()
      await message.getByRole('button', { name: 'OK' }).click()
      await expect.poll(said).toEqual(['Supper is ready', 'Who washes up?'])
      await tablet.getByRole('button', { name: 'I do' }).click()
      type Notice = { text: string; answer?: string }
      await expect
        .poll(async () => (await hub.get<Notice[]>('/api/notices')).find((n) => n.text === 'Who washes up?')?.answer)
        .toBe('I do')
    })

    await test.step('a key of it is given something to do, and shows below its dashboards', async () => {
      await owner.goto(`${hub.url}/buttons/${panel.id}`)
      await owner.getByRole('radio', { name: /^Key 2/ }).click()
      const doings = owner.getByRole('region', { name: 'Key 2' })
      await doings.getByRole('button', { name: /^What Key 2 does when pressed:/ }).click()
      await owner.getByRole('option', { name: 'Supper', exact: true }).click()
      const key = tablet.getByRole('group', { name: 'Keys' }).getByRole('button')
      await expect(key).toHaveText('Supper')
      await key.click()
      await expect.poll(() => at(hub, 'Table lamp', 'brightness')).toBe(60)
      await expect(owner.getByRole('status').filter({ hasText: 'Last:' })).toContainText('key 2')
      // What is printed on it is its owner's to say.
      await owner.getByRole('button', { name: 'Arrange the keys' }).click()
      await owner.getByRole('button', { name: /^Key 2: column/ }).focus()
      await owner.getByLabel('Printed on key 2').fill('Eat')
      await owner.getByRole('button', { name: 'Save' }).click()
      await expect(key).toHaveText('Eat')
    })

    await test.step('it shows another dashboard for a time, and returns to its own', async () => {
      await set(hub, panel.id, 'returnAfter', 2)
      const inputs = { dashboard: 'Galley' }
      await hub.send('POST', `/api/devices/${panel.id}/actions/show`, { input: inputs })
      await expect(tablet).toHaveURL(/dashboard-galley/)
      await expect(tablet).toHaveURL(new RegExp(`/panel/${wall}`))
      await hub.send('POST', `/api/devices/${panel.id}/actions/show`, { input: { dashboard: 'Attic' } })
      type Undone = { undone?: { action: string; reason: string }[] }
      await expect
        .poll(async () => ((await device(hub, 'Galley panel')) as Undone).undone?.[0]?.reason)
        .toContain('given no dashboard "Attic"')
    })

    await test.step('what it sees is its owner’s to ask for, and only where that is allowed', async () => {
      const picture = () => hub.send('GET', `/api/devices/${panel.id}/pictures/view`)
      expect((await picture()).ok).toBe(false)
      await set(hub, panel.id, 'takesPictures', true)
      await expect.poll(async () => (await picture()).headers.get('content-type')).toBe('image/jpeg')
      // One is taken by a press, as a rule would, and kept for its owner.
      await owner.goto(`${hub.url}/panels`)
      await owner.getByRole('button', { name: 'Take a picture' }).click()
      const kept = owner.getByRole('region', { name: 'Pictures that Galley panel took' })
      await expect(kept.getByRole('button').first()).toBeVisible()
      await kept.getByRole('button').first().click()
      await expect(kept.getByAltText('The picture, large')).toBeVisible()
      await set(hub, panel.id, 'takesPictures', false)
      await owner.getByRole('button', { name: 'Take a picture' }).click()
      await expect
        .poll(async () => JSON.stringify((await device(hub, 'Galley panel')) as object))
        .toContain('This panel takes no pictures')
    })

    await test.step('it is dimmed by a light sensor: an ordinary rule', async () => {
      await owner.goto(`${hub.url}/panels`)
      await owner.getByRole('button', { name: 'Light sensor by which it is dimmed' }).click()
      await owner.getByRole('option', { name: /Landing sensor/ }).click()
      await expect(owner.getByLabel('Name of the rule')).toHaveValue('Dim Galley panel')
      // It is evening, and nobody has lit the landing.
      await expect.poll(() => at(hub, 'Galley panel', 'brightness')).toBe(30)
      await expect(tablet.locator('.shade')).not.toHaveCSS('opacity', '0')
      await owner.getByRole('button', { name: 'Undo' }).last().click()
      await expect.poll(() => at(hub, 'Galley panel', 'brightness')).toBe(100)
      await owner.goto(`${hub.url}/panels`)
      await owner.getByRole('link', { name: 'What it did' }).click()
      await expect(owner.getByText(/Galley panel: Woken by/i).first()).toBeVisible()
    })

    await test.step('nothing else is there for it, and it is left only by a code', async () => {
      for (const path of ['/rules', '/panels', '/household/people', `/devices/${panel.id}`]) {
        await tablet.goto(hub.url + path)
        await expect(tablet).toHaveURL(new RegExp(`/panel/${wall}`))
      }
      const refused = await tablet.evaluate(async () => {
        const tries = ['/api/rules', '/api/devices', '/api/journal', '/api/people']
        const out = await fetch('/api/session', { method: 'DELETE' })
        return [...(await Promise.all(tries.map(async (t) => (await fetch(t)).status))), out.status]
      })
      expect(refused).toEqual([403, 403, 403, 403, 403])
      await tablet.getByRole('button', { name: 'This panel' }).click()
      await expect(tablet.getByRole('meter', { name: 'Sees' })).toBeVisible()
      await tablet.getByLabel('Code to leave this panel').fill('AAAA-BBBB')
      await tablet.getByRole('button', { name: 'Leave this panel' }).click()
      await expect(tablet.getByRole('alert')).toContainText('used already')
      await tablet.keyboard.press('Escape')
    })

    await test.step('the hub is killed and updated: it says so, comes back by itself, and takes the new front end', async () => {
      const about = await hub.get<object>('/api/about')
      await hub.kill()
      await expect(tablet.getByRole('alert').filter({ hasText: 'The hub cannot be reached' })).toBeVisible()
      let runs = false
      await tablet.route('**/api/about', (asked) =>
        runs ? asked.fulfill({ json: { ...about, version: 'next' } }) : asked.abort(),
      )
      const reloaded = tablet.waitForEvent('load')
      await hub.again()
      runs = true
      await reloaded
      await expect(tablet.getByRole('alert').filter({ hasText: 'The hub cannot be reached' })).toHaveCount(0)
      await expect(tablet.getByRole('article', { name: 'Weir gate' }).locator('.figure')).toHaveText('shut')
      await expect.poll(async () => (await device(hub, 'Galley panel')).silent).toBe(false)
      await expect.poll(() => at(hub, 'Galley panel', 'showing')).toBe('Wall')
    })

    await test.step('its owner ends it: it is out', async () => {
      await owner.goto(`${hub.url}/panels`)
      await owner.getByRole('button', { name: /^End .* of Galley panel/ }).click()
      await expect(owner.getByText('The panel is not connected.')).toBeVisible()
    })
    await browser.close()
  })
})
