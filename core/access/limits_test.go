package access_test

import (
	"testing"
	"time"

	"amberkeystone/core/pass"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// opening is a door whose first card only those of level 41 give; 41 is open in the morning, 40 all day, 42 never.
func opening(t *testing.T, who site.FirstGiver) *image.Compiled {
	var morning hours.Week
	for d := range 7 {
		morning[d] = []hours.Period{{Start: 360, End: 720}}
	}
	entry := func(schedule site.ID) []site.Entry { return []site.Entry{site.At(1, schedule)} }
	person := func(id site.ID, number uint64, levels ...site.ID) *site.Person {
		p := &site.Person{ID: id, Credentials: []site.Credential{card(number)}}
		for _, l := range levels {
			p.Levels = append(p.Levels, site.Grant{LevelID: l})
		}
		return p
	}
	door := site.Door{
		ID: 1, Port: 1, ControllerID: 9, PlanID: 20, FirstCard: site.FirstCard{Who: who}, Hardware: site.UsualHardware(),
	}
	door.Out.Fitted = true
	c := &site.Config{
		Settings: site.DefaultSettings(), Doors: []site.Door{door}, Plans: []site.Plan{{ID: 20}},
		Schedules: []site.Schedule{{ID: 30, Week: hours.Always()}, {ID: 31, Week: morning}, {ID: 32}},
		Levels: []site.Level{
			{ID: 40, Entries: entry(30)}, {ID: 41, Authorities: site.Authorities{OpensDay: true}, Entries: entry(31)},
			{ID: 42, Authorities: site.Authorities{OpensDay: true}, Entries: entry(32)},
		},
		People: []*site.Person{person(101, 1, 40), person(102, 2, 40, 41), person(103, 3, 42)},
	}
	return image.Build(c, 9, hours.Zone{Name: "UTC"}, image.Secrets{}).Compile()
}

func TestLimitsAndFirstCards(t *testing.T) {
	for _, q := range []struct {
		name   string
		who    site.FirstGiver
		number uint64
		hour   int
		limit  []int64
		out    bool
		want   pass.Reason
		opens  bool // may give the first card
	}{
		{"anybody gives it", site.Anybody, 1, 9, nil, false, pass.Granted, true},
		{"an opener gives it", site.Openers, 2, 9, nil, false, pass.Granted, true},
		{"who is no opener", site.Openers, 1, 9, nil, false, pass.Granted, false},
		{"an opener only in the hours of that level", site.Openers, 2, 13, nil, false, pass.Granted, false},
		{"an opener whose level is closed", site.Openers, 3, 9, nil, false, pass.OutsideHours, false},
		{"the way out does not wait", site.Openers, 1, 9, nil, true, pass.Granted, true},
		{"a limit that has the level", site.Anybody, 1, 9, []int64{40}, false, pass.Granted, true},
		{"a limit that has another", site.Anybody, 1, 9, []int64{41}, false, pass.SegmentLimit, true},
		{"of two levels the one that counts", site.Anybody, 2, 9, []int64{41}, false, pass.Granted, true},
		{"the one that counts is closed", site.Anybody, 2, 13, []int64{41}, false, pass.SegmentLimit, true},
		{"hours come before a limit that would not help", site.Anybody, 3, 9, []int64{40}, false, pass.OutsideHours, true},
	} {
		c := opening(t, q.who)
		bits, err := cards.Standard26.Encode(42, q.number)
		require.NoError(t, err)
		r := pass.Request{
			At:      hours.At(time.Date(2026, 11, 24, q.hour, 0, 0, 0, time.UTC)),
			Mode:    hours.Card,
			HasCard: true,
			Bits:    bits,
			Levels:  q.limit,
			Out:     q.out,
		}
		d, trace := c.Decide(&r)
		assert.Equal(t, q.want, d.Reason, q.name)
		p := pass.Pass{Request: r, Decision: d}
		assert.Equal(t, q.opens, c.MayOpen(&p), q.name)
		last := trace.Checks()[len(trace.Checks())-1]
		assert.Equal(t, q.want.Granted(), last.OK, q.name)
	}
}
