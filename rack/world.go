package rack

import (
	"fmt"
	"maps"
	"slices"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// world is what is wired to a stand-in: at each terminal of its model and its expanders a reader, a switch or a lamp.
// The wire of a switch may be cut or shorted; where the controller supervises it, resistors stand at its end. At rest
// the first input of each port is a closed switch, as of a contact, and the others are open, as of a button.
type world struct {
	readers  map[point.Address]*readerThere
	switches map[point.Address]*switchThere
	on       map[point.Address]bool // outputs
	order    []point.Address        // readers, inputs, outputs
	ports    int
	mains    bool
	battery  bool // good
	lid      bool // closed
}

type readerThere struct {
	plugged, powered, opened bool
	shown                    shown
	beeps                    time.Time // until then
}

func (r *readerThere) answers() bool { return r.plugged && r.powered }

type switchThere struct {
	closed     bool
	touched    bool   // somebody has had a hand on it
	trouble    string // cut or short: what somebody did to its wire
	supervised bool   // resistors are fitted
}

// circuit is what is measured.
func (s *switchThere) circuit() point.Circuit {
	switch {
	case s.trouble == "cut":
		return point.Open
	case s.trouble == "short":
		return point.Closed
	case s.supervised && s.closed:
		return point.One
	case s.supervised:
		return point.Two
	case s.closed:
		return point.Closed
	}
	return point.Open
}

type shown struct {
	what  pass.Feedback
	until time.Time
}

func (s shown) text() string {
	if time.Now().After(s.until) {
		return ""
	}
	return string(s.what)
}

func newWorld(s Spec) *world {
	w := &world{
		readers: map[point.Address]*readerThere{}, switches: map[point.Address]*switchThere{}, on: map[point.Address]bool{},
		ports: s.Ports, mains: true, battery: true, lid: true,
	}
	c := site.Controller{Model: s.Model, Ports: s.Ports}
	w.wire(c.Terminals())
	return w
}

// wire puts something at every terminal that has nothing yet.
func (w *world) wire(terminals []point.Address) {
	for _, at := range terminals {
		if slices.Contains(w.order, at) {
			continue
		}
		w.order = append(w.order, at)
		switch at.Kind {
		case point.Reader:
			w.readers[at] = &readerThere{plugged: true, powered: true}
		case point.Input:
			w.switches[at] = &switchThere{closed: at.Board == 0 && int(at.Number) <= 2*w.ports && at.Number%2 == 1}
		case point.Output:
			w.on[at] = false
		}
	}
	slices.SortFunc(w.order, point.Address.Compare)
}

// fit is what the fitter does who wires what an image says: expanders are on the bus, resistors stand where lines are
// supervised, and what belongs to no door is at rest unless somebody has had a hand on it.
func (w *world) fit(im *image.Image) {
	c := site.Controller{Ports: 0, Expanders: im.Expanders}
	w.wire(c.Terminals())
	supervised := map[point.Address]bool{}
	for i := range im.Doors {
		d := &im.Doors[i]
		at := d.Fitted()
		supervised[at.Contact], supervised[at.Exit] = d.ContactSupervised, d.ExitSupervised
		if d.Points != nil {
			w.rest(at.Contact, true)
			w.rest(at.Exit, false)
		}
	}
	for i := range im.Inputs {
		x := &im.Inputs[i]
		supervised[x.At] = x.Supervised
		w.rest(x.At, x.Contact == site.NormallyClosed)
	}
	for at, s := range w.switches {
		s.supervised = supervised[at]
	}
}

func (w *world) rest(at point.Address, closed bool) {
	if s := w.switches[at]; s != nil && !s.touched {
		s.closed = closed
	}
}

// readings are what the inputs measure, in their order.
func (w *world) readings() []panel.Input {
	var out []panel.Input
	for _, at := range w.order {
		if at.Kind == point.Input {
			out = append(out, panel.Input{Kind: panel.Reading, Point: at, Circuit: w.switches[at].circuit()})
		}
	}
	return out
}

// circuits are what all inputs measure.
func (w *world) circuits() map[point.Address]point.Circuit {
	out := make(map[point.Address]point.Circuit, len(w.switches))
	for at, s := range w.switches {
		out[at] = s.circuit()
	}
	return out
}

// answers tells which readers answer.
func (w *world) answers() map[point.Address]bool {
	out := make(map[point.Address]bool, len(w.readers))
	for at, r := range w.readers {
		out[at] = r.answers()
	}
	return out
}

// opened lists the readers whose cover is open.
func (w *world) opened() (out []point.Address) {
	for _, at := range slices.SortedFunc(maps.Keys(w.readers), point.Address.Compare) {
		if w.readers[at].opened {
			out = append(out, at)
		}
	}
	return out
}

// troubles tell what is wrong with the controller and its readers, as it finds them at a start.
func (w *world) troubles() (out []panel.Input) {
	for _, x := range []struct {
		good bool
		kind pass.Kind
	}{{w.mains, pass.MainsLost}, {w.battery, pass.BatteryLow}, {w.lid, pass.TamperOpened}} {
		if !x.good {
			out = append(out, panel.Input{Kind: panel.Told, Tells: x.kind})
		}
	}
	for _, at := range slices.SortedFunc(maps.Keys(w.readers), point.Address.Compare) {
		if !w.readers[at].answers() {
			out = append(out, panel.Input{Kind: panel.Told, Tells: pass.ReaderLost, Point: at})
		}
		if w.readers[at].opened {
			out = append(out, panel.Input{Kind: panel.Told, Tells: pass.ReaderOpened, Point: at})
		}
	}
	return out
}

// take does what the controller drives.
func (w *world) take(o panel.Output) {
	if o.Show == "" {
		w.on[o.Point] = o.On
	} else if r := w.readers[o.Point]; r != nil {
		r.shown = shown{o.Show, time.Now().Add(feedbackTime(o.Show))}
	}
}

// powerless is the world once the controller has lost its power.
func (w *world) powerless() {
	for at := range w.on {
		w.on[at] = false
	}
}

// Hand is something that a person does at a stand-in. A door or a button opens and closes its switch.
type Hand struct {
	Serial string `json:"serial"`
	// present, key, open, close, cut, short, mend, reader, cover, mains, battery, lid, power, network, clock, reset
	Do    string        `json:"do"`
	Point point.Address `json:"point,omitzero"`
	Bits  cards.Bits    `json:"bits,omitzero"`
	Keys  string        `json:"keys,omitempty"`
	On    bool          `json:"on,omitempty"`
	ByMs  int64         `json:"byMs,omitempty"` // clock: how far to move it
}

// play does something at a terminal and returns what reaches the controller by it.
func (w *world) play(serial string, h *Hand) ([]panel.Input, error) {
	wrong := fmt.Errorf("%s has no terminal %s for %s", serial, h.Point, h.Do)
	switch h.Do {
	case "present", "key", "reader", "cover":
		r := w.readers[h.Point]
		if r == nil {
			return nil, wrong
		}
		return w.playReader(r, h), nil
	case "open", "close", "cut", "short", "mend":
		s := w.switches[h.Point]
		if s == nil {
			return nil, wrong
		}
		s.touched = true
		switch h.Do {
		case "open", "close":
			s.closed = h.Do == "close"
		case "mend":
			s.trouble = ""
		default:
			s.trouble = h.Do
		}
		return []panel.Input{{Kind: panel.Reading, Point: h.Point, Circuit: s.circuit()}}, nil
	case "mains":
		return told(&w.mains, h.On, pass.MainsBack, pass.MainsLost), nil
	case "battery":
		return told(&w.battery, h.On, pass.BatteryGood, pass.BatteryLow), nil
	case "lid":
		return told(&w.lid, h.On, pass.TamperClosed, pass.TamperOpened), nil
	}
	return nil, fmt.Errorf("a stand-in has no hand for %q", h.Do)
}

// told turns something on or off and tells it where it was not so already.
func told(state *bool, on bool, yes, no pass.Kind) []panel.Input {
	if *state == on {
		return nil
	}
	*state = on
	if on {
		no = yes
	}
	return []panel.Input{{Kind: panel.Told, Tells: no}}
}

func (w *world) playReader(r *readerThere, h *Hand) []panel.Input {
	switch h.Do {
	case "reader":
		return w.setReader(h.Point, func(r *readerThere) { r.plugged = h.On })
	case "cover":
		closed := !r.opened
		out := told(&closed, h.On, pass.ReaderClosed, pass.ReaderOpened)
		r.opened = !closed
		for i := range out {
			out[i].Point = h.Point
		}
		return out
	}
	if !r.answers() {
		return nil
	}
	if h.Do == "present" {
		return []panel.Input{{Kind: panel.Read, Point: h.Point, Bits: h.Bits}}
	}
	var out []panel.Input
	for i := range len(h.Keys) {
		out = append(out, panel.Input{Kind: panel.Key, Point: h.Point, Key: h.Keys[i]})
	}
	return out
}

// setReader changes whether a reader is plugged in or has power, and tells whether it answers now.
func (w *world) setReader(at point.Address, change func(*readerThere)) []panel.Input {
	r := w.readers[at]
	before := r.answers()
	change(r)
	out := told(&before, r.answers(), pass.ReaderBack, pass.ReaderLost)
	for i := range out {
		out[i].Point = at
	}
	return out
}
