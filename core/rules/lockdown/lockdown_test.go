package lockdown

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/internal/partsuite"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

func TestPart(t *testing.T) {
	partsuite.Suite{
		New: func() pass.Part { return New() },
		Draw: func(t *rapid.T) pass.Fact {
			return pass.Fact{
				Kind: pass.LockdownAsked, Active: rapid.Bool().Draw(t, "on"), Rule: site.ID(rapid.IntRange(0, 2).Draw(t, "rule")),
			}
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

// What was remembered before lockdowns could be made ready is one by hand.
func TestRemembersOldLockdowns(t *testing.T) {
	l := New()
	require.NoError(t, l.Restore([]byte(`{"on":true}`)))
	assert.True(t, l.On())
	assert.Equal(t, []site.ID{0}, l.By())
	l.Follow(&pass.Fact{At: 1, Kind: pass.LockdownAsked, Active: true, Rule: 5}, new(pass.Effects))
	kept, err := l.Save()
	require.NoError(t, err)
	assert.JSONEq(t, `{"on":true,"by":[0,5]}`, string(kept))
	l.Follow(&pass.Fact{At: 2, Kind: pass.LockdownAsked, Rule: 5}, new(pass.Effects))
	assert.True(t, l.On(), "that by hand goes on")
	l.Follow(&pass.Fact{At: 3, Kind: pass.LockdownAsked}, new(pass.Effects))
	assert.False(t, l.On())
}
