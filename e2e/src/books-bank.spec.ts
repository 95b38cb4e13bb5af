import { expect } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { noAxeFaults, personAt, test } from './office'

test('a month of a trust account is read, explained to the cent, and closed', async ({ browser, faults }) => {
  const { page, hands } = await personAt(browser, faults, 'Orla Petrakis', 'mouse')
  const file = { name: 'october.ofx', mimeType: 'application/octet-stream', buffer: readFileSync(join(process.env['HERON_STATEMENTS']!, 'pooled-2026-10.ofx')) } // prettier-ignore
  const figures = page.getByRole('region', { name: 'Three figures' })
  await test.step('the month before stands closed, with its report', async () => {
    await page.goto('/books?show=bank')
    await expect(page.getByRole('row', { name: /Pooled client trust/ })).toContainText('30 Sep')
    await noAxeFaults(page, 'bank accounts')
    await page.getByRole('link', { name: /Pooled client trust/ }).click()
    await expect(page.getByText('Oct 2026', { exact: true })).toBeVisible()
    await expect(figures).toContainText('No statement reaches Sat 31 Oct')
    await page.getByRole('button', { name: 'The month before' }).click()
    await expect(page.getByText('This month is closed')).toBeVisible()
    await expect(page.getByRole('link', { name: 'Report', exact: true })).toBeVisible()
    await page.getByRole('button', { name: 'The month after' }).click()
  })
  await test.step('the statement is looked at before it is taken; read again it has nothing new', async () => {
    await hands.press(/^Read a statement/)
    const sheet = page.getByRole('dialog', { name: 'Statement of Pooled client trust' })
    await sheet.getByLabel('File').setInputFiles({ ...file, buffer: Buffer.from('no statement') })
    await expect(sheet.getByRole('alert')).toBeVisible()
    await expect(sheet.getByRole('button', { name: /^Take it/ })).toBeDisabled()
    await sheet.getByLabel('File').setInputFiles(file)
    await expect(sheet.getByRole('status')).toContainText(/\d lines not read before/)
    await noAxeFaults(page, 'a statement that is read')
    await sheet.getByRole('button', { name: /^Take it/ }).click()
    await expect(sheet).toBeHidden()
    await hands.press(/^Read a statement/)
    await sheet.getByLabel('File').setInputFiles(file)
    await expect(sheet).toContainText('Every line of it was read before')
    await page.keyboard.press('Escape')
  })
  await test.step('a proposal is taken, a cent is named, a charge is borne by the firm’s money, and the month closes', async () => {
    await expect(figures).toContainText(/\d differences are not named/)
    const proposals = page.getByRole('region', { name: 'Proposals' })
    await expect(proposals.getByRole('row', { name: /but check \d+ at the bank/ })).toBeVisible()
    await noAxeFaults(page, 'a month with differences')
    await proposals.getByRole('checkbox').first().check()
    await proposals.getByRole('button', { name: 'Take what is chosen' }).click()
    await expect(figures).toContainText('2 differences are not named')
    const bank = page.getByRole('region', { name: 'Only at the bank' })
    const book = page.getByRole('region', { name: 'Only in the book' })
    await bank.getByRole('row', { name: /DEPOSIT/ }).getByRole('checkbox').check() // prettier-ignore
    await book.getByRole('row', { name: /Sheet \d+/ }).getByRole('checkbox').check() // prettier-ignore
    await bank.getByRole('button', { name: /^Match what is chosen, \$0\.01 apart/ }).click()
    await page.getByLabel('What the difference is').fill('A cent too much, told to the bank')
    await page.getByRole('button', { name: /^Match them/ }).click()
    await expect(figures).toContainText('One difference is not named')
    await bank.getByRole('row', { name: /MONTHLY SERVICE CHARGE/ }).getByRole('button', { name: /^Acts/ }).click() // prettier-ignore
    await page.getByRole('menuitem', { name: 'The bank did …' }).click()
    const did = page.getByRole('dialog', { name: 'What the bank did' })
    await did.getByLabel('What', { exact: true }).selectOption({ label: 'It charged the account' })
    await noAxeFaults(page, 'what the bank did')
    await did.getByRole('button', { name: /^Post it/ }).click()
    await expect(did).toBeHidden()
    await expect(figures).toContainText('They agree, and every difference is named.')
    await hands.press('Close Oct 2026')
    await expect(page.getByText('This month is closed')).toBeVisible()
    await expect(page.getByRole('link', { name: 'Report', exact: true })).toBeVisible()
    await noAxeFaults(page, 'a closed month')
  })
  await page.context().close()
})
