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

/** A statement as banks write it in OFX 1. */
const statement = (account: string, [from, to]: [string, string], lines: readonly string[], closing: string) =>
  Buffer.from(
    `OFXHEADER:100\nDATA:OFXSGML\nVERSION:102\nENCODING:USASCII\nCHARSET:1252\n\n<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>USD<BANKACCTFROM><BANKID>000000013<ACCTID>9999${account}<ACCTTYPE>CHECKING</BANKACCTFROM><BANKTRANLIST><DTSTART>${from}<DTEND>${to}${lines
      .map((l) => `<STMTTRN><TRNTYPE>OTHER${l}</STMTTRN>`)
      .join('')}</BANKTRANLIST><LEDGERBAL><BALAMT>${closing}<DTASOF>${to}</LEDGERBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>`,
  )

test('what only the bank has of the operating account is booked by a rule of the firm, and split over accounts', async ({
  browser,
  faults,
}) => {
  const { page, hands } = await personAt(browser, faults, 'Orla Petrakis', 'mouse')
  const bank = page.getByRole('region', { name: 'Only at the bank' })
  await test.step('the first statement of the account is read', async () => {
    await page.goto('/books?show=bank')
    await page.getByRole('link', { name: /^Operating/ }).click()
    await hands.press(/^Read a statement/)
    const sheet = page.getByRole('dialog', { name: 'Statement of Operating' })
    const buffer = statement('2208', ['20261101', '20261122'], ['<DTPOSTED>20261105<TRNAMT>-25.00<FITID>a<NAME>MONTHLY SERVICE CHARGE', '<DTPOSTED>20261106<TRNAMT>95.00<FITID>b<NAME>RENT OF THE BACK OFFICE'], '48210.55') // prettier-ignore
    await sheet.getByLabel('File').setInputFiles({ name: 'operating.ofx', mimeType: 'application/octet-stream', buffer })
    await sheet.getByRole('button', { name: /^Take it/ }).click()
    await expect(sheet).toBeHidden()
    await page.getByRole('button', { name: 'The month after' }).click()
    await expect(bank.getByRole('row', { name: /RENT OF THE BACK OFFICE/ })).toBeVisible()
  })
  await test.step('a rule books the charge', async () => {
    const rules = page.getByRole('region', { name: 'By the firm’s rules' })
    await rules.getByRole('button', { name: 'Rules …' }).click()
    await hands.fill('Words of the bank', 'service charge')
    await hands.pick('Account', 'bank charges', /Bank charges/i)
    await hands.fill('What it is', 'Charge of the bank')
    await noAxeFaults(page, 'rules for lines of the bank')
    await hands.save()
    await expect(page.getByRole('table', { name: 'Rules for lines of the bank' })).toContainText('Charge of the bank')
    await page.keyboard.press('Escape')
    await rules
      .getByRole('row', { name: /MONTHLY SERVICE CHARGE/ })
      .getByRole('checkbox')
      .check()
    await rules.getByRole('button', { name: /^Book/ }).click()
    await expect(bank.getByRole('row', { name: /MONTHLY SERVICE CHARGE/ })).toHaveCount(0)
  })
  await test.step('rent less a fee goes to two accounts', async () => {
    await bank.getByRole('row', { name: /RENT OF THE BACK OFFICE/ }).getByRole('button', { name: /^Acts/ }).click() // prettier-ignore
    await page.getByRole('menuitem', { name: 'Book it …' }).click()
    await hands.press('Split over accounts')
    await hands.pick('Account 1', 'equity', /./)
    await hands.fill('Amount 1', '100.00')
    await hands.pick('Account 2', 'bank charges', /Bank charges/i)
    await hands.fill('Amount 2', '-4.00')
    await expect(page.getByRole('status').filter({ hasText: '−$1.00 is left' })).toBeVisible()
    await expect(page.getByRole('button', { name: /^Book it/ })).toBeDisabled()
    await hands.fill('Amount 2', '-5.00')
    await noAxeFaults(page, 'a line of the bank that is split')
    await hands.save()
    await expect(page.getByRole('dialog')).toHaveCount(0)
    await expect(bank).not.toContainText('RENT OF THE BACK OFFICE')
  })
  await page.context().close()
})

test('three months that nobody closed are caught up from one file', async ({ browser, faults }) => {
  const ferdi = await personAt(browser, faults, 'Ferdi Kranz', 'mouse')
  await test.step('an account of the firm that is new here', async () => {
    await ferdi.page.goto('/set-up/accounts')
    await ferdi.hands.press('New bank account')
    await ferdi.hands.choose('Kind', 'Operating')
    await ferdi.hands.fill('Name', 'Payroll')
    await ferdi.hands.fill('Bank', 'Wexmoor Savings')
    await ferdi.hands.fill('Last four digits', '3141')
    await ferdi.hands.fill('Next check', '1')
    await ferdi.hands.fill('Number of its account in the chart', '1015')
    await ferdi.hands.save()
    await expect(ferdi.page.getByRole('dialog')).toHaveCount(0)
    await ferdi.page.context().close()
  })
  const { page, hands } = await personAt(browser, faults, 'Orla Petrakis', 'mouse')
  const months = page.getByRole('table', { name: 'Months to close' })
  await test.step('its statement of three months is read', async () => {
    await page.goto('/books?show=bank')
    await page.getByRole('link', { name: /^Payroll/ }).click()
    await hands.press(/^Read a statement/)
    const sheet = page.getByRole('dialog', { name: 'Statement of Payroll' })
    const fee = (day: string, id: string) => `<DTPOSTED>${day}<TRNAMT>-25.00<FITID>${id}<NAME>KEEPING OF THE ACCOUNT`
    const lines = ['<DTPOSTED>20260803<TRNAMT>1000.00<FITID>m0<NAME>BROUGHT IN', fee('20260831', 'm1'), fee('20260930', 'm2'), fee('20261030', 'm3')] // prettier-ignore
    await sheet.getByLabel('File').setInputFiles({ name: 'payroll.ofx', mimeType: 'application/octet-stream', buffer: statement('3141', ['20260801', '20261031'], lines, '925.00') }) // prettier-ignore
    await sheet.getByRole('button', { name: /^Take it/ }).click()
    await expect(sheet).toBeHidden()
    await expect(months.getByRole('row', { name: /Aug 2026/ })).toContainText('not named')
  })
  await test.step('what it charges is booked by a rule, what was brought in by hand', async () => {
    const rules = page.getByRole('region', { name: 'By the firm’s rules' })
    await rules.getByRole('button', { name: 'Rules …' }).click()
    await hands.fill('Words of the bank', 'keeping account')
    await hands.pick('Account', 'bank charges', /Bank charges/i)
    await hands.fill('What it is', 'Charge of the bank')
    await hands.save()
    await expect(page.getByRole('table', { name: 'Rules for lines of the bank' })).toContainText('keeping account')
    await page.keyboard.press('Escape')
    await rules.getByRole('checkbox', { name: 'Choose all' }).check()
    await rules.getByRole('button', { name: 'Book 3 lines' }).click()
    await expect(rules).toContainText('No open line fits one.')
    await months.getByRole('row', { name: /Aug 2026/ }).click()
    await page.getByRole('region', { name: 'Only at the bank' }).getByRole('row', { name: /BROUGHT IN/ }).getByRole('button', { name: /^Acts/ }).click() // prettier-ignore
    await page.getByRole('menuitem', { name: 'Book it …' }).click()
    await hands.pick('Account', 'equity', /Partners/)
    await hands.save()
    await expect(months.getByRole('row', { name: /Aug 2026/ })).toContainText('Nothing: it agrees')
    await noAxeFaults(page, 'months to close')
  })
  await test.step('all three are closed in one go', async () => {
    await hands.press('Close 3 months in order')
    await expect(page.getByRole('status').filter({ hasText: '3 months closed' }).first()).toBeVisible()
    await expect(months).toHaveCount(0)
    await page.goto('/books?show=bank')
    await expect(page.getByRole('row', { name: /Payroll/ })).toContainText('31 Oct')
  })
  await page.context().close()
})
