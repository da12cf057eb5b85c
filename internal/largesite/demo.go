package largesite

import (
	"cmp"
	"fmt"
	"math/rand/v2"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// The size of Demo.
const (
	demoSites     = 5
	demoFloors    = 20 // of each site
	demoDoors     = 20 // of each floor
	demoSchedules = 1000
	demoPeople    = 20_000
	demoWideLevel = 400 // doors of the widest level
)

// Demo is a large place to look at on screen: 2,000 doors on 100 floors of five sites, 250 controllers, 500 levels of
// which one leads to 400 doors, 1,000 schedules and 20,000 people.
func Demo() *site.Config {
	c := Spread(250)
	c.Settings.Name = "Five Harbours"
	c.Sites, c.Floors = nil, nil
	for i, name := range []string{"Anchor Quay", "Beacon Yard", "Cable Wharf", "Dory Landing", "Ebb Street"}[:demoSites] {
		c.Sites = append(c.Sites, site.Site{ID: site.ID(300 + i), Name: name, Zone: "America/Halifax"})
		for f := range demoFloors {
			id := site.ID(310 + i*demoFloors + f)
			c.Floors = append(c.Floors, site.Floor{ID: id, Name: fmt.Sprintf("Level %d", f), SiteID: site.ID(300 + i), Level: f})
		}
	}
	per := len(c.Doors) / demoSites // doors of a site
	for i := range c.Doors {
		d := &c.Doors[i]
		d.FloorID = c.Floors[i/demoDoors].ID
		d.Name = fmt.Sprintf("%s %c%02d-%02d", rooms[i%len(rooms)], 'A'+i/per, i/demoDoors%demoFloors, i%demoDoors+1)
		d.ControllerID, d.Port = c.Controllers[i/8].ID, i%8+1
	}
	for i := range c.Controllers {
		c.Controllers[i].SiteID, c.Controllers[i].Ports = c.Sites[i*8/per].ID, 8
	}
	schedules(c)
	c.Levels[0].Name, c.Levels[0].Entries = "Everywhere inside", nil
	for i := range demoWideLevel {
		c.Levels[0].Entries = append(c.Levels[0].Entries, site.At(c.Doors[i*5].ID, c.Schedules[2+i%20].ID))
	}
	for i := range c.Levels {
		c.Levels[i].Entries = slices.CompactFunc(slices.SortedFunc(slices.Values(c.Levels[i].Entries),
			func(a, b site.Entry) int {
				return cmp.Or(cmp.Compare(a.Target.ID, b.Target.ID), cmp.Compare(a.ScheduleID, b.ScheduleID))
			}), site.Entry.Equal)
	}
	c.People = c.People[:demoPeople]
	for _, p := range c.People {
		p.Levels = once(p.Levels)
	}
	return c
}

// once is a list with each item the first time that it stands in it.
func once[T comparable](list []T) []T {
	seen := map[T]bool{}
	out := []T{}
	for _, x := range list {
		if !seen[x] {
			seen[x] = true
			out = append(out, x)
		}
	}
	return out
}

var rooms = []string{"Hall", "Store", "Office", "Stair", "Plant room", "Loading", "Archive", "Workshop", "Lobby",
	"Gate"}

// schedules adds Always and Never, and as many more as make a long list; one door in three follows its own plan.
func schedules(c *site.Config) {
	r := rand.New(rand.NewPCG(5, 6))
	fixed, plans := site.Basics()
	for i := range fixed {
		fixed[i].ID = site.ID(90 + i)
	}
	plans[0].ID = 95
	list := fixed
	list = append(list, c.Schedules...)
	for i := len(list); i < demoSchedules; i++ {
		var w hours.Week
		for d := range 5 {
			start := 15 * (20 + r.IntN(24))
			w[d] = []hours.Period{{Start: start, End: start + 15*(8+r.IntN(36))}}
		}
		list = append(list, site.Schedule{ID: site.ID(20_000 + i), Name: fmt.Sprintf("Hours of team %03d", i), Week: w})
	}
	c.Schedules = list
	c.Plans = append([]site.Plan{plans[0]}, c.Plans...)
}
