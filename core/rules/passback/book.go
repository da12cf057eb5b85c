// Package passback is areas and anti-passback (design 3.9): who is where, and what follows from that at a door. Book is
// what a controller knows of places, Part takes note of who goes through, Gate refuses who is there already, who is not
// where they leave from, and whoever would be one too many.
//
// A place is state, not a count: of two the later one wins, whoever tells them and in whatever order, so that
// controllers that were cut off come together again without counting anybody twice. IEC 60839-11-1 tells hard from soft
// and timed anti-passback (from memory); here they are refuse, log, and a time.
//
// Reading order: book.go, part.go, gate.go.
package passback

import (
	"cmp"
	"encoding/json"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Place is where somebody is.
type Place = pass.Whereabouts

// after reports whether a place is later than another: by its instant, then by controller and number.
func after(p, o *Place) bool {
	return cmp.Or(cmp.Compare(p.At, o.At), cmp.Compare(p.Controller, o.Controller), cmp.Compare(p.Seq, o.Seq)) > 0
}

// Book is the places that one controller knows. The zero value knows none.
type Book struct {
	places map[site.ID]Place
	inside map[site.ID]int // by area
}

// NewBook returns a book that knows nobody.
func NewBook() *Book { return &Book{places: map[site.ID]Place{}, inside: map[site.ID]int{}} }

// Put takes a place in, unless a later one of that person is known; it reports whether it did. Putting places in any
// order, and any of them again, gives the same book.
func (b *Book) Put(p Place) bool {
	was, known := b.places[p.Person]
	if known && !after(&p, &was) {
		return false
	}
	if known && !was.Unknown {
		b.inside[was.Area]--
	}
	b.places[p.Person] = p
	if !p.Unknown {
		b.inside[p.Area]++
	}
	return true
}

// Of returns where somebody is; ok is false where that is not known.
func (b *Book) Of(person site.ID) (p Place, ok bool) {
	p, ok = b.places[person]
	return p, ok && !p.Unknown
}

// Inside counts the people in an area.
func (b *Book) Inside(area site.ID) int { return b.inside[area] }

// Places lists all that is known, by person.
func (b *Book) Places() []Place {
	out := make([]Place, 0, len(b.places))
	for _, p := range b.places {
		out = append(out, p)
	}
	slices.SortFunc(out, func(a, b Place) int { return cmp.Compare(a.Person, b.Person) })
	return out
}

// Forget drops everybody who came into an area before an instant: they may go anywhere once.
func (b *Book) Forget(area site.ID, before hours.Instant) {
	for id, p := range b.places {
		if p.Area == area && !p.Unknown && p.At < before {
			b.inside[area]--
			p.Unknown = true
			b.places[id] = p
		}
	}
}

// Unsay forgets where people went later than now, as by a clock that was wrong.
func (b *Book) Unsay(now hours.Instant) {
	for id, p := range b.places {
		if p.At <= now {
			continue
		}
		if !p.Unknown {
			b.inside[p.Area]--
		}
		delete(b.places, id)
	}
}

// Move is that an operator says where people are: in an area, outside of all (0), or that nobody knows, whereupon they
// may go anywhere once. Each is later than what the book knows of them, since clocks differ a little.
func (b *Book) Move(people []site.ID, area site.ID, unknown bool, now hours.Instant) []Place {
	out := make([]Place, len(people))
	for i, id := range people {
		known := b.places[id]
		out[i] = Place{Person: id, Area: area, Unknown: unknown, At: max(now, known.At+1), Seq: uint64(i + 1)}
		if unknown {
			out[i].Area = 0
		}
	}
	return out
}

// Among lists those who are in an area, or in any; 0 is any.
func (b *Book) Among(area site.ID) (out []site.ID) {
	for _, p := range b.Places() {
		if !p.Unknown && (area == 0 || p.Area == area) {
			out = append(out, p.Person)
		}
	}
	return out
}

// MarshalJSON writes the places.
func (b *Book) MarshalJSON() ([]byte, error) { return json.Marshal(b.Places()) }

// UnmarshalJSON puts what MarshalJSON wrote to what is known.
func (b *Book) UnmarshalJSON(text []byte) error {
	var list []Place
	if err := json.Unmarshal(text, &list); err != nil {
		return err
	}
	if b.places == nil {
		*b = *NewBook()
	}
	for _, p := range list {
		b.Put(p)
	}
	return nil
}
