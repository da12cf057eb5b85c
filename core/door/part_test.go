package door

import (
	"testing"

	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/internal/partsuite"
	"amberkeystone/core/pass"
)

func TestPart(t *testing.T) {
	partsuite.Suite{
		New: func() pass.Part { return newDoor(nil) },
		Draw: func(t *rapid.T) pass.Fact {
			on := rapid.Bool().Draw(t, "on")
			switch rapid.IntRange(0, 3).Draw(t, "what") {
			case 0:
				return pass.Fact{Kind: pass.WasGranted, Attempt: &pass.Pass{}}
			case 1:
				return pass.Fact{Kind: pass.ContactIs, Active: on}
			case 2:
				return pass.Fact{Kind: pass.ExitIs, Active: on}
			}
			return pass.Fact{Kind: pass.ModeNow, Mode: rapid.SampledFrom(hours.Modes).Draw(t, "mode")}
		},
		Forgets: true,
	}.Run(t)
}

// While an exit request stays in use, as of a motion detector, it excuses every opening (design 3.6).
func TestExitThatStays(t *testing.T) {
	for name, c := range map[string]struct {
		release float64 // when it is out of use again; 0: never
		want    pass.Kind
	}{
		"in use all the time": {0, pass.Opened},
		"out of use again":    {20, pass.OpenedAlone},
	} {
		t.Run(name, func(t *testing.T) {
			d := newDoor(nil)
			d.Exit(at(0), true)
			d.Exit(at(1), true) // it is measured again: still the same use
			if c.release != 0 {
				d.Exit(at(c.release), false)
			}
			for now := 6.0; now < 40; now += 30 {
				d.Tick(at(now))
			}
			d.Contact(at(40), true)
			asked := 0
			for _, f := range d.Log {
				if f.Kind == pass.ExitRequest {
					asked++
				}
			}
			if asked != 1 {
				t.Errorf("asked %d times", asked)
			}
			if got := d.Log[len(d.Log)-1].Kind; got != c.want {
				t.Errorf("%s, want %s", got, c.want)
			}
		})
	}
}
