package site

import (
	"strconv"

	"amberkeystone/core/point"
)

// Said is what a terminal says, in words, and whether it is at rest.
type Said struct {
	State string `json:"state" enum:"rest,active,fault,unknown" doc:"At rest, in use, in trouble, or not known"`
	Words string `json:"words" doc:"Such as closed, pressed, cut, released"`
}

// levelWords are what a level means of a role.
var levelWords = map[string][2]string{
	"contact": {"closed", "open"}, "exit request": {"at rest", "pressed"}, "fire release": {"at rest", "active"},
	FloorButton: {"at rest", "pressed"}, "lockdown": {"at rest", "active"}, "input": {"at rest", "active"},
}

// SaysInput is what an input with a role says while it measures a circuit.
func SaysInput(role string, w point.Wire, c point.Circuit) Said {
	words, ok := levelWords[role]
	if !ok { // nothing is wired there, as far as anybody knows
		return Said{"rest", c.String()}
	}
	switch l := w.Level(c); {
	case l.Fault():
		return Said{"fault", l.String()}
	case l == point.Active:
		return Said{"active", words[1]}
	}
	return Said{"rest", words[0]}
}

// Ohms writes what an input measures, for a pair of end-of-line resistors of one value.
func Ohms(c point.Circuit, resistor int) string {
	if resistor == 0 {
		resistor = 1000
	}
	switch c {
	case point.Closed:
		return "under 100 Ω"
	case point.One:
		return kilo(resistor)
	case point.Two:
		return kilo(2 * resistor)
	}
	return "over 20 kΩ"
}

func kilo(ohms int) string { return strconv.FormatFloat(float64(ohms)/1000, 'f', -1, 64) + " kΩ" }

// Words says how something is wired.
func (w Wiring) Words() string {
	switch w {
	case NormallyClosed:
		return "closed circuit at rest"
	case NormallyOpen:
		return "open circuit at rest"
	}
	return "not fitted"
}
