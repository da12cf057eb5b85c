// Package screening is people who must be cleared before what they usually may counts (design 3.11): a book of who is
// cleared until when, which controllers tell each other, and the rule at a door by it.
package screening

import (
	"cmp"
	"encoding/json"
	"maps"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Clearance is that somebody is cleared, or no longer.
type Clearance = pass.Clearance

// Book is who is cleared. The later word on somebody counts, ties by controller and number, so that books that heard of
// the same come to the same, in whatever order they did.
type Book struct{ of map[key]Clearance }

type key struct{ person, screening site.ID }

// NewBook returns an empty book.
func NewBook() *Book { return &Book{map[key]Clearance{}} }

// Put takes a word on somebody, and reports whether it is later than what was known.
func (b *Book) Put(c Clearance) bool {
	k := key{c.Person, c.Screening}
	if was, ok := b.of[k]; ok && !after(&c, &was) {
		return false
	}
	b.of[k] = c
	return true
}

func after(c, o *Clearance) bool {
	return cmp.Or(cmp.Compare(c.At, o.At), cmp.Compare(c.Controller, o.Controller), cmp.Compare(c.Seq, o.Seq)) > 0
}

// Of returns what is known of somebody; ok is false where they are not cleared at an instant.
func (b *Book) Of(person, screening site.ID, at hours.Instant) (c Clearance, ok bool) {
	c, ok = b.of[key{person, screening}]
	return c, ok && c.Holds(at)
}

// All lists every word, by person and screening.
func (b *Book) All() []Clearance {
	out := make([]Clearance, 0, len(b.of))
	for _, c := range b.of {
		out = append(out, c)
	}
	slices.SortFunc(out, func(a, b Clearance) int {
		return cmp.Or(cmp.Compare(a.Person, b.Person), cmp.Compare(a.Screening, b.Screening))
	})
	return out
}

// MarshalJSON writes the book as a list.
func (b *Book) MarshalJSON() ([]byte, error) { return json.Marshal(b.All()) }

// UnmarshalJSON reads it.
func (b *Book) UnmarshalJSON(text []byte) error {
	var list []Clearance
	if err := json.Unmarshal(text, &list); err != nil {
		return err
	}
	if b.of == nil {
		*b = *NewBook()
	}
	for _, c := range list {
		b.Put(c)
	}
	return nil
}

// Clear is the word that somebody is cleared by a screening, by the clock of a place: as long as its rule says.
func Clear(x *site.Screening, person site.ID, z *hours.Zone, now hours.Instant, by string) Clearance {
	return Clearance{Person: person, Screening: x.ID, Until: x.Until(z, now), At: now, By: by}
}

// ByClock is a word as a controller takes it whose clock is ahead by a drift: said at the instant that its clock showed
// then. Until when somebody is cleared is a time of the day there; a clock that is nearly right changes nothing of it.
func ByClock(c Clearance, x *site.Screening, z *hours.Zone, drift hours.Instant) Clearance {
	c.At += drift
	if x != nil && (drift > hours.Minute || drift < -hours.Minute) && c.Until != 0 {
		c.Until = x.Until(z, c.At)
	}
	return c
}

// Unsay forgets what was said later than now, as by a clock that was wrong.
func (b *Book) Unsay(now hours.Instant) {
	maps.DeleteFunc(b.of, func(_ key, c Clearance) bool { return c.At > now })
}

// Withdraw is the word that somebody is no longer cleared.
func Withdraw(x *site.Screening, person site.ID, now hours.Instant, by string) Clearance {
	return Clearance{Person: person, Screening: x.ID, At: now, By: by}
}
