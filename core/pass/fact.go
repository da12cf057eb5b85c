package pass

import (
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Fact is something that has happened; those that Kind.Logged says so of are lines of a controller's log. IDs are those
// of the configuration; names are not known here.
type Fact struct {
	Seq    uint64        `json:"seq"`
	At     hours.Instant `json:"at"` // the controller's own clock
	Kind   Kind          `json:"kind"`
	Door   site.ID       `json:"door,omitempty"`
	Out    bool          `json:"out,omitempty"`
	Person site.ID       `json:"person,omitempty"`
	Reason Reason        `json:"reason,omitempty"`
	Mode   hours.Mode    `json:"mode"` // what the door asked

	// Of a pass that an earlier line began: the number of that line.
	Pass uint64 `json:"pass,omitempty"`

	// Of PlaceIs: the area; 0 is outside of all.
	Area site.ID `json:"area,omitempty"`

	// Of an alarm area: its doors and inputs that stand open and prevent arming, and those that are left out on purpose.
	StandOpen []site.ID `json:"standOpen,omitempty"`
	Left      []site.ID `json:"left,omitempty"`

	// Of a car: the floors that are released, or the one that it is about.
	Floors []site.ID `json:"floors,omitempty"`

	// Of a pass that was granted together with another: the number of the one that completed it.
	With uint64 `json:"with,omitempty"`

	// Of WasCleared: the screening is the rule, and Next is until when; 0: until that is withdrawn. Of a lockdown or a
	// fire release that was made ready: it is the rule.
	// Where one proof is not enough: the rule, what is still wanted, and how many there are of how many.
	Rule   site.ID  `json:"rule,omitempty"`
	Wanted []Wanted `json:"wanted,omitempty"`
	Count  int      `json:"count,omitempty"`
	Of     int      `json:"of,omitempty"`
	// Confirm says that all are there, and an operator has the last word.
	Confirm bool `json:"confirm,omitempty"`

	// Of what a door asks now.
	Waits  bool        `json:"waits,omitempty"` // for its first card
	Layer  hours.Layer `json:"layer,omitempty"`
	Change site.ID     `json:"change,omitempty"` // the dated change that decides

	// Of a read.
	Bits     string        `json:"bits,omitempty"`
	Format   string        `json:"format,omitempty"`
	Facility uint64        `json:"facility,omitempty"`
	Number   uint64        `json:"number,omitempty"`
	Level    site.ID       `json:"level,omitempty"`
	Schedule site.ID       `json:"schedule,omitempty"`
	Next     hours.Instant `json:"next,omitempty"`
	Checks   []Check       `json:"checks,omitempty"`

	Shown string `json:"shown,omitempty"` // what was read, where it is no card: its value; Format is its kind

	Point string  `json:"point,omitempty"` // the terminal that it is about
	Input site.ID `json:"input,omitempty"` // the named input there
	Note  string  `json:"note,omitempty"`  // the hash of an image, how far a clock moved, how many lines

	// What parts follow and no log holds.
	Attempt *Pass         `json:"-"` // of a decision
	Raw     cards.Bits    `json:"-"` // of CardRead
	Read    Shown         `json:"-"` // of CardRead, where it is no card
	Key     byte          `json:"-"` // of KeyPressed
	Places  []Whereabouts `json:"-"` // of PlacesTold
	Cleared []Clearance   `json:"-"` // of ClearancesTold
	Stop    int           `json:"-"` // of ButtonIs: its place among the car's
	Active  bool          `json:"-"` // of an input, or of what somebody asked for
}

// ByOperator is the note of a HeldBack that was an operator's release, and no exit request.
const ByOperator = "operator"

// Whereabouts is where somebody is, as one controller saw them go through.
type Whereabouts struct {
	Person     site.ID       `json:"person"`
	Area       site.ID       `json:"area"`              // 0: outside of all areas
	Unknown    bool          `json:"unknown,omitempty"` // forgiven: they may go anywhere once
	At         hours.Instant `json:"at"`
	Controller site.ID       `json:"controller"`
	Seq        uint64        `json:"seq"`
}

// Clearance is that somebody under a screening is cleared from one instant until another, or that this was withdrawn.
type Clearance struct {
	Person     site.ID       `json:"person"`
	Screening  site.ID       `json:"screening"`
	Until      hours.Instant `json:"until"` // 0: withdrawn
	At         hours.Instant `json:"at"`
	Controller site.ID       `json:"controller"` // that saw them go through; 0: somebody cleared them at a screen
	Seq        uint64        `json:"seq"`
	By         string        `json:"by,omitempty"` // who cleared them at a screen, or withdrew it
}

// Holds reports whether somebody is cleared by it at an instant.
func (c *Clearance) Holds(at hours.Instant) bool { return c.At <= at && at < c.Until }

// Wanted is what a door still wants of a combination: so many of a group; group 0 is anybody who may come in.
type Wanted struct {
	Group site.ID `json:"group,omitempty"`
	Count int     `json:"count"`
}

// Describe writes a decision as a fact, without a number.
func (p *Pass) Describe(kind Kind, door site.ID) Fact {
	f := Fact{
		At: p.At, Kind: kind, Door: door, Out: p.Out, Person: p.Person, Reason: p.Reason, Mode: p.Mode, Pass: p.Number,
		Level: p.Level, Schedule: p.Schedule, Next: p.Next.OrZero(), Checks: append([]Check(nil), p.Trace.Checks()...),
		Attempt: p,
	}
	if m := &p.More; m.Rule != 0 {
		f.Rule, f.Count, f.Of, f.Confirm, f.Wanted = m.Rule, m.Count, m.Of, m.Confirm, append([]Wanted(nil), m.Wanted()...)
	}
	if p.Shown != (Shown{}) {
		f.Format, f.Shown = string(p.Shown.Kind), p.Shown.Value
		return f
	}
	if p.HasCard && p.Read.Fault == cards.Fits && p.Read.Format != nil {
		f.Format, f.Facility, f.Number = p.Read.Format.Name, p.Read.Facility, p.Read.Number
	} else if p.HasCard {
		f.Bits = p.Bits.String()
	}
	return f
}
