import type { Page } from '@playwright/test'
import { expect, test } from '../support/fixtures'

/** Gives a page's browser a device that keeps passkeys, as a phone does, unlocked by its owner's finger. */
async function withDevice(page: Page) {
  const cdp = await page.context().newCDPSession(page)
  await cdp.send('WebAuthn.enable')
  const { authenticatorId } = await cdp.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      protocol: 'ctap2',
      transport: 'internal',
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
      automaticPresenceSimulation: true,
    },
  })
  return {
    unlocks: (isUserVerified: boolean) => cdp.send('WebAuthn.setUserVerified', { authenticatorId, isUserVerified }),
  }
}

test.use({ flags: ['--open=false', '--empty'] })

test('a passkey is made on a device, signs in without a name or a password, and once removed lets nobody in', async ({
  hub,
  page,
}) => {
  // For the address of numbers browsers have none, and the page says what to do.
  const named = hub.url.replace('127.0.0.1', 'localhost')
  await page.goto(named)
  await page.getByLabel('Code').fill(hub.code)
  await page.getByLabel('Name').fill('Nell')
  await page.getByLabel('Password', { exact: true }).fill('under the weir')
  await page.getByRole('button', { name: 'Become the owner' }).click()
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible()

  const device = await withDevice(page)
  await page.getByRole('link', { name: 'Nell' }).click()
  const passkeys = page.getByRole('region', { name: 'Passkeys' })
  await passkeys.getByRole('button', { name: 'Make a passkey on this device' }).click()
  await expect(passkeys.getByRole('listitem')).toContainText('Chrome on Linux for localhost')
  await expect(passkeys.getByRole('listitem')).toContainText('not used yet')
  await passkeys.getByRole('button', { name: 'Make a passkey on this device' }).click()
  await expect(page.getByText('This device has a passkey for you here already.')).toBeVisible()

  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  // Whoever does not unlock the device is not let in, and can try again.
  await device.unlocks(false)
  await page.getByRole('button', { name: 'Sign in with a passkey' }).click()
  await expect(page.getByRole('button', { name: 'Sign in with a passkey' })).toBeEnabled()
  await expect(page.getByRole('alert')).toHaveCount(0)
  await device.unlocks(true)
  await page.getByRole('button', { name: 'Sign in with a passkey' }).click()
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible()
  await page.goto(`${named}/journal?words=passkey`)
  await expect(page.getByText(/Nell came in with a passkey/)).toBeVisible()
  await expect(page.getByText(/Nell made a passkey/)).toBeVisible()

  await page.goto(`${named}/me`)
  await passkeys.getByRole('button', { name: /Remove the passkey/ }).click()
  await expect(passkeys.getByRole('listitem')).toHaveCount(0)
  await page.getByRole('button', { name: 'Sign out' }).click()
  await page.getByRole('button', { name: 'Sign in with a passkey' }).click()
  await expect(page.getByRole('alert')).toContainText('This passkey lets nobody in here.')

  await page.goto(hub.url)
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Sign in with a passkey' })).toHaveCount(0)
})
