// Package lockdown bars a door until somebody ends it on purpose (design 3.13). Whoever is inside gets out: exit
// requests work in every layer. A lockdown that was made ready may let those in whose level overrides it, and may be
// started and ended by several reads of a card in a row.
package lockdown

import (
	"slices"
	"time"

	"amberkeystone/core/asks"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Ready is a lockdown that was made ready, at the doors of a controller.
type Ready struct {
	*site.Emergency
	Places []int // of its doors
}

// Lockdown is that of one door: a part, and the layer that it makes.
type Lockdown struct {
	pass.Switch
	// Ready are those that the door belongs to.
	Ready []*Ready
	// May reports whether whoever a pass is of may lock down there.
	May   func(p *pass.Pass) bool
	reads pass.Row
}

// New returns the lockdown of a door where there is none.
func New() *Lockdown {
	return &Lockdown{Switch: pass.Switch{Asked: pass.LockdownAsked, Began: pass.LockdownBegan, Ended: pass.LockdownEnded}}
}

// Says bars the door.
func (l *Lockdown) Says(hours.Instant) (a asks.Answer, ok bool, until hours.Instant) {
	a.Mode, a.Layer, a.Overrides = hours.Barred, hours.Lockdown, l.overrides()
	return a, l.On(), hours.Never
}

// overrides reports whether every lockdown that is on lets those in whose level overrides it.
func (l *Lockdown) overrides() bool {
	for _, id := range l.By() {
		if !slices.ContainsFunc(l.Ready, func(r *Ready) bool { return r.ID == id && r.Overrides }) {
			return false
		}
	}
	return true
}

// Follow begins and ends it, and counts the reads of a card: those that a barred door refuses count too, else nobody
// could end by a card what they began.
func (l *Lockdown) Follow(f *pass.Fact, do *pass.Effects) {
	l.Switch.Follow(f, do)
	counts := f.Kind == pass.WasGranted || f.Kind == pass.WasRefused && f.Reason == pass.DoorBarred
	if counts && !f.Out && f.With == 0 && f.Attempt != nil && f.Attempt.HasCard && l.May != nil && len(l.Ready) > 0 &&
		l.May(f.Attempt) {
		l.read(f, do)
	}
}

func (l *Lockdown) read(f *pass.Fact, do *pass.Effects) {
	n := l.reads.Read(f, site.ReadsWithin*time.Second)
	for _, r := range l.Ready {
		_, on := slices.BinarySearch(l.By(), r.ID)
		if r.Reads != n || on && !r.CardEnds {
			continue
		}
		for _, place := range r.Places {
			do.TellAt(place, pass.Fact{At: f.At, Kind: pass.LockdownAsked, Active: !on, Rule: r.ID, Person: f.Person})
		}
	}
}

// Shift keeps what is left for the next read.
func (l *Lockdown) Shift(by time.Duration) { l.reads.Shift(by) }

// Take goes on: a new image ends no lockdown.
func (l *Lockdown) Take(_ hours.Instant, was pass.Part, _ *pass.Effects) {
	old := was.(*Lockdown)
	l.GoOn(&old.Switch)
	l.reads = old.reads
}
