import { expect, type Page } from '@playwright/test'
import { docx, p } from '../../packages/core/test/docx'
import { quiet } from './hands'
import { noAxeFaults, personAt, test } from './office'

const said = (page: Page, text: string | RegExp) => expect(page.getByRole('status').filter({ hasText: text }).first()).toBeAttached()
const gone = (page: Page) => expect(page.getByRole('dialog')).toHaveCount(0)
const docxFile = (name: string, ...texts: string[]) => ({
  name,
  mimeType: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
  buffer: Buffer.from(docx(texts.map((t) => p(t)).join('')).generate({ type: 'uint8array' })),
})
const eml = (id: string) => {
  const scan = (name: string, text: string) => [
    '--x',
    `Content-Type: text/plain; name="${name}"`,
    `Content-Disposition: attachment; filename="${name}"`,
    '',
    text,
  ]
  const text = [
    'From: Harbor Survey Office <desk@harborsurvey.example>', 'To: billie@callowayfenn.example', 'Subject: Brinewell Oyster v. Pellan: soundings', 'Date: Fri, 20 Nov 2026 09:00:00 -0500', `Message-ID: <${id}@survey.example>`, 'MIME-Version: 1.0', 'Content-Type: multipart/mixed; boundary=x', '', '--x', 'Content-Type: text/plain', '', 'The soundings are with this letter.',
    ...scan('scan0001.txt', 'Soundings of the lower bed'), ...scan('scan0002.txt', 'Invoice for soundings'), ...scan('IMG_2231.txt', 'Chart of the lower bed'), ...scan('document.txt', 'Oath of the surveyor'), '--x--', '',
  ] // prettier-ignore
  return { name: 'message.eml', mimeType: 'message/rfc822', buffer: Buffer.from(text.join('\r\n')) }
}
async function openPapers(page: Page, name: RegExp) {
  await page.goto('/matters')
  await page.getByRole('link', { name }).first().click()
  await page.getByRole('navigation', { name: 'Parts of the file' }).getByRole('link', { name: /^Papers/ }).click() // prettier-ignore
  await expect(page.getByRole('navigation', { name: 'Folders' })).toBeVisible()
}

for (const width of [1280, 390])
  test(`a message with four badly named attachments is filed with a task and a word, at ${width}`, async ({ browser, faults }) => {
    const { page, hands: h } = await personAt(browser, faults, 'Billie Strand', 'mouse')
    await page.setViewportSize({ width, height: 800 })
    await page.goto('/papers/mail')
    await page
      .getByLabel('E-mail to file')
      .first()
      .setInputFiles(eml(`w${width}`))
    await expect(page.getByRole('heading', { name: 'File an e-mail' })).toBeVisible()
    await expect(page.getByRole('button', { name: /^Brinewell Oyster v\. Pellan/ })).toHaveAttribute('aria-pressed', 'true')
    await expect(page.getByLabel('Name of scan0001.txt')).toHaveValue('Soundings of the lower bed.txt')
    await noAxeFaults(page, 'filing an e-mail')
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true)
    await h.fill('Folder of scan0001.txt', 'Evidence/Soundings')
    await page.getByRole('checkbox', { name: /^scan0002\.txt/ }).uncheck()
    await page.getByRole('checkbox', { name: 'Give a colleague a task about it' }).check()
    await h.fill('What is to do', `Check the soundings ${width}`)
    await h.choose('Who', 'Noor Haddad-Lind')
    await h.pick('Tell', 'Noor', /^Noor/)
    await h.press('File 4 papers')
    await said(page, /^Filed on Brinewell Oyster v\. Pellan, with 3 attachments/)
    await expect(page.getByRole('button', { name: 'Oath of the surveyor.txt' }).first()).toBeVisible()
    await page.getByRole('button', { name: /Harbor Survey Office, Brinewell/ }).first().click() // prettier-ignore
    await expect(page.getByText('The soundings are with this letter.')).toBeVisible()
    await noAxeFaults(page, 'an e-mail shown')
    await page.keyboard.press('Escape')
    await gone(page)
    // The same message again is noticed.
    await page.goto('/papers/mail')
    await page
      .getByLabel('E-mail to file')
      .first()
      .setInputFiles(eml(`w${width}`))
    await expect(page.getByText('This message is on file there already')).toBeVisible()
    const noor = await personAt(browser, faults, 'Noor Haddad-Lind', 'mouse')
    await noor.page.goto('/tasks')
    await expect(noor.page.getByText(`Check the soundings ${width}`)).toBeVisible()
    await noor.page.context().close()
    await page.context().close()
  })

test('a template with a fault is kept, mended and used', async ({ browser, faults }) => {
  const { page, hands: h } = await personAt(browser, faults, 'Ferdi Kranz', 'mouse')
  await page.goto('/papers/templates')
  await h.press('Add a template')
  await page
    .getByLabel('DOCX from this computer')
    .setInputFiles(docxFile('Cover note.docx', 'For {client.nmae}', '{if answers.urgent}Urgent{end if}'))
  await h.save()
  await expect(page.getByRole('heading', { name: 'The check found 2 faults' })).toBeVisible()
  await expect(page.getByText('There is no field client.nmae. Did you mean client.name?')).toBeVisible()
  await noAxeFaults(page, 'a template with faults')
  await h.press('Add a question')
  await h.fill('Question', 'Is it urgent?')
  await h.fill('Key', 'urgent')
  await h.choose('Answer', 'Yes or no')
  await h.press('Save the questions')
  await expect(page.getByRole('heading', { name: 'The check found 1 fault' })).toBeVisible()
  await h.press('New version')
  await page
    .getByLabel('DOCX from this computer')
    .setInputFiles(docxFile('Cover note.docx', 'For {client.name}', '{if answers.urgent}Urgent{end if}'))
  await h.save()
  await expect(page.getByRole('heading', { name: 'The check passed' })).toBeVisible()
  const noor = await personAt(browser, faults, 'Noor Haddad-Lind', 'keyboard')
  await openPapers(noor.page, /Gannet Ferry Cooperative v\. Corvane/)
  await noor.hands.press('Make a paper')
  await noor.hands.choose('Template', 'Cover note')
  await noor.hands.choose('Is it urgent?', 'Yes')
  await expect(noor.page.getByText('1 page', { exact: true })).toBeVisible()
  await noor.hands.press('Make it')
  await expect(noor.page.getByRole('button', { name: /^Cover note.*\.pdf/ })).toBeVisible()
  await noor.page.context().close()
  await page.context().close()
})

test('a letter asks what is missing, keeps an answer on the record, is made again and read by a colleague', async ({ browser, faults }) => {
  const { page, hands: h } = await personAt(browser, faults, 'Noor Haddad-Lind', 'mouse')
  await openPapers(page, /Tidecrest/)
  const matter = page.url().match(/matters\/(\d+)/)![1]!
  await h.press('Make a paper')
  await h.choose('Template', 'Litigation: Motion')
  await h.fill('Motion to', 'extend time')
  await h.fill('Grounds', 'Counsel is ill.')
  await h.choose('Hearing is asked for', 'No')
  await h.choose('How it is served', 'by mail')
  const asked = page.getByRole('region', { name: 'What is asked' })
  const blank = async () => {
    await quiet(page)
    if (!(await asked.count())) return
    for (const box of await asked.getByRole('checkbox', { name: /^Leave it blank/ }).all()) if (!(await box.isChecked())) await box.check()
  }
  await blank()
  await h.press(/^Change Client: Name/)
  await h.fill('Client: Name', 'Tidecrest Holdings')
  await expect(page.getByText('1 page', { exact: true })).toBeVisible()
  await noAxeFaults(page, 'making a paper')
  await page.getByRole('checkbox', { name: 'Ask a colleague to read it' }).check()
  await h.choose('Who', 'Tomas Okafor-Reyes')
  await blank()
  await h.press('Make it')
  const made = page.getByRole('button', { name: /^Motion to extend time\.docx/ })
  await expect(made).toBeVisible()
  await expect(page.getByText('being read', { exact: true }).first()).toBeVisible()
  // The record changes; the paper says so and is made again as a new version.
  await page.goto(`/matters/${matter}/papers`)
  await page.getByRole('row', { name: /extend time\.docx/ }).getByRole('button', { name: /^Acts on/ }).click() // prettier-ignore
  await page.getByRole('menuitem', { name: 'Make it again …' }).click()
  await expect(page.getByLabel('Motion to', { exact: true })).toHaveValue('extend time')
  await h.fill('Motion to', 'extend time once more')
  await quiet(page)
  await blank()
  await h.press('Make it again')
  await expect(page.getByText('v2', { exact: true }).first()).toBeVisible()
  await page.getByRole('row', { name: /extend time\.docx/ }).getByRole('button', { name: /^Acts on/ }).click() // prettier-ignore
  await page.getByRole('menuitem', { name: 'Details and versions' }).click()
  const sheet = page.getByRole('dialog')
  await sheet.getByRole('button', { name: 'Compare' }).click()
  await expect(sheet.getByRole('region', { name: 'Version 1 beside 2' })).toContainText('once more')
  await noAxeFaults(page, 'versions compared')
  const tomas = await personAt(browser, faults, 'Tomas Okafor-Reyes', 'mouse')
  await tomas.page.goto('/papers/to-read')
  await expect(tomas.page.getByRole('button', { name: 'Motion to extend time.docx' })).toBeVisible()
  await noAxeFaults(tomas.page, 'drafts to read')
  await tomas.hands.press('Send back')
  await expect(tomas.page.getByText('Say what is to be changed')).toBeVisible()
  await tomas.hands.press('Approve')
  await said(tomas.page, /is approved/)
  await tomas.page.context().close()
  await page.context().close()
})

test('a paper is checked out by one and refused to another; files come by dropping and choosing, and move', async ({ browser, faults }) => {
  const { page, hands: h } = await personAt(browser, faults, 'Billie Strand', 'mouse')
  await openPapers(page, /Brinewell Oyster Company v\. Pellan|Brinewell/)
  await page
    .getByLabel('Files to add')
    .setInputFiles([
      { name: 'Tide gauge.txt', mimeType: 'text/plain', buffer: Buffer.from('gauge readings of the pelican slip') },
      docxFile('Draft.docx', 'A draft of words'),
    ])
  await expect(page.getByRole('button', { name: 'Draft.docx', exact: true })).toBeVisible()
  await page.getByRole('row', { name: /^Choose Draft|Draft\.docx/ }).getByRole('button', { name: /^Acts on/ }).click() // prettier-ignore
  await page.getByRole('menuitem', { name: 'Check out to work on it' }).click()
  await expect(page.getByText('out: Billie Strand')).toBeVisible()
  const tomas = await personAt(browser, faults, 'Tomas Okafor-Reyes', 'mouse')
  await tomas.page.goto(page.url())
  await tomas.page.getByRole('row', { name: /Draft\.docx/ }).getByRole('button', { name: /^Acts on/ }).click() // prettier-ignore
  await tomas.page.getByRole('menuitem', { name: 'Save a new version …' }).click()
  await tomas.page.getByLabel('File from this computer').setInputFiles(docxFile('Draft.docx', 'Mine'))
  await tomas.hands.save()
  await expect(tomas.page.getByText(/is checked out to Billie Strand/)).toBeVisible()
  await tomas.page.context().close()
  await page.getByRole('button', { name: 'Draft.docx', exact: true }).click()
  await expect(page.getByText('1 page', { exact: true })).toBeVisible()
  await noAxeFaults(page, 'a document shown as its pages')
  await page.keyboard.press('Escape')
  await gone(page)
  await page.getByRole('checkbox', { name: 'Choose Tide gauge.txt' }).check()
  await h.press(/^Acts on 1 chosen paper/)
  await page.getByRole('menuitem', { name: 'Move …' }).click()
  await h.fill('Folder', 'Evidence/Gauges')
  await h.save()
  await said(page, '1 paper moved to Evidence/Gauges')
  await expect(page.getByRole('button', { name: 'Evidence/Gauges, 1' })).toBeVisible()
  await noAxeFaults(page, 'papers of a matter')
  await expect(async () => {
    await page.goto('/papers?q=pelican+slip')
    await expect(page.getByText('pelican', { exact: true }).first()).toBeVisible({ timeout: 1000 })
  }).toPass()
  await noAxeFaults(page, 'words found in papers')
  await page.context().close()
})

test('an outsider sees by a link what was chosen, sends a file, and sees nothing once it is ended', async ({ browser, faults }) => {
  const { page, hands: h } = await personAt(browser, faults, 'Noor Haddad-Lind', 'mouse')
  await openPapers(page, /Gannet Ferry Cooperative v\. Corvane/)
  await page.getByRole('checkbox', { name: 'Choose Notes of crew interview.txt' }).check()
  await h.press(/^Acts on 1 chosen paper/)
  await page.getByRole('menuitem', { name: 'Show to someone outside …' }).click()
  await h.fill('For whom', 'Dr. Ilse Vandermeer')
  await page.getByRole('checkbox', { name: 'They may send files, too' }).check()
  await noAxeFaults(page, 'making a link')
  await h.save()
  const address = await page.getByLabel('Address of the link').inputValue()
  await page.keyboard.press('Escape')
  await gone(page)
  await expect(page.getByText('shared', { exact: true })).toBeVisible()
  const outside = await browser.newContext({ viewport: { width: 360, height: 700 } })
  const guest = await outside.newPage()
  const path = new URL(address).pathname
  await guest.goto(path)
  await expect(guest.getByRole('heading', { name: 'Papers for Dr. Ilse Vandermeer' })).toBeVisible()
  await expect(guest.getByRole('link', { name: 'Notes of crew interview.txt' })).toBeVisible()
  expect(await guest.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true)
  await noAxeFaults(guest, 'papers for someone outside')
  await guest
    .getByLabel(/^Send files, up to/)
    .setInputFiles({ name: 'Opinion.txt', mimeType: 'text/plain', buffer: Buffer.from('My opinion') })
  await expect(guest.getByText('Opinion.txt was sent.')).toBeVisible()
  await page.reload()
  await expect(page.getByRole('button', { name: 'Opinion.txt', exact: true })).toBeVisible()
  await h.press('More with papers')
  await page.getByRole('menuitem', { name: 'Links for people outside' }).click()
  await expect(page.getByRole('dialog').getByText(/visits?, last/)).toBeVisible()
  await noAxeFaults(page, 'links for people outside')
  await h.press('End it now')
  await h.press(/^End it$/)
  await guest.reload()
  await expect(guest.getByText(/This link has ended or was withdrawn/)).toBeVisible()
  await outside.close()
  await page.context().close()
})
