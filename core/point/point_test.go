package point

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestAddress(t *testing.T) {
	for text, want := range map[string]Address{
		"": {}, "r1": At(Reader, 1), "i3": At(Input, 3), "2/o7": {2, Output, 7}, "o4000": At(Output, 4000),
	} {
		got, err := Parse(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got)
		assert.Equal(t, text, got.String())
	}
	for _, text := range []string{"r0", "x1", "1", "r", "0/r1", "256/r1", "i-1", "i01", "i65536", "2/", "i 1", "/i1"} {
		_, err := Parse(text)
		assert.ErrorContains(t, err, "is no terminal", text)
	}
}

func FuzzParse(f *testing.F) {
	f.Add("2/o7")
	f.Fuzz(func(t *testing.T, text string) {
		if a, err := Parse(text); err == nil {
			assert.Equal(t, text, a.String())
		}
	})
}

// Two end-of-line resistors: one across the switch, one in series (common practice).
func TestLevels(t *testing.T) {
	for _, c := range []struct {
		wire                   Wire
		open, closed, one, two Level
	}{
		{Wire{}, Normal, Active, Active, Active},
		{Wire{NormallyClosed: true}, Active, Normal, Normal, Normal},
		{Wire{Supervised: true}, Cut, Shorted, Active, Normal},
		{Wire{NormallyClosed: true, Supervised: true}, Cut, Shorted, Normal, Active},
	} {
		t.Run(fmt.Sprintf("%+v", c.wire), func(t *testing.T) {
			assert.Equal(t, []Level{c.open, c.closed, c.one, c.two},
				[]Level{c.wire.Level(Open), c.wire.Level(Closed), c.wire.Level(One), c.wire.Level(Two)})
			assert.Equal(t, Active, c.wire.Level(c.wire.Circuit(true)))
			assert.Equal(t, Normal, c.wire.Level(c.wire.Circuit(false)))
		})
	}
}

func TestLevelText(t *testing.T) {
	for l := range endOfLevels {
		text, err := l.MarshalText()
		require.NoError(t, err)
		var again Level
		require.NoError(t, again.UnmarshalText(text))
		assert.Equal(t, l, again)
	}
}

// The highest claimant has the output, in whatever order they speak.
func TestClaims(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var c Claims
		said := map[Rank]bool{}
		for range rapid.IntRange(0, 8).Draw(t, "n") {
			r := Rank(rapid.IntRange(0, int(ranks)-1).Draw(t, "rank"))
			said[r] = rapid.Bool().Draw(t, "on")
			c.Say(r, said[r])
		}
		want := false
		for r := Reaction; r < ranks; r++ {
			if on, ok := said[r]; ok {
				want = on
			}
		}
		require.Equal(t, want, c.On())
	})
}
