import { onMounted, onUnmounted, watch, type WatchSource } from 'vue'
import type { Router } from 'vue-router'
import { ask } from './question'

interface Work {
  /** Whether something typed would be lost. */
  changed: () => boolean
  /** A sheet over the page closes where Back is pressed; the page stays. */
  close?: () => void
}
const open: Work[] = []

/** Says what a page or a sheet would lose if it were left: asked before any link, Back, a command, or closing the tab. */
export function useUnsaved(work: Work): void {
  onMounted(() => open.push(work))
  onUnmounted(() => {
    const at = open.indexOf(work)
    if (at >= 0) open.splice(at, 1)
  })
}

/** Whether something typed would be lost. */
export const somethingUnsaved = (): boolean => open.some((w) => w.changed())

/** Whether a page may be left: yes where nothing would be lost, and else as the person says. */
export async function mayLeave(): Promise<boolean> {
  if (!open.some((w) => w.changed())) return true
  return ask({ title: 'What you entered is not saved', words: 'It is lost if you leave now.', yes: 'Leave without saving', no: 'Stay' })
}

/** One guard for every way out of a page. Back over an open sheet closes the sheet, and no more. */
export function guardRoutes(router: Router): void {
  const position = () => (window.history.state as { position?: number } | null)?.position
  let at = position()
  router.beforeEach(async (to, from) => {
    if (!from.matched.length || to.path === '/sign-in') return true
    const back = position() !== at
    const sheet = [...open].reverse().find((w) => w.close)
    if (back && sheet) {
      sheet.close!()
      return false
    }
    // Only what the address holds beside the page changes, such as a filter: nothing is left by it.
    if (to.path === from.path) return true
    return mayLeave()
  })
  router.afterEach(() => void (at = position()))
  window.addEventListener('beforeunload', (event) => {
    if (open.some((w) => w.changed())) event.preventDefault()
  })
}

/**
 * Keeps what is typed on a page in this browser until it is saved or thrown away, so that a closed tab or a crash loses nothing.
 * `take` puts a kept draft back. Whoever signs out leaves none behind.
 */
export function useDraft<T extends object>(name: string, form: T, on: WatchSource, take: (draft: T) => void) {
  const key = `draft ${name}`
  const kept = window.localStorage.getItem(key)
  let found = false
  if (kept)
    try {
      take(JSON.parse(kept) as T)
      found = true
    } catch {
      window.localStorage.removeItem(key)
    }
  watch(on, () => window.localStorage.setItem(key, JSON.stringify(form)), { deep: true })
  return { found, drop: () => window.localStorage.removeItem(key) }
}
export function dropDrafts(): void {
  for (const key of Object.keys(window.localStorage)) if (key.startsWith('draft ')) window.localStorage.removeItem(key)
}
