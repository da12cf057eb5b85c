package prove

import (
	"fmt"
	"slices"

	"amberkeystone/core/access"
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/rules"
	"amberkeystone/core/site"
)

// Answer is a decision with its trace.
type Answer struct {
	Granted bool          `json:"granted"`
	Reason  access.Reason `json:"reason"`
	Words   string        `json:"words"`
	With    string        `json:"with" doc:"What was presented"`
	Mode    hours.Mode    `json:"mode" doc:"What the door asked"`
	Free    bool          `json:"free,omitempty" doc:"What was presented is refused, and the door is free all the same"`
	Trace   []Line        `json:"trace"`
	Mend    string        `json:"mend,omitempty" doc:"What would change it"`
	Next    hours.Instant `json:"-"`
}

// offer is what somebody may present, by a name.
type offer struct {
	with string
	access.Request
}

// Ask tells whether a person may pass a door's reader in at an instant, with the best they have: whatever of their
// cards and their PIN the door takes, else what came furthest. A free door takes empty hands.
func (b *Book) Ask(person, door site.ID, at hours.Instant) (Answer, error) {
	d, p := b.doors[door], b.people[person]
	if d == nil {
		return Answer{}, fmt.Errorf("door %d does not exist", door)
	}
	if p == nil {
		return Answer{}, fmt.Errorf("person %d does not exist", person)
	}
	c, n := b.alone(p, d)
	q := access.Request{At: at, Door: n}
	var first rules.FirstCard // as if none had come yet
	a := first.Ask(c.Lines[q.Door], &c.Doors[q.Door].FirstCard, at)
	q.Mode, q.Levels, q.Awaiting = a.Mode, a.Levels, a.Awaiting
	list := offers(p, q)
	if len(list) == 0 && q.Mode != hours.Free {
		return Answer{Reason: access.CardUnknown, Words: p.Name + " has neither card nor PIN", With: "nothing", Mode: q.Mode,
			Trace: []Line{{"Card", false, p.Name + " has neither card nor PIN"}}, Mend: "Give " + p.Name + " a card."}, nil
	}
	if len(list) == 0 {
		list = []offer{{"nothing", q}}
	}
	best, answer := list[0], c.Decide(&list[0].Request)
	for _, o := range list[1:] {
		if x := c.Decide(&o.Request); better(&x, &answer) {
			best, answer = o, x
		}
	}
	return b.answer(c, best, &answer), nil
}

// alone is what a door's controller would decide by if it knew one person, and that door's place in it.
func (b *Book) alone(p *site.Person, d *site.Door) (c *image.Compiled, door int) {
	c = image.BuildFor(b.Config, d.ControllerID, *b.Zone(d.ID), p).Compile()
	return c, slices.IndexFunc(c.Doors, func(x site.Door) bool { return x.ID == d.ID })
}

func (b *Book) answer(c *image.Compiled, o offer, d *access.Decision) Answer {
	kind := panel.Refused
	if d.Reason.Granted() {
		kind = panel.Granted
	}
	e := panel.Describe(c.Table, &o.Request, d, kind)
	out := Answer{Granted: d.Reason.Granted(), Reason: d.Reason, Words: b.Headline(&e), With: o.with, Mode: o.Mode,
		Trace: b.Trace(&e), Mend: b.Mend(&e), Next: e.Next}
	if !out.Granted && o.Mode == hours.Free {
		out.Free = true
		out.Words += "; the door is free all the same"
	}
	return out
}

// better reports whether one answer is worth more to somebody than another: granted, else refused later in the order
// of the checks, else open again sooner.
func better(a, b *access.Decision) bool {
	switch {
	case a.Reason.Granted() || b.Reason.Granted():
		return !b.Reason.Granted()
	case a.Reason != b.Reason:
		return a.Reason > b.Reason
	}
	return a.Reason == access.OutsideHours && a.Next < b.Next
}

// offers lists what a person may present where a door asks that: each card, with the PIN where one is asked, and the
// PIN alone where it may do. Nothing stands in it for a person who has nothing.
func offers(p *site.Person, q access.Request) []offer {
	var out []offer
	both := q.Mode == hours.PIN || q.Mode == hours.CardAndPIN || p.AlwaysPIN
	for _, h := range p.Cards {
		bits, err := cards.ByName(h.Format).Encode(h.Facility, h.Number)
		if err != nil {
			continue
		}
		o := offer{"card " + h.String(), q}
		o.HasCard, o.Bits = true, bits
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
	case q.Mode == hours.CardOrPIN || len(out) == 0:
		return append(out, alone)
	}
	return out
}
