// Package lockdown bars a door until somebody ends it on purpose. Whoever is inside gets out: exit requests work in
// every layer.
package lockdown

import (
	"amberkeystone/core/asks"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
)

// Lockdown is that of one door: a part, and the layer that it makes.
type Lockdown struct{ pass.Switch }

// New returns the lockdown of a door where there is none.
func New() *Lockdown {
	return &Lockdown{pass.Switch{Asked: pass.LockdownAsked, Began: pass.LockdownBegan, Ended: pass.LockdownEnded}}
}

// Says bars the door.
func (l *Lockdown) Says(hours.Instant) (a asks.Answer, ok bool, until hours.Instant) {
	a.Mode, a.Layer = hours.Barred, hours.Lockdown
	return a, l.On(), hours.Never
}

// Take goes on: a new image ends no lockdown.
func (l *Lockdown) Take(_ hours.Instant, was pass.Part, _ *pass.Effects) {
	l.GoOn(&was.(*Lockdown).Switch)
}
