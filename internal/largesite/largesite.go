// Package largesite makes the large site that benchmarks use.
package largesite

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
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

// Spread is Config with its doors spread over so many controllers, and with names for everything.
func Spread(controllers int) *site.Config {
	c := Config()
	c.Controllers = nil
	for i := range controllers {
		c.Controllers = append(c.Controllers, site.Controller{
			ID: site.ID(600 + i), Name: fmt.Sprintf("Riser %03d", i), SiteID: 1, Zone: "America/Halifax",
			Serial: fmt.Sprintf(
				"L-%04d",
				i,
			), Model: "AK-8", Ports: (len(c.Doors) + controllers - 1) / controllers, People: 200_000,
		})
	}
	for i := range c.Doors {
		c.Doors[i].ControllerID, c.Doors[i].Port = site.ID(600+i%controllers), 1+i/controllers
		c.Doors[i].Name = fmt.Sprintf("Door %04d", i)
		c.Doors[i].FirstCard = site.UsualFirstCard()
	}
	for i := range c.Levels {
		c.Levels[i].Name = fmt.Sprintf("Level %03d", i)
	}
	for i := range c.Schedules {
		c.Schedules[i].Name = fmt.Sprintf("Hours %02d", i)
	}
	for i := range c.Plans {
		c.Plans[i].Name = fmt.Sprintf("Plan %02d", i)
	}
	for i := range c.Types {
		c.Types[i].Name = fmt.Sprintf("Type %d", i)
	}
	c.Floors[0].Name = "Level 0"
	for i := range c.Changes {
		c.Changes[i].Name = fmt.Sprintf("Evening %02d", i)
	}
	for i := range c.Holidays {
		c.Holidays[i].Name = fmt.Sprintf("Holiday %02d", i)
	}
	for i := range 40 {
		c.Departments = append(c.Departments, site.Department{
			ID: site.ID(50_000 + i), Name: fmt.Sprintf("Department %02d", i), Levels: []site.Grant{},
		})
	}
	for i, p := range c.People {
		p.Name = fmt.Sprintf("%s %s %05d", first[i%len(first)], last[i/len(first)%len(last)], i)
		p.DepartmentIDs = []site.ID{site.ID(50_000 + i%40)}
	}
	return c
}

var (
	first = []string{
		"Ada",
		"Ben",
		"Cleo",
		"Dario",
		"Edda",
		"Femi",
		"Greta",
		"Hugo",
		"Ines",
		"Jonas",
		"Kwame",
		"Lena",
		"Mina",
	}
	last = []string{
		"Abbot",
		"Brack",
		"Corrie",
		"Dunmore",
		"Ester",
		"Fathom",
		"Groyne",
		"Harrow",
		"Inver",
		"Jetty",
		"Keel",
	}
)

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
		c.People = append(c.People, &site.Person{
			ID:          site.ID(100000 + i),
			Credentials: []site.Credential{site.NewCard("26-bit", uint64(i>>16), uint64(i&0xffff))},
			Levels:      held(i),
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
				site.At(site.ID(1000+r.IntN(2000)), site.ID(100+r.IntN(30))),
			)
		}
		c.Levels = append(c.Levels, l)
	}
	return c
}

// Requests are 8,192 reads at the first so many controllers of Spread, and at which: half aim at a door where the
// person has a level, as far as there is one.
func Requests(c *site.Config, controllers, of int) (list []pass.Request, at []int) {
	r := rand.New(rand.NewPCG(3, 4))
	doors := map[site.ID][]int{} // of each level, of these controllers
	for i := range c.Levels {
		for _, e := range c.Levels[i].Entries {
			if d := int(e.Target.ID) - 1000; d%controllers < of {
				doors[c.Levels[i].ID] = append(doors[c.Levels[i].ID], d)
			}
		}
	}
	noon := hours.At(time.Date(2026, 11, 26, 18, 7, 0, 0, time.UTC))
	for len(list) < 8192 {
		p := c.People[r.IntN(len(c.People))]
		d := r.IntN(len(c.Doors)/controllers)*controllers + r.IntN(of)
		if mine := doors[p.Levels[0].LevelID]; len(list)%2 == 0 && len(mine) > 0 {
			d = mine[r.IntN(len(mine))]
		}
		bits, err := cards.Standard26.Encode(uint64(p.ID-100000)>>16, uint64(p.ID-100000)&0xffff)
		if err != nil {
			panic(err) // they are made so that they fit
		}
		list = append(list, pass.Request{
			At: noon.Add(
				time.Duration(r.IntN(600_000)) * time.Second,
			), Door: d / controllers, Mode: hours.Card, HasCard: true, Bits: bits,
		})
		at = append(at, d%controllers)
	}
	return list, at
}
