package door

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

const t0 = hours.Instant(1_000_000)

func at(seconds float64) hours.Instant {
	return t0.Add(time.Duration(seconds * float64(time.Second)))
}

// act is something that happens to a door at a second.
type act struct {
	at float64
	do string // grant, extended, open, close, exit, free, bound
}

type seen struct {
	At   float64
	Kind pass.Kind
}

// run plays the acts, ticking at every wake in between, until a last second.
func run(d *Door, acts []act, until float64) []seen {
	var out []seen
	settle := func(to hours.Instant) {
		for w := d.Wake(); w <= to; w = d.Wake() {
			d.Tick(w)
		}
	}
	for _, a := range acts {
		settle(at(a.at))
		switch a.do {
		case "grant":
			d.Grant(at(a.at), Pass{Person: 7}, false)
		case "extended":
			d.Grant(at(a.at), Pass{Person: 7}, true)
		case "open":
			d.Contact(at(a.at), true)
		case "close":
			d.Contact(at(a.at), false)
		case "exit":
			d.ExitRequest(at(a.at))
		case "free":
			d.SetFree(at(a.at), true)
		case "bound":
			d.SetFree(at(a.at), false)
		case "retire":
			d.retire(at(a.at))
		case "no contact", "hold 10":
			c := *d.Config
			if a.do == "no contact" {
				c.Contact, c.Relock = site.NotFitted, site.AtEnd
			} else {
				c.HeldOpen, c.PreAlarm = 10, 5
			}
			d.Configure(at(a.at), &c)
		}
	}
	settle(at(until))
	for _, e := range d.Log {
		out = append(out, seen{e.At.Sub(t0).Seconds(), e.Kind})
	}
	return out
}

func newDoor(change func(*site.Door)) *Door {
	c := &site.Door{Hardware: site.UsualHardware()}
	if change != nil {
		change(c)
	}
	return &Door{Config: c}
}

// The timings are those of common practice: unlock 5 s, extended 15 s, held open after 60 s, forced after 2 s.
func TestTimelines(t *testing.T) {
	closing := func(d *site.Door) { d.Relock = site.OnClosing }
	end := func(d *site.Door) { d.Relock = site.AtEnd }
	bare := func(d *site.Door) { d.Contact, d.Relock = site.NotFitted, site.AtEnd }
	for _, c := range []struct {
		name   string
		change func(*site.Door)
		acts   []act
		until  float64
		want   []seen
	}{
		{"not taken", nil, []act{{0, "grant"}}, 100, []seen{{0, pass.LockReleased}, {5, pass.NotTaken}, {5, pass.LockLocked}}},
		{"extended", nil, []act{{0, "extended"}}, 100, []seen{{0, pass.LockReleased}, {15, pass.NotTaken}, {15, pass.LockLocked}}},
		{"re-lock on opening", nil, []act{{0, "grant"}, {2, "open"}, {4, "close"}}, 100,
			[]seen{{0, pass.LockReleased}, {2, pass.Opened}, {2, pass.Entered}, {2, pass.LockLocked}, {4, pass.Closed}}},
		{"re-lock on opening stops a second person", nil, []act{{0, "grant"}, {1, "open"}, {2, "close"}, {3, "open"}, {4, "close"}}, 100,
			[]seen{{0, pass.LockReleased}, {1, pass.Opened}, {1, pass.Entered}, {1, pass.LockLocked}, {2, pass.Closed},
				{3, pass.OpenedAlone}, {4, pass.Closed}}},
		{"re-lock on closing holds past its time", closing, []act{{0, "grant"}, {4, "open"}, {9, "close"}}, 100,
			[]seen{{0, pass.LockReleased}, {4, pass.Opened}, {4, pass.Entered}, {9, pass.Closed}, {9, pass.LockLocked}}},
		{"re-lock on closing, early", closing, []act{{0, "grant"}, {1, "open"}, {2, "close"}}, 100,
			[]seen{{0, pass.LockReleased}, {1, pass.Opened}, {1, pass.Entered}, {2, pass.Closed}, {2, pass.LockLocked}}},
		{"re-lock at the end", end, []act{{0, "grant"}, {1, "open"}, {2, "close"}}, 100,
			[]seen{{0, pass.LockReleased}, {1, pass.Opened}, {1, pass.Entered}, {2, pass.Closed}, {5, pass.LockLocked}}},
		{"a second grant restarts the time", nil, []act{{0, "grant"}, {3, "grant"}}, 100, []seen{{0, pass.LockReleased}, {8, pass.NotTaken}, {8, pass.NotTaken}, {8, pass.LockLocked}}},
		{"a second grant never shortens it", nil, []act{{0, "extended"}, {3, "grant"}}, 100, []seen{{0, pass.LockReleased}, {15, pass.NotTaken}, {15, pass.NotTaken}, {15, pass.LockLocked}}},
		{"two passes, one opening", nil, []act{{0, "grant"}, {2, "grant"}, {3, "open"}, {4, "close"}}, 100,
			[]seen{{0, pass.LockReleased}, {3, pass.Opened}, {3, pass.Entered}, {4, pass.Closed}, {7, pass.NotTaken},
				{7, pass.LockLocked}}},
		{"two passes, two openings", nil, []act{{0, "grant"}, {2, "grant"}, {3, "open"}, {4, "close"}, {5, "open"}, {6, "close"}}, 100,
			[]seen{{0, pass.LockReleased}, {3, pass.Opened}, {3, pass.Entered}, {4, pass.Closed}, {5, pass.Opened},
				{5, pass.Entered}, {5, pass.LockLocked}, {6, pass.Closed}}},
		{"going free, then opened: all that wait have gone through", nil, []act{{0, "grant"}, {1, "grant"}, {2, "free"}, {3, "open"}}, 100,
			[]seen{{0, pass.LockReleased}, {3, pass.Opened}, {3, pass.Entered}, {3, pass.Entered}}},
		{"going free, not opened", nil, []act{{0, "grant"}, {2, "free"}}, 100, []seen{{0, pass.LockReleased}, {5, pass.NotTaken}}},
		{"a card at a free door is a pass", nil, []act{{0, "free"}, {1, "grant"}, {2, "open"}, {3, "close"}, {4, "grant"}}, 100,
			[]seen{{0, pass.LockReleased}, {2, pass.Opened}, {2, pass.Entered}, {3, pass.Closed}, {9, pass.NotTaken}}},
		{"a grant outlives the end of a free time", nil, []act{{0, "free"}, {1, "grant"}, {2, "bound"}}, 100, []seen{{0, pass.LockReleased}, {6, pass.NotTaken}, {6, pass.LockLocked}}},
		{"no contact any more while open", nil, []act{{0, "grant"}, {1, "open"}, {2, "no contact"}}, 200,
			[]seen{{0, pass.LockReleased}, {1, pass.Opened}, {1, pass.Entered}, {1, pass.LockLocked}, {2, pass.Closed}}},
		{"no contact any more while held open", nil, []act{{0, "grant"}, {1, "open"}, {70, "no contact"}}, 200,
			[]seen{{0, pass.LockReleased}, {1, pass.Opened}, {1, pass.Entered}, {1, pass.LockLocked}, {46, pass.HeldWarning},
				{61, pass.HeldOpen}, {70, pass.Closed}, {70, pass.HeldEnded}}},
		{"no contact any more while a pass is under way", nil, []act{{0, "grant"}, {1, "no contact"}}, 200, []seen{{0, pass.LockReleased}, {1, pass.Entered}, {5, pass.LockLocked}}},
		{"held open shortened while open: now, not before", nil, []act{{0, "grant"}, {1, "open"}, {31, "hold 10"}}, 200,
			[]seen{{0, pass.LockReleased}, {1, pass.Opened}, {1, pass.Entered}, {1, pass.LockLocked}, {31, pass.HeldWarning},
				{31, pass.HeldOpen}}},
		{"retired while a pass is under way", nil, []act{{0, "grant"}, {1, "retire"}}, 200, []seen{{0, pass.LockReleased}, {1, pass.NotTaken}, {1, pass.LockLocked}}},
		{"retired while free", nil, []act{{0, "free"}, {1, "retire"}}, 200, []seen{{0, pass.LockReleased}, {1, pass.LockLocked}}},
		{"forced", nil, []act{{0, "open"}, {9, "close"}}, 100, []seen{{0, pass.OpenedAlone}, {2, pass.Forced}, {9, pass.Closed}, {9, pass.ForcedEnded}}},
		{"an exit request within the delay excuses", nil, []act{{0, "open"}, {1, "exit"}, {3, "close"}}, 100,
			[]seen{{0, pass.OpenedAlone}, {1, pass.ExitRequest}, {1, pass.LockReleased}, {3, pass.Closed},
				{6, pass.LockLocked}}},
		{"no delay", func(d *site.Door) { d.Forced = 0 }, []act{{0, "open"}}, 1, []seen{{0, pass.OpenedAlone}, {0, pass.Forced}}},
		{"exit releases", nil, []act{{0, "exit"}, {1, "open"}, {2, "close"}}, 100,
			[]seen{{0, pass.ExitRequest}, {0, pass.LockReleased}, {1, pass.Opened}, {1, pass.LockLocked}, {2, pass.Closed}}},
		{"exit only excuses", func(d *site.Door) { d.ExitReleases = false }, []act{{0, "exit"}, {4, "open"}, {5, "close"}, {6, "open"}}, 7,
			[]seen{{0, pass.ExitRequest}, {4, pass.Opened}, {5, pass.Closed}, {6, pass.OpenedAlone}}},
		{"held open", nil, []act{{0, "grant"}, {1, "open"}, {70, "close"}}, 100,
			[]seen{{0, pass.LockReleased}, {1, pass.Opened}, {1, pass.Entered}, {1, pass.LockLocked}, {46, pass.HeldWarning},
				{61, pass.HeldOpen}, {70, pass.Closed}, {70, pass.HeldEnded}}},
		{"a grant counts held-open anew", nil, []act{{0, "grant"}, {1, "open"}, {50, "grant"}}, 111,
			[]seen{{0, pass.LockReleased}, {1, pass.Opened}, {1, pass.Entered}, {1, pass.LockLocked}, {46, pass.HeldWarning},
				{50, pass.LockReleased}, {50, pass.Entered}, {55, pass.LockLocked}, {95, pass.HeldWarning}, {110, pass.HeldOpen}}},
		{"free: neither forced nor held", nil, []act{{0, "free"}, {1, "open"}, {200, "close"}}, 300,
			[]seen{{0, pass.LockReleased}, {1, pass.Opened}, {200, pass.Closed}}},
		{"held-open starts anew when a free time ends with the leaf open", nil, []act{{0, "free"}, {1, "open"}, {100, "bound"}}, 200,
			[]seen{{0, pass.LockReleased}, {1, pass.Opened}, {100, pass.LockLocked}, {145, pass.HeldWarning},
				{160, pass.HeldOpen}}},
		{"without a contact", bare, []act{{0, "open"}, {1, "grant"}}, 100, []seen{{1, pass.LockReleased}, {1, pass.Entered}, {6, pass.LockLocked}}},
	} {
		t.Run(c.name, func(t *testing.T) { assert.Equal(t, c.want, run(newDoor(c.change), c.acts, c.until)) })
	}
}

// Whatever happens: a wake is never in the past once ticked, an alarm needs an open leaf, and a door left
// alone comes to rest closed, locked and silent.
func TestComesToRest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := newDoor(func(c *site.Door) {
			c.Relock = rapid.SampledFrom([]site.Relock{site.OnOpening, site.OnClosing, site.AtEnd}).Draw(t, "relock")
			c.ExitReleases = rapid.Bool().Draw(t, "releases")
		})
		now := 0.0
		for range rapid.IntRange(1, 30).Draw(t, "n") {
			now += float64(rapid.IntRange(0, 90_000).Draw(t, "ms")) / 1000
			run(d, []act{{now,
				rapid.SampledFrom([]string{"grant", "extended", "open", "close", "exit", "free", "bound", "hold 10"}).Draw(t,
					"do")}}, now)
			require.Greater(t, d.Wake(), at(now))
			require.True(t, d.Alarm() == 0 || d.Open())
			require.True(t, !d.Free() || d.Released())
		}
		log := run(d, []act{{now, "bound"}, {now, "close"}}, now+1000)
		require.False(t, d.Released())
		require.Zero(t, d.Alarm())
		require.Equal(t, hours.Never, d.Wake())
		for i := 1; i < len(log); i++ {
			require.GreaterOrEqual(t, log[i].At, log[i-1].At)
		}
	})
}

// Every pass ends exactly once, gone through or not taken, whatever else happens at the door.
func TestEveryPassEndsOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := newDoor(func(c *site.Door) {
			c.Relock = rapid.SampledFrom([]site.Relock{site.OnOpening, site.OnClosing, site.AtEnd}).Draw(t, "relock")
		})
		now, granted := 0.0, 0
		acts := []string{"grant", "grant", "extended", "open", "close", "exit", "free", "bound", "hold 10", "no contact"}
		for range rapid.IntRange(1, 40).Draw(t, "n") {
			now += float64(rapid.IntRange(0, 8_000).Draw(t, "ms")) / 1000
			do := rapid.SampledFrom(acts).Draw(t, "do")
			if do == "grant" || do == "extended" {
				granted++
			}
			run(d, []act{{now, do}}, now)
		}
		ended := 0
		for _, e := range run(d,
			[]act{{now, rapid.SampledFrom([]string{"open", "close", "bound", "retire"}).Draw(t, "last")}}, now+1000) {
			if e.Kind == pass.Entered || e.Kind == pass.NotTaken {
				ended++
			}
		}
		require.Equal(t, granted, ended)
	})
}

func TestShiftKeepsWhatIsLeft(t *testing.T) {
	d := newDoor(nil)
	d.Grant(at(0), Pass{Person: 7}, false)
	d.Shift(time.Hour)
	assert.Equal(t, at(3605), d.Wake())
}
