// Package asks is what a door asks of people: layers, highest first, of which the first that has an answer decides
// (design 3.3). Each is a Source; the rules that hold, bar or free a door bring their own, the dated changes are here.
package asks

import (
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Answer is what a door asks, and which layer says so.
type Answer struct {
	hours.Moment
	Waits     bool // in a free stretch that waits for its first card
	Overrides bool // in a lockdown: those come in whose level overrides it
}

// same reports whether people meet the same door.
func (a Answer) same(b Answer) bool { return a.Ask.Same(b.Ask) && a.Waits == b.Waits }

// Source is one layer.
type Source interface {
	// Says returns what the layer asks at an instant, and ok where it has an answer. Before until neither changes; it
	// is later than the instant, and Never where the layer knows of nothing.
	Says(at hours.Instant) (a Answer, ok bool, until hours.Instant)
}

// Layers are the sources at one door, the highest first. The last has an answer at any time.
type Layers []Source

// At returns what the door asks at an instant, and a later one before which that surely stays: layers below the one
// that decides do not matter.
func (l Layers) At(at hours.Instant) (a Answer, until hours.Instant) {
	until = hours.Never
	for _, s := range l {
		x, ok, t := s.Says(at)
		until = min(until, t)
		if ok {
			return x, max(until, at+1) // whoever walks from one to the next gets on
		}
	}
	return Answer{}, max(until, at+1)
}

// Next returns the first instant after the given one at which the door asks something else, or Never.
func (l Layers) Next(at hours.Instant) hours.Instant {
	a, until := l.At(at)
	return l.after(a, until)
}

func (l Layers) after(a Answer, until hours.Instant) hours.Instant {
	for until != hours.Never {
		b, t := l.At(until)
		if !a.same(b) {
			return until
		}
		until = t
	}
	return hours.Never
}

// Dated is the layer of dated changes.
type Dated struct{ Line *hours.Timeline }

// Says answers during a dated change.
func (d Dated) Says(at hours.Instant) (a Answer, ok bool, until hours.Instant) {
	if m := d.Line.At(at); m.Layer == hours.DatedChange {
		return Answer{Moment: m}, true, d.Line.WindowEnd(at)
	}
	return Answer{}, false, d.Line.InWindow(at)
}

// Part keeps what a door asks now, and says so when it changes.
type Part struct {
	pass.Still
	Layers
	now   Answer
	until hours.Instant
}

// Now returns what the door asks, as of the last fact that could change it, and until when.
func (p *Part) Now() (Answer, hours.Instant) { return p.now, p.until }

// Follow asks the layers anew when something below or above has changed.
func (p *Part) Follow(f *pass.Fact, do *pass.Effects) {
	switch f.Kind {
	case pass.Started, pass.Due:
		p.ask(f.At, do, true)
	case pass.FirstCard, pass.HoldsNow, pass.ImageLoaded, pass.ClockSet:
		p.ask(f.At, do, false)
	}
}

// ask says what the door asks where that has changed, or always.
func (p *Part) ask(now hours.Instant, do *pass.Effects, always bool) {
	a, until := p.At(now)
	changed := a.Mode != p.now.Mode || a.Waits != p.now.Waits ||
		a.Layer != p.now.Layer && max(a.Layer, p.now.Layer) > hours.DatedChange // free for another reason
	p.now, p.until = a, p.after(a, until)
	if always || changed {
		do.Tell(pass.Fact{
			At: now, Kind: pass.ModeNow, Mode: a.Mode, Waits: a.Waits, Layer: a.Layer, Change: site.ID(a.Change),
			Next: p.until.OrZero(),
		})
	}
}

// Wake returns when the door asks something else.
func (p *Part) Wake() hours.Instant { return p.until }

// Take keeps what the door asked, so that a change by the new image is said.
func (p *Part) Take(_ hours.Instant, was pass.Part, _ *pass.Effects) {
	old := was.(*Part)
	p.now, p.until = old.now, old.until
}

// Shift moves nothing: the layers are asked anew when the clock is set.
func (p *Part) Shift(time.Duration) {}
