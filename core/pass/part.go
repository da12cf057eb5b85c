package pass

import (
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/point"
)

// Part is a rule, or a thing, at one place of a controller. It remembers; the kernel calls it in the order of time.
//
//   - Follow takes note of a fact of its place. A fact of kind Due comes when Wake said, and nothing falls due in
//     between: between two facts a part does not change.
//   - Wake returns when it next has something to do, or hours.Never.
//   - Shift moves it along with a clock that was set: what is left of its times stays the same.
//   - Save returns what it must remember over a restart as JSON, nil where that is nothing; Restore takes it back.
//   - Take makes it go on from what stood in its place under the image before; what the new one no longer allows
//     ends.
//   - Retire ends what is under way, because its place is no more.
//
// Still has answers for those that need none of this.
type Part interface {
	Follow(f *Fact, do *Effects)
	Wake() hours.Instant
	Shift(by time.Duration)
	Save() ([]byte, error)
	Restore(b []byte) error
	Take(now hours.Instant, was Part, do *Effects)
	Retire(now hours.Instant, do *Effects)
}

// Claimant is a part that wants something of an output. The kernel asks after every step, image and restart.
type Claimant interface {
	Claim(say func(out point.Address, rank point.Rank, on bool))
}

// Still is a part that has no times, remembers nothing and ends nothing: to embed.
type Still struct{}

// Wake returns Never.
func (Still) Wake() hours.Instant { return hours.Never }

// Shift does nothing.
func (Still) Shift(time.Duration) {}

// Save remembers nothing.
func (Still) Save() ([]byte, error) { return nil, nil }

// Restore does nothing.
func (Still) Restore([]byte) error { return nil }

// Take does nothing.
func (Still) Take(hours.Instant, Part, *Effects) {}

// Retire does nothing.
func (Still) Retire(hours.Instant, *Effects) {}

// Feedback is what a reader shows to the person before it.
type Feedback string

// What readers show.
const (
	ShowGranted Feedback = "granted"
	ShowRefused Feedback = "refused"
	ShowPIN     Feedback = "enter PIN"
	ShowLocked  Feedback = "keypad locked"
	ShowMore    Feedback = "next one, please" // others are wanted, or another proof
	ShowWait    Feedback = "please wait"      // until another door is closed
	ShowArming  Feedback = "arming, please leave"
	ShowArmed   Feedback = "armed"
	ShowOpen    Feedback = "not armed, something stands open"
	ShowUnarmed Feedback = "disarmed"
)

// Effects are what parts want done, in order: the queue of the kernel, which works through it once a part has returned.
type Effects struct {
	Place int // whose turn it is
	List  []Effect
}

// Effect is one of three: a fact is told, a reader shows something, or an attempt is put to the gates.
type Effect struct {
	Place int
	Fact  Fact // Kind 0: none
	Show  Feedback
	Out   bool     // of Show: at the reader out
	Try   *Attempt // put it to the gates
	Ended *Attempt // it was begun and not finished
}

// Attempt is a request to be put to the gates, at its own instant; the door's mode is filled in by the kernel.
type Attempt struct {
	Request
	Number uint64 // of the pass that it goes on; 0: a new one
	Note   string // of one that ended: why, where it was not time
	Ends   Reason // of one that ended: what it was; NoReason: Timeout
}

// Tell tells a fact of the part's place.
func (e *Effects) Tell(f Fact) { e.List = append(e.List, Effect{Place: e.Place, Fact: f}) }

// TellAt tells a fact of another place.
func (e *Effects) TellAt(place int, f Fact) { e.List = append(e.List, Effect{Place: place, Fact: f}) }

// Show lets a reader show something.
func (e *Effects) Show(out bool, what Feedback) {
	e.List = append(e.List, Effect{Place: e.Place, Show: what, Out: out})
}

// ShowAt lets a reader of another place show something.
func (e *Effects) ShowAt(place int, out bool, what Feedback) {
	e.List = append(e.List, Effect{Place: place, Show: what, Out: out})
}

// Try puts an attempt to the gates.
func (e *Effects) Try(a Attempt) { e.TryAt(e.Place, a) }

// TryAt puts an attempt to the gates of another place.
func (e *Effects) TryAt(place int, a Attempt) { e.List = append(e.List, Effect{Place: place, Try: &a}) }

// End ends an attempt that waited for more: it is refused, since nothing came in time.
func (e *Effects) End(a Attempt) { e.List = append(e.List, Effect{Place: e.Place, Ended: &a}) }
