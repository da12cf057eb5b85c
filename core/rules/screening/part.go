package screening

import (
	"encoding/json"
	"slices"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Part clears whoever comes in by a door that clears, and hears of those whom others clear.
type Part struct {
	Desk *Desk
	Zone *hours.Zone
	Door site.ID
	// Rides says that it is an elevator, where whoever is granted has come in.
	Rides bool
	// First is that of the first door of a controller, which keeps the book.
	First bool
	// Under lists the screenings that a person is under.
	Under func(person site.ID) []site.ID
}

// Follow clears whoever has gone through, and takes what is told.
func (p *Part) Follow(f *pass.Fact, do *pass.Effects) {
	switch {
	case f.Kind == pass.ClearancesTold && p.First:
		for _, c := range f.Cleared {
			p.Desk.Book.Put(c)
		}
	case f.Kind == pass.ClockSet && p.First:
		p.Desk.Book.Unsay(f.At)
	case (f.Kind == pass.Entered || p.Rides && f.Kind == pass.WasGranted) && f.Person != 0 && !f.Out:
		for _, id := range p.Under(f.Person) {
			x := p.Desk.Rules[id]
			if x == nil || !slices.Contains(x.PassIDs, p.Door) {
				continue
			}
			c := Clear(x, f.Person, p.Zone, f.At, "")
			c.Controller, c.Seq = p.Desk.Controller, f.Seq
			if p.Desk.Book.Put(c) {
				do.Tell(pass.Fact{At: f.At, Kind: pass.WasCleared, Person: f.Person, Rule: id, Next: c.Until.OrZero(), Pass: f.Seq})
			}
		}
	}
}

// Wake returns Never: that a time is over shows at the next read.
func (p *Part) Wake() hours.Instant { return hours.Never }

// Shift moves nothing: until when somebody is cleared is a time of the day, which all controllers share.
func (p *Part) Shift(time.Duration) {}

// Save writes the book of the controller, once.
func (p *Part) Save() ([]byte, error) {
	if !p.First || len(p.Desk.Book.of) == 0 {
		return nil, nil
	}
	return json.Marshal(p.Desk.Book)
}

// Restore takes it back.
func (p *Part) Restore(b []byte) error { return json.Unmarshal(b, p.Desk.Book) }

// Take goes on with the book: a new image forgets nobody who was cleared.
func (p *Part) Take(_ hours.Instant, was pass.Part, _ *pass.Effects) {
	p.Desk.Book = was.(*Part).Desk.Book
}

// Retire ends nothing.
func (p *Part) Retire(hours.Instant, *pass.Effects) {}
