import { expect, type Locator, type Page } from '@playwright/test'
import { execFileSync } from 'node:child_process'
import { quiet } from './hands'
import { noAxeFaults, personAt, restart, test } from './office'

const said = (page: Page, text: string | RegExp) => expect(page.getByRole('status').filter({ hasText: text }).first()).toBeVisible()
const sheetGone = (page: Page) => expect(page.getByRole('dialog')).toHaveCount(0)
const line = (page: Page, title: string | RegExp) => page.getByRole('button', { name: title })
const onCalendar = (page: Page, title: string) => page.locator('.docket-event', { hasText: title }).first()

/** Drags an entry of the calendar to the column of another, or to another place. */
async function drag(page: Page, from: Locator, to: { x: number; y: number }) {
  await from.scrollIntoViewIfNeeded()
  const box = (await from.boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + 8)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width / 2 + 8, box.y + 12, { steps: 4 })
  await page.mouse.move(to.x, to.y, { steps: 12 })
  await page.mouse.up()
}
const middle = async (of: Locator) => {
  const box = (await of.boundingBox())!
  return { x: box.x + box.width / 2, y: box.y + Math.min(60, box.height / 2) }
}

test('an appointment is dragged and put back; a counted date that is dragged asks why and stays marked', async ({ browser, faults }) => {
  const { page, hands: h } = await personAt(browser, faults, 'Noor Haddad-Lind', 'mouse')
  await page.goto('/docket?view=week&scope=firm')
  const meeting = onCalendar(page, 'Meet client before deposition')
  await expect(meeting).toBeVisible()
  await noAxeFaults(page, 'week')
  await meeting.scrollIntoViewIfNeeded()
  const tuesday = await middle(page.getByText('Tue 24 Nov', { exact: true }))
  await drag(page, meeting, { x: tuesday.x, y: (await meeting.boundingBox())!.y + 10 })
  await said(page, 'Meet client before deposition moved to Tue 24 Nov')
  await page.getByRole('button', { name: 'Undo' }).click()
  await meeting.click()
  await expect(page.getByRole('dialog')).toContainText('Mon 23 Nov, 2:00 pm')
  await page.keyboard.press('Escape')
  await sheetGone(page)

  await h.press('Month')
  await page.getByRole('button', { name: 'After' }).click()
  await expect(page.getByText('December 2026')).toBeVisible()
  const answers = onCalendar(page, 'Answers to interrogatories')
  await expect(answers).toBeVisible()
  await noAxeFaults(page, 'month')
  const box = (await answers.boundingBox())!
  await drag(page, answers, { x: box.x + box.width * 1.5, y: box.y + 10 })
  const sheet = page.getByRole('dialog', { name: /Answers to interrogatories/ })
  await expect(sheet.getByLabel('New day')).toHaveValue('Fri 4 Dec 2026')
  await expect(sheet.getByLabel('Set by')).toHaveValue('hand')
  await h.press('Move the date')
  await expect(sheet.getByText('Say why it moves')).toBeVisible()
  await h.fill('Why', 'agreed by telephone')
  await h.press('Move the date')
  await sheetGone(page)
  // The month is drawn anew after the move; who presses waits until it stands.
  await quiet(page)
  await onCalendar(page, 'Answers to interrogatories').click()
  await expect(page.getByRole('dialog')).toContainText('Set by hand: agreed by telephone. The rule would give Thu 3 Dec')
  await page.keyboard.press('Escape')
  await sheetGone(page)
  await page.goBack()
  await expect(page.getByText('November 2026')).toBeVisible()

  await page.goto('/docket?view=line&scope=firm&span=65&q=gannet')
  await expect(page.getByRole('region', { name: 'Line of time, Gannet Ferry v. Corvane' })).toBeVisible()
  await noAxeFaults(page, 'lines of time')
  await line(page, /^Answers to interrogatories.*, rule/).click()
  await expect(page.getByRole('dialog')).toContainText('agreed by telephone')
})

test('a date that recurs, with notice before it, on a matter without rules, by keyboard alone', async ({ browser, faults }) => {
  const { page, hands: h } = await personAt(browser, faults, 'Tomas Okafor-Reyes', 'keyboard')
  await h.go('tide rye', /^Opposition to the mark TIDE RYE/)
  await h.tab('Docket')
  await expect(page.getByText('This matter has no court rules')).toBeVisible()
  await h.press('New date')
  await h.fill('Title', 'Licence of the mark renews')
  await h.choose('Weight', 'Firm practice')
  await h.fill('On', '31 May 2027')
  await h.pick('Who takes part', 'billie', /^Billie Strand/)
  await h.choose('Recurs', 'By years')
  await expect(page.getByText('every year: Mon 31 May 2027, Wed 31 May 2028, Thu 31 May 2029 and so on')).toBeVisible()
  await h.tick('A date before each one, such as the last day to give notice')
  await h.fill('What by then', 'Say whether the licence goes on')
  await h.fill('How many', '3')
  await h.choose('Before it', 'months')
  await noAxeFaults(page, 'a date that recurs')
  await h.save()
  await sheetGone(page)
  await expect(line(page, /Say whether the licence goes on/)).toBeVisible()
  await h.press(/Licence of the mark renews/)
  await expect(page.getByRole('dialog')).toContainText('Recurs every year')
  await expect(page.getByRole('dialog')).toContainText('Takes part: Billie Strand')
  await h.press('Recurs no longer')
  await said(page, 'It recurs no longer after Mon 31 May 2027')
  await sheetGone(page)
})

test('a free hour is found and taken, and sent to someone outside, changed and withdrawn, by keyboard alone', async ({
  browser,
  faults,
}) => {
  const { page, hands: h } = await personAt(browser, faults, 'Noor Haddad-Lind', 'keyboard')
  await h.go('free hour', /^Find a free hour/)
  await h.pick('Who', 'tomas', /^Tomas Okafor-Reyes/)
  await h.press('Find free hours')
  const found = page.getByRole('region', { name: 'Free hours' })
  await expect(found.getByRole('heading')).toContainText('starting times')
  await expect(found.getByRole('button', { name: /^Take Thu 26 Nov/ })).toHaveCount(0)
  await noAxeFaults(page, 'free hours')
  await h.press('Take Tue 24 Nov, 11:00 am')
  await h.pick('Matter', 'pellan', /^Brinewell Oyster Co\. v\. Pellan/)
  await h.fill('Title', 'Call the neutral')
  await h.press('Invite someone outside')
  await h.fill('E-mail address', 'ida.ode@neutral')
  await h.fill('Their time zone', 'America/Los_Angeles')
  await h.save()
  await expect(page.getByText('Give an e-mail address')).toBeVisible()
  await h.fill('E-mail address', 'ida.ode@neutral.example')
  await noAxeFaults(page, 'taking a free hour')
  await h.save()
  await said(page, 'Call the neutral docketed, 1 invitation sent')
  await sheetGone(page)
  await expect(found.getByRole('button', { name: 'Take Tue 24 Nov, 11:00 am' })).toHaveCount(0)

  await h.go('docket of the firm', /^Docket of the firm/)
  await h.press(/Call the neutral/)
  await h.press('Change')
  await h.fill('At', '15:30')
  await h.save()
  await said(page, 'Those outside have it as it was')
  await sheetGone(page)
  await expect(line(page, /^3:30 pm.*Call the neutral/)).toBeVisible()
  await h.press(/Call the neutral/)
  const outside = page.getByRole('region', { name: 'Sent to people outside' })
  await expect(outside).toContainText('Los Angeles time')
  await expect(outside).toContainText('changed since')
  await h.press('Send it to ida.ode@neutral.example again')
  await expect(outside.getByText('changed since')).toHaveCount(0)
  await h.press('Withdraw it from ida.ode@neutral.example')
  await expect(outside).toContainText('withdrawn')
  await noAxeFaults(page, 'an entry and who has it outside')
})

/** What Debian's own reader of iCalendar finds: day and number of each entry by its title. */
function readByAnother(text: string): Record<string, [string, number]> {
  const script = `
import sys, json
from icalendar import Calendar
print(json.dumps({str(e['SUMMARY']): [e['DTSTART'].dt.isoformat(), int(e['SEQUENCE'])] for e in Calendar.from_ical(sys.stdin.buffer.read()).walk('VEVENT')}))`
  return JSON.parse(execFileSync('/usr/bin/python3', ['-c', script], { input: text }).toString()) as Record<string, [string, number]>
}

test('a tentative trial is set by the court, the team is sent the list, and a subscribed calendar follows', async ({ browser, faults }) => {
  const { page, hands: h } = await personAt(browser, faults, 'Noor Haddad-Lind', 'mouse')
  await page.goto('/docket')
  await h.press('Calendars')
  await h.choose('Dates of', 'A matter')
  await h.pick('Matter', 'corvane', /^Gannet Ferry Cooperative v\. Corvane/)
  await h.press(/^Make an address/)
  const address = (await page.getByRole('region', { name: 'New address' }).locator('p').nth(1).textContent())!.trim()
  await page.keyboard.press('Escape')
  await sheetGone(page)
  const title = 'Pretrial disclosures, Gannet Ferry v. Corvane'
  const read = async () => readByAnother(await (await page.request.get(address)).text())
  const before = await read()
  expect(before[`(tentative) ${title}`]).toBeTruthy()

  await h.go('gannet v corvane', /^Gannet Ferry Cooperative v\. Corvane/)
  await h.tab('Docket')
  await h.press('Set by the court: Trial set')
  await h.fill('On', '13 Apr 2027')
  await h.press(/^Show what follows/)
  await expect(page.getByRole('heading', { name: /^Trial set moved: .* to Tue 13 Apr 2027, no longer tentative/ })).toBeVisible()
  await h.tick('Send the team the new list')
  await h.press(/^Docket \d+ changes/)
  await said(page, 'the team is told')
  const after = await read()
  // 30 days before Tue 13 Apr is Sun 14 Mar, so Fri 12 Mar.
  expect(after[title]?.[0]).toBe('2027-03-12')
  expect(after[title]![1]).toBeGreaterThan(before[`(tentative) ${title}`]![1])
  await h.press('Line of time')
  await expect(page.getByRole('region', { name: 'Line of time' })).toBeVisible()
  await noAxeFaults(page, 'a matter’s line of time')
})

test('the docket clerk reads reports, sends one every week, and sees how long cases take', async ({ browser, faults }) => {
  const { page, hands: h } = await personAt(browser, faults, 'Jun Aldana', 'mouse')
  await page.goto('/docket/reports')
  const report = page.getByRole('region', { name: 'Report', exact: true })
  await expect(report.getByRole('heading', { name: /^Docket, November 23, 2026/ })).toBeVisible()
  await page.getByLabel('Full texts').check()
  await expect(report.getByRole('columnheader', { name: 'What must be done' })).toBeVisible()
  await h.press('Who is on which matter')
  await expect(report.getByRole('columnheader', { name: 'Since' })).toBeVisible()
  await h.press('Closed days ahead')
  await expect(report.getByRole('cell', { name: 'Thu 26 Nov' }).first()).toBeVisible()
  await h.press('A matter’s docket')
  await h.pick('Matter', 'corvane', /^Gannet Ferry Cooperative v\. Corvane/)
  await expect(report.getByRole('heading', { name: /^Docket of Gannet Ferry/ })).toBeVisible()
  await h.press('File or send it')
  await h.choose('As', 'XLSX')
  const file = await page.getByRole('link', { name: 'Open the report' }).getAttribute('href')
  expect((await (await page.request.get(file!)).body()).subarray(0, 2).toString()).toBe('PK')
  await h.choose('As', 'PDF')
  await h.choose('Laid out', 'As a line of time')
  await h.pick('To', 'noor', /^Noor Haddad-Lind/)
  await h.choose('When', 'Every Monday')
  await noAxeFaults(page, 'sending a report')
  await h.save()
  await said(page, 'It goes out every Monday')
  const weekly = page.getByRole('region', { name: 'Sent every week' })
  await expect(weekly).toContainText('every Monday to Jun Aldana, Noor Haddad-Lind')
  await weekly.getByRole('button', { name: /^Send no longer/ }).click()
  await expect(weekly).toHaveCount(0)

  await h.press('Figures', 'link')
  await expect(page.getByRole('heading', { name: 'From commencement to trial' })).toBeVisible()
  await h.press('Motion to ruling')
  await expect(page.getByRole('img', { name: /^Spread\. \d+–\d+ days: \d/ })).toBeVisible()
  await expect(page.getByText('median', { exact: true })).toBeVisible()
})

test('the clerk puts a date of the firm’s own on top of a court’s rules, sees what it adds, and takes it', async ({ browser, faults }) => {
  const { page, hands: h } = await personAt(browser, faults, 'Jun Aldana', 'mouse')
  await page.goto('/docket')
  await h.press('Court rules', 'link')
  await h.press('U.S. federal civil', 'link')
  await h.press(/^Trial set/)
  await h.press('A date of our own')
  await h.fill('Title', 'Book the trial graphics')
  await h.fill('What must be done', 'Commission the graphics for trial and agree the price with the client.')
  await h.fill('Number', '45')
  await noAxeFaults(page, 'a date of the firm’s own')
  await expect(page.getByText('45 calendar days before trial set')).toBeVisible()
  await h.save()
  await sheetGone(page)
  await expect(page.getByRole('region', { name: 'What follows' }).getByText('Book the trial graphics')).toBeVisible()
  await h.press('Effect on dockets')
  const effect = page.getByRole('dialog', { name: 'What these rules change on dockets' })
  await expect(effect.getByText('Book the trial graphics').first()).toBeVisible()
  await noAxeFaults(page, 'what amended rules change')
  await h.press(/^Docket \d+ dates?/)
  await said(page, /dates? docketed; each matter’s Docket can undo its own/)
  await page.goto('/docket?scope=firm&span=65&q=graphics')
  await expect(line(page, /Book the trial graphics/).first()).toBeVisible()
  // A file with faults says where, and nothing is kept.
  await page.goto('/docket/rules')
  await h.press('Bring in rules')
  const text = page.getByRole('dialog').locator('textarea')
  await text.fill('{"format":"astute-heron/rule-set","formatVersion":1,"key":"half"}')
  await h.save()
  await expect(
    page
      .getByRole('dialog')
      .getByText(/things? to put right/)
      .first(),
  ).toBeVisible()
})

test('reminders stand once, before and after the server stops and starts', async ({ browser, faults }) => {
  const { page } = await personAt(browser, faults, 'Noor Haddad-Lind', 'mouse')
  const list = page.getByRole('region', { name: 'Reminders' })
  await expect(list).toBeVisible()
  // How many are folded away is left out: another story's reminder may still arrive.
  const rows = async () => (await list.innerText()).split('\n').filter((line) => line && !/^Show \d+ more/.test(line))
  // Once more first: what other stories moved may have brought reminders of its own.
  await restart()
  await page.reload()
  await expect(list).toBeVisible()
  const before = await rows()
  await restart()
  await page.reload()
  await expect(list).toBeVisible()
  expect(await rows()).toEqual(before)
  // Only what is in sight is put away.
  const more = list.getByRole('button', { name: /^Show \d+ more/ })
  if (await more.count()) await more.click()
  const away = await list.getByRole('link').allInnerTexts()
  await list
    .getByRole('button', { name: /^Put (all )?away/ })
    .last()
    .click()
  await restart()
  const [answer] = await Promise.all([page.waitForResponse((r) => r.url().endsWith('/api/reminders')), page.reload()])
  await answer.finished()
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  // What was put away stays so; a reminder of what another story docketed meanwhile may be there.
  expect((await list.getByRole('link').allInnerTexts()).filter((text) => away.includes(text))).toEqual([])
})
