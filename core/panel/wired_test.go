package panel

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

func reading(at point.Address, c point.Circuit) Input {
	return Input{Kind: Reading, Point: at, Circuit: c}
}

// An input for a fire release frees its doors, and goes on when it is at rest again: it ends on purpose.
func TestFireInput(t *testing.T) {
	at := point.At(point.Input, 9)
	l := begin(t, place(t, func(c *site.Config) {
		c.Inputs = []site.Input{
			{ID: 70, ControllerID: c.Doors[0].ControllerID, At: at, Use: site.InputFire, Contact: site.NormallyClosed,
				Supervised: true},
		}
	}), evening)
	l.after(time.Second, reading(at, point.One)).want()
	l.after(time.Second, reading(at, point.Open)).want("wire-cut") // no fire
	l.after(time.Second, reading(at, point.Two)).want("wire-sound", "input-active", "fire", "mode")
	assert.Equal(t, site.ID(70), l.all[len(l.all)-3].Input)
	assert.True(t, l.p.Doors()[0].Released)
	l.after(time.Second, reading(at, point.One)).want("input-rest")
	assert.True(t, l.p.Doors()[0].Released, "it ends on purpose")
	l.after(time.Second, Input{Kind: Fire}).want("fire-ended", "mode")
	assert.False(t, l.p.Doors()[0].Released)
}

// A lockdown input bars only the doors that it names.
func TestLockdownInput(t *testing.T) {
	at := point.At(point.Input, 10)
	for _, c := range []struct {
		doors []site.ID
		want  []string
	}{
		{nil, []string{"input-active", "lockdown", "mode"}},
		{[]site.ID{1}, []string{"input-active", "lockdown", "mode"}},
		{[]site.ID{999}, []string{"input-active"}},
	} {
		l := begin(t, place(t, func(x *site.Config) {
			x.Inputs = []site.Input{
				{ID: 71, ControllerID: x.Doors[0].ControllerID, At: at, Use: site.InputLockdown, Contact: site.NormallyOpen,
					DoorIDs: c.doors},
			}
		}), evening)
		l.after(time.Second, reading(at, point.Closed)).want(c.want...)
	}
}

// outputs remembers what each output was last told.
func outputs(l *log, on map[point.Address]bool, d time.Duration, in Input) {
	l.now = l.now.Add(d)
	for _, o := range l.take(l.p.Step(l.now, in)).Outputs {
		if o.Show == "" {
			on[o.Point] = o.On
		}
	}
}

// Outputs that tell of doors follow them; one that is tried is on for its time, whatever else is wanted of it.
func TestNamedOutputs(t *testing.T) {
	lamp, siren := point.At(point.Output, 5), point.Address{Board: 1, Kind: point.Output, Number: 16}
	l := begin(t, place(t, func(c *site.Config) {
		c.Outputs = []site.Output{
			{ID: 80, ControllerID: c.Doors[0].ControllerID, At: lamp, Use: site.Lamp, When: site.WhenReleased},
			{ID: 81, ControllerID: c.Doors[0].ControllerID, At: siren, Use: site.Siren, When: site.WhenAlarm, DoorIDs: []site.ID{1}},
		}
	}), evening)
	on := map[point.Address]bool{}
	outputs(l, on, time.Second, Input{Kind: Hold, On: true, Mode: hours.Free})
	assert.True(t, on[lamp], "held free: the lamp is on")
	outputs(l, on, time.Second, Input{Kind: Hold})
	assert.False(t, on[lamp])
	outputs(l, on, time.Second, contact(1, false))
	outputs(l, on, 5*time.Second, Input{})
	assert.True(t, on[siren], "forced")
	outputs(l, on, time.Second, contact(1, true))
	assert.False(t, on[siren])

	outputs(l, on, time.Second, Input{Kind: Pulse, Point: siren, By: 3 * time.Second})
	assert.True(t, on[siren])
	outputs(l, on, 2*time.Second, Input{})
	assert.True(t, on[siren])
	outputs(l, on, 2*time.Second, Input{})
	assert.False(t, on[siren])
	outputs(l, on, time.Second, Input{Kind: Pulse, Point: site.PortPoints(1).Lock, By: time.Second})
	assert.True(t, l.p.Doors()[0].Released, "a lock that is tried is released")
	outputs(l, on, 2*time.Second, Input{})
	assert.False(t, l.p.Doors()[0].Released)
}

// A door that is out of use refuses every card, says nothing and drives nothing.
func TestOutOfUse(t *testing.T) {
	l := begin(t, place(t, func(c *site.Config) { c.Doors[0].OutOfUse = true }), evening)
	on := map[point.Address]bool{}
	outputs(l, on, time.Second, contact(1, false))
	l.want()
	l.card(time.Second, 1).want("refused reader-off")
	outputs(l, on, time.Second, Input{Kind: Hold, On: true, Mode: hours.Free})
	assert.Empty(t, on)
}

// What the controller's own hardware says stands in its log, that of a reader at its door.
func TestOwnHardware(t *testing.T) {
	l := begin(t, place(t), evening)
	l.after(time.Second, Input{Kind: Told, Tells: pass.MainsLost}).want("mains-lost")
	l.after(time.Second, Input{Kind: Told, Tells: pass.ReaderLost, Point: site.PortPoints(1).In}).want("reader-lost")
	assert.Equal(t, site.ID(1), l.last().Door)
	assert.Equal(t, "r1", l.last().Point)
}

// A reader that takes fewer formats refuses the others, as what they are to it.
func TestReaderWithItsOwnFormats(t *testing.T) {
	l := begin(t, place(t, func(c *site.Config) {
		c.Settings.Cards = []site.CardFormat{{Format: "26-bit"}, {Format: "37-bit"}}
		c.Doors[0].In.Formats = []string{"37-bit"}
	}), evening)
	l.card(time.Second, 1).want("refused format-unknown")
}
