import { expect } from '@playwright/test'
import { quiet } from './hands'
import { noAxeFaults, personAt, test } from './office'

test('Monday morning: late time, a goal missed, a note sent, and the report set to go out', async ({ browser, faults }) => {
  const { page, hands } = await personAt(browser, faults, 'Noor Haddad-Lind', 'keyboard')
  const weeks = page.getByRole('table', { name: 'Week by timekeeper' })
  await test.step('what was recorded late stands with the figure as it was', async () => {
    await page.goto('/reports/weeks')
    await expect(weeks.getByRole('row', { name: /^Tomas/ }).getByRole('img', { name: /late/ })).toBeVisible()
    const late = page.getByRole('table', { name: 'Recorded late' })
    // 4.8 hours at $225.00 came late.
    await expect(late.getByRole('row', { name: /Tomas/ })).toContainText('$1,080.00')
    await noAxeFaults(page, 'weeks of timekeepers')
    await hands.press('Take as seen')
    await expect(page.getByRole('region', { name: 'Recorded late' })).toContainText('Nothing came late since')
  })
  await test.step('a goal is set, and missed', async () => {
    await hands.press('Goals …')
    const sheet = page.getByRole('dialog', { name: 'Goals and weeks' })
    await hands.choose('Timekeeper', 'Tomas')
    await hands.fill('Goal of a week', '50000')
    await noAxeFaults(page, 'goals')
    await hands.save()
    await expect(sheet.getByRole('table', { name: 'Goals' })).toContainText('$50,000.00')
    await page.keyboard.press('Escape')
    await expect(sheet).toHaveCount(0)
    await expect(weeks.getByRole('row', { name: /^Tomas/ })).toContainText('$50,000.00')
  })
  await test.step('a note goes to the person in one act', async () => {
    await weeks.getByRole('row', { name: /^Tomas/ }).getByRole('button', { name: /^Acts/ }).click() // prettier-ignore
    await page.getByRole('menuitem', { name: 'Write a note …' }).click()
    const sheet = page.getByRole('dialog', { name: /^Write to Tomas/ })
    await hands.fill('What', 'Please record your week by tonight')
    await hands.save()
    await expect(sheet).toHaveCount(0)
    await expect(page.getByRole('region', { name: 'What was done' })).toContainText('has it as a task')
  })
  await test.step('the report goes out by itself, and now', async () => {
    await hands.press('Send …')
    const sheet = page.getByRole('dialog', { name: 'Let it go out by itself' })
    await hands.fill('Name', 'Weeks for partners')
    await noAxeFaults(page, 'a report that goes out')
    await hands.save()
    await expect(sheet).toHaveCount(0)
    await page.goto('/reports/sent')
    const list = page.getByRole('table', { name: 'Reports sent by themselves' })
    await expect(list.getByRole('row', { name: /Weeks for partners/ })).toContainText('every Monday')
    await list.getByRole('row', { name: /Weeks for partners/ }).getByRole('button', { name: /^Acts/ }).click() // prettier-ignore
    await page.getByRole('menuitem', { name: 'Send it now' }).click()
    await expect(page.getByRole('region', { name: 'What was done' })).toContainText('is on its way to Noor')
    await noAxeFaults(page, 'reports sent by themselves')
  })
  await page.context().close()
})

test('from a sum of the firm down to one entry, and a figure by words', async ({ browser, faults }) => {
  const { page, hands } = await personAt(browser, faults, 'Noor Haddad-Lind', 'mouse')
  await page.goto('/reports/flow')
  const flow = page.getByRole('table', { name: 'Work to money' })
  await expect(flow.getByRole('row', { name: /^Tomas/ })).toBeVisible()
  await noAxeFaults(page, 'work to money')
  const billed = (await flow.getByRole('row', { name: /^Tomas/ }).getByRole('button', { name: /^\$/ }).nth(3).textContent())! // prettier-ignore
  await flow.getByRole('row', { name: /^Tomas/ }).getByRole('button', { name: /^\$/ }).nth(3).click() // prettier-ignore
  const behind = page.getByRole('table', { name: 'What stands behind the figure' })
  await expect(behind).toContainText(billed)
  await noAxeFaults(page, 'what stands behind a figure')
  await page.keyboard.press('Escape')
  // A long span is added up in the background, and opens to its entries all the same.
  await hands.fill('From', '2019-01-01')
  await page.keyboard.press('Tab')
  await expect(page).toHaveURL(/from=2019-01-01/)
  await expect(flow.getByRole('row', { name: /^Tomas/ })).not.toContainText(billed)
  await flow.getByRole('row', { name: /^Tomas/ }).getByRole('button', { name: /^\$/ }).first().click() // prettier-ignore
  await expect(behind.locator('[data-row]').first()).toBeVisible()
  await page.keyboard.press('Escape')
  await hands.go('owed gannet', /owed by .*Gannet/)
  await expect(page).toHaveURL(/\/people\/\d+/)
  for (const report of ['Trust against work', 'Profit by matter', 'Hours by funding source']) {
    await page.goto('/reports/unbilled')
    await page.getByLabel('Report', { exact: true }).selectOption({ label: report })
    await expect(page.getByRole('heading', { name: report, level: 1 })).toBeVisible()
    await expect(page.getByRole('table', { name: report })).toContainText('Together')
    await noAxeFaults(page, report)
  }
  await page.context().close()
})

test('a partner’s first page leads to what it asks for, and a matter moves on the board by a key', async ({ browser, faults }) => {
  const { page } = await personAt(browser, faults, 'Noor Haddad-Lind', 'keyboard')
  await test.step('a pre-bill is reviewed from the first page and leaves it', async () => {
    await page.goto('/reports')
    const held = page.getByRole('region', { name: 'Pre-bills to review' })
    await expect(held).toBeVisible()
    await noAxeFaults(page, 'for decision')
    const name = (await held.getByRole('listitem').first().locator('b').textContent())!
    await held.getByRole('listitem').first().getByRole('link').click()
    await page.getByRole('button', { name: /^Approve/ }).click()
    await expect(page.getByRole('button', { name: /^Take back|^Back to review/ })).toBeVisible()
    await page.goto('/reports')
    await expect(page.getByRole('heading', { name: 'For decision' })).toBeVisible()
    await expect(page.getByRole('region', { name: 'Dates that are past and not met' }).or(held).first()).toBeVisible()
    await expect(held.getByRole('listitem').filter({ hasText: name }).first()).toHaveCount(0)
  })
  await test.step('whatever else it asks for is done or put off, until nothing is left of it', async () => {
    const asked = (title: string) => page.getByRole('region', { name: title })
    const again = async () => {
      await page.goto('/reports')
      await expect(page.getByRole('heading', { name: 'For decision' })).toBeVisible()
      await quiet(page)
    }
    const says = page.getByRole('region', { name: 'What was done' })
    for (; await asked('Pre-bills to review').count(); await again()) {
      await asked('Pre-bills to review').getByRole('listitem').first().getByRole('link').click()
      await page.getByRole('button', { name: /^Approve/ }).click()
      await expect(page.getByRole('button', { name: /^Take back|^Back to review/ })).toBeVisible()
    }
    for (; await asked('Dates that are past and not met').count(); await again()) {
      await asked('Dates that are past and not met').getByRole('listitem').first().getByRole('link').click()
      await page.getByRole('button', { name: 'Mark vacated' }).click()
      await expect(says).toContainText(': vacated')
    }
    for (; await asked('Money that waits for a second person').count(); await again()) {
      await asked('Money that waits for a second person').getByRole('link', { name: 'Agree' }).click()
      await page.getByRole('button', { name: /^Acts on/ }).first().click() // prettier-ignore
      await page.getByRole('menuitem', { name: /^Agree/ }).click()
      await expect(says).toContainText(/Corrected|Posted|Closed|Opened/)
    }
    for (; await asked('Conflict hits without a decision').count(); await again()) {
      await asked('Conflict hits without a decision').getByRole('link', { name: 'Decide' }).click()
      await page.getByRole('table', { name: 'Checks' }).getByRole('link').first().click()
      const hits = page.getByRole('region', { name: 'Hits' })
      await hits.getByRole('button', { name: 'No conflict' }).first().click()
      await expect(hits).toContainText('no conflict')
    }
    for (const later = page.getByRole('button', { name: /^Put off/ }); await later.count(); await quiet(page)) await later.first().click()
    await expect(page.getByText('Nothing waits for a decision of yours.')).toBeVisible()
    await noAxeFaults(page, 'nothing for decision')
    await page.getByRole('button', { name: /^Show .* again$/ }).click()
    await expect(asked('Budgets nearly used').getByRole('listitem').first()).toBeVisible()
  })
  await test.step('a card goes to the next stage', async () => {
    await page.goto('/matters/board')
    const stages = page.getByRole('region', { name: 'Board of matters' })
    await expect(stages.locator('[data-card]').first()).toBeVisible()
    await noAxeFaults(page, 'board of matters')
    const column = stages.locator('section').filter({ has: page.locator('[data-card]') }).first() // prettier-ignore
    const card = column.locator('[data-card]').first()
    const id = await card.getAttribute('data-card')
    const before = await column.getAttribute('aria-label')
    await card.focus()
    await page.keyboard.press('Shift+ArrowRight')
    await expect(page.getByRole('region', { name: 'What was done' })).toContainText(/ is at .* now/)
    await expect(stages.locator('section', { has: page.locator(`[data-card="${id}"]`) })).not.toHaveAttribute('aria-label', before!)
  })
  await test.step('a card is handed to another lead, and back', async () => {
    await page.goto('/matters/board?by=lead')
    const leads = page.getByRole('region', { name: 'Board of matters' })
    const mine = leads.getByRole('region', { name: 'Noor Haddad-Lind', exact: true })
    const card = mine.locator('[data-card]').first()
    const id = await card.getAttribute('data-card')
    const column = () => leads.locator('section', { has: page.locator(`[data-card="${id}"]`) })
    await card.focus()
    await page.keyboard.press('Shift+ArrowRight')
    await expect(page.getByRole('region', { name: 'What was done' })).toContainText(/ is led by .* now/)
    await expect(column()).not.toHaveAttribute('aria-label', 'Noor Haddad-Lind')
    // The card keeps the focus where it is now.
    await expect(page.locator(`[data-card="${id}"]`)).toBeFocused()
    await page.getByRole('region', { name: 'What was done' }).getByRole('button', { name: 'Undo' }).last().click()
    await expect(column()).toHaveAttribute('aria-label', 'Noor Haddad-Lind')
  })
  await page.context().close()
})
