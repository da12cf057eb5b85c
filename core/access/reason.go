// Package access decides whether a credential may pass a reader at an instant, and why.
package access

import "fmt"

// Reason is the outcome of a decision.
type Reason uint8

// The reasons, in the order in which the checks are made.
const (
	NoReason Reason = iota
	ReaderOff
	FormatUnknown
	ParityWrong
	FacilityWrong
	CardUnknown
	CardLost
	CardStolen
	CardSuspended
	CardNotYet
	CardExpired
	PersonSuspended
	PersonNotYet
	PersonExpired
	KeypadLocked
	DoorBarred
	AwaitingFirstCard
	NeedPIN
	NeedCard
	WrongPIN
	Timeout
	NoLevel
	OutsideHours
	LevelDates
	SegmentLimit
	Granted
	GrantedFree
	GrantedDuress
)

var reasonCodes = [...]string{
	"", "reader-off", "format-unknown", "parity", "facility", "card-unknown", "card-lost", "card-stolen",
	"card-suspended", "card-not-yet", "card-expired", "person-suspended", "person-not-yet", "person-expired",
	"keypad-locked", "door-barred", "awaiting-first-card", "need-pin", "need-card", "wrong-pin", "timeout", "no-level",
	"outside-hours",
	"level-dates", "segment-limit", "granted", "granted-free", "granted-duress",
}

var reasonWords = [...]string{
	"", "reader not in use", "card format unknown", "damaged read", "facility code not accepted", "card unknown",
	"card lost", "card stolen", "card suspended", "card not valid yet", "card expired", "person suspended",
	"person not admitted yet", "person's time is over", "keypad locked", "door barred", "waits for the first card",
	"PIN needed", "card needed",
	"wrong PIN", "no PIN in time", "no access level", "outside hours", "level not in force",
	"level does not count now", "granted",
	"granted, door is free", "granted under duress",
}

// String returns the code of the reason, such as outside-hours.
func (r Reason) String() string {
	if int(r) >= len(reasonCodes) {
		return fmt.Sprintf("reason-%d", uint8(r))
	}
	return reasonCodes[r]
}

// Words returns the reason as people say it.
func (r Reason) Words() string {
	if int(r) >= len(reasonWords) {
		return r.String()
	}
	return reasonWords[r]
}

// Granted reports whether the reason lets somebody in.
func (r Reason) Granted() bool { return r >= Granted }

// ParseReason finds a reason by its code.
func ParseReason(code string) (Reason, bool) {
	for r, c := range reasonCodes {
		if c == code {
			return Reason(r), true
		}
	}
	return 0, false
}

// MarshalText writes the code.
func (r Reason) MarshalText() ([]byte, error) { return []byte(r.String()), nil }

// UnmarshalText reads the code.
func (r *Reason) UnmarshalText(text []byte) error {
	v, ok := ParseReason(string(text))
	if !ok {
		return fmt.Errorf("%q is not a reason", text)
	}
	*r = v
	return nil
}

// CheckKind is one line of the trace.
type CheckKind uint8

// The checks, in order.
const (
	CheckReader CheckKind = iota + 1
	CheckRead             // A: fault, B: its detail
	CheckCard
	CheckPerson
	CheckKeypad
	CheckAsks // A: passage mode
	CheckPIN
	CheckLevel // A: level
	CheckHours // A: schedule, B: when it opens next
	CheckDates // A: level
	CheckFirst // a first card is awaited
	CheckLimit // A: level
)

// Check is one check that was made, whether it passed, and what it looked at.
type Check struct {
	Kind CheckKind `json:"kind"`
	OK   bool      `json:"ok"`
	A    int64     `json:"a,omitempty"`
	B    int64     `json:"b,omitempty"`
}

// Trace is the checks of one decision, without allocation.
type Trace struct {
	n    int
	list [10]Check
}

func (t *Trace) add(kind CheckKind, ok bool, a, b int64) {
	if t.n < len(t.list) {
		t.list[t.n] = Check{kind, ok, a, b}
		t.n++
	}
}

// Checks returns the checks in the order in which they were made.
func (t *Trace) Checks() []Check { return t.list[:t.n] }
