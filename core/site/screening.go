package site

import (
	"fmt"
	"slices"

	"amberkeystone/core/hours"
)

// Lasting is how long somebody stays cleared.
type Lasting string

// How long somebody stays cleared.
const (
	LastsHours     Lasting = "hours"
	LastsMidnight  Lasting = "midnight"
	LastsDays      Lasting = "days" // through the last minute of the nth day, the first being that of the clearing
	LastsWithdrawn Lasting = "withdrawn"
)

// Screening is people who must be cleared before what they usually may counts (design 3.11). Until then one level does.
type Screening struct {
	ID            ID      `json:"id"`
	Name          string  `json:"name"`
	PersonIDs     []ID    `json:"personIds"`
	DepartmentIDs []ID    `json:"departmentIds" doc:"Whose members are screened, also those who join later"`
	LevelID       ID      `json:"levelId,omitempty" doc:"The level that they have, and that alone counts until they are cleared; 0: none"`
	DeskIDs       []ID    `json:"deskIds" doc:"Doors at whose reader in a card brings up their record, to be cleared by whoever sits at the screen"`
	PassIDs       []ID    `json:"passIds" doc:"Doors by which whoever comes in is cleared"`
	Lasts         Lasting `json:"lasts" enum:"hours,midnight,days,withdrawn" doc:"Until when they are cleared"`
	Count         int     `json:"count,omitempty" doc:"Of hours and days: how many"`
	LogOnly       bool    `json:"logOnly,omitempty" doc:"Who is not cleared comes in all the same, and it is noted"`
	Off           bool    `json:"off,omitempty" doc:"Not in use; its settings are kept"`
}

// Check says what is wrong with a screening by itself.
func (s Screening) Check() Faults {
	var fs Faults
	fs.name(s.Name)
	fs.add(len(s.PersonIDs)+len(s.DepartmentIDs) == 0, "departmentIds", "choose who is screened: people, or departments")
	fs.once("personIds", s.PersonIDs, "person")
	fs.once("departmentIds", s.DepartmentIDs, "department")
	fs.once("deskIds", s.DeskIDs, "door")
	fs.once("passIds", s.PassIDs, "door")
	fs.add(!oneOf(s.Lasts, LastsHours, LastsMidnight, LastsDays, LastsWithdrawn), "lasts",
		"%q is not hours, midnight, days or withdrawn", s.Lasts)
	switch s.Lasts {
	case LastsHours, LastsDays:
		fs.add(s.Count < 1, "count", "say how many %s", s.Lasts)
		fs.within("Screening.count", "count", s.Count)
	default:
		fs.add(s.Count != 0, "count", "only hours and days are counted")
	}
	return fs
}

// Has reports whether somebody is screened; nobody is nobody.
func (s *Screening) Has(p *Person) bool {
	return p != nil && !s.Off && (slices.Contains(s.PersonIDs, p.ID) ||
		slices.ContainsFunc(p.DepartmentIDs, func(d ID) bool { return slices.Contains(s.DepartmentIDs, d) }))
}

// Until returns the instant at which somebody who is cleared now is not any more: Never, until that is withdrawn.
func (s *Screening) Until(z *hours.Zone, now hours.Instant) hours.Instant {
	switch s.Lasts {
	case LastsHours:
		return now + hours.Instant(s.Count)*hours.FullDay/24
	case LastsMidnight:
		return z.Resolve(z.Wall(now).Day+1, 0)
	case LastsDays:
		return z.Resolve(z.Wall(now).Day+hours.Day(s.Count), 0)
	}
	return hours.Never
}

// LastsWords says for how long: "until midnight", "for 4 hours".
func (s *Screening) LastsWords() string {
	switch s.Lasts {
	case LastsHours:
		return "for " + counted(s.Count, "hour")
	case LastsDays:
		return "for " + counted(s.Count, "day") + ", through the last minute"
	case LastsMidnight:
		return "until midnight"
	}
	return "until that is withdrawn"
}

func counted(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

// Screening finds a screening by number, or nil.
func (c *Config) Screening(id ID) *Screening {
	for i := range c.Screenings {
		if c.Screenings[i].ID == id {
			return &c.Screenings[i]
		}
	}
	return nil
}

// Screened lists the screenings that a person of an effective configuration is under, by number.
func (p *Person) Screened() []ID { return p.screened }

// UntilCleared lists what a person of an effective configuration holds that counts until they are cleared: all of it,
// of whoever is under no screening that refuses.
func (p *Person) UntilCleared() []Grant {
	if !p.refused {
		return p.Levels
	}
	return slices.DeleteFunc(slices.Clone(p.Levels), func(g Grant) bool { return g.LevelID != p.only || p.only == 0 })
}

// screen notes that a person comes under a screening. Under two that let different levels count, none does.
func (p *Person) screen(x *Screening) {
	p.screened = append(p.screened, x.ID)
	switch {
	case x.LogOnly:
	case p.refused && p.only != x.LevelID:
		p.only = 0
	default:
		p.refused, p.only = true, x.LevelID
	}
}

// CheckScreening says in sentences what would not work of a screening, which need not be in the configuration.
func (c *Config) CheckScreening(x *Screening) (out []string) {
	places := NewPlaces(c)
	leads := map[ID]bool{} // doors to which the level leads that counts until people are cleared
	for _, id := range c.Containment().Of(x.LevelID) {
		if l := c.Level(id); l != nil {
			for _, e := range places.Entries(l) {
				leads[e.DoorID] = leads[e.DoorID] || e.Side.Takes(false)
			}
		}
	}
	for _, id := range x.PassIDs {
		if d := c.Door(id); d != nil && !leads[id] && !x.LogOnly {
			out = append(out,
				d.Name+" clears whoever comes in there, and nobody does: the level that counts until then does not lead there.")
		}
	}
	for _, id := range slices.Concat(x.DeskIDs, x.PassIDs) {
		if d := c.Door(id); d != nil && !d.In.Fitted {
			out = append(out, d.Name+" has no reader in, so no card is read there.")
		}
	}
	if len(x.DeskIDs)+len(x.PassIDs) == 0 {
		out = append(out,
			"No card brings up anybody's record, and no door clears: people are cleared one by one from the list.")
	}
	for i := range c.Screenings {
		y := &c.Screenings[i]
		if y.ID == x.ID || y.Off || y.LogOnly || x.LogOnly || y.LevelID == x.LevelID {
			continue
		}
		if slices.ContainsFunc(c.People, func(p *Person) bool { return x.Has(p) && y.Has(p) }) {
			out = append(out,
				"Somebody is under "+y.Name+" too, which lets another level count: until they are cleared by one of them nothing counts.")
		}
	}
	return out
}
