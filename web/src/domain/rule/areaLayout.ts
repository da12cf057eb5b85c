import type { Schemas } from '../../api/client'

export type Room = { id: number; name: string; inside: number; most: number; x: number; y: number }
export type Arrow = { id: number; name: string; out: boolean; x1: number; y1: number; x2: number; y2: number }
export type Layout = {
  rooms: Room[]
  arrows: Arrow[]
  outside: { x: number; y: number; height: number }
  w: number
  h: number
}

export const roomWidth = 168
export const roomHeight = 70
const gapX = 150
const gapY = 34
const edge = 14

/**
 * Where areas are drawn: the outside is a strip on the left, and each area stands as many columns from it as doors are to
 * be passed to get there. Doors are arrows between them.
 */
export function areaLayout(areas: Schemas['AreaNow'][]): Layout {
  const ways = [...new Map(areas.flatMap((a) => a.ways.map((w) => [w.id, w] as const))).values()]
  const depth = new Map<string, number>([['outside', 0]])
  for (let grew = true; grew;) {
    grew = false
    for (const w of ways)
      for (const [a, b] of [
        [w.from, w.to],
        [w.to, w.from],
      ] as const)
        if (depth.has(a) && !depth.has(b)) {
          depth.set(b, depth.get(a)! + 1)
          grew = true
        }
  }
  const rows: number[] = []
  const at = new Map<string, Room>()
  for (const a of areas) {
    const column = depth.get(a.name) ?? 1
    const row = (rows[column] = (rows[column] ?? -1) + 1)
    at.set(a.name, {
      ...{ id: a.id, name: a.name, inside: a.inside, most: a.most ?? 0 },
      x: edge + column * (roomWidth + gapX),
      y: edge + row * (roomHeight + gapY),
    })
  }
  const tall = Math.max(1, ...Object.values(rows).map((n) => n + 1))
  const h = 2 * edge + tall * roomHeight + (tall - 1) * gapY
  const strip = { x: edge, y: edge, height: h - 2 * edge }
  const many = new Map<string, number>() // doors between the same two
  const arrows = ways.map((w) => {
    const [a, b] = [at.get(w.from), at.get(w.to)]
    const pair = [w.from, w.to].sort().join('|')
    const nth = many.get(pair) ?? 0
    many.set(pair, nth + 1)
    const middle = (r: Room | undefined, other: Room | undefined) => (r ?? other!).y + roomHeight / 2 - 16 + nth * 30
    const [ax, bx] = [a?.x ?? strip.x, b?.x ?? strip.x]
    const y1 = middle(a, b)
    const y2 = middle(b, a)
    const [x1, x2] =
      ax < bx
        ? [ax + roomWidth + 5, bx - 6]
        : ax > bx
          ? [ax - 5, bx + roomWidth + 6]
          : [ax + roomWidth / 2, bx + roomWidth / 2]
    if (ax !== bx) return { id: w.id, name: w.name, out: w.out, x1, y1, x2, y2 }
    const down = (a?.y ?? 0) < (b?.y ?? 0)
    return {
      ...{ id: w.id, name: w.name, out: w.out, x1, x2 },
      y1: (a?.y ?? 0) + (down ? roomHeight + 4 : -4),
      y2: (b?.y ?? 0) + (down ? -5 : roomHeight + 5),
    }
  })
  const columns = Math.max(1, ...[...at.values()].map((r) => Math.round((r.x - edge) / (roomWidth + gapX))))
  return { rooms: [...at.values()], arrows, outside: strip, w: 2 * edge + roomWidth + columns * (roomWidth + gapX), h }
}
