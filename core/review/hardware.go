package review

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/point"
	"amberkeystone/core/power"
	"amberkeystone/core/site"
)

// Unit is what is known of a controller at work.
type Unit struct {
	Online  bool
	Since   hours.Instant // online or offline since then; 0: never reached
	DriftMs int64         // how far its clock is ahead
	Trouble string        // why it is offline
	Readers map[point.Address]bool
	People  int // who have something to do there
	// Unreachable says why its fixed address cannot be reached from here; empty: it can, or has none.
	Unreachable string
	// Lacks says, for each feature that its firmware has not yet, what it needs: QR passes need 1.2; North riser has 1.0.
	Lacks map[string]string
}

// bench is what the checks of the hardware look at.
type bench struct {
	c     *site.Config
	units map[site.ID]Unit
	now   hours.Instant
	out   []Finding
}

// Hardware finds what is to be said of controllers, doors, wires and power. Units are those that are known; what is not
// in it is not judged.
func Hardware(c *site.Config, units map[site.ID]Unit, now hours.Instant) []Finding {
	b := &bench{c: c, units: units, now: now}
	for i := range c.Controllers {
		b.controller(&c.Controllers[i])
		b.terminals(&c.Controllers[i])
	}
	for i := range c.Doors {
		b.door(&c.Doors[i])
	}
	b.formats()
	b.supplies()
	b.names()
	b.everybody()
	return stand(b.out, "build")
}

func (b *bench) add(code string, s Severity, kind string, id site.ID, name, words, mend string) {
	b.out = append(b.out, Finding{Code: code, Severity: s, Kind: kind, ID: id, Name: name, Words: words, Mend: mend})
}

// mended is add with a click that leaves a door as it says.
func (b *bench) mended(code string, s Severity, d *site.Door, words, mend, click string, change func(*site.Door)) {
	next := *d
	change(&next)
	b.out = append(b.out, Finding{Code: code, Severity: s, Kind: "door", ID: d.ID, Name: d.Name, Words: words, Mend: mend,
		Click: click, Mended: &next})
}

// driftMost is how far a clock may be off, in milliseconds, before that is a finding.
const driftMost = 10_000

func (b *bench) controller(c *site.Controller) {
	u, known := b.units[c.ID]
	at := func(code string, s Severity, words, mend string) {
		b.add(code, s, "controller", c.ID, c.Name, words, mend)
	}
	if known && u.Online && (u.DriftMs > driftMost || u.DriftMs < -driftMost) {
		at("clock-off", Risky, fmt.Sprintf("The clock of %s is %d s off: its hours begin and end at the wrong time.", c.Name,
			abs(u.DriftMs)/1000),
			"Set its clock in Build, Controllers.")
	}
	if known && !u.Online && u.Since != 0 && b.now-u.Since > hours.FullDay {
		at("offline-long", Wrong, fmt.Sprintf("%s has been offline for %d days: %s.", c.Name, (b.now-u.Since)/hours.FullDay,
			u.Trouble),
			"Look at its power and network, or retire it.")
	}
	if known && c.People > 0 && u.People > c.People {
		at("over-capacity", Wrong, fmt.Sprintf("%d people have something to do at %s, which holds %d.", u.People, c.Name,
			c.People),
			"Spread its doors over more controllers, or take a larger model.")
	}
	if u.Unreachable != "" {
		at("address-unreachable", Wrong, "The address of "+c.Name+" cannot be reached: "+u.Unreachable+".",
			"Give it an address of this computer's subnet, or a gateway.")
	}
	doors := 0
	for i := range b.c.Doors {
		if b.c.Doors[i].ControllerID == c.ID {
			doors++
		}
	}
	if doors > c.Doors() {
		at("too-many-doors", Wrong, fmt.Sprintf("%s has %d doors and can drive %d.", c.Name, doors, c.Doors()),
			"Move a door to another controller, or add an expander for readers.")
	}
	seen := map[int]bool{}
	for _, e := range c.Expanders {
		if seen[e.Address] {
			at("expander-twice", Wrong, fmt.Sprintf("Two expanders of %s have address %d: neither answers reliably.", c.Name,
				e.Address),
				fmt.Sprintf("Set one of them to another address; %d is free.", c.FreeAddress()))
		}
		seen[e.Address] = true
	}
}

func abs(v int64) int64 { return max(v, -v) }

// terminals finds roles on terminals that are not there, that two have, and whose reader does not answer.
func (b *bench) terminals(c *site.Controller) {
	var last site.Use
	for _, u := range b.c.Uses(c.ID) {
		of := "The " + u.Words() + " of " + u.Name
		if u.Kind != "door" {
			of = u.Name + " (" + u.Words() + ")"
		}
		switch {
		case !c.Has(u.At):
			b.add("terminal-missing", Wrong, u.Kind, u.ID, u.Name,
				fmt.Sprintf("%s is on %s, which %s does not have.", of, u.At, c.Name),
				"Move it to a terminal that is there, in the terminals of "+c.Name+".")
		case u.At == last.At:
			b.add("terminal-twice", Wrong, u.Kind, u.ID, u.Name,
				fmt.Sprintf("%s and the %s of %s are both on %s of %s.", of, last.Words(), last.Name, u.At, c.Name),
				"Move one of them to a free terminal.")
		}
		if unit, ok := b.units[c.ID]; ok && unit.Online && u.At.Kind == point.Reader {
			if answers, there := unit.Readers[u.At]; there && !answers && !b.outOfUse(u.ID) {
				b.add("no-answer", Wrong, u.Kind, u.ID, u.Name, fmt.Sprintf("%s does not answer at %s of %s.", of, u.At, c.Name),
					"Look at its cable and power.")
			}
		}
		last = u
	}
}

func (b *bench) outOfUse(id site.ID) bool {
	d := b.c.Door(id)
	return d != nil && d.OutOfUse
}

// door looks at one door that is in use.
func (b *bench) door(d *site.Door) {
	if d.OutOfUse {
		return
	}
	b.car(d)
	b.readers(d)
	if d.Car == nil {
		b.leaf(d)
	}
}

// leaf looks at the lock, the contact and the way out of a door.
func (b *bench) leaf(d *site.Door) {
	at := func(code string, s Severity, words, mend string) { b.add(code, s, "door", d.ID, d.Name, words, mend) }
	if d.Lock == site.Magnetic && !d.FailSafe {
		b.mended("magnet-secure", Wrong, d,
			"The magnetic lock of "+d.Name+" is set fail-secure: without power a magnet lets go.",
			"Say that it is fail-safe.", "Fail-safe", func(d *site.Door) { d.FailSafe = true })
	}
	if d.FireDoor && d.Lock == site.Strike && d.FailSafe { // NFPA 80, from memory
		b.mended("fire-strike", Wrong, d,
			d.Name+" is a fire door with a fail-safe strike: without power it no longer latches, as a fire door must.",
			"Fit a fail-secure strike; the way out is the handle.", "Fail-secure", func(d *site.Door) { d.FailSafe = false })
	}
	if d.Exit == site.NotFitted && !d.Out.Fitted { // NFPA 101, from memory
		s, words := Risky, d.Name+" has neither an exit request nor a reader on the way out: only a handle lets people out."
		if d.Lock == site.Magnetic {
			s, words = Wrong,
				d.Name+" is held by a magnet and has neither an exit request nor a reader on the way out: nobody gets out."
		}
		at("no-way-out", s, words, "Fit an exit button or a motion sensor, and say how it is wired.")
	}
	if d.Lock == site.Magnetic && !b.releasedByFire(d) {
		at("no-fire-release", Wrong, "No fire release reaches the magnetic lock of "+d.Name+".",
			"Wire the fire panel to an input of its controller and give it the use fire release.")
	}
	if c := b.c.Controller(d.ControllerID); c != nil && (d.ContactSupervised || d.ExitSupervised) && c.Resistor == 0 {
		at("no-resistors", Untidy, "An input of "+d.Name+" is supervised, and "+c.Name+" does not say with which resistors.",
			"Enter their value at the controller, such as 1000 ohms each.")
	}
	switch {
	case d.Contact == site.NotFitted:
		at("no-contact", Untidy, d.Name+" has no door contact: nobody is told when it is forced or held open.",
			"Fit a contact, or live with it knowingly.")
	case d.Exit == site.NotFitted && !d.Out.Fitted:
		at("exit-forced", Risky,
			"Whoever leaves by "+d.Name+" raises a forced-door alarm: nothing tells the controller that somebody goes out.",
			"Fit an exit request that excuses the opening.")
	}
	if b.factory(d) {
		at("factory", Untidy, "Everything at "+d.Name+" is at its factory value: nobody has said what is really fitted.",
			"Look at the door and enter its lock, its contact and its timings; or change nothing and leave this finding.")
	}
}

// readers looks at what a door's readers take.
func (b *bench) readers(d *site.Door) {
	at := func(code string, s Severity, words, mend string) { b.add(code, s, "door", d.ID, d.Name, words, mend) }
	for _, r := range []struct {
		out bool
		r   *site.Reader
	}{{false, &d.In}, {true, &d.Out}} {
		if r.r.Fitted && len(b.c.Settings.Accepts(r.r)) == 0 {
			at("no-format", Wrong,
				"The "+d.Role(r.out)+" of "+d.Name+" takes no card format that there is: it refuses every card.",
				"Choose its formats in the door's build.")
		}
	}
	for _, words := range b.lacks(d) {
		at("needs-firmware", Wrong, words+".", "Update its firmware in Build, Controllers.")
	}
}

// lacks lists what a door's readers need that the firmware of its controller has not.
func (b *bench) lacks(d *site.Door) (out []string) {
	lacks := b.units[d.ControllerID].Lacks
	for _, r := range []*site.Reader{&d.In, &d.Out} {
		if !r.Fitted {
			continue
		}
		for _, f := range r.Features() {
			if words := lacks[f]; words != "" && !slices.Contains(out, words) {
				out = append(out, words)
			}
		}
	}
	return out
}

// releasedByFire reports whether an input of the door's controller frees it for escape.
func (b *bench) releasedByFire(d *site.Door) bool {
	return slices.ContainsFunc(b.c.Inputs, func(i site.Input) bool {
		return i.Use == site.InputFire && i.ControllerID == d.ControllerID &&
			(len(i.DoorIDs) == 0 || slices.Contains(i.DoorIDs, d.ID))
	})
}

// factory reports whether nothing about a door was ever entered.
func (b *bench) factory(d *site.Door) bool {
	h := d.Hardware
	usual := site.UsualHardware()
	same := h.Lock == usual.Lock && h.Contact == usual.Contact && h.Exit == usual.Exit && h.FailSafe == usual.FailSafe &&
		h.Unlock == usual.Unlock && h.Extended == usual.Extended && h.HeldOpen == usual.HeldOpen && h.Relock == usual.Relock
	return same && h.Volts == 0 && h.Milliamps == 0 && !h.FireDoor && !h.In.Keypad && !h.Out.Fitted && d.Outside == "" &&
		d.Inside == ""
}

// formats finds facility lists that keep nobody out.
func (b *bench) formats() {
	for _, c := range b.c.Settings.Cards {
		f := b.c.Settings.Format(c.Format)
		if f != nil && f.Len > 0 && f.Facility.Len > 0 && len(c.Facilities) == 0 {
			b.add("any-facility", Risky, "settings", 0, "Card formats",
				"Readers take "+c.Format+" cards of every facility code: a card of another installation may have the number of one of yours.",
				"Enter the facility codes of your cards in Build, Card formats.")
		}
	}
}

func (b *bench) supplies() {
	for i := range b.c.Supplies {
		s := &b.c.Supplies[i]
		r := power.Check(b.c, s)
		for _, l := range r.Locks {
			if l.Known && !l.Enough {
				b.add("voltage-low", Wrong, "door", l.DoorID, l.Name,
					fmt.Sprintf("The lock of %s gets %.2f V and needs %.1f V: its cable is too long or too thin.", l.Name, l.AtLock,
						l.Least),
					"Use a thicker wire, a nearer supply, or a lock that draws less.")
			}
		}
		if r.Peak > s.Milliamps {
			b.add("supply-weak", Wrong, "supply", s.ID, s.Name,
				fmt.Sprintf("%s gives %d mA; its locks draw %d mA together.", s.Name, s.Milliamps, r.Peak),
				"Move locks to another supply, or take a stronger one.")
		}
	}
}

// placeholder is a name that nobody chose.
var placeholder = regexp.MustCompile(`(?i)^(door|new door|port|reader|controller|unnamed)[ -]*\d*$`)

// names finds things that nobody named, and doors of one name but for case and spaces.
func (b *bench) names() {
	seen := map[string]string{}
	for i := range b.c.Doors {
		d := &b.c.Doors[i]
		if placeholder.MatchString(d.Name) {
			b.add("unnamed", Untidy, "door", d.ID, d.Name, "Nobody has named "+d.Name+": in an alarm nobody knows where it is.",
				"Name it for its place.")
		}
		key := strings.ToLower(strings.Join(strings.Fields(d.Name), ""))
		if other := seen[key]; other != "" {
			b.add("name-twice", Untidy, "door", d.ID, d.Name, d.Name+" and "+other+" are hard to tell apart.",
				"Name one of them for its place.")
		}
		seen[key] = d.Name
	}
}

// everybody finds levels that open everything at all hours.
func (b *bench) everybody() {
	always := map[site.ID]bool{}
	for i := range b.c.Schedules {
		always[b.c.Schedules[i].ID] = b.c.Schedules[i].IsAlways()
	}
	effective := b.c.Effective()
	for i := range b.c.Levels {
		l := &b.c.Levels[i]
		held := slices.ContainsFunc(effective.People, func(p *site.Person) bool {
			return slices.ContainsFunc(p.Levels, func(g site.Grant) bool { return g.LevelID == l.ID })
		})
		if held &&
			slices.ContainsFunc(l.Entries, func(e site.Entry) bool {
				return e.Target.Kind == site.Everything &&
					always[e.ScheduleID]
			}) {
			b.add("everybody", Risky, "level", l.ID, l.Name,
				"Whoever has "+l.Name+" may pass every door at all hours, those that are added later too.",
				"Narrow it: choose doors, and the hours at which they open.")
		}
	}
}
