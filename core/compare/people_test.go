package compare

import (
	"slices"
	"testing"

	"amberkeystone/core/pass"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/access"
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// Who gains and who loses, case by case: what counts is what all of somebody's levels open together.
func TestPeople(t *testing.T) {
	z := halifax(t)
	staff := museum().Schedules[0]
	noSunday := staff
	noSunday.Week[6] = nil
	mondays := staff
	mondays.Week[0] = staff.Week[1]
	barred, pin, level31 := museum().Plans[1], museum().Plans[1], museum().Plans[1]
	barred.Pattern.Paint(2, hours.Segment{Period: hours.Period{Start: 600, End: 660}, Mode: hours.Barred})
	pin.Pattern.Paint(2, hours.Segment{Period: hours.Period{Start: 600, End: 660}, Mode: hours.CardAndPIN})
	level31.Pattern.Paint(2, hours.Segment{
		Period: hours.Period{Start: 600, End: 660}, Mode: hours.Card, Levels: []int64{31},
	})
	night := museum().Plans[1]
	night.Pattern.Paint(2, hours.Segment{Period: hours.Period{Start: 120, End: 180}, Mode: hours.Barred})
	hash := cards.HashPIN([]byte("k"), "2580")
	armed := site.UsualAlarmArea(22)
	armed.ID, armed.ScheduleID = 60, 9
	byHand, off := armed, armed
	byHand.ScheduleID, off.Off = 0, true
	disarms := site.Level{ID: 30, Entries: []site.Entry{site.At(22, 6)}, Authorities: site.Authorities{Disarms: true}}
	for name, x := range map[string]struct {
		edit       Edit
		change     func(c *site.Config)
		gain, lose int
	}{
		"a schedule without its Sunday":              {Edit{Schedule: &noSunday}, nil, 0, 2},
		"one of them has the door by Always too":     {Edit{Schedule: &noSunday}, func(c *site.Config) { grant(c, 0, 32) }, 0, 1},
		"one is suspended":                           {Edit{Schedule: &noSunday}, func(c *site.Config) { c.People[0].Suspended = true }, 0, 1},
		"one left last month":                        {Edit{Schedule: &noSunday}, func(c *site.Config) { c.People[0].Until = "2026-10-31" }, 0, 1},
		"one comes in two years":                     {Edit{Schedule: &noSunday}, func(c *site.Config) { c.People[0].Levels[0].From = "2028-10-31" }, 0, 1},
		"a schedule with Monday":                     {Edit{Schedule: &mondays}, nil, 2, 0},
		"nobody has a level for a door that changes": {Edit{Plan: &barred}, nil, 0, 0},
		"a door is barred for an hour":               {Edit{Plan: &barred}, covered, 0, 3},
		"at an hour at which nobody may come in":     {Edit{Plan: &night}, covered, 0, 0},
		"a PIN is asked of who has none":             {Edit{Plan: &pin}, covered, 0, 3},
		"a PIN is asked, and one has it": {Edit{Plan: &pin}, func(c *site.Config) {
			covered(c)
			c.Doors[2].In.Keypad = true
			c.People[1].PIN, c.People[1].Credentials = &hash, []site.Credential{site.NewCard("26-bit", 0, 0)}
		}, 0, 2},
		"a PIN is asked where nobody can type": {Edit{Plan: &pin}, func(c *site.Config) {
			covered(c)
			c.People[1].PIN, c.People[1].Credentials = &hash, []site.Credential{site.NewCard("26-bit", 0, 0)}
		}, 0, 3},
		"only another level counts for an hour": {Edit{Plan: &level31}, covered, 0, 2},
		"armed by schedule, nobody may disarm":  {Edit{AlarmArea: &armed}, covered, 0, 3},
		"armed by hand alone":                   {Edit{AlarmArea: &byHand}, covered, 0, 0},
		"armed, but not in use":                 {Edit{AlarmArea: &off}, covered, 0, 0},
		"armed, and one level disarms":          {Edit{AlarmArea: &armed}, func(c *site.Config) { covered(c); c.Levels[0].Disarms = true }, 0, 1},
		"no longer armed": {Edit{Remove: 60}, func(c *site.Config) {
			covered(c)
			c.AlarmAreas = []site.AlarmArea{armed}
		}, 3, 0},
		"a level may disarm from now on": {Edit{Level: &disarms}, func(c *site.Config) {
			c.Levels[0].Entries = disarms.Entries
			c.AlarmAreas = []site.AlarmArea{armed}
		}, 2, 0},
		"a free door asks a card while it is armed": {Edit{AlarmArea: &armed}, func(c *site.Config) {
			c.Levels[0].Entries, c.Levels[1].Entries = []site.Entry{site.At(22, 9)}, []site.Entry{site.At(22, 9)}
			c.Plans[1].Default, c.Levels[0].Disarms = hours.Free, true
		}, 0, 1},
		"which one of them has too": {Edit{Plan: &level31}, func(c *site.Config) { covered(c); grant(c, 1, 31) }, 0, 1},
	} {
		t.Run(name, func(t *testing.T) {
			c := museum()
			c.Schedules = append(c.Schedules, site.Schedule{ID: 9, Week: hours.Always(), Fixed: true})
			c.Levels = append(c.Levels, site.Level{ID: 32, Entries: []site.Entry{site.At(20, 9)}})
			if x.change != nil {
				x.change(c)
			}
			e := effect(c, z, x.edit)
			assert.Equal(t, [2]int{x.gain, x.lose}, [2]int{len(e.Gainers), len(e.Losers)})
		})
	}
}

func grant(c *site.Config, person int, level site.ID) {
	c.People[person].Levels = append(c.People[person].Levels, site.Grant{LevelID: level})
}

// covered lets the levels lead through the door of the plan that asks for a card.
func covered(c *site.Config) {
	for i, s := range []site.ID{6, 6} {
		c.Levels[i].Entries = append(c.Levels[i].Entries, site.At(22, s))
	}
}

// Whoever is said to gain or lose does so by the decisions of a controller that holds the one image and one that holds
// the other, asked every quarter of an hour with all that the person has.
func TestPeopleAsControllersDecide(t *testing.T) {
	z := halifax(t)
	zone := func(site.ID) *hours.Zone { return z }
	from := z.Resolve(hours.DayOf(2026, 10, 31), 0) // the clocks go back on the day after
	to := from + 3*86400000
	rapid.Check(t, func(t *rapid.T) {
		was := drawSite(t)
		is := drawEdit(t, was).Apply(was)
		was = was.Effective()
		is = is.EffectiveAfter(was)
		x := newContrast(
			was,
			is,
			site.NewTimetable(was, zone),
			site.NewTimetable(is, zone),
			func(*hours.Zone) (hours.Instant, hours.Instant) { return from, to },
		)
		e := Effect{crowd: x.crowd()}
		who := e.crowd.who()
		mine := func(p *site.Person, door site.ID) bool { return covers(was, p.ID, door) || covers(is, p.ID, door) }
		before, after := passes(was, z, from, to, mine), passes(is, z, from, to, mine)
		for i := range is.People {
			var more, less bool
			for k := range after[i] {
				more = more || after[i][k] && !before[i][k]
				less = less || before[i][k] && !after[i][k]
			}
			require.Equal(
				t,
				[2]bool{more, less},
				[2]bool{slices.Contains(who.Gainers, is.People[i].ID), slices.Contains(who.Losers, is.People[i].ID)},
				"person %d",
				i,
			)
			checkTurns(t, &e, [2]bool{more, less}, is.People[i].ID, z, from)
		}
	})
}

// checkTurns asks the controllers at the instants that are told: whoever gains comes in then and did not, whoever loses
// does not and did, and at no quarter of an hour before.
func checkTurns(t *rapid.T, e *Effect, want [2]bool, person site.ID, z *hours.Zone, from hours.Instant) {
	var got [2]bool
	for _, turn := range e.Turns(person) {
		all := func(*site.Person, site.ID) bool { return true }
		first := slices.IndexFunc(e.crowd.is.Doors, func(d site.Door) bool { return d.ID == turn.Door })
		who := slices.IndexFunc(e.crowd.is.People, func(p *site.Person) bool { return p.ID == person })
		n := int(turn.First-from) / (15 * 60000)
		// passes lists door after door; only this one, up to the instant.
		one := func(c *site.Config) []bool {
			o := *c
			o.Doors = c.Doors[first : first+1]
			o.Levels = slices.Clone(c.Levels)
			return passes(&o, z, from, turn.First+1, all)[who]
		}
		was, is := one(e.crowd.was), one(e.crowd.is)
		for k := range n {
			require.False(t, is[k] != was[k] && is[k] == turn.Gains, "it differs before it is told")
		}
		require.Equal(t, turn.Gains, is[n], "person %d, door %d, at %s", person, turn.Door, z.Time(turn.First))
		require.Equal(t, !turn.Gains, was[n])
		if turn.Gains {
			got[0] = true
		} else {
			got[1] = true
		}
		require.NotEmpty(t, turn.Week)
	}
	require.Equal(t, want, got)
}

// passes asks the controller of a configuration at each quarter hour, for each person and each door with which they
// have to do.
func passes(
	c *site.Config, z *hours.Zone, from, to hours.Instant, mine func(p *site.Person, door site.ID) bool,
) [][]bool {
	table := image.Build(c, 3, *z, image.Secrets{}).Compile()
	disarming := image.Build(disarmers(c), 3, *z, image.Secrets{}).Compile()
	out := make([][]bool, len(c.People))
	for door := range table.Doors {
		line := table.Lines[door]
		armed := armedWhile(c, table.Table, table.Doors[door].ID)
		for at := from; at < to; at += 15 * 60000 {
			ask, holds := line.At(at), table.Table
			mode := line.Asked(ask.Ask)
			if armed != nil && armed.OpenAt(line.Local, at) {
				holds = disarming.Table
				if mode == hours.Free {
					mode = hours.Card
				}
			}
			for i := range c.People {
				p := c.People[i]
				q := pass.Request{At: at, Door: door, Mode: mode, Levels: ask.Levels}
				in := q.Mode == hours.Free || passesWith(holds, q, p) // a free door lets in everybody, known or not
				out[i] = append(out[i], in && mine(p, table.Doors[door].ID))
			}
		}
	}
	return out
}

// disarmers is a configuration in which only levels lead somewhere that disarm.
func disarmers(c *site.Config) *site.Config {
	out := *c
	out.Levels = slices.Clone(c.Levels)
	for i := range out.Levels {
		if !out.Levels[i].Disarms {
			out.Levels[i].Entries = nil
		}
	}
	return &out
}

// armedWhile is the schedule while which a door belongs to an armed alarm area, or nil.
func armedWhile(c *site.Config, table *access.Table, door site.ID) *hours.Schedule {
	for _, a := range c.AlarmAreas {
		if !a.Off && a.ScheduleID != 0 && slices.Contains(a.DoorIDs, door) {
			i := slices.IndexFunc(table.Schedules, func(s access.Schedule) bool { return s.ID == a.ScheduleID })
			return &table.Schedules[i].Schedule
		}
	}
	return nil
}

// covers reports whether something that somebody holds comes to a door.
func covers(c *site.Config, person, door site.ID) bool {
	c = c.Effective()
	places, p := site.NewPlaces(c), c.Person(person)
	return !p.Suspended && slices.ContainsFunc(p.Levels, func(g site.Grant) bool {
		return slices.ContainsFunc(places.Entries(c.Level(g.LevelID)), func(e site.Covered) bool { return e.DoorID == door })
	})
}

func passesWith(table *access.Table, q pass.Request, p *site.Person) bool {
	card, pin := q, q
	if len(p.Credentials) > 0 {
		card.HasCard = true
		if h := p.Credentials[0]; h.Kind == site.Card {
			card.Bits, _ = encode(h)
		} else {
			card.Shown = pass.Shown{Kind: h.Kind, Value: h.Value}
		}
		if d, _ := table.Decide(&card); d.Reason.Granted() {
			return true
		}
	}
	if p.PIN == nil {
		return false
	}
	pin.HasPIN, pin.PIN = true, *p.PIN
	card.HasPIN, card.PIN = true, *p.PIN
	alone, _ := table.Decide(&pin)
	both, _ := table.Decide(&card)
	return alone.Reason.Granted() || card.HasCard && both.Reason.Granted()
}

func drawPeriod(t *rapid.T) hours.Period {
	start := rapid.IntRange(0, 95).Draw(t, "start") * 15
	return hours.Period{Start: start, End: start + 15*rapid.IntRange(1, 96).Draw(t, "length")}
}

func drawSegments(t *rapid.T) site.Plan {
	p := site.Plan{ID: 7, Pattern: hours.Pattern{Default: rapid.SampledFrom(hours.Modes).Draw(t, "default")}}
	for range rapid.IntRange(0, 4).Draw(t, "strokes") {
		s := hours.Segment{Period: drawPeriod(t), Mode: rapid.SampledFrom(hours.Modes).Draw(t, "mode")}
		switch {
		case s.Mode == hours.Free:
			s.First = rapid.Bool().Draw(t, "first")
		case s.Mode != hours.Barred && rapid.Bool().Draw(t, "limited"):
			s.Levels = []int64{int64(rapid.IntRange(30, 31).Draw(t, "level"))}
		}
		p.Pattern.Paint(rapid.IntRange(0, 6).Draw(t, "day"), s)
	}
	return p
}

func drawSchedule(t *rapid.T, id site.ID) site.Schedule {
	s := site.Schedule{ID: id}
	for range rapid.IntRange(0, 5).Draw(t, "periods") {
		s.Week = s.Week.Open(rapid.IntRange(0, 6).Draw(t, "day"), drawPeriod(t))
	}
	return s
}

func drawSite(t *rapid.T) *site.Config {
	c := museum()
	c.Settings = site.DefaultSettings()
	c.Plans[0] = drawSegments(t)
	c.Plans[1].Default = rapid.SampledFrom(hours.Modes).Draw(t, "other")
	c.Schedules = []site.Schedule{drawSchedule(t, 6), drawSchedule(t, 9)}
	for i := range c.Doors {
		c.Doors[i].Port, c.Doors[i].Hardware = i+1, site.UsualHardware()
		c.Doors[i].In.Keypad = rapid.IntRange(0, 3).Draw(t, "keypad") > 0
		if rapid.Bool().Draw(t, "takes plates") {
			c.Doors[i].In.Takes = []site.CredentialKind{site.Plate}
		}
	}
	for i := range c.Levels {
		c.Levels[i].Entries, c.Levels[i].Disarms = nil, rapid.Bool().Draw(t, "disarms")
		for range rapid.IntRange(0, 3).Draw(t, "entries") {
			c.Levels[i].Entries = append(
				c.Levels[i].Entries,
				site.At(site.ID(rapid.IntRange(20, 22).Draw(t, "door")), rapid.SampledFrom([]site.ID{6, 9}).Draw(t, "schedule")),
			)
		}
	}
	if rapid.Bool().Draw(t, "an alarm area") {
		c.AlarmAreas = []site.AlarmArea{drawAlarmArea(t)}
	}
	for i := range c.People {
		p := c.People[i]
		p.Credentials = []site.Credential{site.NewCard("26-bit", 42, uint64(100+i))}
		if rapid.IntRange(0, 3).Draw(t, "plate") == 0 {
			p.Credentials[0] = site.Credential{Kind: site.Plate, Value: string(rune('A' + i)), Status: site.Active}
		}
		p.AlwaysPIN = rapid.Bool().Draw(t, "always")
		p.PINInstead = rapid.Bool().Draw(t, "instead")
		if rapid.Bool().Draw(t, "pin") {
			hash, duress := cards.HashPIN([]byte("k"), string(rune('a'+i))), cards.HashPIN([]byte("k"), string(rune('A'+i)))
			p.PIN, p.Duress = &hash, &duress
			if rapid.Bool().Draw(t, "no card") {
				p.Credentials = nil
			}
		}
		p.Levels, p.DepartmentIDs = drawGrants(t), nil
		if rapid.Bool().Draw(t, "member") {
			p.DepartmentIDs = []site.ID{40}
		}
	}
	if rapid.Bool().Draw(t, "contains") {
		c.Levels[1].Includes = []site.ID{30}
	}
	c.Departments = []site.Department{
		{ID: 40, Levels: drawGrants(t), AlwaysPIN: rapid.IntRange(0, 5).Draw(t, "all with PIN") == 0},
	}
	return c
}

func drawAlarmArea(t *rapid.T) site.AlarmArea {
	a := site.UsualAlarmArea(site.ID(rapid.IntRange(20, 22).Draw(t, "guarded")))
	a.ID, a.ScheduleID = 60, rapid.SampledFrom([]site.ID{0, 6, 9}).Draw(t, "armed during")
	a.Off = rapid.IntRange(0, 5).Draw(t, "off") == 0
	return a
}

// drawGrants gives levels, and places without one, some of them for some hours of the days that are looked at.
func drawGrants(t *rapid.T) (out []site.Grant) {
	dates := rapid.SampledFrom([]site.Dates{
		{}, {}, {}, {From: "2026-11-01"}, {Until: "2026-10-31"}, {From: "2026-10-31T22:15", Until: "2026-11-01T01:30"}, {Until: "2026-11-01T12:00"},
	})
	for _, l := range []site.ID{30, 31} {
		if rapid.Bool().Draw(t, "level") {
			out = append(out, site.Grant{LevelID: l, Dates: dates.Draw(t, "dates")})
		}
	}
	if rapid.IntRange(0, 3).Draw(t, "place") == 0 {
		at := site.Target{Kind: site.AtDoor, ID: site.ID(rapid.IntRange(20, 22).Draw(t, "door"))}
		out = append(out, site.Grant{
			Target: at, ScheduleID: rapid.SampledFrom([]site.ID{6, 9}).Draw(t, "schedule"), Dates: dates.Draw(t, "dates"),
		})
	}
	return out
}

func drawEdit(t *rapid.T, c *site.Config) Edit {
	switch rapid.IntRange(0, 9).Draw(t, "edit") {
	case 9:
		a := drawAlarmArea(t)
		return Edit{AlarmArea: &a}
	case 7:
		d := site.Department{ID: 40, Levels: drawGrants(t), AlwaysPIN: rapid.Bool().Draw(t, "all with PIN")}
		return Edit{Department: &d}
	case 8:
		p := *c.People[rapid.IntRange(0, len(c.People)-1).Draw(t, "who")]
		p.Levels, p.DepartmentIDs, p.PINInstead = drawGrants(t), nil, rapid.Bool().Draw(t, "instead")
		if rapid.Bool().Draw(t, "member") {
			p.DepartmentIDs = []site.ID{40}
		}
		switch p.Credentials = slices.Clone(p.Credentials); rapid.IntRange(0, 4).Draw(t, "what else") {
		case 0:
			p.Suspended = true
		case 1:
			if len(p.Credentials) > 0 {
				p.Credentials[0].Status = site.Lost
			}
		case 2:
			p.Until = "2026-10-31T20:00"
		}
		return Edit{Person: &p}
	case 0:
		p := drawSegments(t)
		return Edit{Plan: &p}
	case 1:
		s := drawSchedule(t, 6)
		return Edit{Schedule: &s}
	case 2:
		h := site.Holiday{
			TypeID: 4, HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-11-01"}}, Start: 0, End: 720,
		}
		return Edit{Holiday: &h}
	case 3:
		return Edit{Type: &site.HolidayType{ID: 4, Plans: site.AsWeekday, Schedules: site.AsWeekday}}
	case 6:
		l := site.Level{ID: 30, Authorities: site.Authorities{Disarms: rapid.Bool().Draw(t, "disarms")}}
		for range rapid.IntRange(0, 3).Draw(t, "entries") {
			l.Entries = append(l.Entries,
				site.At(site.ID(rapid.IntRange(20, 22).Draw(t, "door")), rapid.SampledFrom([]site.ID{6, 9}).Draw(t, "schedule")))
		}
		return Edit{Level: &l}
	case 4:
		d := c.Doors[rapid.IntRange(0, 2).Draw(t, "door")]
		d.PlanID = 15 - d.PlanID // the other plan
		return Edit{Door: &d}
	default:
		from := rapid.SampledFrom([]string{"2026-10-30T20:00", "2026-10-31T22:30", "2026-11-01T00:15"}).Draw(t, "from")
		return Edit{
			Change: &site.DatedChange{
				Mode: rapid.SampledFrom(hours.Modes).Draw(t, "mode"), SiteIDs: []site.ID{1}, From: from, Until: "2026-11-02T07:45",
			},
		}
	}
}

// encode is what a reader reads of a card.
func encode(c site.Credential) (cards.Bits, error) {
	facility, number, _ := c.Card()
	return cards.ByName(c.Format).Encode(facility, number)
}

// Elevators are compared floor by floor: a level that gains a floor lets its people gain, one that loses a floor which
// another of theirs still has takes nothing from them; what frees a floor is told as another rule.
func TestFloorsAreCompared(t *testing.T) {
	z := halifax(t)
	build := func() *site.Config {
		c := museum()
		c.Floors = append(c.Floors, site.Floor{ID: 10, SiteID: 1, Level: 1}, site.Floor{ID: 11, SiteID: 1, Level: 2})
		car := site.UsualCar([]site.ID{2, 10, 11}, []int{1})
		c.Doors = append(c.Doors, site.Door{
			ID: 23, FloorID: 2, ControllerID: 3, PlanID: 8, Hardware: site.UsualElevator(), Car: &car,
		})
		ride := func(floors ...site.ID) site.Entry {
			return site.Entry{
				Target: site.Target{Kind: site.AtStops}, ScheduleID: 6, Ride: &site.Ride{FloorIDs: floors, CarIDs: []site.ID{23}},
			}
		}
		c.Levels[0].Entries = append(c.Levels[0].Entries, ride(2, 10))
		c.Levels[1].Entries = append(c.Levels[1].Entries, ride(10))
		grant(c, 0, 31)
		return c
	}
	more := build().Levels[0]
	more.Entries[1].Ride = &site.Ride{AllFloors: true, CarIDs: []site.ID{23}}
	e := effect(build(), z, Edit{Level: &more})
	assert.Equal(t, []site.ID{40, 41}, e.Gainers)
	assert.Empty(t, e.Losers)
	turns := e.Turns(41)
	require.Len(t, turns, 1)
	car, floor, ok := turns[0].Door.Stop()
	assert.Equal(t, []any{site.ID(23), site.ID(11), true}, []any{car, floor, ok})

	less := build().Levels[0]
	less.Entries[1].Ride = &site.Ride{FloorIDs: []site.ID{2}, CarIDs: []site.ID{23}}
	e = effect(build(), z, Edit{Level: &less})
	assert.Empty(t, e.Gainers)
	assert.Equal(t, []site.ID{41}, e.Losers, "the other has the floor by another level")

	free := *build().Door(23)
	copied := *free.Car
	copied.Stops = slices.Clone(copied.Stops)
	copied.Stops[2].FreeID = 6
	free.Car = &copied
	assert.Equal(t, []site.ID{23}, effect(build(), z, Edit{Door: &free}).Rules)
}
