package panel

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// reacting is ruled with some reactions.
func reacting(t require.TestingT, list ...site.Reaction) *play { return playing(t, reacts(list...)) }

// reacts gives a configuration a siren, a lamp, a window contact and reactions, at all hours where nothing else is
// said.
func reacts(list ...site.Reaction) func(*site.Config) {
	return func(c *site.Config) {
		c.Outputs = []site.Output{
			{ID: 70, ControllerID: 9, At: point.At(point.Output, 5), Use: site.Siren, When: site.ByHand},
			{ID: 71, ControllerID: 9, At: point.At(point.Output, 6), Use: site.Lamp, When: site.WhenReleased, DoorIDs: []site.ID{1}},
		}
		c.Inputs = []site.Input{
			{ID: 72, ControllerID: 9, At: point.At(point.Input, 9), Use: site.InputSense, Contact: site.NormallyOpen},
		}
		// it is Monday 12:00
		c.Schedules = append(c.Schedules, site.Schedule{ID: 32, Week: hours.Week{0: {{Start: 13 * 60, End: 14 * 60}}}})
		for i := range list {
			list[i].ID = site.ID(80 + i)
			if list[i].ScheduleID == 0 {
				list[i].ScheduleID = 30
			}
		}
		c.Reactions = list
	}
}

func doors(ids ...site.ID) (out []site.Target) {
	for _, id := range ids {
		out = append(out, site.Target{Kind: site.AtDoor, ID: id})
	}
	return out
}

// outs lists what the named outputs did.
func outs(r Result) string {
	s := ""
	for _, o := range r.Outputs {
		if o.Show == "" && o.Point.Board == 0 && o.Point.Number >= 5 {
			s += fmt.Sprintf("%s %v ", o.Point, o.On)
		}
	}
	return s
}

// A held-open door sounds the siren until it closes, by the controller alone.
func TestHeldOpenSoundsUntilItCloses(t *testing.T) {
	l := reacting(t, site.Reaction{
		When: site.WhenHeldOpen, At: doors(2, 3), Do: site.DoOn, OutputIDs: []site.ID{70}, Until: true,
	})
	l.step(0, Input{Kind: Network}) // cut off
	l.step(time.Second, contact(1, false))
	assert.Empty(t, outs(l.step(5*time.Minute, Input{})), "another door")
	l.step(0, l.card(2, 104))
	l.step(0, contact(2, false))
	assert.Equal(t, "o5 true ", outs(l.step(time.Minute, Input{})))
	l.step(0, l.card(3, 104))
	l.step(0, contact(3, false))
	l.step(time.Minute, Input{})
	assert.Empty(t, outs(l.step(0, contact(2, true))), "the other one is open still")
	assert.Equal(t, "o5 false ", outs(l.step(0, contact(3, true))))
}

// What began at a door that a new image no longer has is over, and so is what ended while the controller had no power.
func TestOutputsUntilWhatIsNoMore(t *testing.T) {
	until := func(when site.Happening) site.Reaction {
		return site.Reaction{When: when, Do: site.DoOn, OutputIDs: []site.ID{70}, Until: true}
	}
	l := reacting(t, until(site.WhenHeldOpen))
	l.step(0, l.card(2, 104))
	l.step(0, contact(2, false))
	assert.Equal(t, "o5 true ", outs(l.step(time.Minute, Input{})))
	without := ruled(t, func(c *site.Config) {
		reacts(until(site.WhenHeldOpen))(c)
		c.Doors = slices.DeleteFunc(c.Doors, func(d site.Door) bool { return d.ID == 2 })
	})
	assert.Equal(t, "o5 false ", outs(l.p.Load(l.now.Add(time.Second), without, "x")))

	turned := site.Reaction{When: site.WhenInputActive, Do: site.DoOn, OutputIDs: []site.ID{70}}
	l = reacting(t, turned)
	l.step(0, sensor(9, true))
	l.p.Load(l.now, ruled(t, reacts(turned)), "the same")
	assert.True(t, l.p.told[point.At(point.Output, 5)])
	l.p.Load(l.now, ruled(t, reacts()), "without the reaction")
	assert.False(t, l.p.told[point.At(point.Output, 5)], "nobody would turn it off any more")

	l = reacting(t, until(site.WhenHoldBegan))
	ends := l.now.Add(10 * time.Second)
	l.step(0, Input{Kind: Hold, On: true, Mode: hours.Free, Until: ends})
	assert.True(t, l.p.told[point.At(point.Output, 5)])
	l.now = ends
	l = l.restarted(t)
	assert.False(t, l.p.told[point.At(point.Output, 5)])
}

func TestReactions(t *testing.T) {
	open := Input{Kind: Reading, Point: point.At(point.Input, 9), Circuit: point.Closed}
	for name, c := range map[string]struct {
		r     site.Reaction
		after time.Duration
		in    Input
		want  string
	}{
		"a refusal releases nothing else": {
			site.Reaction{When: site.WhenRefused, Reason: "card-unknown", Do: site.DoRelease, To: doors(2)}, 0,
			reads(1, bits(t, 99)),
			"1 0 card-unknown, 1 reacted, 2 released-once",
		},
		"of another reason not": {
			site.Reaction{When: site.WhenRefused, Reason: "outside-hours", Do: site.DoRelease, To: doors(2)}, 0,
			reads(1, bits(t, 99)), "1 0 card-unknown",
		},
		"an input holds a door for a time": {
			site.Reaction{When: site.WhenInputActive, InputIDs: []site.ID{72}, Do: site.DoHold, Mode: "free", Seconds: 10, To: doors(3)},
			0, open,
			"0 input-active, 0 reacted, 3 hold",
		},
		"and lets others go": {
			site.Reaction{When: site.WhenInputActive, Do: site.DoBack, To: doors(3)}, 0, open, "0 input-active, 0 reacted",
		},
		"outside of its hours nothing": {
			site.Reaction{When: site.WhenInputActive, ScheduleID: 32, Do: site.DoRelease, To: doors(3)}, 0, open,
			"0 input-active",
		},
		"within its hours": {
			site.Reaction{When: site.WhenInputActive, ScheduleID: 32, Do: site.DoRelease, To: doors(3)}, time.Hour, open,
			"0 input-active, 0 reacted, 3 released-once",
		},
		"an hour is struck": {
			site.Reaction{When: site.WhenHour, Hour: "12:30", Do: site.DoRelease, To: doors(3)}, 30 * time.Minute, Input{},
			"0 reacted, 3 released-once",
		},
		"not before it": {
			site.Reaction{When: site.WhenHour, Hour: "12:30", Do: site.DoRelease, To: doors(3)}, 29 * time.Minute, Input{}, "",
		},
		"the first input is another": {
			site.Reaction{When: site.WhenMainsLost, Do: site.DoRelease, To: doors(3)}, 0, open, "0 input-active",
		},
		"mains": {
			site.Reaction{When: site.WhenMainsLost, Do: site.DoRelease, To: doors(3)}, 0,
			Input{Kind: Told, Tells: pass.MainsLost}, "0 mains-lost, 0 reacted, 3 released-once",
		},
		"one that is off": {
			site.Reaction{When: site.WhenInputActive, Do: site.DoRelease, To: doors(3), Off: true}, 0, open, "0 input-active",
		},
		"what only the server can do is not here": {
			site.Reaction{When: site.WhenInputActive, Do: site.DoTell, Text: "look"}, 0, open, "0 input-active",
		},
	} {
		t.Run(name, func(t *testing.T) { assert.Equal(t, c.want, reacting(t, c.r).say(c.after, c.in)) })
	}
}

// Outputs are on for a time, until turned off, and off for a time whatever they do by themselves.
func TestOutputsByReactions(t *testing.T) {
	press := func(on bool) Input {
		c := point.Open
		if on {
			c = point.Closed
		}
		return Input{Kind: Reading, Point: point.At(point.Input, 9), Circuit: c}
	}
	l := reacting(t, site.Reaction{When: site.WhenInputActive, Do: site.DoOn, Seconds: 30, OutputIDs: []site.ID{70}})
	assert.Equal(t, "o5 true ", outs(l.step(0, press(true))))
	l.step(20*time.Second, press(false))
	l.step(0, press(true))
	assert.Empty(t, outs(l.step(29*time.Second, Input{})), "again: the time begins anew")
	assert.Equal(t, "o5 false ", outs(l.step(time.Second, Input{})))

	l = reacting(t, site.Reaction{When: site.WhenInputActive, Do: site.DoOn, OutputIDs: []site.ID{70}},
		site.Reaction{When: site.WhenGranted, At: doors(2), Do: site.DoOff, OutputIDs: []site.ID{70}})
	assert.Equal(t, "o5 true ", outs(l.step(0, press(true))))
	assert.Empty(t, outs(l.step(time.Hour, press(false))))
	memory, err := l.p.Save()
	require.NoError(t, err)
	again := New(l.p.c, l.p.Seq())
	require.NoError(t, again.Restore(memory))
	assert.Equal(t, "o5 true ", outs(again.Start(l.now)), "also over a restart")
	assert.Equal(t, "o5 false ", outs(l.step(0, l.card(2, 104))))

	l = reacting(t, site.Reaction{When: site.WhenInputActive, Do: site.DoOff, Seconds: 60, OutputIDs: []site.ID{71}})
	l.step(0, press(true))
	assert.Empty(t, outs(l.step(0, l.card(1, 104))), "the lamp of a released door stays dark")
	l.step(time.Minute, Input{})
	assert.Equal(t, "o6 true ", outs(l.step(0, l.card(1, 104))))
}

// Reactions across controllers ask for an output each by its name: it is on until the last of them lets it go, also
// over a restart and a new image.
func TestOutputsAskedFromAfar(t *testing.T) {
	l := reacting(t)
	ask := func(kind InputKind, rule site.ID) bool {
		l.step(time.Second, Input{Kind: kind, On: kind == Drive, Outputs: []site.ID{70}, Rule: rule})
		return l.p.told[point.At(point.Output, 5)]
	}
	assert.True(t, ask(Drive, 91))
	assert.True(t, ask(Drive, 92))
	assert.True(t, ask(Drive, 92), "said again on its return")
	assert.True(t, ask(LetGo, 93), "another one")
	assert.True(t, ask(LetGo, 91), "the other one wants it still")
	l = l.restarted(t)
	assert.True(t, l.p.told[point.At(point.Output, 5)])
	l.p.Load(l.now, ruled(t, reacts()), "x")
	assert.True(t, l.p.told[point.At(point.Output, 5)])
	assert.False(t, ask(LetGo, 92))
}

// One that is set off without end rests until the minute is over, and says so once.
func TestReactionRests(t *testing.T) {
	l := reacting(t, site.Reaction{When: site.WhenRefused, Do: site.DoRelease, To: doors(2)})
	count := map[pass.Kind]int{}
	for range site.MostInARow + 10 {
		for _, e := range l.step(time.Second, reads(1, bits(t, 99))).Events {
			count[e.Kind]++
		}
	}
	assert.Equal(t, site.MostInARow, count[pass.Reacted])
	assert.Equal(t, 1, count[pass.ReactionRests])
	assert.Contains(t, l.say(time.Minute, reads(1, bits(t, 99))), "reacted")
}

// 2,000 reactions cost nothing to events that they do not name.
func BenchmarkReactions(b *testing.B) {
	for name, n := range map[string]int{"none": 0, "2000 that do not name it": 2000} {
		b.Run(name, func(b *testing.B) {
			var list []site.Reaction
			for range n {
				list = append(list, site.Reaction{When: site.WhenFirstCard, Do: site.DoRelease, To: doors(3)})
			}
			l := reacting(b, list...)
			in := reads(1, bits(b, 99))
			for b.Loop() {
				l.step(time.Second, in)
			}
		})
	}
}
