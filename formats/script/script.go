// Package script reads what people do at doors, a line for each thing, to be played in simulated time:
//
//	2026-11-26T18:00:05-04:00, Office riser, Tomas Okafor at Staff stair
//	2026-11-26T18:00:07-04:00, Office riser, open Staff stair
//	2026-11-26T18:00:11-04:00, Office riser, close Staff stair
//
// The first two commas set the instant (RFC 3339), the controller and the rest apart; names may hold more of them. What
// can be done: PERSON at DOOR (with their first card in use), card 42-12345 at DOOR, plate ABC123 at DOOR (also phone,
// QR pass), keys 4829# at DOOR, each with "out" at the end for the reader out; open DOOR, close DOOR, press DOOR,
// release DOOR (the exit request), press INPUT and release INPUT (an input with a name); hold DOOR in MODE, with "until
// INSTANT" at the end or not, end hold DOOR; lockdown, end lockdown, fire, end fire at all doors of the controller, at
// one: lockdown DOOR, or as it was made ready: lockdown NAME; admit DOOR, and admit FLOOR in ELEVATOR; floor FLOOR in
// ELEVATOR (its button, where it is wired back); confirm DOOR and deny DOOR, where an operator has the last word; arm
// AREA, arm AREA without DOOR, and disarm AREA, of alarm areas; clear PERSON in SCREENING and withdraw PERSON in
// SCREENING; network lost, network back. With "all" for the controller an order goes to all, to those that are cut off
// when they are back. Lines are in the order of time. Empty lines, and those that begin with #, are left out.
package script

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// Act is one thing that reaches a controller.
type Act struct {
	At         hours.Instant
	Controller site.ID // 0: an order to all controllers
	Input      panel.Input
}

// Error is a line that is not understood: which, counted from 1, and why.
type Error struct {
	Line  int
	Words string
}

func (e *Error) Error() string { return fmt.Sprintf("line %d: %s", e.Line, e.Words) }

// Parse reads a script about a configuration.
func Parse(text string, c *site.Config) ([]Act, error) {
	var out []Act
	for n, line := range strings.Split(text, "\n") {
		line = strings.TrimSpace(line)
		if line == "" || strings.HasPrefix(line, "#") {
			continue
		}
		acts, err := parseLine(line, c)
		if err == nil && len(out) > 0 && acts[0].At < out[len(out)-1].At {
			err = fmt.Errorf("it is earlier than the line before; lines are in the order of time")
		}
		if err != nil {
			return nil, &Error{n + 1, err.Error()}
		}
		out = append(out, acts...)
	}
	return out, nil
}

// parseLine reads one line. Keys are one act each.
func parseLine(line string, c *site.Config) ([]Act, error) {
	when, rest, ok := strings.Cut(line, ",")
	name, what, ok2 := strings.Cut(rest, ",")
	if !ok || !ok2 {
		return nil, fmt.Errorf("write the instant, the controller and what is done, with commas between")
	}
	at, err := time.Parse(time.RFC3339, strings.TrimSpace(when))
	if err != nil {
		return nil, fmt.Errorf("%q is not an instant; write it as 2026-11-28T16:59:50-04:00", strings.TrimSpace(when))
	}
	name = strings.TrimSpace(name)
	if strings.EqualFold(name, "all") {
		in, err := order(strings.TrimSpace(what), c, 0)
		in = dated(in, hours.At(at), c)
		if err == nil && in == nil {
			err = fmt.Errorf(
				"%q is not for all controllers; write hold DOOR in MODE, lockdown, fire, or what ends them",
				strings.TrimSpace(what),
			)
		}
		if err != nil {
			return nil, err
		}
		return []Act{{hours.At(at), 0, in[0]}}, nil
	}
	i := slices.IndexFunc(c.Controllers, func(x site.Controller) bool { return strings.EqualFold(x.Name, name) })
	if i < 0 {
		return nil, fmt.Errorf("there is no controller %q", name)
	}
	inputs, err := inputs(strings.TrimSpace(what), c, c.Controllers[i].ID)
	if err != nil {
		return nil, err
	}
	var out []Act
	for _, in := range dated(inputs, hours.At(at), c) {
		out = append(out, Act{hours.At(at), c.Controllers[i].ID, in})
	}
	return out, nil
}

// dated says of clearings when they were, and as long as their screening says, by the zone of the first controller.
func dated(list []panel.Input, at hours.Instant, c *site.Config) []panel.Input {
	for i := range list {
		for k := range list[i].Clearances {
			x := &list[i].Clearances[k]
			if x.At = at; x.Until != 0 {
				x.Until = until(c, x.Screening, at)
			}
		}
	}
	return list
}

// until is when a clearing ends, by the clock of the site of the first controller.
func until(c *site.Config, screening site.ID, at hours.Instant) hours.Instant {
	z := &hours.Zone{Name: "UTC"}
	if len(c.Controllers) > 0 {
		if loc, err := time.LoadLocation(c.Controllers[0].Zone); err == nil {
			found := hours.ZoneFrom(loc, at-366*hours.FullDay, at+732*hours.FullDay)
			z = &found
		}
	}
	return c.Screening(screening).Until(z, at)
}

func inputs(what string, c *site.Config, controller site.ID) ([]panel.Input, error) {
	switch what {
	case "network lost":
		return []panel.Input{{Kind: panel.Network}}, nil
	case "network back":
		return []panel.Input{{Kind: panel.Network, On: true}}, nil
	}
	if in, err := order(what, c, controller); in != nil || err != nil {
		return in, err
	}
	if verb, name, ok := strings.Cut(what, " "); ok && (verb == "press" || verb == "release") {
		for i := range c.Inputs {
			if in := &c.Inputs[i]; in.ControllerID == controller && strings.EqualFold(in.Name, name) {
				return reading(in.At, in.Wire(), verb == "press"), nil
			}
		}
	}
	if floor, ok := strings.CutPrefix(what, "floor "); ok {
		return pressed(floor, c, controller)
	}
	if verb, door, ok := strings.Cut(what, " "); ok {
		if d := findDoor(door, c, controller); d != nil {
			switch verb {
			case "open", "close":
				return reading(d.Terminals().Contact, d.ContactWire(), verb == "open"), nil
			case "press", "release":
				return reading(d.Terminals().Exit, d.ExitWire(), verb == "press"), nil
			}
		}
	}
	shown, d, out, err := atDoor(what, c, controller)
	if err != nil {
		return nil, err
	}
	if keys, ok := strings.CutPrefix(shown, "keys "); ok {
		return typed(keys, reader(d, out))
	}
	for _, k := range site.CredentialKinds {
		if value, ok := strings.CutPrefix(shown, string(k)+" "); ok && k != site.Card {
			v := site.Credential{Kind: k, Value: value}.Normal().Value
			return []panel.Input{{Kind: panel.Read, Point: reader(d, out), Shown: pass.Shown{Kind: k, Value: v}}}, nil
		}
	}
	in := panel.Input{Kind: panel.Read, Point: reader(d, out)}
	if in.Bits, in.Shown, err = read(shown, c); err != nil {
		return nil, err
	}
	return []panel.Input{in}, nil
}

// reader is the terminal of a side's reader.
func reader(d *site.Door, out bool) point.Address {
	if out {
		return d.Terminals().Out
	}
	return d.Terminals().In
}

// reading is what an input measures when what it is wired to is in use, or at rest.
func reading(at point.Address, w point.Wire, active bool) []panel.Input {
	return []panel.Input{{Kind: panel.Reading, Point: at, Circuit: w.Circuit(active)}}
}

// order reads a hold, a lockdown or a fire release, and what ends them; nothing where it is none of these.
func order(what string, c *site.Config, controller site.ID) ([]panel.Input, error) {
	text, ended := strings.CutPrefix(what, "end ")
	verb, rest, _ := strings.Cut(text, " ")
	in := panel.Input{On: !ended}
	switch verb {
	case "lockdown":
		in.Kind = panel.Lockdown
	case "fire":
		in.Kind = panel.Fire
	case "admit":
		in.Kind = panel.Release
	case "confirm":
		in.Kind = panel.Confirm
	case "deny":
		in.Kind, in.On = panel.Confirm, false
	case "arm", "disarm":
		return arming(verb == "arm", rest, c)
	case "clear", "withdraw":
		return clearing(verb == "clear", rest, c)
	case "hold":
		in.Kind = panel.Hold
		if ended {
			break
		}
		door, mode, until := rest, "", ""
		if i := strings.LastIndex(rest, " in "); i >= 0 {
			door, mode = rest[:i], rest[i+len(" in "):]
		}
		mode, until, _ = strings.Cut(mode, " until ")
		var err error
		if in.Mode, err = hours.ParseMode(mode); err != nil {
			return nil, fmt.Errorf("%q: write hold DOOR in MODE, such as hold Quay entrance in free; %w", what, err)
		}
		if until != "" {
			at, err := time.Parse(time.RFC3339, until)
			if err != nil {
				return nil, fmt.Errorf("%q is not an instant; write it as 2026-11-28T16:59:50-04:00", until)
			}
			in.Until = hours.At(at)
		}
		rest = door
	default:
		return nil, nil
	}
	if rest == "" && (in.Kind == panel.Lockdown || in.Kind == panel.Fire) {
		return []panel.Input{in}, nil
	}
	for i := range c.Emergencies {
		if e := &c.Emergencies[i]; strings.EqualFold(e.Name, rest) && (in.Kind == panel.Lockdown && e.Does == site.Lockdown ||
			in.Kind == panel.Fire && e.Does == site.FireRelease) {
			in.Rule, in.Doors = e.ID, site.NewPlaces(c).EmergencyDoors(e)
			return []panel.Input{in}, nil
		}
	}
	d := findDoor(rest, c, controller)
	if car, stop := inCar(rest, c, controller); d == nil && stop >= 0 && in.Kind == panel.Release {
		d, in.Floors = car, []site.ID{car.Car.Stops[stop].FloorID}
	}
	if d == nil {
		return nil, fmt.Errorf("this controller has no door %q", rest)
	}
	in.Doors = []site.ID{d.ID}
	return []panel.Input{in}, nil
}

// inCar reads FLOOR in ELEVATOR: the car, and the place of the floor among its stops; below 0 where there is none.
// Names may hold the word in.
func inCar(text string, c *site.Config, controller site.ID) (*site.Door, int) {
	for i := strings.LastIndex(text, " in "); i > 0; i = strings.LastIndex(text[:i], " in ") {
		d := findDoor(text[i+len(" in "):], c, controller)
		if d == nil || d.Car == nil {
			continue
		}
		for _, f := range c.FloorsOf(c.SiteOf(d).ID) {
			if k := d.Car.StopAt(f.ID); k >= 0 && strings.EqualFold(f.Name, text[:i]) {
				return d, k
			}
		}
	}
	return nil, -1
}

// pressed is a floor button that is pressed and let go.
func pressed(text string, c *site.Config, controller site.ID) ([]panel.Input, error) {
	d, stop := inCar(text, c, controller)
	if stop < 0 {
		return nil,
			fmt.Errorf("%q: write floor FLOOR in ELEVATOR, with an elevator of this controller and a floor at which it stops",
				text)
	}
	at, ok := d.Car.Button(d.Car.Stops[stop].Relay)
	if !ok {
		return nil, fmt.Errorf("the buttons of %s are not wired back: its controller does not hear which is pressed", d.Name)
	}
	return append(reading(at, point.Wire{}, true), reading(at, point.Wire{}, false)...), nil
}

// arming reads AREA, or AREA without DOOR, INPUT: what is left out on purpose.
func arming(on bool, text string, c *site.Config) ([]panel.Input, error) {
	for i := range c.AlarmAreas {
		a := &c.AlarmAreas[i]
		rest, ok := cutFold(text, a.Name)
		if !ok {
			continue
		}
		in := panel.Input{Kind: panel.Arm, On: on, Rule: a.ID, Note: "script"}
		if rest == "" {
			return []panel.Input{in}, nil
		}
		left, ok := strings.CutPrefix(rest, " without ")
		if !ok || !on {
			continue
		}
		var err error
		in.Left, err = members(left, c, a)
		return []panel.Input{in}, err
	}
	return nil, fmt.Errorf("%q: write arm AREA, arm AREA without DOOR, or disarm AREA, with an alarm area that there is",
		text)
}

// cutFold cuts a name off the front, in small letters or not.
func cutFold(text, name string) (rest string, ok bool) {
	if len(text) < len(name) || !strings.EqualFold(text[:len(name)], name) {
		return "", false
	}
	return text[len(name):], true
}

// members reads doors and inputs of an alarm area, with commas between; a name may hold commas too.
func members(text string, c *site.Config, a *site.AlarmArea) (out []site.ID, err error) {
	type member struct {
		name string
		id   site.ID
	}
	var all []member
	for i := range c.Doors {
		all = append(all, member{c.Doors[i].Name, c.Doors[i].ID})
	}
	for i := range c.Inputs {
		all = append(all, member{c.Inputs[i].Name, c.Inputs[i].ID})
	}
	all = slices.DeleteFunc(all, func(m member) bool { return !a.Watches(m.id) })
	slices.SortFunc(all, func(a, b member) int { return len(b.name) - len(a.name) })
	for {
		i := slices.IndexFunc(all, func(m member) bool {
			rest, ok := cutFold(text, m.name)
			return ok && (rest == "" || strings.HasPrefix(rest, ", "))
		})
		if i < 0 {
			return nil, fmt.Errorf("%q: no door or input of %s is called that", text, a.Name)
		}
		out = append(out, all[i].id)
		if text = strings.TrimPrefix(text[len(all[i].name):], ", "); text == "" {
			return out, nil
		}
	}
}

// clearing reads that somebody is cleared at a screen, or no longer. The instant is filled in when the line is played.
func clearing(on bool, text string, c *site.Config) ([]panel.Input, error) {
	for i := strings.LastIndex(text, " in "); i > 0; i = strings.LastIndex(text[:i], " in ") {
		name, by := text[:i], text[i+len(" in "):]
		k := slices.IndexFunc(c.Screenings, func(x site.Screening) bool { return strings.EqualFold(x.Name, by) })
		p := slices.IndexFunc(c.People, func(p *site.Person) bool { return strings.EqualFold(p.Name, name) })
		if k < 0 || p < 0 {
			continue
		}
		x := pass.Clearance{Person: c.People[p].ID, Screening: c.Screenings[k].ID, By: "script"}
		if on {
			x.Until = hours.Never
		}
		return []panel.Input{{Kind: panel.Cleared, Clearances: []pass.Clearance{x}}}, nil
	}
	return nil, fmt.Errorf("%q: write clear PERSON in SCREENING, with names that there are", text)
}

// atDoor splits what is shown from the door where it is; names may hold the word at, so the first split that names a
// door counts.
func atDoor(what string, c *site.Config, controller site.ID) (shown string, d *site.Door, out bool, err error) {
	const at = " at "
	for i := 0; ; {
		k := strings.Index(what[i:], at)
		if k < 0 {
			break
		}
		i += k + len(at)
		shown, door := what[:i-len(at)], what[i:]
		if d = findDoor(door, c, controller); d != nil {
			return shown, d, false, nil
		}
		if inner, ok := strings.CutSuffix(door, " out"); ok {
			if d = findDoor(inner, c, controller); d != nil {
				return shown, d, true, nil
			}
		}
	}
	if _, door, ok := strings.Cut(what, at); ok {
		return "", nil, false, fmt.Errorf("this controller has no door %q", door)
	}
	return "", nil, false, fmt.Errorf(
		"%q is not understood; write PERSON at DOOR, card 42-12345 at DOOR, keys 4829# at DOOR, open, close, press or release DOOR of this controller, hold DOOR in MODE, end hold DOOR, lockdown, end lockdown, fire, end fire, network lost or network back",
		what,
	)
}

func findDoor(name string, c *site.Config, controller site.ID) *site.Door {
	i := slices.IndexFunc(
		c.Doors,
		func(d site.Door) bool {
			return (controller == 0 || d.ControllerID == controller) && strings.EqualFold(d.Name, name)
		},
	)
	if i < 0 {
		return nil
	}
	return &c.Doors[i]
}

func typed(keys string, reader point.Address) ([]panel.Input, error) {
	if keys == "" || strings.Trim(keys, "0123456789*#") != "" {
		return nil, fmt.Errorf("%q: a keypad has the keys 0 to 9, * and #", keys)
	}
	var list []panel.Input
	for i := range len(keys) {
		list = append(list, panel.Input{Kind: panel.Key, Point: reader, Key: keys[i]})
	}
	return list, nil
}

// read is what a reader sees of a card, or of the first credential in use of a person, else of their first.
func read(shown string, c *site.Config) (bits cards.Bits, other pass.Shown, err error) {
	if number, ok := strings.CutPrefix(shown, "card "); ok {
		facility, rest, two := strings.Cut(number, "-")
		if !two {
			facility, rest = "0", number
		}
		f, err := strconv.ParseUint(facility, 10, 64)
		n, err2 := strconv.ParseUint(rest, 10, 64)
		if cmp.Or(err, err2) != nil {
			return bits, other, fmt.Errorf("%q is not a card number; write 42-12345, or a bare number", number)
		}
		format := cards.Standard26
		if !two {
			format = cards.Raw
		}
		bits, err = format.Encode(f, n)
		return bits, other, err
	}
	i := slices.IndexFunc(c.People, func(p *site.Person) bool { return strings.EqualFold(p.Name, shown) })
	if i < 0 {
		return bits, other, fmt.Errorf("there is nobody named %q", shown)
	}
	held := c.People[i].Credentials
	if len(held) == 0 {
		return bits, other, fmt.Errorf("%s has no card", c.People[i].Name)
	}
	h := held[max(0, slices.IndexFunc(held, func(h site.Credential) bool { return h.Status == site.Active }))]
	if facility, number, ok := h.Card(); ok {
		bits, err = cards.ByName(h.Format).Encode(facility, number)
		return bits, other, err
	}
	return bits, pass.Shown{Kind: h.Kind, Value: h.Value}, nil
}
