package pass

import "amberkeystone/core/enum"

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
	NotCleared
	NeedPIN
	NeedCard
	WrongPIN
	Timeout
	NoLevel
	OutsideHours
	LevelDates
	SegmentLimit
	WhileArmed
	AlreadyInside
	NotInside
	TooSoon
	AreaFull
	AreaNeedsTwo
	Interlocked
	WaitingForMore
	WrongGroup
	MoreTimeout
	OperatorRefused
	FloorNotAllowed
	Granted
	GrantedFree
	GrantedDuress
	GrantedNotCleared
	GrantedPassback
	endOfReasons // up to here a test wants the table whole
)

var reasons = enum.Table[Reason]{
	NoReason:          {},
	ReaderOff:         {Code: "reader-off", Words: "reader not in use"},
	FormatUnknown:     {Code: "format-unknown", Words: "card format unknown"},
	ParityWrong:       {Code: "parity", Words: "damaged read"},
	FacilityWrong:     {Code: "facility", Words: "facility code not accepted"},
	CardUnknown:       {Code: "card-unknown", Words: "card unknown"},
	CardLost:          {Code: "card-lost", Words: "card lost"},
	CardStolen:        {Code: "card-stolen", Words: "card stolen"},
	CardSuspended:     {Code: "card-suspended", Words: "card suspended"},
	CardNotYet:        {Code: "card-not-yet", Words: "card not valid yet"},
	CardExpired:       {Code: "card-expired", Words: "card expired"},
	PersonSuspended:   {Code: "person-suspended", Words: "person suspended"},
	PersonNotYet:      {Code: "person-not-yet", Words: "person not admitted yet"},
	PersonExpired:     {Code: "person-expired", Words: "person's time is over"},
	KeypadLocked:      {Code: "keypad-locked", Words: "keypad locked"},
	DoorBarred:        {Code: "door-barred", Words: "door barred"},
	AwaitingFirstCard: {Code: "awaiting-first-card", Words: "waits for the first card"},
	NotCleared:        {Code: "not-cleared", Words: "not cleared yet"},
	NeedPIN:           {Code: "need-pin", Words: "PIN needed"},
	NeedCard:          {Code: "need-card", Words: "card needed"},
	WrongPIN:          {Code: "wrong-pin", Words: "wrong PIN"},
	Timeout:           {Code: "timeout", Words: "no PIN in time"},
	NoLevel:           {Code: "no-level", Words: "no access level"},
	OutsideHours:      {Code: "outside-hours", Words: "outside hours"},
	LevelDates:        {Code: "level-dates", Words: "level not in force"},
	SegmentLimit:      {Code: "segment-limit", Words: "level does not count now"},
	WhileArmed:        {Code: "while-armed", Words: "alarm area is armed"},
	AlreadyInside:     {Code: "already-inside", Words: "is inside already"},
	NotInside:         {Code: "not-inside", Words: "did not come in there"},
	TooSoon:           {Code: "too-soon", Words: "too soon after coming in"},
	AreaFull:          {Code: "area-full", Words: "as many inside as may be"},
	AreaNeedsTwo:      {Code: "area-needs-two", Words: "nobody is inside alone"},
	Interlocked:       {Code: "interlock", Words: "another door of its interlock is not closed and locked"},
	WaitingForMore:    {Code: "waiting-for-more", Words: "waits for more"},
	WrongGroup:        {Code: "wrong-group", Words: "nobody who is wanted here now"},
	MoreTimeout:       {Code: "more-timeout", Words: "the others did not come in time"},
	OperatorRefused:   {Code: "operator-refused", Words: "refused by an operator"},
	FloorNotAllowed:   {Code: "floor-not-allowed", Words: "floor not allowed"},
	Granted:           {Code: "granted", Words: "granted"},
	GrantedFree:       {Code: "granted-free", Words: "granted, door is free"},
	GrantedDuress:     {Code: "granted-duress", Words: "granted under duress"},
	GrantedNotCleared: {Code: "granted-not-cleared", Words: "granted, and not cleared"},
	GrantedPassback:   {Code: "granted-passback", Words: "granted, and not where they should come from"},
}

// String returns the code of the reason, such as outside-hours.
func (r Reason) String() string { return reasons.Code(r) }

// Words returns the reason as people say it.
func (r Reason) Words() string { return reasons.Words(r) }

// Granted reports whether the reason lets somebody in.
func (r Reason) Granted() bool { return r >= Granted }

// ParseReason finds a reason by its code.
func ParseReason(code string) (Reason, bool) { return reasons.Parse(code) }

// MarshalText writes the code.
func (r Reason) MarshalText() ([]byte, error) { return reasons.Marshal(r) }

// UnmarshalText reads the code.
func (r *Reason) UnmarshalText(text []byte) error { return reasons.Unmarshal(text, r) }
