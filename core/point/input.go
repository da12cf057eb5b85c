package point

import "amberkeystone/core/enum"

// Circuit is what an input's terminals measure. The zero value is an open circuit, as where nothing is wired.
type Circuit uint8

// What is measured. One and two resistances are of the end-of-line pair of a supervised input (common practice: one in
// series with the switch, one across it).
const (
	Open   Circuit = iota
	Closed         // no resistance
	One            // one resistor: the switch bridges the other
	Two            // both resistors: the switch is open
)

var circuits = enum.Table[Circuit]{
	Open: {Code: "open"}, Closed: {Code: "closed"}, One: {Code: "one-resistor"}, Two: {Code: "two-resistors"},
}

// String returns the code, such as closed.
func (c Circuit) String() string { return circuits.Code(c) }

// MarshalText writes the code.
func (c Circuit) MarshalText() ([]byte, error) { return circuits.Marshal(c) }

// UnmarshalText reads the code.
func (c *Circuit) UnmarshalText(text []byte) error { return circuits.Unmarshal(text, c) }

// Level is what a reading means.
type Level uint8

// The levels.
const (
	Normal  Level = iota // at rest: the door is closed, the button is not pressed
	Active               // the door is open, the button is pressed
	Cut                  // supervised: the wire is cut
	Shorted              // supervised: the wire is shorted
	endOfLevels
)

var levels = enum.Table[Level]{
	Normal: {Code: "normal", Words: "at rest"}, Active: {Code: "active", Words: "active"},
	Cut: {Code: "cut", Words: "cut"}, Shorted: {Code: "shorted", Words: "shorted"},
}

// String returns the code, such as shorted.
func (l Level) String() string { return levels.Code(l) }

// MarshalText writes the code.
func (l Level) MarshalText() ([]byte, error) { return levels.Marshal(l) }

// UnmarshalText reads the code.
func (l *Level) UnmarshalText(text []byte) error { return levels.Unmarshal(text, l) }

// Fault reports whether the wire is in trouble, so that nothing is known of what it leads to.
func (l Level) Fault() bool { return l == Cut || l == Shorted }

// Wire is how something is connected to an input.
type Wire struct {
	NormallyClosed bool // the switch is closed at rest
	Supervised     bool // by a pair of end-of-line resistors
}

// Level returns what a measured circuit means. Without supervision a resistance is as good as a closed circuit.
func (w Wire) Level(c Circuit) Level {
	switch {
	case w.Supervised && c == Open:
		return Cut
	case w.Supervised && c == Closed:
		return Shorted
	case w.Supervised:
		return w.level(c == One)
	}
	return w.level(c != Open)
}

func (w Wire) level(closed bool) Level {
	if closed == w.NormallyClosed {
		return Normal
	}
	return Active
}

// Circuit returns what is measured while the switch is at rest or active: the inverse of Level for a sound wire.
func (w Wire) Circuit(active bool) Circuit {
	closed := active != w.NormallyClosed
	switch {
	case w.Supervised && closed:
		return One
	case w.Supervised:
		return Two
	case closed:
		return Closed
	}
	return Open
}
