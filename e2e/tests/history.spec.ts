import { readFile } from 'node:fs/promises'
import { expect, test } from '../support/fixtures'

interface Device {
  id: string
  title: string
}

test.describe('in the demo home', () => {
  test.use({ flags: ['--fresh', '--history', '2'] })

  test('several histories are looked at, nearer and further, on one axis, and taken away as a table', async ({
    hub,
    page,
  }) => {
    const devices = await hub.get<Device[]>('/api/devices')
    const id = (title: string) => devices.find((d) => d.title === title)!.id
    await page.goto(`${hub.url}/devices/${id('Mill room climate')}`)
    await page.getByRole('link', { name: 'Look further back' }).click()
    await expect(page).toHaveURL(/\/history\?series=/)
    await expect(page.getByRole('row', { name: /Mill room climate: temperature/ })).toContainText('°C')

    await page.locator('.which').click()
    for (const title of ['Galley thermometer: temperature', 'Mill room climate: humidity', 'Landing sensor: motion'])
      await page.getByRole('option', { name: title }).click()
    await page.keyboard.press('Escape')
    await expect(page.getByRole('row', { name: /Landing sensor: motion/ })).toContainText('% of the time')
    await expect(page.getByRole('img', { name: /^Landing sensor: motion: when it was/ })).toBeVisible()
    await expect(page.getByRole('img', { name: /Arrow keys move/ })).toHaveAccessibleName(
      /Mill room climate: temperature, .*Galley thermometer: temperature/,
    )

    // By keys, by buttons and by dragging; back is as it was.
    const chart = page.getByRole('img', { name: /Arrow keys move/ })
    await page.getByRole('button', { name: 'Week' }).click()
    await expect(page).toHaveURL(/last=604800000/)
    await chart.focus()
    await page.keyboard.press('+')
    await expect(page).toHaveURL(/from=/)
    const from = () => new URL(page.url()).searchParams.get('from')!
    const before = from()
    await page.keyboard.press('ArrowLeft')
    await expect.poll(() => from() < before).toBe(true)
    await page.getByRole('button', { name: 'Day', exact: true }).click()
    const box = (await chart.boundingBox())!
    await page.mouse.move(box.x + box.width * 0.4, box.y + 120)
    await page.mouse.down()
    await page.mouse.move(box.x + box.width * 0.7, box.y + 120, { steps: 4 })
    await page.mouse.up()
    await expect(page).toHaveURL(/from=/)
    const span = new URL(page.url()).searchParams
    const hours = (Date.parse(span.get('to')!) - Date.parse(span.get('from')!)) / 3_600_000
    expect(hours).toBeGreaterThan(4)
    expect(hours).toBeLessThan(12)
    await page.reload()
    await expect(page.getByRole('row', { name: /Galley thermometer: temperature/ })).toBeVisible()

    const saved = page.waitForEvent('download')
    await page.getByRole('link', { name: 'As a table (CSV)' }).click()
    const sheet = await readFile(await (await saved).path(), 'utf8')
    expect(sheet.split('\r\n')[0]).toBe('time,device,property,unit,value,least,most,span seconds')
    expect(sheet).toContain('Galley thermometer,Temperature,°C,')

    // How long readings are kept, with what it costs; too short is refused by the hub as well.
    const keeping = page.getByRole('region', { name: 'How long things are kept' })
    await expect(keeping).toContainText(/The data takes .*B, about .* more each day/)
    const days = keeping.getByRole('spinbutton', { name: 'Readings, for' })
    await days.fill('90')
    await days.press('Tab')
    await keeping.getByRole('button', { name: 'Save' }).click()
    await expect(page.getByText('How long things are kept was changed.')).toBeVisible()
    await page.reload()
    await expect(days).toHaveValue('90 days')
    expect((await hub.send('PUT', '/api/history/keeping', { days: 2, journalDays: 90, revisions: 50 })).status).toBe(
      422,
    )
    expect(
      (await hub.send('GET', '/api/history?series=nothing&from=2026-01-01T00:00:00Z&to=2026-01-02T00:00:00Z')).status,
    ).toBe(422)
  })
})
