import type { Schemas } from '../api/client'
import type { Patch } from './live'

type Overview = Schemas['Overview']

/** The overview with a patch in it. Only what the patch names is made anew; one that is in it already changes nothing. */
export function patched(o: Overview, p: Patch): Overview {
  if (p.seq <= o.seq) return o
  const doors = new Map((p.doors ?? []).map((d) => [d.id, d]))
  const units = new Map((p.units ?? []).map((u) => [u.id, u]))
  const sites = !doors.size
    ? o.sites
    : o.sites.map((s) =>
        !s.floors.some((f) => f.doors.some((d) => doors.has(d.id)))
          ? s
          : {
              ...s,
              floors: s.floors.map((f) =>
                !f.doors.some((d) => doors.has(d.id))
                  ? f
                  : { ...f, doors: f.doors.map((d) => (doors.has(d.id) ? { ...doors.get(d.id)!, name: d.name } : d)) },
              ),
            },
      )
  const held = !units.size ? o.units : o.units.map((u) => units.get(u.id) ?? u)
  return { ...o, ...p.counts, seq: p.seq, sites, units: held }
}
