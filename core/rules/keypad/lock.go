// Package keypad is a reader's keys: Entry collects what is typed and lets a card wait for its PIN, Lock locks the
// keypad after wrong PINs (design 3.4), Help tells of a PIN under duress.
package keypad

import (
	"cmp"
	"encoding/json"
	"slices"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Lock locks one keypad for some time after so many wrong PINs in a row. It is a part; Gate asks it.
type Lock struct {
	Out    bool // the keypad of the reader out
	Keys   bool // there is a keypad
	Tries  int
	Length time.Duration
	// Cards says that a wrong PIN after a card locks the card, and not the keypad.
	Cards bool
	memory
}

// memory is all that survives a restart.
type memory struct {
	Wrong int           `json:"wrong,omitempty"`       // PINs in a row
	Until hours.Instant `json:"lockedUntil,omitempty"` // locked before then; 0: open
}

// Follow counts the wrong PINs of its own side.
func (l *Lock) Follow(f *pass.Fact, do *pass.Effects) {
	if f.Kind == pass.LiftAsked {
		if f.At < l.Until {
			do.Tell(pass.Fact{At: f.At, Kind: pass.KeypadLifted, Out: l.Out, Note: f.Note})
		}
		l.memory = memory{}
		return
	}
	if f.Out != l.Out {
		return
	}
	switch {
	case f.Kind == pass.WasGranted:
		l.Wrong = 0
	case l.Cards && byCard(f):
	case f.Kind == pass.WasRefused && f.Reason == pass.WrongPIN:
		if l.Wrong++; l.Wrong < l.Tries {
			return
		}
		l.memory = memory{Until: f.At.Add(l.Length)}
		do.Tell(pass.Fact{At: f.At, Kind: pass.KeypadWasLocked, Out: l.Out, Next: l.Until})
		do.Show(l.Out, pass.ShowLocked)
	}
}

// Wake returns Never: nothing happens when a keypad opens again, and the gate looks at the time.
func (l *Lock) Wake() hours.Instant { return hours.Never }

// Shift keeps what is left.
func (l *Lock) Shift(by time.Duration) { l.Until = l.Until.Shift(by) }

// Save writes the count and the lock.
func (l *Lock) Save() ([]byte, error) {
	if l.memory == (memory{}) {
		return nil, nil
	}
	return json.Marshal(l.memory)
}

// Restore takes them back.
func (l *Lock) Restore(b []byte) error { return json.Unmarshal(b, &l.memory) }

// Take goes on, unless the keypad is no more.
func (l *Lock) Take(_ hours.Instant, was pass.Part, _ *pass.Effects) {
	if l.Keys {
		l.memory = was.(*Lock).memory
	}
}

// Retire ends nothing.
func (l *Lock) Retire(hours.Instant, *pass.Effects) {}

// Gate refuses whoever uses a keypad that is locked: a PIN is given, or would be asked for next.
type Gate struct {
	Lock *Lock
	// Alone asks only of a PIN without a card. It stands before anybody is recognised: what is typed at a locked keypad
	// is not looked at.
	Alone bool
}

// Check reads the lock and changes nothing.
func (g Gate) Check(p *pass.Pass) pass.Verdict {
	if p.At >= g.Lock.Until || g.Alone && p.HasCard {
		return pass.Yes
	}
	if _, pin := p.Needs(); !p.Typed() && !(pin && p.Keypad && p.HasCard) {
		return pass.Yes
	}
	p.Trace.Add(pass.CheckKeypad, false, 0, 0)
	return pass.No(pass.KeypadLocked, g.Lock.Until)
}

// Help raises the silent alarm of a PIN typed under duress, whatever the door answers.
type Help struct {
	pass.Still
	Calls func(p *pass.Pass) site.ID // who typed one; 0: nobody
	told  [site.MostTogether]uint64  // the passes that have called last
}

// Follow listens to decisions.
func (h *Help) Follow(f *pass.Fact, do *pass.Effects) {
	if f.Attempt == nil {
		return
	}
	switch f.Kind {
	case pass.WasGranted, pass.WasRefused, pass.AwaitsMore, pass.AwaitsDoor: // whoever waits for others calls at once
	default:
		return
	}
	number := cmp.Or(f.Pass, f.Seq)
	if number != 0 && slices.Contains(h.told[:], number) {
		return
	}
	if who := h.Calls(f.Attempt); who != 0 {
		copy(h.told[1:], h.told[:])
		h.told[0] = number
		do.Tell(pass.Fact{At: f.At, Kind: pass.Duress, Person: who, Out: f.Out})
	}
}
