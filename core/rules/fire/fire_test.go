package fire

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/internal/partsuite"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
)

func TestPart(t *testing.T) {
	partsuite.Suite{
		New: func() pass.Part { return New(point.At(point.Output, 3)) },
		Draw: func(t *rapid.T) pass.Fact {
			return pass.Fact{Kind: pass.FireAsked, Active: rapid.Bool().Draw(t, "on")}
		},
	}.Run(t)
}

func TestFreesAndClaimsTheLock(t *testing.T) {
	r := New(point.At(point.Output, 3))
	claims := map[point.Address]*point.Claims{}
	claim := func() {
		r.Claim(func(out point.Address, rank point.Rank, on bool) {
			c := new(point.Claims)
			c.Say(rank, on)
			claims[out] = c
		})
	}
	claim()
	assert.Empty(t, claims)
	r.Follow(&pass.Fact{At: 1, Kind: pass.FireAsked, Active: true}, new(pass.Effects))
	claim()
	c := claims[point.At(point.Output, 3)]
	c.Say(point.Lockdown, false)
	c.Say(point.Door, false)
	assert.True(t, c.On(), "above everything else")
	a, stands, _ := r.Says(2)
	assert.True(t, stands)
	assert.Equal(t, hours.Free, a.Mode)
}
