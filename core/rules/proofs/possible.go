package proofs

import (
	"slices"

	"amberkeystone/core/site"
)

// mostTried is how many sets of people are gone through at the most to count those that open.
const mostTried = 200_000

// Possible reports whether some people, n in all, can fill a combination. May tells who is in which group; group 0 has
// everybody.
func Possible(c *site.Combination, n int, may func(person int, group site.ID) bool) bool {
	f := fill{slots: slots(c), may: may}
	f.taken = slices.Repeat([]int{-1}, len(f.slots))
	for s := range f.slots { // a place finds its person, moving others where that helps
		if !f.find(s, n, make([]bool, n)) {
			return false
		}
	}
	return true
}

// find finds somebody for a place.
func (f *fill) find(slot, n int, tried []bool) bool {
	for p := range n {
		if tried[p] || !f.takes(slot, p) {
			continue
		}
		tried[p] = true
		if at := slices.Index(f.taken, p); at < 0 || f.find(at, n, tried) {
			f.taken[slot] = p
			return true
		}
	}
	return false
}

// Sets lists sets of people who fill a combination, each once, in the order of the people: how many there are, and the
// first of them. Known is false where there are too many to go through.
func Sets(c *site.Combination, n, first int, may func(person int, group site.ID) bool) (count int, list [][]int, known bool) {
	tries := 1
	for i := range c.Total {
		tries = tries * (n - i) / (i + 1)
		if tries > mostTried {
			return 0, nil, false
		}
	}
	chosen := make([]int, 0, c.Total)
	var walk func(from int)
	walk = func(from int) {
		if len(chosen) == c.Total {
			loose := *c
			loose.Listed = false // who they are, whatever the order
			if _, ok := fits(&loose, c.Total, func(p int, g site.ID) bool { return may(chosen[p], g) }); ok {
				if count++; len(list) < first {
					list = append(list, append([]int(nil), chosen...))
				}
			}
			return
		}
		for p := from; p < n; p++ {
			chosen = append(chosen, p)
			walk(p + 1)
			chosen = chosen[:len(chosen)-1]
		}
	}
	walk(0)
	return count, list, true
}
