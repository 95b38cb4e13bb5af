import type { App } from 'vue'
import { ApiProblem } from '../api'
import { useNotes } from './notes'

/** Says what was refused where no page said it at its place: nothing that a person does fails without a word. */
function say(error: unknown): void {
  if (error instanceof ApiProblem) useNotes().say(error.message)
  else console.error(error)
}

export function sayWhatIsRefused(app: App): void {
  app.config.errorHandler = say
  window.addEventListener('unhandledrejection', (event) => {
    event.preventDefault()
    say(event.reason)
  })
}
