import { computed, onMounted, onUnmounted, reactive, shallowReactive } from 'vue'

interface Question {
  title: string
  words: string
  yes: string
  no: string
}

/** What is asked just now, and what happens with either answer. */
export const question = reactive({ asked: null as Question | null, answer: (_yes: boolean): unknown => undefined })

/** Sheets that stand open, the one in front last. */
const sheets = shallowReactive<object[]>([])
/** Whether no sheet stands before the page: its own question stands there, else within the sheet in front, which keeps the keyboard. */
export const noSheet = computed(() => !sheets.length)
/** Says of a sheet whether it is the one in front. */
export function useInFront() {
  const sheet = {}
  onMounted(() => sheets.push(sheet))
  onUnmounted(() => sheets.splice(sheets.indexOf(sheet), 1))
  return computed(() => sheets.at(-1) === sheet)
}

/** Asks over the page; yes is true, and any other way out of it no. */
export function ask(asked: Question): Promise<boolean> {
  // Another act while the question stands: the first one is not done.
  question.answer(false)
  return new Promise((resolve) => {
    question.asked = asked
    question.answer = (yes) => {
      question.asked = null
      resolve(yes)
    }
  })
}

/** Asked before something goes for good. What can be undone at once is done without asking. */
export const sure = (title: string, words: string, yes: string): Promise<boolean> => ask({ title, words, yes, no: 'Leave it' })
