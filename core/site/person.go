package site

import (
	"slices"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
)

// Level is an access level: places, each with a schedule, and the levels that it contains.
type Level struct {
	ID      ID      `json:"id"`
	Name    string  `json:"name"`
	Entries []Entry `json:"entries"`
	// Includes are levels that whoever has this one has too, with all that they contain.
	Includes []ID `json:"includes,omitempty" doc:"Levels that are contained: who has this one has them too"`
	Authorities
}

// Authorities are what a level lets its holders do besides coming in.
type Authorities struct {
	OpensDay  bool `json:"opensDay,omitempty" doc:"Who has it gives the first card, where a door wants one of them"`
	Approves  bool `json:"approves,omitempty" doc:"Who has it approves others, where a door wants that"`
	Toggles   bool `json:"toggles,omitempty" doc:"Who has it may toggle doors by reads in a row"`
	Overrides bool `json:"overrides,omitempty" doc:"Who has it comes in during a lockdown that lets them"`
	LocksDown bool `json:"locksDown,omitempty" doc:"Who has it starts and ends lockdowns by reads in a row, where a lockdown lets them"`
	Arms      bool `json:"arms,omitempty" doc:"Who has it arms alarm areas by reads in a row"`
	Disarms   bool `json:"disarms,omitempty" doc:"Who has it disarms alarm areas too, and comes in while they are armed"`
}

// Has lists, in a fixed order, which of them are given.
func (a Authorities) Has() [7]bool {
	return [...]bool{a.OpensDay, a.Approves, a.Toggles, a.Overrides, a.LocksDown, a.Arms, a.Disarms}
}

// Grant gives a level, or without one the doors of a place during a schedule, for some time or for good.
type Grant struct {
	LevelID    ID     `json:"levelId,omitempty" doc:"0: a place and a schedule stand here"`
	Target     Target `json:"target,omitzero" doc:"Where no level is given"`
	ScheduleID ID     `json:"scheduleId,omitempty" doc:"Where no level is given"`
	Dates
}

// Level returns the level that is given: of a place that is given without one, the number of a level of its own.
func (g Grant) Level() ID {
	if g.LevelID != 0 || g.Target == (Target{}) {
		return g.LevelID
	}
	return OwnLevel(g.Target, g.ScheduleID)
}

// Department is people who hold the same: what it is given its members have, with what they are given themselves.
type Department struct {
	ID     ID      `json:"id"`
	Name   string  `json:"name"`
	Levels []Grant `json:"levels" doc:"What its members may do"`
	// What is set here holds for every member, whatever is said of them.
	AlwaysPIN    bool `json:"alwaysPin,omitempty" doc:"Its members always give a PIN, whatever the door asks"`
	ExtendedTime bool `json:"extendedTime,omitempty" doc:"Its members need longer to pass"`
}

// FreeCard is a credential that is enrolled and nobody's yet. It opens nothing.
type FreeCard struct {
	ID ID `json:"id"`
	Credential
}

// Person is somebody who may come in.
type Person struct {
	ID            ID     `json:"id"`
	Name          string `json:"name"`
	DepartmentIDs []ID   `json:"departmentIds"`
	Suspended     bool   `json:"suspended"`
	// ExtendedTime gives this person the extended unlock time.
	ExtendedTime bool         `json:"extendedTime"`
	AlwaysPIN    bool         `json:"alwaysPin" doc:"Always with PIN, whatever the door asks"`
	PINInstead   bool         `json:"pinInstead,omitempty" doc:"At a reader with keys the PIN alone does where the door asks for a card"`
	Credentials  []Credential `json:"credentials"`
	Levels       []Grant      `json:"levels"`
	Dates
	Record
	PIN       *cards.PINHash `json:"-"`
	Duress    *cards.PINHash `json:"-"`
	PINLength int            `json:"-"` // digits of the PIN; the hash does not tell

	// Of an effective configuration: the screenings that they are under, and the one level that counts until they are
	// cleared, where they are refused else.
	screened []ID
	refused  bool
	only     ID
}

// Record is what is written down of somebody. Nothing is decided by it, and no controller gets it.
type Record struct {
	Number string `json:"number,omitempty" doc:"Personnel number"`
	Phone  string `json:"phone,omitempty"`
	Email  string `json:"email,omitempty"`
	Note   string `json:"note,omitempty"`
}

// In reports whether somebody is in a department.
func (p *Person) In(department ID) bool { return slices.Contains(p.DepartmentIDs, department) }

// Department finds a department by number, or nil.
func (c *Config) Department(id ID) *Department {
	for i := range c.Departments {
		if c.Departments[i].ID == id {
			return &c.Departments[i]
		}
	}
	return nil
}

// Level finds a level by number, or nil.
func (c *Config) Level(id ID) *Level {
	for i := range c.Levels {
		if c.Levels[i].ID == id {
			return &c.Levels[i]
		}
	}
	return nil
}

// Dates bound something in time, by the clock of whoever asks. A date alone is all of that day: From its first minute,
// Until through its last. With a time of day, 2006-01-02T15:04, From is that minute and Until the end before it. Empty
// is unbounded.
type Dates struct {
	From  string `json:"from,omitempty" doc:"First day, 2006-01-02, or moment, 2006-01-02T15:04"`
	Until string `json:"until,omitempty" doc:"Last day, 2006-01-02, or the moment at which it ends, 2006-01-02T15:04"`
}

// parseBound reads a date or a moment; whole is a date alone.
func parseBound(s string) (day hours.Day, minute int, whole bool, err error) {
	if len(s) > len("2006-01-02") {
		day, minute, err = ParseWall(s)
		return day, minute, false, err
	}
	day, err = hours.ParseDay(s)
	return day, 0, true, err
}

// Walls returns the bounds as minutes of the wall clock since 1970, [from, until), and which there are.
func (d Dates) Walls() (from, until int64, bounded [2]bool) {
	at := func(s string, end bool) (int64, bool) {
		if s == "" {
			return 0, false
		}
		day, minute, whole, err := parseBound(s)
		if err != nil {
			return 0, false
		}
		if whole && end {
			day++
		}
		return int64(day)*hours.DayMinutes + int64(minute), true
	}
	from, bounded[0] = at(d.From, false)
	until, bounded[1] = at(d.Until, true)
	return from, until, bounded
}

// Span returns when they hold by the clock of a zone: [from, until), without bounds from −hours.Never until
// hours.Never. Where the clocks change, a bound is the first instant whose wall clock is not before it (design 3.1).
func (d Dates) Span(z *hours.Zone) (from, until hours.Instant) {
	from, until = -hours.Never, hours.Never
	a, b, bounded := d.Walls()
	if bounded[0] {
		from = z.NotBefore(a)
	}
	if bounded[1] {
		until = z.NotBefore(b)
	}
	return from, until
}

// Holds reports whether an instant is in them, by the clock of a zone.
func (d Dates) Holds(z *hours.Zone, at hours.Instant) bool {
	if d == (Dates{}) {
		return true
	}
	from, until := d.Span(z)
	return from <= at && at < until
}

// Words says when they hold, and names the last minute: "from Mon 23 Nov 2026, 00:00 until Fri 27 Nov 2026, 23:59".
// Nothing where they have no bounds.
func (d Dates) Words() string {
	say := func(word, s, clock string) string {
		day, minute, whole, err := parseBound(s)
		if s == "" || err != nil {
			return ""
		}
		if !whole {
			clock = hours.Clock(minute)
		}
		return word + " " + day.Words() + ", " + clock
	}
	from, until := say("from", d.From, "00:00"), say("until", d.Until, "23:59")
	if from != "" && until != "" {
		return from + " " + until
	}
	return from + until
}

func (fs *Faults) dates(field string, d Dates) {
	bad := false
	for _, b := range []struct{ name, text string }{{"from", d.From}, {"until", d.Until}} {
		if b.text == "" {
			continue
		}
		if _, _, _, err := parseBound(b.text); err != nil {
			bad = true
			fs.add(true, field+b.name, "%q is not a date; write it as 2026-11-27, or with a time as 2026-11-27T17:00", b.text)
		}
	}
	from, until, bounded := d.Walls()
	if !bad && bounded[0] && bounded[1] {
		words := "%s is before the first day, %s"
		if len(d.From) > len("2006-01-02") || len(d.Until) > len("2006-01-02") {
			words = "%s is not after the beginning, %s"
		}
		fs.add(until <= from, field+"until", words, d.Until, d.From)
	}
}

// Replace gives somebody a new credential in the place of one: it takes over its dates unless it has some, and the old
// one gets a status, such as lost. It reports whether they have the old one.
func (p *Person) Replace(old string, fresh Credential, status CredentialStatus) bool {
	i := slices.IndexFunc(p.Credentials, func(c Credential) bool { return c.Value == old })
	if i < 0 {
		return false
	}
	fresh = fresh.Normal()
	fresh.Status = Active
	if fresh.Dates == (Dates{}) {
		fresh.Dates = p.Credentials[i].Dates
	}
	p.Credentials[i].Status = status
	p.Credentials = append(p.Credentials, fresh)
	return true
}
