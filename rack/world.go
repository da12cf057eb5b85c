package rack

import (
	"fmt"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// world is what is wired to a stand-in: two readers, two inputs and an output for each door that it can drive. At rest
// the first input of each is a closed circuit, as of a contact, and the second an open one, as of a button.
type world struct {
	plugged  map[point.Address]bool // readers
	shows    map[point.Address]shown
	circuits map[point.Address]point.Circuit
	on       map[point.Address]bool // outputs
	order    []point.Address        // readers, inputs, outputs
}

type shown struct {
	what  pass.Feedback
	until time.Time
}

func newWorld(ports int) *world {
	w := &world{
		map[point.Address]bool{},
		map[point.Address]shown{},
		map[point.Address]point.Circuit{},
		map[point.Address]bool{},
		nil,
	}
	for port := 1; port <= ports; port++ {
		p := site.PortPoints(port)
		w.plugged[p.In], w.plugged[p.Out], w.on[p.Lock] = true, true, false
		w.circuits[p.Contact], w.circuits[p.Exit] = point.Closed, point.Open
		w.order = append(w.order, p.In, p.Out, p.Contact, p.Exit, p.Lock)
	}
	return w
}

// readings are what the inputs measure, in their order.
func (w *world) readings() []panel.Input {
	var out []panel.Input
	for _, at := range w.order {
		if at.Kind == point.Input {
			out = append(out, panel.Input{Kind: panel.Reading, Point: at, Circuit: w.circuits[at]})
		}
	}
	return out
}

// take does what the controller drives.
func (w *world) take(o panel.Output) {
	if o.Show != "" {
		w.shows[o.Point] = shown{o.Show, time.Now().Add(feedbackTime(o.Show))}
		return
	}
	w.on[o.Point] = o.On
}

// powerless is the world once the controller has lost its power.
func (w *world) powerless() { clear(w.on) }

// Hand is something that a person does at a stand-in. A door or a button opens and closes the circuit of an input.
type Hand struct {
	Serial string        `json:"serial"`
	Do     string        `json:"do"` // present, key, open, close, reader, network, clock, reset
	Point  point.Address `json:"point,omitzero"`
	Bits   cards.Bits    `json:"bits,omitzero"`
	Keys   string        `json:"keys,omitempty"`
	On     bool          `json:"on,omitempty"`
	ByMs   int64         `json:"byMs,omitempty"` // clock: how far to move it
}

// play does something at a terminal and returns what reaches the controller by it.
func (w *world) play(serial string, h *Hand) ([]panel.Input, error) {
	wrong := fmt.Errorf("%s has no terminal %s for %s", serial, h.Point, h.Do)
	switch h.Do {
	case "present", "key", "reader":
		plugged, ok := w.plugged[h.Point]
		switch {
		case !ok:
			return nil, wrong
		case h.Do == "reader":
			w.plugged[h.Point] = h.On
		case !plugged:
		case h.Do == "present":
			return []panel.Input{{Kind: panel.Read, Point: h.Point, Bits: h.Bits}}, nil
		default:
			var out []panel.Input
			for i := range len(h.Keys) {
				out = append(out, panel.Input{Kind: panel.Key, Point: h.Point, Key: h.Keys[i]})
			}
			return out, nil
		}
		return nil, nil
	case "open", "close":
		if _, ok := w.circuits[h.Point]; !ok {
			return nil, wrong
		}
		w.circuits[h.Point] = point.Open
		if h.Do == "close" {
			w.circuits[h.Point] = point.Closed
		}
		return []panel.Input{{Kind: panel.Reading, Point: h.Point, Circuit: w.circuits[h.Point]}}, nil
	}
	return nil, fmt.Errorf("a stand-in has no hand for %q", h.Do)
}
