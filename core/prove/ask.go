package prove

import (
	"fmt"
	"slices"

	"amberkeystone/core/pass"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// Answer is a decision with its trace.
type Answer struct {
	Granted bool          `json:"granted"`
	Reason  pass.Reason   `json:"reason"`
	Words   string        `json:"words"`
	With    string        `json:"with" doc:"What was presented"`
	Mode    hours.Mode    `json:"mode" doc:"What the door asked"`
	Free    bool          `json:"free,omitempty" doc:"What was presented is refused, and the door is free all the same"`
	Trace   []Line        `json:"trace"`
	Mend    string        `json:"mend,omitempty" doc:"What would change it"`
	Floors  []FloorAnswer `json:"floors,omitempty" doc:"Of an elevator: which floors they reach then, the lowest first"`
	Next    hours.Instant `json:"-"`
}

// offer is what somebody may present, by a name.
type offer struct {
	with string
	pass.Request
}

// Ask tells whether a person may pass a door's reader in at an instant, with the best they have: whatever of their
// cards and their PIN the door takes, else what came furthest. A free door takes empty hands.
func (b *Book) Ask(person, door site.ID, at hours.Instant) (Answer, error) {
	d, p := b.doors[door], b.Effective.Person(person)
	if d == nil {
		return Answer{}, fmt.Errorf("door %d does not exist", door)
	}
	if p == nil {
		return Answer{}, fmt.Errorf("person %d does not exist", person)
	}
	return b.askAs(p, d, at)
}

// askAs is Ask for an effective person, who need not be in the configuration.
func (b *Book) askAs(p *site.Person, d *site.Door, at hours.Instant) (Answer, error) {
	c, place, n := b.alone(p, d)
	now, _ := place.Asks.At(at) // as if nobody had been there yet
	q := pass.Request{At: at, Door: n, Mode: now.Mode, Levels: now.Levels, Overrides: now.Overrides}
	list := offers(&b.Config.Settings, p, q)
	if len(list) == 0 && q.Mode != hours.Free {
		return Answer{
			Reason: pass.CardUnknown,
			Words:  p.Name + " has neither card nor PIN",
			With:   "nothing",
			Mode:   q.Mode,
			Trace: []Line{
				{"Card", false, p.Name + " has neither card nor PIN"},
			},
			Mend: "Give " + p.Name + " a card.",
		}, nil
	}
	if len(list) == 0 {
		list = []offer{{"nothing", q}}
	}
	var best *pass.Pass
	with := ""
	for _, o := range list {
		x := &pass.Pass{Request: o.Request, Trace: new(pass.Trace)}
		place.Gates[0].Decide(x)
		if best == nil || better(&x.Decision, &best.Decision) {
			best, with = x, o.with
		}
	}
	out := b.answer(d, best, with)
	if d.Car != nil {
		out.Floors = b.floorAnswers(c, d, best)
	}
	return out, nil
}

// alone lays a door out as its controller would if it knew one person and nobody else; n is its place there.
func (b *Book) alone(p *site.Person, d *site.Door) (c *image.Compiled, place *image.Place, n int) {
	c, n = b.core(d.ControllerID).Alone(p), b.placeAt(d)
	place = c.Place(n)
	if b.Cleared != nil && len(p.Screened()) > 0 {
		place.Tell(b.Cleared(p.ID))
	}
	return c, place, n
}

// placeAt is the place of a door at its controller.
func (b *Book) placeAt(d *site.Door) int {
	return slices.IndexFunc(b.core(d.ControllerID).Doors, func(x site.Door) bool { return x.ID == d.ID })
}

// core returns what a controller decides by, without anybody.
func (b *Book) core(controller site.ID) *image.Compiled {
	b.coresMu.Lock()
	defer b.coresMu.Unlock()
	c, ok := b.cores[controller]
	if !ok {
		c = image.WithoutPeople(b.Effective, controller, *b.Clock(controller)).Compile()
		if b.cores == nil {
			b.cores = map[site.ID]*image.Compiled{}
		}
		b.cores[controller] = c
	}
	return c
}

func (b *Book) answer(d *site.Door, x *pass.Pass, with string) Answer {
	kind := pass.WasRefused
	if x.Reason.Granted() {
		kind = pass.WasGranted
	}
	e := x.Describe(kind, d.ID)
	if d.Car != nil {
		e.Floors = d.Car.Floors(&x.Stops)
	}
	out := Answer{Granted: x.Reason.Granted(), Reason: x.Reason, Words: b.Headline(&e), With: with, Mode: x.Mode,
		Trace: b.Trace(&e), Mend: b.Mend(&e), Next: e.Next}
	if x.Reason == pass.WaitingForMore {
		out.Words = b.aloneWords(&e)
	}
	if !out.Granted && x.Mode == hours.Free {
		out.Free = true
		out.Words += "; the door is free all the same"
	}
	return out
}

// better reports whether one answer is worth more to somebody than another: granted, else refused later in the order
// of the checks, else open again sooner.
func better(a, b *pass.Decision) bool {
	switch {
	case a.Reason.Granted() || b.Reason.Granted():
		return !b.Reason.Granted()
	case a.Reason != b.Reason:
		return a.Reason > b.Reason
	}
	return a.Reason == pass.OutsideHours && a.Next < b.Next
}

// offers lists what a person may present where a door asks that: each credential, with the PIN where one is asked, and
// the PIN alone where it may do. Nothing stands in it for a person who has nothing.
func offers(s *site.Settings, p *site.Person, q pass.Request) []offer {
	var out []offer
	both := q.Mode == hours.PIN || q.Mode == hours.CardAndPIN || p.AlwaysPIN
	for _, h := range p.Credentials {
		o := offer{h.Words(), q}
		o.HasCard = true
		if facility, number, ok := h.Card(); ok {
			f := s.Format(h.Format)
			if f == nil {
				continue
			}
			bits, err := f.Encode(facility, number)
			if err != nil {
				continue
			}
			o.Bits = bits
		} else {
			o.Shown = pass.Shown{Kind: h.Kind, Value: h.Value}
		}
		if p.PIN != nil && both {
			o.with, o.HasPIN, o.PIN = o.with+" and PIN", true, *p.PIN
		}
		out = append(out, o)
	}
	if p.PIN == nil {
		return out
	}
	alone := offer{"PIN", q}
	alone.HasPIN, alone.PIN = true, *p.PIN
	switch {
	case q.Mode == hours.PIN: // the card adds nothing
		return append([]offer{alone}, out...)
	case q.Mode == hours.CardOrPIN || q.Mode == hours.Card && p.PINInstead || len(out) == 0:
		return append(out, alone)
	}
	return out
}
