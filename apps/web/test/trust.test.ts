import { fireEvent, screen } from '@testing-library/vue'
import { describe, expect, it } from 'vitest'
import Sheet from '../src/trust/Sheet.vue'
import { refusal, Server, settled, show, signIn, standAt } from './stage'

const receipt = (depositor: string, amount: number) => ({ id: amount, receiptNo: amount, clientId: 1, client: 'Gannet Ferry', matterId: 7, matter: 'Gannet v. Corvane', depositor, kind: 'check', reference: '', text: '', amount, fee: 0 }) // prettier-ignore
const sheetOf = (version: number, receipts: object[], controlTotal = 900_00) => ({ id: 4, number: 12, bank: 'Pooled', bankAccountId: 2, day: '2026-11-20', state: 'draft', controlTotal, entered: 0, version, receipts }) // prettier-ignore

describe('a deposit sheet', () => {
  it('puts together what two people typed at once, and writes over neither', async () => {
    signIn({ rights: ['trust.see', 'trust.post'] })
    await standAt('/trust/sheets/:id', '/trust/sheets/4', Sheet)
    const server = new Server({
      'GET /trust/accounts': [{ id: 2, name: 'Pooled', kind: 'pooled', ending: '4471' }],
      'GET /matters': { rows: [], total: 0 },
      'GET /contacts': { rows: [], total: 0 },
      'GET /trust/remembered': { payees: [], memos: [], texts: [], receiptFee: 0 },
      'GET /trust/sheets/4': sheetOf(0, [receipt('Ann', 100_00), receipt('Bea', 200_00)]),
      'PUT /trust/sheets/4': refusal('changed-meanwhile', 'Deposit sheet 12 was changed after you opened it.'),
    })
    await show(Sheet)
    const depositors = () => screen.getAllByLabelText('Depositor').map((d) => (d as HTMLInputElement).value)
    expect(depositors()).toEqual(['Ann', 'Bea'])
    await fireEvent.update(screen.getAllByLabelText('Depositor')[1]!, 'Bea Marsh')
    await fireEvent.click(screen.getByRole('button', { name: 'Next receipt' }))
    await fireEvent.update(screen.getAllByLabelText('Depositor')[2]!, 'Mine')
    // Meanwhile a colleague has changed the first line and added another.
    server.on('GET /trust/sheets/4', sheetOf(1, [receipt('Ann Cove', 100_00), receipt('Bea', 200_00), receipt('Theirs', 300_00)], 1_000_00))
    await fireEvent.click(screen.getByRole('button', { name: 'Keep as draft' }))
    await settled()
    expect(depositors()).toEqual(['Ann Cove', 'Bea Marsh', 'Theirs', 'Mine'])
    expect(screen.getByRole('alert').textContent).toContain('stand together here')
    expect((screen.getByLabelText('Control total') as HTMLInputElement).value).toBe('1,000.00')
    server.on('PUT /trust/sheets/4', { ok: true })
    await fireEvent.click(screen.getByRole('button', { name: 'Keep as draft' }))
    await settled()
    const sent = server.sent('PUT /trust/sheets/4').at(-1)!.body as { version: number; receipts: { depositor: string }[] }
    expect([sent.version, sent.receipts.map((r) => r.depositor)]).toEqual([1, ['Ann Cove', 'Bea Marsh', 'Theirs', 'Mine']])
  })
})
