import { paymentClasses } from '@heron/core/billing'
import { z } from 'zod'
import { amount, basisPoints, cents, day, dayOut, id, longBody, made, needed, ok, rate, route, text, whole, withId, zone } from './base'
import { grants, teamRoles } from './matters'
import { roles } from './rights'

const settings = z.object({
  name: needed('Give the firm’s name', 160),
  address: needed('Give the firm’s address', 400),
  phone: text(40).default(''),
  district: text(60).nullable().default(null),
  /** Where the firm is: its days begin there. */
  zone,
  timeUnitMinutes: whole(1, 60, 'Give minutes'),
  timeRounding: z.enum(['up', 'nearest']),
  /** By which tax offices, and clients' systems of electronic bills, know the firm. */
  taxNumber: text(20).default(''),
  billTermsDays: whole(0, 365, 'Give days'),
  trustNoticeDays: whole(0, 365, 'Give days'),
  /** Whoever approves a pre-bill does not issue it. */
  twoPeopleForBills: z.boolean().default(false),
  /** Tax on fees, on the firm's own costs, and on costs advanced to others. */
  taxBasisPoints: basisPoints,
  taxSoftBasisPoints: basisPoints,
  taxHardBasisPoints: basisPoints,
  /** In which order a payment goes to what a bill is made of. */
  paymentOrder: z
    .array(z.enum(paymentClasses))
    .length(paymentClasses.length, 'Name costs, interest, tax and fees')
    .refine((order) => new Set(order).size === paymentClasses.length, 'Name each once'),
  matterPattern: needed('Give the pattern', 60),
  workDays: z.array(z.number().int().min(1).max(7)).min(1, 'Choose at least one day').max(7),
})
export type FirmSettings = z.infer<typeof settings>
const holiday = z.object({ day, name: needed('Name the day', 80) })

const personIn = z.object({
  name: needed('Give the name', 120),
  initials: needed('Give initials', 4),
  email: z.email('This is not an e-mail address').max(190),
  role: z.enum(roles),
  title: text(80).default(''),
  dayGoalMinutes: whole(0, 1440, 'Give minutes').default(0),
  mayOverride: z.boolean().default(false),
})
export type PersonIn = z.infer<typeof personIn>
const password = z.string().min(10, 'At least ten characters').max(200)
const rateIn = z.object({ from: day, to: day.nullable().default(null), rate, usual: z.boolean().default(true) })
const person = personIn.extend({
  id: z.number(),
  active: z.boolean(),
  leftOn: dayOut.nullable(),
  rates: z.array(z.object({ id: z.number(), from: dayOut, to: dayOut.nullable(), rate: cents, usual: z.boolean() })),
  absence: z
    .object({ id: z.number(), kind: z.enum(['leave', 'departure']), from: dayOut, to: dayOut.nullable(), begun: z.boolean() })
    .nullable(),
})

const areaIn = z.object({
  name: needed('Name the practice area', 80),
  ruleSetKey: text(60).nullable().default(null),
  staff: grants,
  stages: z.array(z.object({ id: id.optional(), name: needed('Name the stage', 80), retired: z.boolean().default(false) })).max(40),
  team: z
    .array(z.object({ userId: id, role: z.enum(teamRoles) }))
    .max(40)
    .default([]),
  procedureIds: z.array(id).max(40).default([]),
  retired: z.boolean().default(false),
})
export type AreaIn = z.infer<typeof areaIn>
const feeIn = z.object({
  name: needed('Name the fee', 120),
  areaId: id.nullable().default(null),
  portions: z
    .array(z.object({ label: needed('Name the portion', 120), amount }))
    .min(1, 'Give at least one portion')
    .max(20),
  retired: z.boolean().default(false),
})
export type FeeIn = z.infer<typeof feeIn>

const held = z.object({ id: z.number(), text: z.string(), hint: z.string() })
export const handoverKinds = ['lead', 'team', 'date', 'task', 'paper', 'review'] as const
const absence = z.object({
  id: z.number(),
  userId: z.number(),
  name: z.string(),
  kind: z.enum(['leave', 'departure']),
  from: dayOut,
  to: dayOut.nullable(),
  ended: z.boolean(),
  /** It has taken effect; one ahead is planned. */
  begun: z.boolean(),
  handedOver: z.number(),
})

export const firstSteps = z.object({
  firm: z.object({
    name: needed('Give the firm’s name', 160),
    address: needed('Give the firm’s address', 400),
    phone: text(40).default(''),
    zone: zone.default('America/New_York'),
  }),
  administrator: z.object({
    name: needed('Give your name', 120),
    initials: needed('Give your initials', 4),
    email: z.email('This is not an e-mail address'),
    password,
  }),
  people: z
    .array(
      z.object({
        name: needed('Give the name', 120),
        initials: needed('Give initials', 4),
        email: z.email('This is not an e-mail address'),
        role: z.enum(roles),
        rate: rate.nullable(),
        password,
      }),
    )
    .max(60),
  areas: z
    .array(
      z.object({
        name: needed('Name the area', 80),
        ruleSetKey: text(60).nullable(),
        stages: z.array(needed('Name the stage', 80)).max(20),
      }),
    )
    .min(1, 'Choose at least one practice area')
    .max(40),
  matterPattern: needed('Give the pattern', 60),
  workDays: z.array(z.number().int().min(1).max(7)).min(1, 'Choose at least one day').max(7),
  operatingBank: z.object({
    name: needed('Name the account', 120),
    bank: needed('Name the bank', 120),
    ending: z.string().regex(/^\d{4}$/, 'Give the last four digits'),
  }),
  trustBank: z.object({
    name: needed('Name the account', 120),
    bank: needed('Name the bank', 120),
    ending: z.string().regex(/^\d{4}$/, 'Give the last four digits'),
  }),
})
export type FirstSteps = z.infer<typeof firstSteps>

export const firm = {
  setUp: route('public', 'POST', '/set-up', 'Set a new firm up; only where there is none yet').input(firstSteps).output(ok),
  get: route('firm.set-up', 'GET', '/firm', 'Settings of the firm').output(
    settings.extend({ holidays: z.array(holiday), nextNumber: z.string(), districts: z.array(z.string()) }),
  ),
  change: route('firm.set-up', 'PUT', '/firm', 'Change settings of the firm').input(settings).output(ok),
  setHolidays: route('firm.set-up', 'PUT', '/firm/holidays', 'Days on which the firm itself is closed')
    .input(z.object({ holidays: z.array(holiday).max(200) }))
    .output(ok),
  people: route('firm.set-up', 'GET', '/staff', 'People of the firm with their rates').output(z.array(person)),
  makePerson: route('firm.set-up', 'POST', '/staff', 'Add someone to the firm').input(personIn.extend({ password })).output(made),
  changePerson: route('firm.set-up', 'PUT', '/staff/{id}', 'Change someone’s name, role or goal').input(personIn.extend({ id })).output(ok),
  setPassword: route('firm.set-up', 'PUT', '/staff/{id}/password', 'Give someone a new password; they are signed out everywhere')
    .input(z.object({ id, password }))
    .output(ok),
  addRate: route('firm.set-up', 'POST', '/staff/{id}/rates', 'Give someone a rate from a day on; the one before ends the day before')
    .input(rateIn.extend({ id }))
    .output(made),
  areas: route('firm.set-up', 'GET', '/areas', 'Practice areas with their stages and what they bring').output(
    z.array(
      areaIn.extend({
        id: z.number(),
        matters: z.number(),
        stages: z.array(z.object({ id: z.number(), name: z.string(), retired: z.boolean(), matters: z.number() })),
      }),
    ),
  ),
  makeArea: route('firm.set-up', 'POST', '/areas', 'Make a practice area').input(areaIn).output(made),
  changeArea: route('firm.set-up', 'PUT', '/areas/{id}', 'Change a practice area').input(areaIn.extend({ id })).output(ok),
  setKinds: route('firm.set-up', 'PUT', '/contact-kinds', 'Kinds of contacts, in order')
    .input(z.object({ kinds: z.array(needed('Name the kind', 40)).min(1).max(80) }))
    .output(ok),
  fees: route('firm.set-up', 'GET', '/fees', 'The firm’s list of flat fees').output(z.array(feeIn.extend({ id: z.number() }))),
  makeFee: route('firm.set-up', 'POST', '/fees', 'Add a flat fee to the list').input(feeIn).output(made),
  changeFee: route('firm.set-up', 'PUT', '/fees/{id}', 'Change a flat fee of the list; matters that have it stay as they are')
    .input(feeIn.extend({ id }))
    .output(ok),
  setActivities: route('firm.set-up', 'PUT', '/activities', 'Activity codes for time')
    .input(z.object({ activities: z.array(z.object({ code: needed('Give a code', 12), name: needed('Give a name', 80) })).max(200) }))
    .output(ok),

  absences: route('firm.set-up', 'GET', '/absences', 'Leaves and departures').output(z.array(absence)),
  holdings: route(
    'firm.set-up',
    'GET',
    '/staff/{id}/holdings',
    'What someone would hand over: matters, dates and tasks, of the days of a leave',
  )
    .input(z.object({ id, from: day.optional(), to: day.optional() }))
    .output(
      z.object({
        name: z.string(),
        lead: z.array(held),
        team: z.array(held),
        date: z.array(held),
        task: z.array(held),
        paper: z.array(held),
        review: z.array(held),
        /** On matters that are not open to the reader; whoever keeps those hands them over. */
        hidden: z.number(),
      }),
    ),
  handOver: route('firm.set-up', 'POST', '/staff/{id}/absences', 'Hand over what someone has, for a leave or a departure', longBody)
    .input(
      z.object({
        id,
        kind: z.enum(['leave', 'departure']),
        from: day,
        to: day.nullable().default(null),
        gives: z.array(z.object({ what: z.enum(handoverKinds), subjectId: id, toId: id })).max(5000),
      }),
    )
    .output(z.object({ id: z.number(), handedOver: z.number() })),
  endLeave: route('firm.set-up', 'POST', '/absences/{id}/ended', 'Someone is back: what was handed over for the leave returns')
    .input(withId)
    .output(z.object({ returned: z.number(), stayed: z.array(z.string()) })),
}
