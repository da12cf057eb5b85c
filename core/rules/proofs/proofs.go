// Package proofs is a door where one proof is not enough (design 3.8): another kind of credential of the same person,
// somebody who approves, or people who together fill a combination. Every read is a decision of its own first: Gate is
// asked after all others, and lets whoever would be granted wait for the rest. Part remembers who waits, and grants all
// of them with the one who completes them.
//
// Reading order: proofs.go, part.go, fill.go.
package proofs

import (
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Rule is one rule at a door, ready to be asked.
type Rule struct {
	*site.Proofs
	Schedule *hours.Schedule
	Groups   map[site.ID]map[site.ID]bool // who is in each group
}

// typed is a PIN as a kind of proof.
const typed site.CredentialKind = "PIN"

// proof is the kinds of proof that a pass shows: at most a credential and a PIN.
type proof [2]site.CredentialKind

func proofOf(p *pass.Pass) (shown proof) {
	switch {
	case p.HasCard && p.Shown != (pass.Shown{}):
		shown[0] = p.Shown.Kind
	case p.HasCard:
		shown[0] = site.Card
	}
	if p.Typed() {
		shown[1] = typed
	}
	return shown
}

// kinds counts different ones of two proofs.
func kinds(a, b proof) (n int) {
	all := [...]site.CredentialKind{a[0], a[1], b[0], b[1]}
	for i, k := range all {
		if k != "" && !slices.Contains(all[:i], k) {
			n++
		}
	}
	return n
}

// Gate lets a pass wait for the others.
type Gate struct{ Part *Part }

// Check sees whether a pass completes those who wait, could, or cannot.
func (g Gate) Check(p *pass.Pass) pass.Verdict {
	if p.Asks() == hours.Free {
		return pass.Yes
	}
	r := g.Part.rule(p.At)
	if r == nil {
		return pass.Yes
	}
	waiting := g.Part.waiting(r, p.At)
	switch r.Kind {
	case site.AnotherProof:
		return another(r, waiting, p)
	case site.Approval:
		return g.approval(r, waiting, p)
	}
	return g.combination(r, waiting, p)
}

func verdict(r *Rule, p *pass.Pass, m pass.More, complete bool) pass.Verdict {
	m.Rule = r.ID
	p.More = m
	p.Trace.Add(pass.CheckMore, complete, int64(r.ID), int64(m.Count))
	if complete {
		return pass.Yes
	}
	return pass.WaitFor(pass.WaitingForMore)
}

func wrong(r *Rule, p *pass.Pass, n int) pass.Verdict {
	p.Trace.Add(pass.CheckMore, false, int64(r.ID), int64(n))
	return pass.No(pass.WrongGroup, 0)
}

// another wants two kinds of proof of one person. A second read of theirs goes on with the pass of the first.
func another(r *Rule, waiting []member, p *pass.Pass) pass.Verdict {
	shown, before := proofOf(p), proof{}
	for i := range waiting {
		if m := &waiting[i]; m.Person == p.Person {
			goesOn(p, m)
			before = m.shown
		}
	}
	n := kinds(shown, before)
	return verdict(r, p, pass.More{Proof: true, Count: min(n, 2), Of: 2}, n > 1)
}

// approval wants somebody who may come in, then somebody else whose level approves.
func (g Gate) approval(r *Rule, waiting []member, p *pass.Pass) pass.Verdict {
	switch {
	case len(waiting) == 0:
		return verdict(r, p, pass.More{Count: 1, Of: 2}, false)
	case waiting[0].Person == p.Person:
		goesOn(p, &waiting[0])
		return verdict(r, p, pass.More{Count: 1, Of: 2}, false)
	case g.Part.Approves(p):
		return verdict(r, p, pass.More{Count: 2, Of: 2}, true)
	}
	return wrong(r, p, 2)
}

// combination wants people who fill the parts of one of its combinations, and where it says so an operator's word.
func (g Gate) combination(r *Rule, waiting []member, p *pass.Pass) pass.Verdict {
	var people crowd
	again := false
	for i := range waiting {
		people.add(waiting[i].Person)
		if waiting[i].Person == p.Person { // one person counts once
			again = true
			goesOn(p, &waiting[i])
		}
	}
	if !again {
		people.add(p.Person)
	}
	var best pass.More
	for i := range r.Combinations {
		c := &r.Combinations[i]
		f := fill{groups: r.Groups, people: people.list()}
		if !f.fits(c) {
			continue
		}
		m := pass.More{Count: people.n, Of: c.Total}
		if f.left(&m); len(m.Wanted()) == 0 {
			m.Confirm = c.Confirmed && !g.Part.confirmed
			return verdict(r, p, m, !m.Confirm)
		}
		if best.Of == 0 || m.Of < best.Of { // the one that is nearest to its end
			best = m
		}
	}
	if best.Of == 0 {
		return wrong(r, p, people.n)
	}
	return verdict(r, p, best, false)
}

// crowd is a few people, without allocation. One more than may come together is one too many, and counted.
type crowd struct {
	people [site.MostTogether + 1]site.ID
	n      int
}

func (c *crowd) add(person site.ID) {
	if c.n < len(c.people) {
		c.people[c.n] = person
		c.n++
	}
}

func (c *crowd) list() []site.ID { return c.people[:c.n] }

// goesOn makes a read of somebody who waits already the same pass, unless it is one of its own that has waited for
// something else.
func goesOn(p *pass.Pass, m *member) {
	if p.Number == 0 {
		p.Number = m.Number
	}
}
