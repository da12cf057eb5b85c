package panel

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/bits-and-blooms/bitset"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/elevator"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// car turns door 1 of ruled into an elevator of floors 200, 201 …, with its relays on expanders 1, 2 …; level 40 comes
// to the floors given.
func car(c *site.Config, floors int, mine ...site.ID) *site.Door {
	var ids []site.ID
	for i := range floors {
		c.Floors = append(c.Floors, site.Floor{ID: site.ID(200 + i), SiteID: 3, Level: i})
		ids = append(ids, site.ID(200+i))
	}
	d := &c.Doors[0]
	keypad := d.In.Keypad
	d.Hardware = site.UsualElevator()
	d.In.Keypad = keypad
	x := site.UsualCar(ids, []int{1, 2, 3, 4, 5, 6, 7, 8})
	d.Car = &x
	ride := &site.Ride{CarIDs: []site.ID{1}, FloorIDs: mine}
	c.Levels[0].Entries[0] = site.Entry{Target: site.Target{Kind: site.AtStops}, ScheduleID: 30, Ride: ride}
	return d
}

// relays lists what outputs did, as +1/o2 and -1/o2.
func relays(r Result) string {
	var out []string
	for _, o := range r.Outputs {
		if o.Show != "" {
			continue
		}
		sign := "-"
		if o.On {
			sign = "+"
		}
		out = append(out, sign+o.Point.String())
	}
	return strings.Join(out, " ")
}

// floors tells what every floor does.
func (l *play) floors() string {
	var out []string
	for _, f := range l.p.Doors()[0].Floors {
		out = append(out, string(f.Why))
	}
	return strings.Join(out, " ")
}

func (l *play) step(after time.Duration, in Input) Result {
	l.now = l.now.Add(after)
	return l.p.Step(l.now, in)
}

// Cards for floors 1, 2, 5 release just these three for 5 s (common practice).
func TestCardReleasesItsFloors(t *testing.T) {
	l := playing(t, func(c *site.Config) { car(c, 6, 200, 201, 204) })
	r := l.step(0, reads(1, bits(t, 3)))
	assert.Equal(t, "+1/o1 +1/o2 +1/o5", relays(r))
	require.Len(t, r.Events, 1, "one event a card")
	assert.Equal(t, []site.ID{200, 201, 204}, r.Events[0].Floors)
	assert.Equal(t, "card card held held card held", l.floors())
	assert.Empty(t, relays(l.step(4*time.Second, Input{})))
	assert.Equal(t, "-1/o1 -1/o2 -1/o5", relays(l.step(time.Second, Input{})))
	assert.Equal(t, "held held held held held held", l.floors())
}

// A card while floors are released restarts their time and never shortens it.
func TestCardsOverlap(t *testing.T) {
	l := playing(t, func(c *site.Config) { car(c, 3, 201) })
	l.step(0, reads(1, bits(t, 2)))
	assert.Empty(t, relays(l.step(3*time.Second, reads(1, bits(t, 3)))))
	assert.Empty(t, relays(l.step(4*time.Second, Input{})))
	assert.Equal(t, "-1/o2", relays(l.step(time.Second, Input{})))
}

// Who has the car and none of its floors is told so; who has neither, too.
func TestNoFloor(t *testing.T) {
	l := playing(t, func(c *site.Config) { car(c, 3) })
	assert.Equal(t, "1 103 floor-not-allowed", l.say(0, reads(1, bits(t, 3))))
	l = playing(t, func(c *site.Config) { car(c, 3, 200); c.Levels[0].Entries = c.Levels[0].Entries[1:] })
	assert.Equal(t, "1 103 no-level", l.say(0, reads(1, bits(t, 3))))
}

// A floor is free by its schedule from the moment on that the image is in force, not from the schedule's next start;
// while the car is barred it is not.
func TestFreeFloors(t *testing.T) {
	office := site.Schedule{ID: 32, Week: hours.Week{0: {{Start: 9 * 60, End: 17 * 60}}}} // it is Monday 12:00
	free := func(c *site.Config) {
		car(c, 3, 202)
		c.Schedules = append(c.Schedules, office)
		c.Doors[0].Car.Stops[1].FreeID = 32
	}
	l := playing(t, func(c *site.Config) { car(c, 3, 202) })
	assert.Equal(t, "+1/o2", relays(l.p.Load(l.now, ruled(t, free), "x")))
	assert.Equal(t, "held schedule held", l.floors())
	until := l.p.Doors()[0].Floors[1].Until
	assert.Equal(t, instant(t, "2026-11-23T17:00:00-04:00"), until)
	assert.Equal(t, "-1/o2", relays(l.step(time.Second, Input{Kind: Lockdown, On: true})))
	assert.Equal(t, "+1/o2", relays(l.step(time.Second, Input{Kind: Lockdown})))
	assert.Equal(t, "+1/o1 +1/o3",
		relays(l.step(time.Second, Input{Kind: Hold, On: true, Mode: hours.Free, Doors: []site.ID{1}})), "held free")
	assert.Equal(t, "-1/o1 -1/o3", relays(l.step(time.Second, Input{Kind: Hold, Doors: []site.ID{1}})))
	assert.Equal(t, "-1/o2", relays(l.step(until.Sub(l.now), Input{})))
}

// In a fire the relays drop, or all are released, by choice.
func TestFireInTheCar(t *testing.T) {
	drop := playing(t, func(c *site.Config) { car(c, 2, 200) })
	drop.step(0, reads(1, bits(t, 3)))
	assert.Equal(t, "-1/o1", relays(drop.step(time.Second, Input{Kind: Fire, On: true, Doors: []site.ID{1}})))
	assert.Empty(t, relays(drop.step(time.Second, reads(1, bits(t, 3)))), "cards release nothing")
	release := playing(t, func(c *site.Config) { car(c, 2, 200).Car.Fire = site.FireReleases })
	assert.Equal(t, "+1/o1 +1/o2", relays(release.step(0, Input{Kind: Fire, On: true, Doors: []site.ID{1}})))
	assert.Equal(t, "-1/o1 -1/o2", relays(release.step(time.Second, Input{Kind: Fire, Doors: []site.ID{1}})))
}

// With buttons wired back only the floor that is pressed is driven, and the log says who went where.
func TestButtons(t *testing.T) {
	l := playing(t, func(c *site.Config) {
		d := car(c, 4, 201, 202)
		d.Car.Buttons = []int{9}
	})
	press := func(n uint16) Input {
		return Input{Kind: Reading, Point: point.Address{Board: 9, Kind: point.Input, Number: n}, Circuit: point.Closed}
	}
	assert.Empty(t, relays(l.step(0, reads(1, bits(t, 3)))))
	r := l.step(time.Second, press(4))
	assert.Empty(t, relays(r))
	require.Len(t, r.Events, 1)
	assert.Equal(t, pass.FloorRefused, r.Events[0].Kind)
	r = l.step(time.Second, press(2))
	assert.Equal(t, "+1/o2", relays(r))
	require.Len(t, r.Events, 1)
	assert.Equal(t, pass.FloorChosen, r.Events[0].Kind)
	assert.Equal(t, site.ID(103), r.Events[0].Person)
	assert.Equal(t, []site.ID{201}, r.Events[0].Floors)
	assert.Empty(t, relays(l.step(time.Second, press(3))), "one card, one floor")
	assert.Equal(t, "-1/o2", relays(l.step(4*time.Second, Input{})))
	l.step(0, reads(1, bits(t, 2)))
	r = l.step(5*time.Second, Input{})
	require.Len(t, r.Events, 1)
	assert.Equal(t, pass.NotTaken, r.Events[0].Kind)
}

// The louder log tells of 4 relays on and 4 off for a card at 4 floors (common practice), and ends by itself.
func TestLouderLog(t *testing.T) {
	l := playing(t, func(c *site.Config) { car(c, 4, 200, 201, 202, 203) })
	l.step(0, Input{Kind: Louder, On: true, By: time.Minute})
	count := map[pass.Kind]int{}
	for _, r := range []Result{l.step(time.Second, reads(1, bits(t, 3)))} {
		for _, e := range r.Events {
			count[e.Kind]++
		}
	}
	for _, e := range l.step(5*time.Second, Input{}).Events {
		count[e.Kind]++
	}
	assert.Equal(t, map[pass.Kind]int{pass.WasGranted: 1, pass.FloorReleased: 4, pass.FloorHeld: 4}, count)
	memory, err := l.p.Save()
	require.NoError(t, err)
	assert.Contains(t, string(memory), "loud", "it survives a restart")
	r := l.step(time.Minute, Input{})
	require.Len(t, r.Events, 1)
	assert.Equal(t, pass.LoudEnded, r.Events[0].Kind)
	require.Len(t, l.step(time.Second, reads(1, bits(t, 3))).Events, 1)
}

// A floor is released by hand for the select time.
func TestFloorByHand(t *testing.T) {
	l := playing(t, func(c *site.Config) { car(c, 4, 200) })
	r := l.step(0, Input{Kind: Release, Doors: []site.ID{1}, Floors: []site.ID{202}, Note: "Ada"})
	assert.Equal(t, "+1/o3", relays(r))
	require.Len(t, r.Events, 1)
	assert.Equal(t, []site.ID{202}, r.Events[0].Floors)
	assert.Equal(t, "-1/o3", relays(l.step(5*time.Second, Input{})))
}

// The second reader in the car is like the first: it asks what the plan asks, and is no way out.
func TestSecondReaderInTheCar(t *testing.T) {
	l := playing(t, func(c *site.Config) {
		d := car(c, 2, 200)
		d.Out.Fitted = true
	})
	in := reads(1, bits(t, 3))
	in.Point = point.At(point.Reader, 2)
	assert.Equal(t, "+1/o1", relays(l.step(0, in)))
	l.step(time.Minute, Input{Kind: Lockdown, On: true})
	assert.Equal(t, "1 103 door-barred", l.say(0, in))
}

// Rules for doors hold in a car too: two people together release what each of them may.
func TestTwoInTheCar(t *testing.T) {
	l := playing(t, func(c *site.Config) {
		car(c, 4, 200, 202)
		c.Proofs = []site.Proofs{{ID: 60, Kind: site.Combined, DoorIDs: []site.ID{1}, ScheduleID: 30, Window: 20,
			Combinations: []site.Combination{{Total: 2, Parts: []site.Part{{GroupID: 50, Count: 1}, {GroupID: 51, Count: 1}}}}}}
	})
	assert.Empty(t, relays(l.step(0, reads(1, bits(t, 2)))))
	assert.Equal(t, "+1/o1 +1/o3", relays(l.step(time.Second, reads(1, bits(t, 3)))))
}

// A new image keeps what is released, by floor, and lets go of floors that are no more.
func TestCarGoesOn(t *testing.T) {
	l := playing(t, func(c *site.Config) { car(c, 4, 200, 203) })
	l.step(0, reads(1, bits(t, 3)))
	next := ruled(t, func(c *site.Config) {
		d := car(c, 4, 200, 203)
		d.Car.Stops = d.Car.Stops[1:]
		for i := range d.Car.Stops {
			d.Car.Stops[i].Relay = i + 1
		}
	})
	r := l.p.Load(l.now, next, "x")
	assert.Equal(t, "held held card", l.floors())
	assert.ElementsMatch(t, []string{"-1/o1", "+1/o3", "-1/o4"}, strings.Fields(relays(r)))
	assert.Equal(t, "-1/o3", relays(l.step(5*time.Second, Input{})))
}

// What a card releases is the floors of its person's levels that are open, met with those of the car: over random sites
// against sets of another library (github.com/bits-and-blooms/bitset).
func TestReleasedSet(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, site.MostStops).Draw(t, "floors")
		type given struct {
			floors        []site.ID
			closed, other bool
		}
		var gives []given
		all := rapid.IntRange(0, n+3) // some that the car does not stop at
		for range rapid.IntRange(0, 5).Draw(t, "levels") {
			var g given
			for _, f := range rapid.SliceOfDistinct(all, rapid.ID[int]).Draw(t, "to") {
				g.floors = append(g.floors, site.ID(200+f))
			}
			g.closed, g.other = rapid.Bool().Draw(t, "closed"), rapid.Bool().Draw(t, "other")
			gives = append(gives, g)
		}
		l := playing(t, func(c *site.Config) {
			car(c, n)
			c.Levels[0].Entries = nil
			for i, g := range gives {
				e := site.Entry{
					Target: site.Target{Kind: site.AtStops}, ScheduleID: 30,
					Ride: &site.Ride{FloorIDs: g.floors, CarIDs: []site.ID{1}},
				}
				if g.closed {
					e.ScheduleID = 31
				}
				id := site.ID(70 + i)
				c.Levels = append(c.Levels, site.Level{ID: id, Entries: []site.Entry{e}})
				who := 102
				if g.other {
					who = 103
				}
				p := c.Person(site.ID(who))
				p.Levels = append(slices.Clone(p.Levels), site.Grant{LevelID: id})
			}
		})
		stops, mine := bitset.New(256), bitset.New(256)
		for i := range n {
			stops.Set(uint(i))
		}
		for _, g := range gives {
			for _, f := range g.floors {
				if !g.closed && !g.other {
					mine.Set(uint(f - 200))
				}
			}
		}
		l.step(0, reads(1, bits(t, 2)))
		var want []string
		released := stops.Intersection(mine)
		for i := range n {
			why := elevator.Held
			if released.Test(uint(i)) {
				why = elevator.ByCard
			}
			want = append(want, string(why))
		}
		require.Equal(t, strings.Join(want, " "), l.floors(), fmt.Sprint(gives))
	})
}

// BenchmarkDecideAtACar compares a car of 128 floors with a door.
func BenchmarkDecideAtACar(b *testing.B) {
	c := ruled(b, func(c *site.Config) {
		var all []site.ID
		for i := range site.MostStops {
			all = append(all, site.ID(200+i))
		}
		car(c, site.MostStops, all...)
	})
	in, at := reads(1, bits(b, 3)), instant(b, "2026-11-23T12:00:00-04:00")
	for name, door := range map[string]int{"car": 0, "door": 1} {
		b.Run(name, func(b *testing.B) {
			gates := c.Place(door).Gates[0]
			p := pass.Pass{}
			for b.Loop() {
				p.Request = pass.Request{At: at, Door: door, Mode: hours.Card, HasCard: true, Bits: in.Bits}
				gates.Decide(&p)
			}
			require.True(b, p.Reason.Granted())
		})
	}
}
