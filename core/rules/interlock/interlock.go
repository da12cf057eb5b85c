// Package interlock is doors of which at most one may be other than closed and locked (design 3.10). Set is what the
// doors of one interlock share, Part stands at each of them, Gate lets a pass wait or refuses it.
package interlock

import (
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Patience is how long somebody who was granted waits for another door to be closed and locked.
const Patience = 30 * time.Second

// Leaf is a door as an interlock sees it.
type Leaf interface {
	Open() bool
	Released() bool
}

// Set is one interlock.
type Set struct {
	Rule *site.Interlock
	at   []*Part
	// turn is the pass that was let on and is not decided yet: all others wait.
	turn uint64
}

// Part is the interlocks of one door. One that is in none has it too, and it does nothing.
type Part struct {
	Place   int
	Door    site.ID
	Leaf    Leaf
	Fire    func() bool // the door is free for escape
	sets    []*Set
	waiting []waiting     // in the order in which they came
	exit    hours.Instant // an exit request is held back until then; 0: none
}

type waiting struct {
	pass.Attempt
	until hours.Instant
}

// Join makes a door one of a set.
func (p *Part) Join(s *Set) {
	s.at = append(s.at, p)
	p.sets = append(p.sets, s)
}

// In reports whether the door is in any interlock.
func (p *Part) In() bool { return len(p.sets) > 0 }

// idle reports whether the door is closed and locked.
func (p *Part) idle() bool { return !p.Leaf.Open() && !p.Leaf.Released() }

// Blocked returns the door because of which this one stays closed, 0 where it need not. Fire release overrides.
func (p *Part) Blocked() site.ID {
	for _, s := range p.sets {
		if other := s.busy(p); other != 0 {
			return other
		}
	}
	return 0
}

// busy finds a door of the set, other than one, that is not closed and locked.
func (s *Set) busy(but *Part) site.ID {
	other := site.ID(0)
	for _, p := range s.at {
		if p.Fire() {
			return 0
		}
		if p != but && !p.idle() {
			other = p.Door
		}
	}
	return other
}

// HoldsExit reports whether an exit request may not release the lock now.
func (p *Part) HoldsExit() bool {
	for _, s := range p.sets {
		if s.Rule.Exits && s.busy(p) != 0 {
			return true
		}
	}
	return false
}

// Gate is asked after all else that one door asks by itself.
type Gate struct{ Part *Part }

// Check lets a pass on where no other door of a set is open, released, or about to be.
func (g Gate) Check(p *pass.Pass) pass.Verdict {
	if p.Asks() == hours.Free {
		return pass.Yes
	}
	for _, s := range g.Part.sets {
		other := s.busy(g.Part)
		if other == 0 && (s.turn == 0 || s.turn == p.Number) {
			continue
		}
		p.Trace.Add(pass.CheckInterlock, false, int64(other), 0)
		if s.Rule.Waits {
			return pass.WaitFor(pass.Interlocked)
		}
		return pass.No(pass.Interlocked, 0)
	}
	return pass.Yes
}

// Follow lets who waits go on, in the order in which they came, once the other door is closed and locked.
func (p *Part) Follow(f *pass.Fact, do *pass.Effects) {
	if !p.In() {
		if f.Kind == pass.ImageLoaded { // of the image before: nothing is in their way any more
			for _, w := range p.waiting {
				do.Try(w.Attempt)
			}
			p.waiting, p.exit = nil, 0
		}
		return
	}
	switch f.Kind {
	case pass.AwaitsDoor:
		a := pass.Attempt{Request: f.Attempt.Request, Number: f.Pass}
		if a.Number == 0 {
			a.Number = f.Seq
		}
		p.waiting = append(p.waiting, waiting{a, f.At.Add(Patience)})
	case pass.HeldBack:
		if f.Note == "" && p.waits() {
			p.exit = f.At.Add(Patience)
		}
	case pass.Due:
		p.expire(f.At, do)
	}
	p.decided(f)
	switch f.Kind {
	case pass.Closed, pass.LockLocked, pass.HoldsNow, pass.ModeNow, pass.WasGranted, pass.WasRefused, pass.Due,
		pass.ImageLoaded:
		for _, s := range p.sets {
			s.next(f.At, do)
		}
	}
}

func (p *Part) waits() bool {
	for _, s := range p.sets {
		if !s.Rule.Waits {
			return false
		}
	}
	return true
}

// decided ends the turn of a pass whose outcome is known.
func (p *Part) decided(f *pass.Fact) {
	if f.Kind != pass.WasGranted && f.Kind != pass.WasRefused && f.Kind != pass.AwaitsDoor && f.Kind != pass.AwaitsMore {
		return
	}
	for _, s := range p.sets {
		if s.turn == f.Pass {
			s.turn = 0
		}
	}
}

// next lets the one who has waited longest at a door of the set go on, if nothing is in the way.
func (s *Set) next(now hours.Instant, do *pass.Effects) {
	if s.turn != 0 {
		return
	}
	var first *Part
	for _, p := range s.at {
		if p.Blocked() != 0 {
			continue
		}
		if p.exit != 0 { // whoever is inside leaves first
			p.exit = 0
			do.TellAt(p.Place, pass.Fact{At: now, Kind: pass.ExitAgain})
			return
		}
		if len(p.waiting) > 0 && (first == nil || p.waiting[0].Number < first.waiting[0].Number) {
			first = p
		}
	}
	if first == nil {
		return
	}
	for _, other := range first.sets {
		if other.turn != 0 {
			return
		}
	}
	w := first.waiting[0]
	first.waiting = first.waiting[1:]
	for _, other := range first.sets {
		other.turn = w.Number
	}
	w.At = now
	do.TryAt(first.Place, w.Attempt)
}

// expire refuses those who have waited long enough.
func (p *Part) expire(now hours.Instant, do *pass.Effects) {
	if p.exit != 0 && now >= p.exit {
		p.exit = 0
	}
	for len(p.waiting) > 0 && now >= p.waiting[0].until {
		p.refuse(now, do)
	}
}

// refuse ends the waiting of the first.
func (p *Part) refuse(now hours.Instant, do *pass.Effects) {
	a := p.waiting[0].Attempt
	p.waiting = p.waiting[1:]
	a.At, a.Ends, a.Note = now, pass.Interlocked, "waited"
	do.End(a)
	do.Show(a.Out, pass.ShowRefused)
}

// Wake returns when somebody has waited long enough.
func (p *Part) Wake() hours.Instant {
	w := p.exit.OrNever()
	if len(p.waiting) > 0 {
		w = min(w, p.waiting[0].until)
	}
	return w
}

// Shift keeps what is left of the waiting.
func (p *Part) Shift(by time.Duration) {
	p.exit = p.exit.Shift(by)
	for i := range p.waiting {
		p.waiting[i].until = p.waiting[i].until.Shift(by)
	}
}

// Save remembers nothing: after a restart nobody waits.
func (p *Part) Save() ([]byte, error) { return nil, nil }

// Restore does nothing.
func (p *Part) Restore([]byte) error { return nil }

// Take goes on: who waits does so under the new image.
func (p *Part) Take(_ hours.Instant, was pass.Part, _ *pass.Effects) {
	old := was.(*Part)
	p.waiting, p.exit = old.waiting, old.exit
	for i := range p.waiting {
		p.waiting[i].Door = p.Place
	}
}

// Retire refuses those who wait.
func (p *Part) Retire(now hours.Instant, do *pass.Effects) {
	for len(p.waiting) > 0 {
		p.refuse(now, do)
	}
}
