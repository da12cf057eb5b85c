package site

// Happening is what a reaction waits for.
type Happening string

// The happenings. Most are kinds of event, under their codes.
const (
	WhenGranted      Happening = "granted"
	WhenRefused      Happening = "refused"
	WhenEntered      Happening = "entered"
	WhenNotTaken     Happening = "not-taken"
	WhenForced       Happening = "forced"
	WhenHeldWarning  Happening = "held-warning"
	WhenHeldOpen     Happening = "held-open"
	WhenExitRequest  Happening = "exit-request"
	WhenFirstCard    Happening = "first-card"
	WhenDuress       Happening = "duress"
	WhenKeypadLocked Happening = "keypad-locked"
	WhenHoldBegan    Happening = "hold"
	WhenHoldEnded    Happening = "hold-ended"
	WhenLetThrough   Happening = "released-once"
	WhenLockdown     Happening = "lockdown"
	WhenLockdownEnds Happening = "lockdown-ended"
	WhenFire         Happening = "fire"
	WhenFireEnds     Happening = "fire-ended"
	WhenFloorChosen  Happening = "floor-chosen"
	WhenReaderLost   Happening = "reader-lost"
	WhenReaderOpened Happening = "reader-tamper"
	WhenInputActive  Happening = "input-active"
	WhenInputRest    Happening = "input-rest"
	WhenWireCut      Happening = "wire-cut"
	WhenMainsLost    Happening = "mains-lost"
	WhenBatteryLow   Happening = "battery-low"
	WhenTamper       Happening = "tamper"
	WhenArmed        Happening = "armed"
	WhenNotArmed     Happening = "not-armed"
	WhenArmingFails  Happening = "arming-failed"
	WhenDisarmed     Happening = "disarmed"
	WhenEntering     Happening = "entering"
	WhenIntrusion    Happening = "intrusion"
	WhenOffline      Happening = "offline"  // the server no longer hears of the controller
	WhenOccupied     Happening = "occupied" // so many are in an area
	WhenHour         Happening = "hour"     // a time of the day is struck
)

// placeOf is what sort of place a happening has.
type placeOf uint8

const (
	atDoors placeOf = iota
	atInputs
	atControllers
	atArea
	atAlarmAreas
	atNoPlace
)

// happened describes a happening: where it is, in words, and what ends it.
type happened struct {
	Words string
	Ends  string // the kind of event that ends it; empty: it has no end
	place placeOf
}

// Happenings are all that a reaction may wait for, as they are offered.
var Happenings = []struct {
	Code Happening
	happened
}{
	{WhenGranted, happened{"somebody is granted", "", atDoors}},
	{WhenRefused, happened{"somebody is refused", "", atDoors}},
	{WhenEntered, happened{"somebody goes through", "", atDoors}},
	{WhenNotTaken, happened{"a grant is not taken", "", atDoors}},
	{WhenForced, happened{"a door is forced", "forced-ended", atDoors}},
	{WhenHeldWarning, happened{"a door is soon held open", "closed", atDoors}},
	{WhenHeldOpen, happened{"a door is held open", "held-ended", atDoors}},
	{WhenExitRequest, happened{"an exit request is used", "", atDoors}},
	{WhenFirstCard, happened{"the first card comes", "", atDoors}},
	{WhenDuress, happened{"a PIN calls for help", "", atDoors}},
	{WhenKeypadLocked, happened{"a keypad locks", "", atDoors}},
	{WhenHoldBegan, happened{"a hold begins", "hold-ended", atDoors}},
	{WhenHoldEnded, happened{"a hold ends", "", atDoors}},
	{WhenLetThrough, happened{"a door is released by hand", "", atDoors}},
	{WhenLockdown, happened{"a lockdown begins", "lockdown-ended", atDoors}},
	{WhenLockdownEnds, happened{"a lockdown ends", "", atDoors}},
	{WhenFire, happened{"a fire release begins", "fire-ended", atDoors}},
	{WhenFireEnds, happened{"a fire release ends", "", atDoors}},
	{WhenFloorChosen, happened{"somebody chooses a floor", "", atDoors}},
	{WhenReaderLost, happened{"a reader no longer answers", "reader-back", atDoors}},
	{WhenReaderOpened, happened{"a reader's cover is opened", "reader-tamper-ended", atDoors}},
	{WhenInputActive, happened{"an input is active", "input-rest", atInputs}},
	{WhenInputRest, happened{"an input is at rest", "", atInputs}},
	{WhenWireCut, happened{"a wire is cut or shorted", "wire-sound", atControllers}},
	{WhenMainsLost, happened{"mains are lost", "mains-back", atControllers}},
	{WhenBatteryLow, happened{"a battery is low", "battery-good", atControllers}},
	{WhenTamper, happened{"a controller's box is opened", "tamper-ended", atControllers}},
	{WhenArmed, happened{"an alarm area is armed", "disarmed", atAlarmAreas}},
	{WhenNotArmed, happened{"arming is refused", "", atAlarmAreas}},
	{WhenArmingFails, happened{"arming fails with nobody there", "", atAlarmAreas}},
	{WhenDisarmed, happened{"an alarm area is disarmed", "", atAlarmAreas}},
	{WhenEntering, happened{"somebody enters while it is armed", "", atAlarmAreas}},
	{WhenIntrusion, happened{"an alarm area raises its alarm", "intrusion-ended", atAlarmAreas}},
	{WhenOffline, happened{"a controller is offline", "", atControllers}},
	{WhenOccupied, happened{"so many are inside", "", atArea}},
	{WhenHour, happened{"it is", "", atNoPlace}},
}

func (h Happening) info() (happened, bool) {
	for _, x := range Happenings {
		if x.Code == h {
			return x.happened, true
		}
	}
	return happened{}, false
}

// Words says what happens, such as a door is held open.
func (h Happening) Words() string { x, _ := h.info(); return x.Words }

// Ends is the kind of event that ends it; empty where it has no end.
func (h Happening) Ends() string { x, _ := h.info(); return x.Ends }

// Place is what sort of place it has: doors, inputs, controllers, area, alarm areas, or none.
func (h Happening) Place() string {
	x, _ := h.info()
	return [...]string{atDoors: "doors", atInputs: "inputs", atControllers: "controllers", atArea: "area",
		atAlarmAreas: "alarm areas", atNoPlace: "none"}[x.place]
}

// AtServer reports whether only the server knows of it.
func (h Happening) AtServer() bool { return h == WhenOffline || h == WhenOccupied }

// Doing is what a reaction does.
type Doing string

// The doings.
const (
	DoRelease  Doing = "release"    // doors once
	DoHold     Doing = "hold"       // doors in a mode
	DoBack     Doing = "back"       // doors to their plan
	DoLockdown Doing = "lockdown"   // an emergency that was made ready
	DoFire     Doing = "fire"       // likewise
	DoOn       Doing = "output on"  // until it ends, or for a time, or until another turns it off
	DoOff      Doing = "output off" // for a time, or until another turns it on
	DoArm      Doing = "arm"        // alarm areas
	DoDisarm   Doing = "disarm"     // likewise
	DoTell     Doing = "tell"       // operators, as an alarm
	DoMail     Doing = "mail"       // a line in the stand-in mailbox
	DoCamera   Doing = "camera"     // a mark in the recording of a stand-in camera
	DoCall     Doing = "call"       // an address that was allowed
)

// Doings lists them, as they are offered.
var Doings = []struct {
	Code  Doing
	Words string
}{
	{DoRelease, "release once"}, {DoHold, "hold"}, {DoBack, "let go, back to plan"}, {DoLockdown, "start a lockdown"},
	{DoFire, "start a fire release"}, {DoOn, "turn an output on"}, {DoOff, "turn an output off"},
	{DoArm, "arm an alarm area"}, {DoDisarm, "disarm an alarm area"}, {DoTell, "tell operators"},
	{DoMail, "write to the mailbox"}, {DoCamera, "mark a recording"}, {DoCall, "call out"},
}

// AtServer reports whether only the server can do it.
func (d Doing) AtServer() bool { return oneOf(d, DoTell, DoMail, DoCamera, DoCall) }

// atDoors reports whether it is done to doors.
func (d Doing) atDoors() bool { return oneOf(d, DoRelease, DoHold, DoBack) }
