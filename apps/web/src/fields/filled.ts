import type { FieldGroupOut, FieldValues } from '@heron/contract'
import { showFieldValue } from '@heron/core/fields'
import { dayText } from '../ui/show'

/** Filled-in fields of the firm's own as a page shows them: one line a field, or a line an item where a group repeats. */
export function filledFields(
  groups: readonly FieldGroupOut[],
  values: FieldValues,
  names: Readonly<Record<string, string>>,
): { key: string; name: string; text: string }[] {
  const show = (f: FieldGroupOut['fields'][number], item: number) => {
    const v = values[f.id]?.[item] ?? ''
    return showFieldValue(f.type, Array.isArray(v) ? JSON.stringify(v) : v, dayText, (id) => names[id] ?? '')
  }
  return groups
    .flatMap((g) => {
      if (!g.repeating) return g.fields.map((f) => ({ key: String(f.id), name: f.name, text: show(f, 0) }))
      const items = Math.max(0, ...g.fields.map((f) => values[f.id]?.length ?? 0))
      return Array.from({ length: items }, (_, i) => ({
        key: `${g.id} ${i}`,
        name: `${g.name} ${i + 1}`,
        text: g.fields
          .map((f) => show(f, i))
          .filter(Boolean)
          .join(' · '),
      }))
    })
    .filter((x) => x.text)
}
