import { isDay } from '@heron/core/calendar'
import { dayText } from './show'

/** What stands in a field, in words: a text, a day, a choice, yes or no, or several of these. */
export function showValue(value: unknown): string {
  if (value === null || value === undefined) return ''
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (Array.isArray(value)) return value.map(showValue).filter(Boolean).join(', ')
  if (typeof value === 'object') {
    const told = value as { text?: unknown; name?: unknown; value?: unknown; done?: unknown }
    const words = showValue(told.text ?? told.name ?? told.value ?? Object.values(value))
    return told.done === true ? `${words} (done)` : words
  }
  const text = String(value as string | number)
  return isDay(text) ? dayText(text) : text
}
