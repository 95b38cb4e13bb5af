import { z } from 'zod'
import { day, fileOut, hour, id, made, needed, ok, route, text, whole } from './base'
import { accountKinds } from './names'
import { receiptKinds } from './names'

const walled = z.object({
  matterId: z.number(),
  number: z.string(),
  matter: z.string(),
  lead: z.string(),
  userId: z.number(),
  name: z.string(),
  active: z.boolean(),
  reason: z.string(),
  since: z.string().nullable(),
})

const logFilter = {
  userId: id.optional(),
  matterId: id.optional(),
  kind: text(40).default(''),
  q: text(80).default(''),
  from: day.optional(),
  to: day.optional(),
}
export type LogFilter = z.infer<z.ZodObject<typeof logFilter>>
const logged = z.object({
  id: z.number(),
  at: z.string(),
  who: z.string(),
  kind: z.string(),
  text: z.string(),
  matterId: z.number().nullable(),
  matter: z.string().nullable(),
  changes: z.array(z.object({ what: z.string(), was: z.string(), became: z.string() })),
})

const letterhead = z.object({
  line: text(120).default(''),
  email: z.union([z.literal(''), z.email('This is not an e-mail address').max(190)]).default(''),
  web: text(120).default(''),
  foot: text(300).default(''),
})
export type Letterhead = z.infer<typeof letterhead>

export const mailSecurities = ['starttls', 'tls', 'none'] as const
const mail = z.object({
  /** From whom letters come; the firm's name where nothing is said. */
  name: text(120).default(''),
  address: z.union([z.literal(''), z.email('This is not an e-mail address').max(190)]).default(''),
  /** Where e-mail that is to be filed is sent; empty where the firm has no such address. */
  filing: z.union([z.literal(''), z.email('This is not an e-mail address').max(190)]).default(''),
  /** The server that takes them; empty for the one on this machine. */
  host: z
    .union([z.literal(''), z.string().regex(/^[a-zA-Z0-9.:-]{1,190}$/, 'Give the name of a server, such as smtp.firm.example')])
    .default(''),
  port: whole(1, 65_535, 'Give a port'),
  security: z.enum(mailSecurities),
  user: text(190).default(''),
  /** Kept as it is where nothing is given; it is never shown. */
  password: text(190).optional(),
})
export type MailIn = z.infer<typeof mail>

const leads = z
  .array(
    z.number('Give numbers of court days, such as 10, 5, 1, 0').int().min(0, 'Give numbers of court days, such as 10, 5, 1, 0').max(60),
    'Give numbers of court days, such as 10, 5, 1, 0',
  )
  .max(12, 'At most twelve reminders of one date')
const reminderRules = z.object({
  /** Court days before a date, for whoever chose none; may be empty. */
  usual: leads,
  /** Of strict dates, for everyone, whatever they chose. */
  strict: leads.min(1, 'Strict dates are always reminded of: give at least one day'),
  /** The hour from which letters about the day go out. */
  lettersFrom: hour,
})
export type ReminderRules = z.infer<typeof reminderRules>

const bank = z.object({
  name: needed('Name the account', 120),
  bank: needed('Name the bank', 120),
  ending: z.string().regex(/^\d{4}$/, 'Give the last four digits'),
  nextCheck: whole(1, 99_999_999, 'Give the next number'),
  /** Of its kind it is offered first, and taken where nothing is said. */
  usual: z.boolean().default(false),
  /** Of a separate account, whose money it holds; left out, that of whoever’s first comes there. And when its term ends. */
  clientId: id.nullable().default(null),
  maturesOn: day.nullable().default(null),
  /** After how many days an unpaid check is stale, and money that nobody claims is due to the state. */
  staleDays: whole(30, 3_650, 'Give days').default(180),
  unclaimedDays: whole(180, 7_300, 'Give days').default(1_095),
  /** Whether what goes out of it is approved by a second person. */
  twoPeople: z.boolean().default(false),
  /** Within how many days a movement of the bank is near one of the book. */
  nearDays: whole(1, 30, 'Give days from 1 to 30').default(5),
  /** Whether checks go into a print job of whoever posts them, at once. */
  printAtOnce: z.boolean().default(false),
})
export const advanceIs = ['trust', 'income'] as const
const trustRules = z.object({
  /** Money in a separate account is moved to the pooled one before a check is drawn. */
  viaPooled: z.boolean(),
  /** A flat fee that is billed in advance is the client’s until it is earned, or the firm’s once it is billed. */
  advance: z.enum(advanceIs),
  /** What is levied on each receipt into trust and charged to its matter, and to whom the firm owes it; to nobody: the firm's own. */
  receiptFee: z.number().int().min(0, 'Give an amount, or nothing').max(1_000_00, 'A fee of a receipt is at most $1,000.00').default(0),
  receiptFeeTo: text(160).default(''),
})
export type TrustRules = z.infer<typeof trustRules>
export type BankIn = z.infer<typeof bank>
const accountNumber = z.string().regex(/^\d{3,6}$/, 'Give a number of three to six digits')
/** A bank account is booked to an account of its own; one of clients' money also to a liability of its own. */
const newBank = bank.extend({
  kind: z.enum(['pooled', 'separate', 'operating']),
  code: accountNumber,
  liabilityCode: accountNumber.optional(),
})
export type NewBank = z.infer<typeof newBank>
const accountIn = z.object({
  code: accountNumber,
  name: needed('Name the account', 120),
  kind: z.enum(accountKinds),
  /** The account under which it stands, of the same kind; statements add up under that. */
  parentId: id.nullable().default(null),
})
export type AccountIn = z.infer<typeof accountIn>

export const backupStates = ['wanted', 'running', 'done', 'failed'] as const
const backup = z.object({
  id: z.number(),
  wantedAt: z.string(),
  who: z.string(),
  endedAt: z.string().nullable(),
  state: z.enum(backupStates),
  name: z.string(),
  /** Bytes of the database's file. */
  size: z.number(),
  tables: z.number(),
  rows: z.number(),
  files: z.number(),
  triedAt: z.string().nullable(),
  restored: z.boolean(),
  /** What went wrong, or what the trial found. */
  words: z.string(),
})

export const setUp = {
  walls: route('firm.set-up', 'GET', '/walls', 'Every screen between a person and a matter').output(
    z.object({ rows: z.array(walled), /** On matters that are not open to the reader. */ hidden: z.number() }),
  ),
  raiseWalls: route('firm.set-up', 'POST', '/walls', 'Screen a person from matters, as the administrator may')
    .input(
      z.object({
        userId: id,
        matterIds: z.array(id).min(1, 'Choose at least one matter').max(100, 'At most a hundred matters at a time'),
        reason: needed('Say why', 200),
      }),
    )
    .output(z.object({ raised: z.number() })),
  log: route('firm.set-up', 'GET', '/log', 'What was done, newest first')
    .input(z.object({ ...logFilter, before: id.optional(), size: z.coerce.number().int().min(1).max(200).default(50) }))
    .output(z.object({ rows: z.array(logged), /** There is more, before the last one. */ more: z.boolean(), kinds: z.array(z.string()) })),
  logFile: route('firm.set-up', 'GET', '/log.csv', 'What was done, as CSV').input(z.object(logFilter)).output(fileOut),
  letterhead: route('firm.set-up', 'GET', '/firm/letterhead', 'What stands on the firm’s letters and bills').output(letterhead),
  changeLetterhead: route('firm.set-up', 'PUT', '/firm/letterhead', 'Change what stands on letters and bills').input(letterhead).output(ok),
  letterheadPdf: route('firm.set-up', 'GET', '/firm/letterhead/sample', 'A sample of a letterhead, as PDF')
    .input(letterhead)
    .output(fileOut),
  mail: route('firm.set-up', 'GET', '/firm/mail', 'From whom letters go out, and by which server').output(
    mail.omit({ password: true }).extend({
      hasPassword: z.boolean(),
      /** There is a mail server on this machine for a firm that names none. */
      own: z.boolean(),
    }),
  ),
  changeMail: route('firm.set-up', 'PUT', '/firm/mail', 'Change from whom letters go out, and by which server').input(mail).output(ok),
  tryMail: route('firm.set-up', 'POST', '/firm/mail/test', 'Send a letter to oneself, to see whether letters go out').output(
    z.object({ to: z.string() }),
  ),
  reminderRules: route('firm.set-up', 'GET', '/firm/reminders', 'When the firm reminds of dates').output(reminderRules),
  changeReminderRules: route('firm.set-up', 'PUT', '/firm/reminders', 'Change when the firm reminds of dates')
    .input(reminderRules)
    .output(ok),
  accounts: route('firm.set-up', 'GET', '/accounts', 'Bank accounts, chart of accounts and clearing days').output(
    z.object({
      banks: z.array(
        bank.extend({
          id: z.number(),
          kind: z.string(),
          account: z.string(),
          lastCheck: z.number().nullable(),
          client: z.string().nullable(),
          /** Whose money it holds stays once there is a ledger. */
          hasLedgers: z.boolean(),
        }),
      ),
      rules: trustRules,
      chart: z.array(
        z.object({
          id: z.number(),
          code: z.string(),
          name: z.string(),
          kind: z.enum(accountKinds),
          /** What the application posts there by itself. */
          role: z.string().nullable(),
          parentId: z.number().nullable(),
          closed: z.boolean(),
        }),
      ),
      clearing: z.array(z.object({ kind: z.string(), courtDays: z.number() })),
    }),
  ),
  makeBank: route('firm.set-up', 'POST', '/accounts/banks', 'Add a bank account, with the accounts it is booked to')
    .input(newBank)
    .output(made),
  changeBank: route(
    'firm.set-up',
    'PUT',
    '/accounts/banks/{id}',
    'Change what a bank account is called, its next check and whether it is the usual one',
  )
    .input(bank.extend({ id }))
    .output(ok),
  setTrustRules: route('firm.set-up', 'PUT', '/accounts/trust-rules', 'What the firm’s jurisdiction says of trust money')
    .input(trustRules)
    .output(ok),
  makeAccount: route('firm.set-up', 'POST', '/accounts', 'Add an account to the chart').input(accountIn).output(made),
  changeAccount: route('firm.set-up', 'PUT', '/accounts/{id}', 'Change an account’s number, name or place, or close it')
    .input(accountIn.omit({ kind: true }).extend({ id, /** Nothing more is posted to a closed one. */ closed: z.boolean().default(false) }))
    .output(ok),
  setClearing: route('firm.set-up', 'PUT', '/accounts/clearing', 'Court days until a payment into trust has cleared')
    .input(
      z.object({
        clearing: z.array(z.object({ kind: z.enum(receiptKinds), courtDays: whole(0, 60, 'Give court days') })).max(receiptKinds.length),
      }),
    )
    .output(ok),
  backups: route('firm.set-up', 'GET', '/backups', 'Backups: what, when, and whether each could be restored').output(
    z.object({ place: z.string(), nightly: z.string(), rows: z.array(backup) }),
  ),
  background: route('firm.set-up', 'GET', '/jobs/stuck', 'Work in the background that failed or waits, and why').output(
    z.array(
      z.object({
        id: z.number(),
        what: z.string(),
        state: z.enum(['waiting', 'failed']),
        attempts: z.number(),
        createdAt: z.string(),
        /** When it is tried next; null where it was given up. */
        runAfter: z.string().nullable(),
        error: z.string(),
        who: z.string(),
        /** Of a letter. */
        to: z.string().nullable(),
        subject: z.string().nullable(),
      }),
    ),
  ),
  settleJob: route('firm.set-up', 'PUT', '/jobs/{id}', 'Try work in the background again, or give it up')
    .input(z.object({ id, what: z.enum(['try again', 'give up']) }))
    .output(ok),
  backUp: route('firm.set-up', 'POST', '/backups', 'Ask for a backup now').output(made),
}
