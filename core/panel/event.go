// Package panel is one controller: an image, and inputs in the order of time, give outputs and events.
package panel

import (
	"fmt"

	"amberkeystone/core/access"
	"amberkeystone/core/door"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Kind is what an event tells.
type Kind uint8

// The kinds of event.
const (
	Started Kind = iota + 1
	ImageLoaded
	ClockSet
	NetworkLost
	NetworkBack
	ModeNow
	Granted
	Refused
	AwaitingPIN
	KeypadLocked
	Duress
	Opened
	OpenedAlone
	Closed
	Entered
	NotTaken
	ExitRequest
	Forced
	ForcedEnded
	HeldWarning
	HeldOpen
	HeldEnded
	FirstCard
	LogDamaged
	endOfKinds // up to here a test wants the table whole
)

var kindCodes = [...]string{
	"", "started", "image-loaded", "clock-set", "network-lost", "network-back", "mode", "granted", "refused",
	"awaiting-pin", "keypad-locked", "duress", "opened", "opened-alone", "closed", "entered", "not-taken",
	"exit-request", "forced", "forced-ended", "held-warning", "held-open", "held-ended",
	"first-card", "log-damaged",
}

// String returns the code of the kind, such as held-open.
func (k Kind) String() string {
	if int(k) >= len(kindCodes) {
		return fmt.Sprintf("kind-%d", uint8(k))
	}
	return kindCodes[k]
}

// MarshalText writes the code.
func (k Kind) MarshalText() ([]byte, error) { return []byte(k.String()), nil }

// UnmarshalText reads the code.
func (k *Kind) UnmarshalText(text []byte) error {
	for i, c := range kindCodes {
		if c == string(text) && i > 0 {
			*k = Kind(i)
			return nil
		}
	}
	return fmt.Errorf("%q is not a kind of event", text)
}

// Alarm reports whether a person has to acknowledge it.
func (k Kind) Alarm() bool { return k == Forced || k == HeldOpen || k == Duress || k == LogDamaged }

var fromDoor = [...]Kind{
	door.Opened: Opened, door.OpenedAlone: OpenedAlone, door.Closed: Closed, door.Entered: Entered,
	door.NotTaken: NotTaken, door.ExitAsked: ExitRequest, door.Forced: Forced, door.ForcedEnded: ForcedEnded,
	door.HeldWarning: HeldWarning, door.HeldOpen: HeldOpen, door.HeldEnded: HeldEnded,
}

// Event is one line of a controller's log. IDs are those of the configuration; names are not known here.
type Event struct {
	Seq    uint64        `json:"seq"`
	At     hours.Instant `json:"at"` // the controller's own clock
	Kind   Kind          `json:"kind"`
	Door   site.ID       `json:"door,omitempty"`
	Out    bool          `json:"out,omitempty"`
	Person site.ID       `json:"person,omitempty"`
	Reason access.Reason `json:"reason,omitempty"`
	Mode   hours.Mode    `json:"mode"` // what the door asked

	// Of what a door asks now.
	Waits  bool        `json:"waits,omitempty"` // for its first card
	Layer  hours.Layer `json:"layer,omitempty"`
	Change site.ID     `json:"change,omitempty"` // the dated change that decides

	// Of a read.
	Bits     string         `json:"bits,omitempty"`
	Format   string         `json:"format,omitempty"`
	Facility uint64         `json:"facility,omitempty"`
	Number   uint64         `json:"number,omitempty"`
	Level    site.ID        `json:"level,omitempty"`
	Schedule site.ID        `json:"schedule,omitempty"`
	Next     hours.Instant  `json:"next,omitempty"`
	Checks   []access.Check `json:"checks,omitempty"`

	Note string `json:"note,omitempty"` // the hash of an image, how far a clock moved, how many lines
}

// Feedback is what a reader shows to the person before it.
type Feedback string

// What readers show.
const (
	ShowGranted Feedback = "granted"
	ShowRefused Feedback = "refused"
	ShowPIN     Feedback = "enter PIN"
	ShowLocked  Feedback = "keypad locked"
)

// Output is what a controller does to the door.
type Output struct {
	Port     int      `json:"port"`
	Lock     string   `json:"lock,omitempty"` // released or locked
	Feedback Feedback `json:"feedback,omitempty"`
	Out      bool     `json:"out,omitempty"` // at the reader out
}

// InputKind is what reaches a controller.
type InputKind uint8

// The kinds of input.
const (
	Tick       InputKind = iota // nothing but time
	CardRead                    // Bits at a reader
	Key                         // one key of a keypad: 0-9, * clears, # ends
	Circuit                     // the contact's circuit: On is closed
	ExitLine                    // the exit request's circuit: On is closed
	Network                     // On: the network is there
	ClockMoved                  // now is the new time; By is how far it moved
	LogLost                     // Lines of the controller's log are damaged
)
