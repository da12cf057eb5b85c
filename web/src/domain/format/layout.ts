import type { Schemas } from '../../api/client'

export type Layout = Schemas['OwnFormat']

/** What a bit of a format is. Watched are the parity bits that watch it, counted from 0. */
export type Bit = {
  n: number
  part: 'facility' | 'number' | 'parity' | 'fixed' | 'none'
  parity: number
  one: boolean
  watched: number[]
}

/** The bits of a range text such as 2-3,5-6; nothing of what cannot be read. */
export function bitsOf(over: string): number[] {
  return over.split(',').flatMap((part) => {
    const m = /^\s*(\d+)(?:\s*-\s*(\d+))?\s*$/.exec(part)
    if (!m) return []
    const [a, b] = [Number(m[1]), Number(m[2] ?? m[1])]
    return b < a || b > 256 ? [] : Array.from({ length: b - a + 1 }, (_, i) => a + i)
  })
}

/** The same bits as a text, in their order. */
export function rangesOf(bits: number[]): string {
  const list = [...new Set(bits)].sort((a, b) => a - b)
  const out: string[] = []
  for (let i = 0; i < list.length; i++) {
    let k = i
    while (list[k + 1] === list[k]! + 1) k++
    out.push(k === i ? `${list[i]}` : `${list[i]}-${list[k]}`)
    i = k
  }
  return out.join(',')
}

const within = (f: { first: number; bits: number } | undefined, n: number) =>
  !!f && f.bits > 0 && n >= f.first && n < f.first + f.bits

/** What each bit of a layout is, from the first on. */
export function partsOf(o: Layout): Bit[] {
  const over = (o.parity ?? []).map((p) => new Set(bitsOf(p.over)))
  return Array.from({ length: Math.min(o.bits, 256) }, (_, i) => {
    const n = i + 1
    const parity = (o.parity ?? []).findIndex((p) => p.bit === n)
    const fixed = (o.fixed ?? []).find((f) => f.bit === n)
    const part = within(o.facility, n)
      ? 'facility'
      : within(o.number, n)
        ? 'number'
        : parity >= 0
          ? 'parity'
          : fixed
            ? 'fixed'
            : 'none'
    return { n, part, parity, one: !!fixed?.one, watched: over.flatMap((s, k) => (s.has(n) ? [k] : [])) }
  })
}

/** What can be laid over bits. */
export type Tool = 'facility' | 'number' | 'zero' | 'one' | 'nothing' | `parity ${number}` | `watch ${number}`

const cut = (f: { first: number; bits: number } | undefined, from: number, to: number) => {
  if (!f || f.bits === 0 || to < f.first || from >= f.first + f.bits) return f
  const [last, a, b] = [f.first + f.bits - 1, from - f.first, f.first + f.bits - 1 - to]
  return a >= b && a > 0
    ? { first: f.first, bits: a }
    : b > 0
      ? { first: to + 1, bits: last - to }
      : { first: 0, bits: 0 }
}

/** Lays something over a range of bits; what lay there gives way, but for what parity bits watch. */
export function lay(o: Layout, tool: Tool, from: number, to: number): Layout {
  const [kind, at] = tool.split(' ')
  if (kind === 'watch') {
    const parity = (o.parity ?? []).map((p, i) => {
      if (i !== Number(at)) return p
      const was = new Set(bitsOf(p.over))
      const range = Array.from({ length: to - from + 1 }, (_, k) => from + k).filter((n) => n !== p.bit)
      const all = range.every((n) => was.has(n))
      for (const n of range)
        if (all) was.delete(n)
        else was.add(n)
      return { ...p, over: rangesOf([...was]) }
    })
    return { ...o, parity }
  }
  const out: Layout = {
    ...o,
    facility: cut(o.facility, from, to),
    number: cut(o.number, from, to) ?? { first: 0, bits: 0 },
    fixed: (o.fixed ?? []).filter((f) => f.bit < from || f.bit > to),
  }
  if (kind === 'facility') out.facility = { first: from, bits: to - from + 1 }
  if (kind === 'number') out.number = { first: from, bits: to - from + 1 }
  if (kind === 'parity') out.parity = (o.parity ?? []).map((p, i) => (i === Number(at) ? { ...p, bit: from } : p))
  if (kind === 'zero' || kind === 'one')
    out.fixed = [
      ...out.fixed!,
      ...Array.from({ length: to - from + 1 }, (_, i) => ({ bit: from + i, one: kind === 'one' })),
    ].sort((a, b) => a.bit - b.bit)
  return out
}
