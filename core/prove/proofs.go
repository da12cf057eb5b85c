package prove

import (
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/pass"
	"amberkeystone/core/rules/proofs"
	"amberkeystone/core/site"
)

// ProofWords says what a rule wants besides a grant.
func (b *Book) ProofWords(x *site.Proofs) string {
	when, side := "During "+b.Name(x.ScheduleID), ""
	if s := b.schedules[x.ScheduleID]; s != nil && s.IsAlways() {
		when = "At all hours"
	}
	if x.Both {
		side = ", on the way in and out,"
	}
	within := fmt.Sprintf(" within %d s", x.Window)
	switch x.Kind {
	case site.AnotherProof:
		return when + side + " whoever may come in shows two different proofs" + within + ", such as a card and a PIN."
	case site.Approval:
		return when + side + " somebody who may come in presents first, then somebody else whose level approves" +
			within + "."
	}
	var ways []string
	for i := range x.Combinations {
		ways = append(ways, b.CombinationWords(&x.Combinations[i]))
	}
	return when + side + " it takes " + strings.Join(ways, ", or ") + "; each comes" + within + " of the one before."
}

// CombinationWords names who comes together: "one from Registrars and one from Conservators".
func (b *Book) CombinationWords(c *site.Combination) string {
	rest := c.Total
	var wanted []pass.Wanted
	for _, p := range c.Parts {
		wanted = append(wanted, pass.Wanted{Group: p.GroupID, Count: p.Count})
		rest -= p.Count
	}
	if rest > 0 {
		wanted = append(wanted, pass.Wanted{Count: rest})
	}
	out := both(b.wantedWords(wanted))
	if len(c.Parts) == 0 {
		out = few(c.Total) + " people who may come in"
	}
	if c.Listed {
		out += ", in this order"
	}
	if c.Confirmed {
		out += ", and an operator who confirms"
	}
	return out
}

// wantedWords names what is still wanted: "one from Registrars".
func (b *Book) wantedWords(list []pass.Wanted) (out []string) {
	for _, w := range list {
		n := few(w.Count)
		if w.Group == 0 {
			out = append(out, n+" more who may come in")
			continue
		}
		out = append(out, n+" from "+b.Name(w.Group))
	}
	return out
}

// aloneWords says what somebody lacks who would be let in with others, or with another proof.
func (b *Book) aloneWords(e *pass.Fact) string {
	switch x := b.proofRule(e.Rule); {
	case x != nil && x.Kind == site.AnotherProof:
		return "Not by one proof alone: it takes another kind too, such as a PIN"
	case x != nil && x.Kind == site.Approval:
		return "Not alone: it takes somebody whose level approves too"
	}
	return "Not alone: it takes " + both(b.wantedWords(e.Wanted)) + " too"
}

// moreWords says how far those have come who pass together: "2 of 3: one from Registrars".
func (b *Book) moreWords(e *pass.Fact) string {
	switch x := b.proofRule(e.Rule); {
	case e.Confirm:
		return fmt.Sprintf("%d of %d: all are there, an operator confirms", e.Count, e.Of)
	case x == nil:
		return fmt.Sprintf("%d of %d", e.Count, e.Of)
	case x.Kind == site.AnotherProof:
		return "another kind of proof of the same person"
	case x.Kind == site.Approval:
		return "somebody whose level approves"
	}
	return fmt.Sprintf("%d of %d: %s", e.Count, e.Of, both(b.wantedWords(e.Wanted)))
}

func (b *Book) proofRule(id site.ID) *site.Proofs {
	for i := range b.Config.Proofs {
		if b.Config.Proofs[i].ID == id {
			return &b.Config.Proofs[i]
		}
	}
	return nil
}

// ProofsMeaning is what a rule of several proofs means at its doors.
type ProofsMeaning struct {
	Words  string               `json:"words" doc:"What it does, as a sentence"`
	Effect string               `json:"effect" doc:"Whom it touches"`
	Ways   []CombinationMeaning `json:"ways" doc:"Of combinations: who opens by each"`
	Who    []string             `json:"who" doc:"Of approval: who approves there"`
}

// CombinationMeaning is who fills a combination.
type CombinationMeaning struct {
	Words    string   `json:"words"`
	Count    int      `json:"count" doc:"So many sets of people; −1: too many to count"`
	Examples []string `json:"examples" doc:"The first of them, by name"`
	Possible bool     `json:"possible"`
}

// mostExamples is how many sets of people are named.
const mostExamples = 6

// MeaningOf says what a rule would mean, which need not be in the configuration.
func (b *Book) MeaningOf(x *site.Proofs) ProofsMeaning {
	m := ProofsMeaning{Words: b.ProofWords(x), Ways: []CombinationMeaning{}, Who: []string{}}
	t := b.Config.Entrants(b.Effective, x)
	for i := range x.Combinations {
		c := &x.Combinations[i]
		w := CombinationMeaning{
			Words: b.CombinationWords(c), Examples: []string{}, Possible: proofs.Possible(c, len(t.People), t.In),
		}
		n, sets, known := proofs.Sets(c, len(t.People), mostExamples, t.In)
		if w.Count = n; !known {
			w.Count = -1
		}
		for _, set := range sets {
			var names []string
			for _, p := range set {
				names = append(names, t.People[p].Name+groupsOf(b.Config, c, t.People[p]))
			}
			w.Examples = append(w.Examples, strings.Join(names, " + "))
		}
		m.Ways = append(m.Ways, w)
	}
	if x.Kind == site.Approval {
		for _, p := range t.Approvers {
			m.Who = append(m.Who, p.Name)
		}
	}
	m.Effect = b.touches(x, len(t.People))
	return m
}

// groupsOf names the groups of a combination that somebody is in: " (Registrars)".
func groupsOf(c *site.Config, m *site.Combination, p *site.Person) string {
	var names []string
	for _, part := range m.Parts {
		for i := range c.Groups {
			if g := &c.Groups[i]; g.ID == part.GroupID && g.Has(p) && !slices.Contains(names, g.Name) {
				names = append(names, g.Name)
			}
		}
	}
	if len(names) == 0 {
		return ""
	}
	return " (" + strings.Join(names, ", ") + ")"
}

// touches says whom a rule touches.
func (b *Book) touches(x *site.Proofs, n int) string {
	var doors []string
	for _, d := range x.DoorIDs {
		doors = append(doors, b.Name(d))
	}
	people := count(n, "person", "people")
	switch {
	case len(doors) == 0:
		return "Choose the doors where it holds."
	case x.Off:
		return "Not in use: it touches nobody."
	case x.Kind == site.AnotherProof:
		return fmt.Sprintf("Nobody enters %s by one proof alone: %s.", both(doors), people)
	}
	return fmt.Sprintf("Nobody enters %s alone: %s.", both(doors), people)
}
