import { expect, test } from '../support/fixtures'
import { named, quietEvening, value, type Device } from '../support/home'
import { choose } from '../support/words'

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh'] })

  test('the kiln is set up to stay off after a power cut, with the safety note, and that is taken back', async ({
    hub,
    page,
  }) => {
    await hub.bench({ what: 'live', on: false })
    const { id } = await named(hub, 'Kiln')
    await page.goto(`${hub.url}/devices/${id}`)
    const option = page.locator('article.option').filter({ hasText: 'After a power cut' })
    await expect(option).toContainText('Mains voltage.')
    await expect(option).toContainText('If it is wrong:')
    await page.getByRole('button', { name: 'Switch on', exact: true }).click()
    await expect.poll(() => value(hub, 'Kiln', 'power')).toBe(true)

    await choose(page, 'After a power cut', /^off:/)
    await expect.poll(() => value(hub, 'Kiln', 'afterPowerCut')).toBe('off')
    await hub.bench({ what: 'blackout' })
    await expect.poll(() => value(hub, 'Kiln', 'power')).toBe(false)

    await page.getByRole('button', { name: 'Undo' }).first().click()
    await expect.poll(() => value(hub, 'Kiln', 'afterPowerCut')).toBe('as before')
    await option.getByRole('button', { name: 'Its changes: after a power cut' }).click()
    await expect(option.getByRole('listitem').filter({ hasText: 'off' }).first()).toBeVisible()
  })

  test('a lamp that flickers when dimmed far down is cured by its lowest level', async ({ hub, page }) => {
    await hub.bench({ what: 'live', on: false })
    const flickers = async () =>
      (await hub.get<{ lamps: { id: string; flickering: boolean }[] }>('/api/bench')).lamps.find((l) => l.id === '12')
        ?.flickering
    await hub.bench({ what: 'lamp', lamp: '12', on: true, level: 3 })
    await hub.advance(5)
    expect(await flickers()).toBe(false)
    await hub.bench({ what: 'lamp', lamp: '11', on: true, level: 1 })
    await page.goto(`${hub.url}/bench?place=Mill+room`)
    await expect(page.getByText('flickers')).toBeVisible()
    const lamp = (await hub.get<(Device & { hardware: string })[]>('/api/devices')).find((d) =>
      d.hardware.endsWith('-11'),
    )!
    await page.goto(`${hub.url}/devices/${lamp.id}`)
    const lowest = page.getByRole('spinbutton', { name: 'Lowest level' })
    await lowest.fill('12')
    await lowest.blur()
    await expect.poll(() => value(hub, lamp.title, 'lowest')).toBe(12)
    await page.goto(`${hub.url}/bench?place=Mill+room`)
    await expect(page.getByText('flickers')).toHaveCount(0)
  })

  test('four people live in the house, any of them is sent about, and a shutter stands in its window', async ({
    hub,
    page,
  }) => {
    await hub.bench({ what: 'live', on: false })
    for (const person of ['Nell', 'Tove', 'Ivo', 'Runa']) await hub.bench({ what: 'walk', room: '', person })
    await page.goto(`${hub.url}/bench`)
    await page.getByRole('button', { name: 'Ivo, out' }).press('Enter')
    await page.getByRole('button', { name: /^Ivo: walk to the Landing/ }).press('Enter')
    await expect(page.getByRole('button', { name: 'Ivo, in the Landing' })).toBeVisible()
    await expect.poll(() => value(hub, 'Landing sensor', 'motion')).toBe(true)
    await expect(page.getByText(/^Shutter \d+ % open$/)).toHaveCount(3)
  })

  test('a rule follows from the number of devices that need attention, which care shows with signal and firmware', async ({
    hub,
    page,
  }) => {
    await quietEvening(hub) // no schedule switches the lamp
    const lamp = await named(hub, 'Stair lamp')
    // Something may need attention already, by what the house lived through.
    const own = (await hub.get<Device[]>('/api/devices')).find((d) => d.own)!
    const already = own.states.find((s) => s.name === 'attention')!.value as number
    const made = await hub.send('POST', '/api/rules', {
      title: 'Care calls',
      enabled: true,
      when: [{ device: 'own', property: 'attention', comparison: 'above', value: already }],
      do: [{ kind: 'set', device: lamp.id, property: 'brightness', value: 44 }],
    })
    const { id } = (await made.json()) as { id: string }
    await page.goto(`${hub.url}/rules/${id}`)
    await expect(page.getByText('Devices that need attention').first()).toBeVisible()
    await hub.bench({ what: 'charge', node: 'n45', level: 4 })
    await hub.advance(600)
    await expect.poll(() => value(hub, 'Stair lamp', 'brightness')).toBe(44)
    await page.goto(`${hub.url}/care?only=battery`)
    const row = page.getByRole('row').filter({ hasText: 'Wash house climate' }).first()
    await expect(row).toContainText('3.0.1')
    await expect(page.getByRole('columnheader', { name: 'Signal' })).toBeVisible()
    // Others may have come to need attention meanwhile, or need none any more.
    const attention = (await hub.get<Device[]>('/api/devices')).find((d) => d.own)!.states
    const present = attention.find((s) => s.name === 'attention')!.value as number
    expect(present).toBeGreaterThan(0)
    await expect(page.getByRole('navigation').getByText(`Care ${present}`)).toBeVisible()
  })

  test('a blind that finds its place by itself is lowered, and its slats are tilted', async ({ hub, page }) => {
    const { id } = await named(hub, 'Glasshouse blind')
    await page.goto(`${hub.url}/devices/${id}`)
    await page.getByRole('button', { name: 'Lower' }).click()
    await expect.poll(() => value(hub, 'Glasshouse blind', 'position')).toBe(0)
    const slats = page.getByRole('spinbutton', { name: 'Tilt of the slats' })
    await slats.fill('60')
    await slats.press('Enter')
    await expect.poll(() => value(hub, 'Glasshouse blind', 'tilt')).toBe(60)
  })
})
