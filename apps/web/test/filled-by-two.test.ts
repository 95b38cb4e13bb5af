import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Component } from 'vue'
import BillTerms from '../src/billing/BillTerms.vue'
import Parties from '../src/matters/Parties.vue'
import EnquirySheet from '../src/people/EnquirySheet.vue'
import TermsSheet from '../src/time/TermsSheet.vue'
import { field, press, put, refusal, Server, settled, setting, show, signIn } from './stage'

beforeEach(() => signIn({ rights: ['people.see', 'people.change', 'matters.open', 'matters.see', 'bills.review', 'bills.see'] }))
const meanwhile = (what: string) => refusal('changed-meanwhile', `Somebody else changed ${what} while you wrote.`)
const group = () => screen.getByRole('group', { name: 'Changed meanwhile' })
const words = () => group().textContent?.replaceAll(/\s+/g, ' ')

/** Fills in a sheet while somebody else is faster: theirs comes beside, and what is saved then was seen. */
async function fillIn(
  of: { sheet: Component; props: object; write: string; read: string; server: Record<string, unknown> },
  step: { mine: () => Promise<unknown>; theirs: unknown; what: string; open?: () => Promise<unknown> },
) {
  const server = new Server({ ...of.server, [of.write]: meanwhile(step.what) })
  const page = await show(of.sheet, of.props as Record<string, unknown>)
  await step.open?.()
  await settled()
  await step.mine()
  server.on(of.read, step.theirs)
  await press('Save')
  await settled()
  const [first] = server.sent(of.write)
  return { server, first: first!.body, page, again: () => server.sent(of.write).at(-1)!.body }
}

describe('a sheet that somebody else saved first', () => {
  const enquiry = { id: 4, contactId: 9, name: 'Perrin Ashdown', email: '', phone: '', about: 'A boundary', adverse: ['Kite Hill Farm'], source: 'Walk-in', areaId: null, area: null, nextStep: '', nextOn: null, consultOn: null, consultAt: null, consultMinutes: null, consultFee: null, state: 'open', reason: '', matterId: null, matter: null, conflictCheckId: null, hitsOpen: null, ownerId: 2, owner: 'Noor Haddad-Lind', at: '2026-11-20T10:00:00Z' } // prettier-ignore

  it('is an enquiry: both versions of what both changed stand side by side', async () => {
    const got = await fillIn(
      {
        sheet: EnquirySheet,
        props: { enquiry },
        write: 'PUT /enquiries/4',
        read: 'GET /enquiries/4',
        server: { 'GET /matters/setting': setting, 'GET /contacts': { rows: [], total: 0 } },
      },
      {
        what: 'this enquiry',
        theirs: { ...enquiry, about: 'A boundary and a well', nextStep: 'Call back', consultFee: 150_00 },
        mine: () => put(/^What about/, 'A boundary and a hedge'),
      },
    )
    expect(got.first).toMatchObject({ about: 'A boundary and a hedge', contactId: 9, seen: { about: 'A boundary', adverse: ['Kite Hill Farm'] } }) // prettier-ignore
    expect(words()).toContain('Theirs stands in the form now: Next step, Agreed fee.')
    const about = within(screen.getByRole('group', { name: 'What about' }))
    expect(about.getByText('A boundary and a well')).toBeTruthy()
    await got.page.user.click(about.getByRole('button', { name: 'Keep yours' }))
    got.server.on('PUT /enquiries/4', { ok: true })
    await press('Save')
    expect(got.again()).toMatchObject({ about: 'A boundary and a hedge', nextStep: 'Call back', consultFee: 150_00, seen: { about: 'A boundary and a well' } }) // prettier-ignore
    expect(got.page.emitted('close')).toHaveLength(1)
  })

  const usual = { dueDays: 30, interestBasisPoints: 0, discountBasisPoints: 0, taxes: { fees: 0, softCosts: 0, hardCosts: 0 }, language: 'en', group: 'none', summary: false, trust: false, slip: false } // prettier-ignore
  const terms = { dueDays: null, interestBasisPoints: null, graceDays: null, format: null, theirNumber: '', discountBasisPoints: null, taxFees: null, taxSoftCosts: null, taxHardCosts: null, language: null, billGroup: null, billSummary: null, billTrust: null, billSlip: null, budget: null, capped: false, warnAt: '', warnIds: [], usual, stands: null } // prettier-ignore

  it('is terms of bills: what only they changed stands in the form, sums and people in words', async () => {
    const got = await fillIn(
      {
        sheet: BillTerms,
        props: { of: 'matter', id: 5, name: 'Gannet' },
        write: 'PUT /matters/5/bill-terms',
        read: 'GET /matters/5/bill-terms',
        server: { 'GET /matters/setting': setting, 'GET /matters/5/bill-terms': terms },
      },
      {
        what: 'these terms',
        theirs: { ...terms, budget: 9_000_00, warnAt: '75,90', warnIds: [2], billSummary: true },
        mine: async () => {
          await put(/^Due after days/, '14')
          await put(/^Fees and costs/, '8,000')
        },
      },
    )
    expect(got.first).toMatchObject({ dueDays: 14, budget: 8_000_00, seen: { dueDays: null, budget: null, warnIds: [] } })
    expect(words()).toContain('Hours by person, in sum, Warn at percent, Whom to warn')
    await got.page.user.click(within(screen.getByRole('group', { name: 'Fees and costs' })).getByRole('button', { name: 'Take theirs' }))
    got.server.on('PUT /matters/5/bill-terms', { ok: true })
    await press('Save')
    expect(got.again()).toMatchObject({ dueDays: 14, budget: 9_000_00, warnAt: '75, 90', warnIds: [2], billSummary: true, seen: { budget: 9_000_00, billSummary: true } }) // prettier-ignore
    expect(got.page.emitted('close')).toHaveLength(1)
  })

  it('is terms of time: rates by role that both set are told in words', async () => {
    const kept = { unit: null, rounding: null, fundingId: null, usual: { unit: 6, rounding: 'up' }, roles: [] }
    const got = await fillIn(
      {
        sheet: TermsSheet,
        props: { of: 'matter', id: 5, name: 'Gannet' },
        write: 'PUT /matters/5/terms',
        read: 'GET /matters/5/terms',
        server: {
          'GET /matters/5/terms': kept,
          'GET /time/fields': { fields: [], funding: [] },
          'GET /activities': [],
          'GET /field-groups': [],
          'GET /time/rates-anew': { rows: [] },
        },
      },
      {
        what: 'these terms',
        theirs: { ...kept, unit: 12, roles: [{ role: 'lead', rate: 400_00 }] },
        mine: () => put('Rate of lead', '350'),
      },
    )
    expect(got.first).toMatchObject({ unit: null, roles: [{ role: 'lead', rate: 350_00 }], seen: { unit: null, roles: [] } })
    const rates = within(screen.getByRole('group', { name: 'Rates' }))
    expect([rates.getByText(/lead \$400.00/), rates.getByText(/lead \$350.00/)]).toHaveLength(2)
    await got.page.user.click(rates.getByRole('button', { name: 'Take theirs' }))
    expect(field('Rate of lead').value).toBe('400.00')
    got.server.on('PUT /matters/5/terms', { ok: true })
    await press('Save')
    expect(got.again()).toMatchObject({ unit: 12, roles: [{ role: 'lead', rate: 400_00 }], seen: { unit: 12 } })
  })

  it('is terms of a client: the rate of somebody who left is neither lost nor in the way', async () => {
    const kept = { unit: null, rounding: null, usual: { unit: 6, rounding: 'up' }, rates: [{ userId: 2, rate: 300_00 }, { userId: 44, rate: 250_00 }] } // prettier-ignore
    const server = new Server({
      'GET /matters/setting': setting,
      'GET /contacts/9/terms': kept,
      'GET /time/fields': { fields: [], funding: [] },
      'GET /field-groups': [],
      'GET /activities': [],
      'GET /time/rates-anew': { rows: [] },
      'PUT /contacts/9/terms': { ok: true },
    })
    await show(TermsSheet, { of: 'client', id: 9, name: 'Gannet' })
    await settled()
    expect(field('Rate of Someone who left (44)').value).toBe('250.00')
    await put('Rate of Noor Haddad-Lind', '310')
    await press('Save')
    expect(server.sent('PUT /contacts/9/terms')[0]!.body).toMatchObject({ rates: [{ userId: 2, rate: 310_00 }, { userId: 44, rate: 250_00 }], seen: { rates: kept.rates } }) // prettier-ignore
  })

  it('is a party; one that is gone by then is told as such', async () => {
    const party = { id: 3, contactId: 9, name: 'Odile Marsh', role: 'Defendant', side: 'adverse', counsel: '', counselId: null, servedOn: null } // prettier-ignore
    const matter = { id: 5, parties: [party], own: { file: 2 }, closedOn: null }
    const got = await fillIn(
      { sheet: Parties, props: { matter }, write: 'PUT /parties/3', read: 'GET /matters/5', server: { 'GET /contacts': { rows: [], total: 0 } } }, // prettier-ignore
      {
        what: 'this party',
        theirs: { ...matter, parties: [{ ...party, servedOn: '2026-11-20' }] },
        open: async () => {
          await press('Acts on Odile Marsh')
          await fireEvent.click(screen.getByRole('menuitem', { name: 'Change Odile Marsh' }))
        },
        mine: () => put('Role', 'Respondent'),
      },
    )
    expect(got.first).toMatchObject({ role: 'Respondent', seen: { role: 'Defendant', servedOn: null } })
    expect(words()).toContain('Theirs stands in the form now: Served on.')
    got.server.on('GET /matters/5', { ...matter, parties: [] })
    await press('Save')
    await settled()
    expect(screen.getByRole('alert').textContent).toMatch(/Somebody else changed this party/)
    expect(field('Role').value).toBe('Respondent')
  })
})
