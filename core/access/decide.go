package access

import (
	"slices"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// CardKey finds a card.
type CardKey struct {
	Format           *cards.Format
	Facility, Number uint64
}

// Span is a stretch of time, [From, Until).
type Span struct{ From, Until hours.Instant }

func (s Span) holds(t hours.Instant) bool { return s.From <= t && t < s.Until }

// Card is a card as a controller knows it.
type Card struct {
	Person int32  // index into Table.People
	Bad    Reason // why it opens nothing; NoReason where it is in use
	Span   Span
}

// BadCard is the reason for which a card of a status opens nothing, NoReason where it does.
func BadCard(s site.CardStatus) Reason {
	switch s {
	case site.Active:
		return NoReason
	case site.Lost:
		return CardLost
	case site.Stolen:
		return CardStolen
	}
	return CardSuspended
}

// Person is a person as a controller knows one.
type Person struct {
	ID                             site.ID
	Suspended, Extended, AlwaysPIN bool
	Span                           Span
	Levels                         []LevelHeld // shared by all who hold the same
}

// LevelHeld is a level that somebody holds, and when.
type LevelHeld struct {
	Level int32 // index into Table.Levels
	Span  Span
}

// Level is an access level; where it leads stands in Table.Ways.
type Level struct {
	ID       site.ID
	OpensDay bool
}

// Way lets those through a door who have a level, while a schedule is open.
type Way struct {
	Level    int32 // index into Table.Levels
	Schedule int32 // index into Table.Schedules
}

// Schedule is a compiled schedule.
type Schedule struct {
	ID site.ID
	hours.Schedule
}

// Table is all that decisions need, ready to be asked. It is not changed once built.
type Table struct {
	Zone      hours.Zone
	Accepts   []cards.Accepts
	Doors     []site.Door
	Calendars []*hours.Calendar // the holidays of Doors[i]
	Cards     map[CardKey]Card
	PINs      map[cards.PINHash]PINOwner
	People    []Person
	Levels    []Level
	Ways      []Way   // by door, then by level
	WayStart  []int32 // those through Doors[i] are Ways[WayStart[i]:WayStart[i+1]]
	Schedules []Schedule
}

// PINOwner says whose PIN it is, and whether it is the one that calls for help.
type PINOwner struct {
	Person int32
	Duress bool
}

// Request is what was presented at a door, and what the door asked at that moment.
type Request struct {
	At           hours.Instant
	Door         int // index into Table.Doors
	Out          bool
	Mode         hours.Mode
	HasCard      bool
	Bits         cards.Bits
	HasPIN       bool
	PIN          cards.PINHash
	KeypadLocked bool
	Levels       []int64 // only these count now; none listed: all
	First        bool    // a first card would be of use
	Awaiting     bool    // until it has come nobody else enters
}

// Decision is the answer to a request.
type Decision struct {
	Reason   Reason
	Person   site.ID // 0 where nobody was recognised
	Extended bool
	Read     cards.Read
	Level    site.ID       // the level that grants, or came nearest
	Schedule site.ID       // its schedule
	Next     hours.Instant // outside-hours: when it opens next; 0 otherwise
	Opens    bool          // granted, and this person gives the first card here
	Calls    site.ID       // who typed a PIN under duress, whatever the reason says; 0: nobody
	until    hours.Instant // the last instant of the card that was read; Never without one
	Trace    Trace
}

// Asks returns what a side of a door asks, given the mode of the door. The way out is never barred, and
// asks for a PIN only where it has a keypad.
func Asks(d *site.Door, out bool, mode hours.Mode) hours.Mode {
	if !out {
		return mode
	}
	if mode == hours.Barred {
		mode = hours.Card
	}
	if mode.AsksPIN() && !d.Out.Keypad {
		mode = hours.Card
	}
	return mode
}

// Decide answers a request. It makes the checks in the order of the reasons, stops at the first that fails,
// and does not allocate. Whatever the answer, it says who typed a PIN under duress: nobody, where the PIN is another
// person's than the card.
func (t *Table) Decide(q *Request) (d Decision) {
	d.until = hours.Never
	t.decide(q, &d)
	if !q.HasPIN {
		return d
	}
	if owner, ok := t.PINs[q.PIN]; ok && owner.Duress {
		if who := t.People[owner.Person].ID; d.Person == 0 || d.Person == who {
			d.Calls = who
		}
	}
	return d
}

func (t *Table) decide(q *Request, d *Decision) {
	door := &t.Doors[q.Door]
	reader := &door.In
	if q.Out {
		reader = &door.Out
	}
	if !reader.Fitted {
		d.refuse(ReaderOff, CheckReader, 0, 0)
		return
	}
	typed := q.HasPIN && reader.Keypad // nobody types at a reader without keys
	mode := Asks(door, q.Out, q.Mode)
	who := int32(-1)
	if q.HasCard {
		if who = t.card(q, d); who < 0 {
			return
		}
	}
	if !q.HasCard && typed {
		if q.KeypadLocked {
			d.refuse(KeypadLocked, CheckKeypad, 0, 0)
			return
		}
		if owner, ok := t.PINs[q.PIN]; ok && mode != hours.Card && mode != hours.CardAndPIN {
			who = owner.Person
		}
	}
	if who >= 0 && !t.person(who, q.At, d) {
		return
	}
	if q.HasCard && typed && q.KeypadLocked {
		d.refuse(KeypadLocked, CheckKeypad, 0, 0)
		return
	}
	if mode == hours.Barred {
		d.refuse(DoorBarred, CheckAsks, int64(mode), 0)
		return
	}
	if q.Awaiting && mode != hours.Free && !t.mayOpen(who, q) {
		d.refuse(AwaitingFirstCard, CheckFirst, 0, 0)
		return
	}
	if !t.asked(q, typed, mode, who, d) {
		return
	}
	if mode == hours.Free {
		d.Reason = GrantedFree
		return
	}
	if !t.level(who, q, d) {
		return
	}
	d.Reason = Granted
	if owner, ok := t.PINs[q.PIN]; typed && ok && owner.Duress {
		d.Reason = GrantedDuress
	}
}

func (d *Decision) refuse(r Reason, kind CheckKind, a, b int64) {
	d.Reason = r
	d.Trace.add(kind, false, a, b)
}

// card decodes the read and finds the card; it returns its person, or -1.
func (t *Table) card(q *Request, d *Decision) int32 {
	d.Read = cards.Decode(&q.Bits, t.Accepts)
	if d.Read.Fault != cards.Fits {
		reason := [...]Reason{
			cards.WrongLength:   FormatUnknown,
			cards.WrongParity:   ParityWrong,
			cards.WrongFacility: FacilityWrong,
		}
		d.refuse(reason[d.Read.Fault], CheckRead, int64(d.Read.Fault), int64(d.Read.Detail))
		return -1
	}
	d.Trace.add(CheckRead, true, 0, 0)
	c, ok := t.Cards[CardKey{d.Read.Format, d.Read.Facility, d.Read.Number}]
	if !ok {
		d.refuse(CardUnknown, CheckCard, 0, 0)
		return -1
	}
	d.Person = t.People[c.Person].ID
	reason := c.Bad
	switch {
	case reason != NoReason:
	case q.At < c.Span.From:
		reason = CardNotYet
	case q.At >= c.Span.Until:
		reason = CardExpired
	default:
		d.Trace.add(CheckCard, true, 0, 0)
		d.until = c.Span.Until
		return c.Person
	}
	d.refuse(reason, CheckCard, int64(c.Span.From), int64(c.Span.Until))
	return -1
}

func (t *Table) person(who int32, at hours.Instant, d *Decision) bool {
	p := &t.People[who]
	d.Person, d.Extended = p.ID, p.Extended
	reason := NoReason
	switch {
	case p.Suspended:
		reason = PersonSuspended
	case at < p.Span.From:
		reason = PersonNotYet
	case at >= p.Span.Until:
		reason = PersonExpired
	}
	if reason != NoReason {
		d.refuse(reason, CheckPerson, int64(p.Span.From), int64(p.Span.Until))
		return false
	}
	d.Trace.add(CheckPerson, true, 0, 0)
	return true
}

// asked checks that what was presented is what the door asks. Typed says that a PIN was typed where one can be.
func (t *Table) asked(q *Request, typed bool, mode hours.Mode, who int32, d *Decision) bool {
	needPIN := mode == hours.PIN || mode == hours.CardAndPIN
	needCard := mode == hours.Card || mode == hours.CardAndPIN || mode == hours.CardOrPIN && !typed
	if who >= 0 && q.HasCard && mode != hours.Free && t.People[who].AlwaysPIN {
		needPIN = needPIN || !q.Out || t.Doors[q.Door].Out.Keypad // a way out without keys never asks for a PIN
	}
	asks := int64(mode)
	switch {
	case mode == hours.Free:
		d.Trace.add(CheckAsks, true, asks, 0)
		return true
	case needCard && !q.HasCard:
		d.refuse(NeedCard, CheckAsks, asks, 0)
		return false
	case needPIN && !typed:
		d.refuse(NeedPIN, CheckAsks, asks, 0)
		return false
	}
	d.Trace.add(CheckAsks, true, asks, 0)
	if !typed {
		return true
	}
	owner, known := t.PINs[q.PIN]
	if who < 0 || q.HasCard && (!known || owner.Person != who) { // with a card the PIN must be the same person's
		d.refuse(WrongPIN, CheckPIN, 0, 0)
		return false
	}
	d.Trace.add(CheckPIN, true, 0, 0)
	return true
}

// ways returns the ways of a level through a door.
func (t *Table) ways(door int, level int32) []Way {
	list := t.Ways[t.WayStart[door]:t.WayStart[door+1]]
	lo, hi := 0, len(list)
	for lo < hi {
		if mid := (lo + hi) / 2; list[mid].Level < level {
			lo = mid + 1
		} else {
			hi = mid
		}
	}
	for hi < len(list) && list[hi].Level == level {
		hi++
	}
	return list[lo:hi]
}

// mayOpen reports whether somebody may give the first card at a door now.
func (t *Table) mayOpen(who int32, q *Request) bool {
	if q.Out || t.Doors[q.Door].FirstCard.Who != site.Openers {
		return true
	}
	if who < 0 {
		return true // what else is wrong says more
	}
	w := t.Zone.Wall(q.At)
	for _, held := range t.People[who].Levels {
		l := &t.Levels[held.Level]
		if !l.OpensDay || !held.Span.holds(q.At) {
			continue
		}
		for _, way := range t.ways(q.Door, held.Level) {
			if t.Schedules[way.Schedule].Open(t.Calendars[q.Door], w.Day, w.Minute) {
				return true
			}
		}
	}
	return false
}

// next says when somebody may come in again, and by which level: never after the last day of the card, the person or
// the level, and counting levels that begin later.
func (t *Table) next(who int32, q *Request, d *Decision) {
	local := hours.Local{Zone: &t.Zone, Calendar: t.Calendars[q.Door]}
	d.Next = hours.Never
	last := min(d.until, t.People[who].Span.Until)
	for _, held := range t.People[who].Levels {
		for _, way := range t.ways(q.Door, held.Level) {
			at := t.Schedules[way.Schedule].NextOpen(local, max(q.At, held.Span.From))
			if at < d.Next && at < min(last, held.Span.Until) {
				d.Level, d.Schedule, d.Next = t.Levels[way.Level].ID, t.Schedules[way.Schedule].ID, at
			}
		}
	}
}

// level looks for a level that covers the door now. Where none does it says which came nearest.
func (t *Table) level(who int32, q *Request, d *Decision) bool {
	w := t.Zone.Wall(q.At)
	var dated, closed, limited bool
	var datedLevel, limitedLevel site.ID
	calendar := t.Calendars[q.Door]
	for _, held := range t.People[who].Levels {
		for _, way := range t.ways(q.Door, held.Level) {
			l := &t.Levels[held.Level]
			if !held.Span.holds(q.At) {
				dated, datedLevel = true, l.ID
				continue
			}
			schedule := &t.Schedules[way.Schedule]
			if schedule.Open(calendar, w.Day, w.Minute) {
				if len(q.Levels) > 0 && !slices.Contains(q.Levels, int64(l.ID)) {
					limited, limitedLevel = true, l.ID
					continue
				}
				d.Level, d.Schedule, d.Next = l.ID, schedule.ID, 0
				d.Trace.add(CheckLevel, true, int64(l.ID), 0)
				d.Trace.add(CheckHours, true, int64(schedule.ID), 0)
				d.Opens = q.First && !q.Out && t.mayOpen(who, q)
				return true
			}
			if !closed {
				d.Level, d.Schedule = l.ID, schedule.ID
			}
			closed = true
		}
	}
	switch {
	case limited:
		d.Level, d.Schedule, d.Next = limitedLevel, 0, 0
		d.Trace.add(CheckLevel, true, int64(limitedLevel), 0)
		d.refuse(SegmentLimit, CheckLimit, int64(limitedLevel), 0)
	case closed:
		t.next(who, q, d)
		d.Trace.add(CheckLevel, true, int64(d.Level), 0)
		d.refuse(OutsideHours, CheckHours, int64(d.Schedule), int64(d.Next))
	case dated:
		d.Level = datedLevel
		d.Trace.add(CheckLevel, true, int64(datedLevel), 0)
		d.refuse(LevelDates, CheckDates, int64(datedLevel), 0)
	default:
		d.refuse(NoLevel, CheckLevel, 0, 0)
	}
	return false
}
