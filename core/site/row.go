package site

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/point"
)

// HardwareRow is a door as it stands on the hardware schedule that hangs in the riser.
type HardwareRow struct {
	ID         ID       `json:"id"`
	Door       string   `json:"door"`
	Place      string   `json:"place"`
	Controller string   `json:"controller"`
	Readers    string   `json:"readers"`
	Lock       string   `json:"lock"`
	Power      string   `json:"power" doc:"What happens without power"`
	Contact    string   `json:"contact"`
	Exit       string   `json:"exit"`
	Terminals  string   `json:"terminals"`
	Timings    string   `json:"timings"`
	Factory    []string `json:"factory" doc:"What is still at its factory value"`
}

// PowerWords says in words what a lock does when it loses its power, and why.
func (h *Hardware) PowerWords() string {
	switch {
	case h.Lock == Magnetic:
		return "lets go: a magnet holds only with power"
	case h.FailSafe:
		return "unlocks (fail-safe): anybody can go through"
	}
	return "stays locked (fail-secure): the handle inside still opens it"
}

// LockWords describes the lock.
func (h *Hardware) LockWords() string {
	w := string(h.Lock)
	if h.Volts > 0 {
		w += fmt.Sprintf(", %d V", h.Volts)
	}
	if h.Milliamps > 0 {
		w += fmt.Sprintf(", %d mA", h.Milliamps)
	}
	if h.FireDoor {
		w += ", fire door"
	}
	if h.Monitored {
		w += ", monitored"
	}
	return w
}

// Words describes a reader.
func (r *Reader) Words() string {
	if !r.Fitted {
		return "none"
	}
	w := "card"
	if r.Keypad {
		w += " and keypad"
	}
	for _, k := range r.Takes {
		w += ", " + string(k)
	}
	if r.Connection == OSDP {
		return w + fmt.Sprintf(", OSDP %d at %d", r.Address, cmp.Or(r.Baud, 9600))
	}
	return w + ", Wiegand"
}

func wiredWords(w Wiring, supervised bool) string {
	if w == NotFitted {
		return "none"
	}
	out := map[Wiring]string{NormallyClosed: "normally closed", NormallyOpen: "normally open"}[w]
	if supervised {
		out += ", supervised"
	}
	return out
}

var exitWords = map[ExitKind]string{
	ExitButton: "button", ExitMotion: "motion sensor", ExitLock: "switch in the lock", ExitTouchless: "touchless",
}

// Rows is the hardware schedule: every door in the order of sites, floors and doors.
func (c *Config) Rows() []HardwareRow {
	floor := map[ID]*Floor{}
	for i := range c.Floors {
		floor[c.Floors[i].ID] = &c.Floors[i]
	}
	doors := slices.Clone(c.Doors)
	place := func(d *Door) (site string, level int) {
		if f := floor[d.FloorID]; f != nil {
			return c.SiteOf(d).Name, f.Level
		}
		return "", 0
	}
	slices.SortStableFunc(doors, func(a, b Door) int {
		as, al := place(&a)
		bs, bl := place(&b)
		return cmp.Or(strings.Compare(as, bs), cmp.Compare(al, bl), cmp.Compare(a.Order, b.Order),
			strings.Compare(a.Name, b.Name))
	})
	out := make([]HardwareRow, 0, len(doors))
	for i := range doors {
		out = append(out, c.row(&doors[i], floor))
	}
	return out
}

func (c *Config) row(d *Door, floor map[ID]*Floor) HardwareRow {
	r := HardwareRow{
		ID: d.ID, Door: d.Name, Lock: d.LockWords(), Power: d.PowerWords(),
		Contact: wiredWords(d.Contact, d.ContactSupervised), Readers: "in: " + d.In.Words(),
		Exit: wiredWords(d.Exit, d.ExitSupervised), Factory: d.AtFactory(),
	}
	if f := floor[d.FloorID]; f != nil {
		r.Place = c.SiteOf(d).Name + ", " + f.Name
	}
	if x := c.Controller(d.ControllerID); x != nil {
		r.Controller = x.Name
	}
	if d.Out.Fitted {
		r.Readers += "; out: " + d.Out.Words()
	}
	if d.Car != nil {
		r.elevator(d)
		return r
	}
	if d.Exit != NotFitted {
		r.Exit = exitWords[d.Kind()] + ", " + r.Exit
		if !d.ExitReleases {
			r.Exit += ", only excuses the opening"
		}
	}
	p := d.Fitted()
	var at []string
	for _, role := range p.List() {
		if role.At != (point.Address{}) {
			at = append(at, role.Name+" "+role.At.String())
		}
	}
	r.Terminals = strings.Join(at, ", ")
	r.Timings = fmt.Sprintf("unlock %d s, extended %d s, held open after %d s", d.Unlock, d.Extended, d.HeldOpen)
	if d.PreAlarm > 0 {
		r.Timings += fmt.Sprintf(" with %d s warning", d.PreAlarm)
	}
	if d.OutOfUse {
		r.Door += " (out of use)"
	}
	return r
}

// elevator says of a car what of a door would be its lock.
func (r *HardwareRow) elevator(d *Door) {
	r.Readers = "in the car: " + d.In.Words()
	if d.Out.Fitted {
		r.Readers += "; second: " + d.Out.Words()
	}
	r.Lock, r.Power, r.Exit = fmt.Sprintf("releases %d floors", len(d.Car.Stops)),
		"floor relays drop: no floor is released", "none"
	first, _ := d.Car.Relay(1)
	last, _ := d.Car.Relay(len(d.Car.Stops))
	r.Terminals = fmt.Sprintf("reader in the car %s, floor relays %s to %s", d.Terminals().In, first, last)
	r.Timings, r.Factory = fmt.Sprintf("select time %d s, extended %d s", d.Unlock, d.Extended), []string{}
	if d.OutOfUse {
		r.Door += " (out of use)"
	}
}

// AtFactory lists what nobody has entered: the timings and the lock as they come.
func (h *Hardware) AtFactory() []string {
	usual := UsualHardware()
	out := []string{}
	for _, x := range []struct {
		same bool
		what string
	}{
		{h.Unlock == usual.Unlock, "unlock time"}, {h.Extended == usual.Extended, "extended time"},
		{h.HeldOpen == usual.HeldOpen, "held-open time"}, {h.Relock == usual.Relock, "re-lock"},
		{h.Lock == usual.Lock && h.Milliamps == 0, "lock"}, {h.Contact == usual.Contact, "contact"},
		{h.Exit == usual.Exit && h.Kind() == ExitButton, "exit request"},
	} {
		if x.same {
			out = append(out, x.what)
		}
	}
	return out
}
