import { describe, expect, it } from 'vitest'
import { areaLayout, roomHeight, roomWidth } from './areaLayout'

const way = (id: number, from: string, to: string) => ({ id, name: `door ${id}`, from, to, out: true })
const area = (id: number, name: string, ways: ReturnType<typeof way>[]) => ({
  ...{ id, name, words: '', inside: 0, people: [] },
  ways,
})

describe('where areas are drawn', () => {
  const lab = way(3, 'Hall', 'Lab')
  const l = areaLayout([
    area(1, 'Hall', [way(1, 'outside', 'Hall'), lab]),
    area(2, 'Vault', [way(2, 'outside', 'Vault')]),
    area(3, 'Lab', [lab]),
    area(4, 'Attic', []),
  ])
  const at = (name: string) => l.rooms.find((r) => r.name === name)!
  it('each as many columns from the outside as doors are passed', () => {
    expect(at('Hall').x).toBe(at('Vault').x)
    expect(at('Lab').x).toBeGreaterThan(at('Hall').x)
    expect(at('Attic').x).toBe(at('Hall').x)
  })
  it('no two rooms over each other, and all within the drawing', () => {
    for (const a of l.rooms) {
      expect(a.x + roomWidth).toBeLessThanOrEqual(l.w)
      expect(a.y + roomHeight).toBeLessThanOrEqual(l.h)
      for (const b of l.rooms)
        if (a !== b) expect(Math.abs(a.x - b.x) >= roomWidth || Math.abs(a.y - b.y) >= roomHeight).toBe(true)
    }
  })
  it('a door is one arrow, between its two rooms', () => {
    expect(l.arrows.map((w) => w.id)).toEqual([1, 3, 2])
    const w = l.arrows.find((x) => x.id === 3)!
    expect(w.x1).toBeGreaterThan(at('Hall').x + roomWidth)
    expect(w.x2).toBeLessThan(at('Lab').x)
  })
})
