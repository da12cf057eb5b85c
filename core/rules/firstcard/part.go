package firstcard

import (
	"encoding/json"
	"time"

	"amberkeystone/core/asks"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Part keeps the first card of one door. A door that waits for none has it too: its plan speaks through it.
type Part struct {
	Line *hours.Timeline
	Rule *site.FirstCard
	// MayOpen reports whether whoever a pass is of may give the first card there.
	MayOpen func(p *pass.Pass) bool
	Card    Card
}

// At works out what the door asks at an instant, changing nothing.
func (p *Part) At(at hours.Instant) Asked {
	card := p.Card
	return card.Ask(p.Line, p.Rule, at)
}

// Follow takes note of somebody who comes in; the door may go free by it.
func (p *Part) Follow(f *pass.Fact, do *pass.Effects) {
	if f.Kind != pass.WasGranted || f.Out || f.Reason == pass.GrantedFree || !Waits(p.Line, p.Rule) {
		return
	}
	if p.MayOpen(f.Attempt) && p.Card.Give(p.Line, p.Rule, f.At) {
		do.Tell(pass.Fact{At: f.At, Kind: pass.FirstCard, Person: f.Person})
	}
}

// Wake returns Never: what it changes shows in what the door asks.
func (p *Part) Wake() hours.Instant { return hours.Never }

// Shift keeps what is left of the minutes that it gave.
func (p *Part) Shift(by time.Duration) { p.Card.Shift(by) }

// Save writes what is remembered.
func (p *Part) Save() ([]byte, error) {
	if !p.Card.Given {
		return nil, nil
	}
	return json.Marshal(p.Card)
}

// Restore takes it back.
func (p *Part) Restore(b []byte) error { return json.Unmarshal(b, &p.Card) }

// Take goes on: a new image does not forget.
func (p *Part) Take(_ hours.Instant, was pass.Part, _ *pass.Effects) { p.Card = was.(*Part).Card }

// Retire ends nothing.
func (p *Part) Retire(hours.Instant, *pass.Effects) {}

// Layers returns the layers of the plan, highest first, as they are once its first card is taken into account.
func (p *Part) Layers() asks.Layers {
	return asks.Layers{layer{p, hours.PlanHoliday}, layer{p, hours.PlanWeek}, layer{p, hours.PlanDefault}}
}

// layer is one of them. It has an answer where it is the one that decides among them.
type layer struct {
	*Part
	layer hours.Layer
}

func (l layer) Says(at hours.Instant) (a asks.Answer, ok bool, until hours.Instant) {
	if !Waits(l.Line, l.Rule) {
		ask, from := l.Line.Plan.AskAt(l.Line.Local, at)
		a.Ask, a.Layer = ask, hours.Layer(from)
		if a.Layer != l.layer { // the lowest knows until when
			return a, false, hours.Never
		}
		return a, true, l.Line.Plan.Next(l.Line.Local, at)
	}
	x := l.At(at)
	return asks.Answer{Moment: x.Moment, Waits: x.Waits}, x.Layer == l.layer, x.Until
}

// Gate refuses whoever may not give the first card, where nobody else enters until it has come.
type Gate struct{ Part *Part }

// Check reads what is remembered and changes nothing.
func (g Gate) Check(p *pass.Pass) pass.Verdict {
	if p.Asks() == hours.Free || !g.Part.At(p.At).Awaiting || g.Part.MayOpen(p) {
		return pass.Yes
	}
	p.Trace.Add(pass.CheckFirst, false, 0, 0)
	return pass.No(pass.AwaitingFirstCard, 0)
}
