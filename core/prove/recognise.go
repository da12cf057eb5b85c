package prove

import (
	"cmp"
	"slices"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// NotSent is Event.Note of a card that a controller does not know although its holder has something to do there: what
// says so has not been sent, or was not yet when the card was read.
const NotSent = "not sent"

// Recognise puts a name to a card that a controller did not know: it holds only who has something to do there, and the
// book knows everybody. The reason becomes what is wrong with the card or the person, else that no level of theirs
// leads here; and the checks are those that lead to it. Other events stay as they are.
func (b *Book) Recognise(e *pass.Fact) {
	if e.Kind != pass.WasRefused || e.Reason != pass.CardUnknown || e.Format == "" {
		return
	}
	value := cmp.Or(e.Shown, cards.Number(e.Format, e.Facility, e.Number))
	p, d := b.Holder(e.Format, value), b.doors[e.Door]
	if p == nil || d == nil {
		return
	}
	p = b.Effective.Person(p.ID)
	var bits cards.Bits
	var shown pass.Shown
	if e.Shown != "" {
		shown = pass.Shown{Kind: site.CredentialKind(e.Format), Value: e.Shown}
	} else if f := b.Config.Settings.Format(e.Format); f != nil {
		bits, _ = f.Encode(e.Facility, e.Number) // it was decoded from such
	}
	_, place, door := b.alone(p, d)
	mode := e.Mode
	if mode == hours.Free { // what is wrong beyond that it is free
		mode = hours.Card
	}
	x := pass.Pass{
		Request: pass.Request{At: e.At, Door: door, Out: e.Out, Mode: mode, HasCard: true, Bits: bits, Shown: shown},
		Trace:   new(pass.Trace),
	}
	place.Side(e.Out).Decide(&x)
	e.Person = p.ID
	switch r := x.Reason; {
	case r >= pass.CardLost && r <= pass.PersonExpired, r == pass.NoLevel:
		e.Reason, e.Checks = x.Reason, slices.Clone(x.Trace.Checks())
	case len(answered(p, b.Effective, e.Door)) == 0: // something before the level stood in the way, as a PIN that was asked
		e.Reason = pass.NoLevel
		e.Checks = []pass.Check{
			{Kind: pass.CheckRead, OK: true},
			{Kind: pass.CheckCard, OK: true},
			{Kind: pass.CheckPerson, OK: true},
			{Kind: pass.CheckLevel},
		}
	default:
		e.Note = NotSent
	}
}

// answered lists the levels of an effective person that lead through a door.
func answered(p *site.Person, c *site.Config, door site.ID) []site.ID {
	var out []site.ID
	places := site.NewPlaces(c)
	for _, g := range p.Levels {
		l := c.Level(g.LevelID)
		if l != nil && slices.ContainsFunc(places.Entries(l), func(e site.Covered) bool { return e.DoorID == door }) {
			out = append(out, g.LevelID)
		}
	}
	return out
}
