package access_test

import (
	"testing"
	"time"
	_ "time/tzdata"

	"amberkeystone/core/pass"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

var key = []byte("a key")

func card(n uint64) site.Credential {
	return site.NewCard("26-bit", 42, n)
}

func pins(pin string) (*cards.PINHash, *cards.PINHash) {
	a, b := cards.HashPIN(key, pin), cards.HashPIN(key, cards.DuressPIN(pin))
	return &a, &b
}

// table is one door with and one without a keypad, one level in office hours, and people in every state.
func table(t *testing.T) *image.Compiled {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	zone := hours.ZoneFrom(loc, hours.At(time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)),
		hours.At(time.Date(2028, 1, 1, 0, 0, 0, 0, time.UTC)))
	var office hours.Week
	for d := range 5 {
		office[d] = []hours.Period{{Start: 510, End: 1020}}
	}
	door := site.Door{ID: 1, Port: 1, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()}
	door.In.Keypad = true
	plain := door
	plain.ID, plain.Port, plain.In.Keypad = 2, 2, false
	plain.Out = site.Reader{Fitted: true}
	elsewhere := plain // where alone 106 may come in
	elsewhere.ID, elsewhere.Port = 3, 3
	lost, stolen, held := card(2), card(3), card(4)
	lost.Status, stolen.Status, held.Status = site.Lost, site.Stolen, site.Suspended
	early, late := card(5), card(6)
	early.From, late.Until = "2026-12-01", "2026-11-25"
	level := []site.Grant{{LevelID: 40}}
	pin, duress := pins("4829")
	instead, insteadDuress := pins("7310")
	over := card(14)
	over.Status = site.Expired
	c := &site.Config{
		Settings:  site.DefaultSettings(),
		Doors:     []site.Door{door, plain, elsewhere},
		Plans:     []site.Plan{{ID: 20}},
		Schedules: []site.Schedule{{ID: 30, Week: office}},
		Levels: []site.Level{{ID: 40, Entries: []site.Entry{site.At(1, 30), site.At(2, 30)}},
			{ID: 41, Entries: []site.Entry{site.At(3, 30)}},
			{ID: 42, Includes: []site.ID{40}}, {ID: 43, Entries: []site.Entry{{Target: site.Target{Kind: site.Everything}, ScheduleID: 30, Except: []site.Target{{Kind: site.AtDoor, ID: 1}}}}}},
		Departments: []site.Department{
			{ID: 50, Name: "Crew", Levels: []site.Grant{{LevelID: 40, Dates: site.Dates{Until: "2026-11-26"}}}},
		},
		People: []*site.Person{
			{ID: 101, Credentials: []site.Credential{card(1)}, Levels: level, PIN: pin, Duress: duress},
			{ID: 102, Credentials: []site.Credential{lost, stolen, held, early, late}, Levels: level},
			{ID: 103, Credentials: []site.Credential{card(7)}, Levels: level, Suspended: true},
			{ID: 104, Credentials: []site.Credential{card(8)}, Levels: level, Dates: site.Dates{From: "2026-12-01"}},
			{ID: 105, Credentials: []site.Credential{card(9)}, Levels: level, Dates: site.Dates{Until: "2026-11-25"}},
			{ID: 106, Credentials: []site.Credential{card(10)}, Levels: []site.Grant{{LevelID: 41}}},
			{ID: 107, Credentials: []site.Credential{card(11)}, Levels: []site.Grant{{LevelID: 40, Dates: site.Dates{From: "2026-12-01"}}}},
			{ID: 108, Credentials: []site.Credential{card(12)}, Levels: level, AlwaysPIN: true},
			{ID: 110, PINInstead: true, PIN: instead, Duress: insteadDuress, Levels: level},
			{ID: 111, Credentials: []site.Credential{over}, Levels: level},
			{ID: 112, Credentials: []site.Credential{card(15)}, Levels: []site.Grant{{Target: site.Target{Kind: site.AtDoor, ID: 1}, ScheduleID: 30}}},
			{ID: 113, Credentials: []site.Credential{card(16)}, DepartmentIDs: []site.ID{50}},
			{ID: 114, Credentials: []site.Credential{card(17)}, Levels: []site.Grant{{LevelID: 42}}},
			{ID: 115, Credentials: []site.Credential{card(18)}, Levels: []site.Grant{{LevelID: 43}}},
			{ID: 109, Credentials: []site.Credential{card(13)}, Levels: level, Dates: site.Dates{From: "2026-11-26", Until: "2026-11-26"}},
		},
	}
	c.Settings.Cards = []site.CardFormat{{Format: "26-bit", Facilities: []uint64{42}}}
	return image.Build(c.Effective(), 9, zone, image.Secrets{PINKey: key}).Compile()
}

// Thursday 26 November 2026, 14:07 in Halifax (UTC−4).
const thursday = "2026-11-26T14:07:00-04:00"

func instant(t *testing.T, s string) hours.Instant {
	v, err := time.Parse(time.RFC3339, s)
	require.NoError(t, err)
	return hours.At(v)
}

func bits(t *testing.T, facility, number uint64) cards.Bits {
	b, err := cards.Standard26.Encode(facility, number)
	require.NoError(t, err)
	return b
}

// Every reason of 3.5 whose data exists, in one table.
func TestReasons(t *testing.T) {
	c := table(t)
	long, err := cards.ParseBits("1010101010")
	require.NoError(t, err)
	for _, q := range []struct {
		name   string
		door   int
		out    bool
		mode   hours.Mode
		number uint64 // 0: no card
		bits   *cards.Bits
		pin    string
		at     string
		want   pass.Reason
		person site.ID
	}{
		{name: "granted", mode: hours.Card, number: 1, want: pass.Granted, person: 101},
		{name: "no reader on this side", out: true, mode: hours.Card, number: 1, want: pass.ReaderOff},
		{name: "format", mode: hours.Card, bits: &long, want: pass.FormatUnknown},
		{name: "parity", mode: hours.Card, bits: ptr(bits(t, 42, 1).Flip(4)), want: pass.ParityWrong},
		{name: "facility", mode: hours.Card, bits: ptr(bits(t, 77, 1)), want: pass.FacilityWrong},
		{name: "unknown", mode: hours.Card, number: 999, want: pass.CardUnknown},
		{name: "lost", mode: hours.Card, number: 2, want: pass.CardLost, person: 102},
		{name: "stolen", mode: hours.Card, number: 3, want: pass.CardStolen, person: 102},
		{name: "suspended card", mode: hours.Card, number: 4, want: pass.CardSuspended, person: 102},
		{name: "card too early", mode: hours.Card, number: 5, want: pass.CardNotYet, person: 102},
		{name: "card too late", mode: hours.Card, number: 6, want: pass.CardExpired, person: 102},
		{name: "card on its last minute", mode: hours.Card, number: 6, at: "2026-11-25T16:59:59-04:00", want: pass.Granted, person: 102},
		{name: "suspended person", mode: hours.Card, number: 7, want: pass.PersonSuspended, person: 103},
		{name: "person too early", mode: hours.Card, number: 8, want: pass.PersonNotYet, person: 104},
		{name: "person too late", mode: hours.Card, number: 9, want: pass.PersonExpired, person: 105},
		{name: "from its first minute", mode: hours.Card, number: 13, at: "2026-11-26T00:00:00-04:00", want: pass.OutsideHours, person: 109},
		{name: "the minute before", mode: hours.Card, number: 13, at: "2026-11-25T23:59:59-04:00", want: pass.PersonNotYet, person: 109},
		{name: "through its last minute", mode: hours.Card, number: 13, at: "2026-11-26T23:59:59-04:00", want: pass.OutsideHours, person: 109},
		{name: "the minute after", mode: hours.Card, number: 13, at: "2026-11-27T00:00:00-04:00", want: pass.PersonExpired, person: 109},
		{name: "barred", mode: hours.Barred, number: 1, want: pass.DoorBarred, person: 101},
		{name: "barred, PIN", mode: hours.Barred, pin: "4829", want: pass.DoorBarred, person: 101},
		{name: "barred is not for the way out", door: 1, out: true, mode: hours.Barred, number: 1, want: pass.Granted, person: 101},
		{name: "free", mode: hours.Free, number: 10, want: pass.GrantedFree, person: 106},
		{name: "free, unknown", mode: hours.Free, number: 999, want: pass.CardUnknown},
		{name: "needs PIN", mode: hours.CardAndPIN, number: 1, want: pass.NeedPIN, person: 101},
		{name: "card and PIN", mode: hours.CardAndPIN, number: 1, pin: "4829", want: pass.Granted, person: 101},
		{name: "another's PIN", mode: hours.CardAndPIN, number: 12, pin: "4829", want: pass.WrongPIN, person: 108},
		{name: "wrong PIN", mode: hours.CardAndPIN, number: 1, pin: "9999", want: pass.WrongPIN, person: 101},
		{name: "duress", mode: hours.CardAndPIN, number: 1, pin: "4820", want: pass.GrantedDuress, person: 101},
		{name: "PIN alone", mode: hours.PIN, pin: "4829", want: pass.Granted, person: 101},
		{name: "PIN alone under duress", mode: hours.PIN, pin: "4820", want: pass.GrantedDuress, person: 101},
		{name: "PIN alone, wrong", mode: hours.PIN, pin: "1357", want: pass.WrongPIN},
		{name: "PIN where a card is asked", mode: hours.Card, pin: "4829", want: pass.NeedCard},
		{name: "either: card", mode: hours.CardOrPIN, number: 1, want: pass.Granted, person: 101},
		{name: "either: PIN", mode: hours.CardOrPIN, pin: "4829", want: pass.Granted, person: 101},
		{name: "card where a PIN is asked", mode: hours.PIN, number: 1, want: pass.NeedPIN, person: 101},
		{name: "always with PIN", mode: hours.Card, number: 12, want: pass.NeedPIN, person: 108},
		{name: "a PIN instead of a card", mode: hours.Card, pin: "7310", want: pass.Granted, person: 110},
		{name: "instead of a card, under duress", mode: hours.Card, pin: "7311", want: pass.GrantedDuress, person: 110},
		{name: "instead of a card where card and PIN are asked", mode: hours.CardAndPIN, pin: "7310", want: pass.NeedCard},
		{name: "a card that is over", mode: hours.Card, number: 14, want: pass.CardExpired, person: 111},
		{name: "a door of their own, no level", mode: hours.Card, number: 15, want: pass.Granted, person: 112},
		{name: "nor another door", door: 1, mode: hours.Card, number: 15, want: pass.NoLevel, person: 112},
		{name: "through a department", mode: hours.Card, number: 16, want: pass.Granted, person: 113},
		{name: "no longer through it", mode: hours.Card, number: 16, at: "2026-11-27T09:00:00-04:00", want: pass.LevelDates, person: 113},
		{name: "a level in a level", mode: hours.Card, number: 17, want: pass.Granted, person: 114},
		{name: "a level's schedule in a level", mode: hours.Card, number: 17, at: "2026-11-26T18:00:00-04:00", want: pass.OutsideHours, person: 114},
		{name: "left out of everything", mode: hours.Card, number: 18, want: pass.NoLevel, person: 115},
		{name: "everything else", door: 1, mode: hours.Card, number: 18, want: pass.Granted, person: 115},
		{name: "no level", mode: hours.Card, number: 10, want: pass.NoLevel, person: 106},
		{name: "level not in force", mode: hours.Card, number: 11, want: pass.LevelDates, person: 107},
		{name: "a minute early", mode: hours.Card, number: 1, at: "2026-11-26T08:29:59-04:00", want: pass.OutsideHours, person: 101},
		{name: "on the minute", mode: hours.Card, number: 1, at: "2026-11-26T08:30:00-04:00", want: pass.Granted, person: 101},
		{name: "the last second", mode: hours.Card, number: 1, at: "2026-11-26T16:59:59-04:00", want: pass.Granted, person: 101},
		{name: "the end", mode: hours.Card, number: 1, at: "2026-11-26T17:00:00-04:00", want: pass.OutsideHours, person: 101},
	} {
		when := q.at
		if when == "" {
			when = thursday
		}
		r := pass.Request{At: instant(t, when), Door: q.door, Out: q.out, Mode: q.mode}
		if q.number != 0 {
			r.HasCard, r.Bits = true, bits(t, 42, q.number)
		}
		if q.bits != nil {
			r.HasCard, r.Bits = true, *q.bits
		}
		if q.pin != "" {
			r.HasPIN, r.PIN = true, cards.HashPIN(key, q.pin)
		}
		d, trace := c.Decide(&r)
		assert.Equal(t, q.want.String(), d.Reason.String(), q.name)
		assert.Equal(t, q.person, d.Person, q.name)
		checks := trace.Checks()
		require.NotEmpty(t, checks, q.name)
		for i, line := range checks {
			assert.Equal(t, i < len(checks)-1 || d.Reason.Granted(), line.OK, "%s: line %d of the trace", q.name, i)
		}
	}
}

func ptr[T any](v T) *T { return &v }

func TestNextTime(t *testing.T) {
	c := table(t)
	// Friday evening
	r := pass.Request{At: instant(t, "2026-11-27T18:00:00-04:00"), Mode: hours.Card, HasCard: true, Bits: bits(t, 42, 1)}
	d, _ := c.Decide(&r)
	assert.Equal(t, pass.OutsideHours, d.Reason)
	assert.Equal(t, instant(t, "2026-11-30T08:30:00-04:00"), d.Next, "Monday")
	assert.Equal(t, site.ID(40), d.Level)
}

func TestNoAllocation(t *testing.T) {
	c := table(t)
	granted := pass.Request{At: instant(t, thursday), Mode: hours.Card, HasCard: true, Bits: bits(t, 42, 1)}
	refused := granted
	refused.At = instant(t, "2026-11-27T18:00:00-04:00")
	gates := c.Gates()
	var trace pass.Trace
	one, two := pass.Pass{Request: granted}, pass.Pass{Request: refused, Trace: &trace}
	assert.Zero(t, testing.AllocsPerRun(100, func() { gates.Decide(&one); gates.Decide(&two) }))
}

func TestReasonText(t *testing.T) {
	for r := pass.ReaderOff; r <= pass.GrantedDuress; r++ {
		got, ok := pass.ParseReason(r.String())
		assert.True(t, ok)
		assert.Equal(t, r, got)
		assert.NotEmpty(t, r.Words())
	}
}
