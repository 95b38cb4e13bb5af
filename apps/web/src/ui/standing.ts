import { onMounted, type Ref } from 'vue'
import { useEventListener } from '@vueuse/core'

/** What stands in the fields of a form, as its reader sees it. */
function standing(form: HTMLElement): string {
  const fields = form.querySelectorAll<HTMLElement>('input, select, textarea, [contenteditable="true"], [aria-checked], [aria-pressed]')
  return JSON.stringify(
    [...fields].map((f) => {
      if (f instanceof HTMLInputElement && (f.type === 'checkbox' || f.type === 'radio')) return f.checked
      if (f instanceof HTMLInputElement || f instanceof HTMLSelectElement || f instanceof HTMLTextAreaElement) return f.value
      return f.getAttribute('aria-checked') ?? f.getAttribute('aria-pressed') ?? f.textContent
    }),
  )
}

/**
 * Whether somebody changed a field of a form since it stood ready or was last saved, whichever field it was. What comes late by itself,
 * before anything was entered, counts for nothing.
 */
export function useStanding(form: Ref<HTMLElement | null>) {
  let before = ''
  let entered = false
  const begin = () => {
    entered = false
    before = form.value ? standing(form.value) : ''
  }
  onMounted(begin)
  // Each key and each press comes before what it changes; a field that is filled at once is first gone into.
  for (const kind of ['focusin', 'keydown', 'pointerdown'] as const)
    useEventListener(form, kind, () => void (entered || begin()), { capture: true })
  for (const kind of ['input', 'change'] as const) useEventListener(form, kind, () => void (entered = true), { capture: true })
  // What is chosen by a press tells of it by no event of its own.
  useEventListener(
    form,
    'click',
    (event: MouseEvent) => {
      if ((event.target as HTMLElement).closest('[role="option"], [role="radio"], [role="switch"], [aria-pressed]')) entered = true
    },
    { capture: true },
  )
  return { begin, changed: () => entered && form.value !== null && standing(form.value) !== before }
}
