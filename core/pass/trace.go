package pass

// CheckKind is one line of a trace.
type CheckKind uint8

// The checks.
const (
	CheckReader CheckKind = iota + 1
	CheckRead             // A: fault, B: its detail
	CheckCard
	CheckPerson
	CheckKeypad
	CheckAsks // A: passage mode
	CheckPIN
	CheckLevel     // A: level
	CheckHours     // A: schedule, B: when it opens next
	CheckDates     // A: level
	CheckFirst     // a first card is awaited
	CheckLimit     // A: level
	CheckInterlock // A: the door that is not closed and locked
	CheckArea      // A: the area, B: since when they are there, or how many are
	CheckCleared   // A: the screening, B: until when they are cleared, or what counts of who is not (package screening)
	CheckOverride  // they override the lockdown
	CheckMore      // A: the rule, B: the people who are there, with this one
	CheckFloor     // a level comes to the car, and to none of its floors
	CheckArmed     // A: the alarm area, which is armed
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
	list [16]Check
}

// Add writes a line; a nil trace is nobody's.
func (t *Trace) Add(kind CheckKind, ok bool, a, b int64) {
	if t != nil && t.n < len(t.list) {
		t.list[t.n] = Check{kind, ok, a, b}
		t.n++
	}
}

// Checks returns the checks in the order in which they were made.
func (t *Trace) Checks() []Check {
	if t == nil {
		return nil
	}
	return t.list[:t.n]
}
