package proofs

import (
	"slices"

	"amberkeystone/core/site"
)

// mostTried is how many sets of people are gone through at the most to count those that open.
const mostTried = 200_000

// Possible reports whether some people, n in all, can fill a combination. May tells who is in which group.
func Possible(c *site.Combination, n int, may func(person int, group site.ID) bool) bool {
	if c.Total < 1 {
		return false
	}
	var f fill
	f.lay(c)
	for s := range f.n { // a place finds its person, moving others where that helps
		if !f.find(s, n, may, make([]bool, n)) {
			return false
		}
	}
	return true
}

// find finds somebody for a place.
func (f *fill) find(slot, n int, may func(person int, group site.ID) bool, tried []bool) bool {
	for p := range n {
		if tried[p] || f.slots[slot] != 0 && !may(p, f.slots[slot]) {
			continue
		}
		tried[p] = true
		if at := slices.Index(f.taken[:f.n], p+1); at < 0 || f.find(at, n, may, tried) {
			f.taken[slot] = p + 1
			return true
		}
	}
	return false
}

// Sets lists sets of people who fill a combination, each once, in the order of the people: how many there are, and the
// first of them. Known is false where there are too many to go through.
func Sets(
	c *site.Combination, n, first int, may func(person int, group site.ID) bool,
) (count int, list [][]int, known bool) {
	if c.Total < 1 || c.Total > site.MostTogether { // as while it is being filled in
		return 0, nil, true
	}
	tries := 1
	for i := range c.Total {
		tries = tries * (n - i) / (i + 1)
		if tries > mostTried {
			return 0, nil, false
		}
	}
	var places fill
	places.lay(c)
	chosen := make([]int, 0, c.Total)
	var walk func(from int)
	walk = func(from int) {
		if len(chosen) == c.Total {
			if seated(places.slots[:places.n], chosen, may) { // whatever the order is in which they come
				if count++; len(list) < first {
					list = append(list, slices.Clone(chosen))
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

// seated reports whether people can each have a place, by trying: they are at most five.
func seated(slots []site.ID, people []int, may func(person int, group site.ID) bool) bool {
	if len(people) == 0 {
		return true
	}
	for s, g := range slots {
		if g != 0 && !may(people[0], g) {
			continue
		}
		rest := slices.Concat(slots[:s], slots[s+1:])
		if seated(rest, people[1:], may) {
			return true
		}
	}
	return false
}
