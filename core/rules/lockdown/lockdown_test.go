package lockdown

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
		New: func() pass.Part { return New() },
		Draw: func(t *rapid.T) pass.Fact {
			return pass.Fact{Kind: pass.LockdownAsked, Active: rapid.Bool().Draw(t, "on")}
		},
	}.Run(t)
}

func TestBarsUntilEnded(t *testing.T) {
	l, do := New(), new(pass.Effects)
	_, stands, _ := l.Says(1)
	assert.False(t, stands)
	for range 2 { // once is enough
		l.Follow(&pass.Fact{At: 1, Kind: pass.LockdownAsked, Active: true}, do)
	}
	a, stands, until := l.Says(1 << 50)
	assert.True(t, stands)
	assert.Equal(t, hours.Barred, a.Mode)
	assert.Equal(t, hours.Never, until)
	l.Follow(&pass.Fact{At: 2, Kind: pass.LockdownAsked}, do)
	_, stands, _ = l.Says(3)
	assert.False(t, stands)
	assert.Len(t, do.List, 4)
}
