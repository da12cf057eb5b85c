package holds

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/internal/partsuite"
	"amberkeystone/core/pass"
)

func TestPart(t *testing.T) {
	partsuite.Suite{
		New: func() pass.Part { return new(Hold) },
		Draw: func(t *rapid.T) pass.Fact {
			f := pass.Fact{Kind: pass.HoldAsked, Active: rapid.Bool().Draw(t, "on"), Mode: hours.Barred}
			if rapid.Bool().Draw(t, "ends") {
				f.Next = 1_000_000_000 + hours.Instant(rapid.IntRange(0, 600_000).Draw(t, "until"))
			}
			return f
		},
		Walls: true,
	}.Run(t)
}

func TestHold(t *testing.T) {
	for name, c := range map[string]struct {
		facts []pass.Fact
		ask   hours.Instant
		holds bool
		until hours.Instant
		told  []pass.Kind
	}{
		"until a time":         {[]pass.Fact{{At: 10, Kind: pass.HoldAsked, Active: true, Next: 50}}, 49, true, 50, []pass.Kind{pass.HoldBegan, pass.HoldsNow}},
		"at that time":         {[]pass.Fact{{At: 10, Kind: pass.HoldAsked, Active: true, Next: 50}}, 50, false, hours.Never, []pass.Kind{pass.HoldBegan, pass.HoldsNow}},
		"until released":       {[]pass.Fact{{At: 10, Kind: pass.HoldAsked, Active: true}}, 99, true, hours.Never, []pass.Kind{pass.HoldBegan, pass.HoldsNow}},
		"released":             {[]pass.Fact{{At: 10, Kind: pass.HoldAsked, Active: true}, {At: 20, Kind: pass.HoldAsked}}, 21, false, hours.Never, []pass.Kind{pass.HoldBegan, pass.HoldsNow, pass.HoldEnded, pass.HoldsNow}},
		"over before it began": {[]pass.Fact{{At: 10, Kind: pass.HoldAsked, Active: true, Next: 9}}, 11, false, hours.Never, nil},
		"nothing to release":   {[]pass.Fact{{At: 10, Kind: pass.HoldAsked}}, 11, false, hours.Never, nil},
		"the clock is set past its end": {[]pass.Fact{{At: 10, Kind: pass.HoldAsked, Active: true, Next: 50}, {At: 70, Kind: pass.ClockSet}}, 71, false, hours.Never,
			[]pass.Kind{pass.HoldBegan, pass.HoldsNow, pass.HoldEnded, pass.HoldsNow}},
	} {
		t.Run(name, func(t *testing.T) {
			h, do := new(Hold), new(pass.Effects)
			for _, f := range c.facts {
				h.Follow(&f, do)
			}
			var told []pass.Kind
			for _, e := range do.List {
				told = append(told, e.Fact.Kind)
			}
			assert.Equal(t, c.told, told)
			_, holds, until := h.Says(c.ask)
			assert.Equal(t, c.holds, holds)
			if c.holds {
				assert.Equal(t, c.until, until)
			}
		})
	}
}
