package panel

import (
	"time"

	"amberkeystone/core/access"
	"amberkeystone/core/cards"
	"amberkeystone/core/door"
	"amberkeystone/core/hours"
	"amberkeystone/core/rules"
)

// side is one reader with its keypad.
type side struct {
	keypad
	pin      [8]byte
	digits   int
	deadline hours.Instant // the entry that was begun ends then; 0: none
	card     cards.Bits    // waits for its PIN
	waiting  bool
	last     cards.Bits
	lastAt   hours.Instant
}

// keypad is what a keypad remembers, over a restart too.
type keypad struct {
	Wrong       int           `json:"wrong,omitempty"` // PINs in a row
	LockedUntil hours.Instant `json:"lockedUntil,omitempty"`
}

func index(out bool) int {
	if out {
		return 1
	}
	return 0
}

func (p *Panel) read(i int, now hours.Instant, in *Input) {
	sd := &p.doors[i].sides[index(in.Out)]
	if sd.last == in.Bits && now.Sub(sd.lastAt) < samePresentation && sd.lastAt != 0 {
		sd.lastAt = now
		return
	}
	sd.last, sd.lastAt = in.Bits, now
	p.timeout(i, now, in.Out, "replaced")
	p.decide(i, access.Request{At: now, Door: i, Out: in.Out, HasCard: true, Bits: in.Bits})
}

func (sd *side) clear() {
	sd.digits, sd.deadline, sd.waiting = 0, 0, false
}

func (p *Panel) key(i int, now hours.Instant, in *Input) {
	d := &p.doors[i]
	reader := d.Config.In
	if in.Out {
		reader = d.Config.Out
	}
	sd := &d.sides[index(in.Out)]
	switch {
	case !reader.Fitted || !reader.Keypad:
		return
	case in.Key == '*':
		sd.digits = 0
		return
	case in.Key >= '0' && in.Key <= '9' && sd.digits < len(sd.pin):
		sd.pin[sd.digits] = in.Key
		sd.digits++
		sd.deadline = now.Add(time.Duration(p.c.Settings.CardWithPIN) * time.Second)
		if sd.digits < p.c.PINDigits {
			return
		}
	case in.Key != '#' || sd.digits == 0:
		return
	}
	q := access.Request{
		At:     now,
		Door:   i,
		Out:    in.Out,
		HasPIN: true,
		PIN:    cards.HashPIN(p.c.PINKey, string(sd.pin[:sd.digits])),
	}
	if sd.waiting {
		q.HasCard, q.Bits = true, sd.card
	}
	sd.clear()
	p.decide(i, q)
}

// timeout ends an entry that was begun and not finished; a card that waits for its PIN ends in an event. Note is why,
// where it was not time.
func (p *Panel) timeout(i int, now hours.Instant, out bool, note string) {
	d := &p.doors[i]
	sd := &d.sides[index(out)]
	if sd.waiting {
		q := access.Request{At: now, Door: i, Out: out, Mode: d.mode, HasCard: true, Bits: sd.card}
		answer := p.c.Decide(&q)
		answer.Reason = access.Timeout
		e := Describe(p.c.Table, &q, &answer, Refused)
		e.Note = note
		p.emit(e)
		if note == "" {
			p.feedback(i, out, ShowRefused)
		}
	}
	sd.clear()
}

func (p *Panel) decide(i int, q access.Request) {
	d := &p.doors[i]
	sd := &d.sides[index(q.Out)]
	q.Mode = d.mode
	if line := p.c.Lines[i]; rules.Waits(line, &d.Config.FirstCard) {
		a := p.asked(i, q.At)
		q.Levels, q.First, q.Awaiting = a.Levels, a.Useful, a.Awaiting
	} else if line.Plan.Limited() {
		q.Levels = line.At(q.At).Levels
	}
	q.KeypadLocked = q.At < sd.LockedUntil
	answer := p.c.Decide(&q)
	reader := d.Config.In
	if q.Out {
		reader = d.Config.Out
	}
	switch {
	case answer.Reason.Granted():
		sd.Wrong = 0
		p.say(i, &q, &answer, Granted)
		p.feedback(i, q.Out, ShowGranted)
		d.Grant(q.At, door.Pass{Person: answer.Person, Out: q.Out}, answer.Extended)
		if answer.Opens {
			p.firstCard(i, q.At, answer.Person)
		}
	case answer.Reason == access.NeedPIN && q.HasCard && reader.Keypad:
		if q.KeypadLocked {
			answer.Reason = access.KeypadLocked
			p.say(i, &q, &answer, Refused)
			p.feedback(i, q.Out, ShowLocked)
			return
		}
		sd.card, sd.waiting = q.Bits, true
		sd.deadline = q.At.Add(time.Duration(p.c.Settings.CardWithPIN) * time.Second)
		p.say(i, &q, &answer, AwaitingPIN)
		p.feedback(i, q.Out, ShowPIN)
	default:
		p.say(i, &q, &answer, Refused)
		p.feedback(i, q.Out, ShowRefused)
		if answer.Reason == access.WrongPIN {
			p.wrongPIN(i, q.At, q.Out)
		}
	}
	if answer.Calls != 0 { // whatever the door answers
		p.emit(Event{At: q.At, Kind: Duress, Door: d.Config.ID, Person: answer.Calls, Out: q.Out, Mode: d.mode})
	}
}

// wrongPIN counts towards locking the keypad.
func (p *Panel) wrongPIN(i int, now hours.Instant, out bool) {
	d := &p.doors[i]
	sd := &d.sides[index(out)]
	if sd.Wrong++; sd.Wrong < p.c.Settings.PINTries {
		return
	}
	sd.Wrong = 0
	sd.LockedUntil = now.Add(time.Duration(p.c.Settings.PINLock) * time.Minute)
	p.emit(Event{At: now, Kind: KeypadLocked, Door: d.Config.ID, Out: out, Mode: d.mode, Next: sd.LockedUntil})
	p.feedback(i, out, ShowLocked)
}

func (p *Panel) feedback(i int, out bool, f Feedback) {
	p.outputs = append(p.outputs, Output{Port: p.doors[i].Config.Port, Feedback: f, Out: out})
}

func (p *Panel) say(i int, q *access.Request, a *access.Decision, kind Kind) {
	p.emit(Describe(p.c.Table, q, a, kind))
}

// Describe writes a decision as an event, without a number.
func Describe(t *access.Table, q *access.Request, a *access.Decision, kind Kind) Event {
	e := Event{
		At: q.At, Kind: kind, Door: t.Doors[q.Door].ID, Out: q.Out, Person: a.Person, Reason: a.Reason, Mode: q.Mode,
		Level: a.Level, Schedule: a.Schedule, Next: known(a.Next), Checks: append([]access.Check(nil), a.Trace.Checks()...),
	}
	if q.HasCard && a.Read.Fault == cards.Fits && a.Read.Format != nil {
		e.Format, e.Facility, e.Number = a.Read.Format.Name, a.Read.Facility, a.Read.Number
	} else if q.HasCard {
		e.Bits = q.Bits.String()
	}
	return e
}
