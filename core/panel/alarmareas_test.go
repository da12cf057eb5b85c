package panel

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/rules/alarmarea"
	"amberkeystone/core/site"
)

// watched is ruled with an alarm area of doors 1 and 2, a window (i9), a motion detector on the way (i10), a key switch
// (i11), a siren (o5), a lamp (o6) and a buzzer (o7). 102 arms, 101 disarms too; 103 does neither.
func watched(t require.TestingT, change func(*site.AlarmArea, *site.Config)) *play {
	return playing(t, func(c *site.Config) {
		for i, id := range []site.ID{70, 71, 75} {
			c.Outputs = append(c.Outputs, site.Output{
				ID: id, ControllerID: 9, At: point.At(point.Output, 5+i), Use: site.Siren, When: site.ByHand,
			})
		}
		for i, id := range []site.ID{72, 73, 74} {
			c.Inputs = append(c.Inputs, site.Input{
				ID: id, ControllerID: 9, At: point.At(point.Input, 9+i), Use: site.InputSense, Contact: site.NormallyOpen,
			})
		}
		c.Levels = append(c.Levels,
			site.Level{ID: 42, Authorities: site.Authorities{Arms: true}, Entries: []site.Entry{site.At(1, 30), site.At(2, 30)}},
			site.Level{ID: 43, Authorities: site.Authorities{Disarms: true},
				Entries: []site.Entry{site.At(1, 30), site.At(2, 30)}})
		c.People[1].Levels = append(c.People[1].Levels, site.Grant{LevelID: 42})
		c.People[0].Levels = append(c.People[0].Levels, site.Grant{LevelID: 43})
		a := site.UsualAlarmArea(1)
		a.ID, a.DoorIDs, a.Inputs = 90, []site.ID{1, 2}, []site.Watched{{InputID: 72}, {InputID: 73, OnWay: true}}
		a.AlarmIDs, a.ArmedIDs, a.DelayIDs = []site.ID{70}, []site.ID{71}, []site.ID{75}
		if change != nil {
			change(&a, c)
		}
		c.AlarmAreas = []site.AlarmArea{a}
	})
}

func sensor(n int, active bool) Input { return circuit(point.At(point.Input, n), active) }

// twice is two reads of a card, a second apart, and what the second did.
func (l *play) twice(port int, person uint64) string {
	l.step(10*time.Second, l.card(port, person))
	return l.say(time.Second, l.card(port, person))
}

func (l *play) area() alarmarea.Now { return l.p.AlarmAreas()[0] }

// Two reads at the reader arm it (common practice), by those whose level may; then only those come in who disarm.
func TestTwoReadsArm(t *testing.T) {
	l := watched(t, nil)
	assert.Equal(t, "1 103 granted", l.twice(1, 103), "whose level may not only comes in")
	assert.Equal(t, "1 102 granted, 1 arming", l.twice(1, 102))
	assert.Equal(t, alarmarea.Leaving, l.area().State)
	assert.Equal(t, "1 103 while-armed", l.say(time.Second, l.card(1, 103)), "already while people leave")
	assert.Empty(t, l.say(28*time.Second, Input{}))
	assert.Equal(t, "1 armed", l.say(time.Second, Input{}), "30 s after the second read")
	assert.Equal(t, site.ID(102), l.area().Person)
	assert.Equal(t, "2 103 while-armed", l.say(time.Minute, l.card(2, 103)))
	assert.Equal(t, "2 102 while-armed", l.say(time.Minute, l.card(2, 102)), "who may arm only, too")
	assert.Equal(t, "3 103 granted", l.say(time.Second, l.card(3, 103)), "a door that does not belong to it")
	assert.Equal(t, "2 101 granted", l.say(time.Minute, l.card(2, 101)))
	assert.Equal(t, "2 entered, 2 entering", l.say(time.Second, contact(2, false)))
	l.step(time.Second, contact(2, true))
	assert.Equal(t, "2 101 granted, 2 disarmed", l.twice(2, 101))
	assert.Equal(t, "2 103 granted", l.say(time.Second, l.card(2, 103)))
}

// Two reads are refused while a door stands open, and say which; an operator leaves it out on purpose.
func TestWhatStandsOpenPreventsArming(t *testing.T) {
	l := watched(t, nil)
	l.step(time.Second, l.card(2, 103))
	l.step(time.Second, contact(2, false))
	r := l.step(time.Second, l.card(1, 102))
	r = l.step(time.Second, l.card(1, 102))
	e := r.Events[len(r.Events)-1]
	assert.Equal(t, pass.NotArmed, e.Kind)
	assert.Equal(t, []site.ID{2}, e.StandOpen)
	assert.Contains(t, r.Outputs, Output{Point: site.PortPoints(1).In, Show: pass.ShowOpen})
	assert.Equal(t, alarmarea.Disarmed, l.area().State)
	assert.Equal(t, []site.ID{2}, l.area().StandOpen)

	assert.Equal(t, "0 not-armed", l.say(time.Second, Input{Kind: Arm, Rule: 90, On: true, Note: "Ines"}))
	l.step(0, sensor(9, true))
	assert.Equal(t, []site.ID{2, 72}, l.area().StandOpen)
	assert.Equal(t, "0 not-armed", l.say(0, Input{Kind: Arm, Rule: 90, On: true, Left: []site.ID{2}}),
		"the window is open still")
	assert.Equal(t, "0 arming", l.say(0, Input{Kind: Arm, Rule: 90, On: true, Left: []site.ID{2, 72, 3}}))
	l.step(30*time.Second, Input{})
	assert.Equal(t, []site.ID{2, 72}, l.area().Left, "what belongs to it, and nothing else")
	l.step(0, contact(2, true))
	assert.Equal(t, "0 input-rest", l.say(time.Second, sensor(9, false)))
	assert.Equal(t, "0 input-active", l.say(time.Second, sensor(9, true)), "it stays left out until it is disarmed")
	assert.Equal(t, alarmarea.Armed, l.area().State)
}

// What is active on the way lets people leave during an exit delay; where there is none, it prevents arming.
func TestOnTheWayWithoutExitDelay(t *testing.T) {
	for delay, want := range map[int]string{0: "0 not-armed", 10: "0 arming"} {
		l := watched(t, func(a *site.AlarmArea, _ *site.Config) { a.ExitDelay = delay })
		l.step(0, sensor(10, true))
		assert.Equal(t, want, l.say(time.Second, Input{Kind: Arm, Rule: 90, On: true}), "%d s", delay)
	}
}

// Nobody is there to see that a schedule could not arm: it is an alarm.
func TestScheduleCannotArm(t *testing.T) {
	l := watched(t, func(a *site.AlarmArea, c *site.Config) {
		a.ScheduleID = 32 // it is Monday 12:00
		c.Schedules = append(c.Schedules, site.Schedule{ID: 32, Week: hours.Week{0: {{Start: 13 * 60, End: 14 * 60}}}})
	})
	l.step(0, sensor(9, true))
	assert.Equal(t, "0 arming-failed", l.say(time.Hour, Input{}))
	assert.True(t, pass.ArmingFailed.Alarm())
	assert.Equal(t, alarmarea.Disarmed, l.area().State)
}

// A barred door refuses the reads that arm, and a door that asks for a PIN need not be given one to arm; disarming
// takes a grant.
func TestReadsThatArm(t *testing.T) {
	l := watched(t, func(_ *site.AlarmArea, c *site.Config) { c.Plans[0].Pattern.Default = hours.Barred })
	assert.Equal(t, "2 102 door-barred, 2 arming", l.twice(2, 102))
	l.step(time.Minute, Input{})
	assert.Equal(t, "2 101 door-barred", l.twice(2, 101))
	assert.Equal(t, alarmarea.Armed, l.area().State)

	l = watched(t, func(_ *site.AlarmArea, c *site.Config) { c.Plans[0].Pattern.Default = hours.Free })
	assert.Equal(t, "2 102 granted-free, 2 arming", l.twice(2, 102))
	assert.Equal(t, hours.Card, l.p.Doors()[1].Mode, "from then on a card is asked")

	l = watched(t, func(_ *site.AlarmArea, c *site.Config) { c.Plans[0].Pattern.Default = hours.CardAndPIN })
	l.step(time.Second, l.card(1, 101))
	l.step(time.Second, l.card(1, 101))
	assert.Equal(t, alarmarea.Leaving, l.area().State)
	l.step(time.Minute, l.card(1, 101))
	for _, k := range []byte("482") {
		l.step(500*time.Millisecond, types(1, k))
	}
	assert.Equal(t, "1 101 granted, 1 disarmed", l.say(500*time.Millisecond, types(1, '9')), "card and PIN disarm at once")

	l.step(time.Minute, l.card(1, 101))
	for _, k := range []byte("482") {
		l.step(500*time.Millisecond, types(1, k))
	}
	assert.Equal(t, "1 101 granted", l.say(500*time.Millisecond, types(1, '9')), "a card and its PIN are one read")
}

func TestExitDelay(t *testing.T) {
	l := watched(t, nil)
	l.twice(1, 102)
	l.step(0, sensor(10, true))
	l.step(5*time.Second, button(1, true))
	l.step(time.Second, contact(1, false))
	assert.Equal(t, "1 arming-failed", l.say(24*time.Second, Input{}),
		"the door was never closed, and somebody moves: 30 s are over")
	assert.Equal(t, alarmarea.Disarmed, l.area().State)
	l.step(0, contact(1, true))
	l.step(0, button(1, false))

	l.step(0, Input{Kind: Arm, Rule: 90, On: true})
	assert.Equal(t, "0 input-rest", l.say(20*time.Second, sensor(10, false)),
		"on the way it does not prevent arming, and is at rest in time")
	r := l.step(10*time.Second, Input{})
	assert.Equal(t, "o6 true o7 false ", outs(r))
	assert.Equal(t, pass.Armed, r.Events[0].Kind)
}

func TestWhatRaisesTheAlarm(t *testing.T) {
	forced := func(l *play) { l.step(time.Second, contact(1, false)) }
	for name, c := range map[string]struct {
		do    func(l *play)
		after time.Duration
		want  string
	}{
		"a forced door, once it is that":           {forced, 2 * time.Second, "1 forced, 1 intrusion"},
		"a window":                                 {nil, 0, "0 input-active, 0 intrusion"},
		"an entry that nobody disarms":             {func(l *play) { l.step(0, l.card(1, 101)); l.step(0, contact(1, false)) }, 30 * time.Second, "1 intrusion"},
		"somebody who leaves who was not seen":     {func(l *play) { l.step(0, button(1, true)); l.step(0, contact(1, false)) }, 30 * time.Second, "1 intrusion"},
		"an operator's release that nobody minded": {func(l *play) { l.step(0, Input{Kind: Release, Doors: []site.ID{2}}); l.step(0, contact(2, false)) }, 30 * time.Second, "2 intrusion"},
	} {
		t.Run(name, func(t *testing.T) {
			l := watched(t, nil)
			l.step(0, Input{Kind: Arm, Rule: 90, On: true})
			l.step(time.Minute, Input{})
			in := Input{}
			if c.do == nil {
				in = sensor(9, true)
			} else {
				c.do(l)
			}
			assert.Equal(t, c.want, l.say(c.after, in))
			assert.Equal(t, alarmarea.Alarm, l.area().State)
		})
	}
	quiet := watched(t, nil)
	quiet.step(0, sensor(9, true))
	assert.Equal(t, alarmarea.Disarmed, quiet.area().State, "disarmed nothing raises it")
}

// A wire that is cut, a reader whose cover is opened and the controller's box raise it too; a motion detector on the
// way does once no delay runs.
func TestTampering(t *testing.T) {
	for name, in := range map[string]Input{
		"the wire of the window": {Kind: Reading, Point: point.At(point.Input, 9), Circuit: point.Open},
		"a reader's cover":       {Kind: Told, Tells: pass.ReaderOpened, Point: site.PortPoints(1).In},
		"the controller's box":   {Kind: Told, Tells: pass.TamperOpened},
		"movement":               sensor(10, true),
	} {
		t.Run(name, func(t *testing.T) {
			l := watched(t, func(a *site.AlarmArea, c *site.Config) { c.Inputs[0].Supervised = true })
			l.step(0, Input{Kind: Reading, Point: point.At(point.Input, 9), Circuit: point.Two})
			l.step(0, Input{Kind: Arm, Rule: 90, On: true})
			l.step(time.Minute, Input{})
			require.Equal(t, alarmarea.Armed, l.area().State)
			l.step(0, in)
			assert.Equal(t, alarmarea.Alarm, l.area().State)
		})
	}
}

// The siren sounds for its time, the area stays armed, and the next movement raises it anew; disarming ends all.
func TestSounding(t *testing.T) {
	l := watched(t, func(a *site.AlarmArea, _ *site.Config) { a.Single = true })
	l.step(0, Input{Kind: Arm, Rule: 90, On: true})
	l.step(time.Minute, Input{})
	assert.Equal(t, "o5 true ", outs(l.step(0, sensor(9, true))))
	assert.Equal(t, "0 input-active, 0 intrusion", l.say(time.Second, sensor(10, true)), "another that follows is told")
	l.step(0, sensor(10, false))
	assert.Equal(t, "0 input-active", l.say(time.Second, sensor(10, true)), "and told once")
	assert.Empty(t, outs(l.step(177*time.Second, Input{})))
	assert.Equal(t, "o5 false ", outs(l.step(time.Second, Input{})), "3 min after it began (common practice)")
	assert.Equal(t, alarmarea.Armed, l.area().State)
	l.step(0, sensor(9, false))
	assert.Equal(t, "o5 true ", outs(l.step(0, sensor(9, true))))
	assert.Equal(t, "1 101 granted, 1 disarmed, 0 intrusion-ended", l.say(time.Second, l.card(1, 101)),
		"one read disarms here")
	assert.Equal(t, alarmarea.Disarmed, l.area().State)
}

// The key switch: it holds, turns or arms.
func TestKeys(t *testing.T) {
	for works, want := range map[site.KeyWorks][4]string{
		site.KeyHolds: {"0 input-active, 0 arming", "0 input-rest, 0 disarmed", "0 input-active, 0 arming", "0 input-rest, 0 disarmed"},
		site.KeyTurns: {"0 input-active, 0 arming", "0 input-rest", "0 input-active, 0 disarmed", "0 input-rest"},
		site.KeyArms:  {"0 input-active, 0 arming", "0 input-rest", "0 input-active", "0 input-rest"},
	} {
		l := watched(t, func(a *site.AlarmArea, _ *site.Config) { a.KeyID, a.KeyWorks = 74, works })
		for i, want := range want {
			assert.Equal(t, want, l.say(time.Second, sensor(11, i%2 == 0)), "%s %d", works, i)
		}
	}
}

// A schedule arms when it opens and disarms when it closes, also where the controller was off in between.
func TestArmedBySchedule(t *testing.T) {
	night := func(a *site.AlarmArea, c *site.Config) {
		a.ScheduleID = 32 // it is Monday 12:00
		c.Schedules = append(c.Schedules, site.Schedule{ID: 32, Week: hours.Week{0: {{Start: 13 * 60, End: 14 * 60}}}})
		c.Plans[0].Pattern.Default = hours.Free
	}
	l := watched(t, night)
	assert.Equal(t, "1 103 granted-free", l.say(time.Second, l.card(1, 103)))
	assert.Equal(t, "0 arming", l.say(time.Hour-time.Second, Input{}))
	assert.Equal(t, hours.Card, l.p.Doors()[0].Mode, "no door of it stands free")
	assert.Equal(t, hours.AlarmArmed, l.p.Doors()[0].Layer)
	assert.Equal(t, hours.Free, l.p.Doors()[2].Mode)
	assert.Equal(t, "0 armed", l.say(30*time.Second, Input{}))
	kept, err := l.p.Save()
	require.NoError(t, err)
	assert.Equal(t, "0 disarmed", l.say(time.Hour-30*time.Second, Input{}))
	assert.Equal(t, hours.Free, l.p.Doors()[0].Mode)

	later := watched(t, night)
	require.NoError(t, later.p.Restore(kept))
	r := later.p.Start(later.now.Add(3 * time.Hour))
	assert.True(t, slices.ContainsFunc(r.Events, func(e pass.Fact) bool { return e.Kind == pass.Disarmed }))
}

// A key that is held says also after a start what is wanted; of a press that was then nothing is left.
func TestKeyFoundAtAStart(t *testing.T) {
	for name, c := range map[string]struct {
		works       site.KeyWorks
		armed, held bool // before, and after the start
		want        alarmarea.State
	}{
		"held on":                {site.KeyHolds, true, true, alarmarea.Armed},
		"turned back meanwhile":  {site.KeyHolds, true, false, alarmarea.Disarmed},
		"turned meanwhile":       {site.KeyHolds, false, true, alarmarea.Armed},
		"pressed, armed":         {site.KeyTurns, true, true, alarmarea.Armed},
		"pressed, disarmed":      {site.KeyTurns, false, true, alarmarea.Disarmed},
		"arms only, left turned": {site.KeyArms, false, true, alarmarea.Disarmed},
	} {
		t.Run(name, func(t *testing.T) {
			l := watched(t, func(a *site.AlarmArea, _ *site.Config) { a.KeyID, a.KeyWorks, a.ExitDelay = 74, c.works, 0 })
			if c.armed {
				l.step(0, sensor(11, true))
			}
			l = l.restarted(t)
			found := sensor(11, c.held)
			found.Found = true
			l.step(time.Second, found)
			assert.Equal(t, c.want, l.area().State)
		})
	}
}

// What an area is in survives a restart, and the image that changes it; one that is taken away ends its alarm.
func TestAlarmAreasGoOn(t *testing.T) {
	l := watched(t, nil)
	l.step(0, Input{Kind: Arm, Rule: 90, On: true, Note: "Ines"})
	l.step(time.Minute, Input{})
	l.step(0, sensor(9, true))
	kept, err := l.p.Save()
	require.NoError(t, err)
	again := watched(t, nil)
	require.NoError(t, again.p.Restore(kept))
	r := again.p.Start(l.now.Add(time.Second))
	assert.Contains(t, r.Outputs, Output{Point: point.At(point.Output, 5), On: true}, "the siren sounds on")
	assert.Equal(t, alarmarea.Alarm, again.area().State)

	with := ruled(t, func(*site.Config) {})
	r = l.p.Load(l.now.Add(time.Second), with, "x")
	assert.Empty(t, l.p.AlarmAreas())
	assert.Contains(t, r.Outputs, Output{Point: point.At(point.Output, 5), On: false})
	assert.True(t, slices.ContainsFunc(r.Events, func(e pass.Fact) bool { return e.Kind == pass.Disarmed }))
}

// An area's alarm sets reactions off until it ends, and a reaction arms and disarms.
func TestReactionsOfAlarmAreas(t *testing.T) {
	l := watched(t, func(_ *site.AlarmArea, c *site.Config) {
		c.Reactions = []site.Reaction{
			{ID: 80, When: site.WhenIntrusion, AlarmIDs: []site.ID{90}, ScheduleID: 30, Do: site.DoOn, OutputIDs: []site.ID{75}, Until: true},
			{ID: 81, When: site.WhenRefused, Reason: "card-unknown", ScheduleID: 30, Do: site.DoArm, ArmIDs: []site.ID{90}},
			{ID: 82, When: site.WhenMainsLost, ScheduleID: 30, Do: site.DoDisarm, ArmIDs: []site.ID{90}},
		}
	})
	assert.Equal(t, "3 0 card-unknown, 3 reacted, 0 arming", l.say(time.Second, reads(3, bits(t, 99))))
	l.step(time.Minute, Input{})
	assert.Equal(t, "o5 true o7 true ", outs(l.step(0, sensor(9, true))))
	assert.Equal(t, "o5 false o6 false o7 false ", outs(l.step(time.Second, Input{Kind: Told, Tells: pass.MainsLost})))
}

// Whatever comes: while an area is armed nobody without the authority is granted at its doors, it is never armed while
// something stands open that is not left out, and its outputs say what it is in.
func TestAlarmAreasHold(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := watched(t, func(a *site.AlarmArea, _ *site.Config) {
			a.Single = rapid.Bool().Draw(t, "single")
			a.EntryDelay, a.ExitDelay = 15*rapid.IntRange(0, 2).Draw(t, "entry"), 15*rapid.IntRange(0, 2).Draw(t, "exit")
		})
		on := map[point.Address]bool{}
		for range rapid.IntRange(1, 60).Draw(t, "steps") {
			l.now = l.now.Add(time.Duration(rapid.IntRange(0, 20).Draw(t, "seconds")) * time.Second)
			var in Input
			switch rapid.IntRange(0, 5).Draw(t, "what") {
			case 0, 1:
				in = l.card(rapid.IntRange(1, 2).Draw(t, "at"), rapid.Uint64Range(101, 103).Draw(t, "who"))
			case 2:
				in = sensor(rapid.IntRange(9, 10).Draw(t, "sensor"), rapid.Bool().Draw(t, "active"))
			case 3:
				in = Input{
					Kind: Arm, Rule: 90, On: rapid.Bool().Draw(t, "arm"),
					Left: rapid.SliceOf(rapid.SampledFrom([]site.ID{1, 2, 72, 73})).Draw(t, "left"),
				}
			default:
				in = drawInput(t)
			}
			closed := l.area().State != alarmarea.Disarmed
			r := l.p.Step(l.now, in)
			for _, o := range r.Outputs {
				if o.Show == "" {
					on[o.Point] = o.On
				}
			}
			for _, e := range r.Events {
				if e.Kind.OfAlarmArea() {
					closed = e.Kind != pass.Disarmed && e.Kind != pass.ArmingFailed &&
						(closed || e.Kind == pass.ArmingBegan || e.Kind == pass.Armed)
				}
				if closed && e.Kind == pass.WasGranted && !e.Out && e.Door != 3 && e.Reason != pass.GrantedFree {
					require.EqualValues(t, 101, e.Person)
				}
				require.False(t, e.Kind == pass.WasRefused && e.Reason == pass.WhileArmed && !closed)
			}
			now := l.area()
			require.Equal(t, now.State != alarmarea.Disarmed, closed)
			require.Equal(t, now.State == alarmarea.Alarm, on[point.At(point.Output, 5)])
			require.Equal(t, now.State >= alarmarea.Armed, on[point.At(point.Output, 6)])
			require.Equal(t, now.State == alarmarea.Leaving || now.State == alarmarea.Entering, on[point.At(point.Output, 7)])
			if now.State == alarmarea.Leaving || now.State == alarmarea.Entering || now.State == alarmarea.Alarm {
				require.Greater(t, now.Until, l.now)
			}
		}
	})
}
