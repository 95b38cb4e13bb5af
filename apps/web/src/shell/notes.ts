import { defineStore } from 'pinia'
import { ref } from 'vue'
import { ApiProblem } from '../problem'

export interface Note {
  id: number
  text: string
  undo?: { label: string; act: () => Promise<unknown> }
}

/** Lines that say what was done, with Undo where undoing is possible. */
export const useNotes = defineStore('notes', () => {
  const notes = ref<Note[]>([])
  let last = 0
  /** The same words stand there once, as the latest; of nothing nothing is said. */
  function say(text: string, undo?: Note['undo']) {
    if (!text) return
    const note: Note = { id: ++last, text, ...(undo ? { undo } : {}) }
    notes.value = [...notes.value.filter((n) => n.text !== text || n.undo).slice(-2), note]
    window.setTimeout(() => drop(note.id), undo ? 12_000 : 6_000)
  }
  /** Takes back what a line says, once; what is refused is said in its place. */
  async function undo(note: Note) {
    drop(note.id)
    try {
      await note.undo?.act()
    } catch (error) {
      say(error instanceof ApiProblem ? `Not undone: ${error.message}` : 'This could not be undone. Look at it before you go on.')
    }
  }
  const drop = (id: number) => (notes.value = notes.value.filter((n) => n.id !== id))
  return { notes, say, undo, drop }
})
