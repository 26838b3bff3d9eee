import { expect, test } from '../support/fixtures'
import { named, quietEvening, value, type Device } from '../support/home'
import type { Hub } from '../support/hub'
import { type } from '../support/words'

test.use({ flags: ['--fresh'] })

const level = (hub: Hub, lamp: string) => value(hub, lamp, 'brightness').then(Number)

test('what its lamps give a sensor is learned from its record, taken off, and gone by', async ({ hub, page }) => {
  await quietEvening(hub, '21:30')
  const sensor = await named(hub, 'Landing sensor')
  const lamp = await named(hub, 'Stair lamp')
  const light = () => value(hub, 'Landing sensor', 'light').then(Number)
  const without = () => value(hub, 'Landing sensor', 'lightWithoutLamps').then(Number)
  const set = (to: number) => hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: to })
  await hub.send('DELETE', '/api/rules/rule-stair')
  await set(0)
  await hub.advance(600)
  // The demo has learned it already, of the days before: this begins anew.
  await page.goto(`${hub.url}/devices/${sensor.id}`)
  await page.getByRole('button', { name: 'What its lamps give it' }).click()
  const own = page.getByRole('region', { name: /^The lamps in light of/ })
  await own.getByRole('button', { name: 'Remove that reading' }).click()
  await expect(page.getByText('Landing sensor has no reading without the lamps any more.')).toBeVisible()
  await expect(page.getByText('Light without the lamps')).toHaveCount(0)
  await own.getByRole('button', { name: 'Add a reading without the lamps' }).click()
  await expect(own).toContainText('Light without the lamps reads')
  await expect(own.getByRole('row', { name: /Stair lamp/ })).toContainText(/(5[89]|6[012])(\.\d)? lx/)

  const dark = await light()
  await set(100)
  await expect.poll(() => level(hub, 'Stair lamp')).toBe(100)
  await hub.advance(60)
  await expect.poll(light).toBeGreaterThan(dark + 50)
  await expect.poll(without, 'the lamp is not taken for daylight').toBeLessThan(dark + 5)

  // A rule that lasts while it is dark does not put its own lamp out.
  const rule = await hub.send('POST', '/api/rules', {
    title: 'Dark landing',
    enabled: true,
    whenever: { device: sensor.id, property: 'lightWithoutLamps', comparison: 'below', value: 20 },
    do: [{ kind: 'hold', device: lamp.id, property: 'brightness', value: 70 }],
  })
  expect(rule.ok).toBe(true)
  await expect.poll(() => level(hub, 'Stair lamp')).toBe(70)
  await hub.advance(1800)
  expect(await level(hub, 'Stair lamp')).toBe(70)

  // No sensor of light, no lamp about it, and nothing learned yet are each said.
  const say = async (device: string, property: string) => {
    const answer = await hub.send(
      'PUT',
      `/api/devices/${(await named(hub, device)).id}/properties/${property}/own-light`,
    )
    return JSON.stringify(await answer.json())
  }
  expect(await say('Landing sensor', 'motion')).toContain('does not read how light it is')
  expect(await say('Mill room sensor', 'light')).toContain('were not switched yet')
  expect(await say('Landing sensor', 'lightWithoutLamps')).toContain('does not read how light it is')
})

/** A late evening on which nothing lights the Landing, and its lamp: the stair light of the demo would come, too. */
async function darkLanding(hub: Hub): Promise<Device> {
  await quietEvening(hub, '21:30')
  await hub.send('DELETE', '/api/rules/rule-stair')
  return named(hub, 'Stair lamp')
}

test('by itself another scene comes in a part of the day, and what was before comes back in a fade', async ({
  hub,
  page,
}) => {
  const lamp = await darkLanding(hub)
  const ids: string[] = []
  for (const [title, to] of [
    ['Stairs lit', 60],
    ['Stairs at night', 20],
  ] as const) {
    const made = await hub.send('POST', '/api/scenes', {
      title,
      fadeSeconds: 0,
      targets: [{ device: lamp.id, property: 'brightness', value: to }],
    })
    ids.push(((await made.json()) as { id: string }).id)
  }
  const light = { title: 'Landing', rooms: ['room-Landing'], scenes: ids.map((scene) => ({ scene })) }
  await hub.send('PATCH', '/api/lights/light-landing', { from: { ...light, scenes: [] }, to: light })
  await page.goto(`${hub.url}/lights/light-landing`)
  const itself = page.getByRole('region', { name: 'By itself' })
  await itself.getByRole('button', { name: 'Let it come while somebody is there' }).click()
  await itself.getByRole('button', { name: 'Another scene in a part of the day' }).click()
  await expect(itself).toContainText('but Stairs at night between')
  await expect(itself, 'the reading without the lamps is the one').toContainText(
    'Landing sensor light without the lamps',
  )
  await type(page, /^Over how long it comes back/, '30', 's')
  await itself.getByRole('button', { name: 'Make it so' }).click()
  await expect(itself.getByRole('link', { name: 'Landing by itself' })).toBeVisible()
  await itself.getByRole('link', { name: 'Landing by itself' }).click()
  await expect(page.getByRole('button', { name: /^What was before comes back over: 30 s/ })).toBeVisible()

  const at = () => level(hub, 'Stair lamp')
  const walk = (room: string) => hub.bench({ what: 'walk', person: 'Tove', room })
  await walk('Landing')
  await expect.poll(at).toBe(60)
  await walk('Galley')
  await hub.advance(9 * 60)
  await expect.poll(at).toBe(0)
  await hub.bench({ what: 'jump', clock: '22:45' })
  await walk('Landing')
  await expect.poll(at).toBe(20)
})

test('the Landing by itself: from a night light up and back to it, a hand left alone until it was empty', async ({
  hub,
  page,
}) => {
  const lamp = await darkLanding(hub)
  const scene = await hub.send('POST', '/api/scenes', {
    title: 'Stairs lit',
    fadeSeconds: 0,
    targets: [{ device: lamp.id, property: 'brightness', value: 60 }],
  })
  const { id } = (await scene.json()) as { id: string }
  const light = { title: 'Landing', rooms: ['room-Landing'], scenes: [{ scene: id }] }
  expect((await hub.send('PATCH', '/api/lights/light-landing', { from: { ...light, scenes: [] }, to: light })).ok).toBe(
    true,
  )
  await page.goto(`${hub.url}/lights/light-landing`)
  const itself = page.getByRole('region', { name: 'By itself' })
  await itself.getByRole('button', { name: 'Let it come while somebody is there' }).click()
  await itself.locator('.p-multiselect').first().click()
  await page
    .locator('.p-multiselect-overlay')
    .getByRole('option', { name: /Hall sensor/ })
    .click()
  await page.keyboard.press('Escape')
  await itself.getByRole('button', { name: /^From what/ }).click()
  await page.getByRole('option', { name: 'whatever was on' }).click()
  await itself.getByRole('button', { name: 'Make it so' }).click()
  await expect(itself.getByRole('link', { name: 'Landing by itself' })).toBeVisible()
  await expect(itself).toContainText('waits')

  const at = () => value(hub, 'Stair lamp', 'brightness').then(Number)
  const set = (to: number) => hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: to })
  await set(5)
  await expect.poll(at).toBeCloseTo(5, 0)
  const walk = (room: string) => hub.bench({ what: 'walk', person: 'Tove', room })
  // Two sensors are one: either begins it, and it ends eight minutes after both are clear.
  await walk('Hall')
  await expect.poll(at).toBe(60)
  await hub.advance(7 * 60)
  await walk('Landing')
  await hub.advance(5 * 60)
  expect(await at(), 'twelve minutes after the first saw somebody, and five after the other').toBe(60)
  await walk('Galley')
  await hub.advance(9 * 60)
  await expect.poll(at).toBeCloseTo(5, 0)

  await walk('Landing')
  await expect.poll(at).toBe(60)
  await expect(itself).toContainText('acts now')
  await hub.advance(120)
  expect(await at(), 'its own lamp is not taken for daylight').toBe(60)
  await walk('Galley')
  await hub.advance(9 * 60)
  await expect.poll(at).toBeCloseTo(5, 0)

  // A hand has it until the room was empty.
  await walk('Landing')
  await expect.poll(at).toBe(60)
  await set(20)
  await expect.poll(at).toBe(20)
  await hub.advance(60)
  expect(await at()).toBe(20)
  await walk('Galley')
  await hub.advance(9 * 60)
  expect(await at()).toBe(20)
  await walk('Landing')
  await expect.poll(at).toBe(60)
})
