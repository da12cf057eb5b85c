package access_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/access"
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// opening is a door whose first card only those of level 41 give; 41 is open in the morning, 40 all day, 42 never.
func opening(t *testing.T, who string) *image.Compiled {
	var morning hours.Week
	for d := range 7 {
		morning[d] = []hours.Period{{Start: 360, End: 720}}
	}
	entry := func(schedule site.ID) []site.Entry { return []site.Entry{{DoorID: 1, ScheduleID: schedule}} }
	person := func(id site.ID, number uint64, levels ...site.ID) site.Person {
		p := site.Person{ID: id, Cards: []site.CardHeld{card(number)}}
		for _, l := range levels {
			p.Levels = append(p.Levels, site.Grant{LevelID: l})
		}
		return p
	}
	door := site.Door{ID: 1, Port: 1, ControllerID: 9, PlanID: 20, FirstCard: site.FirstCard{Who: who}, Hardware: site.UsualHardware()}
	door.Out.Fitted = true
	c := &site.Config{
		Settings: site.DefaultSettings(), Doors: []site.Door{door}, Plans: []site.Plan{{ID: 20}},
		Schedules: []site.Schedule{{ID: 30, Week: hours.Always()}, {ID: 31, Week: morning}, {ID: 32}},
		Levels:    []site.Level{{ID: 40, Entries: entry(30)}, {ID: 41, OpensDay: true, Entries: entry(31)}, {ID: 42, OpensDay: true, Entries: entry(32)}},
		People:    []site.Person{person(101, 1, 40), person(102, 2, 40, 41), person(103, 3, 42)},
	}
	return image.Build(c, 9, hours.Zone{Name: "UTC"}, image.Secrets{}).Compile()
}

func TestLimitsAndFirstCards(t *testing.T) {
	for _, q := range []struct {
		name            string
		who             string
		number          uint64
		hour            int
		limit           []int64
		first, awaiting bool
		out             bool
		want            access.Reason
		opens           bool
	}{
		{"anybody gives it", site.Anybody, 1, 9, nil, true, true, false, access.Granted, true},
		{"an opener gives it", site.Openers, 2, 9, nil, true, true, false, access.Granted, true},
		{"who is no opener waits", site.Openers, 1, 9, nil, true, true, false, access.AwaitingFirstCard, false},
		{"or comes in where cards work as usual", site.Openers, 1, 9, nil, true, false, false, access.Granted, false},
		{"an opener only in the hours of that level", site.Openers, 2, 13, nil, true, true, false, access.AwaitingFirstCard, false},
		{"who comes in by another level opens nothing", site.Openers, 2, 13, nil, true, false, false, access.Granted, false},
		{"an opener whose level is closed", site.Openers, 3, 9, nil, true, true, false, access.AwaitingFirstCard, false},
		{"nothing to open", site.Openers, 2, 9, nil, false, false, false, access.Granted, false},
		{"the way out opens nothing, and does not wait", site.Openers, 1, 9, nil, true, true, true, access.Granted, false},
		{"a limit that has the level", site.Anybody, 1, 9, []int64{40}, false, false, false, access.Granted, false},
		{"a limit that has another", site.Anybody, 1, 9, []int64{41}, false, false, false, access.SegmentLimit, false},
		{"of two levels the one that counts", site.Anybody, 2, 9, []int64{41}, false, false, false, access.Granted, false},
		{"the one that counts is closed", site.Anybody, 2, 13, []int64{41}, false, false, false, access.SegmentLimit, false},
		{"hours come before a limit that would not help", site.Anybody, 3, 9, []int64{40}, false, false, false, access.OutsideHours, false},
	} {
		c := opening(t, q.who)
		bits, err := cards.Standard26.Encode(42, q.number)
		require.NoError(t, err)
		r := access.Request{At: hours.At(time.Date(2026, 11, 24, q.hour, 0, 0, 0, time.UTC)), Mode: hours.Card, HasCard: true, Bits: bits, Levels: q.limit, First: q.first, Awaiting: q.awaiting, Out: q.out}
		d := c.Decide(&r)
		assert.Equal(t, q.want, d.Reason, q.name)
		assert.Equal(t, q.opens, d.Opens, q.name)
		last := d.Trace.Checks()[len(d.Trace.Checks())-1]
		assert.Equal(t, q.want.Granted(), last.OK, q.name)
		assert.Zero(t, testing.AllocsPerRun(20, func() { c.Decide(&r) }), q.name)
	}
}
