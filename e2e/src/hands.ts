import { expect, type Page } from '@playwright/test'

type Role = 'button' | 'link' | 'textbox' | 'combobox' | 'checkbox'

/** The ways of working that the story needs; one with the mouse, one with the keyboard alone. */
export interface Hands {
  press(name: string | RegExp, role?: 'button' | 'link'): Promise<void>
  /** A part of the matter's file, by its thumb tab. */
  tab(name: string): Promise<void>
  fill(label: string, value: string): Promise<void>
  choose(label: string, option: string): Promise<void>
  /** Types into a search and takes the option that begins like this. */
  pick(label: string, query: string, option: RegExp): Promise<void>
  tick(name: string): Promise<void>
  /** Find or do: the words, and what is taken. */
  go(words: string, option: RegExp): Promise<void>
  save(): Promise<void>
}

const underWay = new WeakMap<Page, Set<unknown>>()
/** Keeps count of what a page has asked the server and not been answered. */
export function follow(page: Page) {
  const asked = new Set<unknown>()
  underWay.set(page, asked)
  // A line that stays open to hear what others do is no request that anybody waits for.
  page.on('request', (r) => void (r.url().includes('/api/') && !r.url().endsWith('/api/live') && asked.add(r)))
  page.on('requestfinished', (r) => void asked.delete(r))
  page.on('requestfailed', (r) => void asked.delete(r))
}
/** A person presses what stands still: lists that are read anew after an act move under a hand that does not wait. */
export async function quiet(page: Page) {
  const asked = () => underWay.get(page)?.size ?? 0
  // What is answered may ask for more as it is drawn: a page stands still when two frames later nothing is under way.
  do {
    await expect.poll(asked, { intervals: [10, 20, 50] }).toBe(0)
    await drawn(page)
  } while (asked() > 0)
}
/** Two frames on: what a key did stands on the page. */
const drawn = (page: Page) => page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))))

/** Where a person works now: the sheet that is open, else the page. */
const scope = async (page: Page) => {
  const dialogs = page.getByRole('dialog')
  const n = await dialogs.count()
  return n ? dialogs.nth(n - 1) : page.locator('body')
}

export class Mouse implements Hands {
  constructor(private readonly page: Page) {}

  async press(name: string | RegExp, role: 'button' | 'link' = 'button') {
    await quiet(this.page)
    await (
      await scope(this.page)
    )
      .getByRole(role, typeof name === 'string' ? { name, exact: true } : { name })
      .first()
      .click()
  }
  async tab(name: string) {
    await this.page
      .getByRole('navigation', { name: 'Parts of the file' })
      .getByRole('link', { name: new RegExp(`^${name}`) })
      .click()
  }
  async fill(label: string, value: string) {
    const field = (await scope(this.page)).getByLabel(new RegExp(`^${label}( \\(optional\\))?$`)).first()
    await field.fill(value)
    await field.blur()
  }
  async choose(label: string, option: string) {
    const field = (await scope(this.page)).getByLabel(new RegExp(`^${label}( \\(optional\\))?$`)).first()
    await expect(field.locator('option').filter({ hasText: option }).first()).toBeAttached()
    await field.selectOption({ label: (await field.locator('option').filter({ hasText: option }).first().textContent())!.trim() })
  }
  async pick(label: string, query: string, option: RegExp) {
    const field = (await scope(this.page)).getByRole('combobox', { name: label, exact: true }).first()
    await field.fill(query)
    await this.page.getByRole('listbox').getByRole('option', { name: option }).first().click()
  }
  async tick(name: string) {
    await (await scope(this.page)).getByRole('checkbox', { name }).first().click()
  }
  async go(words: string, option: RegExp) {
    await this.page.getByRole('button', { name: /Find or do/ }).click()
    await this.page.getByRole('combobox', { name: 'Find or do' }).fill(words)
    await this.page.getByRole('option', { name: option }).first().click()
    await expect(this.page.getByRole('dialog', { name: 'Find or do' })).toHaveCount(0)
  }
  async save() {
    await quiet(this.page)
    await this.page.keyboard.press('Control+Enter')
  }
}

/** What has the focus, as a screen reader would say it. Only looks; nothing is moved. */
function focused() {
  const el = document.activeElement as HTMLElement | null
  if (!el || el === document.body) return { role: 'body', name: '' }
  const text = (node: Element | null) => (node?.textContent ?? '').replace(/\s+/g, ' ').trim()
  const label = (el as HTMLInputElement).labels?.[0]
  const shown = el.cloneNode(true) as HTMLElement
  shown.querySelectorAll('[aria-hidden="true"]').forEach((x) => x.remove())
  const name = el.getAttribute('aria-label') ?? (label ? text(label).replace(/ \(optional\)$/, '') : text(shown))
  const tag = el.tagName
  const type = (el as HTMLInputElement).type
  const role =
    el.getAttribute('role') ??
    (tag === 'BUTTON'
      ? 'button'
      : tag === 'A'
        ? 'link'
        : tag === 'SELECT'
          ? 'combobox'
          : type === 'checkbox'
            ? 'checkbox'
            : tag === 'INPUT' || tag === 'TEXTAREA'
              ? 'textbox'
              : tag.toLowerCase())
  // The thumb tabs share names with the masthead; a reader hears which navigation they stand in.
  const nav = el.closest('nav[aria-label="Parts of the file"]')?.getAttribute('aria-label')
  return { role, name: nav ? `${nav}: ${name}` : name }
}

/** The keyboard alone: only page.keyboard moves anything. */
export class Keyboard implements Hands {
  constructor(private readonly page: Page) {}

  private async to(roles: Role[], name: string | RegExp) {
    const fits = (said: { role: string; name: string }) =>
      roles.includes(said.role as Role) && (typeof name === 'string' ? said.name === name : name.test(said.name))
    const deadline = Date.now() + 60_000
    let last = ''
    while (Date.now() < deadline) {
      const said = await this.page.evaluate(focused)
      if (fits(said)) return
      last = `${said.role} ${said.name}`
      await this.page.keyboard.press('Tab')
    }
    throw new Error(`The keyboard does not reach ${roles.join('/')} ${String(name)}; last at ${last}`)
  }
  async press(name: string | RegExp, role: 'button' | 'link' = 'button') {
    await quiet(this.page)
    await this.to([role], name)
    await this.page.keyboard.press('Enter')
  }
  async tab(name: string) {
    await this.to(['link'], new RegExp(`^Parts of the file: ${name}`))
    await this.page.keyboard.press('Enter')
  }
  async fill(label: string, value: string) {
    await this.to(['textbox', 'combobox'], label)
    await this.page.keyboard.press('Control+A')
    await this.page.keyboard.type(value)
    await this.page.keyboard.press('Tab')
  }
  async choose(label: string, option: string) {
    await this.to(['combobox'], label)
    // A closed list is changed by typing what it holds; arrows do where typing is not enough.
    const holds = () =>
      this.page.evaluate(() => (document.activeElement as HTMLSelectElement).selectedOptions[0]?.textContent?.trim() ?? '')
    // Lists come in parts, and what is wanted may be in the last.
    const offers = () => this.page.evaluate(() => [...(document.activeElement as HTMLSelectElement).options].map((o) => o.text))
    await expect.poll(async () => (await offers()).some((o) => o.includes(option))).toBe(true)
    await this.page.keyboard.press('Home')
    for (let i = 0; i < 60 && !(await holds()).includes(option); i += 1) await this.page.keyboard.press('ArrowDown')
    expect(await holds()).toContain(option)
  }
  private async takeOption(option: RegExp) {
    await expect(this.page.getByRole('listbox').getByRole('option', { name: option }).first()).toBeVisible()
    const active = () =>
      this.page.evaluate(() => {
        const id = document.activeElement?.getAttribute('aria-activedescendant')
        return (id ? (document.getElementById(id)?.textContent ?? '') : '').replace(/\s+/g, ' ').trim()
      })
    // Each letter is answered by a list of its own: a person waits until it stands still before the arrows go down it.
    await quiet(this.page)
    await quiet(this.page)
    for (let turn = 0; turn < 3 && !option.test(await active()); turn += 1) {
      if (turn) {
        await this.page.keyboard.press('Home')
        await drawn(this.page)
      }
      for (let i = 0; i < 30 && !option.test(await active()); i += 1) {
        await this.page.keyboard.press('ArrowDown')
        await drawn(this.page)
      }
    }
    expect(await active()).toMatch(option)
    await this.page.keyboard.press('Enter')
  }
  async pick(label: string, query: string, option: RegExp) {
    await this.to(['combobox'], label)
    await this.page.keyboard.press('Control+A')
    await this.page.keyboard.type(query)
    await this.takeOption(option)
  }
  async tick(name: string) {
    await this.to(['checkbox'], name)
    await this.page.keyboard.press('Space')
  }
  async go(words: string, option: RegExp) {
    await this.page.keyboard.press('Control+K')
    await expect(this.page.getByRole('combobox', { name: 'Find or do' })).toBeFocused()
    await this.page.keyboard.type(words)
    await this.takeOption(option)
    await expect(this.page.getByRole('dialog', { name: 'Find or do' })).toHaveCount(0)
  }
  async save() {
    await quiet(this.page)
    await this.page.keyboard.press('Control+Enter')
  }
}
