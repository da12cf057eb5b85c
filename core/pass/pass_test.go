package pass

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
)

func TestReasonsAreWhole(t *testing.T) {
	for r := ReaderOff; r < endOfReasons; r++ {
		text, err := r.MarshalText()
		require.NoError(t, err)
		var again Reason
		require.NoError(t, again.UnmarshalText(text))
		assert.Equal(t, r, again)
		assert.NotEqual(t, r.String(), "")
		assert.NotEqual(t, r.Words(), "")
		assert.Equal(t, r >= Granted, r.Granted())
	}
	var r Reason
	assert.ErrorContains(t, r.UnmarshalText([]byte("because")), "reader-off")
}

func TestKindsAreWhole(t *testing.T) {
	for _, k := range Kinds() {
		text, err := k.MarshalText()
		require.NoError(t, err)
		var again Kind
		require.NoError(t, again.UnmarshalText(text), k)
		assert.Equal(t, k, again)
		assert.True(t, k.Logged())
	}
	for k := Due; k <= HoldsNow; k++ {
		assert.False(t, k.Logged())
	}
	var k Kind
	assert.Error(t, k.UnmarshalText([]byte("nonsense")))
}

// A pass ends exactly once: nothing follows an end, and only a granted one goes through or is not taken.
func TestStates(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s, ends, admitted := Asked, 0, false
		for range rapid.IntRange(0, 10).Draw(t, "n") {
			k := rapid.SampledFrom([]Kind{WasGranted, WasRefused, AwaitsPIN, Entered, NotTaken, Opened}).Draw(t, "kind")
			next, ok := s.Next(k)
			require.False(t, ok && s.Ended(), "after its end")
			if !ok {
				require.Equal(t, s, next)
				continue
			}
			admitted = admitted || next == Admitted
			require.True(t, admitted || next != Through && next != Untaken)
			if s = next; s.Ended() {
				ends++
			}
		}
		require.LessOrEqual(t, ends, 1)
	})
}

func TestAsks(t *testing.T) {
	for name, c := range map[string]struct {
		out, keypad bool
		mode, want  hours.Mode
	}{
		"in, as the door":                   {false, false, hours.Barred, hours.Barred},
		"the way out is never barred":       {true, true, hours.Barred, hours.Card},
		"nor asks for a PIN without keys":   {true, false, hours.CardAndPIN, hours.Card},
		"but does with them":                {true, true, hours.CardAndPIN, hours.CardAndPIN},
		"a free door is free both ways":     {true, false, hours.Free, hours.Free},
		"a PIN on the way in without keys ": {false, false, hours.PIN, hours.PIN},
	} {
		t.Run(name, func(t *testing.T) { assert.Equal(t, c.want, Asks(c.out, c.keypad, c.mode)) })
	}
}

// What is quiet only tells what a door did; nothing of it is an alarm, a refusal or a grant.
func TestQuietKinds(t *testing.T) {
	assert.ElementsMatch(t, []string{"opened", "closed", "mode", "entered", "exit-request", "input-rest", "mains-back",
		"battery-good", "tamper-ended", "reader-back", "reader-tamper-ended", "place", "floor-released", "floor-held",
		"intrusion-ended"}, QuietCodes())
	for k := range Kind(200) {
		assert.False(t, k.Quiet() && k.Alarm(), k.String())
	}
}
