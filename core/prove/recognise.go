package prove

import (
	"amberkeystone/core/access"
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/site"
)

// NotSent is Event.Note of a card that a controller does not know although its holder has something to do there: what
// says so has not been sent, or was not yet when the card was read.
const NotSent = "not sent"

// Recognise puts a name to a card that a controller did not know: it holds only who has something to do there, and the
// book knows everybody. The reason becomes what is wrong with the card or the person, else that no level of theirs
// leads here; and the checks are those that lead to it. Other events stay as they are.
func (b *Book) Recognise(e *panel.Event) {
	if e.Kind != panel.Refused || e.Reason != access.CardUnknown || e.Format == "" {
		return
	}
	p, d := b.holder(e.Format, e.Facility, e.Number), b.doors[e.Door]
	if p == nil || d == nil {
		return
	}
	bits, err := cards.ByName(e.Format).Encode(e.Facility, e.Number)
	if err != nil {
		return
	}
	c, door := b.alone(p, d)
	mode := e.Mode
	if mode == hours.Free { // what is wrong beyond that it is free
		mode = hours.Card
	}
	q := access.Request{At: e.At, Door: door, Out: e.Out, Mode: mode, HasCard: true, Bits: bits}
	answer := c.Decide(&q)
	e.Person = p.ID
	switch r := answer.Reason; {
	case r >= access.CardLost && r <= access.PersonExpired, r == access.NoLevel:
		said := panel.Describe(c.Table, &q, &answer, panel.Refused)
		e.Reason, e.Checks = said.Reason, said.Checks
	case len(answered(p, b.Config, e.Door)) == 0: // something before the level stood in the way, as a PIN that was asked
		e.Reason = access.NoLevel
		e.Checks = []access.Check{
			{Kind: access.CheckRead, OK: true},
			{Kind: access.CheckCard, OK: true},
			{Kind: access.CheckPerson, OK: true},
			{Kind: access.CheckLevel},
		}
	default:
		e.Note = NotSent
	}
}

// answered lists the levels of a person that lead through a door.
func answered(p *site.Person, c *site.Config, door site.ID) []site.ID {
	var out []site.ID
	for _, g := range p.Levels {
		for i := range c.Levels {
			if c.Levels[i].ID != g.LevelID {
				continue
			}
			for _, e := range c.Levels[i].Entries {
				if e.DoorID == door {
					out = append(out, g.LevelID)
				}
			}
		}
	}
	return out
}

// held is a card by its number.
type held struct {
	format           string
	facility, number uint64
}

// holder finds whose card it is, or nil.
func (b *Book) holder(format string, facility, number uint64) *site.Person {
	b.once.Do(func() {
		b.holders = make(map[held]*site.Person, len(b.Config.People))
		for i := range b.Config.People {
			for _, h := range b.Config.People[i].Cards {
				b.holders[held{h.Format, h.Facility, h.Number}] = &b.Config.People[i]
			}
		}
	})
	return b.holders[held{format, facility, number}]
}
