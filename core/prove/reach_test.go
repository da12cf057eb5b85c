package prove

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
	"amberkeystone/internal/largesite"
)

// Who may go where is what asking one by one gives, on any small site at any moment.
func TestReachIsAsking(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := drawBook(t)
		at := hours.At(time.Date(2026, 11, rapid.IntRange(23, 29).Draw(t, "day"), rapid.IntRange(0, 23).Draw(t, "hour"), 30,
			0, 0, time.UTC))
		r := b.Reach(at)
		counts := r.People()
		for d := range b.Config.Doors {
			n := 0
			for p := range b.Config.People {
				a, err := b.Ask(b.Config.People[p].ID, b.Config.Doors[d].ID, at)
				require.NoError(t, err)
				may := a.Granted || a.Mode == hours.Free
				require.Equal(t, may, r.May(p, d), "person %d at door %d: %s", p, d, a.Reason)
				if may {
					n++
				}
			}
			require.Equal(t, n, counts[d])
		}
	})
}

func drawCredential(t *rapid.T, n int, status site.CredentialStatus, dates site.Dates) site.Credential {
	c := site.NewCard("26-bit", rapid.SampledFrom([]uint64{42, 42, 7}).Draw(t, "facility"), uint64(n))
	if rapid.IntRange(0, 3).Draw(t, "no card") == 0 {
		c = site.Credential{
			Kind: rapid.SampledFrom([]site.CredentialKind{site.Plate, site.Phone}).Draw(t, "kind"), Value: fmt.Sprint("X", n),
		}
	}
	c.Status, c.Dates = status, dates
	return c
}

func drawTarget(t *rapid.T) site.Target {
	door := site.ID(rapid.IntRange(1, 4).Draw(t, "door"))
	return rapid.SampledFrom([]site.Target{
		{Kind: site.AtDoor, ID: door}, {Kind: site.AtReader, ID: door}, {Kind: site.AtReader, ID: door, Out: true},
		{Kind: site.AtDoorSet, ID: 80}, {Kind: site.AtFloor, ID: 61}, {Kind: site.AtSite, ID: 70}, {Kind: site.Everything},
	}).Draw(t, "target")
}

func drawBook(t *rapid.T) *Book {
	c := &site.Config{
		Settings: site.DefaultSettings(), Controllers: []site.Controller{{ID: 9}, {ID: 8}},
		Floors: []site.Floor{{ID: 60, SiteID: 70}, {ID: 61, SiteID: 71}, {ID: 62, SiteID: 71}}, Sets: []site.DoorSet{
			{ID: 80, DoorIDs: []site.ID{1, 4}},
		},
	}
	c.Settings.Cards = []site.CardFormat{{Format: "26-bit", Facilities: []uint64{42}}}
	mode := rapid.SampledFrom(hours.Modes)
	period := func() hours.Period {
		start := rapid.IntRange(0, 23).Draw(t, "start") * 60
		return hours.Period{Start: start, End: start + 60*rapid.IntRange(1, 14).Draw(t, "length")}
	}
	for i := range 2 {
		p := site.Plan{ID: site.ID(20 + i), Pattern: hours.Pattern{Default: mode.Draw(t, "default")}}
		for range rapid.IntRange(0, 3).Draw(t, "strokes") {
			s := hours.Segment{Period: period(), Mode: mode.Draw(t, "mode")}
			s.First = s.Mode == hours.Free && rapid.Bool().Draw(t, "first")
			if s.Mode != hours.Free && rapid.IntRange(0, 3).Draw(t, "limited") == 0 {
				s.Levels = []int64{int64(40 + rapid.IntRange(0, 2).Draw(t, "only"))}
			}
			p.Pattern.Paint(rapid.IntRange(0, 6).Draw(t, "weekday"), s)
		}
		c.Plans = append(c.Plans, p)
		var w hours.Week
		for d := range w {
			if rapid.Bool().Draw(t, "open") {
				w[d] = []hours.Period{period()}
			}
		}
		c.Schedules = append(c.Schedules, site.Schedule{ID: site.ID(30 + i), Week: w})
	}
	c.Schedules = append(c.Schedules, site.Schedule{ID: 32, Week: hours.Always(), Fixed: true})
	for i := range 4 {
		d := site.Door{
			ID: site.ID(1 + i), Port: 1 + i/2, ControllerID: site.ID(8 + i%2),
			PlanID: site.ID(20 + rapid.IntRange(0, 1).Draw(t, "plan")), Hardware: site.UsualHardware(),
			FirstCard: site.UsualFirstCard(), FloorID: site.ID(60 + i/2),
		}
		d.In.Keypad = rapid.Bool().Draw(t, "keypad")
		if rapid.Bool().Draw(t, "takes plates") {
			d.In.Takes = []site.CredentialKind{site.Plate}
		}
		d.FirstCard.Who = rapid.SampledFrom([]site.FirstGiver{site.Anybody, site.Openers}).Draw(t, "who")
		d.FirstCard.UntilThen = rapid.SampledFrom([]site.UntilFirst{site.CardAsUsual, site.NobodyElse}).Draw(t, "until then")
		if i > 1 && rapid.Bool().Draw(t, "elevator") { // of site 71's floors
			d.Hardware = site.UsualElevator()
			car := site.UsualCar([]site.ID{61, 62}, []int{1 + i})
			if rapid.Bool().Draw(t, "lower only") {
				car.Stops = car.Stops[:1]
			}
			d.Car = &car
		}
		c.Doors = append(c.Doors, d)
	}
	if rapid.IntRange(0, 2).Draw(t, "guarded") > 0 {
		a := site.UsualAlarmArea(site.ID(rapid.IntRange(1, 2).Draw(t, "guarded door")))
		a.ID, a.ScheduleID = 99, site.ID(rapid.IntRange(30, 31).Draw(t, "armed during"))
		c.AlarmAreas = append(c.AlarmAreas, a)
	}
	for i := range 3 {
		l := site.Level{
			ID: site.ID(40 + i), Authorities: site.Authorities{OpensDay: rapid.Bool().Draw(t, "opens"),
				Disarms: rapid.Bool().Draw(t, "disarms")},
		}
		for range rapid.IntRange(0, 4).Draw(t, "entries") {
			e := site.Entry{ScheduleID: site.ID(rapid.IntRange(30, 32).Draw(t, "schedule")), Target: drawTarget(t)}
			if rapid.IntRange(0, 3).Draw(t, "left out") == 0 {
				e.Except = []site.Target{{Kind: site.AtDoor, ID: site.ID(rapid.IntRange(1, 4).Draw(t, "except"))}}
			}
			if rapid.IntRange(0, 3).Draw(t, "rides") == 0 {
				e.Target = site.Target{Kind: site.AtStops}
				e.Ride = &site.Ride{AllCars: rapid.Bool().Draw(t, "all cars"), AllFloors: rapid.Bool().Draw(t, "all floors")}
				if !e.Ride.AllCars {
					e.Ride.CarIDs = []site.ID{site.ID(rapid.IntRange(3, 4).Draw(t, "car"))}
				}
				if !e.Ride.AllFloors {
					e.Ride.FloorIDs = []site.ID{site.ID(rapid.IntRange(61, 63).Draw(t, "to"))}
				}
			}
			l.Entries = append(l.Entries, e)
		}
		if i > 0 && rapid.IntRange(0, 3).Draw(t, "contains") == 0 {
			l.Includes = []site.ID{site.ID(40 + rapid.IntRange(0, i-1).Draw(t, "which"))}
		}
		c.Levels = append(c.Levels, l)
	}
	dates := func() (d site.Dates) {
		if rapid.IntRange(0, 3).Draw(t, "dated") == 0 {
			d.From = fmt.Sprintf("2026-11-%d", rapid.IntRange(22, 29).Draw(t, "from"))
		}
		if rapid.IntRange(0, 5).Draw(t, "ends") == 0 {
			d.Until = fmt.Sprintf("2026-11-%dT%02d:45", rapid.IntRange(29, 30).Draw(t, "until"),
				rapid.IntRange(0, 23).Draw(t, "hour"))
		}
		return d
	}
	grants := func(most int) (out []site.Grant) {
		for range rapid.IntRange(0, most).Draw(t, "levels") {
			g := site.Grant{LevelID: site.ID(rapid.IntRange(40, 42).Draw(t, "level")), Dates: dates()}
			if rapid.IntRange(0, 3).Draw(t, "place") == 0 {
				g.LevelID, g.Target, g.ScheduleID = 0, drawTarget(t), site.ID(rapid.IntRange(30, 32).Draw(t, "during"))
			}
			out = append(out, g)
		}
		return out
	}
	c.Departments = []site.Department{
		{ID: 90, Levels: grants(2), AlwaysPIN: rapid.IntRange(0, 4).Draw(t, "all with PIN") == 0}, {ID: 91, Levels: grants(1)},
	}
	for i := range 5 {
		p := &site.Person{
			ID:        site.ID(100 + i),
			AlwaysPIN: rapid.IntRange(0, 3).Draw(t, "always") == 0, PINInstead: rapid.IntRange(0, 3).Draw(t, "instead") == 0,
			Suspended: rapid.IntRange(0, 5).Draw(t, "suspended") == 0,
			Dates:     dates(),
		}
		for k := range rapid.IntRange(0, 2).Draw(t, "cards") {
			status := rapid.SampledFrom([]site.CredentialStatus{site.Active, site.Active, site.Lost}).Draw(t, "status")
			p.Credentials = append(p.Credentials, drawCredential(t, 10*i+k, status, dates()))
		}
		if rapid.Bool().Draw(t, "pin") {
			pin, duress := cards.HashPIN(nil, fmt.Sprint(1000*i+10)), cards.HashPIN(nil, fmt.Sprint(1000*i+11))
			p.PIN, p.Duress, p.PINLength = &pin, &duress, 4
		}
		p.Levels = grants(3)
		p.DepartmentIDs = rapid.SliceOfNDistinct(rapid.SampledFrom([]site.ID{90, 91}), 0, 2, rapid.ID).Draw(t, "departments")
		c.People = append(c.People, p)
	}
	for i := range rapid.IntRange(0, 2).Draw(t, "screenings") {
		c.Screenings = append(c.Screenings, site.Screening{
			ID: site.ID(95 + i), DepartmentIDs: []site.ID{site.ID(90 + i)},
			PersonIDs: []site.ID{site.ID(rapid.IntRange(100, 104).Draw(t, "screened"))},
			LevelID:   rapid.SampledFrom([]site.ID{0, 40, 41, 42}).Draw(t, "until cleared"),
			LogOnly:   rapid.IntRange(0, 3).Draw(t, "noted") == 0,
		})
	}
	zone := func(name string) hours.Zone {
		loc, err := time.LoadLocation(name)
		require.NoError(t, err)
		return hours.ZoneFrom(loc, hours.At(time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)),
			hours.At(time.Date(2028, 1, 1, 0, 0, 0, 0, time.UTC)))
	}
	return NewBook(c, map[site.ID]hours.Zone{9: zone("America/Halifax"), 8: zone("America/St_Johns")})
}

// The matrix of a window is what asking at every quarter of an hour gives, for all to whom something leads through the
// door.
func TestMatrixIsAsking(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := drawBook(t)
		from := hours.At(time.Date(2026, 11, rapid.IntRange(23, 29).Draw(t, "day"), rapid.IntRange(0, 23).Draw(t, "hour"), 0,
			0, 0, time.UTC))
		to := from.Add(time.Duration(rapid.SampledFrom([]int{1, 15, 24 * 60}).Draw(t, "minutes")) * time.Minute)
		var doors []*site.Door
		for i := range b.Config.Doors {
			doors = append(doors, &b.Config.Doors[i])
		}
		seen := 0
		for _, row := range b.MatrixOf(b.Effective.People, doors, from, to).Rows {
			for _, p := range row.People {
				seen++
				for n, d := range doors {
					want := NoWay
					if len(answered(p, b.Effective, d.ID)) > 0 && comesIn(b, p, d.ID) {
						want = Closed
						for at := from; at < to; at = at.Add(15 * time.Minute) {
							if letIn(b, nobody, p, d, at) {
								want = Opens
							} else if want == Closed && letIn(b, everybody, p, d, at) {
								want = WithMore
							}
						}
					}
					require.Equal(t, want, row.Cells[n], "person %d at door %d", p.ID, d.ID)
				}
			}
		}
		require.Len(t, b.Effective.People, seen, "everybody stands in one row")
	})
}

func nobody(site.ID) []pass.Clearance { return nil }

func everybody(person site.ID) (out []pass.Clearance) {
	for id := site.ID(95); id < 97; id++ {
		out = append(out, pass.Clearance{Person: person, Screening: id, Until: hours.Never})
	}
	return out
}

// letIn reports whether a door lets somebody in, given who is cleared.
func letIn(b *Book, cleared func(site.ID) []pass.Clearance, p *site.Person, d *site.Door, at hours.Instant) bool {
	b.Cleared = cleared
	defer func() { b.Cleared = nil }()
	a, err := b.Ask(p.ID, d.ID, at)
	return err == nil && (a.Granted || a.Mode == hours.Free)
}

// comesIn reports whether something that somebody holds leads in through a door, and not only out.
func comesIn(b *Book, p *site.Person, door site.ID) bool {
	places := site.NewPlaces(b.Config)
	for _, g := range p.Levels {
		for _, e := range places.Entries(b.Effective.Level(g.LevelID)) {
			if e.DoorID == door && e.Side.Takes(false) {
				return true
			}
		}
	}
	return false
}

// Where somebody may go on a day is what asking at every quarter of an hour gives.
func TestWhereIsAsking(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := drawBook(t)
		p := b.Config.People[rapid.IntRange(0, 4).Draw(t, "who")]
		now := hours.At(time.Date(2026, 11, 26, 12, 0, 0, 0, time.UTC))
		day := hours.DayOf(2026, 11, rapid.IntRange(24, 28).Draw(t, "day"))
		w := b.Where(p, day, now)
		for _, d := range w.Doors {
			z := b.Zone(d.ID)
			for minute := 0; minute < hours.DayMinutes; minute += 15 {
				a, err := b.Ask(p.ID, d.ID, z.Resolve(day, minute))
				require.NoError(t, err)
				in := false
				for _, x := range d.Open {
					in = in || x.Start <= minute && minute < x.End
				}
				require.Equal(t, a.Granted || a.Mode == hours.Free, in, "door %d at %s: %s", d.ID, hours.Clock(minute), a.Reason)
			}
			a, err := b.Ask(p.ID, d.ID, now)
			require.NoError(t, err)
			require.Equal(t, a.Granted || a.Mode == hours.Free, d.Now)
			require.NotEmpty(t, d.Through)
			require.NotEmpty(t, d.Next)
		}
	})
}

// A list of rights has a line for each that leads somewhere, whichever way it is ordered: all that the matrix marks,
// and all through which Where says that somebody goes.
func TestRightsAreWhatLeadsThere(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := drawBook(t)
		doors, now := b.InOrder(), hours.At(time.Date(2026, 11, 26, 12, 0, 0, 0, time.UTC))
		rights := slices.Collect(b.Rights(b.Config.People, doors))
		require.ElementsMatch(t, rights, slices.Collect(b.RightsByDoor(b.Config.People, doors)))
		for i, r := range rights[:max(0, len(rights)-1)] {
			next := rights[i+1]
			require.LessOrEqual(t, slices.Index(b.Config.People, r.Person), slices.Index(b.Config.People, next.Person))
			if r.Person == next.Person {
				require.LessOrEqual(t, slices.Index(doors, r.Door), slices.Index(doors, next.Door))
			}
		}
		m := b.MatrixOf(b.Effective.People, doors, now, now.Add(396*24*time.Hour))
		for _, row := range m.Rows {
			for _, p := range row.People {
				for i, d := range m.Doors {
					leads := slices.ContainsFunc(rights, func(r Right) bool {
						return r.Person.ID == p.ID && r.Door == d &&
							r.Side.Takes(false)
					})
					if row.Cells[i] != NoWay {
						require.True(t, leads, "%d at %d", p.ID, d.ID)
					}
				}
			}
		}
		for _, p := range b.Config.People {
			for _, d := range b.Where(p, 0, now).Doors {
				for _, x := range d.Through {
					found := slices.ContainsFunc(rights, func(r Right) bool {
						return r.Person == p && r.Door.ID == d.ID && r.LevelID == x.LevelID && r.ScheduleID == x.ScheduleID &&
							r.By == x.By
					})
					require.True(t, found, "%+v", x)
				}
			}
		}
	})
}

func BenchmarkMatrix(b *testing.B) {
	book := largeBook(b)
	from := hours.At(time.Date(2026, 11, 26, 18, 7, 0, 0, time.UTC))
	var doors []*site.Door
	for i := range book.Config.Doors {
		doors = append(doors, &book.Config.Doors[i])
	}
	for name, length := range map[string]time.Duration{"moment": time.Millisecond, "week": 7 * 24 * time.Hour} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				book.MatrixOf(book.Effective.People, doors, from, from.Add(length))
			}
		})
	}
}

func largeBook(b *testing.B) *Book {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(b, err)
	from := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	return NewBook(largesite.Config(), map[site.ID]hours.Zone{
		9: hours.ZoneFrom(loc, hours.At(from), hours.At(from.AddDate(4, 0, 0))),
	})
}

func BenchmarkReach(b *testing.B) {
	book := largeBook(b)
	at := hours.At(time.Date(2026, 11, 26, 18, 7, 0, 0, time.UTC))
	for b.Loop() {
		book.Reach(at)
	}
}

func BenchmarkAsk(b *testing.B) {
	book := largeBook(b)
	at := hours.At(time.Date(2026, 11, 26, 18, 7, 0, 0, time.UTC))
	for i := 0; b.Loop(); i++ {
		if _, err := book.Ask(site.ID(100000+i%100000), site.ID(1000+i%2000), at); err != nil {
			b.Fatal(err)
		}
	}
}
