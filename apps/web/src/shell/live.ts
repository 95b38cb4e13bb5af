import type { Told } from '@heron/contract'
import { onUnmounted, watch } from 'vue'
import { useSession } from './session'

const name = 'heron-live'
/** Where the server refused the line, it is asked again after this long. */
const againMs = 60_000

/**
 * Hears what others did, as it is done. A browser opens few connections to one address, so one of its tabs holds the line, under a
 * lock of the browser, and tells the others. Where the browser has no such locks (outside an encrypted connection), pages look once
 * a minute as before.
 */
function listen(hear: (told: Told) => void): () => void {
  if (!('locks' in navigator) || typeof EventSource === 'undefined') return () => undefined
  const tabs = new BroadcastChannel(name)
  const over = new AbortController()
  tabs.onmessage = (e: MessageEvent<Told>) => hear(e.data)
  const hold = () =>
    new Promise<void>((done) => {
      let line: EventSource
      let later = 0
      const open = () => {
        line = new EventSource('/api/live')
        line.onmessage = (e: MessageEvent<string>) => {
          const told = JSON.parse(e.data) as Told
          hear(told)
          tabs.postMessage(told)
        }
        // It comes again by itself when it breaks; only where it was refused it does not.
        line.onerror = () => line.readyState === EventSource.CLOSED && (later = window.setTimeout(open, againMs))
      }
      open()
      over.signal.addEventListener('abort', () => {
        window.clearTimeout(later)
        line.close()
        done()
      })
    })
  void navigator.locks.request(name, { signal: over.signal }, hold).catch(() => undefined)
  return () => {
    over.abort()
    tabs.close()
  }
}

/** Listens as long as somebody is signed in. */
export function useLive(): void {
  const session = useSession()
  let leave: () => void = () => undefined
  watch(
    () => session.me?.id,
    (id) => {
      leave()
      leave = id ? listen(session.hear) : () => undefined
    },
    { immediate: true },
  )
  onUnmounted(() => leave())
}

/** Of which areas of the application a page shows something, by the first word of its address. */
const shownOn: Record<string, readonly string[]> = {
  today: ['docket', 'tasks', 'notes'],
  docket: ['docket'],
  tasks: ['tasks'],
  matters: ['matters'],
  people: ['people'],
  time: ['time', 'costs'],
  bills: ['billing'],
  trust: ['ledger', 'billing'],
  books: ['ledger', 'vendors'],
}
/** Whether others changed something of what a page shows since it was loaded. A matter's page says it in its own words. */
export function changedHere(told: Told, path: string): boolean {
  const [, first = '', second] = path.split('/')
  if (first === 'matters' && Number(second)) return false
  return told.areas.some((a) => shownOn[first]?.includes(a))
}
