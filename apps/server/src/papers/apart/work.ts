import { readMessage, type MailMessage } from '@heron/core/formats'
import { tokensOf } from '@heron/core/papers'
import {
  allFields,
  checkTemplate,
  fieldTree,
  makeDocument,
  plain,
  valueAt,
  type CheckResult,
  type OwnFields,
  type Value,
  type ValueRecord,
} from '@heron/core/templates'
import type { Day } from '@heron/core/calendar'
import { diffWordsWithSpace } from 'diff'
import { safeHtml } from './html'
import { textOfHtml, wordsOf } from './words'
import { openZip } from './zip'

/** A message, and its text where it has only HTML. */
export type ReadMail = MailMessage & { plain: string }

export interface MakeTask {
  docx: Uint8Array
  values: ValueRecord
  language: 'en' | 'es'
  today: Day
  ties: Record<string, string>
}
/** What a paper looked at while it was made: each field with what it held. */
export interface Looked {
  path: string
  value: Value
  how: 'value' | 'condition' | 'list'
}

/** What is done apart from the requests of others: on threads of its own, with limits of memory and time. */
export const tasks = {
  words: ({ data, mediaType }: { data: Uint8Array; mediaType: string }): Promise<string | null> => wordsOf(data, mediaType),
  tokens: ({ text }: { text: string }): Promise<string[]> => Promise.resolve(tokensOf(text)),
  mail: async ({ data }: { data: Uint8Array }): Promise<ReadMail> => {
    const mail = await readMessage(data)
    return { ...mail, plain: mail.text || textOfHtml(mail.html) }
  },
  html: (input: { html: string; parts: { contentId: string | null; mediaType: string }[]; prefix: string }) =>
    Promise.resolve(safeHtml(input)),
  compare: ({ from, to }: { from: string; to: string }) =>
    Promise.resolve(
      diffWordsWithSpace(from, to, { timeout: 5000 })?.map((p) => ({
        text: p.value,
        how: p.added ? ('added' as const) : p.removed ? ('gone' as const) : ('same' as const),
      })) ?? null,
    ),
  check: async ({ docx, own, ties }: { docx: Uint8Array; own: OwnFields; ties: Record<string, string> }): Promise<CheckResult> =>
    checkTemplate(await openZip(docx), fieldTree(own), ties),
  make: async ({ docx, values, language, today, ties }: MakeTask): Promise<{ made: Uint8Array; looked: Looked[] }> => {
    const looked = new Map<string, Looked>()
    const note = (path: string, value: Value, how: Looked['how']) => {
      const before = looked.get(path)
      if (!before || (before.how !== 'value' && how === 'value')) looked.set(path, { path, value, how })
    }
    const made = makeDocument(await openZip(docx), {
      values,
      language,
      today,
      wordField: (name) => {
        const path = ties[name] ?? ''
        const value = path ? valueAt(values, path) : null
        if (path) note(path, value, 'value')
        return value
      },
      seen: (path, value, how, inItem) => {
        if (!inItem) note(path, value, how)
      },
    })
    return { made, looked: [...looked.values()] }
  },
  fields: ({ own }: { own: OwnFields }) => Promise.resolve(allFields(fieldTree(own)).map((f) => ({ ...f, shown: plain(null) }))),
}
export type Tasks = typeof tasks
export type TaskName = keyof Tasks
