package review

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

var noon = hours.At(time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC))

func peopleFindings(t *testing.T, c *site.Config, k Known) []Finding {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	z := hours.ZoneFrom(loc, noon-400*hours.FullDay, noon+900*hours.FullDay)
	zone := func(site.ID) *hours.Zone { return &z }
	return People(c, c.Effective(), site.NewTimetable(c, zone), zone, noon, k)
}

// staffed is sound with somebody of a name, whom doors know.
func staffed() *site.Config {
	c := sound()
	c.People[0].Name = "Ada"
	return c
}

// lifted adds two elevators of two floors, one of them for goods, and an entry of the level for them.
func lifted(c *site.Config, r site.Ride) {
	c.Floors = append(c.Floors, site.Floor{ID: 80, Name: "Low"}, site.Floor{ID: 81, Name: "High"}, site.Floor{
		ID: 82, Name: "Attic",
	})
	for i, name := range []string{"Front", "Goods"} {
		car := site.UsualCar([]site.ID{80, 81}, []int{1 + i})
		car.Freight = i == 1
		d := c.Doors[0]
		d.ID, d.Name, d.Port, d.Hardware, d.Car = site.ID(90+i), name, 5+i, site.UsualElevator(), &car
		c.Doors = append(c.Doors, d)
	}
	c.Levels[0].Entries = append(c.Levels[0].Entries, site.Entry{
		Target: site.Target{Kind: site.AtStops}, ScheduleID: 6, Ride: &r,
	})
}

// Two elevators that people reach whole, the one for goods left out where all are meant, are nothing to talk of.
func TestSoundRides(t *testing.T) {
	c := staffed()
	lifted(c, site.Ride{AllCars: true, AllFloors: true})
	c.Levels[0].Entries[1].Except = []site.Target{{Kind: site.AtDoor, ID: 91}}
	c.Levels[0].Entries = append(c.Levels[0].Entries, site.Entry{
		Target: site.Target{Kind: site.AtStops}, ScheduleID: 6,
		Ride: &site.Ride{CarIDs: []site.ID{91}, FloorIDs: []site.ID{80, 81}},
	})
	assert.Empty(t, peopleFindings(t, c, Known{}))
}

// Each finding about people: how a sound configuration is spoiled, or what else is known, and what is then said.
func TestPeopleFindings(t *testing.T) {
	require.Empty(t, peopleFindings(t, staffed(), Known{}))
	never := hours.Week{}
	for _, x := range []struct {
		code     string
		severity Severity
		says     string
		spoil    func(c *site.Config, k *Known)
	}{
		{"level-nobody", Untidy, "Nobody has Spare.", func(c *site.Config, _ *Known) {
			c.Levels = append(c.Levels, site.Level{ID: 20, Name: "Spare", Entries: []site.Entry{site.At(8, 6)}})
		}},
		{"level-nobody", Untidy, "nor Outer, which contains it", func(c *site.Config, _ *Known) {
			c.Levels = append(c.Levels, site.Level{ID: 20, Name: "Spare", Entries: []site.Entry{site.At(8, 6)}},
				site.Level{ID: 21, Name: "Outer", Includes: []site.ID{20}})
		}},
		{"level-nowhere", Risky, "Staff leads through no door", func(c *site.Config, _ *Known) { c.Levels[0].Entries = nil }},
		{"card-no-level", Risky, "Ada has a card or a PIN, and nothing", func(c *site.Config, _ *Known) { c.People[0].Levels = nil }},
		{"level-no-card", Untidy, "Ada has access, and neither", func(c *site.Config, _ *Known) { c.People[0].Credentials = nil }},
		{"hours-never-meet", Risky, "The hours of Staff at Door never meet", func(c *site.Config, _ *Known) { c.Schedules[0].Week = never }},
		{"hours-never-meet", Risky, "never meet", func(c *site.Config, _ *Known) { // free whenever the schedule is open
			c.Schedules[0].Week = hours.Week{0: {{Start: 600, End: 720}}}
			c.Plans[0].Pattern = hours.Pattern{}
			c.Plans[0].Paint([]site.Row{{Day: 0}}, hours.Segment{Period: hours.Period{Start: 600, End: 720}, Mode: hours.Free})
			c.Plans[0].Default = hours.Card
		}},
		{"floors-no-car", Risky, "Staff has elevator floors and no elevator", func(c *site.Config, _ *Known) {
			lifted(c, site.Ride{FloorIDs: []site.ID{80}})
		}},
		{"car-no-floor", Risky, "Staff comes to Front and to none of its floors: 1 person holds a card", func(c *site.Config, _ *Known) {
			lifted(c, site.Ride{CarIDs: []site.ID{90}, FloorIDs: []site.ID{82}})
		}},
		{"freight-in-all", Risky, "Staff is for all elevators, Goods among them", func(c *site.Config, _ *Known) {
			lifted(c, site.Ride{AllCars: true, AllFloors: true})
		}},
		{"floor-unreached", Untidy, "Nobody's card releases Low by Front.", func(c *site.Config, _ *Known) {
			lifted(c, site.Ride{CarIDs: []site.ID{90, 91}, FloorIDs: []site.ID{81}})
		}},
		{"floor-unreached", Risky, "Nobody's card releases any floor of Goods.", func(c *site.Config, _ *Known) {
			lifted(c, site.Ride{CarIDs: []site.ID{90}, AllFloors: true})
		}},
		{"dates-apart", Wrong, "Ada has Staff only", func(c *site.Config, _ *Known) {
			c.People[0].Dates = site.Dates{Until: "2026-12-24"}
			c.People[0].Levels[0].Dates = site.Dates{From: "2027-01-01"}
		}},
		{"dates-apart", Wrong, "through Crew only", func(c *site.Config, _ *Known) {
			c.Departments = []site.Department{
				{ID: 30, Name: "Crew", Levels: []site.Grant{{LevelID: 10, Dates: site.Dates{Until: "2026-12-24"}}}},
			}
			c.People[0].DepartmentIDs, c.People[0].Dates = []site.ID{30}, site.Dates{From: "2027-01-01"}
		}},
		{"grant-never", Wrong, "not open at any time then", func(c *site.Config, _ *Known) { // a weekend, of office hours
			c.People[0].Levels[0].Dates = site.Dates{From: "2026-11-28", Until: "2026-11-29"}
		}},
		{"not-seen", Untidy, "Ada was let in last on 1 Aug 2026", func(_ *site.Config, k *Known) {
			k.Since, k.Seen = noon-200*hours.FullDay, map[site.ID]hours.Instant{
				11: hours.At(time.Date(2026, 8, 1, 12, 0, 0, 0, time.UTC)),
			}
		}},
		{"not-seen", Untidy, "Ada has never been let in", func(_ *site.Config, k *Known) { k.Since = noon - 200*hours.FullDay }},
		{"card-twice", Risky, "Ben and Ada both have a card 0-00001", func(c *site.Config, _ *Known) {
			other := site.NewCard("34-bit", 0, 1)
			other.Value = c.People[0].Credentials[0].Value
			c.People = append(c.People, &site.Person{
				ID: 12, Name: "Ben", Credentials: []site.Credential{other}, Levels: c.People[0].Levels,
			})
		}},
		{"expired", Untidy, "and still has cards and access", func(c *site.Config, _ *Known) { c.People[0].Dates = site.Dates{Until: "2026-11-01"} }},
		{"several-ways", Untidy, "Ada may pass Door by Staff and by Late", func(c *site.Config, _ *Known) {
			late := site.Schedule{ID: 40, Name: "Late", Week: hours.Week{0: {{Start: 1080, End: 1200}}}}
			c.Schedules = append(c.Schedules, late)
			c.Levels = append(c.Levels, site.Level{ID: 20, Name: "Late", Entries: []site.Entry{site.At(8, 40)}})
			c.People[0].Levels = append(c.People[0].Levels, site.Grant{LevelID: 20})
		}},
		{"name-odd", Untidy, "Test door looks like", func(c *site.Config, _ *Known) { c.Levels[0].Name = "Test door" }},
		{"name-odd", Untidy, "has a date in it", func(c *site.Config, _ *Known) { c.People[0].Name = "Crew 2026-11-30" }},
		{"nothing-takes", Risky, "No reader on the way of Ada takes a plate", func(c *site.Config, _ *Known) {
			c.People[0].Credentials = append(c.People[0].Credentials, site.Credential{
				Kind: site.Plate, Value: "AK 1", Status: site.Active,
			})
		}},
		{"over-capacity", Wrong, "cannot be sent: 5,001 of 5,000 people", func(_ *site.Config, k *Known) {
			k.Over = map[site.ID]string{3: "5,001 of 5,000 people"}
		}},
		{"unsent", Risky, "lacks what was changed on 21 Nov 2026", func(_ *site.Config, k *Known) {
			k.Unsent = map[site.ID]hours.Instant{3: noon - 2*hours.FullDay}
		}},
	} {
		c, k := staffed(), Known{}
		x.spoil(c, &k)
		found := false
		list := peopleFindings(t, c, k)
		for _, f := range list {
			assert.Equal(t, "people", f.Station)
			if f.Code == x.code && strings.Contains(f.Words, x.says) {
				found = true
				assert.Equal(t, x.severity, f.Severity, x.code)
				assert.NotEmpty(t, f.Mend, x.code)
			}
		}
		assert.True(t, found, "%s, %q: %+v", x.code, x.says, list)
	}
}

// What is no finding: a fresh change, a suspended person, one whose time came to its end today, names that only look
// odd.
func TestNoPeopleFindings(t *testing.T) {
	for name, spare := range map[string]func(c *site.Config, k *Known){
		"changed an hour ago": func(_ *site.Config, k *Known) { k.Unsent = map[site.ID]hours.Instant{3: noon - hours.Hour} },
		"not known for long":  func(_ *site.Config, k *Known) { k.Since = noon - 30*hours.FullDay },
		"ended today":         func(c *site.Config, _ *Known) { c.People[0].Dates = site.Dates{Until: "2026-11-23"} },
		"a name":              func(c *site.Config, _ *Known) { c.People[0].Name = "Contessa Testa" },
		"suspended": func(c *site.Config, k *Known) {
			c.People[0].Suspended, c.People[0].Levels = true, nil
			c.People = append(c.People, &site.Person{
				ID: 12, Name: "Ben", Credentials: []site.Credential{site.NewCard("26-bit", 0, 2)},
				Levels: []site.Grant{{LevelID: 10}},
			})
		},
		"the same hours twice": func(c *site.Config, _ *Known) {
			c.Levels = append(c.Levels, site.Level{ID: 20, Name: "Also", Entries: []site.Entry{site.At(8, 6)}})
			c.People[0].Levels = append(c.People[0].Levels, site.Grant{LevelID: 20})
		},
	} {
		c, k := staffed(), Known{}
		spare(c, &k)
		assert.Empty(t, peopleFindings(t, c, k), name)
	}
}

// Many of one kind are told together.
func TestManyAreToldTogether(t *testing.T) {
	c := staffed()
	for i := range 30 {
		c.People = append(c.People, &site.Person{
			ID: site.ID(100 + i), Name: fmt.Sprintf("P%d", i), Levels: []site.Grant{{LevelID: 10}},
		})
	}
	list := peopleFindings(t, c, Known{})
	require.Len(t, list, 1)
	assert.Equal(t, "30 people have access, and neither a card nor a PIN.", list[0].Words)
	assert.Equal(t, "P0 and 29 others", list[0].Name)
}
