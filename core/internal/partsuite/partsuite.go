// Package partsuite holds every part to the rules that pass.Part writes down.
package partsuite

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
)

// Suite is a part to be held to them.
type Suite struct {
	New  func() pass.Part
	Draw func(t *rapid.T) pass.Fact // something that it may follow, without an instant
	// Walls says that its times are those of the wall clock: they stay when the clock is set.
	Walls bool
	// Forgets says that it remembers nothing over a restart.
	Forgets bool
}

const start = hours.Instant(1_000_000_000)

type event struct {
	after time.Duration
	fact  pass.Fact
}

// Run checks the rules with facts drawn at random.
func (s Suite) Run(t *testing.T) {
	t.Run("a wake lies ahead once it has been followed", func(t *testing.T) {
		rapid.Check(t, func(t *rapid.T) { s.play(t, s.New(), s.draw(t), -1, 0) })
	})
	t.Run("save and restore change nothing", func(t *testing.T) {
		rapid.Check(t, func(t *rapid.T) {
			p := s.New()
			s.play(t, p, s.draw(t), -1, 0)
			kept := save(t, p)
			if s.Forgets {
				require.Nil(t, kept)
				return
			}
			again := s.New()
			if kept != nil {
				require.NoError(t, again.Restore(kept))
			}
			require.Equal(t, string(kept), string(save(t, again)))
			require.Equal(t, p.Wake(), again.Wake())
		})
	})
	if s.Walls {
		return
	}
	t.Run("setting the clock commutes with waiting", func(t *testing.T) {
		rapid.Check(t, func(t *rapid.T) {
			list := s.draw(t)
			by := time.Duration(rapid.Int64Range(1, 1e8).Draw(t, "by")) * time.Millisecond
			when := rapid.IntRange(0, len(list)).Draw(t, "when")
			require.Equal(t, s.play(t, s.New(), list, -1, 0), s.play(t, s.New(), list, when, by))
		})
	})
}

func (s Suite) draw(t *rapid.T) []event {
	return rapid.SliceOfN(rapid.Custom(func(t *rapid.T) event {
		return event{time.Duration(rapid.IntRange(0, 30_000).Draw(t, "ms")) * time.Millisecond, s.Draw(t)}
	}), 0, 20).Draw(t, "facts")
}

// play lets a part follow facts, waking it in between, and returns what it told, in instants since the start by a clock
// that is never set; before fact number set the clock is moved.
func (s Suite) play(t *rapid.T, p pass.Part, list []event, set int, by time.Duration) []pass.Fact {
	now, moved := start, time.Duration(0)
	var told []pass.Fact
	take := func(do *pass.Effects) {
		for _, e := range do.List {
			f := e.Fact
			f.At, f.Next = f.At.Shift(-moved), f.Next.Shift(-moved)
			f.Seq = 0
			told = append(told, f)
		}
		do.List = nil
	}
	var do pass.Effects
	wakes := func(to hours.Instant) {
		for w := p.Wake(); w <= to; w = p.Wake() {
			p.Follow(&pass.Fact{At: w, Kind: pass.Due}, &do)
			take(&do)
			require.Greater(t, p.Wake(), w, "it wakes at one instant for ever")
		}
	}
	for i, e := range list {
		if i == set {
			moved, now = by, now.Add(by)
			p.Shift(by)
		}
		now = now.Add(e.after)
		wakes(now)
		f := e.fact
		f.At, f.Seq = now, uint64(i+1)
		if f.Attempt != nil {
			x := *f.Attempt
			x.At = now
			f.Attempt = &x
		}
		p.Follow(&f, &do)
		take(&do)
	}
	if set == len(list) {
		moved, now = by, now.Add(by)
		p.Shift(by)
	}
	wakes(now.Add(time.Hour))
	return told
}

func save(t *rapid.T, p pass.Part) []byte {
	b, err := p.Save()
	require.NoError(t, err)
	require.True(t, b == nil || json.Valid(b))
	return b
}
