package image

import (
	"cmp"

	"amberkeystone/core/access"
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Compiled is an image ready for deciding.
type Compiled struct {
	*access.Table
	Settings site.Settings
	PINKey   []byte
	Lines    []*hours.Timeline // what Doors[i] ask
	// PINDigits is the length of the longest PIN in force here: an entry ends there at the latest.
	PINDigits int
}

// Compile prepares an image. People who hold the same levels on the same dates share one list.
func (im *Image) Compile() *Compiled {
	t := &access.Table{
		Zone: im.Zone, Doors: im.Doors,
		Cards: make(map[access.CardKey]access.Card, len(im.People)),
		PINs:  map[cards.PINHash]access.PINOwner{},
	}
	c := &Compiled{Table: t, Settings: im.Settings, PINKey: im.PINKey}
	for _, f := range im.Settings.Cards {
		t.Accepts = append(t.Accepts, cards.Accepts{Format: cards.ByName(f.Format), Facilities: f.Facilities})
	}
	times := site.NewTimetable(&site.Config{
		Floors: im.Floors, Types: im.Types, Holidays: im.Holidays, Plans: im.Plans, Schedules: im.Schedules,
		Changes: im.Changes, Doors: im.Doors,
	}, func(site.ID) *hours.Zone { return &t.Zone })
	door := map[site.ID]int{}
	for i, d := range im.Doors {
		door[d.ID] = i
		line := times.Door(d.ID)
		c.Lines, t.Calendars = append(c.Lines, line), append(t.Calendars, line.Calendar)
	}
	schedule := map[site.ID]int32{}
	for i, s := range im.Schedules {
		schedule[s.ID] = int32(i)
		t.Schedules = append(t.Schedules, access.Schedule{ID: s.ID, Schedule: *times.Schedules[s.ID]})
	}
	level := map[site.ID]int32{}
	for i, l := range im.Levels {
		level[l.ID] = int32(i)
		t.Levels = append(t.Levels, access.Level{ID: l.ID, OpensDay: l.OpensDay})
	}
	t.Ways, t.WayStart = ways(im.Levels, door, schedule)
	shared := newSets(level, &t.Zone)
	t.People = make([]access.Person, len(im.People))
	for i := range im.People {
		p := &im.People[i]
		t.People[i] = access.Person{
			ID: p.ID, Suspended: p.Suspended, Extended: p.Extended, AlwaysPIN: p.AlwaysPIN,
			Span: span(p.Dates, &t.Zone), Levels: shared.of(p.Levels),
		}
		if p.PIN != nil {
			c.PINDigits = max(c.PINDigits, cmp.Or(p.PINLength, im.Settings.PINLength))
		}
		if p.PIN != nil && p.Duress != nil {
			t.PINs[*p.PIN] = access.PINOwner{Person: int32(i)}
			t.PINs[*p.Duress] = access.PINOwner{Person: int32(i), Duress: true}
		}
		for _, h := range p.Cards {
			key := access.CardKey{Format: cards.ByName(h.Format), Facility: h.Facility, Number: h.Number}
			t.Cards[key] = access.Card{Person: int32(i), Bad: access.BadCard(h.Status), Span: span(h.Dates, &t.Zone)}
		}
	}
	c.PINDigits = cmp.Or(c.PINDigits, im.Settings.PINLength)
	return c
}

// ways lists the ways through all doors, by door and level, in the order of the entries; start is where each door's
// begin.
func ways(levels []site.Level, door map[site.ID]int, schedule map[site.ID]int32) (list []access.Way, start []int32) {
	by := make([][]access.Way, len(door))
	for i, l := range levels {
		for _, e := range l.Entries {
			d := door[e.DoorID]
			by[d] = append(by[d], access.Way{Level: int32(i), Schedule: schedule[e.ScheduleID]})
		}
	}
	start = make([]int32, 1, len(by)+1)
	for _, w := range by {
		list = append(list, w...)
		start = append(start, int32(len(list)))
	}
	return list, start
}

// span turns dates into instants: from the first minute of From, through the last of Until.
func span(d site.Dates, z *hours.Zone) access.Span {
	s := access.Span{From: -hours.Never, Until: hours.Never}
	if day, err := hours.ParseDay(d.From); d.From != "" && err == nil {
		s.From = z.Resolve(day, 0)
	}
	if day, err := hours.ParseDay(d.Until); d.Until != "" && err == nil {
		s.Until = z.Resolve(day+1, 0)
	}
	return s
}

// sets gives equal lists of levels one copy.
type sets struct {
	level map[site.ID]int32
	zone  *hours.Zone
	known map[string][]access.LevelHeld
	key   []byte
}

func newSets(level map[site.ID]int32, zone *hours.Zone) *sets {
	return &sets{level: level, zone: zone, known: map[string][]access.LevelHeld{}}
}

func (s *sets) of(grants []site.Grant) []access.LevelHeld {
	s.key = s.key[:0]
	for _, g := range grants {
		for v := uint64(g.LevelID); ; v >>= 7 {
			s.key = append(s.key, byte(v&127))
			if v < 128 {
				break
			}
		}
		s.key = append(s.key, '|')
		s.key = append(append(append(append(s.key, g.From...), '/'), g.Until...), ';')
	}
	if list, ok := s.known[string(s.key)]; ok {
		return list
	}
	var list []access.LevelHeld
	for _, g := range grants {
		list = append(list, access.LevelHeld{Level: s.level[g.LevelID], Span: span(g.Dates, s.zone)})
	}
	s.known[string(s.key)] = list
	return list
}
