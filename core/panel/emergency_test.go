package panel

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// guarded makes a lockdown of doors 1 and 2 ready, 80, and a fire release of all, 81. 105 overrides lockdown and locks
// down; an input starts each.
func guarded(change func(c *site.Config)) func(*site.Config) {
	return func(c *site.Config) {
		c.Levels[1].Authorities = site.Authorities{Overrides: true, LocksDown: true}
		two := []site.Target{{Kind: site.AtDoor, ID: 1}, {Kind: site.AtDoor, ID: 2}}
		c.Emergencies = []site.Emergency{
			{ID: 80, Does: site.Lockdown, Targets: two, Overrides: true, Reads: 3, CardEnds: true},
			{ID: 81, Does: site.FireRelease, Targets: []site.Target{{Kind: site.Everything}}},
		}
		button := site.Input{
			ID: 90, ControllerID: 9, At: point.At(point.Input, 40), Use: site.InputLockdown, Contact: site.NormallyOpen,
			EmergencyID: 80,
		}
		fire := site.Input{
			ID: 91, ControllerID: 9, At: point.At(point.Input, 41), Use: site.InputFire, Contact: site.NormallyOpen,
			EmergencyID: 81,
		}
		c.Inputs = []site.Input{button, fire}
		change(c)
	}
}

func input(at int, active bool) Input {
	in := Input{Kind: Reading, Point: point.At(point.Input, at), Circuit: point.Open}
	if active {
		in.Circuit = point.Closed
	}
	return in
}

func (l *play) modes() (out [3]hours.Mode) {
	for i, d := range l.p.Doors() {
		out[i] = d.Mode
	}
	return out
}

func TestThreeReadsLockDown(t *testing.T) {
	l := playing(t, guarded(func(*site.Config) {}))
	open := [3]hours.Mode{hours.Card, hours.Card, hours.Card}
	down := [3]hours.Mode{hours.Barred, hours.Barred, hours.Card}
	l.say(time.Second, l.card(1, 105))
	l.say(time.Second, l.card(1, 105))
	assert.Equal(t, open, l.modes(), "two reads are two reads")
	assert.Equal(t, "1 105 granted, 1 lockdown, 2 lockdown", l.say(time.Second, l.card(1, 105)))
	assert.Equal(t, down, l.modes())
	assert.Equal(t, "2 101 door-barred", l.say(time.Second, l.card(2, 101)))
	assert.Equal(t, "3 101 granted", l.say(time.Second, l.card(3, 101)), "that door does not belong to it")
	assert.Equal(t, "2 105 granted", l.say(time.Second, l.card(2, 105)), "their level overrides it")
	press := l.say(time.Second, button(1, true))
	assert.Contains(t, press, "1 exit-request", "ways out always work")

	kept, err := l.p.Save()
	require.NoError(t, err)
	l.p = New(ruled(t, guarded(func(*site.Config) {})), l.p.Seq())
	require.NoError(t, l.p.Restore(kept))
	l.p.Start(l.now)
	assert.Equal(t, down, l.modes(), "over a restart")

	l.say(time.Minute, l.card(2, 105))
	l.say(time.Second, l.card(2, 105))
	assert.Equal(t, "2 105 granted, 1 lockdown-ended, 2 lockdown-ended", l.say(time.Second, l.card(2, 105)),
		"as many end it, at either door")
	assert.Equal(t, open, l.modes())
	for range 5 {
		l.say(time.Second, l.card(1, 101))
	}
	assert.Equal(t, open, l.modes(), "others read as often as they like")
	l.say(time.Minute, l.card(1, 105))
	l.say(3*time.Second, l.card(1, 105))
	l.say(3*time.Second, l.card(1, 105))
	assert.Equal(t, open, l.modes(), "too slowly")
}

// Where nobody overrides, whoever locked down is refused as everybody, and their reads end it all the same where that
// is chosen; where it is not, it ends at the screen.
func TestWhoEndsALockdown(t *testing.T) {
	for _, ends := range []bool{true, false} {
		l := playing(t, guarded(func(c *site.Config) { c.Emergencies[0].Overrides, c.Emergencies[0].CardEnds = false, ends }))
		for range 3 {
			l.say(time.Second, l.card(1, 105))
		}
		assert.Equal(t, "1 105 door-barred", l.say(time.Minute, l.card(1, 105)))
		l.say(time.Second, l.card(1, 105))
		l.say(time.Second, l.card(1, 105))
		assert.Equal(t, ends, l.modes()[0] == hours.Card)
		l.say(time.Second, Input{Kind: Lockdown, Rule: 80})
		assert.Equal(t, hours.Card, l.modes()[0])
	}
}

// Several lockdowns hold until each has ended; ended by hand, all have. Fire release is above them, by an input that is
// at rest again or not.
func TestSeveralAtOnce(t *testing.T) {
	l := playing(t, guarded(func(c *site.Config) {
		c.Emergencies = append(c.Emergencies, site.Emergency{
			ID: 82, Does: site.Lockdown, Targets: []site.Target{{Kind: site.AtDoor, ID: 2}},
		})
	}))
	assert.Contains(t, l.say(time.Second, input(40, true)), "1 lockdown, 2 lockdown")
	l.say(time.Second, Input{Kind: Lockdown, On: true, Rule: 82, Doors: []site.ID{2}})
	assert.Equal(t, "2 105 door-barred", l.say(time.Second, l.card(2, 105)), "one of the two lets nobody in")
	l.say(time.Second, Input{Kind: Lockdown, Rule: 80, Doors: []site.ID{1, 2}})
	assert.Equal(t, [3]hours.Mode{hours.Card, hours.Barred, hours.Card}, l.modes())
	l.say(time.Second, input(41, true))
	assert.Equal(t, [3]hours.Mode{hours.Free, hours.Free, hours.Free}, l.modes())
	l.say(time.Second, input(41, false))
	assert.Equal(t, hours.Free, l.modes()[0], "it ends on purpose")
	l.say(time.Second, Input{Kind: Fire, Rule: 81})
	assert.Equal(t, [3]hours.Mode{hours.Card, hours.Barred, hours.Card}, l.modes())
	assert.Equal(t, []site.ID{82}, l.p.Doors()[1].Emergencies)
	l.say(time.Second, Input{Kind: Lockdown, Doors: []site.ID{2}})
	assert.Equal(t, hours.Card, l.modes()[1])
}

func TestAnOperatorConfirms(t *testing.T) {
	confirmed := func(c *site.Config) {
		pairs(c)
		c.Proofs[0].Combinations[0].Confirmed = true
	}
	l := playing(t, confirmed)
	l.say(time.Second, l.card(1, 101))
	assert.Equal(t, "1 awaiting-more", l.say(time.Second, l.card(1, 103)))
	require.NotNil(t, l.p.Doors()[0].Awaiting)
	assert.Equal(t, []site.ID{101, 103}, l.p.Doors()[0].Awaiting.People)
	assert.Equal(t, "1 confirmed, 1 103 granted, 1 101 granted", l.say(time.Second, Input{
		Kind: Confirm, On: true, Note: "Keeper",
	}))
	assert.Nil(t, l.p.Doors()[0].Awaiting)
	l.say(time.Second, contact(1, false))
	l.say(time.Second, contact(1, true))

	l.say(time.Minute, l.card(1, 101))
	assert.Equal(t, "", l.say(time.Second, Input{Kind: Confirm, On: true}), "not all are there yet")
	l.say(time.Second, l.card(1, 103))
	assert.Equal(t, "1 101 operator-refused, 1 103 operator-refused", l.say(time.Second, Input{
		Kind: Confirm, Note: "Keeper",
	}))

	l.say(time.Minute, l.card(1, 101))
	l.say(time.Second, l.card(1, 103))
	assert.Equal(t, "1 101 more-timeout, 1 103 more-timeout", l.say(20*time.Second, Input{}), "nobody answered")
	assert.Equal(t, "", l.say(time.Second, Input{Kind: Confirm, On: true}))
}

// Wrong PINs after a card lock the card where that is chosen: at every door of the controller, and nobody else's.
func TestWrongPINsLockTheCard(t *testing.T) {
	l := playing(t, func(c *site.Config) {
		c.Settings.PINLocks = site.LocksCard
		c.Plans[0].Pattern.Default = hours.CardAndPIN
		c.Plans = append(c.Plans, site.Plan{ID: 21, Pattern: hours.Pattern{Default: hours.Card}})
		c.Doors[1].PlanID = 21
	})
	wrong := func() string {
		l.say(2*time.Second, l.card(1, 101))
		out := ""
		for _, k := range []byte("1111") {
			out = l.say(100*time.Millisecond, Input{Kind: Key, Point: site.PortPoints(1).In, Key: k})
		}
		return out
	}
	for range site.DefaultSettings().PINTries - 1 {
		require.Equal(t, "1 101 wrong-pin", wrong())
	}
	require.Equal(t, "1 101 wrong-pin, 1 keypad-locked", wrong())
	assert.Equal(t, "1 101 keypad-locked", l.say(2*time.Second, l.card(1, 101)))
	assert.Equal(t, "2 101 keypad-locked", l.say(2*time.Second, l.card(2, 101)), "at the other door too")
	assert.Equal(t, "2 103 granted", l.say(2*time.Second, l.card(2, 103)))
	assert.Len(t, l.p.Doors()[0].LockedCards, 1)
	assert.Zero(t, l.p.Doors()[0].Keypad, "the keypad is open")

	kept, err := l.p.Save()
	require.NoError(t, err)
	require.Contains(t, string(kept), "lockedUntil")
	assert.Equal(t, "1 keypad-lifted", l.say(time.Second, Input{Kind: Lift, Doors: []site.ID{1}, Note: "Keeper"}))
	assert.Equal(t, "2 101 granted", l.say(2*time.Second, l.card(2, 101)))
}
