package rack

import (
	"slices"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/rules/alarmarea"
)

// View is what a person sees who stands before a stand-in.
type View struct {
	Spec
	Firmware string            `json:"firmware"`
	Power    bool              `json:"power"`
	Mains    bool              `json:"mains"`
	Battery  bool              `json:"battery"` // is good
	Lid      bool              `json:"lid"`     // is closed
	Keyed    bool              `json:"keyed"`
	Code     string            `json:"code"`  // what it shows to be compared
	Fault    string            `json:"fault"` // why it has stopped
	Network  bool              `json:"network"`
	Blinking bool              `json:"blinking"`
	Clock    hours.Instant     `json:"clock"`
	Hash     string            `json:"hash"`
	Kept     int               `json:"kept"`
	Readers  []ReaderView      `json:"readers"`
	Inputs   []InputView       `json:"inputs"`
	Outputs  []OutputView      `json:"outputs"`
	Doors    []panel.DoorState `json:"doors"` // as the controller tells them
	Areas    []alarmarea.Now   `json:"areas,omitempty"`
	Recent   []pass.Fact       `json:"recent"`
	Reads    []RawRead         `json:"reads,omitempty"` // while it holds nothing
}

// RawRead is a read of a controller that holds nothing yet: it only repeats what its readers send.
type RawRead struct {
	At    hours.Instant `json:"at"`
	Point point.Address `json:"point"`
	Bits  cards.Bits    `json:"bits"`
}

// ReaderView is a reader: whether it is plugged in, and what it shows.
type ReaderView struct {
	At      point.Address `json:"at"`
	Plugged bool          `json:"plugged"`
	Shows   string        `json:"shows"`
	Powered bool          `json:"powered"`
	Opened  bool          `json:"opened"`
	Beeps   bool          `json:"beeps"`
}

// InputView is an input and the circuit that it measures.
type InputView struct {
	At      point.Address `json:"at"`
	Circuit point.Circuit `json:"circuit"`
	Closed  bool          `json:"closed"`            // the switch itself
	Trouble string        `json:"trouble,omitempty"` // cut or short
}

// Input finds an input.
func (v *View) Input(at point.Address) (InputView, bool) {
	i := slices.IndexFunc(v.Inputs, func(x InputView) bool { return x.At == at })
	if i < 0 {
		return InputView{}, false
	}
	return v.Inputs[i], true
}

// OutputView is an output.
type OutputView struct {
	At point.Address `json:"at"`
	On bool          `json:"on"`
}

// Reader finds a reader.
func (v *View) Reader(at point.Address) (ReaderView, bool) {
	i := slices.IndexFunc(v.Readers, func(r ReaderView) bool { return r.At == at })
	if i < 0 {
		return ReaderView{}, false
	}
	return v.Readers[i], true
}

// Circuit returns what an input measures.
func (v *View) Circuit(at point.Address) point.Circuit {
	if i := slices.IndexFunc(v.Inputs, func(x InputView) bool { return x.At == at }); i >= 0 {
		return v.Inputs[i].Circuit
	}
	return point.Open
}

// On reports whether an output is on.
func (v *View) On(at point.Address) bool { return slices.Contains(v.Outputs, OutputView{at, true}) }

func (u *unit) view() View {
	u.mu.Lock()
	defer u.mu.Unlock()
	v := View{Spec: u.Spec, Keyed: u.kept.Key != nil, Network: u.network, Blinking: time.Now().Before(u.blink),
		Clock: u.now(), Hash: u.kept.Hash, Fault: u.fault, Kept: len(u.pending), Recent: slices.Clone(u.recent),
		Reads: slices.Clone(u.reads)}
	v.Firmware, v.Power, v.Mains, v.Battery, v.Lid = u.kept.Firmware, !u.dark, u.world.mains, u.world.battery, u.world.lid
	if u.kept.Maybe != nil && u.kept.Key == nil {
		v.Code = u.kept.Maybe.Code
	}
	if u.panel != nil {
		v.Doors, v.Areas = u.panel.Doors(), u.panel.AlarmAreas()
	}
	for _, at := range u.world.order {
		switch at.Kind {
		case point.Reader:
			x := u.world.readers[at]
			v.Readers = append(v.Readers, ReaderView{at, x.plugged, x.shown.text(), x.powered, x.opened,
				time.Now().Before(x.beeps)})
		case point.Input:
			x := u.world.switches[at]
			v.Inputs = append(v.Inputs, InputView{at, x.circuit(), x.closed, x.trouble})
		case point.Output:
			v.Outputs = append(v.Outputs, OutputView{at, u.world.on[at]})
		}
	}
	return v
}
