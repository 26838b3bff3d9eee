import { expectAccessible } from '../support/accessible'
import { expect, test } from '../support/fixtures'
import { pick, type } from '../support/words'

test.use({ flags: ['--fresh'] })

interface Device {
  id: string
  title: string
}

const parts: Record<string, (stair: string, shutter: string) => string[]> = {
  'the house and its devices': (stair, shutter) => [
    '/found',
    '/found/describe',
    '/connections/directory',
    '/connections/network',
    `/devices/${stair}`,
    `/devices/${shutter}?try=1`,
    `/history?series=${stair}~brightness`,
    '/profiles/MP-1',
    '/rooms',
    '/today',
    '/house',
    '/keys',
    '/reach',
    '/me',
    '/enter#code',
    '/removed',
    '/health',
    '/bench',
  ],
  'what it does and tells': () => [
    '/scenes/scene-supper',
    '/rules/rule-stair',
    '/rules/rule-welcome',
    '/schedules/schedule-dusk',
    '/buttons',
    '/links/link-dial',
    '/mirrors/mirror-east',
    '/messages',
    '/dashboards/dashboard-galley',
    '/panel/dashboard-galley',
    '/journal',
    '/household',
    '/household/people',
    '/household/groups',
    '/household/calendars',
    '/household/messages',
    '/care',
    '/nowhere',
  ],
}
for (const [part, addresses] of Object.entries(parts))
  test(`the views of ${part} pass the accessibility checks in both looks`, async ({ hub, page }) => {
    const devices = await hub.get<Device[]>('/api/devices')
    const [stair, shutter] = ['Stair lamp', 'Mill room shutter'].map((t) => devices.find((d) => d.title === t)!.id)
    await hub.send('POST', `/api/devices/${shutter}/trial`)
    for (const address of addresses(stair!, shutter!)) {
      await page.goto(hub.url + address)
      await expect(page.getByRole('heading').first()).toBeVisible()
      await expectAccessible(page, address)
    }
  })

test('the palette goes anywhere by keyboard, and applies a scene', async ({ hub, page }) => {
  await page.goto(`${hub.url}/devices`)
  await expect(page.getByRole('heading', { name: 'Devices' })).toBeVisible()
  await page.keyboard.press('Control+k')
  await page.keyboard.type('stair li')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Name of the rule')).toHaveValue('Stair light')
  await page.keyboard.press('Control+k')
  await page.keyboard.type('apply all off')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Scene All off applied.')).toBeVisible()
  // Rooms, floors, labels, groups and calendars are found by any word.
  await page.keyboard.press('Control+k')
  for (const [word, hit] of [
    ['galley', /^Galley/],
    ['upper', /^Upper/],
    ['wild', /^wild weather/],
    ['lanterns', /^Lanterns outside/],
    ['diary', /diary/i],
  ] as const) {
    await page.getByRole('searchbox', { name: 'Find or go' }).fill(word)
    await expect(page.getByRole('option', { name: hit }).first()).toBeVisible()
  }
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+k')
  await page.keyboard.type('nothing of the kind')
  await expect(page.getByText('Nothing here is called')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('searchbox', { name: 'Find or go' })).toHaveCount(0)
  await page.keyboard.press('?')
  await expect(page.getByText('asked for, not yet confirmed')).toBeVisible()
})

test('a list is walked with the arrow keys, and the choice is in the address', async ({ hub, page }) => {
  await page.goto(`${hub.url}/devices`)
  await page.getByPlaceholder('Search by name, room, maker').fill('galley')
  await expect(page.locator('a[data-row]')).toHaveCount(6)
  await page.locator('a[data-row]').first().focus()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/devices\/.*search=galley/)
  const address = page.url()
  await page.reload()
  expect(page.url()).toBe(address)
  await expect(page.locator('a[data-row]')).toHaveCount(6)
})

test('what is removed comes back with undo', async ({ hub, page }) => {
  const rules = (await hub.get<unknown[]>('/api/rules')).length
  await page.goto(`${hub.url}/rules/rule-stair`)
  await page.getByRole('button', { name: 'Delete' }).click()
  await expect(page.getByText('Stair light deleted')).toBeVisible()
  await expect(page.locator('a[data-row]')).toHaveCount(rules - 1)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.locator('a[data-row]')).toHaveCount(rules)

  const table = (await hub.get<Device[]>('/api/devices')).find((d) => d.title === 'Table lamp')
  await page.goto(`${hub.url}/devices/${table?.id}`)
  await page.getByRole('button', { name: 'Remove' }).click()
  await expect(page.getByText('Table lamp removed from the home.')).toBeVisible()
  await page.goto(`${hub.url}/scenes/scene-supper`)
  await expect(page.getByText('a device no longer in the home').first()).toBeVisible()
  await hub.send('POST', `/api/devices/${table?.id}/restore`)
  await expect(page.getByText('a device no longer in the home')).toHaveCount(0)
})

test('a draft of a rule survives leaving, and going live can be taken back', async ({ hub, page }) => {
  await page.goto(`${hub.url}/rules/rule-stair`)
  await type(page, /^Value: 60 %/, '35')
  await expect(page.getByText('a draft differs from what is live')).toBeVisible()
  await page.goto(`${hub.url}/journal`)
  await page.goto(`${hub.url}/rules/rule-stair`)
  await expect(page.getByRole('button', { name: /^Value: 35 %/ })).toBeVisible()
  const value = async () =>
    (await hub.get<{ id: string; do: { value: number }[] }[]>('/api/rules')).find((r) => r.id === 'rule-stair')?.do[0]
      ?.value
  expect(await value()).toBe(60)
  await page.getByRole('button', { name: 'Put live' }).click()
  await expect(page.getByText('Stair light is live.')).toBeVisible()
  expect(await value()).toBe(35)
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect.poll(value).toBe(60)

  await page
    .getByRole('button', { name: /^Value: 60 %/ })
    .first()
    .click()
  const form = page.locator('.p-popover form')
  await form.locator('input').fill('200')
  await form.getByRole('button', { name: 'Set' }).click()
  await expect(page.getByText('At most 100 %.')).toBeVisible()
  await expect(form).toBeVisible()
})

test('a changed rule is duplicated, switched off, and switched on', async ({ hub, page }) => {
  await page.goto(`${hub.url}/rules/rule-dial`)
  await page.getByRole('button', { name: 'Duplicate' }).click()
  await expect(page.getByLabel('Name of the rule')).toHaveValue('Dial pressed: the extractor, copy')
  await expect(page.getByRole('switch', { name: 'Rule on' })).not.toBeChecked()
  await page.getByRole('switch', { name: 'Rule on' }).click()
  await expect(page.getByRole('switch', { name: 'Rule on' })).toBeChecked()
  await hub.bench({ what: 'jump', clock: '12:00' })
  await page.goto(`${hub.url}/rules/rule-dial`)
  await hub.bench({ what: 'pressDial' })
  await expect(page.getByText(/1 in all/)).toBeVisible()
})

test('a schedule shows its next dates, and acts at its time', async ({ hub, page }) => {
  await hub.bench({ what: 'live', on: false })
  await page.goto(`${hub.url}/schedules`)
  await page.getByRole('button', { name: 'Make a schedule' }).click()
  await page.getByLabel('Name of the schedule').fill('Tea')
  await page.getByRole('textbox', { name: 'Time of day' }).fill('16:30')
  await page.getByRole('textbox', { name: 'Time of day' }).blur()
  await page.getByRole('button', { name: 'Sun', exact: true }).click()
  await page.getByRole('button', { name: 'Add a step' }).click()
  await pick(page, /^Scene: choose/, 'Cooking')
  await expect(page.locator('.bands li')).toHaveCount(7)
  await expect(page.locator('.bands').getByText('Sun', { exact: false })).toHaveCount(0)
  await hub.bench({ what: 'jump', clock: '16:31' })
  type Schedule = { title: string; state: { lastRan?: string; next: string } }
  const tea = async () => (await hub.get<Schedule[]>('/api/schedules')).find((s) => s.title === 'Tea')
  if (new Date((await tea())?.state.next ?? '').getUTCDay() !== 1) expect((await tea())?.state.lastRan).toBeTruthy()
  await page.getByRole('textbox', { name: 'Time of day' }).fill('27:99')
  await page.getByRole('textbox', { name: 'Time of day' }).blur()
  await expect(page.getByRole('alert').filter({ hasText: '"27:99" is not a time such as 07:30' })).toBeVisible()
})

test('a dashboard is arranged by keyboard, undone, and never lost by leaving', async ({ hub, page }) => {
  await page.goto(`${hub.url}/dashboards/dashboard-galley`)
  const cell = page.getByRole('group', { name: /^All off: column/ })
  await expect(cell).toHaveAccessibleName(/^All off: column 1, row 13, 24 wide, 2 high/)
  await cell.focus()
  await page.keyboard.press('Shift+ArrowLeft')
  await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('ArrowRight')
  await expect(cell).toHaveAccessibleName(/^All off: column 2, row 13, 23 wide, 3 high/)
  await page.getByRole('textbox', { name: 'Title', exact: true }).fill('Everything dark')
  await page.goto(`${hub.url}/panel/dashboard-galley`)
  await expect(page.getByRole('article', { name: 'Everything dark' })).toBeVisible()
  await page.goto(`${hub.url}/dashboards/dashboard-galley`)
  const after = page.getByRole('group', {
    name: /^Everything dark: column 2, row 13, 23 wide, 3 high/,
  })
  await expect(after).toBeVisible()
  await after.focus()
  await page.keyboard.press('Delete')
  await expect(after).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(after).toBeVisible()
})

test('a cell is dragged with the pointer', async ({ hub, page }) => {
  await page.goto(`${hub.url}/dashboards/dashboard-galley`)
  const cell = page.getByRole('group', { name: /^All off: column/ })
  await cell.focus()
  const box = await cell.boundingBox()
  if (!box) throw new Error('no control')
  await page.mouse.move(box.x + 8, box.y + 8)
  await page.mouse.down()
  await page.mouse.move(box.x + 8, box.y + 60, { steps: 5 })
  await page.mouse.move(box.x + 8, box.y + 160, { steps: 5 })
  await page.mouse.up()
  await expect(cell).not.toHaveAccessibleName(/^All off: column 1, row 13, 24 wide, 2 high/)
  type Board = { controls: { scene?: string; row: number }[] }
  await expect
    .poll(
      async () =>
        (await hub.get<Board[]>('/api/dashboards'))[0]?.controls.find((c) => c.scene === 'scene-all-off')?.row,
    )
    .toBeGreaterThan(12)
})

test('a scene is tried and put back, changed and applied', async ({ hub, page }) => {
  await page.goto(`${hub.url}/scenes/scene-cooking`)
  type View = { title: string; states: { name: string; text: string }[] }
  const worktop = async () =>
    (await hub.get<View[]>('/api/devices'))
      .find((d) => d.title === 'Worktop lamps')
      ?.states.find((s) => s.name === 'brightness')?.text
  const before = await worktop()
  await page.getByRole('button', { name: 'Try', exact: true }).click()
  await hub.advance(5)
  await expect.poll(worktop).toBe('100 %')
  await page.getByRole('button', { name: 'Put back as it was' }).click()
  await expect.poll(worktop).toBe(before)
  await type(page, /^Worktop lamps brightness/, '45')
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Apply' })).toBeEnabled()
  await page.getByRole('button', { name: 'Apply' }).click()
  await hub.advance(5)
  await expect.poll(worktop).toBe('45 %')
  await expect(page.getByText('in effect now')).toBeVisible()
})

test('time runs faster on the bench, for hub and house alike, and slower again', async ({ hub, page }) => {
  type Bench = { now: string; pace: number }
  const now = async () => Date.parse((await hub.get<Bench>('/api/bench')).now)
  const home = async () => Date.parse((await hub.get<{ now: string }>('/api/home')).now)
  await page.goto(`${hub.url}/bench`)
  const before = await now()
  await page.getByRole('button', { name: '×600' }).click()
  // As fast as this machine can: how fast is for the bench marks to say.
  const began = Date.now()
  await expect.poll(async () => (await now()) - before).toBeGreaterThan(120_000)
  expect((await home()) - before).toBeGreaterThan(2 * (Date.now() - began))
  await page.getByRole('button', { name: '×1', exact: true }).click()
  await expect.poll(async () => (await hub.get<Bench>('/api/bench')).pace).toBe(1)
  const [real, slow] = [Date.now(), await now()]
  await expect(page.getByRole('button', { name: '×1', exact: true })).toHaveAttribute('aria-pressed', 'true')
  expect((await now()) - slow).toBeLessThan(Date.now() - real + 2000)
  expect((await hub.send('POST', '/api/bench', { what: 'pace', pace: 5000 })).status).toBe(422)
})

test('the journal is filtered by device and by rule', async ({ hub, page }) => {
  await page.goto(`${hub.url}/journal`)
  await page.getByRole('combobox', { name: 'Only about a rule' }).click()
  await page.getByRole('option', { name: 'Stair light' }).click()
  await expect(page).toHaveURL(/rule=rule-stair/)
  await expect(page.locator('.entry').first()).toContainText('Rule Stair light')
  for (const text of await page.locator('.entry').allInnerTexts()) expect(text).toContain('Stair light')
})

test('a run, pretending and the text of a rule pass the accessibility checks', async ({ hub, page }) => {
  const [run] = await hub.get<{ id: number }[]>('/api/rules/rule-stair/runs')
  await page.goto(`${hub.url}/rules/rule-stair?run=${run!.id}`)
  await expect(page.getByRole('region', { name: 'This run' })).toContainText('hold Stair lamp')
  await page.getByRole('button', { name: 'Pretend', exact: true }).click()
  await page.getByRole('button', { name: 'As text' }).click()
  await expect(page.locator('.cm-content')).toContainText('title: Stair light')
  for (const part of ['Why not now?', 'Earlier']) {
    await page.getByRole('tab', { name: part }).click()
    await expect(page.getByRole('tabpanel')).not.toBeEmpty()
    await expectAccessible(page, part)
  }
})

test('a list opens at its field, without motion too', async ({ hub, page }) => {
  await page.goto(`${hub.url}/household/groups`)
  const field = page.getByRole('region', { name: 'Groups of devices' }).locator('.p-multiselect').first()
  await field.click()
  const list = page.locator('.p-multiselect-overlay')
  await expect(list).toBeVisible()
  const [at, opened] = [await field.boundingBox(), await list.boundingBox()]
  expect(Math.abs(at!.x - opened!.x)).toBeLessThan(2)
})
