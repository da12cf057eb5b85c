// Package prove answers questions about a configuration: may this person pass this door at that moment and
// why, what a door does now and next, who can come in.
package prove

import (
	"fmt"
	"strings"
	"sync"
	"time"

	"amberkeystone/core/access"
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/site"
)

// Book looks things up in a configuration and puts events into words.
type Book struct {
	Config    *site.Config
	names     image.Names
	doors     map[site.ID]*site.Door
	schedules map[site.ID]*site.Schedule
	plans     map[site.ID]*site.Plan
	people    map[site.ID]*site.Person
	zones     map[site.ID]*hours.Zone
	times     *site.Timetable

	once    sync.Once // for holders, which are wanted only where a card is not known
	holders map[held]*site.Person
}

// Names returns the names of everything in the configuration.
func (b *Book) Names() image.Names { return b.names }

// Name returns the name of an object, or "removed" with its number.
func (b *Book) Name(id site.ID) string {
	if n, ok := b.names[id]; ok {
		return n
	}
	return fmt.Sprintf("removed (%d)", id)
}

// Knows reports whether the book has a name for an object.
func (b *Book) Knows(id site.ID) bool { _, ok := b.names[id]; return ok }

// Door finds a door, or nil.
func (b *Book) Door(id site.ID) *site.Door { return b.doors[id] }

// Zone returns the zone of a door's controller.
func (b *Book) Zone(door site.ID) *hours.Zone {
	if d := b.doors[door]; d != nil {
		return b.ControllerClock(d.ControllerID)
	}
	return &hours.Zone{Name: "UTC"}
}

// ControllerClock returns the zone of a controller.
func (b *Book) ControllerClock(id site.ID) *hours.Zone {
	if z := b.zones[id]; z != nil {
		return z
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

func clock(z *hours.Zone, t hours.Instant) string { return z.Time(t).Format("15:04") }

// Trace puts the checks of a decision into words.
func (b *Book) Trace(e *panel.Event) []Line {
	z := b.Zone(e.Door)
	var out []Line
	for _, c := range e.Checks {
		name, words := b.check(e, c, z)
		out = append(out, Line{name, c.OK, words})
	}
	switch {
	case e.Reason == access.Timeout && e.Note == "replaced":
		out = append(out, Line{"PIN", false, "was not typed before another card came"})
	case e.Reason == access.Timeout:
		out = append(out, Line{"PIN", false, "was not typed in time"})
	}
	return out
}

func (b *Book) check(e *panel.Event, c access.Check, z *hours.Zone) (name, words string) {
	switch c.Kind {
	case access.CheckReader:
		return "Reader", "no reader is fitted on this side"
	case access.CheckRead:
		if c.OK {
			return "Card read", fmt.Sprintf("%s, decoded without fault", e.Format)
		}
		r := cards.Read{Fault: cards.Fault(c.A), Detail: uint64(c.B)}
		return "Card read", fmt.Sprintf("%d bits: %s", len(e.Bits), r.Explain(b.accepts()))
	case access.CheckCard:
		number := cards.Number(e.Format, e.Facility, e.Number)
		if c.OK {
			return "Card", number + ", active"
		}
		if e.Note == NotSent {
			return "Card", number + ", of " + b.Name(e.Person) + ", not known to this controller yet"
		}
		return "Card", number + b.whenWrong(e.Reason, c, z)
	case access.CheckPerson:
		if c.OK {
			return "Person", b.Name(e.Person)
		}
		return "Person", b.Name(e.Person) + b.whenWrong(e.Reason, c, z)
	case access.CheckKeypad:
		return "Keypad", "locked after too many wrong PINs"
	case access.CheckAsks:
		mode := hours.Mode(c.A)
		words := b.asks(e, mode, z)
		if !c.OK {
			switch e.Reason {
			case access.NeedPIN:
				words += "; a PIN is still missing"
			case access.NeedCard:
				words += "; a PIN alone is not enough"
			}
		}
		return "Door asks", words
	case access.CheckPIN:
		if c.OK {
			return "PIN", "right"
		}
		return "PIN", "not one that counts here"
	case access.CheckLevel:
		if c.OK {
			return "Level", b.Name(site.ID(c.A)) + " covers this door"
		}
		return "Level", "none of this person's levels covers this door"
	case access.CheckHours:
		now := clock(z, e.At)
		if c.OK {
			return "Hours", b.Name(site.ID(c.A)) + " is open"
		}
		return "Hours", fmt.Sprintf("%s: %s; it is %s", b.Name(site.ID(c.A)), b.today(site.ID(c.A), e.Door, z, e.At), now)
	case access.CheckFirst:
		return "First card", "has not come yet; until then nobody else enters"
	case access.CheckLimit:
		return "Segment", b.Name(site.ID(c.A)) + " does not count at this hour" + b.onlyWords(e)
	case access.CheckDates:
		return "Dates", b.Name(site.ID(c.A)) + " is not in force on this day"
	}
	return "Check", fmt.Sprint(c.Kind)
}

// onlyWords names the levels to which the hour of an event is limited.
func (b *Book) onlyWords(e *panel.Event) string {
	line := b.times.Door(e.Door)
	if line == nil {
		return ""
	}
	if m := line.At(e.At); len(m.Levels) > 0 {
		return "; only " + b.levelNames(m.Levels)
	}
	return ""
}

func (b *Book) accepts() []cards.Accepts {
	var out []cards.Accepts
	for _, f := range b.Config.Settings.Cards {
		out = append(out, cards.Accepts{Format: cards.ByName(f.Format), Facilities: f.Facilities})
	}
	return out
}

func (b *Book) asks(e *panel.Event, mode hours.Mode, z *hours.Zone) string {
	p, line := b.plan(e.Door), b.times.Door(e.Door)
	if p == nil {
		return mode.String()
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

func (b *Book) whenWrong(r access.Reason, c access.Check, z *hours.Zone) string {
	switch r {
	case access.CardUnknown:
		return ", nobody's"
	case access.CardLost:
		return ", reported lost"
	case access.CardStolen:
		return ", reported stolen"
	case access.CardSuspended, access.PersonSuspended:
		return ", suspended"
	case access.CardNotYet, access.PersonNotYet:
		return ", in force from " + stamp(z, hours.Instant(c.A))
	case access.CardExpired, access.PersonExpired:
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

// Headline puts an event into a few words, such as "Refused: outside hours".
func (b *Book) Headline(e *panel.Event) string {
	switch e.Kind {
	case panel.Granted:
		words := "Granted"
		if e.Reason == access.GrantedFree {
			words += ", the door is free"
		}
		return words
	case panel.Refused:
		return "Refused: " + e.Reason.Words()
	case panel.ModeNow:
		if e.Waits {
			return "Waits for its first card"
		}
		return "Asks now: " + e.Mode.String()
	case panel.ClockSet:
		return "Clock moved " + movedWords(e.Note)
	}
	if words, ok := headlines[e.Kind]; ok {
		return words
	}
	return "Event without words: " + e.Kind.String()
}

// movedWords turns how far a clock moved into words: 2 h 14 min ahead.
func movedWords(note string) string {
	by, err := time.ParseDuration(note)
	if err != nil {
		return note
	}
	where := "ahead"
	if by < 0 {
		by, where = -by, "back"
	}
	switch {
	case by >= 48*time.Hour:
		return fmt.Sprintf("%d days %s", int(by.Hours()/24+0.5), where)
	case by >= time.Hour:
		return fmt.Sprintf("%d h %d min %s", int(by.Hours()), int(by.Minutes())%60, where)
	case by >= time.Minute:
		return fmt.Sprintf("%d min %d s %s", int(by.Minutes()), int(by.Seconds())%60, where)
	}
	return fmt.Sprintf("%d s %s", int(by.Seconds()), where)
}

var headlines = map[panel.Kind]string{
	panel.Started: "Controller started", panel.ImageLoaded: "New configuration in force",
	panel.NetworkLost: "Network lost",
	panel.NetworkBack: "Network is back", panel.AwaitingPIN: "Card good, waits for the PIN",
	panel.KeypadLocked: "Keypad locked",
	panel.Duress:       "Silent alarm: duress", panel.Opened: "Opened", panel.OpenedAlone: "Opened without a reason",
	panel.Closed:  "Closed",
	panel.Entered: "Went through", panel.NotTaken: "Granted, but not opened", panel.ExitRequest: "Exit request",
	panel.Forced: "Door forced", panel.ForcedEnded: "Forced door closed", panel.HeldWarning: "Held open soon",
	panel.HeldOpen: "Door held open", panel.HeldEnded: "Held-open ended",
	panel.FirstCard: "First card: opens the day", panel.LogDamaged: "Log damaged",
}

// Mend says what would have to change for a refused read to be granted; nothing for other events.
func (b *Book) Mend(e *panel.Event) string {
	if e.Kind != panel.Refused {
		return ""
	}
	who, door, z := b.Name(e.Person), b.Name(e.Door), b.Zone(e.Door)
	switch e.Reason {
	case access.ReaderOff:
		return "Fit a reader on this side, in the door's build."
	case access.FormatUnknown:
		return "Add this card's format to the formats that readers take, or use another card."
	case access.ParityWrong:
		return "Present the card again. If it stays so, look at the reader's wiring or the card's format."
	case access.FacilityWrong:
		return "If these cards are yours, add their facility code to the accepted ones."
	case access.CardUnknown:
		if e.Note == NotSent {
			return "Send to the controller of " + door + ": it does not know yet what " + who + " may do there."
		}
		return "Give the card to a person, then send."
	case access.CardLost, access.CardStolen, access.CardSuspended:
		return "Make the card active again, or give " + who + " another one."
	case access.CardNotYet, access.CardExpired:
		return "Change the dates of the card."
	case access.PersonSuspended:
		return "End the suspension of " + who + "."
	case access.PersonNotYet, access.PersonExpired:
		return "Change the dates of " + who + "."
	case access.KeypadLocked:
		return "Wait until the keypad works again."
	case access.DoorBarred:
		return "Wait until the door is no longer barred, or change its passage plan."
	case access.AwaitingFirstCard:
		return "Let somebody whose level opens the day come in first, or let others in before in the door's first-card rule."
	case access.SegmentLimit:
		return "Give " + who + " one of the levels that count at this hour, or take the limit off the plan's segment."
	case access.NeedPIN:
		return "Type a PIN as well; if there is no keypad, fit one or choose a plan without PIN for " + door + "."
	case access.NeedCard:
		return "Present a card first."
	case access.WrongPIN, access.Timeout:
		return "Type the right PIN, in time."
	case access.NoLevel:
		return "Give " + who + " a level that covers " + door + "."
	case access.LevelDates:
		return "Change the dates on which " + who + " has " + b.Name(e.Level) + "."
	case access.OutsideHours:
		change := fmt.Sprintf("Widen %s, or give %s another level for %s.", b.Name(e.Schedule), who, door)
		if e.Next == 0 || e.Next >= hours.Never {
			return "These hours never come again. " + change
		}
		return fmt.Sprintf("%s may come in again %s. %s", who, stamp(z, e.Next), change)
	}
	return ""
}

// ControllerZone returns the name of a controller's zone.
func (b *Book) ControllerZone(id site.ID) string {
	if z, ok := b.zones[id]; ok && z.Name != "" {
		return z.Name
	}
	return "UTC"
}

// Detail says what the headline of an event leaves out; often nothing.
func (b *Book) Detail(e *panel.Event) string {
	z := b.Zone(e.Door)
	number := ""
	if e.Format != "" {
		number = "card " + cards.Number(e.Format, e.Facility, e.Number)
	}
	switch e.Kind {
	case panel.Granted:
		if e.Level != 0 {
			return "level " + b.Name(e.Level)
		}
		return number
	case panel.Refused:
		if e.Person == 0 && number != "" {
			return number
		}
		if e.Reason == access.Timeout && e.Note == "replaced" {
			return "another card came before it"
		}
		if e.Note == NotSent {
			return number + " is not known to this controller; send to it"
		}
		if e.Mode == hours.Free {
			return "the door was free all the same"
		}
		if e.Reason == access.OutsideHours {
			return "may come in again " + stamp(z, e.Next)
		}
		if e.Bits != "" {
			r := cards.Decode(ptr(mustBits(e.Bits)), b.accepts())
			return r.Explain(b.accepts())
		}
		if e.Reason == access.KeypadLocked {
			return "too many wrong PINs"
		}
	case panel.KeypadLocked:
		return "after too many wrong PINs, until " + clock(z, e.Next)
	case panel.OpenedAlone:
		return "no grant, no exit request, not free"
	case panel.Forced:
		return "opened with no grant, no exit request"
	case panel.ModeNow:
		words := "at all hours"
		if e.Next != 0 {
			words = "until " + shortStamp(z, e.At, e.Next)
		}
		if e.Change != 0 {
			words += ", for " + b.Name(e.Change)
		}
		if e.Waits {
			words = e.Mode.String() + " is needed, " + words
		}
		return words
	case panel.Opened:
		if e.Person != 0 {
			return "by " + b.Name(e.Person)
		}
		return "after an exit request, or free"
	case panel.ImageLoaded:
		return fmt.Sprintf("hash %.8s…", e.Note)
	case panel.LogDamaged:
		if e.Note == "1" {
			return "1 line of the controller's log cannot be believed; it was left out"
		}
		return e.Note + " lines of the controller's log cannot be believed; they were left out"
	}
	return ""
}

func ptr[T any](v T) *T { return &v }

// mustBits reads bits that a controller wrote; what cannot be read is an empty read.
func mustBits(s string) cards.Bits {
	b, err := cards.ParseBits(s)
	if err != nil {
		return cards.Bits{}
	}
	return b
}
