package firstcard

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// line is a door in UTC that waits for a first card from 10:00 to 12:00 and from 12:30 to 13:00 every day.
func line(def hours.Mode) *hours.Timeline {
	p := hours.Pattern{Default: def}
	for d := range 7 {
		p.Paint(d, hours.Segment{Period: hours.Period{Start: 600, End: 720}, Mode: hours.Free, First: true})
		p.Paint(d, hours.Segment{Period: hours.Period{Start: 750, End: 780}, Mode: hours.Free, First: true})
	}
	plan := hours.CompilePlan(p)
	return &hours.Timeline{Plan: &plan, Local: hours.Local{Zone: &hours.Zone{}}}
}

func clock(h, m int) hours.Instant {
	return hours.At(time.Date(2026, 11, 24, h, m, 0, 0, time.UTC))
}

// What a door asks while it waits: its default where that asks for a card, else a card.
func TestWaitingMode(t *testing.T) {
	for def, want := range map[hours.Mode]hours.Mode{hours.Card: hours.Card, hours.CardAndPIN: hours.CardAndPIN,
		hours.CardOrPIN: hours.CardOrPIN, hours.Barred: hours.Card, hours.PIN: hours.Card} {
		var f Card
		rule := site.UsualFirstCard()
		a := f.Ask(line(def), &rule, clock(10, 30))
		assert.Equal(t, want, a.Mode)
		assert.True(t, a.Waits)
		assert.False(t, a.First)
		assert.Equal(t, clock(12, 0), a.Until)
	}
}

// The end of a wait or of free time is told beforehand: the segment's end, the minutes' end, midnight.
func TestUntil(t *testing.T) {
	l := line(hours.Card)
	rule := site.UsualFirstCard()
	rule.Length, rule.Minutes, rule.Counts, rule.Often = site.ForMinutes, 30, site.FromMidnight, site.OnceADay
	var f Card
	assert.True(t, f.Give(l, &rule, clock(9, 0)))
	a := f.Ask(l, &rule, clock(9, 1))
	assert.Equal(t, hours.Card, a.Mode)
	assert.Equal(t, clock(10, 0), a.Until, "it counts for the segment to come")
	a = f.Ask(l, &rule, clock(10, 0))
	assert.Equal(t, hours.Free, a.Mode)
	assert.Equal(t, clock(10, 30), a.Until)
	assert.False(t, f.Give(l, &rule, clock(10, 5)), "one is enough")
	a = f.Ask(l, &rule, clock(10, 30))
	assert.Equal(t, hours.Card, a.Mode)
	assert.False(t, a.Waits, "it has come, and its time is over")
	a = f.Ask(l, &rule, clock(20, 0))
	assert.Equal(t, clock(24, 0), a.Until, "forgotten at midnight")
	a = f.Ask(l, &rule, clock(24, 0))
	assert.True(t, a.Useful)
}

// A card between two segments counts for the next, where cards count early, and only for that.
func TestEachSegmentWantsItsOwn(t *testing.T) {
	l := line(hours.Card)
	rule := site.UsualFirstCard()
	rule.Counts, rule.Before = site.FromMinutes, 20
	var f Card
	assert.False(t, f.Give(l, &rule, clock(9, 39)))
	assert.True(t, f.Give(l, &rule, clock(9, 40)))
	assert.Equal(t, hours.Free, f.Ask(l, &rule, clock(11, 0)).Mode)
	assert.False(t, f.Give(l, &rule, clock(11, 30)))
	assert.True(t, f.Give(l, &rule, clock(12, 15)), "for the one at 12:30")
	assert.Equal(t, hours.Card, f.Ask(l, &rule, clock(12, 29)).Mode)
	assert.Equal(t, hours.Free, f.Ask(l, &rule, clock(12, 30)).Mode)
	assert.False(t, f.Ask(l, &rule, clock(14, 0)).Useful)
}

// A clock that was set takes the minutes along; a plan without waiting segments has nothing to wait for.
func TestShiftAndNothingToWaitFor(t *testing.T) {
	l := line(hours.Card)
	rule := site.UsualFirstCard()
	rule.Length, rule.Minutes = site.ForMinutes, 30
	var f Card
	assert.True(t, f.Give(l, &rule, clock(15, 0)))
	f.Shift(time.Hour)
	assert.Equal(t, hours.Free, f.Ask(l, &rule, clock(16, 29)).Mode)
	assert.Equal(t, hours.Card, f.Ask(l, &rule, clock(16, 30)).Mode)

	plain := hours.CompilePlan(hours.Pattern{Default: hours.Card})
	none := &hours.Timeline{Plan: &plain, Local: l.Local}
	rule = site.UsualFirstCard()
	assert.False(t, Waits(none, &rule))
	assert.False(t, f.Give(none, &rule, clock(10, 30)))
	assert.Equal(t, hours.Never, f.Ask(none, &rule, clock(10, 30)).Until)
}
