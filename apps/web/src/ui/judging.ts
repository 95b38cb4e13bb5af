import { contract } from '@heron/contract'
import type { AnyContractProcedure } from '@orpc/contract'
import { FormApi, type StandardSchemaV1 } from '@tanstack/vue-form'
import type { Asked } from '../api'

type Values = Record<string, unknown>
export type Judge = ReturnType<typeof judgeOf>

/** A path as the server tells it: `rows.0.text`. */
const dotted = (path: string) => path.replaceAll(/\[(\d+)\]/g, '.$1')
function at(values: unknown, path: readonly string[]): unknown {
  let found = values
  for (const name of path) found = (found as Values | null | undefined)?.[name]
  return found
}
/** As it stands now: what is filled in goes on in the same lists and records. A file is left as it is. */
function copied(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(copied)
  if (typeof value !== 'object' || value === null || value instanceof Blob) return value
  return Object.fromEntries(Object.entries(value).map(([name, of]) => [name, copied(of)]))
}
const nothing = (value: unknown) => value === undefined || value === null || value === '' || value === 0
const alike = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/** Judges what a form would send by the schema of its route, beside what it would have sent when it was opened. */
export function judgeOf(asked: Asked) {
  const opened = { path: asked.path, input: copied(asked.input) }
  let path = ''
  let form: FormApi<Values, never, never, never, never, never, never, never, never, never, never, never>
  let refused: unknown = null
  function begin(asked: Asked) {
    path = asked.path.join('.')
    const route = at(contract, asked.path) as AnyContractProcedure
    const schema = route['~orpc'].inputSchema
    form = new FormApi({
      defaultValues: (opened.path.join('.') === path ? opened.input : asked.input) as Values,
      validators: schema ? { onChange: schema as StandardSchemaV1<Values> } : {},
    }) as unknown as typeof form
    form.mount()
  }
  begin(opened)
  return {
    /** Keeps what was sent and refused. */
    sent: (asked: Asked) => void (refused = copied(asked.input)),
    look(asked: Asked) {
      // A form that makes something new and changes what is there calls the one or the other.
      if (asked.path.join('.') !== path) begin(asked)
      const input = copied(asked.input) as Values
      for (const name of new Set([...Object.keys(form.state.values), ...Object.keys(input)]))
        form.setFieldValue(name, input[name] as never, { dontValidate: true })
      form.validateSync('change')
      const faults: Record<string, string> = {}
      for (const [where, meta] of Object.entries(form.state.fieldMeta)) {
        const [first] = (meta as { errors: { message: string }[] }).errors
        if (first) faults[dotted(where)] = first.message
      }
      return {
        faults,
        /** Whether somebody filled it in, or emptied it. */
        filled: (where: string) => {
          const [now, before] = [at(input, where.split('.')), at(opened.input, where.split('.'))]
          return !alike(now, before) && !(nothing(now) && nothing(before))
        },
        /** Whether it still stands as it was refused. */
        asSent: (where: string) => refused === null || alike(at(input, where.split('.')), at(refused, where.split('.'))),
      }
    },
  }
}
