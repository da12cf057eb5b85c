package link

import (
	"encoding/json"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/point"
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

	// Its terminals: whether a reader answers there, and what an input measures.
	Readers map[point.Address]bool          `json:"readers"`
	Inputs  map[point.Address]point.Circuit `json:"inputs"`
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
