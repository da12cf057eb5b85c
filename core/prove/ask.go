package prove

import (
	"fmt"

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
	Trace   []Line        `json:"trace"`
	Mend    string        `json:"mend,omitempty" doc:"What would change it"`
	Next    hours.Instant `json:"-"`
}

// Ask tells whether a person may pass a door's reader in at an instant, with the best they have: their
// first active card, and their PIN where the door asks for it.
func (b *Book) Ask(person, door site.ID, at hours.Instant) (Answer, error) {
	d, p := b.doors[door], b.people[person]
	if d == nil {
		return Answer{}, fmt.Errorf("door %d does not exist", door)
	}
	if p == nil {
		return Answer{}, fmt.Errorf("person %d does not exist", person)
	}
	zone := *b.Zone(door)
	only := *b.Config
	only.People = []site.Person{*p}
	c := image.Build(&only, d.ControllerID, zone, image.Secrets{}).Compile()
	q := access.Request{At: at}
	for i := range c.Doors {
		if c.Doors[i].ID == door {
			q.Door = i
		}
	}
	var first rules.FirstCard // as if none had come yet
	a := first.Ask(c.Lines[q.Door], &c.Doors[q.Door].FirstCard, at)
	q.Mode, q.Levels, q.Awaiting = a.Mode, a.Levels, a.Awaiting
	with := b.present(p, q.Mode, &q)
	if with == "" {
		return Answer{Reason: access.CardUnknown, Words: p.Name + " has neither card nor PIN", With: "nothing", Mode: q.Mode,
			Trace: []Line{{"Card", false, p.Name + " has neither card nor PIN"}}, Mend: "Give " + p.Name + " a card."}, nil
	}
	answer := c.Decide(&q)
	kind := panel.Refused
	if answer.Reason.Granted() {
		kind = panel.Granted
	}
	e := panel.Describe(c.Table, &q, &answer, kind)
	return Answer{Granted: answer.Reason.Granted(), Reason: answer.Reason, Words: b.Headline(&e), With: with, Mode: q.Mode,
		Trace: b.Trace(&e), Mend: b.Mend(&e), Next: e.Next}, nil
}

// present fills in the best credentials a person has, and names them.
func (b *Book) present(p *site.Person, mode hours.Mode, q *access.Request) string {
	with := ""
	best := -1
	for i, h := range p.Cards {
		if best < 0 || p.Cards[best].Status != site.Active && h.Status == site.Active {
			best = i
		}
	}
	if best >= 0 && mode != hours.PIN {
		h := p.Cards[best]
		bits, err := cards.ByName(h.Format).Encode(h.Facility, h.Number)
		if err == nil {
			q.HasCard, q.Bits, with = true, bits, "card "+h.String()
		}
	}
	asked := mode == hours.PIN || mode == hours.CardAndPIN || p.AlwaysPIN || !q.HasCard
	if p.PIN == nil || !asked {
		return with
	}
	q.HasPIN, q.PIN = true, *p.PIN
	if with == "" {
		return "PIN"
	}
	return with + " and PIN"
}
