package reactions

import (
	"cmp"
	"iter"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// output is what reactions want of one output.
type output struct {
	memory
	causes map[Cause]bool // what has begun and not ended
}

type memory struct {
	On       bool          `json:"on,omitempty"`       // until it is turned off
	Off      bool          `json:"off,omitempty"`      // until it is turned on
	By       site.ID       `json:"by,omitempty"`       // of On and Off: the reaction; 0: the server
	OnUntil  hours.Instant `json:"onUntil,omitempty"`  // 0: not
	OffUntil hours.Instant `json:"offUntil,omitempty"` // 0: not
}

// kept is what survives a restart of one output.
type kept struct {
	memory
	Causes []Cause `json:"causes,omitempty"` // of those that go on
}

// Cause is what has begun: an event for which a rule waited, at its place.
type Cause struct {
	Rule  site.ID `json:"rule,omitempty"`
	Door  site.ID `json:"door,omitempty"`
	Input site.ID `json:"input,omitempty"`
	Area  site.ID `json:"area,omitempty"`
	Point string  `json:"point,omitempty"`
	Afar  bool    `json:"afar,omitempty"` // it began at another controller: the server knows where, and when it ends
}

// GoesOn reports whether what begins with an event of a kind goes on over a restart without being told again. What a
// controller measures is told again.
func GoesOn(k pass.Kind) bool {
	return k == pass.HoldBegan || k == pass.LockdownBegan || k == pass.FireBegan || k == pass.Armed || k == pass.Intrusion
}

// CauseOf is what began with an event for which a rule waited, as it will be named when it ends. What began at a door,
// or of an alarm area, ends as that, whichever terminal it began at.
func CauseOf(rule site.ID, f *pass.Fact) Cause {
	switch {
	case f.Kind.OfAlarmArea():
		return Cause{Rule: rule, Area: f.Rule}
	case f.Door != 0:
		return Cause{Rule: rule, Door: f.Door, Input: f.Input}
	}
	return Cause{Rule: rule, Input: f.Input, Point: f.Point}
}

// outputAt is what is wanted of one output.
func (e *Engine) outputAt(at point.Address) *output {
	if e.out[at] == nil {
		e.out[at] = &output{causes: map[Cause]bool{}}
		k, _ := slices.BinarySearchFunc(e.order, at, point.Address.Compare)
		e.order = slices.Insert(e.order, k, at)
	}
	return e.out[at]
}

// asked does with an output what the server wants.
func (e *Engine) asked(f *pass.Fact) {
	at, err := point.Parse(f.Point)
	if err != nil {
		return
	}
	switch o := e.outputAt(at); {
	case f.Kind == pass.OutputLet && f.Rule != 0:
		delete(o.causes, Cause{Rule: f.Rule, Afar: true})
	case f.Kind == pass.OutputAsked && f.Rule != 0:
		o.causes[Cause{Rule: f.Rule, Afar: true}] = true
	case f.Kind == pass.OutputLet:
		o.memory = memory{}
	default:
		o.turn(f.Active, f.Next, 0)
	}
}

// follow does with an output what a rule says.
func (o *output) follow(r *Rule, f *pass.Fact) {
	if r.Do == site.DoOn && r.Until {
		o.causes[CauseOf(r.ID, f)] = true
		return
	}
	until := hours.Instant(0)
	if r.For > 0 {
		until = f.At.Add(r.For)
	}
	o.turn(r.Do == site.DoOn, until, r.ID)
}

// turn turns an output on or off until an instant; 0: until it is turned the other way, for as long as there is the
// reaction by which it was.
func (o *output) turn(on bool, until hours.Instant, by site.ID) {
	switch {
	case on && until != 0:
		o.OnUntil = max(o.OnUntil, until)
	case on:
		o.On, o.Off, o.OffUntil, o.By = true, false, 0, by
	case until != 0:
		o.OffUntil = max(o.OffUntil, until)
	default:
		o.memory = memory{Off: true, By: by}
		clear(o.causes)
	}
}

// wants returns what reactions want of the output; says is false where they want nothing.
func (o *output) wants() (on, says bool) {
	switch {
	case o.OffUntil != 0:
		return false, true
	case o.On, o.OnUntil != 0, len(o.causes) > 0:
		return true, true
	}
	return false, o.Off
}

// goOn lets what has begun go on, where there is still a rule for it and the place where it began.
func (e *Engine) goOn(o *output, at point.Address, causes iter.Seq[Cause]) {
	for c := range causes {
		gone := false
		for _, id := range [...]site.ID{c.Door, c.Input, c.Area} {
			gone = gone || id != 0 && !e.there(id)
		}
		if c.Afar || !gone && e.ruleOf(c, at) != nil {
			o.causes[c] = true
		}
	}
}

// ruleOf finds the rule that keeps an output on because of something, or nil.
func (e *Engine) ruleOf(c Cause, at point.Address) *Rule {
	for _, r := range e.rules {
		if r.ID == c.Rule && r.Until && slices.Contains(r.Outputs, at) {
			return r
		}
	}
	return nil
}

func (c Cause) compare(o Cause) int {
	return cmp.Or(cmp.Compare(c.Rule, o.Rule), cmp.Compare(c.Door, o.Door), cmp.Compare(c.Input, o.Input),
		cmp.Compare(c.Area, o.Area), cmp.Compare(c.Point, o.Point))
}
