import type { Piece, Row } from './week'

/** What a hand does on a painted week, worked out without a page: where it points, and what comes of a stroke. */

export type Period = { start: number; end: number }
/** One line of the painter: a weekday, or the days of a holiday type. */
export type Line = { row: Row; label: string; pieces: Piece[]; tail: Piece[]; words?: string }
/** A minute of a line; minutes are whole steps of five. */
export type Spot = { line: number; minute: number }
/** The start or the end of a piece, held at a minute. */
export type Edge = { line: number; piece: Piece; end: boolean; minute: number }

export type Hand = { cursor: Spot; anchor?: Spot; pressed: boolean; edge?: Edge }
export type Act =
  | { do: 'press'; at: Spot; edge?: Edge }
  | { do: 'move'; at: Spot }
  | { do: 'release' }
  | { do: 'key'; key: string; shift?: boolean }
/** What comes of it. Lines are from the first through the last. */
export type Outcome =
  | { is: 'at'; line: number }
  | { is: 'stroke'; first: number; last: number; period: Period }
  | { is: 'wipe'; first: number; last: number; period: Period }
  | { is: 'stretch'; line: number; piece: Piece; period: Period }
  | { is: 'choose'; line: number; piece?: Piece }

export const snap = 5
export const day = 1440
const weekdays = 7
/** Heights in pixels: of a line, and of the gap between the weekdays and the holiday types. */
export const high = 32
export const gap = 14
/** An edge is caught within so many pixels. */
const reach = 6

const clamp = (v: number, low: number, most: number) => Math.max(low, Math.min(most, v))
export const top = (line: number) => line * high + (line >= weekdays ? gap : 0)

/** The line and the minute at a point of the grid, in pixels from its corner. */
export function spotAt(x: number, y: number, width: number, lines: number): Spot {
  const line = y < weekdays * high + gap / 2 ? Math.floor(y / high) : Math.floor((y - gap) / high)
  return {
    line: clamp(line, 0, lines - 1),
    minute: clamp(Math.round(((x / width) * day) / snap) * snap, 0, day),
  }
}

/** The edge of a piece under a point, within a few pixels; of a short piece not more than a third of it. */
export function edgeAt(x: number, y: number, width: number, lines: Line[]): Edge | undefined {
  const at = spotAt(x, y, width, lines.length)
  const exact = (x / width) * day
  const near = (reach / width) * day
  for (const piece of lines[at.line]?.pieces ?? [])
    for (const end of [false, true]) {
      const m = end ? piece.end : piece.start
      if (m <= day && Math.abs(m - exact) < Math.min(near, (piece.end - piece.start) / 3))
        return { line: at.line, piece, end, minute: m }
    }
  return undefined
}

/** What is marked between the anchor and the cursor: one step at least, within the day. */
export function marked({ cursor, anchor = cursor }: Hand): { first: number; last: number; period: Period } {
  const start = Math.min(anchor.minute, cursor.minute, day - snap)
  return {
    first: Math.min(anchor.line, cursor.line),
    last: Math.max(anchor.line, cursor.line),
    period: { start, end: Math.max(anchor.minute, cursor.minute, start + snap) },
  }
}

/** The piece with its edge where it is held. What lasts past midnight keeps its end, and a step of its evening. */
export function stretched({ piece, end, minute }: Edge): Period {
  return end
    ? { start: piece.start, end: Math.max(minute, piece.start + snap) }
    : { start: Math.min(minute, Math.min(piece.end, day) - snap), end: piece.end }
}

/** What lies at a spot: a piece of its line, or what is left there of the night before, which belongs to its evening. */
export function lying(lines: Line[], { line, minute }: Spot): { line: number; piece?: Piece } {
  const of = (l: number, m: number) => lines[l]?.pieces.find((p) => p.start <= m && m < p.end)
  const own = of(line, minute)
  if (own) return { line, piece: own }
  const before = line < weekdays ? (line + weekdays - 1) % weekdays : line
  const night = of(before, minute + day)
  return night ? { line: before, piece: night } : { line }
}

/** What the hand is after an act, and what comes of it. */
export function act(hand: Hand, a: Act, lines: Line[]): [Hand, Outcome[]] {
  switch (a.do) {
    case 'press': {
      const at: Outcome = { is: 'at', line: a.at.line }
      if (a.edge) return [{ ...hand, cursor: a.at, edge: a.edge }, [at]]
      return [{ cursor: a.at, anchor: a.at, pressed: true }, [at]]
    }
    case 'move':
      if (hand.edge) return [{ ...hand, edge: { ...hand.edge, minute: a.at.minute } }, []]
      return [hand.pressed ? { ...hand, cursor: a.at } : hand, []]
    case 'release':
      return release(hand, lines)
    case 'key':
      return key(hand, a.key, !!a.shift, lines)
  }
}

function release(hand: Hand, lines: Line[]): [Hand, Outcome[]] {
  const free: Hand = { cursor: hand.cursor, pressed: false }
  if (hand.edge) {
    const { line, piece } = hand.edge
    const period = stretched(hand.edge)
    const same = period.start === piece.start && period.end === piece.end
    return [
      { ...free, anchor: hand.anchor },
      [same ? { is: 'choose', line, piece } : { is: 'stretch', line, piece, period }],
    ]
  }
  if (!hand.pressed) return [hand, []]
  const { anchor, cursor } = hand
  if (anchor && anchor.minute !== cursor.minute) return [free, [{ is: 'stroke', ...marked(hand) }]]
  // Straight down or up marks no time: nothing is meant. On the spot, what lies there is.
  if (anchor && anchor.line !== cursor.line) return [free, []]
  return [free, [{ is: 'choose', ...lying(lines, cursor) }]]
}

function key(hand: Hand, name: string, shift: boolean, lines: Line[]): [Hand, Outcome[]] {
  const { line, minute } = hand.cursor
  const by = shift ? 60 : snap
  const moves: Record<string, [number, number]> = {
    ArrowRight: [line, minute + by],
    ArrowLeft: [line, minute - by],
    ArrowDown: [line + 1, minute],
    ArrowUp: [line - 1, minute],
    Home: [line, 0],
    End: [line, day],
  }
  const to = moves[name]
  if (to) {
    const cursor = { line: clamp(to[0], 0, lines.length - 1), minute: clamp(to[1], 0, day) }
    return [{ ...hand, cursor }, [{ is: 'at', line: cursor.line }]]
  }
  const free: Hand = { cursor: hand.cursor, pressed: false }
  switch (name) {
    case 'Enter':
      return hand.anchor ? [free, [{ is: 'stroke', ...marked(hand) }]] : [{ ...hand, anchor: hand.cursor }, []]
    case 'Delete':
    case 'Backspace': {
      if (hand.anchor) return [free, [{ is: 'wipe', ...marked(hand) }]]
      const p = lines[line]?.pieces.find((x) => x.start <= minute && minute < x.end)
      return [free, p ? [{ is: 'wipe', first: line, last: line, period: { start: p.start, end: p.end } }] : []]
    }
    case 'e':
    case 'E':
      return [hand, [{ is: 'choose', ...lying(lines, hand.cursor) }]]
    case 'Escape':
      return [free, []]
  }
  return [hand, []]
}

/** The keys that the painter answers to. */
export const paints = new Set([
  'ArrowRight',
  'ArrowLeft',
  'ArrowDown',
  'ArrowUp',
  'Home',
  'End',
  'Enter',
  'Delete',
  'Backspace',
  'e',
  'E',
  'Escape',
])
