// Package reactions is: when this happens here, during these hours, do that there, for so long (design 3.13). Engine is
// a part of a whole controller that hears every event of it; the kinds that no reaction names cost it one look into a
// table. What is across controllers is the server's (prove.Across).
package reactions

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// Rule is a reaction laid out for one controller.
type Rule struct {
	ID       site.ID
	When     pass.Kind // 0: an hour
	Ends     pass.Kind // 0: it has no end
	Reason   pass.Reason
	Doors    map[site.ID]bool // at which it happens; nil: at none in particular
	Inputs   map[site.ID]bool // likewise
	Areas    map[site.ID]bool // alarm areas, likewise
	Minute   int              // of an hour
	Schedule *hours.Schedule
	Local    hours.Local

	Do      site.Doing
	Places  []int           // the doors to which it is done, by their place here
	Outputs []point.Address // likewise
	Arms    []site.ID       // likewise: alarm areas
	Rule    site.ID         // the emergency
	Mode    hours.Mode
	For     time.Duration // 0: until it is ended
	Until   bool          // until what happened has ended
}

// RuleOf lays out what a reaction says of itself; where it happens and to what it is done is filled in by who knows.
func RuleOf(x *site.Reaction, s *hours.Schedule, local hours.Local) *Rule {
	r := &Rule{
		ID: x.ID, Schedule: s, Local: local, Do: x.Do, Rule: x.EmergencyID, For: time.Duration(x.Seconds) * time.Second,
		Until: x.Until,
	}
	r.When, r.Ends = kindOf(string(x.When)), kindOf(x.When.Ends())
	r.Minute, _ = x.HourMinute()
	r.Reason, _ = pass.ParseReason(x.Reason)
	if x.Reason == "" {
		r.Reason = pass.NoReason
	}
	if m, err := hours.ParseMode(x.Mode); err == nil {
		r.Mode = m
	}
	for _, id := range x.InputIDs {
		if r.Inputs == nil {
			r.Inputs = map[site.ID]bool{}
		}
		r.Inputs[id] = true
	}
	for _, id := range x.AlarmIDs {
		if r.Areas == nil {
			r.Areas = map[site.ID]bool{}
		}
		r.Areas[id] = true
	}
	r.Arms = x.ArmIDs
	return r
}

// KindOf is the kind of event that a reaction waits for; 0 of an hour and of what only a server knows.
func KindOf(x *site.Reaction) pass.Kind { return kindOf(string(x.When)) }

// kindOf finds the kind of event with a code; 0 where there is none, as of an hour.
func kindOf(code string) pass.Kind {
	var k pass.Kind
	if k.UnmarshalText([]byte(code)) != nil {
		return 0
	}
	return k
}

// Matches reports whether an event is what the rule waits for.
func (r *Rule) Matches(f *pass.Fact) bool {
	return f.Kind == r.When && (r.Doors == nil || r.Doors[f.Door]) && (r.Inputs == nil || r.Inputs[f.Input]) &&
		(r.Areas == nil || r.Areas[f.Rule]) &&
		(r.Reason == pass.NoReason || r.Reason == f.Reason)
}

// Engine is the reactions of a controller. The zero value does nothing.
type Engine struct {
	rules  []*Rule
	hourly []*Rule // that wait for an hour
	by     map[pass.Kind][]*Rule
	ends   map[pass.Kind][]*Rule
	struck []hours.Instant // when each of them is struck next
	limits map[site.ID]*Limit
	out    map[point.Address]*output
	order  []point.Address
	there  func(id site.ID) bool
}

// New returns the engine of some rules. There reports whether the controller has a door, an input or an alarm area:
// what began at one that is no more has ended.
func New(rules []*Rule, there func(id site.ID) bool) *Engine {
	e := &Engine{
		rules: rules, there: there, by: map[pass.Kind][]*Rule{}, ends: map[pass.Kind][]*Rule{}, limits: map[site.ID]*Limit{},
		out: map[point.Address]*output{},
	}
	for _, r := range rules {
		if r.When == 0 {
			e.hourly = append(e.hourly, r)
		} else {
			e.by[r.When] = append(e.by[r.When], r)
		}
		if r.Until && r.Ends != 0 {
			e.ends[r.Ends] = append(e.ends[r.Ends], r)
		}
		e.limits[r.ID] = &Limit{}
		for _, at := range r.Outputs {
			e.outputAt(at)
		}
	}
	e.struck = make([]hours.Instant, len(e.hourly))
	for i := range e.struck { // until the controller starts
		e.struck[i] = hours.Never
	}
	return e
}

// Limit is how often something happens within a minute. The zero value has not happened.
type Limit struct {
	began hours.Instant
	n     int
}

// Take counts one more at an instant. Ok is false where it has been as often as it may; first is true once, when that
// begins.
func (l *Limit) Take(at hours.Instant) (ok, first bool) {
	if at >= l.began.Add(time.Minute) || at < l.began {
		l.began, l.n = at, 0
	}
	l.n++
	return l.n <= site.MostInARow, l.n == site.MostInARow+1
}

// Follow does what the reactions say to an event.
func (e *Engine) Follow(f *pass.Fact, do *pass.Effects) {
	switch f.Kind {
	case pass.Due:
		e.due(f.At, do)
		return
	case pass.OutputAsked, pass.OutputLet:
		e.asked(f)
		return
	case pass.Started, pass.ImageLoaded, pass.ClockSet:
		e.strikes(f.At)
	}
	for _, r := range e.ends[f.Kind] {
		for _, at := range r.Outputs {
			delete(e.out[at].causes, CauseOf(r.ID, f))
		}
	}
	for _, r := range e.by[f.Kind] {
		if r.Matches(f) {
			e.react(r, f, do)
		}
	}
}

// react does what a rule says, unless it is outside of its hours or rests.
func (e *Engine) react(r *Rule, f *pass.Fact, do *pass.Effects) {
	if r.Schedule == nil || !r.Schedule.OpenAt(r.Local, f.At) {
		return
	}
	ok, first := e.limits[r.ID].Take(f.At)
	if first {
		do.Tell(pass.Fact{At: f.At, Kind: pass.ReactionRests, Rule: r.ID, Next: e.limits[r.ID].began.Add(time.Minute)})
	}
	if !ok {
		return
	}
	do.Tell(pass.Fact{At: f.At, Kind: pass.Reacted, Rule: r.ID, Door: f.Door, Input: f.Input, Pass: f.Seq})
	var ask pass.Fact
	switch r.Do {
	case site.DoOn, site.DoOff:
		for _, at := range r.Outputs {
			e.out[at].follow(r, f)
		}
		return
	case site.DoArm, site.DoDisarm:
		for _, id := range r.Arms {
			do.Tell(pass.Fact{At: f.At, Kind: pass.AlarmAsked, Active: r.Do == site.DoArm, Rule: id, Note: "a reaction"})
		}
		return
	case site.DoRelease:
		ask.Kind = pass.ReleaseAsked
	case site.DoHold:
		ask.Kind, ask.Active, ask.Mode = pass.HoldAsked, true, r.Mode
		if r.For > 0 {
			ask.Next = f.At.Add(r.For)
		}
	case site.DoBack:
		ask.Kind = pass.HoldAsked
	case site.DoLockdown:
		ask.Kind, ask.Active, ask.Rule = pass.LockdownAsked, true, r.Rule
	case site.DoFire:
		ask.Kind, ask.Active, ask.Rule = pass.FireAsked, true, r.Rule
	default:
		return
	}
	ask.At, ask.Note = f.At, "a reaction"
	for _, place := range r.Places {
		do.TellAt(place, ask)
	}
}

// due ends what is over, and strikes hours.
func (e *Engine) due(now hours.Instant, do *pass.Effects) {
	for _, at := range e.order {
		o := e.out[at]
		if o.OnUntil != 0 && o.OnUntil <= now {
			o.OnUntil = 0
		}
		if o.OffUntil != 0 && o.OffUntil <= now {
			o.OffUntil = 0
		}
	}
	for i, t := range e.struck {
		if t <= now {
			e.react(e.hourly[i], &pass.Fact{At: now}, do)
			e.struck[i] = e.strike(e.hourly[i], now)
		}
	}
}

func (e *Engine) strikes(now hours.Instant) {
	for i, r := range e.hourly {
		e.struck[i] = e.strike(r, now)
	}
}

// strike is when an hour is struck next after an instant, by the wall clock: on a day that lacks it, when the clocks
// have gone forward.
func (e *Engine) strike(r *Rule, now hours.Instant) hours.Instant {
	for day := r.Local.Zone.Wall(now).Day; ; day++ {
		if at := r.Local.Zone.Resolve(day, r.Minute); at > now {
			return at
		}
	}
}

// Claim wants outputs on or off.
func (e *Engine) Claim(say func(out point.Address, rank point.Rank, on bool)) {
	for _, at := range e.order {
		if on, says := e.out[at].wants(); says {
			say(at, point.Reaction, on)
		}
	}
}

// Wake returns when an output's time is over, or an hour is struck.
func (e *Engine) Wake() hours.Instant {
	w := hours.Never
	for _, o := range e.out {
		for _, t := range [2]hours.Instant{o.OnUntil, o.OffUntil} {
			if t != 0 {
				w = min(w, t)
			}
		}
	}
	for _, t := range e.struck {
		w = min(w, t)
	}
	return w
}

// Shift moves times along with the clock; hours are struck by the new one.
func (e *Engine) Shift(by time.Duration) {
	for _, o := range e.out {
		for _, t := range [2]*hours.Instant{&o.OnUntil, &o.OffUntil} {
			if *t != 0 {
				*t = t.Add(by)
			}
		}
	}
	for i, t := range e.struck {
		if t != hours.Never {
			e.struck[i] = t.Add(by)
		}
	}
}

// Save remembers what outputs were turned to.
func (e *Engine) Save() ([]byte, error) {
	all := map[point.Address]kept{}
	for at, o := range e.out {
		k := kept{memory: o.memory}
		for c := range o.causes {
			if r := e.ruleOf(c, at); c.Afar || r != nil && GoesOn(r.When) {
				k.Causes = append(k.Causes, c)
			}
		}
		if k.memory != (memory{}) || k.Causes != nil {
			slices.SortFunc(k.Causes, Cause.compare)
			all[at] = k
		}
	}
	if len(all) == 0 {
		return nil, nil
	}
	return json.Marshal(all)
}

// Restore takes it back.
func (e *Engine) Restore(b []byte) error {
	var all map[point.Address]kept
	if err := json.Unmarshal(b, &all); err != nil {
		return fmt.Errorf("reactions: %w", err)
	}
	for at, k := range all {
		o := e.outputAt(at)
		o.memory = k.memory
		e.goOn(o, at, slices.Values(k.Causes))
	}
	return nil
}

// Take goes on: outputs stay as they were turned by reactions that there still are.
func (e *Engine) Take(now hours.Instant, was pass.Part, _ *pass.Effects) {
	old := was.(*Engine)
	for at, before := range old.out {
		o := e.outputAt(at)
		o.memory = before.memory
		if o.By != 0 && !slices.ContainsFunc(e.rules,
			func(r *Rule) bool { return r.ID == o.By && slices.Contains(r.Outputs, at) }) {
			o.On, o.Off, o.By = false, false, 0
		}
		e.goOn(o, at, maps.Keys(before.causes))
	}
	for id, l := range e.limits {
		if before := old.limits[id]; before != nil {
			*l = *before
		}
	}
	e.strikes(now)
}

// Retire ends nothing that anybody would see.
func (e *Engine) Retire(hours.Instant, *pass.Effects) {}
