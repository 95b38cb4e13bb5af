import { z } from 'zod'
import { asks, day, dayOut, fileOut, id, longBody, made, needed, ok, route, text, upload, whole, withId } from './base'
import { folderPath } from './papers'

export const questionTypes = ['text', 'number', 'money', 'date', 'yes/no', 'choice', 'choices', 'contact', 'costs', 'time'] as const
/** A question that a template asks by itself; its answer is `{answers.key}`, chosen costs and time are lists of their own. */
export const question = z.object({
  key: text(60).refine((k) => /^[a-z][a-z0-9_]*$/.test(k), 'Use small letters, digits and underscores, starting with a letter'),
  text: needed('Write the question', 200),
  type: z.enum(questionTypes),
  choices: z.array(needed('Name the choice', 120)).max(60).default([]),
  required: z.boolean().default(true),
  /** Asked only where this holds, written like a condition of the template. */
  when: text(300).default(''),
  help: text(300).default(''),
})
export type Question = z.infer<typeof question>

const fault = z.object({ text: z.string(), words: z.string(), paragraph: z.number(), part: z.string() })
const head = {
  name: needed('Name the template', 120),
  description: text(400),
  shelf: text(120),
  folder: folderPath,
  areaId: id.nullable(),
  tags: z.array(needed('Name the tag', 40)).max(20),
  language: z.enum(['en', 'es']),
  namePattern: text(200),
  needsPerson: z.boolean(),
  /** Who may use it; nobody named means everyone. */
  peopleIds: z.array(id).max(500),
}
export const templateHead = z.object(head)
/** The version that was seen: what others made of the template meanwhile is not written over unseen. */
const after = whole(1, 4_000_000_000)
const row = z.object({
  id: z.number(),
  name: z.string(),
  description: z.string(),
  shelf: z.string(),
  folder: z.string(),
  areaId: z.number().nullable(),
  area: z.string().nullable(),
  tags: z.array(z.string()),
  language: z.enum(['en', 'es']),
  namePattern: z.string(),
  needsPerson: z.boolean(),
  peopleIds: z.array(z.number()),
  version: z.number(),
  faults: z.number(),
  questions: z.number(),
  retired: z.boolean(),
  rowVersion: z.number(),
})

const answers = z
  .record(z.string().max(120), z.union([text(4000), z.array(text(200)).max(200)]))
  .refine((a) => Object.keys(a).length <= 300, 'At most 300 answers')
/** What a paper is made from. `values` are changed for this paper alone, by the path of their field. */
const making = {
  matterId: id,
  templateId: id,
  /** Others of a set that are made in the same act, from the same answers. */
  alsoIds: z.array(id).max(29).default([]),
  personId: id.nullable().default(null),
  answers: answers.default({}),
  values: answers.default({}),
}
const shownValue = z.object({
  path: z.string(),
  label: z.string(),
  type: z.enum(['text', 'number', 'money', 'day', 'yes/no', 'list', 'record']),
  value: z.string(),
  /** As it is typed, for a field that is changed. */
  typed: z.string(),
  changed: z.boolean(),
  missing: z.boolean(),
  /** Whether an answer can go back to the record. */
  writes: z.boolean(),
})

export const templates = {
  list: route('papers.see', 'GET', '/templates', 'Templates of the firm').output(z.array(row)),
  one: route('papers.see', 'GET', '/templates/{id}', 'One template')
    .input(withId)
    .output(
      row.extend({
        faultList: z.array(fault),
        uses: z.array(z.string()),
        wordFields: z.array(z.object({ name: z.string(), tied: z.string().nullable() })),
        questionList: z.array(question),
        versions: z.array(z.object({ number: z.number(), why: z.string(), madeBy: z.string(), madeAt: z.string(), current: z.boolean(), faults: z.number() })),
      }),
    ), // prettier-ignore
  add: route('firm.set-up', 'POST', '/templates', 'Add a template', upload(20_000_000))
    .input(
      z.object({
        name: needed('Name the template', 120),
        file: z.file({ error: 'Choose a DOCX' }).max(20_000_000, 'A template may have up to 20 MB'),
      }),
    )
    .output(made),
  change: route('firm.set-up', 'PUT', '/templates/{id}', 'Change what is said of a template')
    .input(templateHead.extend({ id, rowVersion: whole(1, 4_000_000_000) }))
    .output(ok),
  newVersion: route('firm.set-up', 'POST', '/templates/{id}/versions', 'A new version of a template', upload(20_000_000))
    .input(
      z.object({
        id,
        why: text(300).default(''),
        file: z.file({ error: 'Choose a DOCX' }).max(20_000_000, 'A template may have up to 20 MB'),
      }),
    )
    .output(z.object({ number: z.number() })),
  setQuestions: route('firm.set-up', 'PUT', '/templates/{id}/questions', 'Set the questions that a template asks', longBody)
    .input(z.object({ id, after, questions: z.array(question).max(60, 'At most 60 questions') }))
    .output(ok),
  setTies: route('firm.set-up', 'PUT', '/templates/{id}/ties', 'Say what the merge fields of a document mean', longBody)
    .input(
      z.object({
        id,
        after,
        ties: z.record(z.string().max(200), text(120)).refine((t) => Object.keys(t).length <= 500, 'At most 500 fields'),
      }),
    )
    .output(ok),
  retire: route('firm.set-up', 'POST', '/templates/{id}/retire', 'Put a template away, or take it back')
    .input(z.object({ id, retired: z.boolean() }))
    .output(ok),
  download: route('papers.see', 'GET', '/templates/{id}/file', 'A template as DOCX')
    .input(z.object({ id, version: z.coerce.number().int().min(1).optional() }))
    .output(fileOut),
  page: route('papers.see', 'GET', '/templates/{id}/pdf', 'A template as its pages look, to see where a fault stands')
    .input(withId)
    .output(fileOut),
  fields: route('papers.see', 'GET', '/template-fields', 'Every field that templates may use, with its value on a matter')
    .input(z.object({ matterId: id.optional() }))
    .output(
      z.object({
        fields: z.array(
          z.object({ path: z.string(), label: z.string(), type: z.string(), within: z.string().nullable(), value: z.string() }),
        ),
        formats: z.array(z.object({ name: z.string(), about: z.string(), example: z.string() })),
      }),
    ),
  sets: route('papers.see', 'GET', '/template-sets', 'Sets of templates').output(
    z.array(
      z.object({
        id: z.number(),
        name: z.string(),
        description: z.string(),
        templates: z.array(z.object({ id: z.number(), name: z.string() })),
      }),
    ),
  ),
  saveSet: route('firm.set-up', 'POST', '/template-sets', 'Make or change a set of templates')
    .input(
      z.object({
        id: id.nullable(),
        name: needed('Name the set', 120),
        description: text(400),
        templateIds: z.array(id).min(1, 'Choose at least one').max(30),
      }),
    )
    .output(made),
  removeSet: route('firm.set-up', 'DELETE', '/template-sets/{id}', 'Take a set of templates away').input(withId).output(ok),

  prepare: route('papers.change', 'POST', '/papers/prepare', 'What a paper would say, and what is missing', { ...asks, ...longBody })
    .input(z.object(making))
    .output(
      z.object({
        name: z.string(),
        folder: z.string(),
        also: z.array(z.object({ id: z.number(), template: z.string(), name: z.string() })),
        needsPerson: z.boolean(),
        faulty: z.boolean(),
        values: z.array(shownValue),
        questions: z.array(question.extend({ asked: z.boolean(), answer: z.union([z.string(), z.array(z.string())]) })),
        persons: z.array(z.object({ id: z.number(), name: z.string(), role: z.string() })),
        costs: z.array(z.object({ id: z.number(), day: dayOut, text: z.string(), amount: z.number() })),
        time: z.array(
          z.object({ id: z.number(), day: dayOut, text: z.string(), amount: z.number().nullable(), by: z.string(), hours: z.number() }),
        ),
        ready: z.boolean(),
      }),
    ),
  preview: route('papers.change', 'POST', '/papers/preview', 'A paper as PDF before it is made', { ...longBody })
    .input(z.object(making))
    .output(z.object({ jobId: z.number(), previewId: z.number() })),
  previewFile: route('papers.change', 'GET', '/papers/preview/{id}', 'A preview').input(withId).output(fileOut),
  make: route('papers.change', 'POST', '/papers/make', 'Make a paper', longBody)
    .input(
      z.object({
        ...making,
        name: needed('Name the paper', 150),
        folder: folderPath,
        as: z.enum(['docx', 'pdf', 'both']),
        /** Paths whose values go back to the record. */
        writeBack: z.array(text(120)).max(100),
        /** Made again: a new version of this paper. */
        versionOf: id.nullable().default(null),
        review: z
          .object({ toId: id, dueOn: day.nullable(), message: text(1000) })
          .nullable()
          .default(null),
        /** Shown to someone outside in the same act, by a link that is sent to them. */
        share: z
          .object({
            forWhom: needed('Say whom it is for', 120),
            email: z.email('Give an e-mail address like name@example.com').max(190),
            endsOn: day,
            needsCode: z.boolean(),
          })
          .nullable()
          .default(null),
      }),
    )
    .output(z.object({ jobId: z.number() })),
  made: route('papers.see', 'GET', '/papers/{id}/made', 'What a made paper used, and what has changed on the record since')
    .input(withId)
    .output(
      z.object({
        templateId: z.number(),
        template: z.string(),
        personId: z.number().nullable(),
        answers: z.record(z.string(), z.union([z.string(), z.array(z.string())])),
        values: z.record(z.string(), z.union([z.string(), z.array(z.string())])),
        changed: z.array(z.object({ path: z.string(), label: z.string(), was: z.string(), is: z.string() })),
        newerTemplate: z.boolean(),
      }),
    ),
}
