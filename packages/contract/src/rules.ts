import { z } from 'zod'
import { day, fileOut, needed, ok, route, text, asks } from './base'
import { movedMatters } from './docket'
import { proposal } from './docket-rows'

const key = text(60)
const fault = z.object({ where: z.string(), what: z.string() })
/** A rule set in its open format, as JSON text: the JSON Schema of it is served beside it. */
const file = z.string().max(2_000_000, { abort: true, error: 'A rule set of more than 2 MB is refused' }).min(2, 'Choose a file')
const ruleSetBody = { body: 4_200_000 }

export const rules = {
  list: route('docket.see', 'GET', '/rules', 'The courts whose rules are known here').output(
    z.array(
      z.object({
        key: z.string(),
        title: z.string(),
        court: z.string(),
        jurisdiction: z.string(),
        kind: z.string(),
        edition: z.string(),
        /** Written or imported by the firm, rather than shipped. */
        own: z.boolean(),
        triggers: z.number(),
        deadlines: z.number(),
        practice: z.number(),
        matters: z.number(),
      }),
    ),
  ),
  one: route('docket.see', 'GET', '/rules/{key}', 'The rules of a court, the firm’s own dates on top, and every edition of both')
    .input(z.object({ key }))
    .output(
      z.object({
        key: z.string(),
        own: z.boolean(),
        edition: z.string(),
        /** The number of the latest edition kept here; 0 where it only ships. */
        no: z.number(),
        /** The court's rules in the open format, as JSON text. */
        file: z.string(),
        /** The firm's own dates on top: deadlines of the same format, as JSON text. */
        practice: z.string(),
        editions: z.array(
          z.object({ part: z.enum(['set', 'practice']), no: z.number(), note: z.string(), by: z.string(), at: z.string() }),
        ),
        /** Holiday sets that a rule set may name. */
        holidaySets: z.array(z.object({ key: z.string(), title: z.string() })),
      }),
    ),
  check: route('docket.rules', 'POST', '/rules/check', 'What is wrong with a rule set, and what it would change; nothing is kept', {
    ...ruleSetBody,
    ...asks,
  })
    .input(z.object({ file }))
    .output(
      z.object({
        faults: z.array(fault),
        /** What to know before it is kept: events that dockets have and the set no longer has. */
        warnings: z.array(z.string()),
        found: z
          .object({
            key: z.string(),
            title: z.string(),
            court: z.string(),
            edition: z.string(),
            triggers: z.number(),
            deadlines: z.number(),
            /** The number of the latest edition kept here; 0 where there is none. */
            no: z.number(),
            /** Against the edition in force here; null where the set is new. */
            against: z.object({ added: z.array(z.string()), changed: z.array(z.string()), gone: z.array(z.string()) }).nullable(),
          })
          .nullable(),
      }),
    ),
  save: route(
    'docket.rules',
    'PUT',
    '/rules',
    'Keep a rule set of the firm’s own, or its next edition; no docketed date moves by it',
    ruleSetBody,
  )
    .input(
      z.object({
        file,
        note: text(300).default(''),
        /** The edition from which it was written, 0 where there was none; refused where someone kept another since. */
        after: z.number().int().min(0).optional(),
      }),
    )
    .output(z.object({ key: z.string(), no: z.number() })),
  remove: route('docket.rules', 'DELETE', '/rules/{key}', 'Take away a rule set of the firm’s own that no matter uses')
    .input(z.object({ key }))
    .output(ok),
  savePractice: route('docket.rules', 'PUT', '/rules/{key}/practice', 'Keep a date of the firm’s own on top of a court’s rules')
    .input(
      z.object({
        key,
        /** The date that it replaces; null for a new one. */
        was: key.nullable().default(null),
        title: needed('Give a title', 160),
        /** The deadline in the open format, as JSON text; its key is given by the server. */
        deadline: z.string().max(20_000),
        note: text(300).default(''),
      }),
    )
    .output(z.object({ deadlineKey: z.string() })),
  removePractice: route('docket.rules', 'DELETE', '/rules/{key}/practice/{deadlineKey}', 'Take a date of the firm’s own out of the rules')
    .input(z.object({ key, deadlineKey: key }))
    .output(ok),
  tryOut: route('docket.see', 'POST', '/rules/try', 'What a rule set, kept or not, gives for an event', { ...ruleSetBody, ...asks })
    .input(z.object({ file, trigger: key, date: day, service: key.nullable().default(null), facts: z.array(key).max(10).default([]) }))
    .output(z.object({ faults: z.array(fault), proposals: z.array(proposal) })),
  effect: route(
    'docket.rules',
    'GET',
    '/rules/{key}/effect',
    'Docketed dates that the rules now in force count otherwise, and dates that they add',
  )
    .input(z.object({ key }))
    .output(
      z.object({
        moves: z.number(),
        adds: z.number(),
        matters: z.array(movedMatters.element.extend({ adds: z.array(proposal) })),
      }),
    ),
  takeEffect: route(
    'docket.rules',
    'POST',
    '/rules/{key}/effect',
    'Move what the rules in force move, and docket what they add, in one act',
  )
    .input(z.object({ key, moves: z.number().int().min(0), adds: z.number().int().min(0) }))
    .output(z.object({ moved: z.number(), added: z.number() })),
  export: route('docket.see', 'GET', '/rules/{key}/file', 'A rule set as a file in the open format')
    .input(z.object({ key, practice: z.stringbool().default(false) }))
    .output(fileOut),
  schema: route('signed in', 'GET', '/rule-set-schema', 'The JSON Schema of rule set files').output(fileOut),
}
