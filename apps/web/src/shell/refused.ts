import type { App } from 'vue'
import type { Router } from 'vue-router'
import { ApiProblem } from '../api'
import { useNotes } from './notes'

/** Says what was refused where no page said it at its place: nothing that a person does fails without a word. */
function say(error: unknown): void {
  if (error instanceof ApiProblem) useNotes().say(error.message)
  else console.error(error)
}

export function sayWhatIsRefused(app: App, router: Router): void {
  app.config.errorHandler = say
  window.addEventListener('unhandledrejection', (event) => {
    event.preventDefault()
    say(event.reason)
  })
  // Pages are fetched as they are opened; after the application was renewed, those of before are gone.
  router.onError((error, to) => {
    if (error instanceof ApiProblem) return say(error)
    useNotes().say('This page could not be fetched: the application was renewed meanwhile, or the server does not answer.', {
      label: 'Load it anew',
      act: () => Promise.resolve(window.location.assign(to.fullPath)),
    })
  })
}
