package site

import (
	"cmp"
	"fmt"
	"slices"

	"amberkeystone/core/point"
)

// InputUse is what an input that belongs to no door does.
type InputUse string

// The uses of an input.
const (
	InputSense    InputUse = "sense"    // it is told, and free to use
	InputFire     InputUse = "fire"     // active: doors are free for escape, until somebody ends it
	InputLockdown InputUse = "lockdown" // active: doors are barred, until somebody ends it
)

// Input is a named input of a controller that belongs to no door.
type Input struct {
	ID           ID            `json:"id"`
	Name         string        `json:"name"`
	ControllerID ID            `json:"controllerId"`
	At           point.Address `json:"at" doc:"Its terminal, such as i9 or 2/i3"`
	Use          InputUse      `json:"use" enum:"sense,fire,lockdown"`
	Contact      Wiring        `json:"contact" enum:"nc,no"`
	Supervised   bool          `json:"supervised,omitempty"`
	DoorIDs      []ID          `json:"doorIds" doc:"Of fire and lockdown: doors of its controller; none listed: all of them"`
	EmergencyID  ID            `json:"emergencyId,omitempty" doc:"Of fire and lockdown: what it starts, at other controllers too; 0: at the doors that are listed"`
}

// Wire returns how it is connected.
func (i *Input) Wire() point.Wire {
	return point.Wire{NormallyClosed: i.Contact == NormallyClosed, Supervised: i.Supervised}
}

// Check says what is wrong with an input by itself.
func (i Input) Check() Faults {
	var fs Faults
	fs.name(i.Name)
	fs.add(i.ControllerID == 0, "controllerId", "choose the controller that it is wired to")
	fs.add(i.At.Kind != point.Input, "at", "an input is on an input terminal, such as i9; choose one")
	fs.add(!oneOf(i.Use, InputSense, InputFire, InputLockdown), "use", "%q is nothing that an input does", i.Use)
	fs.add(!oneOf(i.Contact, NormallyClosed, NormallyOpen), "contact", "%q is not a wiring", i.Contact)
	fs.doors(i.DoorIDs)
	fs.add(i.EmergencyID != 0 && i.Use == InputSense, "emergencyId",
		"an input that only senses starts nothing; say what it does")
	fs.add(i.EmergencyID != 0 && len(i.DoorIDs) > 0, "doorIds", "the doors are those of what it starts; list none here")
	return fs
}

// OutputUse is what is connected to an output that is no lock.
type OutputUse string

// The uses of an output.
const (
	Sounder     OutputUse = "sounder"
	Lamp        OutputUse = "lamp"
	Siren       OutputUse = "siren"
	OtherOutput OutputUse = "other"
)

// OutputWhen is when an output is on by itself.
type OutputWhen string

// The occasions. ByHand: only when somebody tests it, or a reaction says so.
const (
	ByHand       OutputWhen = "hand"
	WhenAlarm    OutputWhen = "alarm"    // one of its doors is forced or held open
	WhenWarning  OutputWhen = "warning"  // one of its doors is to be held open soon, or is
	WhenReleased OutputWhen = "released" // one of its doors is released
)

// Output is a named output of a controller that is no lock.
type Output struct {
	ID           ID            `json:"id"`
	Name         string        `json:"name"`
	ControllerID ID            `json:"controllerId"`
	At           point.Address `json:"at" doc:"Its terminal, such as o5 or 1/o16"`
	Use          OutputUse     `json:"use" enum:"sounder,lamp,siren,other"`
	When         OutputWhen    `json:"when" enum:"hand,alarm,warning,released" doc:"When it is on by itself"`
	DoorIDs      []ID          `json:"doorIds" doc:"The doors of its controller that it tells of; none listed: all of them"`
}

// Check says what is wrong with an output by itself.
func (o Output) Check() Faults {
	var fs Faults
	fs.name(o.Name)
	fs.add(o.ControllerID == 0, "controllerId", "choose the controller that it is wired to")
	fs.add(o.At.Kind != point.Output, "at", "an output is on an output terminal, such as o5; choose one")
	fs.add(!oneOf(o.Use, Sounder, Lamp, Siren, OtherOutput), "use", "%q is nothing that an output drives", o.Use)
	fs.add(!oneOf(o.When, ByHand, WhenAlarm, WhenWarning, WhenReleased), "when", "%q is no occasion for an output", o.When)
	fs.doors(o.DoorIDs)
	return fs
}

func (fs *Faults) doors(list []ID) {
	seen := map[ID]bool{}
	for i, id := range list {
		fs.add(id == 0 || seen[id], fmt.Sprintf("doorIds[%d]", i), "choose each door once")
		seen[id] = true
	}
}

// Use is a terminal with what it is for.
type Use struct {
	At   point.Address `json:"at"`
	Role string        `json:"role" doc:"Such as contact, lock, fire release, floor relay"`
	Kind string        `json:"kind" enum:"door,input,output" doc:"Of the object that has it"`
	ID   ID            `json:"id"`
	Name string        `json:"name"`
	// Says is the role in words, where they are others: a reader in a car, the floor of a relay.
	Says string `json:"says,omitempty" doc:"The role in words, where they are others"`
}

// Words names the role.
func (u *Use) Words() string { return cmp.Or(u.Says, u.Role) }

var inputRoles = map[InputUse]string{InputSense: "input", InputFire: "fire release", InputLockdown: "lockdown"}

// Uses lists what every terminal of a controller is for, in the order of addresses.
func (c *Config) Uses(controller ID) []Use {
	var out []Use
	for i := range c.Doors {
		d := &c.Doors[i]
		if d.ControllerID != controller {
			continue
		}
		p := d.Fitted()
		for _, r := range p.List() {
			if r.At != (point.Address{}) {
				says := ""
				if d.Car != nil {
					says = d.Role(r.Name == "reader out")
				}
				out = append(out, Use{r.At, r.Name, "door", d.ID, d.Name, says})
			}
		}
		out = append(out, c.floorUses(d)...)
	}
	for _, x := range c.Inputs {
		if x.ControllerID == controller {
			out = append(out, Use{x.At, inputRoles[x.Use], "input", x.ID, x.Name, ""})
		}
	}
	for _, x := range c.Outputs {
		if x.ControllerID == controller {
			out = append(out, Use{x.At, string(x.Use), "output", x.ID, x.Name, ""})
		}
	}
	slices.SortStableFunc(out, func(a, b Use) int { return a.At.Compare(b.At) })
	return out
}

// The roles of terminals that a car's floors have.
const (
	FloorRelay  = "floor relay"
	FloorButton = "floor button"
)

// floorUses lists the relays and buttons of an elevator's floors.
func (c *Config) floorUses(d *Door) (out []Use) {
	if d.Car == nil {
		return nil
	}
	for _, s := range d.Car.Stops {
		name := ""
		if f := c.floor(s.FloorID); f != nil {
			name = f.Name
		}
		if at, ok := d.Car.Relay(s.Relay); ok {
			out = append(out, Use{at, FloorRelay, "door", d.ID, d.Name, "relay of " + name})
		}
		if at, ok := d.Car.Button(s.Relay); ok {
			out = append(out, Use{at, FloorButton, "door", d.ID, d.Name, "button of " + name})
		}
	}
	return out
}

// Controller finds a controller by number, or nil.
func (c *Config) Controller(id ID) *Controller {
	i := slices.IndexFunc(c.Controllers, func(x Controller) bool { return x.ID == id })
	if i < 0 {
		return nil
	}
	return &c.Controllers[i]
}

// Fit gives every fitted role of a door a terminal that there is and that nobody else uses: where it is wired already,
// else at its port, else the first that is free. It fails where the controller has none left.
func (c *Config) Fit(d *Door) error {
	x := c.Controller(d.ControllerID)
	if x == nil {
		return Faults{{"controllerId", "choose the controller that drives it"}}
	}
	taken := map[point.Address]bool{}
	for _, u := range c.Uses(x.ID) {
		if u.ID != d.ID {
			taken[u.At] = true
		}
	}
	free := func(at point.Address) bool { return x.Has(at) && !taken[at] }
	wired, usual := d.Fitted(), PortPoints(d.Port)
	own, want := wired.List(), usual.List()
	fitted := Points{}
	homeless := []int{} // roles that cannot stay where they are, nor go to the port
	for i, to := range fitted.refs() {
		at := own[i].At
		switch {
		case at == (point.Address{}):
			continue
		case free(at):
			*to = at
		case free(want[i].At):
			*to = want[i].At
		default:
			homeless = append(homeless, i)
			continue
		}
		taken[*to] = true
	}
	for _, i := range homeless {
		all := x.Terminals()
		k := slices.IndexFunc(all, func(a point.Address) bool { return a.Kind == own[i].Kind && free(a) })
		if k < 0 {
			return Faults{{"points", fmt.Sprintf("%s has no terminal left for the %s; add an expander, or take something off",
				x.Name, own[i].Name)}}
		}
		*fitted.refs()[i] = all[k]
		taken[all[k]] = true
	}
	d.keep(fitted)
	return nil
}
