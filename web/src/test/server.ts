import { delay, http, HttpResponse } from 'msw'
import { setupServer } from 'msw/node'
import { afterAll, afterEach, beforeAll } from 'vitest'

/** A person that the server holds, with the rules by which it takes changes. */
export class Held {
  rev = 1
  gone = false
  signedIn = true
  saves: unknown[] = []
  slow = 0
  refuses: { location: string; message: string } | undefined
  constructor(public value: Record<string, unknown>) {}
  /** Somebody else writes. */
  change(v: Record<string, unknown>) {
    this.value = { ...this.value, ...v }
    this.rev++
  }
}

export const server = setupServer()

/** The server of these tests, with one person in it. */
export function holding(held: Held) {
  server.use(
    http.get('*/api/people/:id', async () => {
      const now = { rev: held.rev, value: structuredClone(held.value) }
      const gone = held.gone
      await delay(held.slow)
      return gone
        ? HttpResponse.json({ detail: 'It does not exist, or no longer.' }, { status: 404 })
        : HttpResponse.json(now)
    }),
    http.put('*/api/people/:id', async ({ request }) => {
      const body = (await request.json()) as { rev: number; value: Record<string, unknown> }
      await delay(held.slow)
      if (!held.signedIn) return HttpResponse.json({ detail: 'Sign in first' }, { status: 401 })
      held.saves.push(body.value)
      if (held.refuses)
        return HttpResponse.json(
          { detail: `Not saved: ${held.refuses.message}`, errors: [held.refuses] },
          { status: 422 },
        )
      if (body.rev !== held.rev) return HttpResponse.json({ detail: 'changed by Robin' }, { status: 409 })
      held.value = body.value
      held.rev++
      return HttpResponse.json({ rev: held.rev, value: held.value })
    }),
  )
}

export function useServer() {
  beforeAll(() => server.listen({ onUnhandledRequest: 'error' }))
  afterEach(() => server.resetHandlers())
  afterAll(() => server.close())
}
