import { createHmac, randomUUID, timingSafeEqual } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { createServer, type IncomingMessage } from 'node:http'
import { text } from 'node:stream/consumers'

type Kind = 'paid' | 'refused' | 'disputed' | 'dispute won' | 'settled'
interface Charge {
  charge: string
  amount: number
  firm: string
  what: string
  back: string
  state: 'open' | 'paid' | 'refused' | 'disputed'
  /** The last digits of a card, or of a bank account. */
  card: string
  method: 'card' | 'bank'
  paidOn: string | null
  settledOn: string | null
  fee: number
}
export interface ProcessorStandIn {
  url: string
  charges: () => readonly Charge[]
  /** What a cardholder, or two days, do: told to the firm as it would be. */
  dispute: (charge: string) => void
  win: (charge: string) => void
  settle: (day?: string) => void
  /** Resolves when everything told so far was taken by the firm. */
  quiet: () => Promise<void>
  stop: () => Promise<void>
}

const escape = (s: string) => s.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)
const money = (cents: number) => `$${(cents / 100).toLocaleString('en-US', { minimumFractionDigits: 2 })}`
const css = `body{font:16px/1.5 system-ui,sans-serif;background:#f4f2ee;color:#222;margin:0}main{max-width:560px;margin:2rem auto;padding:0 1rem}form,section{background:#fff;border:1px solid #d8d3c8;border-radius:8px;padding:1rem;margin:1rem 0}label{display:block;margin:.6rem 0}input{display:block;width:100%;box-sizing:border-box;font:inherit;padding:.45rem;border:1px solid #8a857a;border-radius:6px}button{font:inherit;padding:.45rem .9rem;border-radius:6px;border:1px solid #333;background:#333;color:#fff}small{color:#5c574d}.wrong{color:#9c2b10}`
const page = (title: string, body: string) =>
  `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${title}</title><style>${css}</style><main>${body}<p><small>This stands in for a card processor. No card is charged and nothing leaves this machine.</small></p></main></html>`
/** The check figure of a card's number (ISO/IEC 7812-1). */
export function cardChecks(number: string): boolean {
  if (!/^\d{12,19}$/.test(number)) return false
  const sum = [...number].reverse().reduce((s, c, i) => {
    const d = Number(c) * (i % 2 ? 2 : 1)
    return s + (d > 9 ? d - 9 : d)
  }, 0)
  return sum % 10 === 0
}
/** The check figure of a bank's routing number. */
export const routingChecks = (number: string): boolean =>
  /^\d{9}$/.test(number) && [...number].reduce((s, c, i) => s + Number(c) * [3, 7, 1][i % 3]!, 0) % 10 === 0
/** A debit of a bank account: 0.8 %, half up, at most five dollars. */
const debitFee = (amount: number) => Math.min(500, Math.floor((amount * 80 + 5000) / 10_000))
/** 2.9 % and thirty cents, half up; never more than the charge. */
const feeOf = (amount: number) => Math.min(amount, Math.floor((amount * 290 + 5000) / 10_000) + 30)
const daysAfter = (day: string, n: number) => new Date(Date.parse(`${day}T12:00:00Z`) + n * 86_400_000).toISOString().slice(0, 10)

/**
 * A small card processor on loopback: a page where a payer gives a card, refusals, disputes, and settlement reports two days later.
 * What it tells the firm is signed, told twice and not always in order, and told again until it is taken, as such services do.
 */
export async function startProcessor(wanted: {
  port?: number
  secret: string
  /** Where the firm takes what it is told. */
  tell: string
  keep?: string
}): Promise<ProcessorStandIn> {
  const charges = new Map<string, Charge>(
    wanted.keep && existsSync(wanted.keep) ? (JSON.parse(readFileSync(wanted.keep, 'utf8')) as Charge[]).map((c) => [c.charge, c]) : [],
  )
  const kept = () => wanted.keep && writeFileSync(wanted.keep, JSON.stringify([...charges.values()]))
  const sign = (at: string, payload: string) => createHmac('sha256', wanted.secret).update(`${at}.${payload}`).digest('hex')
  const today = () => new Date().toISOString().slice(0, 10)
  const waiting = new Set<Promise<void>>()
  let ended = false

  async function send(payload: string, after: number) {
    for (let turn = 0; turn < 8 && !ended; turn += 1) {
      await new Promise((r) => setTimeout(r, turn ? 250 * 2 ** turn : after))
      const at = new Date().toISOString()
      const body = JSON.stringify({ at, payload, signature: sign(`event ${at}`, payload) })
      try {
        const answer = await fetch(wanted.tell, { method: 'POST', headers: { 'content-type': 'application/json' }, body })
        if (answer.ok) return
      } catch {
        // Not reached: told again.
      }
    }
  }
  /** Each is told twice under one id; the second may come before the first. */
  function tell(c: Charge, kind: Kind, fee: number | null = null) {
    const payload = JSON.stringify({
      id: randomUUID(),
      charge: c.charge,
      kind,
      amount: c.amount,
      fee,
      method: c.method,
      ...(kind === 'settled' ? { settlement: `S-${c.settledOn}` } : {}),
    })
    for (const after of [Math.random() * 60, Math.random() * 60]) {
      const told: Promise<void> = send(payload, after).finally(() => waiting.delete(told))
      waiting.add(told)
    }
    kept()
  }
  const dispute = (id: string) => {
    const c = charges.get(id)
    if (c?.state === 'paid') tell(Object.assign(c, { state: 'disputed' as const }), 'disputed')
  }
  const win = (id: string) => {
    const c = charges.get(id)
    if (c?.state === 'disputed') tell(Object.assign(c, { state: 'paid' as const }), 'dispute won')
  }
  function settle(day = today()) {
    for (const c of charges.values())
      if (c.paidOn && !c.settledOn && daysAfter(c.paidOn, 2) <= day) tell(Object.assign(c, { settledOn: day }), 'settled', c.fee)
  }
  const report = (day: string) =>
    ['charge,what,gross,fee,net', ...[...charges.values()].filter((c) => c.settledOn === day).map((c) => [c.charge, `"${c.what.replaceAll('"', '""')}"`, c.amount / 100, c.fee / 100, (c.amount - c.fee) / 100].join(','))].join('\r\n') // prettier-ignore

  function readCharge(url: URL): Charge | null {
    try {
      const payload = Buffer.from(url.searchParams.get('d') ?? '', 'base64url').toString()
      const [due, got] = [Buffer.from(sign('charge', payload)), Buffer.from(url.searchParams.get('s') ?? '')]
      if (due.length !== got.length || !timingSafeEqual(due, got)) return null
      const asked = JSON.parse(payload) as Pick<Charge, 'charge' | 'amount' | 'firm' | 'what' | 'back'>
      const known = charges.get(asked.charge)
      if (known) return known
      const made: Charge = { ...asked, state: 'open', card: '', method: 'card', paidOn: null, settledOn: null, fee: feeOf(asked.amount) }
      charges.set(asked.charge, made)
      return made
    } catch {
      return null
    }
  }
  const ask = (c: Charge, wrong = '') =>
    page(
      'Pay',
      `<h1>${escape(c.firm)}</h1><p>${escape(c.what)}: <b>${money(c.amount)}</b></p><form method="post">${wrong ? `<p class="wrong" role="alert">${escape(wrong)}</p>` : ''}<label>Name on the card<input name="name" autocomplete="cc-name" maxlength="80" required></label><label>Card number<input name="number" inputmode="numeric" autocomplete="cc-number" maxlength="24" required></label><button>Pay ${money(c.amount)}</button><p><small>Any number with a right check figure is taken, such as 5100 0000 0000 0008; one that ends in 18 is refused.</small></p></form><form method="post"><input type="hidden" name="how" value="bank"><label>Routing number<input name="routing" inputmode="numeric" maxlength="12" required></label><label>Account number<input name="account" inputmode="numeric" maxlength="20" required></label><button>Pay ${money(c.amount)} from the account</button><p><small>Any routing number with a right check figure is taken, such as 000000013.</small></p></form>`,
    )
  const done = (c: Charge) =>
    page('Paid', `<h1>Paid</h1><p>${money(c.amount)} to ${escape(c.firm)}, ${escape(c.what)}.</p><p><a href="${escape(c.back)}">Back to ${escape(c.firm)}</a></p>`) // prettier-ignore
  function pay(c: Charge, form: URLSearchParams): string {
    if (c.state === 'paid' || c.state === 'disputed') return done(c)
    if (form.get('how') === 'bank') {
      const account = (form.get('account') ?? '').replaceAll(/[\s-]/g, '')
      if (!routingChecks((form.get('routing') ?? '').replaceAll(/[\s-]/g, '')))
        return ask(c, 'This is no routing number. Look at it again.')
      if (!/^\d{4,17}$/.test(account)) return ask(c, 'This is no account number. Look at it again.')
      Object.assign(c, { state: 'paid', paidOn: today(), method: 'bank', card: account.slice(-4), fee: debitFee(c.amount) })
      tell(c, 'paid')
      return done(c)
    }
    const number = (form.get('number') ?? '').replaceAll(/[\s-]/g, '')
    if (!cardChecks(number)) return ask(c, 'This is no card number. Look at it again.')
    c.card = number.slice(-4)
    if (number.endsWith('18')) {
      c.state = 'refused'
      tell(c, 'refused')
      return ask(c, 'The card was refused. Use another one.')
    }
    Object.assign(c, { state: 'paid', paidOn: today() })
    tell(c, 'paid')
    return done(c)
  }
  const list = () =>
    page(
      'Charges',
      `<h1>Charges</h1><form method="post" action="/settle"><button>Settle what is due</button></form>${[...charges.values()].reverse().slice(0, 200).map((c) => `<section><b>${money(c.amount)}</b> ${escape(c.what)}, ${escape(c.firm)}<br><small>${c.state}${c.card ? `, ${c.method === 'bank' ? 'account' : 'card'} ••${c.card}` : ''}${c.settledOn ? `, <a href="/settlements/${c.settledOn}.csv">settled ${c.settledOn}</a>` : ''}</small>${c.state === 'paid' ? `<form method="post" action="/dispute/${c.charge}"><button>${c.method === 'bank' ? 'The bank returns it' : 'The cardholder disputes it'}</button></form>` : c.state === 'disputed' ? `<form method="post" action="/win/${c.charge}"><button>The firm wins the dispute</button></form>` : ''}</section>`).join('') || '<p>None yet.</p>'}`, // prettier-ignore
    )
  async function formOf(req: IncomingMessage) {
    if (Number(req.headers['content-length'] ?? 0) > 4000) throw new Error('too long')
    return new URLSearchParams(await text(req))
  }
  const server = createServer((req, res) => {
    void (async () => {
      const url = new URL(req.url ?? '/', 'http://127.0.0.1')
      const html = (body: string, status = 200) => res.writeHead(status, { 'content-type': 'text/html; charset=utf-8' }).end(body)
      const act = /^\/(dispute|win|settle)(?:\/([0-9a-f]{24}))?$/.exec(url.pathname)
      if (url.pathname === '/charge') {
        const c = readCharge(url)
        if (!c) return html(page('Not known', '<h1>This payment is not known here.</h1>'), 404)
        if (req.method !== 'POST') return html(c.state === 'paid' || c.state === 'disputed' ? done(c) : ask(c))
        return html(pay(c, await formOf(req)))
      }
      if (req.method === 'POST' && act) {
        if (act[1] === 'settle') settle()
        else (act[1] === 'dispute' ? dispute : win)(act[2] ?? '')
        return res.writeHead(303, { location: '/' }).end()
      }
      const csv = /^\/settlements\/(\d{4}-\d\d-\d\d)\.csv$/.exec(url.pathname)
      if (csv) return res.writeHead(200, { 'content-type': 'text/csv; charset=utf-8' }).end(report(csv[1]!))
      return html(list())
    })().catch(() => res.writeHead(400).end())
  })
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(wanted.port ?? 0, '127.0.0.1', () => resolve())
  })
  const hourly = setInterval(() => settle(), 3_600_000)
  hourly.unref()
  const at = server.address()
  return {
    url: `http://127.0.0.1:${typeof at === 'object' && at ? at.port : 0}`,
    charges: () => [...charges.values()],
    dispute,
    win,
    settle,
    quiet: async () => {
      while (waiting.size) await Promise.all(waiting)
    },
    stop: async () => {
      ended = true
      clearInterval(hourly)
      server.closeAllConnections()
      await new Promise((r) => server.close(r))
    },
  }
}
