package image

import (
	"math/rand/v2"
	"runtime"
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

// A controller that shares whom it knows answers what it would with an image of its own: whom it does not know, too.
func TestSharedIsItsOwnImage(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := &site.Config{
			Settings: site.DefaultSettings(), Controllers: []site.Controller{{ID: 8}, {ID: 9}}, Plans: []site.Plan{{ID: 20}},
			Schedules: []site.Schedule{{ID: 30, Week: hours.Always()}, {ID: 31}},
		}
		for i := range 4 {
			d := site.Door{
				ID: site.ID(1 + i), Port: 1 + i/2, ControllerID: site.ID(8 + i%2), PlanID: 20, Hardware: site.UsualHardware(),
			}
			d.In.Keypad, d.Out.Fitted = true, true
			c.Doors = append(c.Doors, d)
		}
		for i := range 3 {
			l := site.Level{ID: site.ID(40 + i)}
			for range rapid.IntRange(0, 3).Draw(t, "entries") {
				e := drawEntry(t)
				e.ScheduleID = site.ID(rapid.IntRange(30, 31).Draw(t, "schedule"))
				l.Entries = append(l.Entries, e)
			}
			c.Levels = append(c.Levels, l)
		}
		for i := range 6 {
			c.People = append(c.People, drawPerson(t, site.ID(100+i)))
		}
		c.Screenings = drawScreenings(t)
		zone := clock(0)
		shared := NewShared(c, site.NewTimetable(c, func(site.ID) *hours.Zone { return zone }), zone)
		for _, x := range c.Controllers {
			own, with := Build(c, x.ID, *zone, Secrets{}).Compile(), shared.Compile(x.ID, Secrets{})
			require.Equal(t, own.PINDigits, with.PINDigits)
			for door := range own.Doors {
				a, b := own.Place(door), with.Place(door)
				for range 12 {
					q := pass.Request{
						At: hours.At(time.Date(2026, 11, 26, rapid.IntRange(0, 23).Draw(t, "hour"), 0, 0, 0, time.UTC)), Door: door,
						Mode: rapid.SampledFrom(hours.Modes).Draw(t, "mode"), Out: rapid.Bool().Draw(t, "out"),
						HasCard: rapid.Bool().Draw(t, "card"),
						HasPIN:  rapid.Bool().Draw(t, "pin"),
						PIN:     cards.HashPIN(nil, rapid.SampledFrom([]string{"100", "101", "-102", "7"}).Draw(t, "which")),
					}
					q.Bits, _ = cards.Standard26.Encode(0, rapid.Uint64Range(198, 213).Draw(t, "number"))
					ask := func(p *Place) (pass.Decision, []pass.Check) {
						x := pass.Pass{Request: q, Trace: new(pass.Trace)}
						p.Side(q.Out).Decide(&x)
						x.Word = 0 // their own matter
						return x.Decision, x.Trace.Checks()
					}
					d1, t1 := ask(a)
					d2, t2 := ask(b)
					require.Equal(t, d1, d2)
					require.Equal(t, t1, t2)
				}
			}
		}
	})
}

// BenchmarkDecide asks at the large site: at one controller of all doors, at one of 8, and over 125 in one process.
func BenchmarkDecide(b *testing.B) {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(b, err)
	from := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	z := hours.ZoneFrom(loc, hours.At(from), hours.At(from.AddDate(4, 0, 0)))
	for name, n := range map[string]int{"all doors at one": 1, "8 doors": 250, "over 125": 125} {
		b.Run(name, func(b *testing.B) {
			var before, after runtime.MemStats
			c := largesite.Spread(n)
			runtime.GC()
			runtime.ReadMemStats(&before)
			shared := NewShared(c, site.NewTimetable(c, func(site.ID) *hours.Zone { return &z }), &z)
			var units []*Compiled
			for i := range n {
				if n == 250 && i > 0 {
					break
				}
				units = append(units, shared.Compile(site.ID(600+i), Secrets{}))
			}
			runtime.GC()
			runtime.ReadMemStats(&after)
			requests, at := largesite.Requests(c, n, len(units))
			var p pass.Pass
			gates := make([]pass.Gates, len(units))
			for i, u := range units {
				gates[i] = u.Gates()
			}
			b.ReportAllocs()
			for i := 0; b.Loop(); i++ {
				p.Request = requests[i&8191]
				gates[at[i&8191]].Decide(&p)
			}
			b.ReportMetric(float64(after.HeapAlloc-before.HeapAlloc)/1e6, "MB")
			runtime.KeepAlive(units)
		})
	}
}

// BenchmarkDecideWithRules asks at 8 doors of the large site, without rules and with every one: areas that refuse, an
// interlock, two people at each door, a screening under which everybody is, a toggle, a lockdown made ready, and an
// alarm area.
func BenchmarkDecideWithRules(b *testing.B) {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(b, err)
	from := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	z := hours.ZoneFrom(loc, hours.At(from), hours.At(from.AddDate(4, 0, 0)))
	for _, ruled := range []bool{false, true} {
		b.Run(map[bool]string{false: "without", true: "with all"}[ruled], func(b *testing.B) {
			c := largesite.Spread(250)
			if ruled {
				everyRule(c)
			}
			unit := NewShared(c, site.NewTimetable(c, func(site.ID) *hours.Zone { return &z }), &z).Compile(600, Secrets{})
			places, _ := unit.Lay()
			r := rand.New(rand.NewPCG(7, 8))
			var requests [8192]pass.Request
			at := hours.At(time.Date(2026, 11, 24, 14, 0, 0, 0, time.UTC))
			for i := range requests {
				p := c.People[r.IntN(len(c.People))]
				facility, number, _ := p.Credentials[0].Card()
				read, err := cards.Standard26.Encode(facility, number)
				require.NoError(b, err)
				requests[i] = pass.Request{At: at, Door: r.IntN(len(places)), Mode: hours.Card, HasCard: true, Bits: read}
				if ruled {
					places[0].Tell([]pass.Clearance{{Person: p.ID, Screening: 1 << 40, Until: hours.Never}})
				}
			}
			var p pass.Pass
			b.ReportAllocs()
			for i := 0; b.Loop(); i++ {
				p = pass.Pass{Request: requests[i&8191]}
				places[p.Door].Gates[0].Decide(&p)
			}
		})
	}
}

func everyRule(c *site.Config) {
	const rule = 1 << 40
	var mine, everybody []site.ID
	for i := range c.Doors {
		d := &c.Doors[i]
		d.OutsideAreaID, d.InsideAreaID = rule+1, rule+2
		toggle := site.UsualToggle()
		d.Toggle = &toggle
		if d.ControllerID == 600 {
			mine = append(mine, d.ID)
		}
	}
	for _, p := range c.People {
		everybody = append(everybody, p.ID)
	}
	always := slices.IndexFunc(c.Schedules, func(s site.Schedule) bool { return s.Fixed })
	if always < 0 {
		c.Schedules = append(c.Schedules, site.Schedule{ID: rule + 9, Week: hours.Always(), Fixed: true})
		always = len(c.Schedules) - 1
	}
	c.Areas = []site.Area{
		{ID: rule + 1, Mode: site.PassbackOff}, {ID: rule + 2, Mode: site.PassbackRefuse, Most: 5000, Forget: "04:00"},
	}
	c.Interlocks = []site.Interlock{{ID: rule + 3, DoorIDs: mine}}
	c.Groups = []site.Group{{ID: rule + 4, PersonIDs: everybody[:200]}}
	c.Proofs = []site.Proofs{{ID: rule + 5, Kind: site.Combined, DoorIDs: mine, ScheduleID: c.Schedules[always].ID,
		Window:       20,
		Combinations: []site.Combination{{Total: 2, Parts: []site.Part{{GroupID: rule + 4, Count: 1}}}}}}
	c.Screenings = []site.Screening{{ID: rule, PersonIDs: everybody[:1000], Lasts: site.LastsWithdrawn}}
	c.Emergencies = []site.Emergency{
		{ID: rule + 6, Does: site.Lockdown, Targets: []site.Target{{Kind: site.Everything}}, Reads: 3, Overrides: true},
	}
	c.AlarmAreas = []site.AlarmArea{
		{ID: rule + 7, DoorIDs: mine, Reads: 2, ScheduleID: c.Schedules[always].ID, Sounds: 60},
	}
	for i := range c.Levels {
		c.Levels[i].Disarms = true
	}
}
