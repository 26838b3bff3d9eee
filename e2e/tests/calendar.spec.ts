import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { expect, test } from '../support/fixtures'
import { quietEvening } from '../support/home'
import { fromNothing, open, pick, row, type } from '../support/words'

test.use({ flags: ['--fresh'] })

test('an entry in the family diary starts a rule, and a calendar that fails says so', async ({ hub, page }) => {
  await quietEvening(hub)
  await page.goto(`${hub.url}/household/calendars`)
  const calendars = page.getByRole('region', { name: 'Calendars' })
  await expect(calendars.getByRole('list', { name: /What comes next/ })).toContainText('Potters, evening class')

  // Written into the diary on the bench, read by the hub.
  await page.goto(`${hub.url}/bench`)
  const diary = page.getByRole('region', { name: 'Family diary' })
  await diary.getByRole('textbox', { name: 'What is written into the diary' }).fill('Chess evening, at home')
  await diary.getByRole('spinbutton', { name: 'In how many minutes' }).fill('120')
  await diary.getByRole('button', { name: 'Write it down' }).click()
  await expect(diary).toContainText('22:0')
  await page.goto(`${hub.url}/household/calendars`)
  await calendars.getByRole('button', { name: 'Read now' }).click()
  await expect(calendars).toContainText('Chess evening, at home')

  await page.goto(`${hub.url}/rules`)
  await page.getByRole('button', { name: 'New rule' }).click()
  await fromNothing(page)
  await page.getByRole('textbox', { name: 'Name of the rule' }).fill('Before the game')
  const editor = page.getByRole('main')
  await pick(page, /^Kind of rule/, 'Each time')
  await editor.getByRole('button', { name: 'Choose what starts it' }).click()
  await pick(page, /^What starts it/, 'a calendar event')
  await pick(page, /^Calendar: /, 'Family diary')
  const words = page.getByRole('textbox', { name: 'Words in its title' })
  await open(editor.getByRole('button', { name: /^Words in its title/ }), words)
  await words.fill('chess')
  await page.keyboard.press('Enter')
  await pick(page, /^When, from there/, 'before that')
  await type(page, /^How long before or after/, '20', 'min')
  await editor.getByRole('button', { name: 'Add a step' }).click()
  await pick(page, /^Step: /, 'tell the household')
  const told = page.getByRole('textbox', { name: 'What is told' })
  await open(editor.getByRole('button', { name: /^What is told/ }), told)
  await told.fill('Set the board up.')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Put live' }).click()
  await expect(page.getByText('Before the game is live.')).toBeVisible()
  await expect(editor.getByText(/^next 21:4/)).toBeVisible()

  const notices = () => hub.get<{ text: string }[]>('/api/notices')
  await hub.advance(80 * 60)
  expect((await notices()).map((n) => n.text)).not.toContain('Set the board up.')
  // It survives a start of the hub.
  await hub.kill()
  await hub.again()
  await hub.advance(25 * 60)
  await expect.poll(async () => (await notices()).map((n) => n.text)).toContain('Set the board up.')
  await page.goto(`${hub.url}/journal`)
  await expect(page.getByText('Rule Before the game: it was time for “Chess evening, at home”').first()).toBeVisible()

  // Addresses that are none, that answer nonsense, and that hang up.
  await page.goto(`${hub.url}/household/calendars`)
  const add = async (title: string, address: string) => {
    await calendars.getByRole('textbox', { name: 'Name of the new calendar' }).fill(title)
    await calendars.getByRole('textbox', { name: 'Address of the new calendar' }).fill(address)
    await calendars.getByRole('button', { name: 'Add' }).click()
  }
  await add('Nowhere', 'the kitchen wall')
  await expect(page.getByText(/"the kitchen wall" is no web address/)).toBeVisible()
  const answers = ['<html>', 'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:Odd\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n']
  const server = createServer((request, response) => {
    const answer = answers.shift()
    if (request.url !== '/9f3k2m7q1x5z/club.ics') response.writeHead(403).end()
    else if (answer === undefined) response.destroy()
    else response.end(answer)
  })
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready))
  try {
    const host = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
    await add('Club', `${host}/9f3k2m7q1x5z/club.ics`)
    const club = calendars.getByRole('article', { name: 'Club' })
    // Its key is not shown again, and goes to no other host; this machine is called only where its owner says so.
    const address = club.getByRole('textbox', { name: 'Address of Club' })
    await expect(address).toHaveValue(/^http:\/\/127\.0\.0\.1:\d+\/\(hidden-[a-z0-9]{12}\)\/club\.ics$/)
    expect(await (await fetch(`${hub.url}/api/calendars`)).text()).not.toContain('9f3k2m7q1x5z')
    await expect(club.getByRole('alert')).toContainText('leads to this machine itself')
    const hidden = (await address.inputValue()).slice(host.length)
    await address.fill(`http://elsewhere.example${hidden}`)
    await address.press('Enter')
    await expect(page.getByText('somebody else may listen')).toBeVisible()
    await page.reload()
    await expect(address).toHaveValue(`${host}${hidden}`)
    await club.getByRole('checkbox', { name: 'It may be on this machine' }).click()
    await expect(club.getByRole('alert')).toContainText('no calendar in the format of iCalendar')
    await club.getByRole('button', { name: 'Read now' }).click()
    await expect(club).toContainText('Left out: Odd: it does not say when it begins')
    await club.getByRole('button', { name: 'Read now' }).click()
    await expect(club.getByRole('alert')).toContainText('could not be reached')
  } finally {
    server.close()
  }
  // A calendar that a rule uses goes: the rule says so, and undo brings both back.
  await calendars.getByRole('button', { name: 'Remove the calendar Family diary' }).click()
  await page.goto(`${hub.url}/rules`)
  await row(page, 'Before the game').click()
  await expect(page.getByText('This calendar no longer exists.').first()).toBeVisible()
})
