import { expect } from '@playwright/test'
import { noAxeFaults, noFaultsOn, personAt, test } from './office'

/** Every screen once, at both widths, with axe: those that the story does not open, too. The docket's stand with its stories. */
const screens: Record<string, string[]> = {
  'Noor Haddad-Lind': [
    '/today',
    '/matters',
    '/matters/1',
    '/matters/1/log',
    '/matters/1/parties',
    '/matters/1/trust',
    '/people',
    '/people/1',
    '/people/enquiries',
    '/people/enquiries/1',
    '/people/conflicts',
    '/people/import',
    '/tasks',
    '/tasks?view=all',
    '/tasks?view=board',
    '/matters?columns=number,name,tags,unbilled,owed,held,conflicts&areaId=1&stageId=1',
    '/matters/1/talk',
    '/matters/1/tasks',
    '/docket',
    '/papers',
    '/papers/mail',
    '/papers/to-read',
    '/papers/templates',
    '/papers/templates/1',
    '/papers/fields',
    '/time',
    '/time/day',
    '/time/week',
    '/time/all',
    '/time/all?as=sums',
    '/time/rates',
    '/time/phrases',
    '/time/costs',
    '/people/1/statement',
    '/bills',
    '/bills?show=unbilled',
    '/bills?show=bills',
    '/bills?show=runs',
    '/reports',
    '/reports/weeks',
    '/reports/flow?as=act&by=month',
    '/reports/owed',
    '/reports/matters',
    '/reports/sent',
    '/matters/board',
    '/nowhere',
  ],
  'Orla Petrakis': [
    '/today',
    '/trust',
    '/trust?show=sheets',
    '/trust?show=payments',
    '/trust/sheets/1',
    '/trust/ledgers/2',
    '/books',
    '/books?show=income',
    '/books?show=balance',
    '/books?show=cash',
    '/books?show=years',
    '/trust?show=checks',
    '/trust?show=calls',
    '/trust?show=settle',
    '/time/costs',
    '/time/costs?show=recurring',
    '/books?show=payables',
    '/people/import?what=opening',
    '/people/import?what=chart',
    '/reports/retainers',
    '/books/accounts/1',
    '/books/journals/1',
  ],
  'Sable Whitcombe': ['/today', '/matters'],
  'Ferdi Kranz': [
    '/set-up',
    '/set-up/people',
    '/set-up/leave',
    '/set-up/areas',
    '/set-up/fields',
    '/set-up/procedures',
    '/set-up/procedures/2',
    '/set-up/lists',
    '/set-up/time',
    '/set-up/folders',
    '/set-up/letterhead',
    '/set-up/letters',
    '/set-up/accounts',
    '/set-up/reminders',
    '/set-up/rights',
    '/set-up/walls',
    '/set-up/log',
    '/set-up/background',
    '/set-up/backups',
  ],
}

for (const [name, paths] of Object.entries(screens))
  test(`axe finds nothing on the screens of ${name}`, async ({ browser, faults }) => {
    const { page } = await personAt(browser, faults, name, 'mouse')
    await noFaultsOn(page, paths)
  })

test('the sign-in page offers the demo firm’s people and refuses a wrong password', async ({ page }) => {
  await page.goto('/sign-in')
  await expect(page.getByRole('button', { name: /^Noor/ })).toBeVisible()
  await noAxeFaults(page, 'sign in')
  await page.getByLabel('E-mail address').fill('nobody@callowayfenn.example')
  await page.getByLabel('Password').fill('guess')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('is not right')
})

test('sheets of keys, timers and finding hold no fault, and Esc gives the focus back', async ({ browser, faults }) => {
  const { page } = await personAt(browser, faults, 'Noor Haddad-Lind', 'mouse')
  const record = page.getByRole('button', { name: /^Record time/ }).first()
  await record.focus()
  await page.keyboard.press('?')
  await expect(page.getByRole('heading', { name: 'Keys and marks' })).toBeVisible()
  await noAxeFaults(page, 'key sheet')
  await page.keyboard.press('Escape')
  await expect(record).toBeFocused()
  await page.keyboard.press('t')
  await expect(page.getByRole('heading', { name: 'Start a timer' })).toBeVisible()
  await noAxeFaults(page, 'timer')
  await page.keyboard.press('Escape')
  await expect(record).toBeFocused()
  await page.keyboard.press('Control+k')
  await page.keyboard.type('gannet')
  await expect(page.getByRole('option', { name: /Gannet Ferry Cooperative v\. Corvane/ })).toBeVisible()
  await noAxeFaults(page, 'find or do')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1, name: /Gannet Ferry/ })).toBeVisible()
})

test('a session that ends while something is typed is begun again over the page, and nothing is lost', async ({ browser, faults }) => {
  const { page, hands: h } = await personAt(browser, faults, 'Noor Haddad-Lind', 'mouse')
  await page.goto('/matters')
  await page
    .getByRole('link', { name: /North Shoal Pilots/ })
    .first()
    .click()
  await h.tab('Bills')
  await h.press('Terms')
  await h.fill('Off fees, %', '10')
  await h.fill('Tax on own costs, %', '6')
  await h.choose('Language', 'Spanish')
  await noAxeFaults(page, 'terms of bills')
  await page.context().clearCookies()
  await h.press(/^Save/)
  const again = page.getByRole('dialog', { name: 'Your session has ended' })
  await expect(again.getByRole('heading')).toBeVisible()
  await noAxeFaults(page, 'signing in again')
  await expect(again.getByLabel('E-mail address')).toBeFocused()
  await again.getByLabel('E-mail address').fill('noor@callowayfenn.example')
  await again.getByLabel('Password').fill('harrow-sound')
  await page.keyboard.press('Enter')
  await expect(again).toHaveCount(0)
  await h.save()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await h.press('Terms')
  await expect(page.getByLabel(/^Off fees, %/)).toHaveValue('10')
  await expect(page.getByLabel('Language')).toHaveValue('es')
})
