package keypad

import (
	"cmp"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
)

// samePresentation is how close two reads of one card are one presentation (design 3.7).
const samePresentation = 800 * time.Millisecond

// Entry is one reader with its keypad: what is presented and typed becomes attempts. A card that needs a PIN waits for
// it; what was begun and not finished in time ends.
type Entry struct {
	Door   int  // its place
	Out    bool // the reader out
	Fitted bool // there is a reader
	Keys   bool // with a keypad
	Time   time.Duration
	Digits int // of the longest PIN in force: an entry ends there at the latest
	Hash   func(pin string) cards.PINHash

	pin      [8]byte
	digits   int
	deadline hours.Instant // what was begun ends then; 0: nothing was
	waiting  bool
	more     bool         // the card is good, and a PIN would do as the other proof
	card     pass.Attempt // that waits for its PIN
	last     cards.Bits
	lastRead pass.Shown
	lastAt   hours.Instant
}

// Follow takes cards and keys of its own side.
func (e *Entry) Follow(f *pass.Fact, do *pass.Effects) {
	switch {
	case f.Kind == pass.Due:
		e.end(f.At, "", do)
	case f.Out != e.Out:
	case f.Kind == pass.CardRead:
		e.read(f, do)
	case f.Kind == pass.KeyPressed && e.Keys:
		e.key(f, do)
	case f.Kind == pass.AwaitsPIN:
		e.waiting, e.deadline = true, f.At.Add(e.Time)
		e.keep(f)
	case f.Kind == pass.AwaitsMore && f.Attempt.More.Proof && f.Attempt.HasCard:
		e.more = true
		e.keep(f)
	case e.more && (f.Kind == pass.WasGranted || f.Kind == pass.WasRefused) && f.Pass == e.card.Number:
		e.more = false
	}
}

// keep holds a card, so that a PIN goes with it.
func (e *Entry) keep(f *pass.Fact) {
	p := f.Attempt
	e.card = pass.Attempt{
		Request: pass.Request{At: f.At, Door: e.Door, Out: e.Out, HasCard: true, Bits: p.Bits, Shown: p.Shown},
		Number:  cmp.Or(f.Pass, f.Seq),
	}
}

func (e *Entry) read(f *pass.Fact, do *pass.Effects) {
	again := e.lastAt != 0 && e.last == f.Raw && e.lastRead == f.Read && f.At.Sub(e.lastAt) < samePresentation
	e.last, e.lastRead, e.lastAt = f.Raw, f.Read, f.At
	if again {
		return
	}
	e.end(f.At, "replaced", do)
	do.Try(
		pass.Attempt{
			Request: pass.Request{At: f.At, Door: e.Door, Out: e.Out, HasCard: true, Bits: f.Raw, Shown: f.Read},
		},
	)
}

func (e *Entry) key(f *pass.Fact, do *pass.Effects) {
	switch {
	case f.Key == '*':
		e.digits = 0
		return
	case f.Key >= '0' && f.Key <= '9' && e.digits < len(e.pin):
		e.pin[e.digits] = f.Key
		e.digits++
		e.deadline = f.At.Add(e.Time)
		if e.digits < e.Digits {
			return
		}
	case f.Key != '#' || e.digits == 0:
		return
	}
	a := pass.Attempt{Request: pass.Request{Door: e.Door, Out: e.Out}}
	if e.waiting || e.more {
		a = e.card
	}
	a.At, a.HasPIN, a.PIN = f.At, true, e.Hash(string(e.pin[:e.digits]))
	e.clear()
	do.Try(a)
}

func (e *Entry) clear() { e.digits, e.deadline, e.waiting = 0, 0, false }

// end ends what was begun; a card that waits for its PIN is told of. Note is why, where it was not time.
func (e *Entry) end(now hours.Instant, note string, do *pass.Effects) {
	if e.waiting {
		a := e.card
		a.At, a.Note = now, note
		do.End(a)
		if note == "" {
			do.Show(e.Out, pass.ShowRefused)
		}
	}
	e.clear()
}

// Wake returns when what was begun ends.
func (e *Entry) Wake() hours.Instant { return e.deadline.OrNever() }

// Shift keeps what is left.
func (e *Entry) Shift(by time.Duration) {
	e.deadline, e.lastAt = e.deadline.Shift(by), e.lastAt.Shift(by)
}

// Save remembers nothing: who has lost power begins anew.
func (e *Entry) Save() ([]byte, error) { return nil, nil }

// Restore does nothing.
func (e *Entry) Restore([]byte) error { return nil }

// Take goes on; where there is no keypad any more, nothing waits for a PIN.
func (e *Entry) Take(now hours.Instant, was pass.Part, do *pass.Effects) {
	old := was.(*Entry)
	e.pin, e.digits, e.deadline, e.waiting, e.more = old.pin, old.digits, old.deadline, old.waiting, old.more
	e.card, e.last, e.lastRead, e.lastAt = old.card, old.last, old.lastRead, old.lastAt
	e.card.Door = e.Door
	if !e.Fitted || !e.Keys {
		e.end(now, "", do)
	}
}

// Retire ends what was begun.
func (e *Entry) Retire(now hours.Instant, do *pass.Effects) { e.end(now, "", do) }
