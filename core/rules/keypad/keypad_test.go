package keypad

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/internal/partsuite"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

func five() *Lock { return &Lock{Keys: true, Tries: 5, Length: 5 * time.Minute} }

func TestLockAsAPart(t *testing.T) {
	partsuite.Suite{
		New: func() pass.Part { return five() },
		Draw: func(t *rapid.T) pass.Fact {
			f := pass.Fact{Kind: pass.WasRefused, Reason: pass.WrongPIN, Out: rapid.IntRange(0, 9).Draw(t, "side") == 0}
			if rapid.IntRange(0, 9).Draw(t, "what") == 0 {
				f.Kind, f.Reason = pass.WasGranted, pass.Granted
			}
			return f
		},
	}.Run(t)
}

func TestEntryAsAPart(t *testing.T) {
	var a, b cards.Bits
	a.N, b.N = 1, 2
	partsuite.Suite{
		New: func() pass.Part {
			return &Entry{
				Fitted: true, Keys: true, Time: 10 * time.Second, Digits: 4, Hash: func(string) (h cards.PINHash) { return h },
			}
		},
		Draw: func(t *rapid.T) pass.Fact {
			switch rapid.IntRange(0, 2).Draw(t, "what") {
			case 0:
				return pass.Fact{Kind: pass.CardRead, Raw: rapid.SampledFrom([]cards.Bits{a, b}).Draw(t, "card")}
			case 1:
				return pass.Fact{Kind: pass.AwaitsPIN, Attempt: &pass.Pass{Request: pass.Request{HasCard: true, Bits: a}}}
			}
			return pass.Fact{Kind: pass.KeyPressed, Key: rapid.SampledFrom([]byte("19*#")).Draw(t, "key")}
		},
		Forgets: true,
	}.Run(t)
}

func TestHoldersAsAPart(t *testing.T) {
	s := site.DefaultSettings()
	s.PINLocks, s.PINTries = site.LocksCard, 2
	partsuite.Suite{
		New: func() pass.Part { return &HolderPart{Holders: NewHolders(&s), Door: 4, First: true} },
		Draw: func(t *rapid.T) pass.Fact {
			f := pass.Fact{
				Kind: pass.WasRefused, Reason: pass.WrongPIN, Person: site.ID(rapid.IntRange(1, 2).Draw(t, "who")),
				Attempt: &pass.Pass{Request: pass.Request{HasCard: true}},
			}
			switch rapid.IntRange(0, 9).Draw(t, "what") {
			case 0:
				f.Kind, f.Reason = pass.WasGranted, pass.Granted
			case 1:
				f = pass.Fact{Kind: pass.LiftAsked}
			}
			return f
		},
	}.Run(t)
}

// Wrong PINs in a row lock the keypad, and it alone; whoever uses no PIN does not notice.
func TestGate(t *testing.T) {
	wrong := pass.Fact{Kind: pass.WasRefused, Reason: pass.WrongPIN}
	played := func(facts ...pass.Fact) *Lock {
		l := five()
		for i, f := range facts {
			f.At = hours.Instant(1000 * (i + 1))
			l.Follow(&f, new(pass.Effects))
		}
		return l
	}
	locked := played(wrong, wrong, wrong, wrong, wrong)
	typed := pass.Pass{
		Request: pass.Request{At: 6000, Mode: hours.PIN, HasPIN: true}, Decision: pass.Decision{Keypad: true},
	}
	card := pass.Pass{
		Request: pass.Request{At: 6000, Mode: hours.Card, HasCard: true}, Decision: pass.Decision{Keypad: true},
	}
	asked, later := card, typed
	asked.Mode = hours.CardAndPIN
	later.At = 5000 + 5*60_000
	for name, c := range map[string]struct {
		lock  *Lock
		alone bool
		pass  pass.Pass
		want  pass.Reason
	}{
		"a PIN at a locked keypad":           {locked, true, typed, pass.KeypadLocked},
		"a card where a PIN would follow":    {locked, false, asked, pass.KeypadLocked},
		"a card alone":                       {locked, false, card, pass.NoReason},
		"the gate of PINs alone and a card":  {locked, true, asked, pass.NoReason},
		"five minutes later":                 {locked, true, later, pass.NoReason},
		"four wrong ones":                    {played(wrong, wrong, wrong, wrong), true, typed, pass.NoReason},
		"a grant between them":               {played(wrong, wrong, pass.Fact{Kind: pass.WasGranted}, wrong, wrong, wrong), true, typed, pass.NoReason},
		"wrong ones at the reader out":       {played(wrong, wrong, wrong, wrong, pass.Fact{Kind: pass.WasRefused, Reason: pass.WrongPIN, Out: true}), true, typed, pass.NoReason},
		"refused for something else between": {played(wrong, wrong, wrong, wrong, pass.Fact{Kind: pass.WasRefused, Reason: pass.NoLevel}, wrong), true, typed, pass.KeypadLocked},
	} {
		t.Run(name, func(t *testing.T) {
			p := c.pass
			assert.Equal(t, c.want, Gate{Lock: c.lock, Alone: c.alone}.Check(&p).Reason)
		})
	}
}

func TestLockTellsAndForgetsWithItsKeypad(t *testing.T) {
	l, do := five(), new(pass.Effects)
	for i := range 5 {
		l.Follow(&pass.Fact{At: hours.Instant(i + 1), Kind: pass.WasRefused, Reason: pass.WrongPIN}, do)
	}
	require.Len(t, do.List, 2)
	assert.Equal(t, pass.Fact{At: 5, Kind: pass.KeypadWasLocked, Next: 300_005}, do.List[0].Fact)
	assert.Equal(t, pass.ShowLocked, do.List[1].Show)
	next := five()
	next.Take(9, l, do)
	assert.Equal(t, l.memory, next.memory)
	next = &Lock{Tries: 5}
	next.Take(9, l, do)
	assert.Zero(t, next.memory, "there is no keypad any more")
}

func TestHelp(t *testing.T) {
	h := &Help{Calls: func(p *pass.Pass) site.ID { return p.Person }}
	for name, c := range map[string]struct {
		fact pass.Fact
		want int
	}{
		"granted":         {pass.Fact{Kind: pass.WasGranted, Attempt: &pass.Pass{Decision: pass.Decision{Person: 7}}}, 1},
		"refused":         {pass.Fact{Kind: pass.WasRefused, Attempt: &pass.Pass{Decision: pass.Decision{Person: 7}}}, 1},
		"nobody calls":    {pass.Fact{Kind: pass.WasGranted, Attempt: &pass.Pass{}}, 0},
		"not a decision":  {pass.Fact{Kind: pass.Opened}, 0},
		"waiting for PIN": {pass.Fact{Kind: pass.AwaitsPIN, Attempt: &pass.Pass{Decision: pass.Decision{Person: 7}}}, 0},
	} {
		t.Run(name, func(t *testing.T) {
			do := new(pass.Effects)
			h.Follow(&c.fact, do)
			assert.Len(t, do.List, c.want)
		})
	}
}
