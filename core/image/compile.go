package image

import (
	"cmp"
	"encoding/binary"
	"slices"

	"amberkeystone/core/access"
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Compiled is an image ready for deciding.
type Compiled struct {
	*access.Table
	Settings   site.Settings
	PINKey     []byte
	Lines      []*hours.Timeline // what Doors[i] ask
	Inputs     []site.Input      // those that belong to no door
	Outputs    []site.Output     // those that are no lock
	Controller site.ID
	Rules      Rules             // what must hold besides
	level      map[site.ID]int32 // the place of each level
	// timetable finds a schedule of a rule.
	timetable func(site.ID) *hours.Schedule
	members   map[site.ID]map[site.ID]bool // of groups
	// PINDigits is the length of the longest PIN in force here: an entry ends there at the latest.
	PINDigits int
}

// Compile prepares an image. People who hold the same levels on the same dates share one list.
func (im *Image) Compile() *Compiled {
	t := &access.Table{
		Directory: access.NewDirectory(lowest(im.People)), Whole: true, Zone: &im.Zone, Doors: im.Doors,
	}
	c := &Compiled{
		Table: t, Settings: im.Settings, PINKey: im.PINKey, Inputs: im.Inputs, Outputs: im.Outputs, Controller: im.Controller,
		Rules: im.Rules,
	}
	t.Accepts, t.Own = im.Settings.Accepts(nil), ownAccepts(&im.Settings, im.Doors)
	times := site.NewTimetable(&site.Config{
		Floors: im.Floors, Types: im.Types, Holidays: im.Holidays, Plans: im.Plans, Schedules: im.Schedules,
		Changes: im.Changes, Doors: im.Doors,
	}, func(site.ID) *hours.Zone { return t.Zone })
	c.members = im.Rules.members()
	c.timetable = func(id site.ID) *hours.Schedule { return times.Schedules[id] }
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
		t.Levels = append(t.Levels, access.Level{ID: l.ID, May: access.AuthorityOf(l.Authorities)})
	}
	t.SetWays(ways(t, im.Levels, door, schedule))
	shared := newSets(level, t.Zone, t.Directory)
	for i := range im.People {
		c.add(&im.People[i], shared)
	}
	c.PINDigits = cmp.Or(c.PINDigits, im.Settings.PINLength)
	c.level = level
	return c
}

// lowest returns the lowest number of people.
func lowest(people []Person) site.ID {
	if len(people) == 0 {
		return 0
	}
	return slices.MinFunc(people, func(a, b Person) int { return cmp.Compare(a.ID, b.ID) }).ID
}

// add takes a person in.
func (c *Compiled) add(p *Person, shared *sets) {
	if p.PIN != nil {
		c.PINDigits = max(c.PINDigits, cmp.Or(p.PINLength, c.Settings.PINLength))
		c.Instead = c.Instead || p.PINInstead
	}
	c.Directory.Add(p.known(c.Zone, shared.of(p.Levels)))
}

// known is a person as a directory takes them, with their set of levels.
func (p *Person) known(z *hours.Zone, set int) *access.Person {
	x := &access.Person{
		ID: p.ID, Suspended: p.Suspended, Extended: p.Extended, AlwaysPIN: p.AlwaysPIN, PINInstead: p.PINInstead,
		Span: span(p.Dates, z), Set: set, PIN: p.PIN, Duress: p.Duress, Screened: p.Screened,
	}
	for _, h := range p.Cards {
		key := access.CardKey{Format: cards.IDOf(h.Format), Facility: h.Facility, Number: h.Number}
		x.Cards = append(x.Cards, access.Card{Key: key, Bad: access.BadCard(h.Status), Span: span(h.Dates, z)})
	}
	for _, h := range p.Shown {
		x.Shown = append(x.Shown, access.Shown{
			Key: pass.Shown{Kind: h.Kind, Value: h.Value}, Bad: access.BadCard(h.Status), Span: span(h.Dates, z),
		})
	}
	return x
}

// ownAccepts are the formats of the readers that take fewer than others; nil where none does.
func ownAccepts(s *site.Settings, doors []site.Door) (own [][2][]cards.Accepts) {
	for i := range doors {
		for side, r := range []*site.Reader{&doors[i].In, &doors[i].Out} {
			if len(r.Formats) == 0 {
				continue
			}
			if own == nil {
				own = make([][2][]cards.Accepts, len(doors))
			}
			own[i][side] = s.Accepts(r)
		}
	}
	return own
}

// Alone returns what the controller would decide by if it knew one person and nobody else, whether or not they have
// anything to do there. It shares all but the people.
//
// The person is one of an effective configuration.
func (c *Compiled) Alone(p *site.Person) *Compiled {
	table, alone := *c.Table, *c
	table.Directory = access.NewDirectory(p.ID)
	table.Instead = false
	alone.Table, alone.PINDigits = &table, 0
	one := person(p, c.Settings.PINLength, func(l site.ID) bool { _, ok := c.level[l]; return ok })
	alone.add(&one, newSets(c.level, table.Zone, table.Directory))
	alone.PINDigits = cmp.Or(alone.PINDigits, c.Settings.PINLength)
	return &alone
}

// ways lists the ways through each door, by level, in the order of the entries.
func ways(t *access.Table, levels []Level, door map[site.ID]int, schedule map[site.ID]int32) [][]access.Way {
	by := make([][]access.Way, len(door))
	for i, l := range levels {
		for _, e := range l.Entries {
			d := door[e.DoorID]
			by[d] = append(by[d], access.Way{
				Level: int32(i), Schedule: schedule[e.ScheduleID], Side: e.Side, Stops: stopsOf(t, d, e.Stops),
			})
		}
	}
	return by
}

// stopsOf is the number of some stops of a door that is an elevator; 0 of another.
func stopsOf(t *access.Table, door int, s site.StopSet) uint16 {
	if t.Doors[door].Car == nil {
		return 0
	}
	return t.AddStops(s)
}

// span turns dates into instants: from the first minute of From, through the last of Until.
func span(d site.Dates, z *hours.Zone) access.Span {
	from, until := d.Span(z)
	return access.Span{From: from, Until: until}
}

// sets gives equal lists of levels one copy.
type sets struct {
	level map[site.ID]int32
	zone  *hours.Zone
	into  *access.Directory
	known map[string]int
	key   []byte
}

func newSets(level map[site.ID]int32, zone *hours.Zone, into *access.Directory) *sets {
	return &sets{level: level, zone: zone, into: into, known: map[string]int{}}
}

// grantsKey writes what tells one set of levels from another.
func grantsKey(key []byte, grants []site.Grant) []byte {
	for _, g := range grants {
		key = append(binary.AppendUvarint(key, uint64(g.LevelID)), '|')
		key = append(append(append(append(key, g.From...), '/'), g.Until...), ';')
	}
	return key
}

func (s *sets) of(grants []site.Grant) int {
	s.key = grantsKey(s.key[:0], grants)
	if n, ok := s.known[string(s.key)]; ok {
		return n
	}
	var list []access.Held
	for _, g := range grants {
		list = append(list, access.Held{Level: s.level[g.LevelID], Span: span(g.Dates, s.zone)})
	}
	n := s.into.AddSet(list)
	s.known[string(s.key)] = n
	return n
}
