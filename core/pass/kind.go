package pass

import "amberkeystone/core/enum"

// Kind is what a fact tells.
type Kind uint8

// The kinds that stand in a controller's log.
const (
	Started Kind = iota + 1
	ImageLoaded
	ClockSet
	NetworkLost
	NetworkBack
	ModeNow
	WasGranted
	WasRefused
	AwaitsPIN
	KeypadWasLocked
	Duress
	Opened      // with a reason: grant, exit request, free
	OpenedAlone // without one; Forced follows unless a reason turns up within the delay
	Closed
	Entered     // a person who was granted went through
	NotTaken    // granted, and not opened while the lock was released
	ExitRequest // the exit request was used
	Forced      // alarm: opened without grant, exit request or free mode
	ForcedEnded // the forced door was closed
	HeldWarning // held open soon
	HeldOpen    // alarm: open too long
	HeldEnded   // the held door was closed, or may stand open now
	FirstCard
	LogDamaged
	HoldBegan // an operator holds the door in a mode
	HoldEnded
	LockdownBegan
	LockdownEnded
	FireBegan
	FireEnded
	WireCut // of a supervised input
	WireShorted
	WireSound   // it is in order again
	InputActive // of a named input: Fact.Point
	InputRest
	MainsLost // the controller is on its battery
	MainsBack
	BatteryLow
	BatteryGood
	TamperOpened // the controller's box is open
	TamperClosed
	ReaderLost // the reader no longer answers
	ReaderBack
	ReaderOpened // the reader's cover is open
	ReaderClosed
	AwaitsMore    // granted so far: other proofs or other people are wanted
	AwaitsDoor    // granted so far: another door of the interlock is not closed and locked
	HeldBack      // an interlock holds an exit request or an operator's release back
	ToggledOn     // reads in a row have flipped the door, until Fact.Next
	ToggledOff    // that has ended
	ReleasedOnce  // an operator let somebody through
	PlaceIs       // somebody is in Fact.Area now
	KeypadLifted  // an operator has ended the lock of a keypad
	WasConfirmed  // an operator let those in who together wait for that
	WasCleared    // somebody under a screening came in by a door that clears
	FloorChosen   // somebody who was granted in a car pressed the button of Fact.Floors
	FloorRefused  // they pressed that of a floor that is not theirs
	FloorReleased // a floor's relay is on: told in the louder log only
	FloorHeld     // it is off again
	LoudBegan     // the log of a car is louder, until Fact.Next
	LoudEnded
	Reacted       // a reaction did what it says, because of Fact.Pass
	ReactionRests // it was set off too often; it rests until Fact.Next
	ArmingBegan   // an alarm area is armed when its exit delay is over, at Fact.Next; the area is the rule
	Armed         // an alarm area is armed, without Fact.Left
	NotArmed      // it is not, because of Fact.StandOpen
	ArmingFailed  // alarm: when the exit delay was over, or a schedule was to arm, Fact.StandOpen stood open
	Disarmed
	EntryBegan     // somebody has opened a door of it; the alarm comes at Fact.Next unless it is disarmed
	Intrusion      // alarm: a door or an input of an armed area
	IntrusionEnded // its outputs are off again
	endOfLogged
)

// The kinds that only parts follow.
const (
	Due            Kind = iota + 128 // the part's own wake has come
	CardRead                         // Fact.Raw at a reader
	KeyPressed                       // Fact.Key at a keypad: 0-9, * clears, # ends
	ContactIs                        // Fact.Active: the leaf is open
	ExitIs                           // Fact.Active: the exit request is in use
	LockReleased                     // the lock lets go
	LockLocked                       // the lock holds
	HoldAsked                        // an operator wants a hold: Fact.Mode, until Fact.Next; ended with Active false
	LockdownAsked                    // Fact.Active: begin; else end
	FireAsked                        // Fact.Active: begin; else end
	InputIs                          // a named input was found so at a start: Fact.Active
	ReleaseAsked                     // an operator wants the door released once
	ExitAgain                        // an exit request that was held back may go on
	LiftAsked                        // an operator wants locked keypads to work again
	ConfirmAsked                     // an operator lets those in who wait for that: Fact.Active; else refuses them
	ClearancesTold                   // Fact.Cleared: whom other controllers or an operator cleared
	PlacesTold                       // Fact.Places: what other controllers saw, or an operator says
	ButtonIs                         // Fact.Active: the floor button of Fact.Stop is pressed
	LoudAsked                        // an operator wants a louder log until Fact.Next; ended with Active false
	// the output of Fact.Point is wanted on or off (Fact.Active) until Fact.Next, 0: until the other is wanted
	OutputAsked
	OutputLet // nothing is wanted any more of the output of Fact.Point
	// the alarm area of Fact.Rule is to be armed without Fact.Left, or disarmed: Fact.Active
	AlarmAsked
	HoldsNow // a hold, a lockdown or a fire release has begun or ended: the door asks anew
)

var kinds = enum.Table[Kind]{
	Started: {Code: "started"}, ImageLoaded: {Code: "image-loaded"}, ClockSet: {Code: "clock-set"},
	NetworkLost: {Code: "network-lost"}, NetworkBack: {Code: "network-back"}, ModeNow: {Code: "mode"},
	WasGranted: {Code: "granted"}, WasRefused: {Code: "refused"}, AwaitsPIN: {Code: "awaiting-pin"},
	KeypadWasLocked: {Code: "keypad-locked"}, Duress: {Code: "duress"}, Opened: {Code: "opened"},
	OpenedAlone: {Code: "opened-alone"}, Closed: {Code: "closed"}, Entered: {Code: "entered"},
	NotTaken: {Code: "not-taken"}, ExitRequest: {Code: "exit-request"}, Forced: {Code: "forced"},
	ForcedEnded: {Code: "forced-ended"}, HeldWarning: {Code: "held-warning"}, HeldOpen: {Code: "held-open"},
	HeldEnded: {Code: "held-ended"}, FirstCard: {Code: "first-card"}, LogDamaged: {Code: "log-damaged"},
	HoldBegan: {Code: "hold"}, HoldEnded: {Code: "hold-ended"}, LockdownBegan: {Code: "lockdown"},
	LockdownEnded: {Code: "lockdown-ended"}, FireBegan: {Code: "fire"}, FireEnded: {Code: "fire-ended"},
	WireCut: {Code: "wire-cut"}, WireShorted: {Code: "wire-shorted"}, WireSound: {Code: "wire-sound"},
	InputActive: {Code: "input-active"}, InputRest: {Code: "input-rest"},
	MainsLost: {Code: "mains-lost"}, MainsBack: {Code: "mains-back"},
	BatteryLow: {Code: "battery-low"}, BatteryGood: {Code: "battery-good"},
	TamperOpened: {Code: "tamper"}, TamperClosed: {Code: "tamper-ended"},
	ReaderLost: {Code: "reader-lost"}, ReaderBack: {Code: "reader-back"},
	AwaitsMore: {Code: "awaiting-more"}, AwaitsDoor: {Code: "awaiting-door"}, HeldBack: {Code: "held-back"},
	ToggledOn: {Code: "toggled"}, ToggledOff: {Code: "toggle-ended"}, ReleasedOnce: {Code: "released-once"},
	PlaceIs: {Code: "place"}, KeypadLifted: {Code: "keypad-lifted"},
	FloorChosen: {Code: "floor-chosen"}, FloorRefused: {Code: "floor-refused"},
	FloorReleased: {Code: "floor-released"}, FloorHeld: {Code: "floor-held"},
	ArmingBegan: {Code: "arming"}, Armed: {Code: "armed"}, NotArmed: {Code: "not-armed"},
	ArmingFailed: {Code: "arming-failed"}, Disarmed: {Code: "disarmed"}, EntryBegan: {Code: "entering"},
	Intrusion: {Code: "intrusion"}, IntrusionEnded: {Code: "intrusion-ended"},
	Reacted: {Code: "reacted"}, ReactionRests: {Code: "reaction-rests"},
	LoudBegan: {Code: "louder"}, LoudEnded: {Code: "louder-ended"},
	WasCleared: {Code: "cleared"}, WasConfirmed: {Code: "confirmed"},
	ReaderOpened: {Code: "reader-tamper"}, ReaderClosed: {Code: "reader-tamper-ended"},
}

// Kinds lists the kinds that stand in logs.
func Kinds() []Kind {
	out := make([]Kind, 0, endOfLogged)
	for k := Started; k < endOfLogged; k++ {
		out = append(out, k)
	}
	return out
}

// Logged reports whether facts of the kind stand in a controller's log.
func (k Kind) Logged() bool { return k < endOfLogged }

// OfAlarmArea reports whether it tells of an alarm area, which is the rule of such a fact.
func (k Kind) OfAlarmArea() bool { return k >= ArmingBegan && k <= IntrusionEnded }

// String returns the code of the kind, such as held-open.
func (k Kind) String() string {
	if !k.Logged() {
		return "kind-" + kinds.Code(k)
	}
	return kinds.Code(k)
}

// MarshalText writes the code.
func (k Kind) MarshalText() ([]byte, error) { return []byte(k.String()), nil }

// UnmarshalText reads the code.
func (k *Kind) UnmarshalText(text []byte) error { return kinds.Unmarshal(text, k) }

// Quiet reports whether it only tells that a door moved or asks something else, or that something is in order again,
// which long lists may leave out.
func (k Kind) Quiet() bool {
	switch k {
	case IntrusionEnded, FloorReleased, FloorHeld, Opened, Closed, ModeNow, Entered, PlaceIs, ExitRequest, InputRest,
		MainsBack, BatteryGood, TamperClosed, ReaderBack, ReaderClosed:
		return true
	}
	return false
}

// QuietCodes are the codes of the kinds that are quiet.
func QuietCodes() (codes []string) {
	for k := range endOfLogged {
		if k.Quiet() {
			codes = append(codes, k.String())
		}
	}
	return codes
}

// Alarm reports whether a person has to acknowledge it.
func (k Kind) Alarm() bool {
	switch k {
	case Forced, HeldOpen, Duress, LogDamaged, FireBegan, WireCut, WireShorted, BatteryLow, TamperOpened, ReaderOpened,
		Intrusion, ArmingFailed:
		return true
	}
	return false
}
