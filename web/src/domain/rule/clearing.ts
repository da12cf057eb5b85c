import { api, ask } from '../../api/client'
import { client } from '../../core/query'
import { useAttempt } from '../../ui/attempt'

/** Clears people, or withdraws that, and asks anew for what is worked out from it. */
export function useClearing() {
  const { attempt, busy, problem } = useAttempt()
  const clear = (screening: number, person: number, withdraw = false) =>
    attempt(async () => {
      await ask(api.POST('/api/screenings-now', { body: { screening, people: [person], withdraw } }))
      await client.invalidateQueries({ queryKey: ['computed'] })
    })
  return { clear, busy, problem }
}
