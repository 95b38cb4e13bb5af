import { ref } from 'vue'
import { api, ApiProblem, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'

type Run = Answer<typeof api.tasks.following>[number]

/** Marking tasks done from any list: with Undo, and with what would follow. */
export function useDone() {
  const session = useSession()
  const notes = useNotes()
  const follows = ref<Run | null>(null)
  async function set(id: number, done: boolean, text: string) {
    try {
      const answer = await api.tasks.setDone({ id, done })
      notes.say(done ? `Done: ${text}` : `Open again: ${text}`, {
        label: 'Undo',
        act: () => api.tasks.setDone({ id, done: !done }).then(session.changed),
      })
      if (done) follows.value = answer.follows
    } catch (error) {
      notes.say(error instanceof ApiProblem ? error.message : 'This could not be done.')
    }
    session.changed()
  }
  return { set, follows }
}
