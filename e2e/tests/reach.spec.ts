import { expect, test } from '../support/fixtures'

test('an owner adds a name and a page of elsewhere: what is wrong is said where it is, the rest works at once and after a restart', async ({
  hub,
  page,
}) => {
  const asked = (host: string) =>
    page.request.get(`${hub.url}/api/session`, { headers: { Host: host } }).then((a) => a.status())
  expect(await asked('home.example.org')).toBe(403)
  await page.goto(`${hub.url}/reach`)
  const names = page.getByRole('region', { name: 'Other names' })
  const name = names.getByRole('textbox', { name: 'Another name of the hub' })
  await name.fill('http://home.example.org')
  await names.getByRole('button', { name: 'Add' }).click()
  await expect(names.getByRole('alert')).toContainText('without http://')
  await expect(name).toHaveValue('http://home.example.org')
  await name.fill('Home.example.org')
  await expect(names.getByRole('alert')).toHaveCount(0)
  await name.press('Enter')
  await expect(names.getByRole('listitem')).toHaveText(/home\.example\.org/)
  expect(await asked('home.example.org')).toBe(200)

  const pages = page.getByRole('region', { name: 'Other web pages' })
  await pages.getByRole('textbox').fill('*')
  await pages.getByRole('button', { name: 'Add' }).click()
  await expect(pages.getByRole('alert')).toContainText('is no origin')
  await pages.getByRole('textbox').fill('https://example.org')
  await pages.getByRole('button', { name: 'Add' }).click()
  await expect(pages.getByRole('listitem')).toHaveCount(1)

  await hub.kill()
  await hub.again()
  await page.goto(`${hub.url}/reach`)
  await expect(names.getByRole('listitem')).toHaveCount(1)
  await expect(pages.getByRole('listitem')).toHaveCount(1)
  await names.getByRole('button', { name: 'Remove home.example.org' }).click()
  await expect(names.getByRole('listitem')).toHaveCount(0)
  expect(await asked('home.example.org')).toBe(403)
  await page.goto(`${hub.url}/journal?words=reaches`)
  await expect(page.getByText(/changed what reaches the hub: https:\/\/example.org/).first()).toBeVisible()
})
