package access

import (
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// The gates of a table, in the order of design 3.5. They serve every door.
type (
	ReaderGate struct{ *Table } // is there a reader?
	CardGate   struct{ *Table } // is it a card that is in use?
	PersonGate struct{ *Table } // is it a person who may come in these days?
	BarredGate struct{ *Table } // does the door let anybody in?
	ProofGate  struct{ *Table } // is what was presented what the door asks?
	LevelsGate struct{ *Table } // does a level cover the door now?
)

// Decide answers a request by the table alone, as if no rule stood at the door, with a trace. It is for those who ask
// about a person; a panel asks the gates of its doors.
func (t *Table) Decide(q *pass.Request) (pass.Decision, *pass.Trace) {
	p := pass.Pass{Request: *q, Trace: new(pass.Trace)}
	t.Gates().Decide(&p)
	return p.Decision, p.Trace
}

// Gates returns the gates of the table in their order, without those of rules.
func (t *Table) Gates() pass.Gates {
	return pass.Gates{ReaderGate{t}, CardGate{t}, PersonGate{t}, BarredGate{t}, ProofGate{t}, LevelsGate{t}}
}

func refuse(p *pass.Pass, r pass.Reason, kind pass.CheckKind, a, b int64) pass.Verdict {
	p.Trace.Add(kind, false, a, b)
	return pass.No(r, 0)
}

// Check refuses where no reader is fitted, and sees whether it has keys.
func (g ReaderGate) Check(p *pass.Pass) pass.Verdict {
	head := g.blocks[p.Door*g.stride]
	if p.Out {
		head >>= 2
	}
	p.Keypad = head&keypadIn != 0
	if head&readerIn == 0 {
		return refuse(p, pass.ReaderOff, pass.CheckReader, 0, 0)
	}
	return pass.Yes
}

var faults = [...]pass.Reason{
	cards.WrongLength:   pass.FormatUnknown,
	cards.WrongParity:   pass.ParityWrong,
	cards.WrongFacility: pass.FacilityWrong,
}

// Check decodes what was read and finds the card.
func (g CardGate) Check(p *pass.Pass) pass.Verdict {
	if !p.HasCard {
		return pass.Yes
	}
	if p.Shown != (pass.Shown{}) {
		return g.shown(p)
	}
	p.Read = cards.Decode(&p.Bits, g.accepts(p))
	if p.Read.Fault != cards.Fits {
		return refuse(p, faults[p.Read.Fault], pass.CheckRead, int64(p.Read.Fault), int64(p.Read.Detail))
	}
	p.Trace.Add(pass.CheckRead, true, 0, 0)
	key := CardKey{p.Read.Format.ID, p.Read.Facility, p.Read.Number}
	o, ok := g.card(&key)
	if !ok || !g.known(o.word&setBits) {
		return refuse(p, pass.CardUnknown, pass.CheckCard, 0, 0)
	}
	p.Person = o.id
	if o.word&cardApart != 0 {
		c := g.cards[key]
		if v := dated(p, c.Bad, c.Span); v != pass.Yes {
			return v
		}
	}
	p.Trace.Add(pass.CheckCard, true, 0, 0)
	p.Known, p.Word = true, o.word
	return pass.Yes
}

// shown finds whose phone, pass or plate it is, at a reader that takes such.
func (g CardGate) shown(p *pass.Pass) pass.Verdict {
	reader := &g.Doors[p.Door].In
	if p.Out {
		reader = &g.Doors[p.Door].Out
	}
	if !reader.TakesKind(p.Shown.Kind) {
		return refuse(p, pass.FormatUnknown, pass.CheckRead, int64(cards.WrongLength), 0)
	}
	p.Trace.Add(pass.CheckRead, true, 0, 0)
	x, ok := g.Directory.shown[p.Shown]
	if !ok || !g.known(x.word&setBits) {
		return refuse(p, pass.CardUnknown, pass.CheckCard, 0, 0)
	}
	p.Person = x.id
	if v := dated(p, x.bad, x.span); v != pass.Yes {
		return v
	}
	p.Trace.Add(pass.CheckCard, true, 0, 0)
	p.Known, p.Word = true, x.word
	return pass.Yes
}

// dated refuses a credential that is bad, or outside its dates.
func dated(p *pass.Pass, bad pass.Reason, span Span) pass.Verdict {
	reason := bad
	switch {
	case reason != pass.NoReason:
	case p.At < span.From:
		reason = pass.CardNotYet
	case p.At >= span.Until:
		reason = pass.CardExpired
	default:
		p.Last = span.Until
		return pass.Yes
	}
	return refuse(p, reason, pass.CheckCard, int64(span.From), int64(span.Until))
}

// Check finds whose PIN it is where one alone may do, and whether the person may come in these days.
func (g PersonGate) Check(p *pass.Pass) pass.Verdict {
	if !p.HasCard && p.Typed() {
		mode := p.Asks()
		owner, ok := g.pin(p.PIN)
		p.Instead = ok && mode == hours.Card && owner.word&pinInstead != 0
		if ok && mode != hours.CardAndPIN && (mode != hours.Card || p.Instead) {
			p.Known, p.Person, p.Word = true, owner.id, owner.word
		}
	}
	if !p.Known {
		return pass.Yes
	}
	p.Extended, p.ByPIN = p.Word&extended != 0, p.Word&alwaysPIN != 0
	if p.Word&personApart != 0 {
		if v := g.apart(p); v != pass.Yes {
			return v
		}
	}
	p.Trace.Add(pass.CheckPerson, true, 0, 0)
	return pass.Yes
}

// apart refuses a person who is suspended, or outside their dates.
func (g PersonGate) apart(p *pass.Pass) pass.Verdict {
	who := g.people[p.Person]
	reason := pass.NoReason
	switch {
	case who.suspended:
		reason = pass.PersonSuspended
	case p.At < who.span.From:
		reason = pass.PersonNotYet
	case p.At >= who.span.Until:
		reason = pass.PersonExpired
	default:
		return pass.Yes
	}
	return refuse(p, reason, pass.CheckPerson, int64(who.span.From), int64(who.span.Until))
}

// pin finds whose PIN it is, of those who are known here.
func (t *Table) pin(h cards.PINHash) (pinOwner, bool) {
	o, ok := t.pins[h]
	return o, ok && t.known(o.word&setBits)
}

// Check refuses everybody while the side is barred, but those who override the lockdown that bars it.
func (g BarredGate) Check(p *pass.Pass) pass.Verdict {
	mode := p.Asks()
	if mode == hours.Barred && p.Overrides && g.Holds(p, Overrides) {
		p.Overrode = true
		p.Trace.Add(pass.CheckOverride, true, 0, 0)
		return pass.Yes
	}
	if mode == hours.Barred {
		return refuse(p, pass.DoorBarred, pass.CheckAsks, int64(mode), 0)
	}
	return pass.Yes
}

// Check sees whether what was presented is what the side asks.
func (g ProofGate) Check(p *pass.Pass) pass.Verdict {
	mode := p.Asks()
	asks, typed := int64(mode), p.Typed()
	card, pin := p.Needs()
	switch {
	case mode == hours.Free:
		p.Trace.Add(pass.CheckAsks, true, asks, 0)
		return pass.Yes
	case card && !p.HasCard:
		if _, known := g.pin(p.PIN); typed && mode == hours.Card && g.Instead && !known { // it might have done instead
			return refuse(p, pass.WrongPIN, pass.CheckPIN, 0, 0)
		}
		return refuse(p, pass.NeedCard, pass.CheckAsks, asks, 0)
	case pin && !typed && p.HasCard && p.Keypad:
		p.Trace.Add(pass.CheckAsks, false, asks, 0)
		return pass.WaitFor(pass.NeedPIN)
	case pin && !typed:
		return refuse(p, pass.NeedPIN, pass.CheckAsks, asks, 0)
	}
	p.Trace.Add(pass.CheckAsks, true, asks, 0)
	if !typed {
		return pass.Yes
	}
	owner, known := g.pin(p.PIN)
	if !p.Known || p.HasCard && (!known || owner.id != p.Person) { // with a card the PIN must be the same person's
		return refuse(p, pass.WrongPIN, pass.CheckPIN, 0, 0)
	}
	p.Duress = owner.duress
	p.Trace.Add(pass.CheckPIN, true, 0, 0)
	return pass.Yes
}

// CallsForHelp returns who typed a PIN under duress, whatever the answer was: nobody, where the PIN is another person's
// than the card.
func (t *Table) CallsForHelp(p *pass.Pass) site.ID {
	if !p.HasPIN {
		return 0
	}
	owner, ok := t.pin(p.PIN)
	if !ok || !owner.duress {
		return 0
	}
	if who := owner.id; p.Person == 0 || p.Person == who {
		return who
	}
	return 0
}
