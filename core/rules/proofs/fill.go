package proofs

import (
	"slices"

	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// fill is who fills which part of a combination.
type fill struct {
	slots []site.ID // the group of each; 0: anybody who may come in. Those of groups stand first
	taken []int     // the person of each slot; −1: nobody yet
	may   func(person int, group site.ID) bool
}

// slots lists the places of a combination, one a person.
func slots(c *site.Combination) []site.ID {
	out := make([]site.ID, 0, c.Total)
	for _, p := range c.Parts {
		for range p.Count {
			out = append(out, p.GroupID)
		}
	}
	for len(out) < c.Total {
		out = append(out, 0)
	}
	return out
}

// fits reports whether people, in the order in which they came, can all have a place in a combination at once, and
// which places are left. Who fills which part is a matching, and not first come: a person moves to another part where
// that lets the next one in.
func fits(c *site.Combination, n int, may func(person int, group site.ID) bool) (left []pass.Wanted, ok bool) {
	f := fill{slots: slots(c), may: may}
	if n > len(f.slots) {
		return nil, false
	}
	f.taken = slices.Repeat([]int{-1}, len(f.slots))
	for person := range n {
		switch {
		case c.Listed && !f.takes(person, person):
			return nil, false
		case c.Listed:
			f.taken[person] = person
		case !f.seat(person, make([]bool, len(f.slots))):
			return nil, false
		}
	}
	return f.left(), true
}

func (f *fill) takes(slot, person int) bool {
	return f.slots[slot] == 0 || f.may(person, f.slots[slot])
}

// seat finds a place for a person, moving others along an augmenting path (as in any book on bipartite matching).
func (f *fill) seat(person int, tried []bool) bool {
	for s := range f.slots {
		if tried[s] || !f.takes(s, person) {
			continue
		}
		tried[s] = true
		if f.taken[s] < 0 || f.seat(f.taken[s], tried) {
			f.taken[s] = person
			return true
		}
	}
	return false
}

// left counts the places that nobody has, by group, in their order.
func (f *fill) left() (out []pass.Wanted) {
	for s, person := range f.taken {
		switch n := len(out); {
		case person >= 0:
		case n > 0 && out[n-1].Group == f.slots[s]:
			out[n-1].Count++
		default:
			out = append(out, pass.Wanted{Group: f.slots[s], Count: 1})
		}
	}
	return out
}
