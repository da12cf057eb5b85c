package passback

import (
	"encoding/json"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Areas are what all doors of a controller share.
type Areas struct {
	Controller site.ID
	Book       *Book
	Cut        bool // off the network
	rules      map[site.ID]*site.Area
	forgotten  map[site.ID]hours.Instant // when each area was last forgotten

	tidied, due hours.Instant // when that was looked at, and when the next hour comes
}

// NewAreas returns the areas of a controller, where nobody is known to be anywhere.
func NewAreas(controller site.ID, rules []site.Area) *Areas {
	a := &Areas{
		Controller: controller, Book: NewBook(), rules: map[site.ID]*site.Area{}, forgotten: map[site.ID]hours.Instant{},
	}
	for i := range rules {
		a.rules[rules[i].ID] = &rules[i]
	}
	return a
}

// rule returns an area that is in use, or nil.
func (a *Areas) rule(id site.ID) *site.Area { return a.rules[id] }

// tidy forgets the areas whose hour has come since, by the clock of a zone. Until the next such hour it costs nothing.
func (a *Areas) tidy(z *hours.Zone, now hours.Instant) {
	if now < a.due && now >= a.tidied {
		return
	}
	a.due, a.tidied = hours.Never, now
	for id, r := range a.rules {
		at, ok := LastForgotten(r, z, now)
		if !ok {
			continue
		}
		if a.forgotten[id] < at {
			a.forgotten[id] = at
			a.Book.Forget(id, at)
		}
		minute, _ := r.ForgetMinute()
		a.due = min(a.due, max(z.Resolve(z.Wall(at).Day+1, minute), now+1))
	}
}

// LastForgotten is when the places of an area were forgotten last; ok is false where they never are.
func LastForgotten(r *site.Area, z *hours.Zone, now hours.Instant) (at hours.Instant, ok bool) {
	minute, ok := r.ForgetMinute()
	if !ok {
		return 0, false
	}
	day := z.Wall(now).Day
	if at = z.Resolve(day, minute); at > now {
		at = z.Resolve(day-1, minute)
	}
	return at, true
}

// Part is one door between two areas. One that leads nowhere has it too, and it does nothing.
type Part struct {
	Areas *Areas
	Line  *hours.Timeline
	// First is that of the first door of a controller, which keeps the book.
	First           bool
	Outside, Inside site.ID // what the door is between; 0: outside of all areas
}

// between reports whether the door leads from one area to another.
func (p *Part) between() bool { return p.Outside != p.Inside }

// ways are where a side leads from, and to.
func (p *Part) ways(out bool) (from, to site.ID) {
	if out {
		return p.Inside, p.Outside
	}
	return p.Outside, p.Inside
}

// Follow takes note of who has gone through, and of what the server tells of other controllers.
func (p *Part) Follow(f *pass.Fact, do *pass.Effects) {
	switch {
	case f.Kind == pass.NetworkLost:
		p.Areas.Cut = true
	case f.Kind == pass.NetworkBack:
		p.Areas.Cut = false
	case f.Kind == pass.ClockSet && p.First:
		p.Areas.Book.Unsay(f.At)
	case f.Kind == pass.PlacesTold && p.First:
		for _, x := range f.Places {
			p.Areas.Book.Put(p.lately(x, f.At))
		}
	case f.Kind == pass.Entered && f.Person != 0 && p.between():
		p.Areas.tidy(p.Line.Zone, f.At)
		_, to := p.ways(f.Out)
		moved := Place{Person: f.Person, Area: to, At: f.At, Controller: p.Areas.Controller, Seq: f.Seq}
		if p.Areas.Book.Put(moved) {
			do.Tell(pass.Fact{At: f.At, Kind: pass.PlaceIs, Person: f.Person, Area: to, Pass: f.Seq})
		}
	}
}

// lately is a place as it counts now: one from before the hour at which its area is forgotten is unknown, also where it
// is heard of later.
func (p *Part) lately(x Place, now hours.Instant) Place {
	if r := p.Areas.rule(x.Area); r != nil {
		if at, ok := LastForgotten(r, p.Line.Zone, now); ok && x.At < at {
			x.Unknown = true
		}
	}
	return x
}

// Wake returns Never: an area is forgotten when somebody asks for it next.
func (p *Part) Wake() hours.Instant { return hours.Never }

// Shift moves nothing: places have the server's corrected time.
func (p *Part) Shift(time.Duration) {}

// Save writes the book, once for the controller.
func (p *Part) Save() ([]byte, error) {
	if !p.First || len(p.Areas.Book.places) == 0 {
		return nil, nil
	}
	return json.Marshal(p.Areas.Book)
}

// Restore takes it back.
func (p *Part) Restore(b []byte) error { return json.Unmarshal(b, p.Areas.Book) }

// Take goes on: a new image moves nobody.
func (p *Part) Take(_ hours.Instant, was pass.Part, _ *pass.Effects) {
	old := was.(*Part).Areas
	if p.Areas.Book != old.Book {
		p.Areas.Book, p.Areas.Cut, p.Areas.forgotten = old.Book, old.Cut, old.forgotten // the hours may be others now
	}
}

// Retire moves nobody either.
func (p *Part) Retire(hours.Instant, *pass.Effects) {}
