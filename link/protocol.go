package link

import (
	"encoding/json"
	"strconv"
	"strings"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/rules/alarmarea"
	"amberkeystone/core/site"
)

// What a server asks of a controller, and what a controller tells by itself.
const (
	OpStatus    = "status"
	OpSetClock  = "set-clock"
	OpBlink     = "blink"
	OpLoadBegin = "load-begin"
	OpLoadPart  = "load-part"
	OpLoadEnd   = "load-end"
	OpAck       = "ack"
	OpPulse     = "pulse"
	OpReader    = "reader"
	OpBeep      = "beep"
	OpRestart   = "restart"
	OpEnd       = "end"
	OpOrder     = "order"
	OpPlaces    = "places"
	OpCleared   = "cleared"
	OpUpdate    = "update"
	OpAddress   = "address"

	NoticeEvents = "events"
	NoticeState  = "state"
)

// StateEvery is how often a controller tells its state while nothing happens. Who misses three is not there.
const StateEvery = 3 * time.Second

// MostImage is the size of an image that a controller takes, in bytes.
const MostImage = 64 << 20

// Status is what a controller tells of itself.
type Status struct {
	Serial   string            `json:"serial"`
	Model    string            `json:"model"`
	Firmware string            `json:"firmware"`
	Clock    hours.Instant     `json:"clock"`
	Hash     string            `json:"hash"` // the root of the image it holds; empty: none
	Kept     int               `json:"kept"` // events that are not acknowledged yet
	Doors    []panel.DoorState `json:"doors"`
	Areas    []alarmarea.Now   `json:"areas,omitempty"` // its alarm areas

	// Its terminals: whether a reader answers there, and what an input measures.
	Readers   map[point.Address]bool          `json:"readers"`
	Inputs    map[point.Address]point.Circuit `json:"inputs"`
	Outputs   map[point.Address]bool          `json:"outputs"`
	Unpowered []point.Address                 `json:"unpowered,omitempty"` // readers whose power was cut from here
	Opened    []point.Address                 `json:"opened,omitempty"`    // readers whose cover is open

	MainsLost   bool   `json:"mainsLost,omitempty"` // it is on its battery
	BatteryLow  bool   `json:"batteryLow,omitempty"`
	LidOpen     bool   `json:"lidOpen,omitempty"`
	Millivolts  int    `json:"millivolts,omitempty"`  // of the battery
	Updating    string `json:"updating,omitempty"`    // the firmware that it takes
	Percent     int    `json:"percent,omitempty"`     // of which that is there
	Interrupted string `json:"interrupted,omitempty"` // firmware that did not arrive whole; the old one goes on
}

// Release is a firmware.
type Release struct {
	Version  string   `json:"version"`
	Seconds  int      `json:"seconds"`  // that it takes
	Notes    []string `json:"notes"`    // what is new, in words
	Provides []string `json:"provides"` // features that need it or a later one
}

// Terminal names a terminal: of a reader that is to beep, of an output to be tried for Ms.
type Terminal struct {
	Point point.Address `json:"point"`
	On    bool          `json:"on,omitempty"` // of a reader: it has power
	Ms    int64         `json:"ms,omitempty"`
}

// End ends a fire release or a lockdown of all doors.
type End struct {
	What string `json:"what"` // fire or lockdown
}

// Places are where people are, as other controllers saw it or an operator says. Told in any order, and again, they come
// to the same.
type Places struct {
	Places []pass.Whereabouts `json:"places"`
}

// Cleared is who is cleared, as other controllers saw it or an operator says. Told in any order, and again, it comes to
// the same.
type Cleared struct {
	Cleared []pass.Clearance `json:"cleared"`
}

// Order is what an operator wants of doors of a controller.
type Order struct {
	Outputs []site.ID     `json:"outputs,omitempty"` // of output on, output off and output back
	Seconds int           `json:"seconds,omitempty"` // of those: for so long; 0: until the other is wanted
	Minutes int           `json:"minutes,omitempty"` // of louder: by the controller's own clock
	Floors  []site.ID     `json:"floors,omitempty"`  // of release, of an elevator; none listed: all
	What    string        `json:"what"`              // arm, disarm, louder, end louder, release, hold, back, lift, confirm, refuse, lockdown, end lockdown, fire or end fire
	Doors   []site.ID     `json:"doors"`             // none listed: all of the controller
	Mode    hours.Mode    `json:"mode"`              // of hold
	Until   hours.Instant `json:"until,omitempty"`   // of hold; 0: until it is ended
	Rule    site.ID       `json:"rule,omitempty"`    // of lockdown and fire: which that was made ready; 0: by hand. Of arm and disarm: the alarm area
	Left    []site.ID     `json:"left,omitempty"`    // of arm: doors and inputs that are left out on purpose
	Note    string        `json:"note,omitempty"`    // who, and why
}

// Input is the order as a controller's panel takes it; ok is false where there is no such order.
func (o *Order) Input() (in panel.Input, ok bool) {
	in = panel.Input{
		Floors: o.Floors, Doors: o.Doors, Mode: o.Mode, Until: o.Until, Rule: o.Rule, Left: o.Left, Note: o.Note, On: true,
	}
	switch o.What {
	case "release":
		in.Kind = panel.Release
	case "louder":
		in.Kind, in.By = panel.Louder, time.Duration(o.Minutes)*time.Minute
	case "output on", "output off":
		in.Kind, in.On, in.Outputs, in.By = panel.Drive, o.What == "output on", o.Outputs,
			time.Duration(o.Seconds)*time.Second
	case "output back":
		in.Kind, in.On, in.Outputs = panel.LetGo, false, o.Outputs
	case "arm":
		in.Kind = panel.Arm
	case "disarm":
		in.Kind, in.On = panel.Arm, false
	case "end louder":
		in.Kind, in.On = panel.Louder, false
	case "lift":
		in.Kind = panel.Lift
	case "hold":
		in.Kind = panel.Hold
	case "back":
		in.Kind, in.On = panel.Hold, false
	case "confirm":
		in.Kind = panel.Confirm
	case "refuse":
		in.Kind, in.On = panel.Confirm, false
	case "lockdown":
		in.Kind = panel.Lockdown
	case "end lockdown":
		in.Kind, in.On = panel.Lockdown, false
	case "fire":
		in.Kind = panel.Fire
	case "end fire":
		in.Kind, in.On = panel.Fire, false
	default:
		return in, false
	}
	return in, true
}

// orderWords are the orders by what they are to a panel: on, and off.
var orderWords = map[panel.InputKind][2]string{
	panel.Release: {"release", ""}, panel.Louder: {"louder", "end louder"}, panel.Drive: {"output on", "output off"},
	panel.LetGo: {"output back", "output back"}, panel.Arm: {"arm", "disarm"}, panel.Lift: {"lift", ""},
	panel.Hold: {"hold", "back"}, panel.Confirm: {"confirm", "refuse"}, panel.Lockdown: {"lockdown", "end lockdown"},
	panel.Fire: {"fire", "end fire"},
}

// OrderOf is the order that gives a panel an input; ok is false where there is no such order.
func OrderOf(in *panel.Input) (o Order, ok bool) {
	words := orderWords[in.Kind]
	o = Order{
		What: words[1], Outputs: in.Outputs, Floors: in.Floors, Doors: in.Doors, Mode: in.Mode, Until: in.Until,
		Rule: in.Rule, Left: in.Left, Note: in.Note,
	}
	if in.On {
		o.What = words[0]
	}
	switch in.Kind {
	case panel.Drive:
		o.Seconds = int(in.By / time.Second)
	case panel.Louder:
		o.Minutes = int(in.By / time.Minute)
	}
	return o, o.What != ""
}

// Update asks for a firmware.
type Update struct {
	Version string `json:"version"`
}

// Address gives a controller a fixed address, or none: it takes what it is given by the network.
type Address struct {
	Fixed bool   `json:"fixed"`
	IP    string `json:"ip,omitempty"`
}

// Events is a stretch of a controller's log. Log names the log itself: it is another one once a controller
// was erased, so (controller, Log, sequence) names an event for ever. Image is the hash of the image that was in
// force when they happened.
type Events struct {
	Log    string   `json:"log"`
	Image  string   `json:"image"`
	Events []Logged `json:"events"`
}

// Logged is an event as it stands in a controller's log: a pass.Fact in JSON, as far as anybody can read it.
type Logged struct {
	Seq   uint64          `json:"seq"`
	Event json.RawMessage `json:"event"`
}

// Ack says up to which event the server has stored a log.
type Ack struct {
	Log string `json:"log"`
	Seq uint64 `json:"seq"`
}

// LoadBegin announces an image by its root and the heads of its sections; it is answered with LoadNeeds. LoadPart
// carries part of one of those. LoadEnd is answered with Loaded.
type LoadBegin struct {
	Root     string       `json:"root"`
	Sections []image.Head `json:"sections"`
	Whole    bool         `json:"whole,omitempty"` // every section is sent, also what is held already
}

// LoadNeeds names the sections that the controller does not hold yet.
type LoadNeeds struct {
	Sections []string `json:"sections"`
}

// LoadPart is part of the bytes of a section.
type LoadPart struct {
	Section string `json:"section"`
	Offset  int    `json:"offset"`
	Data    []byte `json:"data"`
}

// Loaded is the root of what the controller holds after a load.
type Loaded struct {
	Hash string `json:"hash"`
}

// Clock is a time to set a clock to.
type Clock struct {
	Now hours.Instant `json:"now"`
}

// CompareVersions orders versions such as 1.0 and 1.10 by their numbers; what is no number is 0.
func CompareVersions(a, b string) int {
	x, y := strings.Split(a, "."), strings.Split(b, ".")
	for i := range max(len(x), len(y)) {
		var m, n int
		if i < len(x) {
			m, _ = strconv.Atoi(x[i])
		}
		if i < len(y) {
			n, _ = strconv.Atoi(y[i])
		}
		if m != n {
			return m - n
		}
	}
	return 0
}
