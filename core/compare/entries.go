package compare

import (
	"amberkeystone/core/site"
)

// hold is a level that somebody holds, before and after.
type hold struct {
	level   site.ID
	was, is bounds
}

// entry is one way through a door: a level and its schedule, and whether it was there before and is there after; of
// somebody's, also when they hold the level.
type entry struct {
	level, door, schedule site.ID
	was, is               bool
	disarms               [2]bool // who holds it may disarm the alarm area of the door, where it has one
	held                  [2]bounds
}

// of is the way for somebody who holds the level.
func (e entry) of(h hold) entry {
	e.was, e.is = e.was && h.was != bounds{}, e.is && h.is != bounds{}
	e.held = [2]bounds{}
	if e.was {
		e.held[0] = h.was
	}
	if e.is {
		e.held[1] = h.is
	}
	e.disarms[0], e.disarms[1] = e.was && e.disarms[0], e.is && e.disarms[1]
	return e
}

// differs reports whether it leads somewhere at other times before and after, were the schedules the same.
func (e entry) differs() bool {
	return e.was != e.is || e.held[0] != e.held[1] || e.was && e.disarms[0] != e.disarms[1]
}

// cannot tells what it cannot be by this entry, where the same is held and only who may disarm differs.
func (e entry) cannot() turns {
	if e.was != e.is || e.held[0] != e.held[1] {
		return turns{}
	}
	return turns{gains: e.disarms[0], loses: e.disarms[1]}
}

// entries lists where each level leads, before and after.
func (x *contrast) entries() map[site.ID][]entry {
	out := map[site.ID][]entry{}
	note := func(c *site.Config, side int, mark func(*entry)) {
		levels, places := c.Levels, site.NewPlaces(c)
		for i := range levels {
			l := &levels[i]
			type leads struct{ door, schedule site.ID }
			at := map[leads]int{}
			for k, e := range out[l.ID] {
				at[leads{e.door, e.schedule}] = k
			}
			for _, e := range places.Entries(l) {
				if !e.Side.Takes(false) { // who comes in is what counts here
					continue
				}
				for _, door := range leadsTo(places, &e) {
					k, ok := at[leads{door, e.ScheduleID}]
					if !ok {
						k = len(out[l.ID])
						at[leads{door, e.ScheduleID}] = k
						out[l.ID] = append(out[l.ID], entry{level: l.ID, door: door, schedule: e.ScheduleID})
					}
					mark(&out[l.ID][k])
					out[l.ID][k].disarms[side] = l.Disarms && x.guards[side][door] != 0
				}
			}
		}
	}
	note(x.was, 0, func(e *entry) { e.was = true })
	note(x.is, 1, func(e *entry) { e.is = true })
	return out
}

// leadsTo is the door that a level comes to; of an elevator each stop that it means.
func leadsTo(places *site.Places, e *site.Covered) []site.ID {
	if e.Stops == (site.StopSet{}) {
		return []site.ID{e.DoorID}
	}
	var out []site.ID
	for _, floor := range places.Floors(e) {
		if id, ok := site.StopID(e.DoorID, floor); ok {
			out = append(out, id)
		}
	}
	return out
}
