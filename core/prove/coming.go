package prove

import (
	"cmp"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// mostComing is how many beginnings and ends are listed.
const mostComing = 500

// Coming is something that begins or ends.
type Coming struct {
	At     hours.Instant `json:"at"`
	When   string        `json:"when" doc:"The minute in words; of an end the last one"`
	Begins bool          `json:"begins" doc:"Else it ends"`
	Kind   string        `json:"kind" enum:"person,department"`
	ID     site.ID       `json:"id"`
	Name   string        `json:"name"`
	What   string        `json:"what" doc:"What they hold or are: an access level, a place, a card, themselves"`
}

// Coming lists what begins and ends within some days from now by a clock, soonest first; at most mostComing.
func (b *Book) Coming(z *hours.Zone, now hours.Instant, days int) []Coming {
	until := now + hours.Instant(days)*hours.FullDay
	out := []Coming{}
	note := func(kind string, id site.ID, name, what string, d site.Dates) {
		if d == (site.Dates{}) {
			return
		}
		from, end := d.Span(z)
		if now < from && from < until {
			out = append(out, Coming{from, momentWords(z, from), true, kind, id, name, what})
		}
		if now < end && end < until {
			words := momentWords(z, end)
			if len(d.Until) == len("2006-01-02") { // through its last minute
				words = momentWords(z, end-hours.Minute)
			}
			out = append(out, Coming{end, words, false, kind, id, name, what})
		}
	}
	grants := func(kind string, id site.ID, name string, list []site.Grant) {
		for _, g := range list {
			if g.Dates != (site.Dates{}) {
				note(kind, id, name, b.LevelWords(g.Level()), g.Dates)
			}
		}
	}
	for i := range b.Config.Departments {
		d := &b.Config.Departments[i]
		grants("department", d.ID, d.Name, d.Levels)
	}
	for _, p := range b.Config.People {
		note("person", p.ID, p.Name, "may come in at all", p.Dates)
		grants("person", p.ID, p.Name, p.Levels)
		for i := range p.Credentials {
			note("person", p.ID, p.Name, p.Credentials[i].Words(), p.Credentials[i].Dates)
		}
	}
	slices.SortStableFunc(out, func(a, b Coming) int { return cmp.Compare(a.At, b.At) })
	return out[:min(len(out), mostComing)]
}

func momentWords(z *hours.Zone, at hours.Instant) string {
	return z.Time(at).Format("Mon 2 Jan 2006, 15:04")
}
