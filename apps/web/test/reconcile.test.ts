import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Reconcile from '../src/books/Reconcile.vue'
import StartSheet from '../src/books/StartSheet.vue'
import { useNotes } from '../src/shell/notes'
import { faults, field, lastNote, press, put, refusal, Server, settled, show, signIn, standAt, type Asked } from './stage'

beforeEach(() => signIn({ rights: ['books.see', 'books.post'] }))

const line = (id: number, amount: number, text: string) => ({ id, day: '2026-10-20', countsOn: '2026-10-20', amount, check: '', reference: '', text, named: '' }) // prettier-ignore
const entry = (id: number, amount: number, text: string, more: object = {}) => ({ id, journalId: 900 + id, day: '2026-10-18', amount, check: '', text, sheet: '', days: 13, ...more }) // prettier-ignore
const lines = [line(1, 500_00, 'DEPOSIT'), line(2, -75_00, 'CHECK 1041'), line(3, -12_50, 'SERVICE CHARGE')]
const entries = [entry(11, 500_00, 'Deposit sheet 7'), entry(12, -75_00, 'Harrow Clerk', { check: '1041' }), entry(13, -30_00, 'Old check', { check: '998', days: 200 })] // prettier-ignore
const figures = { bank: 1_000_00, book: 970_00, ledgers: 970_00, depositsInTransit: 0, outstanding: -30_00, unbookedIn: 0, unbookedOut: -12_50, errors: 0, adjusted: 982_50, bankFromBook: 12_50, bookFromLedgers: 0 } // prettier-ignore
const work = (more: object = {}) => ({ name: 'Pooled', kind: 'pooled', to: '2026-10-31', closed: false, closedTo: null, reconciliationId: null, reopened: false, request: null, figures, stops: ['One line of the bank is not named.'], lines, entries, matches: [], more: false, ...more }) // prettier-ignore
const proposal = (key: string, l: number, e: number, difference = 0) => ({ key, lines: [lines[l]!], entries: [entries[e]!], way: 'amount', why: 'Same amount', sure: true, score: 9, difference }) // prettier-ignore
const routes = (more: object = {}) => ({
  'GET /bank/accounts/4/reconciliation': work(),
  'POST /bank/accounts/4/proposals': { rows: [proposal('a', 0, 0), proposal('b', 1, 1), proposal('c', 2, 2, 17_50)], gaveUp: [] },
  'GET /bank/accounts/4/months': [],
  ...more,
})
const stand = async (address = '/books/bank/4') => {
  await standAt('/books/bank/:id', address, Reconcile)
  return show(Reconcile)
}
const region = (name: string) => within(screen.getByRole('region', { name }))
const choose = async (of: string, at: number) => {
  const boxes = region(of).getAllByRole('checkbox')
  await fireEvent.click(boxes[at]!)
  await settled()
}

describe('a month of a bank account', () => {
  it('opens at the month that is over, and says what keeps it open; it cannot be closed until nothing does', async () => {
    const server = new Server(routes())
    await stand()
    expect(server.sent('GET /bank/accounts/4/reconciliation')[0]!.query['to']).toBe('2026-10-31')
    expect(region('Three figures').getByText(/differs by \$12\.50/)).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Close Oct 2026' })).toHaveProperty('disabled', true)
    await press('The month before')
    expect(server.sent('GET /bank/accounts/4/reconciliation').at(-1)!.query['to']).toBe('2026-09-30')
  })

  it('takes what agrees of the proposals that are chosen, and says that one with a difference is taken by itself', async () => {
    const server = new Server(routes({ 'POST /bank/accounts/4/matches': { matched: 2 } }))
    await stand()
    for (const at of [1, 2, 3]) await choose('Proposals', at)
    await press('Take what is chosen')
    expect(server.sent('POST /bank/accounts/4/matches')[0]!.body['pairs']).toEqual([{ lineIds: [1], entryIds: [11] }, { lineIds: [2], entryIds: [12] }]) // prettier-ignore
    expect(useNotes().notes.map((n) => n.text)).toEqual(['2 matches kept', '1 proposal left: one with a difference is taken by itself, with a name for it']) // prettier-ignore
    // Alone it asks how the difference is named.
    await choose('Proposals', 3)
    await press('Take what is chosen')
    server.on('POST /bank/accounts/4/matches', faults(['named', 'Say what the difference is']))
    await press('Match them')
    expect(field('What the difference is').getAttribute('aria-invalid')).toBe('true')
    server.on('POST /bank/accounts/4/matches', { matched: 1 })
    await put('What the difference is', 'The bank misread the check')
    await press('Match them')
    expect(server.sent('POST /bank/accounts/4/matches').at(-1)!.body).toEqual({ pairs: [{ lineIds: [3], entryIds: [13] }], named: 'The bank misread the check' }) // prettier-ignore
  })

  it('matches by hand what is chosen on both sides, with what lies between told before', async () => {
    const server = new Server(routes({ 'POST /bank/accounts/4/matches': refusal('changed-meanwhile', 'A line was matched meanwhile.') }))
    await stand()
    const button = () => screen.getByRole('button', { name: /^Match what is chosen/ })
    expect(button()).toHaveProperty('disabled', true)
    await choose('Only at the bank', 2)
    await choose('Only in the book', 2)
    expect(button().textContent.trim()).toBe('Match what is chosen')
    await choose('Only in the book', 3)
    expect(button().textContent.trim()).toBe('Match what is chosen, $30.00 apart')
    await choose('Only in the book', 3)
    await press(/^Match what is chosen/)
    expect(server.sent('POST /bank/accounts/4/matches')[0]!.body).toMatchObject({ pairs: [{ lineIds: [2], entryIds: [12] }] })
    expect(screen.getByRole('alert').textContent).toContain('matched meanwhile')
  })

  it('refuses a proposal for good, and proposes it again by Undo', async () => {
    const server = new Server(routes({ 'PUT /bank/accounts/4/refused': { ok: true } }))
    const { user } = await stand()
    await user.click(region('Proposals').getAllByRole('button', { name: /^What can be done|^Acts|More/ })[0]!)
    await user.click(screen.getByRole('menuitem', { name: 'Refuse' }))
    await settled()
    await lastNote()!.undo!.act()
    expect(server.sent('PUT /bank/accounts/4/refused').map((a) => a.body)).toEqual([
      { lineIds: [1], entryIds: [11], refused: true },
      { lineIds: [1], entryIds: [11], refused: false },
    ])
  })

  it('is closed at the figures that were seen, and goes on to the next month that is behind', async () => {
    const clear = (to: string) =>
      work({ to, stops: [], lines: [], entries: [], figures: { ...figures, bankFromBook: 0, adjusted: 970_00 } })
    const server = new Server(
      routes({
        'GET /bank/accounts/4/reconciliation': ({ query }: Asked) => clear(String(query['to'])),
        'POST /bank/accounts/4/months': { id: 31 },
      }),
    )
    await stand('/books/bank/4?month=2026-09')
    await press(/^Close Sep/)
    expect(server.sent('POST /bank/accounts/4/months')[0]!.body).toEqual({ to: '2026-09-30', seen: { bank: 1_000_00, book: 970_00 } })
    expect(server.sent('GET /bank/accounts/4/reconciliation').at(-1)!.query['to']).toBe('2026-10-31')
    // Where two people are asked for, it is prepared.
    server.on('POST /bank/accounts/4/months', { id: null })
    await press('Close Oct 2026')
    expect(lastNote()?.text).toBe('Prepared; somebody else closes it, under Trust, To settle')
  })

  it('that is closed shows its report, changes nothing, and is opened again for a reason', async () => {
    const server = new Server(
      routes({
        'GET /bank/accounts/4/reconciliation': work({ closed: true, closedTo: '2026-10-31', reconciliationId: 31, stops: [] }),
        'POST /bank/months/31/reopen': faults(['reason', 'Say why']),
      }),
    )
    await stand()
    expect(screen.queryByRole('region', { name: 'Proposals' })).toBeNull()
    expect(screen.queryByRole('button', { name: /^Close/ })).toBeNull()
    expect(screen.getByRole('link', { name: 'Report' }).getAttribute('href')).toBe('/api/bank/months/31/report')
    await press('Open it again …')
    await press('Ask for it')
    expect(field('Why').getAttribute('aria-invalid')).toBe('true')
    server.on('POST /bank/months/31/reopen', { ok: true })
    await put('Why', 'A check was matched with the wrong one')
    await press('Ask for it')
    expect(lastNote()?.text).toBe('Asked for; somebody else agrees')
  })
})

describe('what was in transit at the start', () => {
  it('is marked by a press, and taken back by another', async () => {
    let marked = false
    const server = new Server({
      'GET /bank/accounts/4/start': () => ({ startedOn: '2026-10-01', rows: [{ id: 51, day: '2026-09-28', amount: -40_00, check: '977', text: 'Harrow Clerk', marked }] }), // prettier-ignore
      'PUT /bank/entries/51/in-transit': ({ body }: Asked) => ((marked = Boolean(body['inTransit'])), { ok: true }),
    })
    await show(StartSheet, { id: 4 })
    const box = () => screen.getByRole('checkbox', { name: 'In transit: Harrow Clerk' }) as HTMLInputElement
    for (const on of [true, false]) {
      await fireEvent.click(box())
      await settled()
      expect(box().checked).toBe(on)
    }
    expect(server.sent('PUT /bank/entries/51/in-transit').map((a) => a.body['inTransit'])).toEqual([true, false])
  })
})
