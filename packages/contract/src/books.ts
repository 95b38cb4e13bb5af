import { z } from 'zod'
import { asks, cents, day, dayOut, fileOut, id, legAmount, made, needed, ok, page, route, text, whole, withId } from './base'

export const bookFiles = ['trial', 'account', 'income', 'balance', 'cash', 'taxes'] as const
const incomeIn = z.object({
  from: day,
  to: day,
  /** On collected money, in the period in which it was applied; or as it was billed and owed. */
  basis: z.enum(['cash', 'accrual']).default('cash'),
  beside: z.enum(['none', 'months', 'year']).default('none'),
  by: z.enum(['timekeeper', 'area', 'account']).default('timekeeper'),
})
export type IncomeIn = z.infer<typeof incomeIn>
/** An account, set in by how many stand above it, or what one and all under it come to together. */
const statementRow = { name: z.string(), accountId: z.number().nullable(), depth: z.number(), sum: z.boolean() }
const journalLines = z
  .array(z.object({ accountId: id, amount: legAmount }))
  .min(2, 'A journal needs two lines or more')
  .max(200, 'A journal has at most 200 lines')
const templateIn = z.object({
  name: needed('Name the template', 80),
  memo: needed('Say what it is', 300),
  lines: journalLines,
  recurs: z
    .object({
      firstOn: day,
      dayOfMonth: whole(1, 31, 'Give a date of the month'),
      everyMonths: whole(1, 12, 'Say how often').default(1),
      until: day.nullable().default(null),
    })
    .nullable()
    .default(null),
})
export type JournalTemplateIn = z.infer<typeof templateIn>
const accountRow = z.object({
  id: z.number(),
  code: z.string(),
  name: z.string(),
  kind: z.enum(['asset', 'liability', 'equity', 'income', 'expense']),
  debit: cents,
  credit: cents,
  closed: z.boolean(),
  /** Whether journals by hand post to it; others move only by their own acts. */
  byHand: z.boolean(),
})
export const books = {
  trialBalance: route('books.see', 'GET', '/books/trial-balance', 'Trial balance as of a day')
    .input(z.object({ asOf: day, closing: z.enum(['with', 'without']).default('with') }))
    .output(z.object({ rows: z.array(accountRow), debit: cents, credit: cents })),
  account: route('books.see', 'GET', '/books/accounts/{id}', 'The general ledger of an account, line by line with its balance')
    .input(z.object({ id, from: day.optional(), to: day.optional(), ...page }))
    .output(
      z.object({
        code: z.string(),
        name: z.string(),
        opening: cents,
        rows: z.array(
          z.object({
            journalId: z.number(),
            day: dayOut,
            memo: z.string(),
            amount: cents,
            balance: cents,
            matter: z.string().nullable(),
          }),
        ),
        total: z.number(),
        debit: cents,
        credit: cents,
        closing: cents,
      }),
    ),
  journal: route('books.see', 'GET', '/books/journals/{id}', 'One journal with all its legs')
    .input(withId)
    .output(
      z.object({
        id: z.number(),
        day: dayOut,
        kind: z.string(),
        memo: z.string(),
        /** The paper or record that it belongs to. */
        subject: z.string(),
        subjectId: z.number().nullable(),
        who: z.string(),
        reverses: z.number().nullable(),
        reversedBy: z.number().nullable(),
        /** Whether it is undone as a whole; what has an act of its own is undone there. */
        reversible: z.boolean(),
        lines: z.array(z.object({ account: z.string(), debit: cents, credit: cents, matter: z.string().nullable() })),
        bank: z.array(z.object({ account: z.string(), amount: cents, text: z.string() })),
        ledgers: z.array(z.object({ ledgerId: z.number(), name: z.string(), amount: cents })),
      }),
    ),
  incomeStatement: route('books.see', 'GET', '/books/statements/income', 'Income and expenses, months or years beside one another')
    .input(incomeIn)
    .output(
      z.object({
        columns: z.array(z.object({ from: dayOut, to: dayOut })),
        sections: z.array(
          z.object({
            name: z.string(),
            rows: z.array(z.object({ ...statementRow, amounts: z.array(cents), together: cents })),
            totals: z.array(cents),
            together: cents,
          }),
        ),
        net: z.array(cents),
        /** Over all columns; of sense where they are months. */
        together: cents,
      }),
    ),
  balanceSheet: route('books.see', 'GET', '/books/statements/balance', 'What the firm has, owes and is worth on a day')
    .input(z.object({ asOf: day }))
    .output(
      z.object({
        sections: z.array(
          z.object({
            name: z.string(),
            rows: z.array(z.object({ ...statementRow, amount: cents })),
            total: cents,
          }),
        ),
        /** Assets less everything on the other side; nothing where the books are right. */
        off: cents,
      }),
    ),
  cashFlow: route('books.see', 'GET', '/books/statements/cash', 'Where the firm’s own money came from and went')
    .input(z.object({ from: day, to: day }))
    .output(
      z.object({
        opening: cents,
        rows: z.array(z.object({ name: z.string(), accountId: z.number(), moneyIn: cents, moneyOut: cents })),
        moneyIn: cents,
        moneyOut: cents,
        closing: cents,
      }),
    ),
  taxes: route('books.see', 'GET', '/books/statements/taxes', 'Tax billed, credited and collected, month by month')
    .input(z.object({ from: day, to: day }))
    .output(
      z.object({
        /** By month and rate, in ten-thousandths. */
        rows: z.array(z.object({ month: z.string(), rate: z.number().nullable(), billed: cents, credited: cents, collected: cents })),
        billed: cents,
        credited: cents,
        collected: cents,
      }),
    ),
  file: route('books.see', 'GET', '/books/file', 'A statement of the books as PDF, XLSX or CSV')
    .input(
      z.object({
        what: z.enum(bookFiles),
        format: z.enum(['pdf', 'xlsx', 'csv']).default('pdf'),
        id: id.optional(),
        asOf: day.optional(),
        from: day.optional(),
        to: day.optional(),
        closing: z.enum(['with', 'without']).default('with'),
        basis: z.enum(['cash', 'accrual']).default('cash'),
        beside: z.enum(['none', 'months', 'year']).default('none'),
        by: z.enum(['timekeeper', 'area', 'account']).default('timekeeper'),
      }),
    )
    .output(fileOut),
  archive: route('books.post', 'POST', '/books/archive', 'The whole set of books as CSV and plain text, in one ZIP', asks)
    .input(z.object({ to: day }))
    .output(fileOut),
  trustRecords: route('trust.post', 'POST', '/trust/records', 'What an auditor asks for of a trust account, in one ZIP with hashes', asks)
    .input(z.object({ bankAccountId: id, from: day, to: day }))
    .output(fileOut),
  years: route('books.see', 'GET', '/books/years', 'Fiscal years, which are closed, and how the result is shared').output(
    z.object({
      yearEnd: z.string(),
      closedTo: dayOut.nullable(),
      shares: z.array(z.object({ accountId: z.number(), name: z.string(), basisPoints: z.number() })),
      equity: z.array(z.object({ id: z.number(), name: z.string() })),
      years: z.array(z.object({ from: dayOut, to: dayOut, over: z.boolean(), net: cents, journalId: z.number().nullable() })),
    }),
  ),
  setYears: route('books.post', 'PUT', '/books/years', 'When the fiscal year ends, and who takes its result')
    .input(
      z.object({
        yearEnd: z.string().regex(/^\d{2}-\d{2}$/, 'Give a month and day like 12-31'),
        shares: z.array(z.object({ accountId: id, basisPoints: whole(1, 10_000, 'Give a share') })).max(60),
      }),
    )
    .output(ok),
  closePeriod: route('books.post', 'POST', '/books/closed-to', 'Close the books up to a day, or open them again from one')
    .input(z.object({ day: day.nullable(), reason: text(300).default('') }))
    .output(ok),
  closeYear: route('books.post', 'POST', '/books/years/{to}/close', 'Close a year: its result goes to the partners')
    .input(z.object({ to: day, /** The result as it was shown. */ net: cents }))
    .output(z.object({ journalId: z.number() })),
  openYear: route('books.post', 'POST', '/books/years/{to}/open', 'Undo the closing of the last year that is closed')
    .input(z.object({ to: day, reason: needed('Say why', 300) }))
    .output(z.object({ journalId: z.number() })),
  templates: route('books.see', 'GET', '/books/templates', 'Journals kept as a beginning, or that recur').output(
    z.array(
      z.object({
        id: z.number(),
        name: z.string(),
        memo: z.string(),
        lines: z.array(z.object({ accountId: z.number(), amount: cents })),
        dayOfMonth: z.number().nullable(),
        everyMonths: z.number().nullable(),
        nextOn: dayOut.nullable(),
        until: dayOut.nullable(),
        fault: z.string(),
      }),
    ),
  ),
  keepTemplate: route('books.post', 'POST', '/books/templates', 'Keep a journal as a template, or let it recur')
    .input(templateIn)
    .output(made),
  removeTemplate: route('books.post', 'DELETE', '/books/templates/{id}', 'Remove a template; it recurs no more').input(withId).output(ok),
  enter: route('books.post', 'POST', '/books/journals', 'Enter a journal by hand; trust accounts are not open to it')
    .input(
      z.object({
        day,
        memo: needed('Say what it is', 300),
        lines: journalLines,
      }),
    )
    .output(z.object({ id: z.number() })),
  export: route('books.see', 'GET', '/books/export', 'All journals as plain text for ledger and hledger')
    .input(z.object({ to: day.optional() }))
    .output(fileOut),
  aging: route('bills.see', 'GET', '/reports/receivables', 'Receivables by days past due')
    .input(z.object({ asOf: day }))
    .output(
      z.object({
        rows: z.array(z.object({ payer: z.string(), payerId: z.number(), buckets: z.array(cents), total: cents })),
        together: z.object({ buckets: z.array(cents), total: cents }),
      }),
    ),
}
