import { watch, type Ref } from 'vue'
import { ApiProblem } from './problem'
import { useNotes } from './shell/notes'

/**
 * What is read for a page. What went wrong with it is said by the page where the page takes `problem`; where it does not, a note says
 * it, so that nothing that could not be read looks as if there were none of it.
 */
export function saidBy<R extends { problem: Readonly<Ref<string>> }>(read: R, error: () => unknown): R {
  let taken = false
  watch(read.problem, (words) => {
    const fault = error()
    // Whoever is signed out is asked to sign in again, over the page.
    const signedOut = fault instanceof ApiProblem && fault.status === 401
    if (words && !taken && !signedOut) useNotes().say(`A part of this page could not be read: ${words}`)
  })
  return Object.defineProperty({ ...read }, 'problem', {
    enumerable: true,
    get() {
      taken = true
      return read.problem
    },
  })
}
