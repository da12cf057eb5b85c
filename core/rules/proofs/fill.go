package proofs

import (
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// fill is who fills which part of a combination. It does not allocate.
type fill struct {
	groups map[site.ID]map[site.ID]bool // who is in each
	people []site.ID
	slots  [site.MostTogether]site.ID // the group of each place; 0: anybody who may come in. Those of groups stand first
	taken  [site.MostTogether]int     // the person of each place, counted from 1; 0: nobody yet
	n      int                        // places
}

// lay lays out the places of a combination, one a person.
func (f *fill) lay(c *site.Combination) {
	f.n = max(0, min(c.Total, len(f.slots)))
	at := 0
	for _, p := range c.Parts {
		for range p.Count {
			if at < f.n {
				f.slots[at] = p.GroupID
				at++
			}
		}
	}
}

// fits reports whether people, in the order in which they came, can all have a place in a combination at once. Who
// fills which part is a matching, and not first come: a person moves to another part where that lets the next one in.
func (f *fill) fits(c *site.Combination) bool {
	f.lay(c)
	if len(f.people) > f.n {
		return false
	}
	for person := range f.people {
		if c.Listed {
			if !f.takes(person, person) {
				return false
			}
			f.taken[person] = person + 1
			continue
		}
		var tried [site.MostTogether]bool
		if !f.seat(person, &tried) {
			return false
		}
	}
	return true
}

func (f *fill) takes(slot, person int) bool {
	return f.slots[slot] == 0 || f.groups[f.slots[slot]][f.people[person]]
}

// seat finds a place for a person, moving others along an augmenting path (as in any book on bipartite matching).
func (f *fill) seat(person int, tried *[site.MostTogether]bool) bool {
	for s := range f.n {
		if tried[s] || !f.takes(s, person) {
			continue
		}
		tried[s] = true
		if f.taken[s] == 0 || f.seat(f.taken[s]-1, tried) {
			f.taken[s] = person + 1
			return true
		}
	}
	return false
}

// left adds the places that nobody has to what is wanted, by group, in their order.
func (f *fill) left(m *pass.More) {
	for s := 0; s < f.n; s++ {
		if f.taken[s] != 0 {
			continue
		}
		w := pass.Wanted{Group: f.slots[s]}
		for ; s < f.n && f.slots[s] == w.Group; s++ {
			if f.taken[s] == 0 {
				w.Count++
			}
		}
		s--
		m.Want(w)
	}
}
