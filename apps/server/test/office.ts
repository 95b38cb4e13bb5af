import { randomUUID } from 'node:crypto'
import { expect, inject } from 'vitest'
import { demoPassword } from '../src/firm'
import { readConfig, startServer, type Running } from '../src'
import { runStandingCheck } from '../src/ledger'
import { dataSource, row } from '../src/platform'
import { databaseName, ownerUser } from '../../../tools/mariadb'

export const today = '2026-11-23'

export interface Answer<T = unknown> {
  status: number
  body: T & { code: string; detail: string; fields: { path: string; message: string }[] }
  type: string
  bytes: Buffer
}

/**
 * While something hostile is going on, others are answered beside it, not only when it is over. Told by how often the
 * server came to anything else, so that a busy machine, which is slow at everything, is not taken for one held up.
 */
export async function stillAnswers<T>(office: Office, attack: Promise<T>): Promise<T> {
  const began = performance.now()
  let turns = 0
  let over = false
  const watch = (async () => {
    while (!over) {
      expect((await fetch(`${office.base}/health`)).status).toBe(200)
      turns += 1
      await new Promise((r) => setTimeout(r, 10))
    }
  })()
  try {
    return await attack
  } finally {
    const took = performance.now() - began
    over = true
    await watch
    expect(turns).toBeGreaterThanOrEqual(Math.floor(took / 2000))
  }
}

/** A person at a browser: a session with its cookie and token. */
export class Person {
  cookie = ''
  csrf = ''
  constructor(readonly base: string) {}

  async call<T = unknown>(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Answer<T>> {
    const answer = await fetch(`${this.base}/api${path}`, {
      method,
      headers: {
        cookie: this.cookie,
        'x-heron-csrf': this.csrf,
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })
    const set = answer.headers.get('set-cookie')
    if (set) this.cookie = set.split(';')[0]!
    const bytes = Buffer.from(await answer.arrayBuffer())
    const type = answer.headers.get('content-type') ?? ''
    return { status: answer.status, type, bytes, body: (type.includes('json') ? JSON.parse(bytes.toString()) : {}) as Answer<T>['body'] }
  }
  get = <T = unknown>(path: string) => this.call<T>('GET', path)
  put = <T = unknown>(path: string, body: unknown) => this.call<T>('PUT', path, body)
  /** A write; every call gets a key of its own unless one is given. */
  post = <T = unknown>(path: string, body: unknown, key: string = randomUUID()) =>
    this.call<T>('POST', path, body, { 'idempotency-key': key })

  async must<T>(method: 'POST' | 'GET' | 'PUT', path: string, body?: unknown): Promise<T> {
    const answer = await this.call<T>(method, path, body, { 'idempotency-key': randomUUID() })
    if (answer.status !== 200)
      throw new Error(`${method} ${path}: ${answer.status} ${answer.body.detail} ${JSON.stringify(answer.body.fields)}`)
    return answer.body
  }
}

export class Office {
  private constructor(
    readonly running: Running,
    readonly base: string,
  ) {}

  static async open(): Promise<Office> {
    const place = inject('place')
    const running = await startServer(
      readConfig({
        HERON_PORT: '0',
        HERON_DB_PORT: String(place.port),
        HERON_DB_SOCKET: place.socket,
        HERON_DB_PASSWORD: place.app,
        HERON_FILES: place.files,
        HERON_TODAY: today,
        HERON_FILING_SECRET: 'of the mail server',
        HERON_LOG: process.env['HERON_LOG'] ?? 'silent',
      }),
    )
    return new Office(running, `http://127.0.0.1:${running.port}`)
  }

  get db() {
    return this.running.base.db
  }

  async owner() {
    const place = inject('place')
    return dataSource({ port: place.port, user: ownerUser, password: place.owner, name: databaseName, pool: 1 }).initialize()
  }

  nobody = () => new Person(this.base)

  async signIn(name: 'ingrid' | 'noor' | 'tomas' | 'billie' | 'jun' | 'orla' | 'sable' | 'ferdi'): Promise<Person> {
    const person = new Person(this.base)
    person.csrf = (
      await person.must<{ csrf: string }>('POST', '/session', { email: `${name}@callowayfenn.example`, password: demoPassword })
    ).csrf
    return person
  }

  /** For what two files of tests would take from each other, such as the firm's own money in trust: one at a time. */
  async alone(name: string, act: () => Promise<void>): Promise<void> {
    const runner = this.db.createQueryRunner()
    try {
      await runner.query(`SELECT GET_LOCK(?, 60)`, [name])
      await act()
      await runner.query(`SELECT RELEASE_LOCK(?)`, [name])
    } finally {
      await runner.release()
    }
  }

  async bank(kind: 'pooled' | 'separate' | 'operating'): Promise<number> {
    return (await row<{ id: number }>(this.db.manager, `SELECT id FROM bank_account WHERE kind = ? ORDER BY id LIMIT 1`, [kind]))!.id
  }
  async user(name: string): Promise<number> {
    return (await row<{ id: number }>(this.db.manager, `SELECT id FROM user_account WHERE name LIKE ?`, [`${name}%`]))!.id
  }

  /** A client with an open matter of theirs, billed by the hour unless flat portions are given. */
  async matter(
    lawyer: Person,
    name: string,
    more: Record<string, unknown> = {},
  ): Promise<{ id: number; clientId: number; number: string }> {
    const client = await lawyer.must<{ id: number }>('POST', '/contacts', {
      kind: 'organization',
      name,
      kinds: ['client'],
      address: '1 Test Quay',
      greeting: 'Ms. Test',
    })
    const check = await lawyer.must<{ id: number }>('POST', '/conflict-checks', { terms: [name] })
    const opened = await lawyer.must<{ id: number; number: string }>('POST', '/matters', {
      clientId: client.id,
      name: `${name}, test matter`,
      openedOn: '2026-09-01',
      conflictCheckId: check.id,
      leadId: await this.user('Noor'),
      billToId: client.id,
      ruleSetKey: 'us-federal-civil',
      description: 'the test of the application',
      ...more,
    })
    return { ...opened, clientId: client.id }
  }

  /** Money into trust for a matter, by wire unless said otherwise, so that it has cleared; returns the ledger. */
  async deposit(
    bookkeeper: Person,
    m: { id: number; clientId: number },
    amount: number,
    day = '2026-10-01',
    kind = 'wire',
    bank: 'pooled' | 'separate' = 'pooled',
  ): Promise<number> {
    const bankAccountId = await this.bank(bank)
    const sheet = await bookkeeper.must<{ id: number }>('POST', '/trust/sheets', {
      bankAccountId,
      day,
      controlTotal: amount,
      receipts: [{ clientId: m.clientId, matterId: m.id, depositor: 'Client', kind, amount }],
    })
    await bookkeeper.must('POST', `/trust/sheets/${sheet.id}/post`, {})
    return (await row<{ id: number }>(this.db.manager, `SELECT id FROM client_ledger WHERE matter_id = ? AND bank_account_id = ?`, [
      m.id,
      bankAccountId,
    ]))!.id
  }

  /** Time worth an amount, at $100.00 an hour unless said otherwise, posted and billed. */
  async bill(
    lawyer: Person,
    bookkeeper: Person,
    matterId: number,
    cents: number,
    day = '2026-11-02',
    rate = 100_00,
  ): Promise<{ id: number; number: string }> {
    const entry = await lawyer.must<{ id: number }>('POST', '/time', {
      matterId,
      day: '2026-10-20',
      text: 'Work',
      duration: `${cents / rate}`,
      rate,
    })
    await lawyer.must('POST', '/time/post', { ids: [entry.id] })
    const pre = await lawyer.must<{ id: number }>('POST', '/pre-bills', { matterId, workTo: '2026-10-31' })
    await lawyer.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    return bookkeeper.must('POST', `/pre-bills/${pre.id}/issue`, { day })
  }

  /** Every number of every account's checks stands in the register once, and what is asked by state is what stands there. */
  private async numbersAgree(orla: Person): Promise<void> {
    for (const { id } of await orla.must<{ id: number }[]>('GET', '/trust/accounts')) {
      type Numbers = { total: number; rows: { number: number; upTo: number | null; state: string }[] }
      const read = async (state: string) => {
        const all: Numbers['rows'] = []
        for (let page = 1, total = 1; all.length < total; page += 1) {
          const found = await orla.must<Numbers>('GET', `/checks?bankAccountId=${id}&state=${state}&size=200&page=${page}`)
          total = found.rows.length ? found.total : 0
          all.push(...found.rows)
        }
        return all
      }
      const all = await read('')
      for (const state of ['outstanding', 'stale', 'paid', 'void', 'spoiled', 'missing'])
        expect(await read(state), `${state} of account ${id}`).toEqual(all.filter((n) => n.state === state))
      all.forEach((n, i) => expect(i ? (n.upTo ?? n.number) : n.number).toBe(i ? all[i - 1]!.number - 1 : n.number))
    }
  }

  async agrees(): Promise<boolean> {
    const orla = await this.signIn('orla')
    await this.numbersAgree(orla)
    const whole = await runStandingCheck(this.running.base, { whole: true })
    // What is kept open by triggers is what no line is matched to.
    const kept = await row(
      this.db.manager,
      `SELECT 1 FROM bank_entry e LEFT JOIN bank_match_entry k ON k.entry_id = e.id LEFT JOIN bank_open_entry o ON o.entry_id = e.id AND o.day = e.day AND o.bank_account_id = e.bank_account_id
        WHERE (k.entry_id IS NULL) <> (o.entry_id IS NOT NULL) LIMIT 1`,
    )
    return !kept && whole.ok && (await orla.must<{ ok: boolean }>('POST', '/trust/check', {})).ok
  }

  close = () => this.running.stop()
}
