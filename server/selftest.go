package server

import (
	"context"
	"fmt"
	"slices"
	"time"

	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/link"
)

// TestLine is one line of the self-test.
type TestLine struct {
	Place string  `json:"place" doc:"The controller, or a door"`
	What  string  `json:"what"`
	OK    bool    `json:"ok"`
	Words string  `json:"words"`
	Mend  string  `json:"mend,omitempty"`
	Fix   string  `json:"fix,omitempty" enum:"set-clock,power,wiring" doc:"What a click can do about it"`
	Door  site.ID `json:"door,omitempty"`
	At    string  `json:"at,omitempty" doc:"The terminal"`
}

// driftAllowed is how far a clock may be off before the self-test says so.
const driftAllowed = 5 * time.Second

func (s *Server) selfTest(ctx context.Context, id site.ID) ([]TestLine, error) {
	b := s.current()
	name := b.Name(id)
	if _, err := s.unit(id); err != nil {
		return nil, err
	}
	var st link.Status
	begin := time.Now()
	if err := s.call(ctx, id, link.OpStatus, nil, &st); err != nil {
		return []TestLine{
			{
				Place: name,
				What:  "Reachable",
				Words: "it does not answer",
				Mend:  "Look at its power and network cable; on the bench, plug its network in again.",
			},
		}, nil
	}
	out := []TestLine{
		{
			Place: name,
			What:  "Reachable",
			OK:    true,
			Words: fmt.Sprintf("answers in %d ms, with its own key", max(1, time.Since(begin).Milliseconds())),
		},
	}
	drift := st.Clock.Sub(s.now())
	clock := TestLine{Place: name, What: "Clock", OK: drift.Abs() <= driftAllowed, Words: "right to the second"}
	if !clock.OK {
		ahead := "behind"
		if drift > 0 {
			ahead = "ahead"
		}
		clock.Words = fmt.Sprintf("%s %s", drift.Abs().Round(time.Second), ahead)
		clock.Mend, clock.Fix = "Set the clock.", "set-clock"
	}
	out = append(out, clock)
	out = append(out, testPower(name, &st)...)
	for _, d := range b.Config.Doors {
		if d.ControllerID == id {
			out = append(out, testDoor(&d, &st)...)
		}
	}
	for i := range b.Config.Inputs {
		x := &b.Config.Inputs[i]
		if x.ControllerID != id {
			continue
		}
		says := x.Wire().Level(st.Inputs[x.At])
		l := TestLine{Place: x.Name, What: "Input", OK: says == point.Normal, Words: says.String(), At: x.At.String()}
		if l.OK {
			l.Words = "at rest"
		} else {
			l.Mend = "Bring it to rest, then test again; a wire in trouble is mended at " + x.At.String() + "."
		}
		out = append(out, l)
	}
	return out, nil
}

func testDoor(d *site.Door, st *link.Status) []TestLine {
	if d.OutOfUse {
		return nil
	}
	at := d.Terminals()
	in, ok := st.Readers[at.In]
	if !ok {
		return []TestLine{
			{
				Place: d.Name,
				What:  "Reader in",
				Words: fmt.Sprintf("the controller has no terminal %s", at.In),
				Mend:  "Move the reader to a terminal that is there, in the terminals of the controller.",
				Door:  d.ID,
			},
		}
	}
	reader := func(what string, at point.Address, answers bool) TestLine {
		l := TestLine{Place: d.Name, What: what, OK: answers, Words: "answers", Door: d.ID, At: at.String()}
		switch {
		case answers:
		case slices.Contains(st.Unpowered, at):
			l.Words, l.Mend, l.Fix = "has no power: it was cut from here", "Give it back.", "power"
		default:
			l.Words, l.Mend = "does not answer", "Look at its cable and power."
		}
		return l
	}
	out := []TestLine{reader("Reader in", at.In, in)}
	if d.Out.Fitted {
		out = append(out, reader("Reader out", at.Out, st.Readers[at.Out]))
	}
	if d.Contact != site.NotFitted {
		out = append(out, testContact(d, at.Contact, d.ContactWire().Level(st.Inputs[at.Contact])))
	}
	if d.Exit != site.NotFitted {
		out = append(out, testExit(d, at.Exit, d.ExitWire().Level(st.Inputs[at.Exit])))
	}
	return out
}

// testContact asks for a closed door, and says what it means where the screen says otherwise.
func testContact(d *site.Door, at point.Address, says point.Level) TestLine {
	l := TestLine{
		Place: d.Name, What: "Contact", OK: says == point.Normal, Words: "says the door is closed", Door: d.ID,
		At: at.String(),
	}
	switch {
	case says.Fault():
		l.Words, l.Mend = "its wire is "+says.String(),
			"Mend the wire at "+at.String()+"; until then nobody knows whether the door is open."
	case !l.OK:
		l.Words = "says the door is open"
		l.Mend = "Close the door, then test again. If it is closed already, the screen says open while the door is closed, and closed while it is open: the contact is wired the other way."
		l.Fix = "wiring"
	}
	return l
}

func testExit(d *site.Door, at point.Address, says point.Level) TestLine {
	l := TestLine{
		Place: d.Name, What: "Exit request", OK: says == point.Normal, Words: "at rest", Door: d.ID, At: at.String(),
	}
	switch {
	case says.Fault():
		l.Words, l.Mend = "its wire is "+says.String(),
			"Mend the wire at "+at.String()+"; until then the exit request does nothing."
	case !l.OK:
		l.Words, l.Mend = "is pressed",
			"Let go of the button. If nobody presses it, it is wired the other way: change its wiring in the door's build."
	}
	return l
}

// testPower says how a controller is fed, and whether its box is closed.
func testPower(name string, st *link.Status) []TestLine {
	power := TestLine{
		Place: name, What: "Power", OK: !st.MainsLost && !st.BatteryLow,
		Words: fmt.Sprintf("mains are there, battery %.1f V", float64(st.Millivolts)/1000),
	}
	switch {
	case st.MainsLost:
		power.Words, power.Mend = "it is on its battery", "Look at the mains fuse of its supply."
	case st.BatteryLow:
		power.Words, power.Mend = "its battery is low", "Change the battery."
	}
	lid := TestLine{Place: name, What: "Box", OK: !st.LidOpen, Words: "closed"}
	if st.LidOpen {
		lid.Words, lid.Mend = "open", "Close it."
	}
	return []TestLine{power, lid}
}
