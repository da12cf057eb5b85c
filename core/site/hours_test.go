package site

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
)

func TestHoursChecks(t *testing.T) {
	evening := func(change func(c *DatedChange)) Faults {
		c := DatedChange{Name: "Evening", DoorIDs: []ID{1}, From: "2026-11-27T17:00", Until: "2026-11-27T21:00"}
		change(&c)
		return c.Check()
	}
	day := func(change func(h *Holiday)) Faults {
		h := Holiday{
			Name: "Day", TypeID: 1, HolidayDates: hours.HolidayDates{Kind: hours.EveryYear, Month: 12, Day: 25}, End: 1440,
		}
		change(&h)
		return h.Check()
	}
	rule := func(change func(f *FirstCard)) Faults {
		f := UsualFirstCard()
		change(&f)
		return f.Check()
	}
	own := []hours.Segment{
		{Period: hours.Period{Start: 0, End: 90}, Mode: hours.Free},
		{Period: hours.Period{Start: 60, End: 120}, Mode: hours.PIN},
	}
	for i, c := range []struct {
		got  Faults
		want string
	}{
		{evening(func(*DatedChange) {}), ""},
		{evening(func(c *DatedChange) { c.Name = "" }), "name "},
		{evening(func(c *DatedChange) { c.DoorIDs = nil }), "doorIds "},
		{evening(func(c *DatedChange) { c.Until = "2026-11-27T17:00" }), "until "},
		{evening(func(c *DatedChange) { c.Until = "2028-11-27T17:00" }), "until "},
		{evening(func(c *DatedChange) { c.From = "tonight" }), "from "},
		{evening(func(c *DatedChange) { c.From, c.Until = "1999-01-01T00:00", "1999-01-01T01:00" }), "from "},
		{evening(func(c *DatedChange) { c.Recurs = "FREQ=SECONDLY" }), "recurs "},
		{evening(func(c *DatedChange) { c.Recurs = "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30" }), "recurs "},
		{evening(func(c *DatedChange) { c.Except = []string{"Friday"} }), "except "},
		{evening(func(c *DatedChange) { c.Ended = "now" }), "ended "},
		{day(func(*Holiday) {}), ""},
		{day(func(h *Holiday) { h.TypeID = 0 }), "typeId "},
		{day(func(h *Holiday) { h.Start, h.End = 800, 700 }), "end "},
		{day(func(h *Holiday) { h.End = 1500 }), "end "},
		{day(func(h *Holiday) { h.Month = 14 }), "month "},
		{rule(func(*FirstCard) {}), ""},
		{rule(func(f *FirstCard) { *f = FirstCard{} }), ""},
		{rule(func(f *FirstCard) { f.Who = "me" }), "firstCard.who "},
		{rule(func(f *FirstCard) { f.Minutes = 0 }), "firstCard.minutes "},
		{HolidayType{Name: "Quiet", Plans: AsWeekday, Schedules: Closed}.Check(), ""},
		{HolidayType{Name: "Quiet", Rank: -1, Plans: Closed, Schedules: DefaultMode}.Check(), "rank plans schedules "},
		{DoorSet{Name: "Set"}.Check(), "doorIds "},
		{Plan{Name: "P", Holidays: []PlanHoliday{{TypeID: 1, Do: Closed}, {TypeID: 1, Do: OwnHours, Segments: own}}}.Check(), "holidays[0].do holidays[1].typeId holidays[1].periods "},
		{Schedule{Name: "S", Holidays: []ScheduleHoliday{{Do: OwnHours, Periods: []hours.Period{{Start: 9, End: 3}}}}}.Check(), "holidays[0].typeId holidays[0].periods "},
		{Level{Name: `Say "yes"`}.Check(), "name "},
	} {
		assert.Equal(t, strings.TrimSpace(c.want), fields(c.got), i)
	}
}

func TestWindows(t *testing.T) {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	z := hours.ZoneFrom(loc, hours.At(time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)),
		hours.At(time.Date(2030, 1, 1, 0, 0, 0, 0, time.UTC)))
	words := func(c DatedChange) []string {
		out := []string{}
		for _, w := range c.Windows(&z) {
			out = append(out, z.Time(w.From).Format("2 Jan 15:04 -07")+" to "+z.Time(w.Until).Format("2 Jan 15:04 -07"))
		}
		return out
	}
	night := DatedChange{
		From: "2026-10-31T22:00", Until: "2026-11-01T02:30", Recurs: "FREQ=WEEKLY;COUNT=3", Except: []string{"2026-11-07"},
	}
	assert.Equal(
		t,
		[]string{"31 Oct 22:00 -03 to 1 Nov 02:30 -04", "14 Nov 22:00 -04 to 15 Nov 02:30 -04"},
		words(night),
		"over the night when the clocks go back; one is left out",
	)
	night.Ended = "2026-11-01T00:00"
	assert.Equal(t, []string{"31 Oct 22:00 -03 to 1 Nov 00:00 -03"}, words(night), "ended early, and for good")
	gap := DatedChange{From: "2027-03-14T02:30", Until: "2027-03-14T04:00"}
	assert.Equal(t, []string{"14 Mar 03:00 -03 to 14 Mar 04:00 -03"}, words(gap), "the missing hour does not occur")
	assert.Empty(t, words(DatedChange{From: "soon"}))
}

// Dated changes are by the wall clock (design 3.1): America/Halifax, 8 March and 1 November 2026.
func TestWindowsAtClockChanges(t *testing.T) {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	z := hours.ZoneFrom(loc, hours.At(time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)),
		hours.At(time.Date(2028, 1, 1, 0, 0, 0, 0, time.UTC)))
	for name, c := range map[string]struct {
		from, until string
		want        []string
	}{
		"begins in the missing hour":       {"2026-03-08T02:30", "2026-03-08T03:15", []string{"08 03:00 -03 to 08 03:15 -03"}},
		"ends in the missing hour":         {"2026-03-07T22:00", "2026-03-08T02:30", []string{"07 22:00 -04 to 08 03:00 -03"}},
		"all of it in the missing hour":    {"2026-03-08T02:15", "2026-03-08T02:45", nil},
		"over the missing hour":            {"2026-03-08T01:00", "2026-03-08T04:00", []string{"08 01:00 -04 to 08 04:00 -03"}},
		"in the hour that comes twice":     {"2026-11-01T01:15", "2026-11-01T01:45", []string{"01 01:15 -03 to 01 01:45 -03", "01 01:15 -04 to 01 01:45 -04"}},
		"all of the hour that comes twice": {"2026-11-01T01:00", "2026-11-01T02:00", []string{"01 01:00 -03 to 01 02:00 -04"}},
		"ends in the hour that is twice":   {"2026-10-31T22:00", "2026-11-01T01:30", []string{"31 22:00 -03 to 01 01:30 -03", "01 01:00 -04 to 01 01:30 -04"}},
	} {
		t.Run(name, func(t *testing.T) {
			x := DatedChange{From: c.from, Until: c.until}
			var got []string
			for _, w := range x.Windows(&z) {
				got = append(got, z.Time(w.From).Format("02 15:04 -07")+" to "+z.Time(w.Until).Format("02 15:04 -07"))
			}
			assert.Equal(t, c.want, got)
			from, fromMinute, err := ParseWall(c.from)
			require.NoError(t, err)
			to, toMinute, err := ParseWall(c.until)
			require.NoError(t, err)
			// Minute by minute: in a window exactly where the wall clock is.
			for at := z.Resolve(from, 0) - 7200000; at < z.Resolve(to+1, 0)+7200000; at += 60000 {
				w := z.Wall(at)
				clock := func(d hours.Day, m int) int { return int(d)*1440 + m }
				in := clock(from, fromMinute) <= clock(w.Day, w.Minute) && clock(w.Day, w.Minute) < clock(to, toMinute)
				held := false
				for _, x := range x.Windows(&z) {
					held = held || x.From <= at && at < x.Until
				}
				require.Equal(t, in, held, "%s", z.Time(at))
			}
		})
	}
}

// UNTIL as a moment is inclusive and by its own clock (RFC 5545, 3.3.10).
func TestUntilAsAMoment(t *testing.T) {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	z := hours.ZoneFrom(loc, hours.At(time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)),
		hours.At(time.Date(2028, 1, 1, 0, 0, 0, 0, time.UTC)))
	for until, want := range map[string]int{
		"20261125":         3,
		"20261124T200000":  2, // it starts at 20:00
		"20261124T195959":  1,
		"20261125T195900":  2,
		"20261125T000000Z": 2, // 20:00 on the 24th in Halifax
		"20261124T235959Z": 1,
		"20261126T000000Z": 3,
	} {
		t.Run(until, func(t *testing.T) {
			c := DatedChange{From: "2026-11-23T20:00", Until: "2026-11-23T21:00", Recurs: "FREQ=DAILY;UNTIL=" + until}
			assert.Len(t, c.Windows(&z), want)
			r, err := hours.ParseRecurrence(c.Recurs)
			require.NoError(t, err)
			assert.Equal(t, c.Recurs, r.String(), "there and back")
		})
	}
	_, err = hours.ParseRecurrence("FREQ=DAILY;UNTIL=20261124X200000")
	assert.ErrorContains(t, err, "is not a date")
}

func TestDoorsOfAChange(t *testing.T) {
	c := &Config{
		Floors: []Floor{{ID: 10, SiteID: 1}, {ID: 11, SiteID: 1}, {ID: 20, SiteID: 2}}, Sets: []DoorSet{
			{ID: 30, DoorIDs: []ID{101, 103}},
		},
		Doors: []Door{{ID: 100, FloorID: 10}, {ID: 101, FloorID: 11}, {ID: 102, FloorID: 11}, {ID: 103, FloorID: 20}},
	}
	for want, x := range map[string]DatedChange{
		"[100 101 102]": {SiteIDs: []ID{1}}, "[101 102]": {FloorIDs: []ID{11}}, "[101 103]": {SetIDs: []ID{30}}, "[100 101 103]": {SetIDs: []ID{30}, DoorIDs: []ID{100, 101}}, "[]": {SetIDs: []ID{99}},
	} {
		assert.Equal(t, want, fmt.Sprint(x.Doors(c)))
	}
}

// A holiday at some sites leaves the doors of others as they are; sites have their own calendars.
func TestTimetableBySite(t *testing.T) {
	plan := hours.Pattern{}
	for d := range 7 {
		plan.Paint(d, hours.Segment{Period: hours.Period{Start: 600, End: 1020}, Mode: hours.Free})
	}
	c := &Config{
		Sites: []Site{{ID: 1}, {ID: 2}}, Floors: []Floor{{ID: 10, SiteID: 1}, {ID: 20, SiteID: 2}},
		Plans: []Plan{{ID: 5, Pattern: plan}},
		Types: []HolidayType{{ID: 6, Plans: DefaultMode, Schedules: Closed}},
		Holidays: []Holiday{
			{ID: 7, TypeID: 6, SiteIDs: []ID{2}, HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-11-26"}}, End: 1440},
		},
		Doors: []Door{
			{ID: 100, FloorID: 10, PlanID: 5}, {ID: 200, FloorID: 20, PlanID: 5}, {ID: 300, FloorID: 20, PlanID: 99},
		},
	}
	z := &hours.Zone{}
	x := NewTimetable(c, func(ID) *hours.Zone { return z })
	noon := z.Resolve(hours.DayOf(2026, 11, 26), 720)
	assert.Equal(t, hours.Free, x.Door(100).At(noon).Mode)
	assert.Equal(t, hours.Card, x.Door(200).At(noon).Mode)
	assert.Equal(t, hours.PlanHoliday, x.Door(200).At(noon).Layer)
	assert.Equal(t, hours.Card, x.Door(300).At(noon).Mode, "a door without a plan asks for a card")
	assert.Nil(t, x.Door(1))
	assert.Equal(t, ID(7), x.Holiday(2, hours.DayOf(2026, 11, 26), 0).ID)
	assert.Nil(t, x.Holiday(1, hours.DayOf(2026, 11, 26), 0))
	assert.Len(t, x.Holidays(2, hours.DayOf(2026, 11, 26)), 1)
}

func drawPeriod(t *rapid.T) hours.Period {
	start := rapid.IntRange(0, 1439).Draw(t, "start")
	return hours.Period{Start: start, End: start + rapid.IntRange(1, 1440).Draw(t, "length")}
}

// Opening and closing parts of a schedule does that to exactly those minutes, in weekdays and in holiday rows.
func TestPaintSchedule(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		const week = 7 * 1440
		s := Schedule{Name: "S"}
		want := make([]bool, week)
		row := make([]bool, 1440)
		for range rapid.IntRange(1, 10).Draw(t, "strokes") {
			p, day, open := drawPeriod(t), rapid.IntRange(0, 6).Draw(t, "day"), rapid.Bool().Draw(t, "open")
			if rapid.Bool().Draw(t, "holiday") {
				p.End = min(p.End, 1440)
				s.Paint([]Row{{TypeID: 9}}, p, open)
				for m := p.Start; m < p.End; m++ {
					row[m] = open
				}
			} else {
				s.Paint([]Row{{Day: day}}, p, open)
				for m := p.Start; m < p.End; m++ {
					want[(day*1440+m)%week] = open
				}
			}
			require.Empty(t, s.Check())
		}
		types := []HolidayType{{ID: 9, Plans: AsWeekday, Schedules: AsWeekday}}
		c := CompileSchedule(&s, types)
		monday := hours.DayOf(2026, 6, 1)
		for m := range week {
			require.Equal(t, want[m], c.Open(nil, monday+hours.Day(m/1440), m%1440), "minute %d", m)
		}
		if len(s.Holidays) > 0 {
			for m := range 1440 {
				in := slices.ContainsFunc(s.Holidays[0].Periods, func(p hours.Period) bool { return p.Start <= m && m < p.End })
				require.Equal(t, row[m], in)
			}
		}
	})
}

func TestRowsOfAPlan(t *testing.T) {
	free := func(a, b int) hours.Segment {
		return hours.Segment{Period: hours.Period{Start: a, End: b}, Mode: hours.Free}
	}
	p := Plan{}
	p.Paint([]Row{{Day: 0}, {TypeID: 9}}, free(600, 1020))
	p.Copy(Row{Day: 0}, []Row{{Day: 0}, {Day: 1}, {Day: 6}, {TypeID: 8}})
	assert.Equal(t, p.Week[0], p.Week[6])
	assert.Equal(t, p.Week[0], p.Holidays[1].Segments)
	p.Paint([]Row{{TypeID: 8}}, hours.Segment{Period: hours.Period{Start: 700, End: 800}, Mode: hours.Barred})
	assert.Len(t, p.Holidays[1].Segments, 3)
	p.Clear([]Row{{Day: 6}, {TypeID: 9}})
	assert.Empty(t, p.Week[6])
	assert.Equal(t, OwnHours, p.Holidays[0].Do)
	assert.Empty(t, p.Holidays[0].Segments)
	p.Answer(8, DefaultMode)
	assert.Equal(t, []PlanHoliday{{TypeID: 9, Do: OwnHours}, {TypeID: 8, Do: DefaultMode}}, p.Holidays)
	p.Answer(9, "")
	assert.Len(t, p.Holidays, 1)
	p.Answer(8, OwnHours)
	assert.Equal(t, OwnHours, p.Holidays[0].Do)
	require.Empty(t, Plan{Name: "P", Holidays: p.Holidays}.Check())

	s := Schedule{}
	s.Paint([]Row{{Day: 4}}, hours.Period{Start: 1320, End: 1800}, true)
	s.Copy(Row{Day: 4}, []Row{{Day: 5}, {TypeID: 3}})
	assert.Equal(t, s.Week[4], s.Holidays[0].Periods)
	s.Copy(Row{TypeID: 3}, []Row{{Day: 0}})
	assert.Equal(t, s.Week[4], s.Week[0])
	s.Clear([]Row{{TypeID: 3}})
	assert.Empty(t, s.Holidays[0].Periods)
	s.Answer(3, Closed)
	assert.Equal(t, []ScheduleHoliday{{TypeID: 3, Do: Closed}}, s.Holidays)
	// Over the tail of a night in a holiday's row: what is left of the night goes on belonging to it.
	p = Plan{}
	p.Paint([]Row{{TypeID: 9}}, free(1320, 1800))
	p.Paint([]Row{{TypeID: 9}}, hours.Segment{Period: hours.Period{Start: 1380, End: 1740}, Mode: hours.Barred})
	assert.Equal(
		t,
		[]hours.Segment{free(1320, 1380), {Period: hours.Period{Start: 1380, End: 1740}, Mode: hours.Barred},
			free(1740, 1800)},
		p.Holidays[0].Segments,
	)
	s = Schedule{}
	s.Paint([]Row{{TypeID: 9}}, hours.Period{Start: 1320, End: 1800}, true)
	s.Paint([]Row{{TypeID: 9}}, hours.Period{Start: 1380, End: 1740}, false)
	assert.Equal(t, []hours.Period{{Start: 1320, End: 1380}, {Start: 1740, End: 1800}}, s.Holidays[0].Periods)
	assert.Error(t, Row{Day: 8}.Check())
	assert.NoError(t, Row{Day: 8, TypeID: 1}.Check())
}

func TestFirstFree(t *testing.T) {
	free := func(start, end int, first bool) hours.Segment {
		return hours.Segment{Period: hours.Period{Start: start, End: end}, Mode: hours.Free, First: first}
	}
	p := Plan{}
	_, ok := p.FirstFree()
	assert.False(t, ok)
	p.Week[2] = []hours.Segment{{Period: hours.Period{Start: 60, End: 120}, Mode: hours.Card}, free(600, 700, false)}
	at, ok := p.FirstFree()
	assert.True(t, ok)
	assert.Equal(t, 600, at)
	p.Week[4] = []hours.Segment{free(1500, 1560, true)} // from 01:00 of Saturday
	at, _ = p.FirstFree()
	assert.Equal(t, 60, at)
}

func TestFirstCardWords(t *testing.T) {
	assert.Equal(
		t,
		"Free from 10:00 once anybody with access here has come in; a card counts from 10:00; until then cards work. Forgotten at midnight.",
		UsualFirstCard().Words(600),
	)
	f := FirstCard{
		Who: Openers, Counts: FromMinutes, Before: 90, UntilThen: NobodyElse, Often: OnceADay, Length: ForMinutes,
		Minutes: 10,
	}
	assert.Equal(
		t,
		"Free from 10:00 once somebody whose level opens the day has come in; a card counts from 08:30, and until then nobody else enters. Free for 10 minutes, outside free hours too. Once a day is enough. Forgotten at midnight.",
		f.Words(600),
	)
	assert.Contains(t, f.Words(30), "from 00:00")
}

func FuzzParseWall(f *testing.F) {
	for _, s := range []string{"2026-11-27T17:00", "0000-00-00T00:00", "9999-12-31T23:59", "2026-02-30T24:00", ""} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		d, m, err := ParseWall(s)
		if err != nil {
			return
		}
		d2, m2, err := ParseWall(fmt.Sprintf("%sT%s", d, hours.Clock(m)))
		if err != nil || d2 != d || m2 != m {
			t.Fatalf("%q is read as %s %s, and that as %s %s", s, d, hours.Clock(m), d2, hours.Clock(m2))
		}
	})
}
