import type { Browser, Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'
import { make, named } from '../support/home'
import type { Hub } from '../support/hub'
import { pagesRead, type } from '../support/words'

test.use({ flags: ['--fresh'] })

interface Titled {
  id: string
  title: string
  note?: string
}
const among = async <T extends Titled>(hub: Hub, path: string, id: string) =>
  (await hub.get<T[]>(path)).find((d) => d.id === id)!

/** A second window, of another browser. */
async function second(browser: Browser, address: string): Promise<Page> {
  const other = await (await browser.newContext()).newPage()
  await other.goto(address)
  return other
}

const clash = (page: Page) => page.getByRole('alert', { name: 'Changed in two windows' })
const name = (page: Page, what: string) => page.getByLabel(`Name of the ${what}`)

const changes = {
  scene: {
    change: (p: Page) => p.getByRole('textbox', { name: 'Note', exact: true }).fill('Noted there'),
    saved: { note: 'Noted there' },
    shown: (p: Page) => expect(p.getByRole('textbox', { name: 'Note', exact: true })).toHaveValue('Noted there'),
  },
  schedule: {
    change: (p: Page) => p.getByRole('switch', { name: 'Schedule on' }).uncheck(),
    saved: { enabled: false },
    shown: (p: Page) => expect(p.getByRole('switch', { name: 'Schedule on' })).not.toBeChecked(),
  },
}
for (const what of ['scene', 'schedule'] as const) {
  const path = `/api/${what}s`
  const { change, saved, shown } = changes[what]
  test(`two windows edit one ${what} at once: both edits are there, and of two of the same one is asked`, async ({
    hub,
    page,
    browser,
  }) => {
    const { id } = (await hub.get<Titled[]>(path))[0]!
    const address = `${hub.url}${path.replace('/api', '')}/${id}`
    await page.goto(address)
    const other = await second(browser, address)
    await expect(name(other, what)).toBeVisible()

    await name(page, what).fill('Called here')
    await change(other)
    await expect.poll(() => among(hub, path, id)).toMatchObject({ title: 'Called here', ...saved })
    await expect(name(other, what)).toHaveValue('Called here')
    await shown(page)

    await name(page, what).fill('Mine')
    await name(other, what).fill('Theirs')
    await expect
      .poll(async () => [await clash(page).count(), await clash(other).count()].filter((n) => n > 0).length)
      .toBe(1)
    const [late, word] = (await clash(page).count()) ? [page, 'Mine'] : [other, 'Theirs']
    const early = late === page ? other : page
    await expect(clash(late)).toContainText(`Name: ${word === 'Mine' ? 'Theirs' : 'Mine'}`)
    await clash(late).getByRole('button', { name: 'Keep mine' }).click()
    await expect(clash(late)).toBeHidden()
    await expect.poll(async () => (await among(hub, path, id)).title).toBe(word)
    await expect(name(early, what)).toHaveValue(word)
  })
}

test('two windows arrange one dashboard: each control is where it was put', async ({ hub, page, browser }) => {
  interface Board extends Titled {
    controls: { id: string; column: number; row: number; width: number; label?: string }[]
  }
  const lamp = (await named(hub, 'Table lamp')).id
  const control = (id: string, column: number) => ({
    ...{ id, kind: 'lamp', device: lamp, property: 'brightness', column, row: 0, width: 2, height: 2 },
  })
  const id = await make(hub, '/api/dashboards', {
    title: 'Two',
    controls: [control('a', 0), control('b', 6)],
    grid: 24,
  })
  const address = `${hub.url}/dashboards/${id}`
  await page.goto(address)
  const other = await second(browser, address)
  const cell = (p: Page, column: number) => p.getByRole('group', { name: new RegExp(`column ${column}, row 1`) })
  await cell(other, 7).focus()
  await cell(page, 1).focus()
  await page.keyboard.press('ArrowRight')
  await other.keyboard.press('ArrowRight')
  const columns = async () => (await among<Board>(hub, '/api/dashboards', id)).controls.map((c) => c.column)
  await expect.poll(columns).toEqual([1, 7])
  await expect(cell(page, 8)).toBeVisible()
  await expect(cell(other, 2)).toBeVisible()

  // An undo takes back what was done here, and leaves what was done there.
  await page.getByRole('button', { name: 'Undo' }).first().click()
  await expect.poll(columns).toEqual([0, 7])
})

test('what was edited as the hub was killed is saved once it is back, also from another page; undo outlives a reload', async ({
  hub,
  page,
}) => {
  const { id, title } = (await hub.get<Titled[]>('/api/scenes'))[0]!
  const now = async () => (await among(hub, '/api/scenes', id)).title
  await page.goto(`${hub.url}/scenes/${id}`)
  await expect(name(page, 'scene')).toHaveValue(title)
  await pagesRead(page)
  await hub.kill()
  await name(page, 'scene').fill('Typed in the dark')
  await expect(page.getByText('not saved: The hub cannot be reached')).toBeVisible()
  await page.getByRole('link', { name: 'Record' }).click()
  await expect(page.getByLabel('Not saved yet')).toContainText('Typed in the dark is not saved.')
  await hub.again()
  await expect.poll(now).toBe('Typed in the dark')
  await expect(page.getByLabel('Not saved yet')).toBeHidden()

  // Also where the page itself is gone meanwhile.
  await page.goto(`${hub.url}/scenes/${id}`)
  await name(page, 'scene').fill('Typed and left')
  await hub.kill()
  await hub.again()
  await page.reload()
  await expect.poll(now).toBe('Typed and left')
  await expect(name(page, 'scene')).toHaveValue('Typed and left')
  await page.reload()
  await page.getByRole('button', { name: 'Undo' }).first().click()
  await expect.poll(now).toBe('Typed in the dark')
  await page.getByRole('button', { name: 'Undo' }).first().click()
  await expect.poll(now).toBe(title)
  await page.getByRole('button', { name: 'Redo' }).click()
  await expect.poll(now).toBe('Typed in the dark')

  // What the hub refuses is said, and kept until it is right.
  await name(page, 'scene').fill('')
  await expect(page.getByText(/^not saved: /)).toBeVisible()
  await page.reload()
  await expect(name(page, 'scene')).toHaveValue('')
  await expect(page.getByText(/^not saved: /)).toBeVisible()
  await name(page, 'scene').fill('Right again')
  await expect.poll(now).toBe('Right again')
})

test('a scene is as it was on Tuesday, and a device as it was called before', async ({ hub, page }) => {
  interface Valued extends Titled {
    targets: { value: unknown }[]
  }
  const scene = (await hub.get<Valued[]>('/api/scenes')).find((s) => s.title === 'Supper')!
  const { id } = scene
  await page.goto(`${hub.url}/scenes/${id}`)
  await hub.advance(86_400)
  await type(page, /brightness: \d+ %/, '7')
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  const values = async () => (await among<Valued>(hub, '/api/scenes', id)).targets.map((t) => t.value)
  await expect.poll(values).toContain(7)
  await page.getByRole('button', { name: 'Earlier versions' }).click()
  const versions = page.locator('.versions li')
  await expect(versions.first()).toContainText('1 line different, as it is now')
  await versions.first().getByRole('button').first().click()
  await expect(versions.first()).toContainText('7 %')
  await page
    .getByRole('button', { name: /^Take back: as it was/ })
    .first()
    .click()
  await expect.poll(values).toEqual(scene.targets.map((t) => t.value))
  await expect(page.getByRole('button', { name: /brightness: 7 %/ })).toBeHidden()

  const lamp = await named(hub, 'Table lamp')
  await page.goto(`${hub.url}/devices/${lamp.id}`)
  await page.getByRole('button', { name: 'Name and room' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Reading lamp')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('heading', { name: 'Reading lamp' })).toBeVisible()
  await page.getByRole('button', { name: 'Earlier versions' }).click()
  await page
    .getByRole('button', { name: /^Take back: as it was/ })
    .first()
    .click()
  await expect(page.getByRole('heading', { name: 'Table lamp' })).toBeVisible()
})

test('what is large is saved like what is small', async ({ hub, page }) => {
  const lamp = (await named(hub, 'Table lamp')).id
  const controls = Array.from({ length: 200 }, (_, i) => ({
    ...{ id: `control-${i}`, kind: 'value', device: lamp, property: 'brightness', label: `${i} `.padEnd(80, 'long ') },
    ...{ column: i % 12, row: Math.floor(i / 12), width: 1, height: 1 },
  }))
  const id = await make(hub, '/api/dashboards', { title: 'Large', controls })
  await page.goto(`${hub.url}/dashboards/${id}`)
  await name(page, 'dashboard').fill('Very large')
  await expect.poll(async () => (await among(hub, '/api/dashboards', id)).title).toBe('Very large')
})

test('what was removed is brought back long after, where its undo is gone', async ({ hub, page }) => {
  const { id, title } = (await hub.get<Titled[]>('/api/scenes'))[0]!
  expect((await hub.send('DELETE', `/api/scenes/${id}`)).status).toBe(204)
  await hub.kill()
  await hub.again()
  await page.goto(`${hub.url}/removed`)
  await page.getByRole('button', { name: `Bring back ${title}` }).click()
  await expect(page.getByText(`${title} is back.`)).toBeVisible()
  await expect(page.getByRole('button', { name: `Bring back ${title}` })).toBeHidden()
  await page.goto(`${hub.url}/scenes/${id}`)
  await expect(page.getByRole('textbox', { name: 'Name of the scene' })).toHaveValue(title)
})
