import { expect, test } from '../support/fixtures'
import { Hub } from '../support/hub'
import { make, named, value } from '../support/home'

test('the devices of another home are followed: its lamp switched here, its sensor in a rule here, its restart', async ({
  hub,
  page,
}) => {
  test.setTimeout(180_000)
  const other = await Hub.start('--fresh')
  try {
    const { key } = (await (await other.send('POST', '/api/clients', { name: 'mill' })).json()) as { key: string }
    await page.goto(`${hub.url}/connections`)
    await page.getByRole('button', { name: 'Follow a directory' }).click()
    const address = page.getByLabel('Address')
    const follow = page.getByRole('button', { name: 'Follow it' })
    await address.fill('somewhere')
    await follow.click()
    await expect(page.getByText('This is not an address that begins with http:// or https://.')).toBeVisible()
    await address.fill(`${other.url}/api/home`)
    await follow.click()
    await expect(page.getByText('What is at this address is no list of Thing Descriptions.')).toBeVisible()

    // From Found, an address that lists descriptions leads to the same.
    await page.goto(`${hub.url}/found`)
    await page.getByLabel('Address to look at').fill(`${other.url}/things`)
    await page.getByRole('button', { name: 'Look there' }).click()
    await page.getByRole('link', { name: 'Follow it as a directory' }).click()
    await expect(page).toHaveURL(/directory/)
    await page.getByRole('textbox', { name: /^Key/ }).fill(key)
    await page.getByLabel('Name', { exact: true }).fill('The mill')
    await follow.click()
    await expect(page.getByText('The directory is followed.')).toBeVisible()
    await expect(page.getByText(/up since/).first()).toBeVisible()
    expect(JSON.stringify(await hub.get('/api/connections'))).not.toContain(key)

    await page.goto(`${hub.url}/found`)
    for (const label of ['Stair lamp', 'Glasshouse door'])
      await page.getByRole('checkbox', { name: `Take ${label} into the home` }).check()
    await page.getByRole('textbox', { name: 'Name for Stair lamp' }).fill('Mill stair lamp')
    await page.getByRole('textbox', { name: 'Name for Glasshouse door' }).fill('Mill door')
    await page.getByRole('button', { name: 'Take 2 into the home' }).click()
    await expect(page.getByText('2 devices are in the home.')).toBeVisible()
    const lamp = await named(hub, 'Mill stair lamp')
    const door = await named(hub, 'Mill door')
    await expect.poll(() => value(hub, 'Mill door', 'contact')).toBe(false)

    await page.goto(`${hub.url}/devices/${lamp.id}`)
    const slider = page.getByRole('slider', { name: /Brightness/ }).first()
    await slider.focus()
    await slider.press('End')
    await expect.poll(() => value(other, 'Stair lamp', 'brightness')).toBe(100)
    await make(hub, '/api/rules', {
      title: 'Door puts the lamp out',
      enabled: true,
      when: [{ device: door.id, property: 'contact', comparison: 'is', value: true }],
      do: [{ kind: 'set', device: lamp.id, property: 'brightness', value: 0 }],
    })
    await other.bench({ what: 'open', opening: 'Glasshouse door', on: true })
    await expect.poll(() => value(other, 'Stair lamp', 'brightness')).toBe(0)

    // The other home loses power, and comes back.
    await other.kill()
    await expect
      .poll(
        async () =>
          (await hub.get<{ title: string; up: boolean }[]>('/api/connections')).find((c) => c.title === 'The mill')?.up,
        { timeout: 30_000 },
      )
      .toBe(false)
    await other.again()
    await expect
      .poll(
        async () =>
          (await hub.get<{ title: string; up: boolean }[]>('/api/connections')).find((c) => c.title === 'The mill')?.up,
        { timeout: 30_000 },
      )
      .toBe(true)
    await hub.send('PUT', `/api/devices/${lamp.id}/properties/brightness`, { value: 60 })
    await expect.poll(() => value(other, 'Stair lamp', 'brightness'), { timeout: 30_000 }).toBe(60)

    // What it lists no more is in Care; of what is not reached that is said first.
    await expect.poll(async () => (await named(hub, 'Mill door')).silent, { timeout: 30_000 }).toBe(false)
    const gone = await named(other, 'Glasshouse door')
    expect((await other.send('DELETE', `/api/devices/${gone.id}`)).status).toBe(204)
    await hub.send('POST', '/api/found/look', {})
    await page.goto(`${hub.url}/care`)
    await expect(page.getByText('The mill no longer lists it.')).toBeVisible()
  } finally {
    await other.stop()
  }
})
