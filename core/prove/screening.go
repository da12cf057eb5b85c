package prove

import (
	"fmt"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/rules/screening"
	"amberkeystone/core/site"
)

// ScreeningWords says what a screening does.
func (b *Book) ScreeningWords(x *site.Screening) string {
	who := b.crowdWords(x)
	if who == "" {
		who = "Nobody yet"
	}
	out := who + " must be cleared. Until then "
	switch level := "the level " + b.nameOr(x.LevelID, "chosen here"); {
	case x.LogOnly && x.LevelID == 0:
		out += "they come in all the same, and every entry is noted as not cleared"
	case x.LogOnly:
		out += "they come in all the same; where " + level + " does not lead, it is noted as not cleared"
	case x.LevelID == 0:
		out += "nothing opens for them"
	default:
		out += "only " + level + " counts"
	}
	return out + ". " + b.clearingWords(x)
}

// clearingWords says by what somebody is cleared, and for how long.
func (b *Book) clearingWords(x *site.Screening) string {
	var ways []string
	if len(x.DeskIDs) > 0 {
		ways = append(ways, "by a person at the screen, after a card at "+either(b.namesOf(x.DeskIDs)))
	} else {
		ways = append(ways, "by a person at the screen")
	}
	if len(x.PassIDs) > 0 {
		ways = append(ways, "by coming in at "+either(b.namesOf(x.PassIDs)))
	}
	return "Cleared " + either(ways) + ", " + x.LastsWords() + "."
}

// crowdWords names who is screened: "Researchers and 2 people".
func (b *Book) crowdWords(x *site.Screening) string {
	var out []string
	for _, d := range x.DepartmentIDs {
		out = append(out, b.nameOr(d, "a department"))
	}
	if n := len(x.PersonIDs); n > 0 && n <= 3 {
		out = append(out, b.namesOf(x.PersonIDs)...)
	} else if n > 3 {
		out = append(out, fmt.Sprintf("%d people", n))
	}
	return both(out)
}

func (b *Book) namesOf(ids []site.ID) (out []string) {
	for _, id := range ids {
		out = append(out, b.Name(id))
	}
	return out
}

func (b *Book) nameOr(id site.ID, other string) string {
	if n, ok := b.name(id); ok {
		return n
	}
	return other
}

// ScreeningMeaning is what a screening means, which need not be in the configuration.
type ScreeningMeaning struct {
	Words  string   `json:"words" doc:"What it does, as a sentence"`
	Effect string   `json:"effect" doc:"Whom it touches"`
	Wrong  []string `json:"wrong" doc:"What would not work"`
}

// ScreeningMeaning says what a screening would mean.
func (b *Book) ScreeningMeaning(x *site.Screening) ScreeningMeaning {
	out := ScreeningMeaning{Words: b.ScreeningWords(x), Wrong: []string{}}
	n, held := 0, 0
	for _, p := range b.Effective.People {
		if !x.Has(p) {
			continue
		}
		n++
		if len(p.Credentials) > 0 || p.PIN != nil {
			held++
		}
	}
	switch {
	case x.Off:
		out.Effect = "Not in use: it touches nobody."
	case n == 0:
		out.Effect = "It touches nobody yet."
	default:
		out.Effect = fmt.Sprintf("%s, %d of them with something to show. Whoever comes under it counts as not cleared.",
			count(n, "person", "people"), held)
	}
	out.Wrong = append(out.Wrong, b.Config.CheckScreening(x)...)
	return out
}

// clearedCheck says of a trace whether somebody is cleared.
func (b *Book) clearedCheck(e *pass.Fact, c pass.Check, z *hours.Zone) string {
	x := b.Config.Screening(site.ID(c.A))
	level := "their limited level"
	if x != nil && x.LevelID != 0 {
		level = "the level " + b.Name(x.LevelID)
	}
	switch {
	case !c.OK && x != nil && x.LevelID == 0:
		return "is not cleared; nothing counts until then"
	case !c.OK:
		return "is not cleared; until then only " + level + " counts, which does not lead here now"
	case c.B == screening.Limited:
		return "is not cleared yet; only " + level + " counts"
	case c.B == screening.Noted:
		return "is not cleared; it is only noted"
	case hours.Instant(c.B) >= hours.Never:
		return "is cleared until that is withdrawn"
	}
	return "is cleared until " + shortStamp(z, e.At, hours.Instant(c.B))
}

// clearMend says how somebody is cleared who was refused for it.
func (b *Book) clearMend(e *pass.Fact) string {
	for _, c := range e.Checks {
		if x := b.Config.Screening(site.ID(c.A)); c.Kind == pass.CheckCleared && !c.OK && x != nil {
			out := "Clear " + b.Name(e.Person) + " in Rules, Screening"
			if len(x.DeskIDs) > 0 {
				out += "; a card at " + either(b.namesOf(x.DeskIDs)) + " brings up their record"
			}
			if len(x.PassIDs) > 0 {
				out += ", or let them come in at " + either(b.namesOf(x.PassIDs))
			}
			return out + "."
		}
	}
	return "Clear " + b.Name(e.Person) + " in Rules, Screening."
}

// Standing is how somebody stands with a screening that they are under.
type Standing struct {
	ID      site.ID       `json:"id"`
	Name    string        `json:"name"`
	Cleared bool          `json:"cleared"`
	Words   string        `json:"words" doc:"Such as: cleared until 23:59, by Keeper"`
	Would   string        `json:"would" doc:"Until when they would be cleared now"`
	Only    string        `json:"only" doc:"The level that counts until they are cleared; empty: none"`
	LogOnly bool          `json:"logOnly" doc:"Who is not cleared comes in all the same"`
	Until   hours.Instant `json:"-"`
}

// StandingOf says how somebody stands with a screening, by the clock of a zone.
func (b *Book) StandingOf(
	x *site.Screening, person site.ID, said pass.Clearance, z *hours.Zone, now hours.Instant,
) Standing {
	out := Standing{
		ID: x.ID, Name: x.Name, Cleared: said.Holds(now), LogOnly: x.LogOnly, Words: "not cleared",
		Only: b.nameOr(x.LevelID, ""), Until: said.Until,
	}
	switch by := b.clearedBy(said); {
	case out.Cleared && said.Until >= hours.Never:
		out.Words = "cleared until that is withdrawn" + by
	case out.Cleared:
		out.Words = "cleared until " + b.lastMinute(z, now, said.Until) + by
	case said.Until == 0 && said.At != 0:
		out.Words = "withdrawn " + shortStamp(z, now, said.At) + by
	case said.At != 0:
		out.Words = "was cleared until " + b.lastMinute(z, now, said.Until)
	}
	out.Would = "until that is withdrawn"
	if until := x.Until(z, now); until < hours.Never {
		out.Would = "until " + b.lastMinute(z, now, until)
	}
	return out
}

// lastMinute names an end at midnight by the minute before it.
func (b *Book) lastMinute(z *hours.Zone, now, until hours.Instant) string {
	if z.Wall(until).Minute == 0 {
		return shortStamp(z, now, until-hours.Minute)
	}
	return shortStamp(z, now, until)
}

func (b *Book) clearedBy(c pass.Clearance) string {
	switch {
	case c.By != "":
		return ", by " + c.By
	case c.Controller != 0:
		return ", by coming in"
	}
	return ""
}

// ClockOf is the clock by which a screening counts: that of the first of its doors, else of the first door of all.
func (b *Book) ClockOf(x *site.Screening) *hours.Zone {
	for _, list := range [][]site.ID{x.DeskIDs, x.PassIDs} {
		for _, d := range list {
			if b.doors[d] != nil {
				return b.Zone(d)
			}
		}
	}
	if len(b.Config.Doors) > 0 {
		return b.Zone(b.Config.Doors[0].ID)
	}
	return &hours.Zone{Name: "UTC"}
}

// screenedAt reports whether a level of somebody under a screening leads to a door.
func (b *Book) screenedAt(x *site.Screening, door site.ID) bool {
	leads, places := map[site.ID]bool{}, site.NewPlaces(b.Config)
	for i := range b.Effective.Levels {
		l := &b.Effective.Levels[i]
		leads[l.ID] = slices.ContainsFunc(places.Entries(l),
			func(e site.Covered) bool { return e.DoorID == door && e.Side.Takes(false) })
	}
	return slices.ContainsFunc(b.Effective.People, func(p *site.Person) bool {
		return x.Has(p) && slices.ContainsFunc(p.Levels, func(g site.Grant) bool { return leads[g.LevelID] })
	})
}
