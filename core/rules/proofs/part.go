package proofs

import (
	"cmp"
	"slices"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Part remembers who waits at one side of a door.
type Part struct {
	Out   bool
	Place int
	Rules []Rule // those of this side; the first that is in force decides
	Local hours.Local
	// Approves reports whether whoever a pass is of may approve others there.
	Approves func(p *pass.Pass) bool

	there    []member
	of       site.ID       // the rule by which they wait
	deadline hours.Instant // the next one comes before then

	last      uint64 // of the one who completed them, while an operator has the last word
	confirmed bool   // an operator has said yes
}

// member is somebody who waits for the others.
type member struct {
	pass.Pass
	shown proof
}

// rule returns the rule that is in force at an instant, or nil.
func (p *Part) rule(at hours.Instant) *Rule {
	if len(p.Rules) == 0 {
		return nil
	}
	for i := range p.Rules {
		if p.Rules[i].Schedule.OpenAt(p.Local, at) {
			return &p.Rules[i]
		}
	}
	return nil
}

// SeveralPeople reports whether only several people come in together at an instant.
func (p *Part) SeveralPeople(at hours.Instant) bool {
	r := p.rule(at)
	return r != nil && r.Kind != site.AnotherProof
}

// waiting lists who waits by a rule.
func (p *Part) waiting(r *Rule, at hours.Instant) []member {
	if p.of != r.ID || at >= p.deadline {
		return nil
	}
	return p.there
}

// Follow takes note of who waits, who completes them, and who spoils it.
func (p *Part) Follow(f *pass.Fact, do *pass.Effects) {
	switch {
	case f.Kind == pass.Due:
		p.end(f.At, "", do)
	case f.Out != p.Out && f.Kind != pass.ConfirmAsked || len(p.Rules)+len(p.there) == 0:
	case f.Kind == pass.AwaitsMore:
		p.join(f, do)
	case f.Kind == pass.ConfirmAsked && p.last != 0:
		p.confirm(f, do)
	case f.Kind == pass.WasGranted && len(p.there) > 0 && f.With == 0:
		p.granted(f, do)
	case f.Kind == pass.WasRefused && len(p.there) > 0 && f.Reason != pass.MoreTimeout:
		p.leave(f.Pass)
		p.end(f.At, "refused", do)
	}
}

// join takes in somebody who waits. Another proof is wanted of one person: whoever came before them gives way.
func (p *Part) join(f *pass.Fact, do *pass.Effects) {
	number, more := cmp.Or(f.Pass, f.Seq), f.Attempt.More
	if p.of != more.Rule || more.Proof && len(p.there) > 0 && p.there[0].Person != f.Person {
		p.end(f.At, "replaced", do)
	}
	window := 0
	for i := range p.Rules {
		if p.Rules[i].ID == more.Rule {
			window = p.Rules[i].Window
		}
	}
	if p.last = 0; more.Confirm {
		p.last = number
	}
	p.of, p.deadline = more.Rule, f.At.Add(time.Duration(window)*time.Second)
	m := member{*f.Attempt, proofOf(f.Attempt)}
	if i := slices.IndexFunc(p.there, func(m member) bool { return m.Person == f.Person }); i >= 0 {
		if p.there[i].Number != number { // a pass of theirs that had waited for something else takes its place
			p.refuse(&p.there[i], f.At, "replaced", do)
			p.there[i].Number = number
		}
		return
	}
	m.Number, m.Trace = number, nil
	p.there = append(p.there, m)
}

// granted grants those who waited together with the one who completed them. Somebody whom the rule did not ask grants
// nobody.
func (p *Part) granted(f *pass.Fact, do *pass.Effects) {
	p.leave(f.Pass)
	if f.Attempt.More.Rule != p.of {
		p.end(f.At, "", do)
		return
	}
	for i := range p.there {
		m := p.there[i].Pass
		if m.Person == f.Person {
			p.refuse(&p.there[i], f.At, "replaced", do)
			continue
		}
		m.At, m.Reason, m.Waits = f.At, pass.Granted, false
		if m.Duress {
			m.Reason = pass.GrantedDuress
		}
		g := m.Describe(pass.WasGranted, f.Door)
		g.With = cmp.Or(f.Pass, f.Seq)
		do.Tell(g)
	}
	p.clear()
}

// Awaiting lists the people who are all there and wait for an operator's word, and until when.
func (p *Part) Awaiting() (people []site.ID, until hours.Instant) {
	if p.last == 0 {
		return nil, 0
	}
	for i := range p.there {
		people = append(people, p.there[i].Person)
	}
	return people, p.deadline
}

// confirm lets those in who wait for an operator, or refuses them. Who comes in is asked anew of all gates: a door of
// an interlock may have opened meanwhile.
func (p *Part) confirm(f *pass.Fact, do *pass.Effects) {
	for i := range p.there {
		m := &p.there[i]
		a := pass.Attempt{Request: m.Request, Number: m.Number, Ends: pass.OperatorRefused, Note: f.Note}
		a.At, a.Door = f.At, p.Place
		switch {
		case !f.Active:
			do.End(a)
		case m.Number == p.last:
			p.confirmed = true
			do.Tell(pass.Fact{
				At: f.At, Kind: pass.WasConfirmed, Out: p.Out, Person: m.Person, Rule: p.of, Pass: m.Number, Note: f.Note,
			})
			do.Try(a)
		}
	}
	if !f.Active {
		do.Show(p.Out, pass.ShowRefused)
		p.clear()
	}
}

// leave takes out the pass that has ended by itself.
func (p *Part) leave(number uint64) {
	p.there = slices.DeleteFunc(p.there, func(m member) bool { return number != 0 && m.Number == number })
}

// end refuses all who wait.
func (p *Part) end(now hours.Instant, note string, do *pass.Effects) {
	for i := range p.there {
		p.refuse(&p.there[i], now, note, do)
	}
	if len(p.there) > 0 && note == "" {
		do.Show(p.Out, pass.ShowRefused)
	}
	p.clear()
}

func (p *Part) refuse(m *member, now hours.Instant, note string, do *pass.Effects) {
	a := pass.Attempt{Request: m.Request, Number: m.Number, Ends: pass.MoreTimeout, Note: note}
	a.At, a.Door = now, p.Place
	do.End(a)
}

func (p *Part) clear() {
	p.there, p.of, p.deadline = nil, 0, 0
	p.last, p.confirmed = 0, false
}

// Wake returns when the window ends.
func (p *Part) Wake() hours.Instant { return p.deadline.OrNever() }

// Shift keeps what is left of the window.
func (p *Part) Shift(by time.Duration) { p.deadline = p.deadline.Shift(by) }

// Save remembers nothing: after a restart all begin anew.
func (p *Part) Save() ([]byte, error) { return nil, nil }

// Restore does nothing.
func (p *Part) Restore([]byte) error { return nil }

// Take goes on where the rule is still there; else those who wait begin anew.
func (p *Part) Take(now hours.Instant, was pass.Part, do *pass.Effects) {
	old := was.(*Part)
	p.there, p.of, p.deadline = old.there, old.of, old.deadline
	p.last, p.confirmed = old.last, old.confirmed
	if !slices.ContainsFunc(p.Rules, func(r Rule) bool { return r.ID == p.of }) {
		p.end(now, "", do)
	}
}

// Retire refuses those who wait.
func (p *Part) Retire(now hours.Instant, do *pass.Effects) { p.end(now, "", do) }
