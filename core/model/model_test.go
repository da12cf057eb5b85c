package model

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
	"amberkeystone/internal/largesite"
)

var atlantic = &hours.Zone{Name: "Atlantic", Offsets: []hours.Offset{{Seconds: -4 * 3600}}}

func zones(site.ID, string) *hours.Zone { return atlantic }

// small is a place of two doors to change.
func small() *site.Config {
	schedules, plans := site.Basics()
	schedules[0].ID, schedules[1].ID, plans[0].ID = 10, 11, 12
	return &site.Config{
		Settings: site.DefaultSettings(), Sites: []site.Site{{ID: 1, Name: "Quay"}}, Floors: []site.Floor{{ID: 2, SiteID: 1}},
		Controllers: []site.Controller{{ID: 3, SiteID: 1, Zone: "Atlantic"}}, Schedules: schedules, Plans: plans,
		Types: []site.HolidayType{{ID: 20, Name: "Nobody", Rank: 1, Plans: site.DefaultMode, Schedules: site.Closed}},
		Doors: []site.Door{
			{ID: 30, Name: "Gate", FloorID: 2, ControllerID: 3, Port: 1, PlanID: 12, Hardware: site.UsualHardware()},
			{ID: 31, Name: "Shed", FloorID: 2, ControllerID: 3, Port: 2, PlanID: 12, Hardware: site.UsualHardware()},
		},
	}
}

// drawChange writes or removes an object of any kind that leaves the configuration standing.
func drawChange(t *rapid.T, c *site.Config, next *site.ID) Change {
	fresh := func(n int) site.ID { // a new number, or one that there is
		if n == 0 || rapid.Bool().Draw(t, "new") {
			*next++
			return *next
		}
		return 0
	}
	number := uint64(rapid.IntRange(1, 6).Draw(t, "number"))
	switch rapid.SampledFrom([]string{"person", "person", "gone", "plan", "schedule", "holiday", "change", "door", "level",
		"type"}).Draw(t, "what") {
	case "person":
		p := &site.Person{
			ID: fresh(len(c.People)), Name: "P", Credentials: []site.Credential{site.NewCard("26-bit", 0, number)},
		}
		if p.ID == 0 {
			p.ID = rapid.SampledFrom(c.People).Draw(t, "who").ID
		}
		if slices.ContainsFunc(c.People, func(o *site.Person) bool { // the store keeps cards apart
			return o.ID != p.ID && len(o.Credentials) > 0 && o.Credentials[0].Value == cards.Number("26-bit", 0, number)
		}) {
			p.Credentials = nil
		}
		p.Suspended = rapid.Bool().Draw(t, "suspended")
		return Change{Kind: Of(p), ID: p.ID, Object: p}
	case "gone":
		if len(c.People) > 0 {
			p := rapid.SampledFrom(c.People).Draw(t, "who")
			return Change{Kind: Of(p), ID: p.ID}
		}
	case "plan":
		p := &site.Plan{
			ID: fresh(1), Name: "Plan", Pattern: hours.Pattern{Default: rapid.SampledFrom(hours.Modes).Draw(t, "mode")},
		}
		if p.ID == 0 {
			p.ID = rapid.SampledFrom(c.Plans).Draw(t, "plan").ID
		}
		return Change{Kind: Of(p), ID: p.ID, Object: p}
	case "schedule":
		s := &site.Schedule{ID: fresh(0), Name: "S"}
		s.Week[rapid.IntRange(0, 6).Draw(t, "day")] = []hours.Period{{Start: 60, End: 60 + 60*int(number)}}
		return Change{Kind: Of(s), ID: s.ID, Object: s}
	case "holiday":
		h := &site.Holiday{
			ID:           fresh(0),
			TypeID:       20,
			HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{fmt.Sprintf("2026-11-2%d", number)}},
			End:          1440,
		}
		return Change{Kind: Of(h), ID: h.ID, Object: h}
	case "change":
		x := &site.DatedChange{
			ID:      fresh(0),
			Mode:    hours.Barred,
			DoorIDs: []site.ID{30},
			From:    fmt.Sprintf("2026-11-2%dT10:00", number),
			Until:   fmt.Sprintf("2026-11-2%dT12:00", number),
		}
		return Change{Kind: Of(x), ID: x.ID, Object: x}
	case "door":
		d := rapid.SampledFrom(c.Doors).Draw(t, "door")
		d.Unlock, d.PlanID = int(number), rapid.SampledFrom(c.Plans).Draw(t, "plan").ID
		return Change{Kind: Of(&d), ID: d.ID, Object: &d}
	case "level":
		l := &site.Level{ID: fresh(0), Entries: []site.Entry{site.At(30, 10)}}
		return Change{Kind: Of(l), ID: l.ID, Object: l}
	}
	s := c.Types[0]
	s.Plans = rapid.SampledFrom([]site.OnHoliday{site.DefaultMode, site.AsWeekday}).Draw(t, "answer")
	return Change{Kind: Of(&s), ID: s.ID, Object: &s}
}

// Whatever is changed, one after another or several at once, the snapshot is what a fresh load of the same gives, and
// the one before stays as it was.
func TestApplyIsAFreshLoad(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := New(small(), map[site.ID]int64{30: 1}, zones)
		next := site.ID(100)
		rev := map[site.ID]int64{30: 1}
		for range rapid.IntRange(1, 12).Draw(t, "commits") {
			before, people := s, slices.Clone(s.Config.People)
			var changes []Change
			c := *s.Config
			for range rapid.IntRange(1, 3).Draw(t, "changes") {
				x := drawChange(t, &c, &next)
				x.Rev = rev[x.ID] + 1
				rev[x.ID] = x.Rev
				if x.Object == nil {
					x.Kind.remove(&c, x.ID, false)
					delete(rev, x.ID)
				} else {
					x.Kind.put(&c, x.Object, false)
				}
				changes = append(changes, x)
			}
			s = s.Apply(changes)
			require.Equal(t, people, before.Config.People)
			same(t, New(&c, rev, zones), s)
		}
	})
}

func same(t *rapid.T, want, got *Snapshot) {
	require.Equal(t, want.Config, got.Config)
	for id := site.ID(0); id < 140; id++ {
		a, aok := want.Rev(id)
		b, bok := got.Rev(id)
		require.Equal(t, aok, bok)
		require.Equal(t, a, b)
		require.Equal(t, want.Config.Person(id), got.Config.Person(id))
	}
	for n := range uint64(8) {
		p := got.Holder("26-bit", cards.Number("26-bit", 0, n))
		if p == nil {
			require.Nil(t, want.Holder("26-bit", cards.Number("26-bit", 0, n)))
			continue
		}
		require.True(t,
			slices.ContainsFunc(p.Credentials, func(h site.Credential) bool { return h.Value == cards.Number("26-bit", 0, n) }))
		require.Same(t, got.Config.Person(p.ID), p)
	}
	from := hours.At(time.Date(2026, 11, 20, 4, 0, 0, 0, time.UTC))
	for _, d := range want.Config.Doors {
		require.Equal(t, want.Times.Door(d.ID).Stretches(from, from+10*86_400_000),
			got.Times.Door(d.ID).Stretches(from, from+10*86_400_000))
	}
	for id, s := range want.Times.Schedules {
		require.Equal(t, s, got.Times.Schedules[id])
	}
	require.Len(t, got.Times.Schedules, len(want.Times.Schedules))
}

// Every kind can be found by its word and its type, and what it makes of a document is an object of that number.
func TestKinds(t *testing.T) {
	for _, k := range Kinds {
		t.Run(k.Word(), func(t *testing.T) {
			assert.Same(t, k, ByWord(k.Word()))
			assert.Same(t, k, Of(k.New()))
			o, err := k.Decode(7, []byte(`{"name":"Seven"}`))
			require.NoError(t, err)
			if k.Word() != "settings" {
				assert.Equal(t, site.ID(7), *k.ID(o))
			}
			if k.Word() != "settings" && k.Word() != "free card" { // which have no names
				assert.Equal(t, "Seven", k.Name(o))
			}
			k.Refs(o)
			var c site.Config
			k.put(&c, o, false)
			assert.Len(t, k.Objects(&c), 1)
			k.remove(&c, 7, false)
			_, err = k.Decode(7, []byte(`[]`))
			assert.Error(t, err)
		})
	}
	assert.Nil(t, ByWord("nothing"))
	assert.Panics(t, func() { Of(new(int)) })
}

// An index goes on being right when its differences are worked into a new base.
func TestOverlayGrowsANewBase(t *testing.T) {
	o, want := overlay[int, int]{base: map[int]int{-1: 5}}, map[int]int{-1: 5}
	for i := range 3 * mostLaid {
		next := o.edit()
		next.set(i%700, i)
		want[i%700] = i
		if i%3 == 0 {
			next.drop(i % 500)
			delete(want, i%500)
		}
		o = next
	}
	for i := -1; i < 700; i++ {
		v, ok := o.get(i)
		w, there := want[i]
		assert.Equal(t, there, ok)
		assert.Equal(t, w, v)
	}
}

// A save on the large site.
func BenchmarkApply(b *testing.B) {
	s := New(largesite.Config(), map[site.ID]int64{}, zones)
	p := *s.Config.People[5000]
	plan, level := s.Config.Plans[3], s.Config.Levels[7]
	for name, o := range map[string]any{"person": &p, "plan": &plan, "level": &level} {
		b.Run(name, func(b *testing.B) {
			x := Change{Kind: Of(o), ID: *Of(o).ID(o), Rev: 2, Object: o}
			for b.Loop() {
				s.Apply([]Change{x})
			}
		})
	}
}
