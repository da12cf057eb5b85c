// Package site is the configuration as plain typed values, and what makes it valid.
package site

import (
	"cmp"
	"slices"

	"amberkeystone/core/hours"
)

// ID names an object of the configuration; 0 is none. IDs are unique over all kinds.
type ID int64

// Config is everything that decides how the doors behave. Lists are sorted by ID.
type Config struct {
	Settings    Settings
	Sites       []Site
	Floors      []Floor
	Controllers []Controller
	Doors       []Door
	Inputs      []Input
	Outputs     []Output
	Supplies    []Supply
	Types       []HolidayType
	Holidays    []Holiday
	Schedules   []Schedule
	Plans       []Plan
	Sets        []DoorSet
	Changes     []DatedChange
	Levels      []Level
	Departments []Department
	People      []*Person
	FreeCards   []FreeCard
	Interlocks  []Interlock
	Areas       []Area
	Groups      []Group
	Proofs      []Proofs
	Screenings  []Screening
	Emergencies []Emergency
	Reactions   []Reaction
	AlarmAreas  []AlarmArea

	effective bool // it is as Effective gave it
}

// Person finds a person by number, or nil.
func (c *Config) Person(id ID) *Person {
	i, ok := slices.BinarySearchFunc(c.People, id, func(p *Person, id ID) int { return cmp.Compare(p.ID, id) })
	if !ok {
		return nil
	}
	return c.People[i]
}

// Door finds a door by number, or nil.
func (c *Config) Door(id ID) *Door {
	i, ok := slices.BinarySearchFunc(c.Doors, id, func(d Door, id ID) int { return cmp.Compare(d.ID, id) })
	if !ok {
		return nil
	}
	return &c.Doors[i]
}

// SiteOf returns the site whose floor a door is on; the zero Site where there is none.
func (c *Config) SiteOf(d *Door) Site {
	i := slices.IndexFunc(c.Floors, func(f Floor) bool { return f.ID == d.FloorID })
	if i < 0 {
		return Site{}
	}
	k := slices.IndexFunc(c.Sites, func(s Site) bool { return s.ID == c.Floors[i].SiteID })
	if k < 0 {
		return Site{}
	}
	return c.Sites[k]
}

// Settings hold for the whole configuration.
type Settings struct {
	Name        string       `json:"name" doc:"Name of the installation"`
	Cards       []CardFormat `json:"cards" doc:"The formats that readers take, in the order in which they are tried"`
	Formats     []OwnFormat  `json:"formats,omitempty" doc:"Card formats beside the built-in ones"`
	Facilities  []Facility   `json:"facilities,omitempty" doc:"What facility codes are called"`
	PINLength   int          `json:"pinLength" doc:"Digits of a PIN"`
	PINTries    int          `json:"pinTries" doc:"Wrong PINs in a row that lock a keypad"`
	PINLock     int          `json:"pinLock" doc:"Minutes for which a keypad stays locked"`
	PINLocks    PINLocks     `json:"pinLocks,omitempty" enum:"keypad,card" doc:"What wrong PINs after a card lock; a PIN alone locks the keypad. Empty: the keypad"`
	CardWithPIN int          `json:"cardWithPin" doc:"Seconds to type the PIN after the card"`
	Callouts    []Callout    `json:"callouts,omitempty" doc:"Addresses that reactions may call out to"`
}

// PINLocks is what wrong PINs after a card lock.
type PINLocks string

// What they lock. An empty one is the keypad too.
const (
	LocksKeypad PINLocks = "keypad"
	LocksCard   PINLocks = "card" // the card opens nothing at that controller
)

// CardFormat is a format that readers take, with the facility codes they accept; none means all.
type CardFormat struct {
	Format     string   `json:"format" doc:"Its name: 26-bit, 34-bit, 37-bit, FASC-N, raw, or one of the site's own"`
	Facilities []uint64 `json:"facilities" doc:"Accepted facility codes; none listed accepts all"`
}

// Site is a place with a zone of its own; floors and doors are in it.
type Site struct {
	ID   ID     `json:"id"`
	Name string `json:"name"`
	Zone string `json:"zone" doc:"IANA time zone" example:"America/Halifax"`
	// TwelveHour and FromSunday say how screens write times and weeks there; nothing is decided by them.
	TwelveHour bool `json:"twelveHour,omitempty" doc:"Times are shown as 6:30 pm, not as 18:30"`
	FromSunday bool `json:"fromSunday,omitempty" doc:"Calendars begin their weeks on Sunday, not on Monday"`
}

// Floor is a level of a site.
type Floor struct {
	ID     ID     `json:"id"`
	Name   string `json:"name"`
	SiteID ID     `json:"siteId"`
	Level  int    `json:"level" doc:"Order in the building, 0 at street level"`
}

// Controller is a controller in service.
type Controller struct {
	ID     ID     `json:"id"`
	Name   string `json:"name"`
	SiteID ID     `json:"siteId"`
	Zone   string `json:"zone" doc:"IANA time zone; its doors inherit it"`
	Serial string `json:"serial"`
	Model  string `json:"model"`
	Ports  int    `json:"ports" doc:"How many doors it can drive"`
	People int    `json:"people" doc:"How many people it can hold"`
	// Expanders are on its bus.
	Expanders []Expander `json:"expanders,omitempty"`
	Network   Network    `json:"network,omitzero" doc:"Its address"`
	// Resistor is the value of each of the pair at the end of its supervised lines.
	Resistor int    `json:"resistor,omitempty" doc:"Of each end-of-line resistor, in ohms; 0: not said"`
	Place    string `json:"place,omitempty" doc:"Where it hangs, for whoever looks for it"`
}

// LockKind is what holds the door shut.
type LockKind string

// The kinds of lock.
const (
	Strike    LockKind = "strike"
	Magnetic  LockKind = "magnetic"
	Motor     LockKind = "motor"
	Bolt      LockKind = "bolt"
	Turnstile LockKind = "turnstile"
	Barrier   LockKind = "barrier"
	Shutter   LockKind = "shutter"
)

// Relock is when the lock closes again after a grant.
type Relock string

// The moments of re-locking.
const (
	OnOpening Relock = "opening"
	OnClosing Relock = "closing"
	AtEnd     Relock = "end"
)

// Wiring is how an input is connected.
type Wiring string

// The wirings. NormallyClosed: the circuit is closed while the door is closed, or the button at rest.
const (
	NotFitted      Wiring = "none"
	NormallyClosed Wiring = "nc"
	NormallyOpen   Wiring = "no"
)

// Connection is how a reader is wired.
type Connection string

// The connections. The empty one is Wiegand.
const (
	Wiegand Connection = "wiegand" // two data wires (SIA AC-01)
	OSDP    Connection = "osdp"    // RS-485, with an address (IEC 60839-11-5)
)

// Bauds are the rates of an OSDP bus.
var Bauds = []int{9600, 19200, 38400, 57600, 115200, 230400}

// Reader is one side's reader.
type Reader struct {
	Fitted bool             `json:"fitted"`
	Keypad bool             `json:"keypad"`
	Takes  []CredentialKind `json:"takes,omitempty" doc:"What it takes besides cards" enum:"phone,QR pass,plate"`

	Connection Connection `json:"connection,omitempty" enum:"wiegand,osdp" doc:"None: Wiegand"`
	Address    int        `json:"address,omitempty" doc:"Of an OSDP reader on its bus, 0 to 126"`
	Baud       int        `json:"baud,omitempty" doc:"Of an OSDP reader, bits a second; none: 9600"`
	Formats    []string   `json:"formats,omitempty" doc:"The card formats that it takes; none listed: all that the settings list"`
	Silent     bool       `json:"silent,omitempty" doc:"It makes no sound"`
	Dark       bool       `json:"dark,omitempty" doc:"It shows no light at rest"`
	Enrols     bool       `json:"enrols,omitempty" doc:"New cards are presented here to be enrolled"`
}

// ExitKind is what asks to leave.
type ExitKind string

// The kinds of exit device. The empty one is a button.
const (
	ExitButton    ExitKind = "button"
	ExitMotion    ExitKind = "motion"
	ExitLock      ExitKind = "lock"      // a switch in the lock's handle or bar
	ExitTouchless ExitKind = "touchless" // a sensor beside the reader
)

// Door is a door on a port of a controller.
type Door struct {
	ID           ID     `json:"id"`
	Name         string `json:"name"`
	FloorID      ID     `json:"floorId"`
	ControllerID ID     `json:"controllerId"`
	Port         int    `json:"port"`
	PlanID       ID     `json:"planId"`
	Outside      string `json:"outside" doc:"What is on the side of the reader in"`
	Inside       string `json:"inside" doc:"What the door leads to"`
	// FirstCard is how free segments wait that wait for a first card.
	FirstCard FirstCard `json:"firstCard"`
	Toggle    *Toggle   `json:"toggle,omitempty"`
	// The areas that it is between; 0: outside of all.
	OutsideAreaID ID `json:"outsideAreaId,omitempty" doc:"The area that the reader in leads from; 0: none"`
	InsideAreaID  ID `json:"insideAreaId,omitempty" doc:"The area that it leads to; 0: none"`
	// Points are the terminals where it is wired, where they are others than those of its port.
	Points *Points `json:"points,omitempty"`
	// Car makes it an elevator; nil: it is a door.
	Car *Car `json:"car,omitempty" doc:"Of an elevator: the floors that its readers release; none: it is a door"`
	// OutOfUse keeps its settings and its terminals; its readers are off, its inputs mean nothing and its lock is not
	// driven.
	OutOfUse bool `json:"outOfUse,omitempty" doc:"Not in use: readers off, lock not driven; settings are kept"`
	// NotFromAfar keeps operators from releasing it from a screen.
	NotFromAfar bool `json:"notFromAfar,omitempty" doc:"Not released or held free from a screen"`
	Order       int  `json:"order,omitempty" doc:"Its place among the doors of its floor; equal ones by name"`
	// SupplyID is what feeds its lock; 0: not known.
	SupplyID ID `json:"supplyId,omitempty"`
	Cable
	Hardware
}

// Hardware is what is fitted to a door, and its timings in seconds.
type Hardware struct {
	In  Reader `json:"in"`
	Out Reader `json:"out"`

	Lock     LockKind `json:"lock" enum:"strike,magnetic,motor,bolt,turnstile,barrier,shutter"`
	FailSafe bool     `json:"failSafe" doc:"Unlocked when power fails"`
	Contact  Wiring   `json:"contact" enum:"none,nc,no"`
	Exit     Wiring   `json:"exit" enum:"none,nc,no"`
	ExitKind ExitKind `json:"exitKind,omitempty" enum:"button,motion,lock,touchless" doc:"None: a button"`

	// What stands on the lock. None of it decides; the power check and the findings look at it.
	Volts     int  `json:"volts,omitempty" doc:"0: not known"`
	Milliamps int  `json:"milliamps,omitempty" doc:"What it draws; 0: not known"`
	Tolerance int  `json:"tolerance,omitempty" doc:"How far below its voltage it still works, in percent; 0: 10"`
	FireDoor  bool `json:"fireDoor,omitempty" doc:"It hangs in a fire-rated door"`
	Monitored bool `json:"monitored,omitempty" doc:"It tells whether it holds"`

	// A pair of end-of-line resistors tells a cut or shorted wire from a door that opens or a button that is pressed.
	ContactSupervised bool `json:"contactSupervised,omitempty" doc:"The contact's wire is supervised"`
	ExitSupervised    bool `json:"exitSupervised,omitempty" doc:"The exit request's wire is supervised"`
	// ExitReleases: the exit request releases the lock; otherwise it only makes the opening legitimate.
	ExitReleases bool `json:"exitReleases"`

	Relock   Relock `json:"relock" enum:"opening,closing,end"`
	Unlock   int    `json:"unlock"`
	Extended int    `json:"extended"`
	ExitTime int    `json:"exitTime"`
	HeldOpen int    `json:"heldOpen"`
	PreAlarm int    `json:"preAlarm" doc:"Seconds of warning before held open; 0 is none"`
	Forced   int    `json:"forced" doc:"Delay of the forced alarm"`
}

// UsualHardware is a strike with contact and exit button and the timings of common practice: unlock 5 s,
// extended 15 s, held open after 60 s with 15 s of warning, forced after 2 s.
func UsualHardware() Hardware {
	return Hardware{
		In: Reader{Fitted: true}, Lock: Strike, Contact: NormallyClosed, Exit: NormallyOpen, ExitReleases: true,
		Relock: OnOpening, Unlock: 5, Extended: 15, ExitTime: 5, HeldOpen: 60, PreAlarm: 15, Forced: 2,
	}
}

// UsualTypes are the holiday types that a new installation starts with.
func UsualTypes() []HolidayType {
	return []HolidayType{
		{Name: "Cards only", Rank: 10, Plans: DefaultMode, Schedules: AsWeekday},
		{Name: "Nobody", Rank: 20, Plans: DefaultMode, Schedules: Closed},
	}
}

// Basics are what every configuration has: the schedules Always and Never, and a plan that asks for a card.
func Basics() ([]Schedule, []Plan) {
	return []Schedule{{Name: "Always", Week: hours.Always(), Fixed: true}, {Name: "Never", Fixed: true}},
		[]Plan{{Name: "Card at all hours"}}
}

// Schedule is a named week of periods.
type Schedule struct {
	ID   ID         `json:"id"`
	Name string     `json:"name"`
	Week hours.Week `json:"week" doc:"Periods of each weekday, Monday first"`
	// Holidays are the answers by holiday type; a type that is not listed follows its own default.
	Holidays []ScheduleHoliday `json:"holidays,omitempty"`
	// Fixed marks Always and Never, which cannot be edited.
	Fixed bool `json:"fixed,omitempty"`
}

// IsAlways reports whether it is the schedule that is open at all times, which every site has.
func (s *Schedule) IsAlways() bool { return s.Fixed && s.Name == "Always" }

// Plan is a named passage plan.
type Plan struct {
	ID   ID     `json:"id"`
	Name string `json:"name"`
	hours.Pattern
	// Holidays are the answers by holiday type; a type that is not listed follows its own default.
	Holidays []PlanHoliday `json:"holidays,omitempty"`
}

// FirstFree returns the minute of the day at which the plan first waits for a first card, else at which it first goes
// free, from Monday on; false where it never does.
func (p *Plan) FirstFree() (minute int, ok bool) {
	for _, waits := range []bool{true, false} {
		for _, day := range p.Week {
			for _, s := range day {
				if s.Mode == hours.Free && (s.First || !waits) {
					return s.Start % hours.DayMinutes, true
				}
			}
		}
	}
	return 0, false
}

// Segments returns every segment of the plan, of its week and of its holidays.
func (p *Plan) Segments() []hours.Segment {
	out := slices.Concat(p.Week[:]...)
	for _, h := range p.Holidays {
		out = append(out, h.Segments...)
	}
	return out
}
