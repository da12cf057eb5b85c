package site

import (
	"fmt"
	"slices"

	"amberkeystone/core/point"
)

// Model is a kind of controller, or of stand-in for one: what it can drive and hold.
type Model struct {
	Name      string `json:"name"`
	Words     string `json:"words" doc:"What it is for"`
	Doors     int    `json:"doors" doc:"How many doors it can drive by its own terminals"`
	People    int    `json:"people" doc:"How many people it can hold"`
	Events    int    `json:"events" doc:"How many events it can keep until they are fetched"`
	Expanders int    `json:"expanders" doc:"How many expanders its bus takes"`
	Board     point.Board
}

// Models are the models of the stand-ins. The first inputs and outputs are those of the doors, in pairs and one by one;
// the rest are free to use.
var Models = []Model{
	{"Stand-in 1", "one door", 1, 5_000, 20_000, 2, point.Board{Readers: 2, Inputs: 4, Outputs: 2}},
	{"Stand-in 2", "two doors", 2, 20_000, 50_000, 4, point.Board{Readers: 4, Inputs: 6, Outputs: 4}},
	{"Stand-in 4", "four doors", 4, 50_000, 50_000, 8, point.Board{Readers: 8, Inputs: 10, Outputs: 6}},
	{"Stand-in 8", "eight doors", 8, 100_000, 100_000, 8, point.Board{Readers: 16, Inputs: 20, Outputs: 12}},
	{"Stand-in E", "two elevators", 2, 50_000, 50_000, 16, point.Board{Readers: 4, Inputs: 4, Outputs: 4}},
}

// ModelNamed finds a model.
func ModelNamed(name string) (Model, bool) {
	i := slices.IndexFunc(Models, func(m Model) bool { return m.Name == name })
	if i < 0 {
		return Model{}, false
	}
	return Models[i], true
}

// ExpanderKind is what an expander adds.
type ExpanderKind string

// The kinds of expander.
const (
	ReaderExpander ExpanderKind = "readers" // two doors both ways: four readers, four inputs, two outputs
	InputExpander  ExpanderKind = "inputs"  // 16 inputs
	OutputExpander ExpanderKind = "outputs" // 16 outputs (common practice)
)

// ExpanderKinds lists them.
var ExpanderKinds = []ExpanderKind{ReaderExpander, InputExpander, OutputExpander}

// Board returns the terminals of the kind.
func (k ExpanderKind) Board() point.Board {
	switch k {
	case ReaderExpander:
		return point.Board{Readers: 4, Inputs: 4, Outputs: 2}
	case InputExpander:
		return point.Board{Inputs: 16}
	case OutputExpander:
		return point.Board{Outputs: 16}
	}
	return point.Board{}
}

// MaxExpanderAddress is the highest address on a controller's bus.
const MaxExpanderAddress = 32

// Expander adds terminals to a controller over its bus. Its terminals are those of the board of its address.
type Expander struct {
	Address int          `json:"address" doc:"On the controller's bus; set at the expander itself"`
	Kind    ExpanderKind `json:"kind" enum:"readers,inputs,outputs"`
	Name    string       `json:"name,omitempty" doc:"Where it is"`
}

// Events returns how many events the controller can keep; 0: not known.
func (c *Controller) Events() int {
	m, _ := ModelNamed(c.Model)
	return m.Events
}

// Board returns the terminals of the controller itself: those of its model, else two readers, two inputs and an output
// for each door.
func (c *Controller) Board() point.Board {
	if m, ok := ModelNamed(c.Model); ok {
		return m.Board
	}
	return point.Board{Readers: 2 * c.Ports, Inputs: 2 * c.Ports, Outputs: c.Ports}
}

// Terminals lists every terminal of the controller and its expanders; of two expanders with one address, the first.
func (c *Controller) Terminals() []point.Address {
	out := c.Board().Terminals(0)
	seen := map[int]bool{}
	for _, e := range c.Expanders {
		if !seen[e.Address] {
			seen[e.Address] = true
			out = append(out, e.Kind.Board().Terminals(uint8(e.Address))...)
		}
	}
	return out
}

// Has reports whether there is such a terminal.
func (c *Controller) Has(at point.Address) bool {
	b := c.Board()
	if at.Board != 0 {
		i := slices.IndexFunc(c.Expanders, func(e Expander) bool { return e.Address == int(at.Board) })
		if i < 0 {
			return false
		}
		b = c.Expanders[i].Kind.Board()
	}
	return at.Number >= 1 && int(at.Number) <= b.Count(at.Kind)
}

// FreeAddress returns the lowest address of the bus that no expander has; 0 where there is none.
func (c *Controller) FreeAddress() int {
	for a := 1; a <= MaxExpanderAddress; a++ {
		if !slices.ContainsFunc(c.Expanders, func(e Expander) bool { return e.Address == a }) {
			return a
		}
	}
	return 0
}

// Doors returns how many doors it can drive: by its own terminals, and two by each expander for readers.
func (c *Controller) Doors() int {
	n := c.Ports
	for _, e := range c.Expanders {
		if e.Kind == ReaderExpander {
			n += 2
		}
	}
	return n
}

func (c *Controller) checkExpanders(fs *Faults) {
	m, known := ModelNamed(c.Model)
	if known && len(c.Expanders) > m.Expanders {
		fs.add(true, "expanders", "the bus of a %s takes %d expanders", m.Name, m.Expanders)
	}
	for i, e := range c.Expanders {
		field := fmt.Sprintf("expanders[%d].", i)
		fs.within("Expander.address", field+"address", e.Address)
		fs.add(!oneOf(e.Kind, ExpanderKinds...), field+"kind", "%q is no kind of expander", e.Kind)
		fs.short("Expander.name", field+"name", e.Name)
	}
}
