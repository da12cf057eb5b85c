import fc from 'fast-check'
import { expect, it } from 'vitest'
import type { Schemas } from '../../api/client'
import { insert } from './events'

const event = (id: number, at: number) => ({ id, at }) as Schemas['Event']

it('puts every event where its own time does, once', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.record({ id: fc.nat(99), at: fc.nat(20) }), { selector: (x) => x.id, maxLength: 30 }),
      (list) => {
        let pages: Schemas['Event'][][] = [[]]
        for (const x of [...list, ...list]) pages = insert(pages, event(x.id, x.at))
        const want = [...list].sort((a, b) => b.at - a.at || b.id - a.id)
        expect(pages.flat().map((x) => x.id)).toEqual(want.map((x) => x.id))
      },
    ),
  )
})

it('keeps pages as they are where nothing goes into them', () => {
  const pages = [[event(9, 90)], [event(5, 50)]]
  const more = insert(pages, event(7, 70))
  expect(more.map((p) => p.map((e) => e.id))).toEqual([[9], [7, 5]])
  expect(more[0]).toBe(pages[0])
})
