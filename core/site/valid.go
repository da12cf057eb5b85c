package site

import (
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
)

// Fault is one thing wrong with a value: the field as the API names it, and a sentence with the mend.
type Fault struct {
	Field string
	Words string
}

func (f Fault) Error() string { return f.Field + ": " + f.Words }

// Faults collects what is wrong with one value.
type Faults []Fault

func (fs Faults) Error() string {
	var lines []string
	for _, f := range fs {
		lines = append(lines, f.Error())
	}
	return strings.Join(lines, "; ")
}

func (fs *Faults) add(bad bool, field, format string, args ...any) {
	if bad {
		*fs = append(*fs, Fault{field, fmt.Sprintf(format, args...)})
	}
}

func (fs *Faults) name(s string) {
	fs.add(strings.TrimSpace(s) == "", "name", "give it a name")
	fs.add(len([]rune(s)) > nameField.Max, "name", "at most %d letters", nameField.Max)
	fs.add(s != strings.TrimSpace(s), "name", "remove the spaces before or after it")
	fs.add(strings.ContainsAny(s, "\n\r\t"), "name", "a name is one line")
}

// Check says what is wrong with the settings.
func (s Settings) Check() Faults {
	var fs Faults
	fs.name(s.Name)
	fs.add(len(s.Cards) == 0, "cards", "readers take at least one card format")
	s.checkFormats(&fs)
	for i, c := range s.Cards {
		field := fmt.Sprintf("cards[%d]", i)
		f := s.Format(c.Format)
		fs.add(f == nil, field+".format", "there is no card format %q", c.Format)
		if f == nil {
			continue
		}
		for _, code := range c.Facilities {
			if err := f.Check(code, 0); err != nil {
				fs.add(true, field+".facilities", "%s", err)
			}
		}
		for _, other := range s.Cards[:i] {
			fs.add(other.Format == c.Format, field+".format", "%s is listed twice", c.Format)
		}
	}
	fs.within("Settings.pinLength", "pinLength", s.PINLength)
	fs.within("Settings.pinTries", "pinTries", s.PINTries)
	fs.within("Settings.pinLock", "pinLock", s.PINLock)
	fs.add(s.PINLocks != "" && !oneOf(s.PINLocks, LocksKeypad, LocksCard), "pinLocks", "%q is not keypad or card",
		s.PINLocks)
	fs.within("Settings.cardWithPin", "cardWithPin", s.CardWithPIN)
	s.checkCallouts(&fs)
	return fs
}

// DefaultSettings are what a new installation starts with.
func DefaultSettings() Settings {
	return Settings{
		Name:      "New installation",
		Cards:     []CardFormat{{Format: cards.Standard26.Name}, {Format: cards.Raw.Name}},
		PINLength: 4, PINTries: 5, PINLock: 5, CardWithPIN: 10,
	}
}

func (fs *Faults) zone(z string) {
	fs.add(z == "" || z == "Local", "zone", "write an IANA zone such as America/Halifax")
}

// Check says what is wrong with a site.
func (s Site) Check() Faults {
	var fs Faults
	fs.name(s.Name)
	fs.zone(s.Zone)
	return fs
}

// Check says what is wrong with a floor.
func (f Floor) Check() Faults {
	var fs Faults
	fs.name(f.Name)
	fs.add(f.SiteID == 0, "siteId", "choose the site it belongs to")
	fs.within("Floor.level", "level", f.Level)
	return fs
}

// Check says what is wrong with a controller.
func (c Controller) Check() Faults {
	var fs Faults
	fs.name(c.Name)
	fs.zone(c.Zone)
	fs.short("Controller.place", "place", c.Place)
	fs.within("Controller.resistor", "resistor", c.Resistor)
	c.checkExpanders(&fs)
	c.Network.check(&fs)
	return fs
}

func oneOf[T ~string](v T, all ...T) bool {
	for _, a := range all {
		if a == v {
			return true
		}
	}
	return false
}

// Check says what is wrong with a door by itself.
func (d Door) Check() Faults {
	var fs Faults
	fs.name(d.Name)
	fs.add(d.FloorID == 0, "floorId", "choose the floor it is on")
	fs.add(d.ControllerID == 0, "controllerId", "choose the controller that drives it")
	fs.add(d.PlanID == 0, "planId", "choose the passage plan it follows")
	fs.add(d.Port < 1, "port", "ports are counted from 1")
	fs.short("Door.outside", "outside", d.Outside)
	fs.short("Door.inside", "inside", d.Inside)
	fs.add(!d.In.Fitted && d.Car == nil, "in.fitted", "a door has a reader on the way in")
	fs.add(
		!oneOf(d.Lock, Strike, Magnetic, Motor, Bolt, Turnstile, Barrier, Shutter),
		"lock",
		"%q is not a kind of lock",
		d.Lock,
	)
	fs.add(
		d.Lock == Magnetic && !d.FailSafe,
		"failSafe",
		"a magnetic lock cannot be fail-secure: without power it lets go",
	)
	fs.add(!oneOf(d.Contact, NotFitted, NormallyClosed, NormallyOpen), "contact", "%q is not a wiring", d.Contact)
	fs.add(!oneOf(d.Exit, NotFitted, NormallyClosed, NormallyOpen), "exit", "%q is not a wiring", d.Exit)
	fs.add(!oneOf(d.Relock, OnOpening, OnClosing, AtEnd), "relock", "%q is not a moment of re-locking", d.Relock)
	fs.add(
		d.Contact == NotFitted && d.Relock != AtEnd,
		"relock",
		"without a door contact only \"at the end of the time\" is possible",
	)
	fs.within("Door.unlock", "unlock", d.Unlock)
	fs.within("Door.extended", "extended", d.Extended)
	fs.add(d.Extended < d.Unlock, "extended", "the extended time is not shorter than the unlock time, %d s", d.Unlock)
	fs.within("Door.exitTime", "exitTime", d.ExitTime)
	fs.within("Door.heldOpen", "heldOpen", d.HeldOpen)
	fs.within("Door.preAlarm", "preAlarm", d.PreAlarm)
	fs.add(d.PreAlarm >= d.HeldOpen, "preAlarm", "the warning is shorter than the held-open time, %d s", d.HeldOpen)
	fs.within("Door.forced", "forced", d.Forced)
	fs.within("Door.order", "order", d.Order)
	d.checkPoints(&fs)
	d.checkCar(&fs)
	d.Toggle.check(&fs)
	d.Cable.check(&fs)
	d.Hardware.check(&fs)
	d.In.check(&fs, "in.")
	d.Out.check(&fs, "out.")
	return append(fs, d.FirstCard.Check()...)
}

// Check says what is wrong with a schedule.
func (s Schedule) Check() Faults {
	var fs Faults
	fs.name(s.Name)
	if err := s.Week.Valid(); err != nil {
		fs.add(true, "week", "%s", err)
	}
	fs.answers(len(s.Holidays), func(i int) (ID, OnHoliday, error) {
		h := s.Holidays[i]
		for _, p := range h.Periods {
			if err := p.Valid(); err != nil {
				return h.TypeID, h.Do, err
			}
		}
		return h.TypeID, h.Do, nil
	}, AsWeekday, Closed, OwnHours)
	return fs
}

// Check says what is wrong with a plan.
func (p Plan) Check() Faults {
	var fs Faults
	fs.name(p.Name)
	if err := p.Pattern.Valid(); err != nil {
		fs.add(true, "week", "%s", err)
	}
	fs.answers(len(p.Holidays), func(i int) (ID, OnHoliday, error) {
		h := p.Holidays[i]
		return h.TypeID, h.Do, hours.ValidRow(p.Default, h.Segments)
	}, AsWeekday, DefaultMode, OwnHours)
	return fs
}

// Check says what is wrong with a level.
func (l Level) Check() Faults {
	var fs Faults
	fs.name(l.Name)
	fs.add(
		strings.ContainsAny(l.Name, "\"|"),
		"name",
		"leave out \" and |: a plan's text sets names of levels apart with them",
	)
	for i, e := range l.Entries {
		field := fmt.Sprintf("entries[%d]", i)
		e.check(&fs, field)
		fs.add(e.ScheduleID == 0, field+".scheduleId", "choose a schedule")
		fs.add(slices.ContainsFunc(l.Entries[:i], e.Equal), field, "the same place with the same schedule is listed twice")
		for k, t := range e.Except {
			t.check(&fs, fmt.Sprintf("%s.except[%d]", field, k))
			fs.add(t.Kind == Everything || t.Kind == AtReader, fmt.Sprintf("%s.except[%d].kind", field, k),
				"leave out doors, door sets, floors or sites")
		}
	}
	for i, id := range l.Includes {
		field := fmt.Sprintf("includes[%d]", i)
		fs.add(id == 0, field, "choose a level")
		fs.add(id == l.ID && id != 0, field, "a level cannot contain itself")
		fs.add(slices.Contains(l.Includes[:i], id), field, "this level is listed twice")
	}
	return fs
}

// check says what is wrong with the place of an entry.
func (e *Entry) check(fs *Faults, field string) {
	if e.Target.Kind != AtStops {
		e.Target.check(fs, field+".target")
		fs.add(e.Ride != nil, field+".ride", "only elevator floors say which floors; leave it out")
		return
	}
	fs.add(e.Target != Target{Kind: AtStops}, field+".target.id", "elevator floors need no number; leave it out")
	fs.add(e.Ride == nil, field+".ride", "say which floors, by which elevators")
	if e.Ride != nil {
		e.Ride.check(fs, field+".ride")
	}
}

// Check says what is wrong with a department.
func (d Department) Check() Faults {
	var fs Faults
	fs.name(d.Name)
	fs.grants(d.Levels)
	return fs
}

// Check says what is wrong with a free card.
func (f FreeCard) Check() Faults {
	var fs Faults
	f.check(&fs, "")
	return fs
}

// Check says what is wrong with a person.
func (p Person) Check() Faults {
	var fs Faults
	fs.name(p.Name)
	for i, id := range p.DepartmentIDs {
		field := fmt.Sprintf("departmentIds[%d]", i)
		fs.add(id == 0, field, "choose a department")
		fs.add(slices.Contains(p.DepartmentIDs[:i], id), field, "this department is listed twice")
	}
	fs.dates("", p.Dates)
	for i, c := range p.Credentials {
		c.check(&fs, fmt.Sprintf("credentials[%d].", i))
	}
	fs.grants(p.Levels)
	fs.short("Person.number", "number", p.Number)
	fs.short("Person.phone", "phone", p.Phone)
	fs.short("Person.email", "email", p.Email)
	fs.short("Person.note", "note", p.Note)
	return fs
}

// grants says what is wrong with what somebody is given. The same may be given twice with other dates.
func (fs *Faults) grants(list []Grant) {
	for i, g := range list {
		field := fmt.Sprintf("levels[%d].", i)
		if g.LevelID == 0 && g.Target != (Target{}) {
			g.Target.check(fs, field+"target")
			fs.add(g.ScheduleID == 0, field+"scheduleId", "choose a schedule")
			fs.add(g.Target.ID >= ownPlace || g.ScheduleID >= ownLast, field+"target.id", "this number is too large")
		} else {
			fs.add(g.LevelID <= 0, field+"levelId", "choose a level, or a place and a schedule")
			fs.add(g.Target != (Target{}) || g.ScheduleID != 0, field+"levelId",
				"give either a level, or a place and a schedule")
		}
		fs.add(slices.Contains(list[:i], g), field+"levelId", "this is listed twice with the same dates")
		fs.dates(field, g.Dates)
	}
}
