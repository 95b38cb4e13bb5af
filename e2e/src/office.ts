import axe, { type AxeResults, type RunOptions } from 'axe-core'
import { expect, test as base, type Browser, type Page } from '@playwright/test'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { follow, Keyboard, Mouse, type Hands } from './hands'

/** Every page a test opens is watched: errors and breaches of the Content-Security-Policy fail it. */
export function watch(page: Page, faults: string[]) {
  follow(page)
  page.on('pageerror', (error) => faults.push(`page error: ${error.message}`))
  page.on('console', (message) => {
    // Chromium reports each refused request as an error of its own; refusals are part of the story.
    if (message.type() === 'error' && !message.text().startsWith('Failed to load resource')) faults.push(message.text())
    if (message.text().includes('Content Security Policy')) faults.push(message.text())
  })
}

export const test = base.extend<{ faults: string[] }>({
  faults: async ({ browser }, use) => {
    const faults: string[] = []
    await use(faults)
    // People go home: pages left open would go on asking beside the next story.
    for (const context of browser.contexts()) await context.close()
    expect(faults).toEqual([])
  },
})

/** A person signed in, with a way of working. */
export async function personAt(
  browser: Browser,
  faults: string[],
  name: string,
  way: 'mouse' | 'keyboard',
): Promise<{ page: Page; hands: Hands }> {
  const context = await browser.newContext()
  const page = await context.newPage()
  watch(page, faults)
  const hands = way === 'mouse' ? new Mouse(page) : new Keyboard(page)
  await page.goto('/sign-in')
  await expect(page.getByRole('heading', { name: 'The demo firm' })).toBeVisible()
  await hands.press(new RegExp(`^${name}`))
  await expect(page).toHaveURL(/\/today/)
  return { page, hands }
}

export async function noAxeFaults(page: Page, where: string) {
  // Run in the page itself: only faults come back, which takes half the time of bringing over all that was looked at.
  await page.evaluate(axe.source)
  const faults = await page.evaluate(
    async (options) => {
      const { axe: here } = window as unknown as { axe: { run(where: Document, options: RunOptions): Promise<AxeResults> } }
      const { violations } = await here.run(document, options)
      return violations.map(
        (v) =>
          `${v.id}: ${v.nodes
            .map((n) => n.target.join(' '))
            .slice(0, 3)
            .join(' | ')}`,
      )
    },
    {
      resultTypes: ['violations'],
      runOnly: { type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'] },
    } satisfies RunOptions,
  )
  expect.soft(faults, where).toEqual([])
}

/** Text of a PDF that a signed-in person downloads. */
export async function pdfText(page: Page, path: string): Promise<string> {
  const answer = await page.request.get(path)
  expect(answer.headers()['content-type']).toContain('application/pdf')
  const file = join(mkdtempSync(join(tmpdir(), 'heron-e2e-')), 'a.pdf')
  writeFileSync(file, await answer.body())
  return execFileSync('pdftotext', ['-layout', file, '-']).toString()
}

export const figure = (page: Page, name: string) => page.locator(`[data-figure="${name}"]`).first()

/** Asks the script that runs these tests to stop and start the server and its database. */
export async function restart() {
  const answer = await fetch(`${process.env['HERON_CONTROL']}/restart`, { method: 'POST' })
  expect(answer.ok).toBe(true)
}

/** Opens screens at both widths: axe finds nothing, and nothing is wider than the page. */
export async function noFaultsOn(page: Page, paths: readonly string[]) {
  for (const path of paths) {
    await page.goto(path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    await expect(page.getByText('Loading …')).toHaveCount(0)
    await noAxeFaults(page, path)
    await page.setViewportSize({ width: 1024, height: 800 })
    // A chart takes its new width a moment after the page has it.
    await expect
      .poll(() => page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth), `${path} at 1024`)
      .toBeLessThanOrEqual(0)
    await page.setViewportSize({ width: 1280, height: 800 })
  }
}
