import { z } from 'zod'
import { amount, asks, cents, day, dayOut, fileOut, id, legAmount, longBody, made, needed, ok, route, text, upload, withId } from './base'

const place = z.number().int().min(0).max(199)
const csvMatch = z.object({
  skip: z.number().int().min(0).max(60),
  day: place,
  order: z.enum(['mdy', 'dmy', 'ymd']),
  amount: place.nullable(),
  moneyIn: place.nullable(),
  moneyOut: place.nullable(),
  direction: place.nullable().optional(),
  decimal: z.enum(['.', ',']),
  turned: z.boolean(),
  check: place.nullable(),
  reference: place.nullable(),
  bankId: place.nullable(),
  text: z.array(place).max(10),
  balance: place.nullable(),
})
export type CsvMatchIn = z.infer<typeof csvMatch>
const lineOut = z.object({
  id: z.number(),
  /** As the bank writes it, and on which day it counts here. */
  day: dayOut,
  countsOn: dayOut,
  amount: cents,
  check: z.string(),
  reference: z.string(),
  text: z.string(),
  named: z.string(),
})
const entryOut = z.object({
  id: z.number(),
  journalId: z.number(),
  day: dayOut,
  amount: cents,
  check: z.string(),
  text: z.string(),
  sheet: z.string(),
})
const matchOut = z.object({
  id: z.number(),
  way: z.string(),
  why: z.string(),
  difference: cents,
  named: z.string(),
  lines: z.array(lineOut),
  entries: z.array(entryOut),
})
const each = (most: number) =>
  z
    .array(id)
    .min(1)
    .max(most)
    .refine((ids) => new Set(ids).size === ids.length, 'Each stands here once')
const pair = z.object({ lineIds: each(60), entryIds: each(300) })

const monthRequest = z.object({ id: z.number(), kind: z.enum(['close', 'reopen']), by: z.string(), own: z.boolean(), reason: z.string() })

export const bank = {
  accounts: route('books.see', 'GET', '/bank/accounts', 'Bank accounts and how far each is reconciled').output(
    z.array(
      z.object({
        id: z.number(),
        name: z.string(),
        kind: z.enum(['pooled', 'separate', 'operating']),
        ending: z.string(),
        book: cents,
        startedOn: dayOut.nullable(),
        closedTo: dayOut.nullable(),
        readTo: z.string().nullable(),
        open: z.number(),
      }),
    ),
  ),
  read: route('books.post', 'POST', '/bank/accounts/{id}/statements/read', 'Read a statement; nothing is taken yet', upload(30_000_000))
    .input(
      z.object({
        id,
        file: z.file({ error: 'Choose a file' }).max(30_000_000, 'Statements may be up to 30 MB'),
        /** Of a CSV, which column is what, as JSON; left out, as it was the last time, else as it seems. */
        columns: text(2000).default(''),
      }),
    )
    .output(
      z.object({
        fileId: z.number(),
        format: z.string(),
        account: z.string(),
        from: dayOut.nullable(),
        to: dayOut.nullable(),
        opening: cents.nullable(),
        closing: cents.nullable(),
        lines: z.number(),
        fresh: z.number(),
        faults: z.array(z.string()),
        oddities: z.array(z.string()),
        /** What does not add up, in words; with any of these a person says why it is taken. */
        differences: z.array(z.string()),
        sample: z.array(z.object({ day: dayOut, amount: cents, check: z.string(), text: z.string() })),
        csv: z.object({ columns: z.array(z.string()), rows: z.array(z.array(z.string())), match: csvMatch }).nullable(),
      }),
    ),
  take: route('books.post', 'POST', '/bank/accounts/{id}/statements', 'Take a statement that was read')
    .input(
      z.object({
        id,
        fileId: id,
        fileName: text(200).default('statement'),
        columns: csvMatch.nullable().default(null),
        accepted: text(300).default(''),
        /** Where the file states none, as it stands on paper. */
        closing: cents.nullable().default(null),
      }),
    ) // prettier-ignore
    .output(z.object({ id: z.number(), fresh: z.number(), matched: z.number() })),
  work: route(
    'books.see',
    'GET',
    '/bank/accounts/{id}/reconciliation',
    'An account at the end of a day: three figures and what lies between them',
  )
    .input(z.object({ id, to: day }))
    .output(
      z.object({
        name: z.string(),
        kind: z.enum(['pooled', 'separate', 'operating']),
        to: dayOut,
        closed: z.boolean(),
        closedTo: dayOut.nullable(),
        reconciliationId: z.number().nullable(),
        /** It was closed and opened again; its old report stays. */
        reopened: z.boolean(),
        /** What somebody asks of the month, and waits for another. */
        request: monthRequest.nullable(),
        figures: z
          .object({
            bank: cents,
            book: cents,
            ledgers: cents.nullable(),
            depositsInTransit: cents,
            outstanding: cents,
            unbookedIn: cents,
            unbookedOut: cents,
            errors: cents,
            adjusted: cents,
            bankFromBook: cents,
            bookFromLedgers: cents,
          })
          .nullable(),
        stops: z.array(z.string()),
        lines: z.array(lineOut),
        entries: z.array(entryOut.extend({ days: z.number() })),
        matches: z.array(matchOut),
        more: z.boolean(),
      }),
    ),
  months: route('books.see', 'GET', '/bank/accounts/{id}/months', 'Months that are over and not closed, with what keeps each open')
    .input(withId)
    .output(
      z.array(
        z.object({
          to: dayOut,
          figures: z.object({ bank: cents, book: cents }).nullable(),
          /** Lines that only the bank has, and entries that only the book has, at its end. */
          lines: z.number(),
          entries: z.number(),
          stops: z.array(z.string()),
          /** It is prepared, and a second person closes it. */
          asked: z.boolean(),
        }),
      ),
    ),
  start: route('books.see', 'GET', '/bank/accounts/{id}/start', 'Entries of before the start that could have been in transit then')
    .input(withId)
    .output(z.object({ startedOn: dayOut.nullable(), rows: z.array(z.object({ id: z.number(), day: dayOut, amount: cents, check: z.string(), text: z.string(), marked: z.boolean() })) })), // prettier-ignore
  proposals: route('books.see', 'POST', '/bank/accounts/{id}/proposals', 'What open lines seem to be', asks)
    .input(withId)
    .output(z.object({ rows: z.array(z.object({ key: z.string(), lines: z.array(lineOut), entries: z.array(entryOut), way: z.string(), why: z.string(), sure: z.boolean(), score: z.number(), difference: cents })), gaveUp: z.array(z.number()) })), // prettier-ignore
  rules: route('books.see', 'GET', '/bank/rules', 'The firm’s own rules for lines of the bank').output(
    z.array(
      z.object({
        id: z.number(),
        words: z.string(),
        way: z.enum(['in', 'out']),
        amount: cents.nullable(),
        accountId: z.number(),
        account: z.string(),
        memo: z.string(),
      }),
    ),
  ),
  saveRule: route('books.post', 'POST', '/bank/rules', 'Keep a rule: lines with these words are booked to an account')
    .input(
      z.object({
        id: id.nullable().default(null),
        words: needed('Give the words of the bank', 80).refine((w) => w.length >= 3, 'Give at least three letters'),
        way: z.enum(['in', 'out']),
        amount: amount.nullable().default(null),
        accountId: id,
        memo: needed('Say what it is', 200),
      }),
    )
    .output(made),
  removeRule: route('books.post', 'DELETE', '/bank/rules/{id}', 'Take a rule out').input(withId).output(ok),
  byRules: route('books.see', 'GET', '/bank/accounts/{id}/by-rules', 'Open lines that a rule of the firm fits')
    .input(withId)
    .output(z.array(z.object({ line: lineOut, ruleId: z.number(), account: z.string(), memo: z.string() }))),
  bookByRules: route('books.post', 'POST', '/bank/accounts/{id}/by-rules', 'Book lines by the firm’s rules, all or none')
    .input(z.object({ id, lineIds: z.array(id).min(1, 'Choose lines').max(200, 'At most 200 lines at once') }))
    .output(z.object({ booked: z.number() })),
  refusePair: route('books.post', 'PUT', '/bank/accounts/{id}/refused', 'Refuse a proposal for good, or take that back')
    .input(pair.extend({ id, refused: z.boolean() }))
    .output(ok),
  match: route('books.post', 'POST', '/bank/accounts/{id}/matches', 'Say which lines are which entries', longBody)
    .input(z.object({ id, pairs: z.array(pair).min(1, 'Choose what belongs together').max(500), named: text(200).default('') }))
    .output(z.object({ matched: z.number() })),
  part: route('books.post', 'DELETE', '/bank/matches/{id}', 'Take a match apart').input(withId).output(ok),
  name: route('books.post', 'PUT', '/bank/lines/{id}/name', 'Carry a line as a named item; empty words take the name back')
    .input(z.object({ id, words: text(200) }))
    .output(ok),
  wasOpen: route('books.post', 'PUT', '/bank/entries/{id}/in-transit', 'Say that an entry of before the start was still in transit')
    .input(z.object({ id, inTransit: z.boolean() }))
    .output(ok),
  book: route('books.post', 'POST', '/bank/lines/{id}/booked', 'Book a line of an operating account that is not in the book')
    .input(
      z.object({
        id,
        memo: needed('Say what it is', 200),
        /** What of the line is of which account, in the bank's direction; together the line to the cent. A fee that was kept back is below zero. */
        parts: z
          .array(z.object({ accountId: id, amount: legAmount }))
          .min(1, 'Choose an account')
          .max(20, 'At most 20 accounts'),
      }),
    )
    .output(made),
  bookTrust: route('trust.post', 'POST', '/bank/lines/{id}/trust', 'Book what the bank did on a trust account, and match it')
    .input(
      z.object({
        id,
        what: z.enum(['charge', 'interest', 'returned']),
        text: text(160).default(''),
        /** Of a returned deposit, which receipt; of interest on a separate account with several ledgers, which of them. */
        receiptId: id.nullable().default(null),
        ledgerId: id.nullable().default(null),
      }),
    )
    .output(made.extend({ cover: cents })),
  close: route('books.post', 'POST', '/bank/accounts/{id}/months', 'Close a month: it is locked, with its report')
    .input(
      z.object({
        id,
        to: day,
        /** The balance of the bank and the book as they were shown. */ seen: z.object({ bank: cents, book: cents }),
      }),
    )
    /** Nothing where the account asks for two people: it waits for another. */
    .output(z.object({ id: z.number().nullable() })),
  reopen: route('books.post', 'POST', '/bank/months/{id}/reopen', 'Ask that the month closed last be opened again; another agrees')
    .input(z.object({ id, reason: needed('Say why', 300) }))
    .output(ok),
  requests: route('trust.approve', 'GET', '/bank/month-requests', 'What is asked of months, and waits for a second person').output(
    z.array(monthRequest.extend({ bank: z.string(), to: dayOut, balance: cents, book: cents })),
  ),
  agree: route('trust.approve', 'POST', '/bank/month-requests/{id}/agree', 'Agree that a month be closed, or opened again')
    .input(withId)
    .output(made),
  refuse: route('trust.approve', 'POST', '/bank/month-requests/{id}/refuse', 'Do not agree, or take back what one asked')
    .input(withId)
    .output(ok),
  report: route('books.see', 'GET', '/bank/months/{id}/report', 'The report of a closed month as PDF').input(withId).output(fileOut),
}
