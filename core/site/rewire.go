package site

import (
	"fmt"
	"slices"

	"amberkeystone/core/point"
)

// Wish is what somebody wants at a terminal: a role of a door, or a named input or output.
type Wish struct {
	Kind string `json:"kind" enum:"door,input,output"`
	ID   ID     `json:"id"`
	Role string `json:"role,omitempty" enum:"reader in,reader out,contact,exit request,lock" doc:"Of a door"`
}

// Choice is something that may be put on a terminal.
type Choice struct {
	Wish
	Name string        `json:"name"`
	From point.Address `json:"from,omitzero" doc:"Where it is now; none: it is not fitted yet"`
	// Words say what has to be done at the place itself.
	Words string `json:"words"`
}

// Choices lists what may be put on a terminal of a controller: what is not fitted yet first, then what would be moved.
func (c *Config) Choices(controller ID, at point.Address) []Choice {
	out := []Choice{}
	for i := range c.Doors {
		d := &c.Doors[i]
		if d.ControllerID != controller {
			continue
		}
		p := d.Fitted()
		for _, r := range p.List() {
			if r.Kind == at.Kind && r.At != at {
				x := Choice{Wish: Wish{"door", d.ID, r.Name}, Name: d.Name, From: r.At}
				x.Words = rewire(r.Name+" of "+d.Name, r.At, at)
				out = append(out, x)
			}
		}
	}
	if at.Kind == point.Input {
		for _, x := range c.Inputs {
			if x.ControllerID == controller && x.At != at {
				out = append(out, Choice{Wish{"input", x.ID, ""}, x.Name, x.At, rewire(x.Name, x.At, at)})
			}
		}
	}
	if at.Kind == point.Output {
		for _, x := range c.Outputs {
			if x.ControllerID == controller && x.At != at {
				out = append(out, Choice{Wish{"output", x.ID, ""}, x.Name, x.At, rewire(x.Name, x.At, at)})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Choice) int {
		switch fresh, other := a.From == (point.Address{}), b.From == (point.Address{}); {
		case fresh && !other:
			return -1
		case other && !fresh:
			return 1
		}
		return 0
	})
	return out
}

func rewire(what string, from, to point.Address) string {
	if from == (point.Address{}) {
		return fmt.Sprintf("Wire the %s to %s.", what, to)
	}
	return fmt.Sprintf("Move the wires of the %s from %s to %s.", what, from, to)
}

// Put returns the object that has the role with the role on another terminal, a pointer to a Door, Input or Output, and
// what has to be done at the place itself. A role that was not fitted is, in the usual way. A terminal that is not
// there or that somebody else uses is refused.
func (c *Config) Put(w Wish, at point.Address) (any, string, error) {
	switch w.Kind {
	case "door":
		if d := c.Door(w.ID); d != nil {
			return c.putRole(*d, w.Role, at)
		}
	case "input":
		if i := slices.IndexFunc(c.Inputs, func(x Input) bool { return x.ID == w.ID }); i >= 0 {
			x := c.Inputs[i]
			words := rewire(x.Name, x.At, at)
			x.At = at
			return &x, words, c.mayUse(x.ControllerID, at, point.Input, x.ID, "")
		}
	case "output":
		if i := slices.IndexFunc(c.Outputs, func(x Output) bool { return x.ID == w.ID }); i >= 0 {
			x := c.Outputs[i]
			words := rewire(x.Name, x.At, at)
			x.At = at
			return &x, words, c.mayUse(x.ControllerID, at, point.Output, x.ID, "")
		}
	}
	return nil, "", Faults{{"id", "what is to be moved is no longer there; load the page again"}}
}

// mayUse refuses a terminal that is of another kind, not there, or somebody else's.
func (c *Config) mayUse(controller ID, at point.Address, kind point.Kind, id ID, role string) error {
	x := c.Controller(controller)
	switch {
	case x == nil:
		return Faults{{"controllerId", "choose the controller"}}
	case at.Kind != kind:
		return Faults{{"at", fmt.Sprintf("%s is a terminal of another kind; choose another", at)}}
	case !x.Has(at):
		return Faults{{"at", fmt.Sprintf("%s has no terminal %s; choose another", x.Name, at)}}
	}
	for _, u := range c.Uses(controller) {
		if u.At == at && (u.ID != id || u.Role != role && role != "") {
			return Faults{
				{"at", fmt.Sprintf("%s is the %s of %s already; choose another, or take that off first", at, u.Words(), u.Name)},
			}
		}
	}
	return nil
}

func (c *Config) putRole(d Door, role string, at point.Address) (any, string, error) {
	own := d.Fitted()
	i := slices.IndexFunc(own.List(), func(r Role) bool { return r.Name == role })
	if i < 0 {
		return nil, "", Faults{{"role", fmt.Sprintf("a door has no %q", role)}}
	}
	r := own.List()[i]
	words := rewire(role+" of "+d.Name, r.At, at)
	if err := c.mayUse(d.ControllerID, at, r.Kind, d.ID, role); err != nil {
		return nil, "", err
	}
	switch role {
	case "reader out":
		d.Out.Fitted = true
	case "contact":
		if d.Contact == NotFitted {
			d.Contact = NormallyClosed
		}
	case "exit request":
		if d.Exit == NotFitted {
			d.Exit = NormallyOpen
		}
	}
	next := d.Fitted()
	*next.refs()[i] = at
	d.keep(next)
	return &d, words, nil
}

// keep says where a door is wired, and says nothing where that is its port's own.
func (d *Door) keep(p Points) {
	d.Points = nil
	if d.Fitted() != p {
		d.Points = &p
	}
}

// TakeOff returns a door without a role that can be done without; a named input or output is removed instead.
func (c *Config) TakeOff(w Wish) (*Door, error) {
	d := c.Door(w.ID)
	if d == nil {
		return nil, Faults{{"id", "this door is no longer there; load the page again"}}
	}
	next := *d
	switch w.Role {
	case "reader out":
		next.Out = Reader{}
	case "contact":
		next.Contact, next.ContactSupervised, next.Relock = NotFitted, false, AtEnd
	case "exit request":
		next.Exit, next.ExitSupervised = NotFitted, false
	default:
		return nil, Faults{{"role", fmt.Sprintf("a door always has its %s; remove the door, or take it out of use", w.Role)}}
	}
	next.keep(next.Fitted())
	return &next, nil
}

// CheckTerminals says which roles of a door are on terminals that are not there or that somebody else has, as far as
// was is not wired so already, and gives those a terminal that were never said.
func (c *Config) CheckTerminals(d, was *Door) (fs Faults) {
	x := c.Controller(d.ControllerID)
	if x == nil {
		return nil
	}
	fs.add(d.Port > x.Doors(), "port", "%s can drive %d doors; choose a lower number, or add an expander for readers",
		x.Name, x.Doors())
	var before Points
	if was != nil && was.ControllerID == d.ControllerID {
		before = was.Fitted()
	}
	old := before.List()
	if d.Points != nil {
		wired := d.Fitted()
		own := d.Points.List()
		for i, r := range wired.List() {
			if own[i].At == (point.Address{}) || r.At == (point.Address{}) || r.At == old[i].At {
				continue
			}
			if err := c.mayUse(d.ControllerID, r.At, r.Kind, d.ID, ""); err != nil {
				for _, f := range err.(Faults) {
					fs.add(true, "points", "the %s: %s", r.Name, f.Words)
				}
			}
		}
	}
	if len(fs) > 0 || was != nil && d.Fitted() == before {
		return fs
	}
	if err := c.Fit(d); err != nil {
		fs = append(fs, err.(Faults)...)
	}
	return fs
}

// MayUse refuses a terminal for a named input or output that is of another kind, not there, or somebody else's.
func (c *Config) MayUse(controller ID, at point.Address, id ID) error {
	return c.mayUse(controller, at, at.Kind, id, "")
}

// FormatUsedBy names what uses a card format: a person with such a card, or a reader that takes it; empty: nothing.
func (c *Config) FormatUsedBy(name string) string {
	n, who := 0, ""
	for _, p := range c.People {
		if slices.ContainsFunc(p.Credentials, func(h Credential) bool { return h.Kind == Card && h.Format == name }) {
			n++
			who = p.Name
		}
	}
	switch {
	case n == 1:
		return "a card of " + who
	case n > 1:
		return fmt.Sprintf("cards of %d people", n)
	}
	for i := range c.Doors {
		d := &c.Doors[i]
		if slices.Contains(d.In.Formats, name) || slices.Contains(d.Out.Formats, name) {
			return "the reader of " + d.Name
		}
	}
	return ""
}
