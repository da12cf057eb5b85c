package pass

import (
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Request is what was presented at one side of a door, and what the door asked at that moment.
type Request struct {
	At      hours.Instant
	Door    int  // its place at its controller
	Out     bool // at the reader out
	Mode    hours.Mode
	HasCard bool // something is shown: Bits, or Shown where that is not empty
	Bits    cards.Bits
	Shown   Shown
	HasPIN  bool
	PIN     cards.PINHash
	Levels  []int64 // only these access levels count now; none listed: all
	// Overrides says that the door is barred by a lockdown that lets those in whose level overrides it.
	Overrides bool
}

// Shown is a credential that is no card, as a reader reads it. The zero value is none.
type Shown struct {
	Kind  site.CredentialKind
	Value string
}

// Decision is the answer to a request, and what was found out on the way to it.
type Decision struct {
	Reason    Reason
	Waits     bool    // not refused: it waits for what the reason names
	Person    site.ID // 0 where nobody was recognised
	Known     bool    // somebody was, whose proof is in use
	Word      uint32  // what package access knows of them in short
	Keypad    bool    // the reader has keys
	ByPIN     bool    // they always want a PIN of this person
	Instead   bool    // their PIN does instead of the card that is asked
	Extended  bool    // the lock stays released longer for them
	Soft      bool    // anti-passback that only logs was broken
	Only      site.ID // the one level that counts of somebody who is not cleared; 0: all
	Screening site.ID // by which somebody is not cleared who is refused for it
	Overrode  bool    // they come in by their card though a lockdown bars the door
	Uncleared bool    // somebody is not cleared, and it is only noted
	Duress    bool    // the PIN is the one that calls for help
	Read      cards.Read
	Level     site.ID       // the level that grants, or came nearest
	Schedule  site.ID       // its schedule
	Next      hours.Instant // outside-hours: when it opens next, worked out where there is a trace; 0 otherwise
	Last      hours.Instant // the last instant of the card that was read; Never without one
	Stops     site.StopSet  // of an elevator: the floors that are released
	Floorless site.ID       // of an elevator: a level that comes to it and to no floor
	More      More          // of a door where one proof is not enough; the zero value elsewhere
}

// More is how far those have come who pass together, this one among them. It is a value, so that a decision does not
// allocate.
type More struct {
	Rule    site.ID
	Proof   bool // another proof of the same person is wanted
	Confirm bool // all are there, and an operator has the last word
	Count   int  // so many are there
	Of      int  // of so many
	left    [site.MostTogether]Wanted
	n       int
}

// Want adds to what is still wanted.
func (m *More) Want(w Wanted) {
	if m.n < len(m.left) {
		m.left[m.n] = w
		m.n++
	}
}

// Wanted lists what is still wanted.
func (m *More) Wanted() []Wanted { return m.left[:m.n] }

// Pass is one attempt. A zero Number is that of an attempt that nobody follows, as a question.
type Pass struct {
	Request
	Decision
	Number uint64 // of the fact that began it
	Trace  *Trace // where the checks are written; nil: nowhere
}

// Typed reports whether a PIN was typed: nobody types at a reader without keys.
func (p *Pass) Typed() bool { return p.HasPIN && p.Keypad }

// Asks returns what the side asks, given the mode of the door. The way out is never barred, and asks for a PIN only
// where it has a keypad (docs/decisions/0004).
func (p *Pass) Asks() hours.Mode {
	if p.Overrode {
		return hours.Card
	}
	return Asks(p.Out, p.Keypad, p.Mode)
}

// Asks returns what a side of a door asks, given the mode of the door.
func Asks(out, keypad bool, mode hours.Mode) hours.Mode {
	if !out {
		return mode
	}
	if mode == hours.Barred {
		mode = hours.Card
	}
	if mode.AsksPIN() && !keypad {
		mode = hours.Card
	}
	return mode
}

// Needs returns which proofs the side wants of whoever was recognised.
func (p *Pass) Needs() (card, pin bool) {
	mode := p.Asks()
	pin = mode == hours.PIN || mode == hours.CardAndPIN
	if p.Instead {
		return false, true
	}
	card = mode == hours.Card || mode == hours.CardAndPIN || mode == hours.CardOrPIN && !p.Typed()
	if p.Known && p.HasCard && p.ByPIN && mode != hours.Free {
		pin = pin || !p.Out || p.Keypad // a way out without keys never asks for a PIN
	}
	return card, pin
}

// State is how far a pass has come.
type State uint8

// The states. Refused, Through and NotTaken end it.
const (
	Asked    State = iota // just now
	Waiting               // for more: a PIN, other people, another door
	Admitted              // granted, and the door has not been opened yet
	Refused
	Through
	Untaken
)

// Ended reports whether nothing follows any more.
func (s State) Ended() bool { return s >= Refused }

// Next returns the state after a fact about the pass, and whether that may happen in the state.
func (s State) Next(k Kind) (State, bool) {
	switch {
	case s <= Waiting && k == WasGranted:
		return Admitted, true
	case s <= Waiting && k == WasRefused:
		return Refused, true
	case s <= Waiting && (k == AwaitsPIN || k == AwaitsMore || k == AwaitsDoor): // a door may come to ask a PIN meanwhile
		return Waiting, true
	case s == Admitted && (k == Entered || k == FloorChosen):
		return Through, true
	case s == Admitted && k == NotTaken:
		return Untaken, true
	}
	return s, false
}
