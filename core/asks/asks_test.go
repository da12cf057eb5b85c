package asks

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
)

// steps is a layer that says something else at each of its instants; no mode there is no answer.
type steps []step

type step struct {
	from hours.Instant
	mode hours.Mode
	ok   bool
}

func (s steps) Says(at hours.Instant) (a Answer, ok bool, until hours.Instant) {
	until = hours.Never
	for _, x := range s {
		if x.from > at {
			return a, ok, x.from
		}
		a.Mode, ok = x.mode, x.ok
	}
	return a, ok, until
}

func drawLayers(t *rapid.T) Layers {
	var l Layers
	for range rapid.IntRange(1, 4).Draw(t, "layers") {
		var s steps
		at := hours.Instant(0)
		for range rapid.IntRange(0, 5).Draw(t, "steps") {
			at += hours.Instant(rapid.IntRange(1, 20).Draw(t, "gap"))
			s = append(s, step{at, rapid.SampledFrom(hours.Modes).Draw(t, "mode"), rapid.Bool().Draw(t, "ok")})
		}
		l = append(l, s)
	}
	return append(l, steps{{-1000, hours.Card, true}})
}

// The highest layer with an answer decides, and the next change is the first instant at which it is another.
func TestFirstAnswerDecides(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := drawLayers(t)
		want := func(at hours.Instant) hours.Mode {
			for _, s := range l {
				if a, ok, _ := s.Says(at); ok {
					return a.Mode
				}
			}
			return hours.Card
		}
		for at := hours.Instant(0); at < 100; at++ {
			a, until := l.At(at)
			require.Equal(t, want(at), a.Mode)
			require.Greater(t, until, at)
			next := l.Next(at)
			for k := at + 1; k < 110; k++ {
				if want(k) != want(at) {
					require.Equal(t, k, next)
					break
				}
				require.NotEqual(t, k, next)
			}
		}
	})
}

// The part says each change once, at its instant, and nothing else.
func TestPartSaysChanges(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p, do := &Part{Layers: drawLayers(t)}, new(pass.Effects)
		p.Follow(&pass.Fact{At: 0, Kind: pass.Started}, do)
		for w := p.Wake(); w != hours.Never; w = p.Wake() {
			p.Follow(&pass.Fact{At: w, Kind: pass.Due}, do)
		}
		said := map[hours.Instant]hours.Mode{}
		for i, e := range do.List {
			require.Equal(t, pass.ModeNow, e.Fact.Kind)
			require.True(t, i == 0 || e.Fact.Mode != do.List[i-1].Fact.Mode)
			said[e.Fact.At] = e.Fact.Mode
		}
		mode := said[0]
		for at := hours.Instant(0); at < 100; at++ {
			if m, ok := said[at]; ok {
				mode = m
			}
			a, _ := p.At(at)
			require.Equal(t, a.Mode, mode)
		}
	})
}
