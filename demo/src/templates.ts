import type { Question } from '@heron/contract'
import {
  AlignmentType,
  Document,
  Footer,
  Header,
  Packer,
  PageNumber,
  Paragraph,
  Table,
  TableCell,
  TableRow,
  TextRun,
  WidthType,
} from 'docx'

const font = 'Liberation Serif'
type Look = { bold?: boolean; after?: number; size?: number; center?: boolean; right?: boolean; indent?: number }
const runs = (text: string, look: Look) =>
  text
    .split('\n')
    .map((t, i) => new TextRun({ text: t, bold: look.bold ?? false, size: look.size ?? 22, font, ...(i ? { break: 1 } : {}) }))
const p = (text: string, look: Look = {}) =>
  new Paragraph({
    spacing: { after: look.after ?? 140 },
    ...(look.center ? { alignment: AlignmentType.CENTER } : look.right ? { alignment: AlignmentType.RIGHT } : {}),
    ...(look.indent ? { indent: { left: look.indent } } : {}),
    children: runs(text, look),
  })
const cell = (text: string, right = false, bold = false) => new TableCell({ children: [p(text, { right, bold, after: 40, size: 21 })] })
const rows = (...all: [string, string][]) =>
  new Table({
    width: { size: 100, type: WidthType.PERCENTAGE },
    rows: all.map(([a, b], i) => new TableRow({ tableHeader: i === 0, children: [cell(a, false, i === 0), cell(b, true, i === 0)] })),
  })

type Block = Paragraph | Table
const page = { page: { size: { width: 12240, height: 15840 }, margin: { top: 1300, bottom: 1300, left: 1400, right: 1400 } } }
const head = () =>
  new Header({
    children: [
      p('{firm.name}', { bold: true, size: 28, after: 0 }),
      p('{firm.address | address in one line} · {firm.phone}', { size: 17, after: 240 }),
    ],
  })
const foot = () =>
  new Footer({
    children: [
      new Paragraph({
        alignment: AlignmentType.CENTER,
        children: [new TextRun({ children: ['{matter.number} · ', PageNumber.CURRENT, ' / ', PageNumber.TOTAL_PAGES], size: 17, font })],
      }),
    ],
  })

async function written(title: string, children: Block[], letter = true): Promise<Uint8Array> {
  const document = new Document({
    creator: 'Calloway Fenn LLP',
    title,
    sections: [{ properties: page, ...(letter ? { headers: { default: head() } } : {}), footers: { default: foot() }, children }],
  })
  return new Uint8Array(await Packer.toBuffer(document))
}
const greeting = (to = 'client'): Block[] => [
  p('{today | long date}', { after: 260 }),
  p(`{${to}.name}`, { after: 0 }),
  p(`{${to}.address | address}`, { after: 260 }),
]
const signed: Block[] = [p('Sincerely,', { after: 560 }), p('{lead.name}', { after: 0 }), p('{lead.title}', { after: 0 }), p('{firm.name}')]
const caption: Block[] = [
  p('{court.name | capitals}', { bold: true, center: true, after: 240 }),
  p('{if court.caption}{court.caption}{else}In the matter of {client.name}{end if}', { center: true, after: 60 }),
  p('Case no. {court.case_number}{if court.judge} · Judge {court.judge}{end if}', { center: true, after: 320 }),
]
const service: Block[] = [
  p('CERTIFICATE OF SERVICE', { bold: true, center: true }),
  p(
    'I certify that on {today | long date} this paper was served {answers.service} on {if other_side.count}{for each x in other_side}{x.name}{if x.counsel.name}, by {x.counsel.name}{end if}{if not last}; {end if}{end for}{else}all parties of record{end if}.',
  ),
  p('{me.name}', { after: 0 }),
]
const question = (key: string, text: string, type: Question['type'], more: Partial<Question> = {}): Question => ({
  key,
  text,
  type,
  choices: [],
  required: true,
  when: '',
  help: '',
  ...more,
})
const how = question('service', 'How it is served', 'choice', { choices: ['by the court’s electronic filing', 'by mail', 'by hand'] })

export interface DemoTemplate {
  name: string
  description: string
  shelf: string
  folder: string
  language?: 'en' | 'es'
  namePattern: string
  needsPerson?: boolean
  questions: Question[]
  docx: () => Promise<Uint8Array>
}

/** The templates with which the demo firm works; each is a real paper of such a firm. */
export const demoTemplates: readonly DemoTemplate[] = [
  {
    name: 'Engagement letter',
    description: 'Terms of the engagement: hourly, flat fee or contingent',
    shelf: 'Opening and closing',
    folder: 'Engagement',
    namePattern: 'Engagement letter, {client.name}',
    questions: [
      question('fee', 'How the fee is agreed', 'choice', { choices: ['by the hour', 'flat fee', 'contingent'] }),
      question('percent', 'Contingent fee in percent', 'number', { when: 'answers.fee = "contingent"' }),
      question('deposit', 'Deposit into trust', 'money', { required: false, help: 'Empty where none is asked for' }),
    ],
    docx: () =>
      written('Engagement letter', [
        ...greeting(),
        p('Engagement: {matter.name} ({matter.number})', { bold: true }),
        p('Dear {client.greeting | otherwise "Client"}:'),
        p(
          'Thank you for asking {firm.name} to act for you. We are engaged for {matter.description}. {lead.name} answers to you for this matter.',
        ),
        p('{if answers.fee = "by the hour"}'),
        p('We charge by the hour, in tenths of an hour, at the rates below. Rates may change once a year; we tell you before they do.'),
        rows(['Who', 'An hour'], ['{for each t in team}{t.name}, {t.role}', '{t.rate | money}{end for}']),
        p('{else if answers.fee = "flat fee"}'),
        p('We do this work for a flat fee of {matter.flat_fee | money} ({matter.flat_fee | money in words}), whatever time it takes.'),
        p('{else}'),
        p('Our fee is {answers.percent | number} percent of what is recovered, after costs. If nothing is recovered, no fee is owed.'),
        p('{end if}'),
        p('{if answers.deposit}'),
        p(
          'Before we begin we ask for a deposit of {answers.deposit | money} into our client trust account. It remains your money until a bill is issued to you, and what is left is returned when the matter ends.',
        ),
        p('{end if}'),
        p('Costs paid to others are billed as they are. Please sign and return a copy of this letter.'),
        ...signed,
        p('Agreed: ______________________    Date: ____________', { after: 0 }),
      ]),
  },
  {
    name: 'Letter of demand',
    description: 'Demand with chosen costs, in a measured, firm or final tone',
    shelf: 'Letters',
    folder: 'Correspondence',
    namePattern: 'Demand to {person.name}, {today | iso date}',
    needsPerson: true,
    questions: [
      question('tone', 'Tone of the letter', 'choice', { choices: ['measured', 'firm', 'final'] }),
      question('claim', 'What is claimed', 'text', { help: 'As it would follow “for”: the damage to the ferry' }),
      question('amount', 'Amount claimed', 'money'),
      question('by', 'Answer by', 'date'),
      question('costs', 'Costs to list', 'costs', { required: false }),
    ],
    docx: () =>
      written('Letter of demand', [
        ...greeting('person'),
        p('{client.name} v. {person.name}, our matter {matter.number}', { bold: true }),
        p('{if answers.tone = "measured"}'),
        p(
          'We act for {client.name}. We write in the hope of settling {client.their} claim for {answers.claim} without the expense of a suit.',
        ),
        p('{else if answers.tone = "firm"}'),
        p('We act for {client.name}. You owe our client {answers.amount | money} for {answers.claim}. Our client will not wait longer.'),
        p('{else}'),
        p('This is our last letter before suit. You owe {client.name} {answers.amount | money} for {answers.claim}, and have not paid.'),
        p('{end if}'),
        p('{if costs.count}'),
        rows(
          ['Costs', 'Amount'],
          ['{for each c in costs}{c.day | short date}  {c.text}', '{c.amount | money}{end for}'],
          ['Together', '{costs_total | money}'],
        ),
        p(''),
        p('{end if}'),
        p(
          'Please pay {answers.amount + costs_total | money} ({answers.amount + costs_total | money in words}) by {answers.by | full date}.{if answers.tone = "final"} If the money is not here by then, we file suit without further notice.{end if}',
        ),
        ...signed,
      ]),
  },
  {
    name: 'Notice of deposition',
    description: 'Notice with caption, place, hour and certificate of service',
    shelf: 'Litigation',
    folder: 'Discovery',
    namePattern: 'Notice of deposition, {person.name}',
    needsPerson: true,
    questions: [
      question('day', 'Day of the deposition', 'date'),
      question('hour', 'Hour', 'text', { help: 'Like 10:00 a.m.' }),
      question('place', 'Place, or link', 'text'),
      question('video', 'Recorded on video?', 'yes/no'),
      how,
    ],
    docx: () =>
      written(
        'Notice of deposition',
        [
          ...caption,
          p('NOTICE OF DEPOSITION', { bold: true, center: true }),
          p(
            'Please take notice that {client.name} will take the deposition of {person.name} on {answers.day | full date} at {answers.hour}, at {answers.place}, before an officer authorized to administer oaths{if answers.video}, recorded by stenographic means and on video{else}, recorded by stenographic means{end if}.',
          ),
          p('Dated {today | long date}', { after: 500 }),
          p('{lead.name}\n{firm.name}\nCounsel for {client.name}', { after: 400 }),
          ...service,
        ],
        false,
      ),
  },
  {
    name: 'Motion',
    description: 'Motion with caption, grounds and certificate of service',
    shelf: 'Litigation',
    folder: 'Pleadings',
    namePattern: 'Motion to {answers.relief}',
    questions: [
      question('relief', 'Motion to', 'text', { help: 'Like compel answers to interrogatories' }),
      question('grounds', 'Grounds', 'text'),
      question('hearing', 'Hearing is asked for', 'yes/no'),
      how,
    ],
    docx: () =>
      written(
        'Motion',
        [
          ...caption,
          p(
            '{our_side | list "and" | capitals}{if not our_side.count}{client.name | capitals}{end if}’S MOTION TO {answers.relief | capitals}',
            { bold: true, center: true },
          ),
          p('{client.name} moves the Court to {answers.relief}, and says:'),
          p('{answers.grounds}'),
          p('{if answers.hearing}'),
          p('{client.name} asks for a hearing.'),
          p('{end if}'),
          p('Respectfully submitted on the {today | legal date}.', { after: 500 }),
          p('{lead.name}\n{firm.name}\n{firm.address | address}', { after: 400 }),
          ...service,
        ],
        false,
      ),
  },
  {
    name: 'Answer with defenses',
    description: 'Answer to a complaint with the defenses chosen from a list',
    shelf: 'Litigation',
    folder: 'Pleadings',
    namePattern: 'Answer of {client.name}',
    questions: [
      question('general', 'General denial?', 'yes/no'),
      question('defenses', 'Defenses', 'choices', {
        choices: [
          'Failure to state a claim',
          'Statute of limitations',
          'Comparative fault',
          'Failure to mitigate',
          'Release',
          'Limitation of liability',
          'Laches',
        ],
      }),
      question('jury', 'Jury demanded?', 'yes/no'),
      how,
    ],
    docx: () =>
      written(
        'Answer',
        [
          ...caption,
          p('ANSWER{if answers.defenses.count} AND {answers.defenses | plural "DEFENSE" "DEFENSES"}{end if}', { bold: true, center: true }),
          p('{client.name} answers the complaint:'),
          p('{if answers.general}'),
          p('{client.name} denies each allegation that is not admitted here.'),
          p('{end if}'),
          p('{for each d in answers.defenses}'),
          p('{number | ordinal in words | capital} defense: {d}.', { indent: 360 }),
          p('{end for}'),
          p('{if answers.jury}'),
          p('{client.name} demands trial by jury.'),
          p('{end if}'),
          p('Dated {today | long date}', { after: 500 }),
          p('{lead.name}\n{firm.name}', { after: 400 }),
          ...service,
        ],
        false,
      ),
  },
  {
    name: 'Settlement agreement',
    description: 'Agreement and release between the parties of the matter',
    shelf: 'Agreements',
    folder: 'Correspondence',
    namePattern: 'Settlement agreement, {matter.short_name}',
    questions: [
      question('sum', 'Sum to be paid', 'money'),
      question('days', 'Paid within how many days', 'number'),
      question('secret', 'Confidential?', 'yes/no'),
    ],
    docx: () =>
      written(
        'Settlement agreement',
        [
          p('SETTLEMENT AGREEMENT AND RELEASE', { bold: true, center: true, size: 26, after: 260 }),
          p(
            'Made on the {today | legal date} between {if our_side.count}{our_side | list "and"}{else}{client.name}{end if} and {if other_side.count}{other_side | list "and"}{else}the other party{end if}.',
          ),
          p(
            '1. {if other_side.count}{other_side | list "and"}{else}The other party{end if} shall pay {answers.sum | money in words} ({answers.sum | money}) within {answers.days | number in words} ({answers.days}) {answers.days | plural "day" "days"} of signing.',
          ),
          p(
            '2. On payment each party releases the other {parties | plural "party" "parties"} from all claims that arise from {matter.description | otherwise "the dispute"}.',
          ),
          p('{if answers.secret}'),
          p('3. The terms of this agreement are confidential.'),
          p('{end if}'),
          p('{for each x in parties}'),
          p('____________________________\n{x.name}, {x.role}', { after: 260 }),
          p('{end for}'),
        ],
        false,
      ),
  },
  {
    name: 'Letter to a benefits agency',
    description: 'Asks an agency for a decision on a client’s benefits, in English',
    shelf: 'Letters',
    folder: 'Correspondence',
    namePattern: 'Benefits, {client.name}, {today | iso date}',
    questions: [question('agency', 'Agency', 'text'), question('benefit', 'Benefit', 'text'), question('since', 'Waiting since', 'date')],
    docx: () =>
      written('Letter to a benefits agency', [
        p('{today | long date}', { after: 260 }),
        p('{answers.agency}', { after: 260 }),
        p('{client.name}: {answers.benefit}', { bold: true }),
        p('To whom it may concern:'),
        p(
          'We act for {client.name}{if client.born_on}, born {client.born_on | long date}{end if}. {client.they | capital} {client.plural | yes or no "have" "has"} waited for a decision on {client.their} {answers.benefit} since {answers.since | long date}. Please decide within thirty days, and send the decision to us.',
        ),
        ...signed,
      ]),
  },
  {
    name: 'Carta a una agencia de beneficios',
    description: 'La misma carta en español',
    shelf: 'Letters',
    folder: 'Correspondence',
    language: 'es',
    namePattern: 'Beneficios, {client.name}, {today | iso date}',
    questions: [question('agency', 'Agencia', 'text'), question('benefit', 'Beneficio', 'text'), question('since', 'Espera desde', 'date')],
    docx: () =>
      written('Carta a una agencia de beneficios', [
        p('{today | long date}', { after: 260 }),
        p('{answers.agency}', { after: 260 }),
        p('{client.name}: {answers.benefit}', { bold: true }),
        p('A quien corresponda:'),
        p(
          'Representamos a {client.name}{if client.born_on}, con fecha de nacimiento {client.born_on | long date}{end if}. Espera una decisión sobre su solicitud de {answers.benefit} desde el {answers.since | long date}. Le pedimos que decida dentro de treinta días y nos envíe la decisión.',
        ),
        p('Atentamente,', { after: 560 }),
        p('{lead.name}\n{firm.name}'),
      ]),
  },
  {
    name: 'Closing letter',
    description: 'Ends the engagement: what is held in trust, what is open, what is kept',
    shelf: 'Opening and closing',
    folder: 'Correspondence',
    namePattern: 'Closing letter, {client.name}',
    questions: [question('years', 'Years the file is kept', 'number')],
    docx: () =>
      written('Closing letter', [
        ...greeting(),
        p('{matter.name} ({matter.number})', { bold: true }),
        p('Dear {client.greeting | otherwise "Client"}:'),
        p('Our work on this matter, opened on {matter.opened_on | long date}, is done. Thank you for your trust.'),
        p('{if money.held}'),
        p(
          'We hold {money.held | money} of yours in trust{if money.open}; bills of {money.open | money} are open, and what is left after them is returned to you{else} and return it to you with this letter{end if}.',
        ),
        p('{else if money.open}'),
        p('Bills of {money.open | money} are open. Please pay them by their due dates.'),
        p('{else}'),
        p('Nothing is owed, and we hold no money of yours.'),
        p('{end if}'),
        p(
          'We keep the file for {answers.years | number in words} {answers.years | plural "year" "years"}; ask for it whenever you need it.',
        ),
        ...signed,
      ]),
  },
]
