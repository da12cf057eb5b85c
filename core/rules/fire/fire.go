// Package fire is the fire release: a door is free for escape, above everything else, until somebody ends it on
// purpose.
package fire

import (
	"amberkeystone/core/asks"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
)

// Release is the fire release of one door: a part, the layer that it makes, and the highest claim on its lock.
type Release struct {
	pass.Switch
	lock point.Address
}

// New returns the fire release of a door with a lock.
func New(lock point.Address) *Release {
	return &Release{Switch: pass.Switch{Asked: pass.FireAsked, Began: pass.FireBegan, Ended: pass.FireEnded}, lock: lock}
}

// Says frees the door.
func (r *Release) Says(hours.Instant) (a asks.Answer, ok bool, until hours.Instant) {
	a.Mode, a.Layer = hours.Free, hours.FireRelease
	return a, r.On(), hours.Never
}

// Claim lets the lock go, whatever else is wanted of it.
func (r *Release) Claim(say func(out point.Address, rank point.Rank, on bool)) {
	if r.On() {
		say(r.lock, point.FireRelease, true)
	}
}

// Take goes on: a new image ends no fire release.
func (r *Release) Take(_ hours.Instant, was pass.Part, _ *pass.Effects) {
	r.GoOn(&was.(*Release).Switch)
}
