import { shallowRef } from 'vue'

/** A question in the middle of the screen, for what cannot be seen and undone on the spot. */
export type Question = {
  title: string
  words: string
  yes: string
  no: string
  label?: string
  answer: (said: string | undefined) => void
}

export const question = shallowRef<Question>()

function put(q: Omit<Question, 'answer'>): Promise<string | undefined> {
  question.value?.answer(undefined)
  return new Promise((done) => {
    question.value = {
      ...q,
      answer: (said) => {
        question.value = undefined
        done(said)
      },
    }
  })
}

/** Asks whether to do it, saying what it does; yes names the doing. */
export const sure = async (title: string, words: string, yes: string, no = 'Cancel') =>
  (await put({ title, words, yes, no })) !== undefined

/** Asks for a word, such as a name; nothing where it is not given. */
export const askFor = async (title: string, label: string, yes: string) =>
  (await put({ title, words: '', yes, no: 'Cancel', label }))?.trim() || undefined
