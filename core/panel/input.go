package panel

import (
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// InputKind is what reaches a controller.
type InputKind uint8

// The kinds of input.
const (
	Tick       InputKind = iota // nothing but time
	Read                        // Bits at the reader Point
	Key                         // Key at the keypad of the reader Point: 0-9, * clears, # ends
	Reading                     // Circuit is measured at the input Point
	Network                     // On: the network is there
	ClockMoved                  // now is the new time; By is how far it moved
	LogLost                     // Lines of the controller's log are damaged
	Hold                        // an operator holds Doors in Mode until Until; On false: releases them
	Lockdown                    // On: Doors are barred; else that ends
	Fire                        // On: Doors are free for escape; else that ends
	// Tells: what the controller's own hardware says, such as pass.MainsLost; of a reader at Point
	Told
	Whereabouts // Places: where people are, as other controllers or an operator say
	Confirm     // On: those come in at Doors who together wait for an operator; else they are refused
	Cleared     // Clearances: who is cleared, as other controllers or an operator say
	Lift        // locked keypads of Doors work again
	// an operator lets somebody through Doors, once; of cars: releases Floors, none listed: all
	Release
	Drive  // Outputs are wanted On, or off, for By; 0: until the other is wanted. With a Rule: on until it lets them go
	LetGo  // nothing is wanted any more of Outputs; with a Rule: of what that wants
	Arm    // the alarm area Rule is armed without Left, or disarmed: On
	Louder // On: the log of Doors that are cars tells of relays for By; else that ends
	Pulse  // the output Point is tried: on for By, whatever else is wanted of it
)

// Input is one thing that reaches a controller.
type Input struct {
	Kind       InputKind
	Point      point.Address // of Read, Key, Reading
	Bits       cards.Bits    // of Read: a card
	Shown      pass.Shown    // of Read: what is no card
	Key        byte
	Circuit    point.Circuit
	Found      bool // of Reading: it was so before anybody looked, as at a start
	On         bool
	By         time.Duration
	Lines      int
	Doors      []site.ID // none listed: all of the controller
	Floors     []site.ID // of Release
	Outputs    []site.ID // of Drive and LetGo
	Mode       hours.Mode
	Until      hours.Instant // 0: until it is ended
	Places     []pass.Whereabouts
	Clearances []pass.Clearance
	Left       []site.ID // of Arm: doors and inputs that are left out on purpose
	// of Lockdown and Fire: which of those that were made ready; 0: by hand, and to end: whichever is on
	Rule  site.ID
	Note  string // of an order: who gives it, and why
	Tells pass.Kind
}

// Output is what a controller does at a point: an output goes on or off, or a reader shows something.
type Output struct {
	Point point.Address
	On    bool          // of an output: the lock is released
	Show  pass.Feedback // of a reader
}

// Result is what a step gave. Its slices are valid until the next step.
type Result struct {
	Outputs []Output
	Events  []pass.Fact
	Wake    hours.Instant // step again then, if nothing happens before
}
