package alarmarea

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/asks"
	"amberkeystone/core/hours"
	"amberkeystone/core/internal/partsuite"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// two is two areas: 90 with door 1 and input 72, and 91 with door 2, whose input 73 lies on the way.
func two() *Watch {
	open := func() bool { return false }
	rule := func(id site.ID) *site.AlarmArea {
		a := site.UsualAlarmArea(id - 89)
		a.ID, a.Inputs = id, []site.Watched{{InputID: id - 18, OnWay: id == 91}}
		return &a
	}
	may := func(*pass.Pass) bool { return true }
	return New([]*Area{
		{Rule: rule(90), Doors: []Door{{ID: 1, Place: 0, Open: open}}}, {Rule: rule(91), Doors: []Door{{ID: 2, Place: 1, Open: open}}},
	}, Wiring{Arms: may, Disarms: may, Points: map[string]site.ID{"i9": 72}})
}

func TestPart(t *testing.T) {
	partsuite.Suite{
		New: func() pass.Part { return two() },
		Draw: func(t *rapid.T) pass.Fact {
			f := pass.Fact{
				Kind: rapid.SampledFrom([]pass.Kind{
					pass.AlarmAsked, pass.AlarmAsked, pass.Opened, pass.Forced, pass.InputActive, pass.InputRest, pass.WireCut,
					pass.TamperOpened,
					pass.WasGranted,
				}).Draw(t, "kind"),
				Active: rapid.IntRange(0, 3).Draw(t, "arm") > 0, Rule: site.ID(rapid.IntRange(89, 91).Draw(t, "area")), Point: "i9",
			}
			switch f.Kind {
			case pass.Opened, pass.Forced:
				f.Door = site.ID(rapid.IntRange(1, 3).Draw(t, "door"))
			case pass.WasGranted:
				f.Door, f.Person, f.Attempt = 1, site.ID(rapid.IntRange(1, 2).Draw(t, "who")), &pass.Pass{
					Request: pass.Request{HasCard: true},
				}
			case pass.InputActive, pass.InputRest:
				f.Input = site.ID(rapid.IntRange(72, 74).Draw(t, "input"))
			}
			return f
		},
	}.Run(t)
}

// Every state has a code of its own, which is read back.
func TestStates(t *testing.T) {
	seen := map[string]bool{}
	for s := range endOfStates {
		text, err := s.MarshalText()
		require.NoError(t, err)
		assert.False(t, seen[s.String()] || len(text) == 0)
		seen[s.String()] = true
		var again State
		require.NoError(t, again.UnmarshalText(text))
		assert.Equal(t, s, again)
	}
}

// What cannot have been remembered is refused.
func TestRestore(t *testing.T) {
	for _, s := range []string{`{"90":{"state":"asleep"}}`, `[]`, `{"90":{"until":"soon"}}`} {
		assert.Error(t, two().Restore([]byte(s)), s)
	}
	require.NoError(t, two().Restore([]byte(`{"90":{"state":"armed"},"5":{"state":"armed"}}`)))
}

type always hours.Mode

func (a always) Says(hours.Instant) (out asks.Answer, ok bool, until hours.Instant) {
	out.Mode = hours.Mode(a)
	return out, true, hours.Never
}

// An armed area takes a door out of free, and leaves everything else as it is.
func TestLayer(t *testing.T) {
	for _, mode := range hours.Modes {
		a := &Area{Rule: &site.AlarmArea{}}
		l := Layer{Area: a, Below: asks.Layers{always(mode)}}
		_, ok, _ := l.Says(1)
		assert.False(t, ok, "disarmed it says nothing")
		for a.State = Leaving; a.State < endOfStates; a.State++ {
			x, ok, _ := l.Says(1)
			assert.Equal(t, mode == hours.Free, ok, "%s in %s", mode, a.State)
			assert.True(t, !ok || x.Mode == hours.Card && x.Layer == hours.AlarmArmed)
		}
	}
	_, ok, until := Layer{}.Says(1)
	assert.False(t, ok)
	assert.Equal(t, hours.Never, until)
}

// A read within five seconds of the first counts, one later begins anew (common practice).
func TestReadsInARow(t *testing.T) {
	read := func(at time.Duration, who, door site.ID) *pass.Fact {
		return &pass.Fact{
			Kind: pass.WasGranted, At: hours.Instant(1).Add(at), Person: who, Door: door,
			Attempt: &pass.Pass{Request: pass.Request{HasCard: true}},
		}
	}
	for name, c := range map[string]struct {
		second *pass.Fact
		arms   bool
	}{
		"in time":              {read(5*time.Second, 7, 1), true},
		"too late":             {read(5001*time.Millisecond, 7, 1), false},
		"somebody else":        {read(time.Second, 8, 1), false},
		"at another area":      {read(time.Second, 7, 2), false},
		"at a door of no area": {read(time.Second, 7, 3), false},
	} {
		t.Run(name, func(t *testing.T) {
			w, do := two(), new(pass.Effects)
			w.Follow(read(0, 7, 1), do)
			w.Follow(c.second, do)
			assert.Equal(t, c.arms, w.Areas[0].State == Leaving)
			assert.Equal(t, Disarmed, w.Areas[1].State)
		})
	}
}
