// Package door is one door: lock, contact, exit request, their timers and alarms. Door is the machine, and a part of
// its controller (part.go); what it says stands in its Log until the part tells it.
package door

import (
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Pass is somebody who was granted and has not gone through yet. It ends exactly once: Entered or NotTaken.
type Pass struct {
	Number uint64 // of the fact that began it
	Person site.ID
	Out    bool   // by the reader out
	With   uint64 // the number of the pass that it was granted with; 0: alone
}

// Bound is an interlock, as a door knows it.
type Bound interface {
	Blocked() site.ID // the door because of which this one stays closed; 0: none
	HoldsExit() bool  // an exit request may not release the lock now
}

// Door is the state of one door. The zero value with a configuration is closed and locked.
type Door struct {
	Config *site.Door

	free     bool
	until    hours.Instant // the lock is released until then; 0: it is not
	forLeaf  bool          // released past its time, until the leaf closes
	excused  hours.Instant // an opening before then is legitimate although the lock holds
	exit     bool          // the exit request is in use: it excuses every opening
	open     bool
	forcedAt hours.Instant // when the forced alarm is due; 0: none pending
	forced   bool
	since    hours.Instant // from when held-open counts
	warned   bool
	held     bool
	passes   []Pass // under way, oldest first; they end with the release at the latest

	// Bound is what else must be so before the lock lets go; nil where nothing must.
	Bound Bound

	Log []pass.Fact // what happened since the caller last emptied it
}

// Open reports whether the leaf is open, as far as the contact tells.
func (d *Door) Open() bool { return d.open }

// Free reports whether the door is free.
func (d *Door) Free() bool { return d.free }

// Released reports whether the lock is released.
func (d *Door) Released() bool { return d.free || d.until != 0 || d.forLeaf }

// Alarm returns the alarm that stands: Forced, HeldOpen, HeldWarning, or 0.
func (d *Door) Alarm() pass.Kind {
	switch {
	case d.forced:
		return pass.Forced
	case d.held:
		return pass.HeldOpen
	case d.warned:
		return pass.HeldWarning
	}
	return 0
}

func (d *Door) emit(at hours.Instant, k pass.Kind) { d.tell(at, k, Pass{}) }

func (d *Door) tell(at hours.Instant, k pass.Kind, p Pass) {
	d.Log = append(d.Log, pass.Fact{At: at, Kind: k, Pass: p.Number, Person: p.Person, Out: p.Out})
}

// end ends the first n passes in one way.
func (d *Door) end(at hours.Instant, k pass.Kind, n int) {
	for _, p := range d.passes[:n] {
		d.tell(at, k, p)
	}
	d.passes = append(d.passes[:0], d.passes[n:]...)
}

func seconds(n int) time.Duration { return time.Duration(n) * time.Second }

func (d *Door) hasContact() bool { return d.Config.Contact != site.NotFitted }

// Grant releases the lock for a pass: for the extended time where the person needs it. A grant while the lock is
// released restarts its time and never shortens it. Where the leaf is open already, or nothing tells that it opens, the
// pass has gone through at once.
func (d *Door) Grant(now hours.Instant, p Pass, extended bool) {
	length := d.Config.Unlock
	if extended {
		length = d.Config.Extended
	}
	d.settle(now)
	d.release(now, now.Add(seconds(length)))
	d.passes = append(d.passes, p)
	if !d.hasContact() || d.open {
		d.end(now, pass.Entered, len(d.passes))
	}
}

// Exit is what the exit request says: a button, a motion detector, something touchless. While it stays in use it
// excuses every opening; a lock that it releases is released for its own time from when it was used.
func (d *Door) Exit(now hours.Instant, inUse bool) {
	was := d.exit
	d.exit = inUse
	if inUse && !was {
		d.ExitRequest(now)
	}
}

// ExitRequest is the exit request being used.
func (d *Door) ExitRequest(now hours.Instant) {
	d.emit(now, pass.ExitRequest)
	d.settle(now)
	until := now.Add(seconds(d.Config.ExitTime))
	if d.Config.ExitReleases && !d.free {
		if d.Bound != nil && d.Bound.HoldsExit() {
			d.emit(now, pass.HeldBack)
			return
		}
		d.release(now, until)
		return
	}
	d.excused = max(d.excused, until)
}

// settle excuses an opening that is waiting to be an alarm, and counts held-open anew.
func (d *Door) settle(now hours.Instant) {
	if !d.open {
		return
	}
	d.forcedAt = 0
	d.since = now
	d.warned = false
}

func (d *Door) release(now, until hours.Instant) {
	was := d.Released()
	d.until = max(d.until, until)
	d.forLeaf = false
	if !was {
		d.emit(now, pass.LockReleased)
	}
}

// lock ends a momentary release. A free door stays released.
func (d *Door) lock(now hours.Instant) {
	was := d.Released()
	d.until, d.forLeaf = 0, false
	if was && !d.Released() {
		d.emit(now, pass.LockLocked)
	}
}

// Contact is what the door contact says.
func (d *Door) Contact(now hours.Instant, open bool) {
	if open == d.open || !d.hasContact() {
		return
	}
	d.open = open
	if open {
		d.opened(now)
		return
	}
	d.closed(now)
}

// opened takes the oldest pass, or while the door is free all that wait. Those that are left keep the lock released:
// they have been granted too.
func (d *Door) opened(now hours.Instant) {
	d.since = now
	if !d.Released() && now >= d.excused && !d.exit {
		d.emit(now, pass.OpenedAlone)
		d.forcedAt = now.Add(seconds(d.Config.Forced))
		d.expire(now)
		return
	}
	taken := d.together()
	if d.free {
		taken = len(d.passes)
	}
	var first Pass
	if taken > 0 {
		first = d.passes[0]
	}
	d.tell(now, pass.Opened, first)
	d.end(now, pass.Entered, taken)
	if d.Config.Relock == site.OnOpening && d.until != 0 && len(d.passes) == 0 {
		d.lock(now)
	}
}

// together counts the oldest pass and those that were granted with it: they go through at one opening.
func (d *Door) together() int {
	if len(d.passes) == 0 {
		return 0
	}
	first := d.passes[0]
	n := 1
	for n < len(d.passes) && d.passes[n].With != 0 &&
		(d.passes[n].With == first.Number || d.passes[n].With == first.With) {
		n++
	}
	return n
}

// Once releases the lock for an operator; the note says who, and why.
func (d *Door) Once(now hours.Instant, note string) {
	if d.Bound != nil && d.Bound.Blocked() != 0 {
		d.Log = append(d.Log, pass.Fact{At: now, Kind: pass.HeldBack, Note: pass.ByOperator})
		return
	}
	d.Log = append(d.Log, pass.Fact{At: now, Kind: pass.ReleasedOnce, Note: note})
	d.settle(now)
	d.release(now, now.Add(seconds(d.Config.Unlock)))
}

func (d *Door) closed(now hours.Instant) {
	d.emit(now, pass.Closed)
	if d.forced {
		d.emit(now, pass.ForcedEnded)
	}
	if d.held {
		d.emit(now, pass.HeldEnded)
	}
	d.forcedAt, d.since = 0, 0
	d.forced, d.warned, d.held = false, false, false
	if (d.Config.Relock == site.OnClosing || d.forLeaf) && len(d.passes) == 0 {
		d.lock(now)
	}
}

// SetFree says whether the door is free now.
func (d *Door) SetFree(now hours.Instant, free bool) {
	if free == d.free {
		return
	}
	was := d.Released()
	d.free = free
	if free {
		if d.held {
			d.emit(now, pass.HeldEnded)
		}
		d.warned, d.held, d.forcedAt = false, false, 0
	} else if d.open {
		d.since = now
		d.forLeaf = d.Config.Relock == site.OnClosing
	}
	switch {
	case d.Released() && !was:
		d.emit(now, pass.LockReleased)
	case !d.Released() && was:
		d.emit(now, pass.LockLocked)
	}
}

// Wake returns when the door has something to do next, or hours.Never.
func (d *Door) Wake() hours.Instant {
	w := hours.Never
	if d.until != 0 {
		w = min(w, d.until)
	}
	if d.forcedAt != 0 {
		w = min(w, d.forcedAt)
	}
	if at := d.warnAt(); at != 0 {
		w = min(w, at)
	}
	if at := d.heldAt(); at != 0 {
		w = min(w, at)
	}
	return w
}

func (d *Door) counts() bool { return d.open && !d.free && !d.held && !d.forced }

func (d *Door) heldAt() hours.Instant {
	if !d.counts() {
		return 0
	}
	return d.since.Add(seconds(d.Config.HeldOpen))
}

func (d *Door) warnAt() hours.Instant {
	if !d.counts() || d.warned || d.Config.PreAlarm == 0 {
		return 0
	}
	return d.since.Add(seconds(d.Config.HeldOpen - d.Config.PreAlarm))
}

// Tick does what is due at now. Callers tick at Wake, so that nothing is done late.
func (d *Door) Tick(now hours.Instant) { d.expire(now) }

func (d *Door) expire(now hours.Instant) {
	if d.until != 0 && now >= d.until {
		d.end(now, pass.NotTaken, len(d.passes))
		if d.Config.Relock == site.OnClosing && d.open {
			d.until, d.forLeaf = 0, true
		} else {
			d.lock(now)
		}
	}
	if d.forcedAt != 0 && now >= d.forcedAt {
		d.forcedAt, d.forced = 0, true
		d.emit(now, pass.Forced)
	}
	if at := d.warnAt(); at != 0 && now >= at {
		d.warned = true
		d.emit(now, pass.HeldWarning)
	}
	if at := d.heldAt(); at != 0 && now >= at {
		d.held = true
		d.emit(now, pass.HeldOpen)
	}
}

// Configure gives the door another configuration while it is at work. What it no longer has a contact for ends: nothing
// would ever tell that the leaf has closed. What the new timings make due is due now, not before.
func (d *Door) Configure(now hours.Instant, c *site.Door) {
	d.Config = c
	if !d.hasContact() {
		if d.open {
			d.closed(now)
			d.open = false
		}
		d.end(now, pass.Entered, len(d.passes))
	}
	d.expire(now)
}

// Retire ends what is under way at a door that is no longer driven, and tells it.
func (d *Door) Retire(now hours.Instant, do *pass.Effects) {
	d.retire(now)
	d.tellAll(do)
}

// retire: nobody goes through any more, and it locks.
func (d *Door) retire(now hours.Instant) {
	d.end(now, pass.NotTaken, len(d.passes))
	if d.forced {
		d.emit(now, pass.ForcedEnded)
	}
	if d.held {
		d.emit(now, pass.HeldEnded)
	}
	was := d.Released()
	*d = Door{Config: d.Config, Log: d.Log, Bound: d.Bound}
	if was {
		d.emit(now, pass.LockLocked)
	}
}

// Shift moves every timer along when the clock is set, so that what is left of them stays the same.
func (d *Door) Shift(by time.Duration) {
	for _, t := range [...]*hours.Instant{&d.until, &d.excused, &d.forcedAt, &d.since} {
		if *t != 0 {
			*t = t.Add(by)
		}
	}
}
