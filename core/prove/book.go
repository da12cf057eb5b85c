// Package prove answers questions about a configuration: may this person pass this door at that moment and why, what a
// door does now and next, who can come in. Book is a configuration with all names; every answer is asked of the same
// gates that controllers have, and put into words.
//
// Reading order: book.go, ask.go, now.go, words.go; matrix.go and reach.go ask for many at once, world.go plays several
// controllers together, relay.go what goes between them.
package prove

import (
	"cmp"
	"fmt"
	"strings"
	"sync"
	"time"

	"amberkeystone/core/model"
	"amberkeystone/core/pass"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// Book looks things up in a configuration and puts events into words.
type Book struct {
	*model.Snapshot
	names     image.Names // of all but people, who are found in the configuration
	doors     map[site.ID]*site.Door
	schedules map[site.ID]*site.Schedule
	plans     map[site.ID]*site.Plan
	times     *site.Timetable

	// Cleared lists what is known of somebody's screenings; nil: nobody is cleared.
	Cleared func(person site.ID) []pass.Clearance

	coresMu sync.Mutex
	cores   map[site.ID]*image.Compiled // what controllers decide by, without anybody; made when it is asked for
}

// name finds the name of an object.
func (b *Book) name(id site.ID) (string, bool) {
	if n, ok := b.names[id]; ok {
		return n, true
	}
	if p := b.Config.Person(id); p != nil {
		return p.Name, true
	}
	if car, floor, ok := id.Stop(); ok {
		return b.Name(car) + ", " + b.Name(floor), true
	}
	return "", false
}

// NamesOf returns the names of everything that an image mentions.
func (b *Book) NamesOf(im *image.Image) image.Names {
	out := image.Names{}
	for _, id := range im.Mentions() {
		if n, ok := b.name(id); ok {
			out[id] = n
		}
	}
	return out
}

// Name returns the name of an object, or "removed" with its number.
func (b *Book) Name(id site.ID) string {
	if n, ok := b.name(id); ok {
		return n
	}
	return fmt.Sprintf("removed (%d)", id)
}

// Knows reports whether the book has a name for an object.
func (b *Book) Knows(id site.ID) bool { _, ok := b.name(id); return ok }

// Door finds a door, or nil.
func (b *Book) Door(id site.ID) *site.Door { return b.doors[id] }

// Zone returns the zone of a door's controller.
func (b *Book) Zone(door site.ID) *hours.Zone {
	if car, _, ok := door.Stop(); ok {
		door = car
	}
	if d := b.doors[door]; d != nil {
		return b.Clock(d.ControllerID)
	}
	return &hours.Zone{Name: "UTC"}
}

// Line is one check of a trace in words.
type Line struct {
	Check string `json:"check"`
	OK    bool   `json:"ok"`
	Words string `json:"words"`
}

func stamp(z *hours.Zone, t hours.Instant) string {
	if t == 0 || t >= hours.Never {
		return "never"
	}
	return z.Time(t).Format("Mon 2 Jan 15:04")
}

// When says when something is or was, by the clock of a door and as short as the present moment allows.
func (b *Book) When(door site.ID, now, at hours.Instant) string {
	return shortStamp(b.Zone(door), now, at)
}

func clock(z *hours.Zone, t hours.Instant) string { return z.Time(t).Format("15:04") }

// Trace puts the checks of a decision into words.
func (b *Book) Trace(e *pass.Fact) []Line {
	z := b.Zone(e.Door)
	var out []Line
	for _, c := range e.Checks {
		name, words := b.check(e, c, z)
		out = append(out, Line{name, c.OK, words})
	}
	switch {
	case e.Reason == pass.Timeout && e.Note == "replaced":
		out = append(out, Line{"PIN", false, "was not typed before another card came"})
	case e.Reason == pass.Timeout:
		out = append(out, Line{"PIN", false, "was not typed in time"})
	}
	return out
}

func (b *Book) check(e *pass.Fact, c pass.Check, z *hours.Zone) (name, words string) {
	if name, words = b.credentialCheck(e, c, z); name != "" {
		return name, words
	}
	switch c.Kind {
	case pass.CheckAsks:
		return "Door asks", b.asks(e, hours.Mode(c.A), z) + missingProof(c.OK, e.Reason)
	case pass.CheckLevel:
		if c.OK {
			return "Level", b.Name(site.ID(c.A)) + " covers this door"
		}
		return "Level", "none of this person's levels covers this door"
	case pass.CheckHours:
		now := clock(z, e.At)
		if c.OK {
			return "Hours", b.Name(site.ID(c.A)) + " is open"
		}
		return "Hours", fmt.Sprintf(
			"%s: %s; it is %s",
			b.Name(site.ID(c.A)),
			b.today(site.ID(c.A), e.Door, z, e.At),
			now,
		)
	case pass.CheckFirst:
		return "First card", "has not come yet; until then nobody else enters"
	case pass.CheckLimit:
		return "Segment", b.Name(site.ID(c.A)) + " does not count at this hour" + b.onlyWords(e)
	case pass.CheckInterlock:
		if c.A == 0 {
			return "Interlock", "somebody else goes first"
		}
		return "Interlock", b.Name(site.ID(c.A)) + " is not closed and locked"
	case pass.CheckArea:
		return "Area", b.areaCheck(e, c, z)
	case pass.CheckCleared:
		return b.nameOr(site.ID(c.A), "Screening"), b.clearedCheck(e, c, z)
	case pass.CheckOverride:
		return "Lockdown", "this person's level overrides it"
	case pass.CheckMore:
		if c.OK {
			return b.Name(site.ID(c.A)), "all who are wanted are here"
		}
		return b.Name(site.ID(c.A)), b.moreWords(e)
	case pass.CheckArmed:
		if c.OK {
			return b.nameOr(site.ID(c.A), "Alarm area"), "armed; this person may disarm it"
		}
		return b.nameOr(site.ID(c.A), "Alarm area"), "armed; only those come in who may disarm it"
	case pass.CheckFloor:
		return "Floors", "the level comes to this elevator and to none of its floors"
	case pass.CheckDates:
		return "Dates", b.Name(site.ID(c.A)) + " is not in force on this day"
	}
	return "Check", fmt.Sprint(c.Kind)
}

// credentialCheck is check of a reader, a card, a person or a PIN; without a name it is of something else.
func (b *Book) credentialCheck(e *pass.Fact, c pass.Check, z *hours.Zone) (name, words string) {
	switch c.Kind {
	case pass.CheckReader:
		return "Reader", "no reader is fitted on this side"
	case pass.CheckRead:
		if e.Shown != "" {
			return b.shown(e, c)
		}
		if c.OK {
			return "Card read", fmt.Sprintf("%s, decoded without fault", e.Format)
		}
		r := cards.Read{Fault: cards.Fault(c.A), Detail: uint64(c.B)}
		return "Card read", fmt.Sprintf("%d bits: %s", len(e.Bits), r.Explain(b.accepts(e)))
	case pass.CheckCard:
		number := cmp.Or(e.Shown, cards.Number(e.Format, e.Facility, e.Number))
		if c.OK {
			return "Card", number + ", active"
		}
		if e.Note == NotSent {
			return "Card", number + ", of " + b.Name(e.Person) + ", not known to this controller yet"
		}
		return "Card", number + b.whenWrong(e.Reason, c, z)
	case pass.CheckPerson:
		if c.OK {
			return "Person", b.Name(e.Person)
		}
		return "Person", b.Name(e.Person) + b.whenWrong(e.Reason, c, z)
	case pass.CheckKeypad:
		if c.A != 0 {
			return "Card", "locked at this controller after too many wrong PINs, until " + clock(z, hours.Instant(c.B))
		}
		return "Keypad", "locked after too many wrong PINs"
	case pass.CheckPIN:
		if c.OK {
			return "PIN", "right"
		}
		return "PIN", "not one that counts here"
	}
	return "", ""
}

// missingProof says what is still wanted.
func missingProof(ok bool, r pass.Reason) string {
	switch {
	case ok:
	case r == pass.NeedPIN:
		return "; a PIN is still missing"
	case r == pass.NeedCard:
		return "; a PIN alone is not enough"
	}
	return ""
}

// shown is the check of a read that is no card's.
func (b *Book) shown(e *pass.Fact, c pass.Check) (name, words string) {
	if c.OK {
		return "Read", "a " + e.Format + ", which this reader takes"
	}
	return "Read", "a " + e.Format + ", which this reader does not take"
}

// onlyWords names the levels to which the hour of an event is limited.
func (b *Book) onlyWords(e *pass.Fact) string {
	line := b.times.Door(e.Door)
	if line == nil {
		return ""
	}
	if m := line.At(e.At); len(m.Levels) > 0 {
		return "; only " + b.levelNames(m.Levels)
	}
	return ""
}

// accepts are the formats of the reader that a fact tells of.
func (b *Book) accepts(e *pass.Fact) []cards.Accepts {
	d := b.doors[e.Door]
	switch {
	case d == nil:
		return b.Config.Settings.Accepts(nil)
	case e.Out:
		return b.Config.Settings.Accepts(&d.Out)
	}
	return b.Config.Settings.Accepts(&d.In)
}

func (b *Book) asks(e *pass.Fact, mode hours.Mode, z *hours.Zone) string {
	p, line := b.plan(e.Door), b.times.Door(e.Door)
	if p == nil {
		return mode.String()
	}
	if e.Layer > hours.DatedChange {
		return fmt.Sprintf("%s (%s)", mode, above[e.Layer].words)
	}
	m, words, who := line.At(e.At), mode.String(), p.Name
	switch m.Layer {
	case hours.DatedChange:
		who = b.Name(site.ID(m.Change))
	case hours.PlanHoliday:
		who += b.because(e.Door, line, m, e.At)
		who = strings.ReplaceAll(who, "**", "")
	}
	if m.First {
		who += ", after a first card"
	}
	if next := line.Next(e.At); next != hours.Never {
		return fmt.Sprintf("%s (%s, until %s)", words, who, shortStamp(z, e.At, next))
	}
	return fmt.Sprintf("%s (%s, at all hours)", words, who)
}

func (b *Book) plan(door site.ID) *site.Plan {
	if d := b.doors[door]; d != nil {
		return b.plans[d.PlanID]
	}
	return nil
}

// shortStamp leaves the day away where it is the day of now.
func shortStamp(z *hours.Zone, now, t hours.Instant) string {
	switch a, b := z.Wall(now), z.Wall(t); {
	case a.Day == b.Day:
		return clock(z, t)
	case a.Day+1 == b.Day && b.Minute == 0:
		return "midnight"
	case a.Day+1 == b.Day:
		return "tomorrow " + clock(z, t)
	case b.Day-a.Day < 7:
		return z.Time(t).Format("Mon 15:04")
	}
	return stamp(z, t)
}

func (b *Book) whenWrong(r pass.Reason, c pass.Check, z *hours.Zone) string {
	switch r {
	case pass.CardUnknown:
		return ", nobody's"
	case pass.CardLost:
		return ", reported lost"
	case pass.CardStolen:
		return ", reported stolen"
	case pass.CardSuspended, pass.PersonSuspended:
		return ", suspended"
	case pass.CardNotYet, pass.PersonNotYet:
		return ", in force from " + stamp(z, hours.Instant(c.A))
	case pass.CardExpired, pass.PersonExpired:
		last := z.Time(hours.Instant(c.B) - hours.Instant(time.Minute/time.Millisecond))
		return ", ended " + last.Format("Mon 2 Jan 15:04")
	}
	return ""
}

// today lists the hours of a schedule on the day of an instant, at a door.
func (b *Book) today(id, door site.ID, z *hours.Zone, at hours.Instant) string {
	s := b.times.Schedules[id]
	if s == nil {
		return "unknown hours"
	}
	day := z.Wall(at).Day
	name := z.Time(at).Format("Mon")
	if list := b.times.Holidays(b.times.Site(door), day); len(list) > 0 {
		name += " (" + list[0].Name + ")"
	}
	var list []string
	local := hours.Local{Zone: z, Calendar: b.times.Calendar(b.times.Site(door))}
	begin, end := z.Resolve(day, 0), z.Resolve(day+1, 0)
	for _, o := range s.Openings(local, begin, end) {
		list = append(list, clock(z, o.From)+"-"+strings.Replace(clock(z, o.To), "00:00", "24:00", 1))
	}
	if len(list) == 0 {
		return "closed on " + name
	}
	return name + " " + strings.Join(list, ", ")
}

// ControllerZone returns the name of a controller's zone.
func (b *Book) ControllerZone(id site.ID) string {
	return cmp.Or(b.Clock(id).Name, "UTC")
}
