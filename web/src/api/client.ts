import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Mode = Schemas['Segment']['mode']

export const api = createClient<paths>({ baseUrl: '' })

/** What the server said against a request: a sentence, and what is wrong with which field. */
export class Trouble extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: Record<string, string> = {},
  ) {
    super(message)
  }
}

/** What is wrong, in words, where nothing was to be saved; empty where nothing is. */
export const whatIsWrong = (e: unknown) => (e as Error | null)?.message.replace(/^Not saved: /, '') ?? ''

type Answer<T> = { data?: T; error?: unknown; response: Response }

/** Waits for an answer; throws Trouble for any but a good one. */
export async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await request
  } catch {
    throw new Trouble(0, 'The server does not answer. What you typed is still here; try again in a moment.')
  }
  if (answer.response.ok) return answer.data as T
  const problem = (answer.error ?? {}) as Partial<Schemas['ErrorModel']>
  const fields: Record<string, string> = {}
  for (const e of problem.errors ?? []) fields[(e.location ?? '').replace(/^body\.(value\.)?/, '')] = e.message ?? ''
  const details = Object.entries(fields).map(([field, words]) => (field ? `${field}: ${words}` : words))
  const bare = !problem.detail || problem.detail === 'validation failed'
  throw new Trouble(
    answer.response.status,
    bare ? details.join('; ') || 'That did not work; nothing was written.' : problem.detail!,
    fields,
  )
}
