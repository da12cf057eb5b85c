import fc from 'fast-check'
import { expect, it } from 'vitest'
import { back, begin, forth, take, type Steps } from './steps'

const states = fc.array(fc.record({ week: fc.array(fc.integer({ min: 0, max: 1440 }), { maxLength: 4 }) }), {
  minLength: 1,
  maxLength: 30,
})

it('comes back to the beginning, and forth to the end', () => {
  fc.assert(
    fc.property(states, (list) => {
      let s: Steps<unknown> = begin(list[0])
      for (const x of list) s = take(s, x)
      const end = s
      while (s.past.length) s = back(s)
      expect(s.now).toEqual(list[0])
      while (s.future.length) s = forth(s)
      expect(s).toEqual(end)
    }),
  )
})

it('undoes and does again as if nothing had been', () => {
  fc.assert(
    fc.property(states, fc.nat(10), (list, n) => {
      let s: Steps<unknown> = begin(list[0])
      for (const x of list) s = take(s, x)
      for (let i = 0; i < n; i++) s = back(s)
      expect(forth(back(s))).toEqual(s.past.length ? s : forth(s))
    }),
  )
})

it('takes letters of one word as one step, and nothing as none', () => {
  let s = begin({ name: '' })
  s = take(s, { name: 'A' })
  s = take(s, { name: 'Ad' }, true)
  s = take(s, { name: 'Ada' }, true)
  expect(take(s, { name: 'Ada' })).toBe(s)
  expect(back(s).now).toEqual({ name: '' })
})
