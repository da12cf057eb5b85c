package firstcard

import (
	"fmt"
	"testing"
	"time"

	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Until what a door asks nothing changes: who looks again only then misses nothing. Any plan, holiday and dated changes
// on one day, any rule, two cards, and a clock that may go forward or back in the night.
func TestNothingChangesBeforeUntil(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		line, rule := drawDoor(t), drawRule(t)
		start := hours.At(time.Date(2026, 11, 24, 3, 0, 0, 0, time.UTC))
		const minute = hours.Instant(60_000)
		give := map[hours.Instant]bool{}
		for range rapid.IntRange(0, 2).Draw(t, "cards") {
			give[start+minute*hours.Instant(rapid.IntRange(0, 1500).Draw(t, "card"))] = true
		}
		var f Card
		a := f.Ask(line, &rule, start)
		for at := start; at < start+1800*minute; at += minute {
			now := f.Ask(line, &rule, at)
			if at >= a.Until {
				a = now
			}
			if now.Mode != a.Mode || now.Waits != a.Waits {
				t.Fatalf("at %v it asks %v (waits: %v), and until %v it was to ask %v (waits: %v)",
					at.Time(), now.Mode, now.Waits, a.Until.Time(), a.Mode, a.Waits)
			}
			if give[at] && f.Give(line, &rule, at) {
				a = f.Ask(line, &rule, at)
			}
		}
	})
}

func drawRule(t *rapid.T) site.FirstCard {
	r := site.UsualFirstCard()
	counts := []site.CountsFrom{site.FromStart, site.FromMinutes, site.FromMidnight}
	r.Counts = rapid.SampledFrom(counts).Draw(t, "counts")
	r.Before = rapid.IntRange(1, 120).Draw(t, "before")
	r.Often = rapid.SampledFrom([]site.HowOften{site.EachSegment, site.OnceADay}).Draw(t, "often")
	r.Length = rapid.SampledFrom([]site.HowLong{site.ToTheEnd, site.ForMinutes}).Draw(t, "length")
	r.Minutes = rapid.IntRange(1, 300).Draw(t, "minutes")
	return r
}

func drawDoor(t *rapid.T) *hours.Timeline {
	zone := hours.Zone{Offsets: []hours.Offset{
		{At: 0, Seconds: -4 * 3600},
		{
			At:      hours.At(time.Date(2026, 11, 25, 6, 0, 0, 0, time.UTC)),
			Seconds: int32(rapid.IntRange(-5, -3).Draw(t, "offset") * 3600),
		},
	}}
	c := &site.Config{
		Sites: []site.Site{{ID: 1}}, Floors: []site.Floor{{ID: 2, SiteID: 1}},
		Doors: []site.Door{{ID: 3, FloorID: 2, PlanID: 4}}, Plans: []site.Plan{{ID: 4}},
	}
	mode := rapid.SampledFrom(hours.Modes)
	c.Plans[0].Default = mode.Draw(t, "otherwise")
	for range rapid.IntRange(0, 4).Draw(t, "strokes") {
		s := hours.Segment{Period: drawPeriod(t), Mode: mode.Draw(t, "mode")}
		s.First = s.Mode == hours.Free && rapid.Bool().Draw(t, "first")
		c.Plans[0].Pattern.Paint(rapid.IntRange(1, 3).Draw(t, "day"), s)
	}
	for i := range rapid.IntRange(0, 2).Draw(t, "holidays") {
		kind := site.HolidayType{ID: site.ID(10 + i), Rank: i, Plans: site.DefaultMode, Schedules: site.Closed}
		c.Types = append(c.Types, kind)
		p := drawPeriod(t)
		h := site.Holiday{ID: site.ID(20 + i), TypeID: site.ID(10 + i), Start: p.Start, End: min(p.End, hours.DayMinutes)}
		h.Kind, h.Dates = hours.OnDates, []string{fmt.Sprintf("2026-11-%d", rapid.IntRange(23, 25).Draw(t, "date"))}
		c.Holidays = append(c.Holidays, h)
	}
	for i := range rapid.IntRange(0, 2).Draw(t, "changes") {
		from := rapid.IntRange(0, 46).Draw(t, "from")
		until := from + rapid.IntRange(1, 6).Draw(t, "half hours")
		wall := func(k int) string { return fmt.Sprintf("2026-11-24T%02d:%02d", k/2, k%2*30) }
		c.Changes = append(c.Changes, site.DatedChange{
			ID: site.ID(30 + i), Mode: mode.Draw(t, "change"), DoorIDs: []site.ID{3},
			From: wall(from), Until: wall(min(until, 47)),
		})
	}
	first := hours.DayOf(2026, 11, 20)
	return site.NewTimetableFor(c, func(site.ID) *hours.Zone { return &zone }, first, first+10).Door(3)
}

func drawPeriod(t *rapid.T) hours.Period {
	start := rapid.IntRange(0, 95).Draw(t, "start") * 15
	return hours.Period{Start: start, End: start + 15*rapid.IntRange(1, 40).Draw(t, "length")}
}
