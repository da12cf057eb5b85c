import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { copy, merge, put, same } from './merge'

const field = fc.oneof(
  fc.integer(),
  fc.string({ maxLength: 4 }),
  fc.boolean(),
  fc.array(fc.integer(), { maxLength: 3 }),
)
const inner = fc.record({ fitted: fc.boolean(), keypad: fc.boolean() })
const doc = fc.record({ name: field, unlock: field, takes: field, in: inner }, { requiredKeys: ['in'] })

describe('merge', () => {
  it('gives whoever changed alone what they wrote', () => {
    fc.assert(
      fc.property(doc, doc, (base, other) => {
        expect(merge(base, other, base)).toEqual({ value: copy(other), clashes: [] })
        expect(merge(base, base, other)).toEqual({ value: copy(other), clashes: [] })
        expect(merge(base, other, other).clashes).toEqual([])
      }),
    )
  })
  it('keeps both changes of different fields', () => {
    fc.assert(
      fc.property(doc, fc.string(), fc.integer(), (base, name, unlock) => {
        const m = merge<Record<string, unknown>>(
          { ...base },
          { ...base, name: `mine ${name}` },
          { ...base, unlock: [unlock] },
        )
        expect(m.clashes).toEqual([])
        expect(m.value).toMatchObject({ name: `mine ${name}`, unlock: [unlock] })
      }),
    )
  })
  it('tells a clash exactly where both changed a field otherwise, and mine stands', () => {
    fc.assert(
      fc.property(doc, doc, doc, (base, mine, theirs) => {
        const m = merge<Record<string, unknown>>(base, mine, theirs)
        for (const k of ['name', 'unlock', 'takes'] as const) {
          const clash = !same(base[k], mine[k]) && !same(base[k], theirs[k]) && !same(mine[k], theirs[k])
          expect(m.clashes.some((c) => c.path === k)).toBe(clash)
          expect(same(m.value[k], same(base[k], mine[k]) ? theirs[k] : mine[k])).toBe(true)
        }
        for (const c of m.clashes) put(m.value, c.path, c.theirs)
        for (const c of m.clashes)
          expect(
            same(
              c.path.split('.').reduce<unknown>((v, p) => (v as Record<string, unknown>)?.[p], m.value),
              c.theirs,
            ),
          ).toBe(true)
      }),
    )
  })
  it('goes into fields that have fields', () => {
    const base = { in: { fitted: true, keypad: false } }
    const m = merge(base, { in: { fitted: true, keypad: true } }, { in: { fitted: false, keypad: false } })
    expect(m).toEqual({ value: { in: { fitted: false, keypad: true } }, clashes: [] })
  })
  it('takes a field that is not there as one that is undefined', () => {
    expect(same({ a: 1, b: undefined }, { a: 1 })).toBe(true)
    expect(same({ a: 1, b: '' }, { a: 1 })).toBe(false)
  })
})
