// Package alarmarea is doors and inputs of a controller that are watched together while nobody is to be there
// (design 3.13): a stand-in for an intrusion panel. Area is one of them and what it goes through; Watch is all of a
// controller, a part that hears every event; Gate keeps out whoever may not disarm, and Layer keeps doors from standing
// free.
//
//	disarmed ── armed by somebody ──▶ leaving ── exit delay ──▶ armed ── a door, by grant ──▶ entering
//	                                                              │                              │ entry delay
//	                                                              └── a force, an input ──▶ alarm ◀┘
package alarmarea

import (
	"slices"
	"time"

	"amberkeystone/core/enum"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// State is what an area is in.
type State uint8

// The states.
const (
	Disarmed State = iota
	Leaving        // the exit delay runs
	Armed
	Entering // the entry delay runs
	Alarm    // its outputs sound; armed still
	endOfStates
)

var states = enum.Table[State]{
	Disarmed: {Code: "disarmed"},
	Leaving:  {Code: "leaving", Words: "exit delay"},
	Armed:    {Code: "armed"},
	Entering: {Code: "entering", Words: "entry delay"},
	Alarm:    {Code: "alarm"},
}

// String returns the code of the state.
func (s State) String() string { return states.Code(s) }

// Words are the state as people say it.
func (s State) Words() string { return states.Words(s) }

// Closed reports whether the area keeps out those who may not disarm: from the first moment of the exit delay on.
func (s State) Closed() bool { return s != Disarmed }

// MarshalText writes the code.
func (s State) MarshalText() ([]byte, error) { return states.Marshal(s) }

// UnmarshalText reads the code.
func (s *State) UnmarshalText(text []byte) error { return states.Unmarshal(text, s) }

// Area is an alarm area of a controller, with what it remembers.
type Area struct {
	Rule     *site.AlarmArea
	Schedule *hours.Schedule // while which it is armed; nil: at no hour
	Local    hours.Local
	Doors    []Door
	// Supposed says that nothing is known of it, as in a question about another time: it is as its schedule wants it.
	Supposed bool
	memory
}

// Door is a door of an area.
type Door struct {
	ID    site.ID
	Place int
	Open  func() bool
}

// memory is what survives a restart.
type memory struct {
	State  State         `json:"state,omitempty"`
	Until  hours.Instant `json:"until,omitempty"` // of a delay, or of what sounds
	Since  hours.Instant `json:"since,omitempty"`
	Saw    bool          `json:"saw,omitempty"` // its schedule was open when last looked at
	Left   []site.ID     `json:"left,omitempty"`
	Raised []site.ID     `json:"raised,omitempty"` // what has raised the alarm that is on
	By     by            `json:"by,omitzero"`      // who armed it
	At     site.ID       `json:"at,omitempty"`     // of entering: the door
}

// by is who wants something of an area.
type by struct {
	Person   site.ID `json:"person,omitempty"`
	Door     site.ID `json:"door,omitempty"` // where they read their card
	Input    site.ID `json:"input,omitempty"`
	Schedule site.ID `json:"schedule,omitempty"`
	Note     string  `json:"note,omitempty"`
}

func (b by) fact(kind pass.Kind, at hours.Instant, area site.ID) pass.Fact {
	return pass.Fact{
		At: at, Kind: kind, Rule: area, Person: b.Person, Door: b.Door, Input: b.Input, Schedule: b.Schedule, Note: b.Note,
	}
}

// Closed reports whether the area keeps out whoever may not disarm it: from when somebody arms it until it is disarmed.
func (a *Area) Closed(at hours.Instant) bool {
	if a.Supposed {
		return a.Schedule != nil && a.Schedule.OpenAt(a.Local, at)
	}
	return a.State.Closed()
}

// armed reports whether what moves there raises the alarm, now or after the entry delay.
func (a *Area) armed() bool { return a.State >= Armed }

// arm begins to arm, unless something stands open that is not left out.
func (a *Area) arm(now hours.Instant, who by, left, open []site.ID, do *pass.Effects) bool {
	if a.State != Disarmed {
		return false
	}
	if len(open) > 0 {
		f := who.fact(pass.NotArmed, now, a.Rule.ID)
		if who.Schedule != 0 {
			f.Kind = pass.ArmingFailed // nobody is there to see it: it is an alarm
		}
		f.StandOpen = open
		do.Tell(f)
		return false
	}
	a.memory = memory{
		State: Leaving, Since: now, Saw: a.Saw, Left: left, By: who,
		Until: now.Add(time.Duration(a.Rule.ExitDelay) * time.Second),
	}
	if a.Rule.ExitDelay == 0 {
		a.close(now, nil, do)
		return true
	}
	f := who.fact(pass.ArmingBegan, now, a.Rule.ID)
	f.Left, f.Next = left, a.Until
	do.Tell(f)
	a.changed(now, do)
	return true
}

// close ends the exit delay: the area is armed, or not where something stands open.
func (a *Area) close(now hours.Instant, open []site.ID, do *pass.Effects) {
	if len(open) > 0 {
		f := a.By.fact(pass.ArmingFailed, now, a.Rule.ID)
		f.StandOpen = open
		a.rest()
		do.Tell(f)
		a.changed(now, do)
		return
	}
	f := a.By.fact(pass.Armed, now, a.Rule.ID)
	f.Left = a.Left
	a.State, a.Until, a.Since = Armed, 0, now
	do.Tell(f)
	a.changed(now, do)
}

// disarm ends everything.
func (a *Area) disarm(now hours.Instant, who by, do *pass.Effects) bool {
	if a.State == Disarmed {
		return false
	}
	was := a.State
	a.rest()
	do.Tell(who.fact(pass.Disarmed, now, a.Rule.ID))
	if was == Alarm {
		do.Tell(pass.Fact{At: now, Kind: pass.IntrusionEnded, Rule: a.Rule.ID})
	}
	a.changed(now, do)
	return true
}

func (a *Area) rest() { a.memory = memory{Saw: a.Saw} }

// enter begins the entry delay.
func (a *Area) enter(now hours.Instant, door site.ID, do *pass.Effects) {
	if a.State != Armed || a.leftOut(door) {
		return
	}
	if a.Rule.EntryDelay == 0 {
		a.raise(pass.Fact{At: now, Door: door}, door, do)
		return
	}
	a.State, a.At, a.Until = Entering, door, now.Add(time.Duration(a.Rule.EntryDelay)*time.Second)
	do.Tell(pass.Fact{At: now, Kind: pass.EntryBegan, Rule: a.Rule.ID, Door: door, Next: a.Until})
}

// raise raises the alarm because of a member of the area, or says that another one has followed. Because names where.
func (a *Area) raise(because pass.Fact, member site.ID, do *pass.Effects) {
	if !a.armed() || a.leftOut(member) || slices.Contains(a.Raised, member) {
		return
	}
	if a.State != Alarm {
		a.State, a.Until, a.At = Alarm, because.At.Add(time.Duration(a.Rule.Sounds)*time.Second), 0
	}
	a.Raised = append(slices.Clone(a.Raised), member)
	because.Kind, because.Rule = pass.Intrusion, a.Rule.ID
	do.Tell(because)
}

func (a *Area) leftOut(id site.ID) bool { return slices.Contains(a.Left, id) }

// due does what its time was for, which has come.
func (a *Area) due(now hours.Instant, open []site.ID, do *pass.Effects) {
	switch a.State {
	case Leaving:
		a.close(now, open, do)
	case Entering:
		a.raise(pass.Fact{At: now, Door: a.At}, a.At, do)
	case Alarm:
		a.State, a.Until, a.Raised = Armed, 0, nil
		do.Tell(pass.Fact{At: now, Kind: pass.IntrusionEnded, Rule: a.Rule.ID})
	}
}

// changed has its doors ask anew.
func (a *Area) changed(now hours.Instant, do *pass.Effects) {
	for _, d := range a.Doors {
		do.TellAt(d.Place, pass.Fact{At: now, Kind: pass.HoldsNow})
	}
}
