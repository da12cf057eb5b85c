import { ref } from 'vue'
import { Trouble } from '../api/client'

/** What a dialog does at the server: one thing at a time, and what went wrong, in all and by field. */
export function useAttempt() {
  const busy = ref(false)
  const problem = ref('')
  const fields = ref<Record<string, string>>({})
  async function attempt(work: () => Promise<void>) {
    if (busy.value) return // pressed twice
    busy.value = true
    problem.value = ''
    fields.value = {}
    try {
      await work()
    } catch (e) {
      problem.value = (e as Error).message
      fields.value = e instanceof Trouble ? e.fields : {}
    } finally {
      busy.value = false
    }
  }
  return { attempt, busy, problem, fields }
}
