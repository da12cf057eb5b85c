import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  act,
  day,
  edgeAt,
  gap,
  high,
  lying,
  marked,
  snap,
  spotAt,
  stretched,
  top,
  type Act,
  type Hand,
  type Line,
} from './painter'

const line = (typeId: number, d: number, ...pieces: [number, number][]): Line => ({
  row: { day: d, typeId },
  label: '',
  pieces: pieces.map(([start, end]) => ({ start, end })),
  tail: [],
})
/** Seven weekdays and a holiday type; Monday 08:00–17:00, Sunday from 22:00 into Monday 06:00. */
const lines = [0, 1, 2, 3, 4, 5, 6].map((d) =>
  line(0, d, ...(d === 0 ? [[480, 1020] as [number, number]] : d === 6 ? [[1320, 1800] as [number, number]] : [])),
)
lines.push(line(9, 0, [600, 900]))
const rest: Hand = { cursor: { line: 0, minute: 480 }, pressed: false }
/** What comes of acts one after the other. */
const after = (acts: Act[], hand = rest) =>
  acts.reduce<{ hand: Hand; out: unknown[] }>(
    (s, a) => {
      const [h, o] = act(s.hand, a, lines)
      return { hand: h, out: [...s.out, ...o] }
    },
    { hand, out: [] },
  )
const keys = (...names: string[]): Act[] => names.map((k) => ({ do: 'key', key: k }))
const spot = (l: number, minute: number) => ({ line: l, minute })

describe('pointing', () => {
  it('finds the line and the step of five minutes, and stays on the grid', () => {
    expect(spotAt(0, 0, 720, 8)).toEqual(spot(0, 0))
    expect(spotAt(241, high * 3 + 1, 720, 8)).toEqual(spot(3, 480))
    expect(spotAt(-50, -50, 720, 8)).toEqual(spot(0, 0))
    expect(spotAt(5000, 5000, 720, 8)).toEqual(spot(7, day))
    expect(spotAt(0, top(7) + 1, 720, 8).line).toBe(7)
    expect(spotAt(0, 7 * high + gap / 2 - 1, 720, 8).line).toBe(7) // the upper half of the gap is clamped below Sunday
  })
  it('is undone by drawing: the middle of a drawn line is that line', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 7 }),
        fc.integer({ min: 0, max: 288 }),
        fc.integer({ min: 300, max: 2000 }),
        (l, s, width) => {
          const minute = s * snap
          expect(spotAt((minute / day) * width, top(l) + high / 2, width, 8)).toEqual(spot(l, minute))
        },
      ),
    )
  })
  it('catches an edge within six pixels, and of a short piece a third of it', () => {
    expect(edgeAt(240 + 5, 5, 720, lines)).toMatchObject({ line: 0, end: false, minute: 480 })
    expect(edgeAt(510 - 5, 5, 720, lines)).toMatchObject({ end: true, minute: 1020 })
    expect(edgeAt(240 + 9, 5, 720, lines)).toBeUndefined()
    const short = [line(0, 0, [480, 490])]
    expect(edgeAt(243, 5, 720, short)).toBeUndefined() // 6 min of 10: neither end
    expect(edgeAt(240, 5, 720, short)).toMatchObject({ end: false })
    expect(edgeAt(719, top(6) + 5, 720, lines)).toBeUndefined() // it ends on the day after
  })
})

describe('a hand', () => {
  it('paints from where it presses to where it lets go, in either direction, over the lines between', () => {
    const one = after([{ do: 'press', at: spot(1, 600) }, { do: 'move', at: spot(3, 720) }, { do: 'release' }])
    const other = after([{ do: 'press', at: spot(3, 720) }, { do: 'move', at: spot(1, 600) }, { do: 'release' }])
    const stroke = { is: 'stroke', first: 1, last: 3, period: { start: 600, end: 720 } }
    expect(one.out).toEqual([{ is: 'at', line: 1 }, stroke])
    expect(other.out).toEqual([{ is: 'at', line: 3 }, stroke])
  })
  it('chooses what lies where it presses and lets go; a night belongs to its evening', () => {
    expect(after([{ do: 'press', at: spot(0, 600) }, { do: 'release' }]).out[1]).toMatchObject({
      is: 'choose',
      line: 0,
      piece: { start: 480 },
    })
    expect(lying(lines, spot(0, 120))).toMatchObject({ line: 6, piece: { end: 1800 } })
    expect(lying(lines, spot(1, 120))).toEqual({ line: 1 })
    expect(lying(lines, spot(7, 100))).toEqual({ line: 7 }) // a holiday type has no evening before
    expect(
      after([{ do: 'press', at: spot(0, 600) }, { do: 'move', at: spot(2, 600) }, { do: 'release' }]).out,
    ).toHaveLength(1)
  })
  it('stretches by an edge, never inside out, and lets what lasts past midnight end there', () => {
    const monday = lines[0]!.pieces[0]!
    const pull = (end: boolean, minute: number) => stretched({ line: 0, piece: monday, end, minute })
    expect(pull(true, 1080)).toEqual({ start: 480, end: 1080 })
    expect(pull(true, 60)).toEqual({ start: 480, end: 485 })
    expect(pull(false, 1400)).toEqual({ start: 1015, end: 1020 })
    const night = lines[6]!.pieces[0]!
    expect(stretched({ line: 6, piece: night, end: false, minute: 1440 })).toEqual({ start: 1435, end: 1800 })
    const edge = { line: 0, piece: monday, end: true, minute: 1020 }
    const held = after([{ do: 'press', at: spot(0, 1020), edge }, { do: 'release' }])
    expect(held.out[1]).toMatchObject({ is: 'choose' })
    const moved = after([
      { do: 'press', at: spot(0, 1020), edge },
      { do: 'move', at: spot(4, 1080) },
      { do: 'release' },
    ])
    expect(moved.out[1]).toMatchObject({ is: 'stretch', line: 0, period: { start: 480, end: 1080 } })
  })
})

describe('keys', () => {
  it('walk, mark with Enter, paint with the second, and drop the mark with Escape', () => {
    const s = after(keys('ArrowDown', 'Enter', 'ArrowRight', 'ArrowRight', 'ArrowDown', 'Enter'))
    expect(s.out.at(-1)).toEqual({ is: 'stroke', first: 1, last: 2, period: { start: 480, end: 490 } })
    expect(
      after(keys('Enter', 'End', 'Escape', 'Delete')).out.filter((o) => (o as { is: string }).is !== 'at'),
    ).toEqual([])
    expect(after([{ do: 'key', key: 'ArrowRight', shift: true }]).hand.cursor.minute).toBe(540)
  })
  it('wipe what is marked, or the piece under them', () => {
    expect(after(keys('Delete')).out).toEqual([{ is: 'wipe', first: 0, last: 0, period: { start: 480, end: 1020 } }])
    expect(after(keys('Enter', 'ArrowRight', 'Backspace')).out.at(-1)).toEqual({
      is: 'wipe',
      first: 0,
      last: 0,
      period: { start: 480, end: 485 },
    })
    expect(after(keys('ArrowDown', 'Delete')).out).toHaveLength(1)
  })
})

it('whatever a hand does, it stays on the grid and asks for whole steps within the day', () => {
  const at = fc.record({
    line: fc.integer({ min: 0, max: 7 }),
    minute: fc.integer({ min: 0, max: 288 }).map((n) => n * snap),
  })
  const acts = fc.array(
    fc.oneof(
      at.map((a): Act => ({ do: 'press', at: a })),
      at.map((a): Act => ({
        do: 'press',
        at: a,
        edge: { line: 0, piece: lines[0]!.pieces[0]!, end: a.minute > 600, minute: a.minute },
      })),
      at.map((a): Act => ({ do: 'move', at: a })),
      fc.constant<Act>({ do: 'release' }),
      fc.record({
        do: fc.constant('key' as const),
        key: fc.constantFrom(
          'ArrowRight',
          'ArrowLeft',
          'ArrowUp',
          'ArrowDown',
          'Home',
          'End',
          'Enter',
          'Delete',
          'e',
          'Escape',
          'x',
        ),
        shift: fc.boolean(),
      }),
    ),
  )
  fc.assert(
    fc.property(acts, (list) => {
      const { hand, out } = after(list)
      const { first, last, period } = marked(hand)
      for (const p of [
        period,
        ...out.flatMap((o) =>
          (o as { period?: typeof period }).period ? [(o as { period: typeof period }).period] : [],
        ),
      ]) {
        expect(p.start).toBeGreaterThanOrEqual(0)
        expect(p.end - p.start).toBeGreaterThanOrEqual(snap)
        expect(p.start % snap).toBe(0)
        // A piece that is wiped whole may last past midnight.
        const whole = lines.some((l) => l.pieces.some((x) => x.start === p.start && x.end === p.end))
        expect(p.end).toBeLessThanOrEqual(whole ? 2 * day : day)
      }
      expect(first).toBeLessThanOrEqual(last)
      expect(hand.cursor.line).toBeGreaterThanOrEqual(0)
      expect(hand.cursor.line).toBeLessThan(lines.length)
    }),
  )
})
