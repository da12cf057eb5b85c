import { copy, same } from './merge'

/** The states that something went through, for going back and forth between them. */
export type Steps<T> = { past: T[]; now: T; future: T[] }

const most = 100

export const begin = <T>(now: T): Steps<T> => ({ past: [], now: copy(now), future: [] })

/** Takes a new state; with `same step` it goes on with the one before, as letters of one word do. */
export function take<T>(s: Steps<T>, now: T, sameStep = false): Steps<T> {
  if (same(s.now, now)) return s
  if (sameStep && s.past.length && !s.future.length) return { past: s.past, now: copy(now), future: [] }
  return { past: [...s.past, s.now].slice(-most), now: copy(now), future: [] }
}

export function back<T>(s: Steps<T>): Steps<T> {
  const was = s.past.at(-1)
  return was === undefined ? s : { past: s.past.slice(0, -1), now: was, future: [s.now, ...s.future] }
}

export function forth<T>(s: Steps<T>): Steps<T> {
  const next = s.future[0]
  return next === undefined ? s : { past: [...s.past, s.now], now: next, future: s.future.slice(1) }
}
