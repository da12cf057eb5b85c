import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bitsOf, lay, partsOf, rangesOf, type Layout } from './layout'

const standard: Layout = {
  name: '26-bit',
  bits: 26,
  facility: { first: 2, bits: 8 },
  number: { first: 10, bits: 16 },
  parity: [
    { bit: 1, over: '2-13' },
    { bit: 26, over: '14-25', odd: true },
  ],
}

describe('the layout of a card format', () => {
  it('writes ranges as it reads them', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 1, max: 256 })), (bits) => {
        expect(bitsOf(rangesOf(bits))).toEqual([...bits].sort((a, b) => a - b))
      }),
    )
    expect(bitsOf('9-3')).toEqual([])
    expect(bitsOf('2-3, 7')).toEqual([2, 3, 7])
  })

  it('says what each bit is', () => {
    const parts = partsOf(standard)
    expect(parts.map((p) => p.part[0]).join('')).toBe('p' + 'f'.repeat(8) + 'n'.repeat(16) + 'p')
    expect(parts[12]!.watched).toEqual([0])
    expect(parts[13]!.watched).toEqual([1])
  })

  it('never leaves a bit in two parts', () => {
    const tool = fc.constantFrom('facility', 'number', 'zero', 'one', 'nothing', 'parity 0', 'watch 1')
    fc.assert(
      fc.property(
        fc.array(fc.tuple(tool, fc.integer({ min: 1, max: 26 }), fc.integer({ min: 0, max: 25 }))),
        (steps) => {
          let o = standard
          for (const [t, from, more] of steps) o = lay(o, t as 'facility', from, Math.min(26, from + more))
          for (const f of [o.facility, o.number]) if (f?.bits) expect(f.first + f.bits - 1).toBeLessThanOrEqual(26)
          const fixed = (o.fixed ?? []).map((f) => f.bit)
          expect(new Set(fixed).size).toBe(fixed.length)
          const inside = (f: typeof o.number | undefined, n: number) =>
            !!f?.bits && n >= f.first && n < f.first + f.bits
          for (let n = 1; n <= 26; n++)
            expect([inside(o.facility, n), inside(o.number, n), fixed.includes(n)].filter(Boolean).length).toBeLessThan(
              2,
            )
        },
      ),
    )
  })

  it('lays a field over another, which gives way', () => {
    const o = lay(standard, 'facility', 2, 13)
    expect(o.facility).toEqual({ first: 2, bits: 12 })
    expect(o.number).toEqual({ first: 14, bits: 12 })
    expect(lay(o, 'watch 0', 14, 15).parity![0]!.over).toBe('2-15')
    expect(lay(lay(o, 'watch 0', 14, 15), 'watch 0', 14, 15).parity![0]!.over).toBe('2-13')
  })
})
