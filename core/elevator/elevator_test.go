package elevator

import (
	"testing"

	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/internal/partsuite"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func cabin(buttons bool) *Car {
	x := site.UsualCar([]site.ID{200, 201, 202}, []int{1})
	if buttons {
		x.Buttons = []int{2}
	}
	return &Car{Config: &site.Door{ID: 1, Hardware: site.UsualElevator(), Car: &x}}
}

func drawn(t *rapid.T) pass.Fact {
	f := pass.Fact{
		Kind: rapid.SampledFrom([]pass.Kind{pass.WasGranted, pass.ModeNow, pass.ReleaseAsked, pass.ButtonIs}).Draw(t,
			"kind"),
		Active: true, Stop: rapid.IntRange(0, 3).Draw(t, "stop"), Seq: 7, Person: 103, Attempt: new(pass.Pass),
	}
	if f.Kind == pass.ModeNow {
		f.Mode = rapid.SampledFrom([]hours.Mode{hours.Free, hours.Card, hours.Barred}).Draw(t, "mode")
	}
	f.Attempt.Stops[0] = uint64(rapid.IntRange(0, 7).Draw(t, "stops"))
	f.Attempt.Extended = rapid.Bool().Draw(t, "extended")
	return f
}

func TestPart(t *testing.T) {
	for name, buttons := range map[string]bool{"relays only": false, "buttons wired back": true} {
		t.Run(name, func(t *testing.T) {
			partsuite.Suite{New: func() pass.Part { return cabin(buttons) }, Draw: drawn, Forgets: true}.Run(t)
		})
	}
}

// Every grant in a car with buttons ends once, as a floor or as not taken; no relay is claimed that is not its own.
func TestRidersEndOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c, now, granted, ended := cabin(true), hours.Instant(1_000_000), map[uint64]bool{}, map[uint64]int{}
		see := func(do *pass.Effects) {
			for _, e := range do.List {
				if k := e.Fact.Kind; k == pass.FloorChosen || k == pass.NotTaken {
					ended[e.Fact.Pass]++
				}
			}
		}
		for seq := uint64(1); seq < 12; seq++ {
			f := drawn(t)
			now += hours.Instant(rapid.IntRange(0, 4000).Draw(t, "wait"))
			f.At, f.Seq = now, seq
			if f.Kind == pass.WasGranted {
				granted[seq] = true
			}
			do := new(pass.Effects)
			c.Follow(&f, do)
			see(do)
			c.Claim(func(at point.Address, _ point.Rank, _ bool) {
				require.NotZero(t, c.Config.Car.RelayAt(at))
			})
		}
		do := new(pass.Effects)
		c.Retire(now, do)
		see(do)
		require.Len(t, ended, len(granted))
		for n, times := range ended {
			assert.Equal(t, 1, times)
			assert.True(t, granted[n])
		}
	})
}

// In a fire release a button chooses nothing, since the elevator's own service does; the grant ends as not taken.
func TestNobodyChoosesInAFire(t *testing.T) {
	c, all := cabin(true), new(pass.Pass)
	all.Stops[0] = 7
	granted := pass.Fact{At: 1000, Kind: pass.WasGranted, Seq: 7, Person: 103, Attempt: all}
	said := func(f pass.Fact) (kinds []pass.Kind) {
		do := new(pass.Effects)
		c.Follow(&f, do)
		for _, e := range do.List {
			kinds = append(kinds, e.Fact.Kind)
		}
		return kinds
	}
	assert.Empty(t, said(granted))
	assert.Empty(t, said(pass.Fact{At: 1001, Kind: pass.ModeNow, Mode: hours.Free, Layer: hours.FireRelease}))
	assert.Empty(t, said(pass.Fact{At: 1002, Kind: pass.ButtonIs, Active: true, Stop: 1}))
	assert.Equal(t, []pass.Kind{pass.NotTaken}, said(pass.Fact{At: 61_000, Kind: pass.ModeNow, Mode: hours.Card}))
}
