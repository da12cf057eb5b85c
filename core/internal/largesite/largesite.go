// Package largesite makes the large site that benchmarks use.
package largesite

import (
	"math/rand/v2"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Config is the site of the design's section 8: 2,000 doors × 100,000 people × 500 levels on one controller,
// with three holiday types, 40 holidays and 20 dated changes. People hold one of 300 sets of levels, as departments do,
// and one in fifty something of their own besides.
func Config() *site.Config {
	r := rand.New(rand.NewPCG(1, 2))
	c := place(r)
	var sets [300][]site.Grant
	for i := range sets {
		sets[i] = grants(r, 3)
	}
	people(c, func(i int) []site.Grant {
		held := sets[r.IntN(len(sets))]
		if i%50 == 0 {
			held = slices.Concat(held, grants(r, 1))
		}
		return held
	})
	return c
}

// Scattered is the same place at its worst: everybody holds three levels at random, and hardly two people the same.
func Scattered() *site.Config {
	r := rand.New(rand.NewPCG(1, 2))
	c := place(r)
	people(c, func(int) []site.Grant { return grants(r, 3) })
	return c
}

func grants(r *rand.Rand, n int) []site.Grant {
	var out []site.Grant
	for range n {
		out = append(out, site.Grant{LevelID: site.ID(10000 + r.IntN(500))})
	}
	return out
}

func people(c *site.Config, held func(i int) []site.Grant) {
	for i := range 100000 {
		c.People = append(c.People, site.Person{
			ID:     site.ID(100000 + i),
			Cards:  []site.CardHeld{{Format: "26-bit", Facility: uint64(i >> 16), Number: uint64(i & 0xffff), Status: site.Active}},
			Levels: held(i),
		})
	}
}

// place is the site without people.
func place(r *rand.Rand) *site.Config {
	c := &site.Config{
		Settings: site.DefaultSettings(), Sites: []site.Site{{ID: 1, Name: "Large"}},
		Floors:      []site.Floor{{ID: 2, SiteID: 1}},
		Controllers: []site.Controller{{ID: 9, SiteID: 1}},
		Types: []site.HolidayType{
			{
				ID:        3,
				Rank:      1,
				Plans:     site.DefaultMode,
				Schedules: site.AsWeekday,
			}, {ID: 4, Rank: 2, Plans: site.DefaultMode, Schedules: site.Closed},
			{ID: 5, Rank: 3, Plans: site.AsWeekday, Schedules: site.AsWeekday},
		},
	}
	for i := range 40 {
		h := site.Holiday{ID: site.ID(40 + i), TypeID: site.ID(3 + i%3), End: hours.DayMinutes}
		h.HolidayDates = hours.HolidayDates{Kind: hours.EveryYear, Month: 1 + i%12, Day: 1 + r.IntN(28)}
		c.Holidays = append(c.Holidays, h)
	}
	for i := range 30 {
		var w hours.Week
		for d := range w {
			start := r.IntN(1200)
			w[d] = []hours.Period{{Start: start, End: start + 300 + r.IntN(600)}}
		}
		c.Schedules = append(c.Schedules, site.Schedule{ID: site.ID(100 + i), Week: w})
	}
	for i := range 20 {
		p := hours.Pattern{}
		for d := range 7 {
			p.Paint(d, hours.Segment{Period: hours.Period{Start: 420 + i, End: 1080 + i}, Mode: hours.Modes[1+i%5]})
		}
		c.Plans = append(c.Plans, site.Plan{ID: site.ID(200 + i), Pattern: p})
	}
	for i := range 2000 {
		d := site.Door{
			ID:           site.ID(1000 + i),
			Port:         i + 1,
			FloorID:      2,
			ControllerID: 9,
			PlanID:       site.ID(200 + i%20),
			Hardware:     site.UsualHardware(),
		}
		d.In.Keypad = true
		c.Doors = append(c.Doors, d)
	}
	for i := range 20 {
		x := site.DatedChange{
			ID:     site.ID(500 + i),
			Mode:   hours.Modes[i%6],
			From:   "2026-03-06T17:00",
			Until:  "2026-03-06T22:00",
			Recurs: "FREQ=MONTHLY;BYDAY=1FR",
		}
		for range 100 {
			x.DoorIDs = append(x.DoorIDs, site.ID(1000+r.IntN(2000)))
		}
		c.Changes = append(c.Changes, x)
	}
	for i := range 500 {
		l := site.Level{ID: site.ID(10000 + i)}
		for range 40 {
			l.Entries = append(
				l.Entries,
				site.Entry{DoorID: site.ID(1000 + r.IntN(2000)), ScheduleID: site.ID(100 + r.IntN(30))},
			)
		}
		c.Levels = append(c.Levels, l)
	}
	return c
}
