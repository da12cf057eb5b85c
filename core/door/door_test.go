package door

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
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
	Kind Kind
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
			d.Retire(at(a.at))
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
		{"not taken", nil, []act{{0, "grant"}}, 100, []seen{{0, LockReleased}, {5, NotTaken}, {5, LockLocked}}},
		{"extended", nil, []act{{0, "extended"}}, 100, []seen{{0, LockReleased}, {15, NotTaken}, {15, LockLocked}}},
		{"re-lock on opening", nil, []act{{0, "grant"}, {2, "open"}, {4, "close"}}, 100,
			[]seen{{0, LockReleased}, {2, Opened}, {2, Entered}, {2, LockLocked}, {4, Closed}}},
		{"re-lock on opening stops a second person", nil, []act{{0, "grant"}, {1, "open"}, {2, "close"}, {3, "open"}, {4, "close"}}, 100,
			[]seen{{0, LockReleased}, {1, Opened}, {1, Entered}, {1, LockLocked}, {2, Closed}, {3, OpenedAlone}, {4, Closed}}},
		{"re-lock on closing holds past its time", closing, []act{{0, "grant"}, {4, "open"}, {9, "close"}}, 100,
			[]seen{{0, LockReleased}, {4, Opened}, {4, Entered}, {9, Closed}, {9, LockLocked}}},
		{"re-lock on closing, early", closing, []act{{0, "grant"}, {1, "open"}, {2, "close"}}, 100,
			[]seen{{0, LockReleased}, {1, Opened}, {1, Entered}, {2, Closed}, {2, LockLocked}}},
		{"re-lock at the end", end, []act{{0, "grant"}, {1, "open"}, {2, "close"}}, 100,
			[]seen{{0, LockReleased}, {1, Opened}, {1, Entered}, {2, Closed}, {5, LockLocked}}},
		{"a second grant restarts the time", nil, []act{{0, "grant"}, {3, "grant"}}, 100, []seen{{0, LockReleased}, {8, NotTaken}, {8, NotTaken}, {8, LockLocked}}},
		{"a second grant never shortens it", nil, []act{{0, "extended"}, {3, "grant"}}, 100, []seen{{0, LockReleased}, {15, NotTaken}, {15, NotTaken}, {15, LockLocked}}},
		{"two passes, one opening", nil, []act{{0, "grant"}, {2, "grant"}, {3, "open"}, {4, "close"}}, 100,
			[]seen{{0, LockReleased}, {3, Opened}, {3, Entered}, {4, Closed}, {7, NotTaken}, {7, LockLocked}}},
		{"two passes, two openings", nil, []act{{0, "grant"}, {2, "grant"}, {3, "open"}, {4, "close"}, {5, "open"}, {6, "close"}}, 100,
			[]seen{{0, LockReleased}, {3, Opened}, {3, Entered}, {4, Closed}, {5, Opened}, {5, Entered}, {5, LockLocked}, {6, Closed}}},
		{"going free, then opened: all that wait have gone through", nil, []act{{0, "grant"}, {1, "grant"}, {2, "free"}, {3, "open"}}, 100,
			[]seen{{0, LockReleased}, {3, Opened}, {3, Entered}, {3, Entered}}},
		{"going free, not opened", nil, []act{{0, "grant"}, {2, "free"}}, 100, []seen{{0, LockReleased}, {5, NotTaken}}},
		{"a card at a free door is a pass", nil, []act{{0, "free"}, {1, "grant"}, {2, "open"}, {3, "close"}, {4, "grant"}}, 100,
			[]seen{{0, LockReleased}, {2, Opened}, {2, Entered}, {3, Closed}, {9, NotTaken}}},
		{"a grant outlives the end of a free time", nil, []act{{0, "free"}, {1, "grant"}, {2, "bound"}}, 100, []seen{{0, LockReleased}, {6, NotTaken}, {6, LockLocked}}},
		{"no contact any more while open", nil, []act{{0, "grant"}, {1, "open"}, {2, "no contact"}}, 200,
			[]seen{{0, LockReleased}, {1, Opened}, {1, Entered}, {1, LockLocked}, {2, Closed}}},
		{"no contact any more while held open", nil, []act{{0, "grant"}, {1, "open"}, {70, "no contact"}}, 200,
			[]seen{{0, LockReleased}, {1, Opened}, {1, Entered}, {1, LockLocked}, {46, HeldWarning}, {61, HeldOpen}, {70, Closed}, {70, HeldEnded}}},
		{"no contact any more while a pass is under way", nil, []act{{0, "grant"}, {1, "no contact"}}, 200, []seen{{0, LockReleased}, {1, Entered}, {5, LockLocked}}},
		{"held open shortened while open: now, not before", nil, []act{{0, "grant"}, {1, "open"}, {31, "hold 10"}}, 200,
			[]seen{{0, LockReleased}, {1, Opened}, {1, Entered}, {1, LockLocked}, {31, HeldWarning}, {31, HeldOpen}}},
		{"retired while a pass is under way", nil, []act{{0, "grant"}, {1, "retire"}}, 200, []seen{{0, LockReleased}, {1, NotTaken}, {1, LockLocked}}},
		{"retired while free", nil, []act{{0, "free"}, {1, "retire"}}, 200, []seen{{0, LockReleased}, {1, LockLocked}}},
		{"forced", nil, []act{{0, "open"}, {9, "close"}}, 100, []seen{{0, OpenedAlone}, {2, Forced}, {9, Closed}, {9, ForcedEnded}}},
		{"an exit request within the delay excuses", nil, []act{{0, "open"}, {1, "exit"}, {3, "close"}}, 100,
			[]seen{{0, OpenedAlone}, {1, ExitAsked}, {1, LockReleased}, {3, Closed}, {6, LockLocked}}},
		{"no delay", func(d *site.Door) { d.Forced = 0 }, []act{{0, "open"}}, 1, []seen{{0, OpenedAlone}, {0, Forced}}},
		{"exit releases", nil, []act{{0, "exit"}, {1, "open"}, {2, "close"}}, 100,
			[]seen{{0, ExitAsked}, {0, LockReleased}, {1, Opened}, {1, LockLocked}, {2, Closed}}},
		{"exit only excuses", func(d *site.Door) { d.ExitReleases = false }, []act{{0, "exit"}, {4, "open"}, {5, "close"}, {6, "open"}}, 7,
			[]seen{{0, ExitAsked}, {4, Opened}, {5, Closed}, {6, OpenedAlone}}},
		{"held open", nil, []act{{0, "grant"}, {1, "open"}, {70, "close"}}, 100,
			[]seen{{0, LockReleased}, {1, Opened}, {1, Entered}, {1, LockLocked}, {46, HeldWarning}, {61, HeldOpen}, {70, Closed}, {70, HeldEnded}}},
		{"a grant counts held-open anew", nil, []act{{0, "grant"}, {1, "open"}, {50, "grant"}}, 111,
			[]seen{{0, LockReleased}, {1, Opened}, {1, Entered}, {1, LockLocked}, {46, HeldWarning}, {50, LockReleased}, {50, Entered}, {55, LockLocked}, {95, HeldWarning}, {110, HeldOpen}}},
		{"free: neither forced nor held", nil, []act{{0, "free"}, {1, "open"}, {200, "close"}}, 300,
			[]seen{{0, LockReleased}, {1, Opened}, {200, Closed}}},
		{"held-open starts anew when a free time ends with the leaf open", nil, []act{{0, "free"}, {1, "open"}, {100, "bound"}}, 200,
			[]seen{{0, LockReleased}, {1, Opened}, {100, LockLocked}, {145, HeldWarning}, {160, HeldOpen}}},
		{"without a contact", bare, []act{{0, "open"}, {1, "grant"}}, 100, []seen{{1, LockReleased}, {1, Entered}, {6, LockLocked}}},
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
			run(d, []act{{now, rapid.SampledFrom([]string{"grant", "extended", "open", "close", "exit", "free", "bound", "hold 10"}).Draw(t, "do")}}, now)
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
		for _, e := range run(d, []act{{now, rapid.SampledFrom([]string{"open", "close", "bound", "retire"}).Draw(t, "last")}}, now+1000) {
			if e.Kind == Entered || e.Kind == NotTaken {
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
