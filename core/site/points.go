package site

import "amberkeystone/core/point"

// Points are the roles of a door: which terminal of its controller is its reader in, its contact, its lock.
type Points struct {
	In      point.Address `json:"in,omitzero" doc:"The reader in, such as r1"`
	Out     point.Address `json:"out,omitzero" doc:"The reader out, such as r2"`
	Contact point.Address `json:"contact,omitzero" doc:"The input of the door contact, such as i1"`
	Exit    point.Address `json:"exit,omitzero" doc:"The input of the exit request, such as i2"`
	Lock    point.Address `json:"lock,omitzero" doc:"The output that drives the lock, such as o1"`
}

// Role is one of a door's points, by what it is for.
type Role struct {
	Name string // reader in, contact …
	Kind point.Kind
	At   point.Address
}

// List returns the roles in a fixed order.
func (p *Points) List() []Role {
	return []Role{
		{"reader in", point.Reader, p.In}, {"reader out", point.Reader, p.Out}, {"contact", point.Input, p.Contact},
		{"exit request", point.Input, p.Exit}, {"lock", point.Output, p.Lock},
	}
}

// refs are where the roles are kept, in the order of List.
func (p *Points) refs() []*point.Address {
	return []*point.Address{&p.In, &p.Out, &p.Contact, &p.Exit, &p.Lock}
}

// PortPoints returns the terminals that a port stands for: the first port has readers 1 and 2, inputs 1 and 2, and
// output 1.
func PortPoints(port int) Points {
	return Points{
		In: point.At(point.Reader, 2*port-1), Out: point.At(point.Reader, 2*port),
		Contact: point.At(point.Input, 2*port-1), Exit: point.At(point.Input, 2*port),
		Lock: point.At(point.Output, port),
	}
}

// Terminals returns the terminal of each role, whether or not something is fitted: those that the door names, else
// those of its port.
func (d *Door) Terminals() Points {
	p := PortPoints(d.Port)
	if own := d.Points; own != nil {
		from := own.List()
		for i, to := range p.refs() {
			if from[i].At != (point.Address{}) {
				*to = from[i].At
			}
		}
	}
	return p
}

// Wired returns the terminals by which a controller works the door: of what is fitted, none where it is out of use.
func (d *Door) Wired() Points {
	if d.OutOfUse {
		return Points{}
	}
	return d.Fitted()
}

// Fitted returns the terminals of what is fitted to the door, in use or not.
func (d *Door) Fitted() Points {
	p := d.Terminals()
	if !d.In.Fitted {
		p.In = point.Address{}
	}
	if !d.Out.Fitted {
		p.Out = point.Address{}
	}
	if d.Contact == NotFitted {
		p.Contact = point.Address{}
	}
	if d.Exit == NotFitted {
		p.Exit = point.Address{}
	}
	if d.Car != nil {
		p.Lock = point.Address{}
	}
	return p
}

// ContactWire returns how the contact is connected.
func (h *Hardware) ContactWire() point.Wire {
	return point.Wire{NormallyClosed: h.Contact == NormallyClosed, Supervised: h.ContactSupervised}
}

// ExitWire returns how the exit request is connected.
func (h *Hardware) ExitWire() point.Wire {
	return point.Wire{NormallyClosed: h.Exit == NormallyClosed, Supervised: h.ExitSupervised}
}

// checkPoints refuses a terminal of the wrong kind, and one that the door names twice.
func (d *Door) checkPoints(fs *Faults) {
	if d.Points == nil {
		return
	}
	for _, r := range d.Points.List() {
		wrong := r.At != (point.Address{}) && r.At.Kind != r.Kind
		fs.add(wrong, "points", "the %s cannot be on %s; choose a terminal for it", r.Name, r.At)
	}
	used := map[point.Address]bool{}
	fitted := d.Fitted()
	for _, r := range fitted.List() {
		twice := r.At != (point.Address{}) && used[r.At]
		fs.add(twice, "points", "the %s is on a terminal that this door uses already; choose another", r.Name)
		used[r.At] = true
	}
}
