import { expect } from '@playwright/test'
import { noAxeFaults, personAt, test } from './office'

test('a month’s bills are made in one run, one is sent back, and those approved are issued and sent together', async ({
  browser,
  faults,
}) => {
  const { page, hands: h } = await personAt(browser, faults, 'Orla Petrakis', 'mouse')
  const row = (name: string | RegExp) => page.locator('[data-row]', { hasText: name })
  await test.step('what would be billed is seen, narrowed, and made into pre-bills', async () => {
    await page.goto('/bills?show=unbilled')
    await h.fill('Matter', 'lease')
    await expect(row('Lease of the Malthouse')).toBeVisible()
    await expect(row('Estate of Anton Varga')).toHaveCount(0)
    await noAxeFaults(page, 'unbilled work')
    const make = page.getByRole('button', { name: /^Make \d+ pre-bills$/ })
    const n = Number((await make.textContent())!.match(/\d+/)![0])
    expect(n).toBeGreaterThan(2)
    await make.click()
    await expect(page.getByText(`${n} of ${n} done`)).toBeVisible()
    await noAxeFaults(page, 'a run of bills')
  })

  await test.step('two are approved, a third is approved and taken back', async () => {
    for (const [i, name] of ['Lease of the Malthouse', 'Lowell Abernathy, lease of grounds', 'Mbeki Tran, lease of grounds'].entries()) {
      await page.goto('/bills')
      await row(name).getByRole('link').click()
      await h.press(/^Approve \$/)
      await expect(page.getByRole('button', { name: /^Issue \$/ })).toBeVisible()
      if (i < 2) continue
      await page.getByRole('button', { name: 'Undo' }).last().click()
      await expect(page.getByRole('button', { name: /^Approve \$/ })).toBeVisible()
    }
  })

  await test.step('what is approved is issued together, each with its number, and sent', async () => {
    await page.goto('/bills')
    await h.fill('Find by matter or payer', 'lease')
    await page.getByRole('button', { name: /^Approved \(/ }).click()
    await expect(row('Mbeki Tran')).toHaveCount(0)
    await page.getByRole('checkbox', { name: 'Choose all' }).check()
    await page.getByRole('button', { name: /^Issue 2/ }).click()
    await noAxeFaults(page, 'issuing together')
    await h.save()
    await expect(page.getByText('2 of 2 done')).toBeVisible()
    await expect(row('Lease of the Malthouse')).toContainText(/Bill B-\d+ to \S+@/)
    await row('Lease of the Malthouse').getByRole('link').click()
    await expect(page.getByRole('heading', { level: 1, name: /^Bill B-\d+/ })).toBeVisible()
    await expect(async () => {
      await page.reload()
      await expect(page.getByRole('region', { name: 'Sent' })).toContainText('@', { timeout: 1000 })
    }).toPass()
    await h.press('Send')
    await expect(page.getByLabel('Letter')).toHaveValue(/is due on/)
    await noAxeFaults(page, 'sending a bill')
    await page.keyboard.press('Escape')
  })
})

test('a late bill runs up interest by its engagement, is reminded of, and is left alone while disputed', async ({ browser, faults }) => {
  const { page, hands: h } = await personAt(browser, faults, 'Orla Petrakis', 'mouse')
  const row = (text: string) => page.locator('[data-row]', { hasText: text })
  await page.goto('/bills?show=overdue')
  const late = row('Farrow Street Garage').first()
  await expect(late).toContainText('1st is due')
  await noAxeFaults(page, 'overdue bills')
  const number = (await late.getByRole('link').first().textContent())!

  await late.getByRole('link').first().click()
  await page.locator('section[aria-label="Lines"] a').first().click()
  await h.press('Terms')
  await h.fill('Interest, % a year', '12')
  await noAxeFaults(page, 'terms of bills')
  await h.save()
  await expect(page.getByRole('dialog')).toHaveCount(0)

  await page.goto('/bills?show=overdue')
  await late.getByRole('button', { name: /^Acts on/ }).click()
  await page.getByRole('menuitem', { name: /^Charge interest of \$/ }).click()
  await h.save()
  await expect(
    page
      .getByRole('status')
      .filter({ hasText: /Interest charged: B-\d+, \$/ })
      .first(),
  ).toBeAttached()
  await late.getByRole('button', { name: /^Acts on/ }).click()
  await page.getByRole('menuitem', { name: 'Send reminder 1' }).click()
  await expect(page.getByRole('status').filter({ hasText: '1 reminder sent' }).first()).toBeAttached()
  await expect(late).toContainText('1st sent')
  await late.getByRole('button', { name: /^Acts on/ }).click()
  await page.getByRole('menuitem', { name: 'Mark as disputed' }).click()
  await h.fill('What is disputed', 'Hours of the inspection')
  await h.save()
  await expect(late).toContainText('disputed')
  await page.goto('/bills?show=bills')
  await h.fill('Find by number, matter or payer', number)
  await page.getByRole('link', { name: number }).click()
  await expect(page.getByText('Disputed: Hours of the inspection')).toBeVisible()
  await noAxeFaults(page, 'a disputed bill')
})

test('two people change the same file at once: both versions stand side by side, and neither is lost', async ({ browser, faults }) => {
  const open = async (name: string) => {
    const { page, hands } = await personAt(browser, faults, name, 'keyboard')
    await page.goto('/matters')
    await page.getByRole('link', { name: /Kestrel Point Marina, salvage award/ }).first().click() // prettier-ignore
    await page.getByRole('button', { name: 'Change', exact: true }).first().click()
    await expect(page.getByLabel('Name of the matter')).toBeVisible()
    return { page, hands }
  }
  const noor = await open('Noor Haddad-Lind')
  const ingrid = await open('Ingrid Calloway')
  await ingrid.hands.fill('Name of the matter', 'Kestrel Point Marina, salvage award of the Rowan')
  await ingrid.hands.fill('Second number', 'KP-12')
  await ingrid.hands.save()
  await expect(ingrid.page.getByRole('heading', { level: 1, name: /salvage award of the Rowan/ })).toBeVisible()

  const { page, hands: h } = noor
  await h.fill('Name of the matter', 'Kestrel Point Marina v. Rowan')
  await h.fill('Tags, with commas between', 'salvage')
  await h.save()
  const both = page.getByRole('group', { name: 'Changed meanwhile' })
  await expect(both).toContainText('Theirs stands in the form now: Second number')
  await expect(both).toBeFocused()
  await noAxeFaults(page, 'two versions side by side')
  // Nothing goes out until it is decided.
  await h.save()
  await expect(both).toBeFocused()
  await page.keyboard.press('Tab')
  await expect(both.getByRole('button', { name: 'Take theirs' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Name of the matter')).toHaveValue('Kestrel Point Marina, salvage award of the Rowan')
  await h.save()
  await expect(page.getByLabel('Name of the matter')).toHaveCount(0)
  await expect(page.getByRole('heading', { level: 1, name: /salvage award of the Rowan/ })).toBeVisible()
  await expect(page.getByText('salvage', { exact: true }).first()).toBeVisible()
})
