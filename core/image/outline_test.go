package image

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
	"amberkeystone/internal/largesite"
)

var clock = func(site.ID) *hours.Zone { return &hours.Zone{Name: "UTC"} }

// The outlines say what the sections of a fresh build are, whatever was changed before and whether or not anybody asked
// in between.
func TestOutlinesAreFreshBuilds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := &site.Config{
			Settings: site.DefaultSettings(), Controllers: []site.Controller{{ID: 8}, {ID: 9}}, Plans: []site.Plan{{ID: 20}},
			Schedules: []site.Schedule{{ID: 30, Week: hours.Always()}},
		}
		for i := range 3 {
			c.Doors = append(c.Doors, site.Door{
				ID: site.ID(1 + i), Port: 1 + i/2, ControllerID: site.ID(8 + i%2), PlanID: 20, Hardware: site.UsualHardware(),
			})
		}
		for i := range 4 {
			c.Levels = append(c.Levels, site.Level{ID: site.ID(40 + i), Entries: []site.Entry{site.At(site.ID(1+i%3), 30)}})
		}
		effective := c.Effective()
		o := NewOutlines(effective, clock, Secrets{})
		for range rapid.IntRange(1, 12).Draw(t, "changes") {
			next := *c
			what := rapid.IntRange(0, 6).Draw(t, "what")
			others := what < 2 || what > 4
			switch {
			case what == 5:
				next.Screenings = drawScreenings(t)
			case what == 6:
				next.Emergencies = []site.Emergency{
					{ID: 97, Does: site.Lockdown, Reads: 3,
						Targets: []site.Target{{Kind: site.AtDoor, ID: site.ID(rapid.IntRange(1, 4).Draw(t, "shut"))}}},
				}
			case what == 1:
				next.Departments = []site.Department{
					{ID: 90, AlwaysPIN: rapid.Bool().Draw(t, "all with PIN"), Levels: drawPerson(t, 1).Levels},
				}
			case others:
				next.Levels = append([]site.Level(nil), c.Levels...)
				next.Levels[rapid.IntRange(0, 3).Draw(t, "level")].Entries = []site.Entry{drawEntry(t)}
				next.Settings.PINLength = rapid.IntRange(4, 5).Draw(t, "length")
			default:
				id := site.ID(rapid.SampledFrom([]int{100, 101, 356, 357}).Draw(t, "who")) // two of them share a shard
				next.People = nil
				for _, p := range c.People {
					if p.ID < id {
						next.People = append(next.People, p)
					}
				}
				if rapid.IntRange(0, 3).Draw(t, "gone") > 0 {
					next.People = append(next.People, drawPerson(t, id))
				}
				for _, p := range c.People {
					if p.ID > id {
						next.People = append(next.People, p)
					}
				}
			}
			c = &next
			was := effective
			effective = c.EffectiveAfter(was)
			others = others || numbers(was.Levels) != numbers(effective.Levels) // a level of its own has come or gone
			o = o.After(effective, clock, nowOthers(was, effective), others)
			if rapid.Bool().Draw(t, "asked") {
				continue
			}
			for _, x := range c.Controllers {
				want := Build(c, x.ID, *clock(x.ID), Secrets{})
				got := o.Of(x.ID)
				require.Equal(t, Heads(want.Sections()), got.Heads)
				require.Equal(t, want.Root(), got.Root)
				require.Equal(t, len(want.People), got.People)
				for _, limit := range []int{0, 1, 9} {
					unit := site.Controller{Ports: 1, People: limit}
					require.Equal(t, OverCapacity(want, unit), got.OverCapacity(unit))
				}
				for _, s := range want.Sections() {
					require.Equal(t, string(s.Bytes), string(o.Section(x.ID, s.Name).Bytes))
				}
			}
		}
	})
}

// nowOthers lists who is not the same person any more, as a snapshot does.
func nowOthers(was, is *site.Config) (out []site.ID) {
	seen := map[*site.Person]bool{}
	for _, p := range was.People {
		seen[p] = true
	}
	kept := map[site.ID]bool{}
	for _, p := range is.People {
		kept[p.ID] = seen[p]
		if !seen[p] {
			out = append(out, p.ID)
		}
	}
	for _, p := range was.People {
		if _, there := kept[p.ID]; !there {
			out = append(out, p.ID)
		}
	}
	return out
}

func numbers(levels []site.Level) (out string) {
	for _, l := range levels {
		out += fmt.Sprint(l.ID, " ")
	}
	return out
}

func drawEntry(t *rapid.T) site.Entry {
	kind := rapid.SampledFrom([]site.TargetKind{site.AtDoor, site.AtReader, site.Everything}).Draw(t, "kind")
	e := site.Entry{Target: site.Target{Kind: kind}, ScheduleID: 30}
	if kind != site.Everything {
		e.Target.ID = site.ID(rapid.IntRange(1, 3).Draw(t, "door"))
	}
	e.Target.Out = kind == site.AtReader && rapid.Bool().Draw(t, "out")
	return e
}

func drawPerson(t *rapid.T, id site.ID) *site.Person {
	p := &site.Person{ID: id, Name: "<Ada>", Suspended: rapid.Bool().Draw(t, "suspended")}
	for k := range rapid.IntRange(0, 2).Draw(t, "cards") {
		p.Credentials = append(p.Credentials, site.NewCard("26-bit", 0, uint64(2*int(id)+k)))
	}
	if rapid.Bool().Draw(t, "pin") {
		pin, duress := cards.HashPIN(nil, fmt.Sprint(id)), cards.HashPIN(nil, fmt.Sprint(-id))
		p.PIN, p.Duress, p.PINLength = &pin, &duress, 4
	}
	if rapid.Bool().Draw(t, "member") {
		p.DepartmentIDs = []site.ID{90}
	}
	for range rapid.IntRange(0, 3).Draw(t, "levels") {
		g := site.Grant{LevelID: site.ID(rapid.IntRange(40, 43).Draw(t, "level"))}
		if rapid.IntRange(0, 4).Draw(t, "place") == 0 {
			g = site.Grant{
				Target: site.Target{Kind: site.AtDoor, ID: site.ID(rapid.IntRange(1, 3).Draw(t, "door"))}, ScheduleID: 30,
			}
		}
		if rapid.IntRange(0, 3).Draw(t, "dated") == 0 {
			g.Until = "2026-12-01"
		}
		p.Levels = append(p.Levels, g)
	}
	if rapid.IntRange(0, 3).Draw(t, "dates") == 0 {
		p.From = "2026-01-01"
	}
	return p
}

func BenchmarkOutlines(b *testing.B) {
	c := largesite.Spread(250)
	b.Run("from nothing", func(b *testing.B) {
		for b.Loop() {
			o := NewOutlines(c, clock, Secrets{})
			for _, x := range c.Controllers {
				o.Of(x.ID)
			}
		}
	})
	o := NewOutlines(c, clock, Secrets{})
	all := func() {
		for _, x := range c.Controllers {
			o.Of(x.ID)
		}
	}
	all()
	b.Run("after a person", func(b *testing.B) {
		for b.Loop() {
			o = o.After(c, clock, []site.ID{c.People[777].ID}, false)
			all()
		}
	})
	b.Run("after a plan", func(b *testing.B) {
		for b.Loop() {
			o = o.After(c, clock, nil, true)
			all()
		}
	})
}

// drawScreenings are up to two, of people and of a department.
func drawScreenings(t *rapid.T) (out []site.Screening) {
	for i := range rapid.IntRange(0, 2).Draw(t, "screenings") {
		out = append(out, site.Screening{
			ID:            site.ID(95 + i),
			PersonIDs:     []site.ID{site.ID(rapid.SampledFrom([]int{100, 101, 102, 356}).Draw(t, "screened"))},
			DepartmentIDs: []site.ID{90},
			LevelID:       rapid.SampledFrom([]site.ID{0, 40, 41}).Draw(t, "until cleared"), LogOnly: rapid.Bool().Draw(t, "log"),
			PassIDs: []site.ID{site.ID(rapid.IntRange(1, 3).Draw(t, "passing"))}, Lasts: site.LastsMidnight,
		})
	}
	return out
}
