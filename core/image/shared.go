package image

import (
	"cmp"
	"slices"

	"amberkeystone/core/access"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Shared compiles the controllers of one zone that are run in one process, as in a World: they share whom they know,
// and each decides as if it held its own image.
type Shared struct {
	config  *site.Config
	times   *site.Timetable
	zone    *hours.Zone
	places  *site.Places
	people  *access.Directory
	levels  []access.Level
	level   map[site.ID]int32
	lengths map[pinned]bool
	instead map[int]bool // the sets of those whose PIN does instead of a card
}

// pinned is a set of levels of somebody with a PIN, and its length.
type pinned struct{ set, length int }

// NewShared makes ready for the controllers of a zone.
func NewShared(c *site.Config, times *site.Timetable, zone *hours.Zone) *Shared {
	c = c.Effective()
	s := &Shared{
		config: c, times: times, zone: zone, places: site.NewPlaces(c), level: make(map[site.ID]int32, len(c.Levels)),
		lengths: map[pinned]bool{}, instead: map[int]bool{}, people: access.NewDirectory(0),
	}
	if len(c.People) > 0 {
		s.people = access.NewDirectory(c.People[0].ID)
	}
	for i, l := range c.Levels {
		s.level[l.ID] = int32(i)
		s.levels = append(s.levels, access.Level{ID: l.ID, May: access.AuthorityOf(l.Authorities)})
	}
	sets := newSets(s.level, zone, s.people)
	for _, p := range c.People {
		if len(p.Levels) == 0 || len(p.Credentials) == 0 && p.PIN == nil {
			continue
		}
		x := person(p, c.Settings.PINLength, func(l site.ID) bool { _, ok := s.level[l]; return ok })
		set := sets.of(x.Levels)
		s.people.Add(x.known(zone, set))
		if p.PIN != nil {
			s.lengths[pinned{set, cmp.Or(x.PINLength, c.Settings.PINLength)}] = true
			s.instead[set] = s.instead[set] || p.PINInstead
		}
	}
	return s
}

// Compile prepares a controller of the zone.
func (s *Shared) Compile(controller site.ID, secrets Secrets) *Compiled {
	t := &access.Table{Directory: s.people, Zone: s.zone, Levels: s.levels}
	mine := &Image{Controller: controller}
	mine.wired(s.config)
	out := &Compiled{
		Inputs: mine.Inputs, Outputs: mine.Outputs, Table: t, Settings: s.config.Settings, PINKey: secrets.PINKey,
		level: s.level, Controller: controller,
	}
	out.Settings.Name = ""
	for _, d := range s.config.Doors {
		if d.ControllerID == controller {
			t.Doors = append(t.Doors, d)
		}
	}
	slices.SortFunc(t.Doors, func(a, b site.Door) int { return a.Port - b.Port })
	t.Accepts, t.Own = s.config.Settings.Accepts(nil), ownAccepts(&s.config.Settings, t.Doors)
	door := make(map[site.ID]int, len(t.Doors))
	for i, d := range t.Doors {
		door[d.ID] = i
		line := s.times.Door(d.ID)
		out.Lines, t.Calendars = append(out.Lines, line), append(t.Calendars, line.Calendar)
	}
	mineToo := make(map[site.ID]bool, len(door))
	for id := range door {
		mineToo[id] = true
	}
	out.Rules = rulesOf(s.config, controller, mineToo)
	t.SetWays(s.ways(t, door))
	out.members = out.Rules.members()
	out.timetable = func(id site.ID) *hours.Schedule { return s.times.Schedules[id] }
	for p := range s.lengths {
		if p.length > out.PINDigits && t.Known(p.set) {
			out.PINDigits = p.length
		}
	}
	for set, instead := range s.instead {
		t.Instead = t.Instead || instead && t.Known(set)
	}
	out.PINDigits = cmp.Or(out.PINDigits, s.config.Settings.PINLength)
	return out
}

// ways lists the ways through the doors of a controller, in the order that its image has.
func (s *Shared) ways(t *access.Table, door map[site.ID]int) [][]access.Way {
	schedule := map[site.ID]int32{}
	by := make([][]access.Way, len(door))
	for i := range s.config.Levels {
		var mine []Entry
		for _, e := range s.places.Entries(&s.config.Levels[i]) {
			if _, ok := door[e.DoorID]; ok {
				mine = append(mine, Entry(e))
			}
		}
		slices.SortFunc(mine, Entry.compare)
		for _, e := range slices.Compact(mine) {
			n, ok := schedule[e.ScheduleID]
			if !ok {
				n = int32(len(t.Schedules))
				schedule[e.ScheduleID] = n
				t.Schedules = append(
					t.Schedules,
					access.Schedule{ID: e.ScheduleID, Schedule: *s.times.Schedules[e.ScheduleID]},
				)
			}
			d := door[e.DoorID]
			by[d] = append(by[d], access.Way{Level: int32(i), Schedule: n, Side: e.Side, Stops: stopsOf(t, d, e.Stops)})
		}
	}
	return by
}
