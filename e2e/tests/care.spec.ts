import { readFile } from 'node:fs/promises'
import type { Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'
import { named, type Device } from '../support/home'
import { pick } from '../support/words'

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })

  test('the kiln is switched on by a hand, refused to a schedule and a scene, allowed to the one rule that says so', async ({
    hub,
    page,
  }) => {
    await hub.bench({ what: 'live', on: false })
    const { id } = await named(hub, 'Kiln')
    const power = async () => (await named(hub, 'Kiln')).states.find((s) => s.name === 'power')?.value
    await page.goto(`${hub.url}/devices/${id}`)
    await expect(page.getByText('a hand switches it on, automation does not')).toBeVisible()
    await page.getByRole('button', { name: 'Switch on', exact: true }).click()
    await expect.poll(power).toBe(true)
    await page.getByRole('button', { name: 'Switch off', exact: true }).click()
    await expect.poll(power).toBe(false)

    const on = { device: id, property: 'power', value: true }
    const made = (path: string, body: unknown) =>
      hub.send('POST', path, body).then(async (r) => ((await r.json()) as { id: string }).id)
    const scene = await made('/api/scenes', { title: 'Everything', fadeSeconds: 0, targets: [on] })
    await page.goto(`${hub.url}/scenes/${scene}`)
    await expect(page.getByText('attended only: a scene does not switch it on')).toBeVisible()
    await page.getByRole('button', { name: 'Apply', exact: true }).click()
    await page.goto(`${hub.url}/journal?device=${id}`)
    const refusals = page.getByText('refused, since only a hand switches it on')
    await expect(refusals).toHaveCount(1)

    await hub.bench({ what: 'jump', clock: '12:00' })
    await made('/api/schedules', {
      title: 'Firing',
      enabled: true,
      at: { anchor: 'clock', clock: '12:10' },
      do: [{ kind: 'set', ...on }],
    })
    await hub.advance(900)
    await expect(refusals).toHaveCount(2)
    expect(await power()).toBe(false)

    const rule = await made('/api/rules', {
      title: 'Firing by rule',
      enabled: true,
      when: [{ device: (await named(hub, 'Mill room dial')).id, event: 'press' }],
      do: [{ kind: 'set', ...on }],
    })
    await page.goto(`${hub.url}/rules/${rule}`)
    await page.getByRole('button', { name: 'Try now' }).click()
    await page.goto(`${hub.url}/journal?device=${id}`)
    await expect(refusals).toHaveCount(3)
    await page.goto(`${hub.url}/rules/${rule}`)
    await pick(page, /^Whether it may switch on unattended/, 'also on, with nobody there')
    await page.getByRole('button', { name: 'Put live' }).click()
    await expect(page.getByText('Firing by rule is live.')).toBeVisible()
    await page.getByRole('button', { name: 'Try now' }).click()
    await expect.poll(power).toBe(true)
  })

  test('two sensors fall silent, each is missed after its own time, and a battery running down is projected', async ({
    hub,
    page,
  }) => {
    type Caring = Device & { silent: boolean; care: { rhythm?: { kind: string; silentAfterSeconds: number } } }
    const caring = async (title: string) => (await named(hub, title)) as Caring
    // A day and a half of listening, so that also who speaks at changes only is known.
    await hub.advance(36 * 3600)
    const limit = (await caring('Galley thermometer')).care.rhythm?.silentAfterSeconds ?? 0
    expect(limit).toBeGreaterThan(60)
    // Who speaks when depends on the day's weather: what counts is that each has its own time.
    const all = (await hub.get<Caring[]>('/api/devices')).map((d) => d.care.rhythm?.silentAfterSeconds ?? 0)
    expect(new Set(all.filter((seconds) => seconds > 0)).size).toBeGreaterThan(1)
    await page.goto(`${hub.url}/care`)
    await expect(page.getByText(/devices are OK|need attention/)).toBeVisible()

    await page.goto(`${hub.url}/bench`)
    await page.getByLabel('Place whose things are shown').click()
    await page.getByRole('option', { name: 'Galley', exact: true }).click()
    await page.getByRole('button', { name: 'Silence it: QT-1 Climate Node 33' }).click()
    await page.getByRole('button', { name: 'Drain its battery: QK-1 Reed Node 38' }).click()
    await hub.advance(limit + 700)
    expect((await caring('Galley thermometer')).silent).toBe(true)
    expect((await caring('Yard thermometer')).silent).toBe(false)
    await page.goto(`${hub.url}/care`)
    const first = page.locator('.first')
    await expect(first.getByText(/Nothing was heard from it for .* min/)).toBeVisible()
    await expect(first.getByText('Its battery is at 4 %.')).toBeVisible()
    await expect(page.getByRole('link', { name: /^Care [0-9]/ })).toBeVisible()

    // The climate sensor in the damp uses its battery up; when it is empty is told from its own history.
    await page.getByRole('button', { name: /^Show all [0-9]+ devices/ }).click()
    await page.getByLabel('Search by name, room or model').fill('Wash house climate')
    await expect(page.getByRole('row', { name: /Wash house climate .* in \d+ days/ })).toBeVisible()
    await page.getByRole('button', { name: 'On battery' }).click()
    await expect(page).toHaveURL(/only=battery/)
    const saved = page.waitForEvent('download')
    await page.getByRole('link', { name: 'As a table (CSV)' }).click()
    const sheet = await readFile(await (await saved).path(), 'utf8')
    expect(sheet.split('\r\n')[0]).toContain('device,room,maker,model,battery')
    expect(sheet.split('\r\n')[1]).toContain('Galley thermometer')

    await page.goto(`${hub.url}/bench`)
    await page.getByLabel('Place whose things are shown').click()
    await page.getByRole('option', { name: 'Galley', exact: true }).click()
    await page.getByRole('button', { name: 'Let it speak: QT-1 Climate Node 33' }).click()
    await expect.poll(async () => (await caring('Galley thermometer')).silent).toBe(false)
    await page.goto(`${hub.url}/journal`)
    await expect(page.getByText('Galley thermometer is heard again')).toBeVisible()
    await expect(page.getByText('Galley thermometer has fallen silent')).toBeVisible()
  })

  test('the Glasshouse humidity sensor is compared with a trusted one, calibrated, compared again and taken back', async ({
    hub,
    page,
  }) => {
    const humidity = async (title: string) =>
      Number((await named(hub, title)).states.find((s) => s.name === 'humidity')?.value)
    await hub.bench({ what: 'live', on: false })
    await hub.bench({ what: 'jump', clock: '09:00' })
    await hub.bench({ what: 'carry', node: 'n43', room: 'Glasshouse' })
    await hub.advance(4 * 3600 + 600)
    expect((await humidity('Glasshouse climate')) - (await humidity('Mill room climate'))).toBeGreaterThan(1.5)
    const { id } = await named(hub, 'Glasshouse climate')
    await page.goto(`${hub.url}/devices/${id}`)
    await page.getByRole('button', { name: 'Check its accuracy: humidity' }).click()
    await pickOption(page, 'Trusted sensor', /Mill room climate/)
    await page.getByRole('button', { name: 'Compare', exact: true }).click()
    await expect(page.getByText(/It differs by \+[23]\.\d+ %/)).toBeVisible()
    await page.getByRole('button', { name: /^Add −[23]\.\d+ %$/ }).click()
    await expect(page.getByText('Glasshouse climate is calibrated.')).toBeVisible()
    await expect
      .poll(async () => Math.abs((await humidity('Glasshouse climate')) - (await humidity('Mill room climate'))))
      .toBeLessThan(2)
    await expect(page.getByText(/It differs by [+−]?0\.\d+ %/)).toBeVisible()

    await pickOption(page, 'Rounded to', '5')
    await expect.poll(async () => (await humidity('Glasshouse climate')) % 5).toBe(0)
    await page.getByRole('button', { name: 'Take it back' }).click()
    await expect(page.getByText('are taken as they come.')).toBeVisible()
    await expect(page.getByText(/It differs by \+[23]\.\d+ %/)).toBeVisible()
    await page.reload()
    await page.getByRole('button', { name: 'Check its accuracy: humidity' }).click()
    await expect(page.getByRole('button', { name: 'Take it back' })).toHaveCount(0)

    // With one that was not there at the time there is nothing to compare.
    await pickOption(page, 'Trusted sensor', /Mill room climate/)
    await pickOption(page, 'Compare over the last', '1 h')
    await hub.bench({ what: 'silence', node: 'n43', on: true })
    await hub.advance(3 * 3600)
    await page.getByRole('button', { name: 'Compare', exact: true }).click()
    await expect(page.getByRole('alert')).toContainText(/no readings from the same time|too short a time|too few/)
  })
})

async function pickOption(page: Page, label: string, option: string | RegExp): Promise<void> {
  await page.getByRole('combobox', { name: label }).click()
  await page.getByRole('option', { name: option, exact: typeof option === 'string' }).click()
}
