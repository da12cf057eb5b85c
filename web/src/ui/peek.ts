import { api, ask, type Schemas } from '../api/client'
import { inClock } from '../clock'
import { fetchObject } from '../core/query'
import { useSite } from '../core/site'
import { many, typeWords } from '../words'

/** A line of a peek: words, or things that have peeks of their own. */
export type PeekLine = { words?: string; mono?: boolean; things?: { kind: string; id: number; name?: string }[] }

/** What matters of a thing, for looking at it in passing. */
export async function peek(kind: string, id: number, signal: AbortSignal): Promise<PeekLine[]> {
  const site = useSite()
  switch (kind) {
    case 'level':
      return level((await fetchObject('level', id, signal)).value)
    case 'door': {
      const s = await ask(api.GET('/api/doors/{id}/sheet', { params: { path: { id } }, signal }))
      return [
        { words: inClock(s.sentence.replaceAll('**', '')) },
        ...s.findings.map((f) => ({ words: inClock(f.words) })),
      ]
    }
    case 'schedule': {
      const v = (await fetchObject('schedule', id, signal)).value
      const t = await ask(api.POST('/api/hours/schedule', { body: { schedule: v, do: 'show' }, signal }))
      return t.text.split('; ').map((words) => ({ words, mono: true }))
    }
    case 'plan': {
      const v = (await fetchObject('plan', id, signal)).value
      const t = await ask(api.POST('/api/hours/plan', { body: { plan: v, do: 'show' }, signal }))
      return [
        ...t.text
          .split(/[,;] (?=[A-Z])/)
          .filter(Boolean)
          .map((words) => ({ words, mono: true })),
        { words: `otherwise ${v.default}` },
      ]
    }
    case 'person': {
      const p = (await fetchObject('person', id, signal)).value
      return [
        ...(p.departmentIds.length
          ? [{ things: p.departmentIds.map((d) => ({ kind: 'department', id: d })) }]
          : [{ words: 'in no department' }]),
        ...(p.suspended ? [{ words: 'suspended' }] : []),
        {
          words:
            p.credentials
              .map((c) => `${c.kind} ${c.value}${c.status === 'active' ? '' : `, ${c.status}`}`)
              .join('; ') || 'no card',
        },
        ...granted(p.levels),
      ]
    }
    case 'department': {
      const d = (await fetchObject('department', id, signal)).value
      return d.levels.length ? granted(d.levels) : [{ words: 'Gives its members nothing.' }]
    }
    case 'controller': {
      const c = (await fetchObject('controller', id, signal)).value
      const u = site.units.find((x) => x.id === id)
      return [
        { words: `${c.model}, serial ${c.serial}` },
        { words: u?.online ? `online at ${u.address}` : `offline: ${u?.trouble ?? ''}` },
      ]
    }
    case 'door set': {
      const s = (await fetchObject('door set', id, signal)).value
      return s.doorIds.map((d) => ({ things: [{ kind: 'door', id: d, name: site.doorName(d) }] }))
    }
    case 'dated change': {
      const c = (await fetchObject('dated change', id, signal)).value
      return [
        { words: inClock(`${c.mode}, ${c.from.replace('T', ' ')} until ${c.until.replace('T', ' ')}`) },
        { words: c.recurs ? 'recurring' : 'once' },
      ]
    }
    case 'holiday': {
      const h = (await fetchObject('holiday', id, signal)).value
      const e = await ask(api.POST('/api/holiday-effect', { params: { query: {} }, body: h, signal }))
      return [
        { words: e.date || 'no date to come in 13 months' },
        ...(e.next.length ? [{ words: `then ${e.next.join(', ')}` }] : []),
        { things: [{ kind: 'holiday type', id: h.typeId }] },
        {
          words: h.siteIds.length
            ? h.siteIds.map((s) => site.placeWords({ kind: 'site', id: s })).join(', ')
            : 'everywhere',
        },
      ]
    }
    case 'holiday type': {
      const t = (await fetchObject('holiday type', id, signal)).value
      return [{ words: typeWords(t) }]
    }
    case 'floor':
      return site.doors
        .filter((d) => d.floorId === id)
        .map((d) => ({ things: [{ kind: 'door', id: d.id, name: d.name }] }))
    case 'site': {
      const s = site.overview?.sites.find((x) => x.id === id)
      return [
        { words: s?.zone ?? '' },
        ...(s?.floors ?? []).map((f) => ({ things: [{ kind: 'floor', id: f.id, name: f.name }] })),
      ]
    }
  }
  return []
}

/** What somebody is given: levels, and places each during a schedule. */
function granted(list: Schemas['Grant'][]): PeekLine[] {
  const site = useSite()
  const levels = list.filter((g) => g.levelId)
  return [
    ...(levels.length ? [{ things: levels.map((g) => ({ kind: 'level', id: g.levelId! })) }] : []),
    ...list
      .filter((g) => !g.levelId && g.target)
      .map((g) => ({
        things: [
          { kind: '', id: 0, name: site.placeWords(g.target!) },
          { kind: 'schedule', id: g.scheduleId! },
        ],
      })),
  ]
}

function level(l: Schemas['Level']): PeekLine[] {
  const site = useSite()
  const doors = l.entries.map((e) => ({
    things: [
      e.target.kind === 'door'
        ? { kind: 'door', id: e.target.id!, name: site.doorName(e.target.id!) }
        : { kind: '', id: 0, name: site.placeWords(e.target) },
      { kind: 'schedule', id: e.scheduleId },
    ],
  }))
  return [
    ...(l.opensDay ? [{ words: 'opens the day' }] : []),
    ...(l.includes?.length ? [{ things: l.includes.map((i) => ({ kind: 'level', id: i })) }] : []),
    { words: l.entries.length ? many(l.entries.length, 'place', 'places') : 'Opens no door.' },
    ...doors,
  ]
}
