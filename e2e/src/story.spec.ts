import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, type Page } from '@playwright/test'
import { figure, noAxeFaults, pdfText, personAt, restart, test } from './office'

/**
 * One matter through its whole life by two people, a lawyer and the bookkeeper, with the figures checked at each step.
 * Told twice: with the mouse, and with the keyboard alone.
 */
const tellings = [
  { way: 'mouse' as const, client: 'Larkspur Ferry Tours', matter: 'Larkspur Ferry Tours v. Corvane Towing Co.' },
  { way: 'keyboard' as const, client: 'Sedge Island Inn', matter: 'Sedge Island Inn v. Corvane Towing Co.' },
]

const note = (page: Page, text: string | RegExp) => expect(page.getByRole('status').filter({ hasText: text }).first()).toBeAttached()
const sheetGone = (page: Page) => expect(page.getByRole('dialog')).toHaveCount(0)

for (const { way, client, matter } of tellings)
  test(`a matter from opening to a paid bill, by ${way}`, async ({ browser, faults }) => {
    const { page: noor, hands: n } = await personAt(browser, faults, 'Noor Haddad-Lind', way)
    let matterUrl = ''

    await test.step('the lawyer opens the matter', async () => {
      await n.go('open a matter', /^Open a matter/)
      await n.pick('Client', client, /^New person or organization/)
      await n.choose('Is a', 'Organization')
      await n.fill('Greeting in letters', 'Ms. Larkin')
      await n.fill('Address', '7 Landing Stage')
      await n.save()
      await sheetGone(noor)
      await n.fill('Name of the matter', matter)
      await n.choose('Area', 'Maritime')
      await n.fill('What the firm is engaged to do', 'claims for the loss of a landing stage')
      await n.pick('Party', 'corv', /^Corvane Towing Co\./)
      await n.fill('Role', 'defendant')
      await n.press('Add party')
      const conflicts = noor.getByRole('region', { name: 'Conflicts' })
      await expect(conflicts.getByText('same name:').first()).toBeVisible()
      await noAxeFaults(noor, 'opening a matter')
      await n.press('No conflict')
      await expect(conflicts.getByText('no conflict', { exact: true }).first()).toBeVisible()
      // The area brings its team.
      await expect(noor.getByRole('region', { name: 'What will be there' })).toContainText('Billie Strand')
      await expect(noor.getByRole('region', { name: 'What will be there' })).toContainText('Opening a court matter')
      await n.save()
      await expect(noor.getByRole('heading', { level: 1, name: matter })).toBeVisible()
      await expect(noor).toHaveURL(/\/matters\/\d+$/)
      matterUrl = new URL(noor.url()).pathname
      await expect(figure(noor, 'stake')).toContainText('$0.00')
      await expect(noor.getByText('7 open', { exact: true })).toBeVisible()
    })

    await test.step('works out dates, leaves one out, dockets the rest', async () => {
      for (const [event, on, service, expected, leave] of [
        ['Complaint served', '4 Nov 2026', '', /Wed 25 Nov/, ''],
        ['Interrogatories served', '30 Oct 2026', 'Service by mail', /Thu 3 Dec/, ''],
        ['Trial set', '30 Mar 2027', '', /Fri 26 Feb 2027/, 'Docket Last day to serve an offer of judgment'],
      ] as const) {
        await n.press('Work out dates')
        await n.pick('What happened', event, new RegExp(`^${event} `))
        await n.fill('On', on)
        if (service) await n.choose('Served by', service)
        await n.save()
        const proposed = noor.getByRole('region', { name: 'Proposed dates' })
        await expect(proposed.getByText(expected).first()).toBeVisible()
        if (leave) await n.tick(leave)
        await n.save()
        await sheetGone(noor)
      }
      await expect(noor.getByRole('button', { name: /Pretrial disclosures.*rolled from Sun 28 Feb 2027/ })).toBeVisible()
      await expect(noor.getByRole('region', { name: 'Left out' }).getByText('Last day to serve an offer of judgment')).toBeVisible()
      await expect(noor.getByText('Answer or Rule 12 motion').first()).toBeVisible()
      await noAxeFaults(noor, 'docket of the matter')
    })

    await test.step('does the first task with one key', async () => {
      await n.tab('To do')
      const first = noor.getByRole('checkbox', { name: 'Done: Send the notice to keep evidence' })
      await expect(first).toBeVisible()
      if (way === 'mouse') await first.focus()
      else await n.tick('Done: Send the notice to keep evidence')
      if (way === 'mouse') await noor.keyboard.press('x')
      await expect(first).toBeChecked()
      await note(noor, 'Done: Send the notice to keep evidence')
    })

    await test.step('makes the engagement letter', async () => {
      await n.tab('Papers')
      await n.press('Make a paper')
      await n.choose('Template', 'Engagement letter')
      await n.choose('How the fee is agreed', 'by the hour')
      await n.fill('Deposit into trust', '2,500')
      await expect(noor.getByText('1 page', { exact: true })).toBeVisible()
      await n.press('Make it')
      await n.press(/^Engagement letter.*\.pdf/)
      const pdf = noor.getByRole('dialog').getByRole('link', { name: 'Download' })
      const text = await pdfText(noor, (await pdf.getAttribute('href'))!)
      await noor.keyboard.press('Escape')
      await sheetGone(noor)
      expect(text).toContain(client)
      expect(text).toContain('Dear Ms. Larkin:')
      expect(text).toMatch(/Noor Haddad-Lind, Litigation\s+\$285\.00/)
      expect(text).toContain('deposit of $2,500.00')
      await noAxeFaults(noor, 'papers of the matter')
    })

    await test.step('records time, typed and by the timer, and posts it', async () => {
      await n.tab('Time & costs')
      for (const [duration, text, comesTo] of [
        ['38m', 'Draft complaint', '0.7 h × $285.00 = $199.50 own rate in force'],
        ['2:00', 'Call with client and notes', '2.0 h × $285.00 = $570.00 own rate in force'],
      ] as const) {
        await n.press('Record time')
        await n.fill('Time', duration)
        await n.fill('What was done', text)
        await expect(noor.getByLabel('Comes to')).toContainText(comesTo)
        await n.save()
        await sheetGone(noor)
      }
      await n.press('Start timer')
      await note(noor, 'Timer started')
      const second = await personAt(browser, faults, 'Noor Haddad-Lind', 'mouse')
      await expect(second.page.locator('#waterline-timer')).toContainText(/0:00:\d\d/)
      await second.page.context().close()
      await n.press(/\d:\d\d:\d\d/)
      await n.fill('What is being done', 'File opening')
      await n.save()
      await note(noor, 'Time kept as a draft')
      await n.go('post time drafts', /^Post time drafts/)
      await n.press(/^Post \d+ drafts/)
      await note(noor, /entries posted/)
      await noAxeFaults(noor, 'time')
      await n.go(client, new RegExp(`^${matter}`))
      await expect(figure(noor, 'unbilled')).toContainText('$798.00')
    })

    const { page: orla, hands: o } = await personAt(browser, faults, 'Orla Petrakis', way)

    await test.step('the bookkeeper takes $2,500.00 into trust', async () => {
      await o.go('new deposit sheet', /^New deposit sheet/)
      await o.fill('Control total', '2500')
      await o.pick('Matter', client, new RegExp(`^${matter}`))
      await expect(orla.getByRole('combobox', { name: 'Client', exact: true })).toHaveValue(client)
      await o.choose('By', 'wire')
      await o.fill('Amount', '2,050.00')
      await expect(orla.getByText('$450.00 missing')).toBeVisible()
      await noAxeFaults(orla, 'deposit sheet')
      await o.fill('Amount', '2,500.00')
      await o.save()
      await expect(orla.getByRole('heading', { level: 1, name: /^Deposit sheet \d+/ })).toBeVisible()
      await note(orla, /posted, \$2,500\.00/)
      await o.go(client, new RegExp(`^${matter}`))
      await expect(figure(orla, 'held')).toContainText('$2,500.00')
      await expect(orla.getByText('covered', { exact: true })).toBeVisible()
    })

    await test.step('the lawyer makes the pre-bill, leaves a line uncharged, approves', async () => {
      await n.tab('Bills')
      await n.press('New pre-bill')
      await n.save()
      await expect(noor.getByRole('heading', { level: 1, name: `Pre-bill, ${matter}` })).toBeVisible()
      await expect(figure(noor, 'total')).toContainText('$798.00')
      await n.press('File opening')
      await n.tick('No charge: shown on the bill at nothing')
      await n.save()
      await expect(figure(noor, 'total')).toContainText('$769.50')
      await expect(noor.getByText('−$28.50')).toBeVisible()
      await noAxeFaults(noor, 'pre-bill')
      await n.press('Approve $769.50')
      await expect(noor.getByText('Approved. The bookkeeper issues it.')).toBeVisible()
    })

    await test.step('the bookkeeper issues it and pays it from trust', async () => {
      await o.go('review pre-bills', /^Review pre-bills/)
      await o.press(matter, 'link')
      await o.press('Issue $769.50')
      await o.save()
      await expect(orla.getByRole('heading', { level: 1, name: /^Bill B-\d+/ })).toBeVisible()
      const text = await pdfText(orla, `/api${new URL(orla.url()).pathname}/pdf`)
      expect(text).toMatch(/This bill\s+\$769\.50/)
      expect(text).toContain('no charge')
      await noAxeFaults(orla, 'bill')
      await o.press('Pay from trust')
      await expect(orla.getByLabel('What will be posted')).toContainText('769.50')
      await o.save()
      await expect(figure(orla, 'open')).toContainText('$0.00')
    })

    await test.step('and sends a check out of trust', async () => {
      await o.go(client, new RegExp(`^${matter}`))
      await expect(figure(orla, 'owed')).toContainText('$0.00')
      await expect(figure(orla, 'held')).toContainText('$1,730.50')
      await o.tab('Trust')
      await o.press('Pay out')
      await o.fill('To', 'Wexmoor Records Office')
      await o.fill('Amount', '9,000.00')
      await o.save()
      await expect(orla.getByRole('alert')).toContainText('is more than the $1,730.50 available')
      await noAxeFaults(orla, 'paying out of trust')
      await o.fill('Amount', '405.00')
      await o.fill('For', 'Filing fee')
      await o.save()
      await note(orla, /Posted as check \d+/)
      await expect(figure(orla, 'held')).toContainText('$1,325.50')
      await o.go('client ledgers', /^Client ledgers/)
      await o.press('Payments out')
      await o.press('Acts on Wexmoor Records Office')
      const print = orla.getByRole('menuitem', { name: /^Print check \d+/ }).first()
      const text = await pdfText(orla, (await print.getAttribute('href'))!)
      await orla.keyboard.press('Escape')
      expect(text).toContain('Four hundred five and 00/100 dollars')
      expect(text).toContain('Wexmoor Records Office')
    })

    await test.step('the matter owes nothing, the rest is in trust, the books balance', async () => {
      await o.press('Check now')
      await note(orla, 'Every record agrees')
      await noAxeFaults(orla, 'trust')
      await o.go('trial balance', /^Trial balance/)
      await expect(orla.getByText('In balance', { exact: true })).toBeVisible()
      expect(await figure(orla, 'debit').textContent()).toBe(await figure(orla, 'credit').textContent())
      await noAxeFaults(orla, 'books')
    })

    if (way === 'keyboard') return
    await test.step('after a restart of server and database everything is still there', async () => {
      await restart()
      await orla.goto(matterUrl)
      await expect(figure(orla, 'held')).toContainText('$1,325.50')
      await expect(figure(orla, 'stake')).toContainText('$0.00')
      await noor.goto(`${matterUrl}/docket`)
      await expect(noor.getByText('Answer or Rule 12 motion').first()).toBeVisible()
    })
  })

test('another program finds the same balances, account by account', async ({ browser, faults }) => {
  const { page } = await personAt(browser, faults, 'Orla Petrakis', 'mouse')
  const journal = await (await page.request.get('/api/books/export')).text()
  const file = join(mkdtempSync(join(tmpdir(), 'heron-journal-')), 'firm.journal')
  writeFileSync(file, journal)
  const hledger = (...args: string[]) =>
    execFileSync('hledger', ['-f', file, ...args], { env: { ...process.env, LC_ALL: 'C.UTF-8' } }).toString()
  hledger('check')
  const csv = hledger('balance', '--flat', '--no-total', '-O', 'csv', '--empty').trim().split('\n').slice(1)
  const theirs = new Map(
    csv.map((l) => {
      const [name = '', amount = ''] = l.split('","').map((x) => x.replaceAll('"', ''))
      return [name.split(':')[1]!.split(' ')[0]!, Math.round(Number(amount.replace(/[$,]/g, '')) * 100)]
    }),
  )
  const today = (await (await page.request.get('/api/session')).json()).today as string
  const ours = (await (await page.request.get(`/api/books/trial-balance?asOf=${today}`)).json()) as {
    rows: { code: string; debit: number; credit: number }[]
  }
  const moved = ours.rows.filter((a) => a.debit || a.credit)
  expect(moved.length).toBeGreaterThan(10)
  for (const a of moved) expect(theirs.get(a.code), a.code).toBe(a.debit - a.credit)
})
