package hours

import (
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// mondayZero is a Monday: 1970-01-05.
const mondayZero = Day(4)

// zones with ordinary, half-hour and quarter-hour offsets, a half-hour change, and none.
var zones = []string{"America/Halifax", "America/St_Johns", "Europe/Lisbon", "Australia/Lord_Howe", "Asia/Kolkata",
	"Asia/Kathmandu", "UTC"}

func zone(t require.TestingT, name string) (Zone, *time.Location) {
	loc, err := time.LoadLocation(name)
	require.NoError(t, err)
	return ZoneFrom(loc, At(time.Date(2025, 1, 1, 0, 0, 0, 0, time.UTC)),
		At(time.Date(2030, 1, 1, 0, 0, 0, 0, time.UTC))), loc
}

// The wall clock must be that of the IANA database (time/tzdata), minute for minute around every change.
func TestZoneAgainstIANA(t *testing.T) {
	for _, name := range zones {
		z, loc := zone(t, name)
		for _, o := range z.Offsets {
			for m := -200; m <= 200; m++ {
				at := o.At.Add(time.Duration(m) * time.Minute)
				if at < z.Offsets[0].At {
					continue
				}
				want, got := at.Time().In(loc), z.Wall(at)
				require.Equal(t, want.Format("2006-01-02 15:04:05"), z.Time(at).Format("2006-01-02 15:04:05"), name)
				require.Equal(t, want.Hour()*60+want.Minute(), got.Minute, name)
				y, mo, d := want.Date()
				require.Equal(t, DayOf(y, mo, d), got.Day, name)
			}
		}
	}
}

// Changes of 2026, as the IANA database has them (zdump -v America/Halifax, Australia/Lord_Howe, from memory).
func TestKnownChanges(t *testing.T) {
	for _, c := range []struct {
		zone string
		at   []string
	}{
		{"America/Halifax", []string{"2026-03-08T06:00:00Z", "2026-11-01T05:00:00Z"}},
		{"America/St_Johns", []string{"2026-03-08T05:30:00Z", "2026-11-01T04:30:00Z"}},
		{"Europe/Lisbon", []string{"2026-03-29T01:00:00Z", "2026-10-25T01:00:00Z"}},
		{"Australia/Lord_Howe", []string{"2026-04-04T15:00:00Z", "2026-10-03T15:30:00Z"}},
	} {
		z, _ := zone(t, c.zone)
		for _, want := range c.at {
			found := false
			for _, o := range z.Offsets {
				found = found || o.At.Time().Format(time.RFC3339) == want
			}
			assert.True(t, found, "%s %s", c.zone, want)
		}
	}
	z, _ := zone(t, "Asia/Kolkata")
	assert.Len(t, z.Offsets, 1)
}

func TestResolveGapAndOverlap(t *testing.T) {
	z, _ := zone(t, "America/Halifax")
	day := func(s string) Day { d, err := ParseDay(s); require.NoError(t, err); return d }
	for _, c := range []struct{ date, clock, want string }{
		{"2026-03-08", "02:30", "2026-03-08T06:30:00Z"}, // the hour does not exist: offset before the change, RFC 5545 3.3.5
		{"2026-11-01", "01:30", "2026-11-01T04:30:00Z"}, // the hour comes twice: the first
		{"2026-11-01", "02:00", "2026-11-01T06:00:00Z"},
		{"2026-07-01", "12:00", "2026-07-01T15:00:00Z"},
	} {
		hm, err := time.Parse("15:04", c.clock)
		require.NoError(t, err)
		got := z.Resolve(day(c.date), hm.Hour()*60+hm.Minute())
		assert.Equal(t, c.want, got.Time().Format(time.RFC3339), "%s %s", c.date, c.clock)
	}
}

func TestWeekdays(t *testing.T) {
	for d := DayOf(2024, 1, 1); d < DayOf(2028, 1, 1); d++ {
		y, m, day := d.Date()
		want := (int(time.Date(y, m, day, 0, 0, 0, 0, time.UTC).Weekday()) + 6) % 7
		require.Equal(t, want, d.Weekday(), d.String())
		require.Equal(t, 0, d.Monday().Weekday(), d.String())
		require.Equal(t, 6, d.Sunday().Weekday(), d.String())
		for _, first := range []Day{d.Monday(), d.Sunday()} {
			require.True(t, first <= d && d < first+7, d.String())
		}
	}
	assert.Equal(t, 4, DayOf(1969, 12, 26).Weekday()) // before the epoch; a Friday
}

// The hour that does not exist never comes; the hour that comes twice is in both times.
func TestClockChange(t *testing.T) {
	z, _ := zone(t, "America/Halifax")
	var w Week
	w[6] = []Period{{150, 165}} // Su 02:30-02:45
	spring := CompileWeek(w)
	from := At(time.Date(2026, 3, 7, 12, 0, 0, 0, time.UTC))
	assert.Empty(t, spring.Openings(Local{Zone: &z}, from, from.Add(48*time.Hour)))
	w[6] = []Period{{75, 105}} // Su 01:15-01:45
	autumn := CompileWeek(w)
	from = At(time.Date(2026, 10, 31, 12, 0, 0, 0, time.UTC))
	var got []string
	for _, o := range autumn.Openings(Local{Zone: &z}, from, from.Add(48*time.Hour)) {
		got = append(got, z.Time(o.From).Format(time.RFC3339)+" "+z.Time(o.To).Format(time.RFC3339))
	}
	assert.Equal(t, []string{
		"2026-11-01T01:15:00-03:00 2026-11-01T01:45:00-03:00",
		"2026-11-01T01:15:00-04:00 2026-11-01T01:45:00-04:00",
	}, got)
}

func drawWeek(t *rapid.T) Week {
	var w Week
	for d := range w {
		for range rapid.IntRange(0, 3).Draw(t, "n") {
			start := rapid.IntRange(0, DayMinutes-1).Draw(t, "start")
			w[d] = append(w[d], Period{start, start + rapid.IntRange(1, DayMinutes).Draw(t, "length")})
		}
	}
	return w
}

func drawInstant(t *rapid.T) Instant {
	day := rapid.SampledFrom([]string{"2026-03-07T00:00:00Z", "2026-10-31T00:00:00Z", "2026-04-04T00:00:00Z",
		"2026-06-01T00:00:00Z"}).Draw(t, "day")
	at, _ := time.Parse(time.RFC3339, day)
	return At(at).Add(time.Duration(rapid.IntRange(0, 3*24*3600).Draw(t, "second")) * time.Second)
}

// openByHand asks the location itself, minute by minute, with none of the package's own machinery.
func openByHand(w Week, loc *time.Location, at Instant) bool {
	t := at.Time().In(loc)
	minute, day := t.Hour()*60+t.Minute(), (int(t.Weekday())+6)%7
	for _, p := range w[day] {
		if p.Start <= minute && minute < p.End {
			return true
		}
	}
	for _, p := range w[(day+6)%7] {
		if minute < p.End-DayMinutes {
			return true
		}
	}
	return false
}

func TestNextIsExact(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		z, loc := zone(t, rapid.SampledFrom(zones).Draw(t, "zone"))
		w, at := drawWeek(t), drawInstant(t)
		s := CompileWeek(w)
		was := openByHand(w, loc, at)
		require.Equal(t, was, s.OpenAt(Local{Zone: &z}, at))
		want := Never
		step := Instant(60000)
		for m := at/step*step + step; m < at.Add(9*24*time.Hour); m += step {
			if openByHand(w, loc, m) != was {
				want = m
				break
			}
		}
		got := s.Next(Local{Zone: &z}, at)
		if want == Never && got > at.Add(8*24*time.Hour) {
			return // a lone minute that a clock change leaves out comes a week later
		}
		require.Equal(t, want, got)
	})
}

func drawSegment(t *rapid.T) Segment {
	start := rapid.IntRange(0, DayMinutes-1).Draw(t, "start")
	return Segment{
		Period: Period{start, start + rapid.IntRange(1, DayMinutes).Draw(t, "length")},
		Mode:   rapid.SampledFrom(Modes).Draw(t, "mode"),
	}
}

// Painting sets exactly the minutes painted, keeps every other, and never leaves an overlap.
func TestPaint(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := Pattern{Default: rapid.SampledFrom(Modes).Draw(t, "default")}
		want := make([]Mode, weekMinutes)
		for i := range want {
			want[i] = p.Default
		}
		for range rapid.IntRange(1, 8).Draw(t, "strokes") {
			day, s := rapid.IntRange(0, 6).Draw(t, "day"), drawSegment(t)
			p.Paint(day, s)
			for m := s.Start; m < s.End; m++ {
				want[(day*DayMinutes+m)%weekMinutes] = s.Mode
			}
			require.NoError(t, p.Valid())
		}
		c := CompilePlan(p)
		var count [6]int
		for m, mode := range want {
			got, _ := c.Ask(nil, mondayZero+Day(m/DayMinutes), m%DayMinutes)
			require.Equal(t, mode, got.Mode, "%s %s", DayNames[m/DayMinutes], Clock(m%DayMinutes))
			count[mode]++
		}
		require.Equal(t, count, p.Minutes())
		require.Equal(t, p, p.Normal())
	})
}

func TestStretchesCoverAll(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		z, _ := zone(t, rapid.SampledFrom(zones).Draw(t, "zone"))
		p := Pattern{}
		for range rapid.IntRange(0, 5).Draw(t, "strokes") {
			p.Paint(rapid.IntRange(0, 6).Draw(t, "day"), drawSegment(t))
		}
		c, from := CompilePlan(p), drawInstant(t)
		line := Timeline{Plan: &c, Local: Local{Zone: &z}}
		to := from.Add(5 * 24 * time.Hour)
		at := from
		for _, s := range line.Stretches(from, to) {
			require.Equal(t, at, s.From)
			require.Greater(t, s.To, s.From)
			for _, x := range []Instant{s.From, (s.From + s.To) / 2, s.To - 1} {
				m, _ := c.AskAt(Local{Zone: &z}, x)
				require.Equal(t, s.Mode, m.Mode)
			}
			at = s.To
		}
		require.Equal(t, to, at)
	})
}

func TestPeriodValid(t *testing.T) {
	for _, c := range []struct {
		p  Period
		ok bool
	}{
		{Period{0, 1440}, true}, {Period{1320, 1800}, true}, {Period{1439, 2879}, true}, {Period{0, 1}, true},
		{Period{1440, 1500}, true}, {Period{1560, 2880}, true},
		{Period{-1, 5}, false}, {Period{1560, 2881}, false}, {Period{2880, 2881}, false}, {Period{5, 5}, false}, {Period{9, 3}, false}, {Period{0, 1441}, false},
	} {
		assert.Equal(t, c.ok, c.p.Valid() == nil, "%v", c.p)
	}
	assert.Equal(t, "22:00-06:00", Period{1320, 1800}.String())
	assert.Equal(t, "26:00-30:00", Period{1560, 1800}.String())
	assert.Equal(t, "00:00-24:00", Period{0, 1440}.String())
}

func TestPlanOverlapRefused(t *testing.T) {
	p := Pattern{}
	p.Week[6] = []Segment{{Period: Period{1380, 1500}, Mode: Free}} // Su 23:00-01:00
	p.Week[0] = []Segment{{Period: Period{30, 90}, Mode: Barred}}   // Mo 00:30-01:30
	assert.ErrorContains(t, p.Valid(), "overlap")
}

// A door that never asks anything else must not look overdue.
func TestSubSaturates(t *testing.T) {
	now := At(time.Date(2026, 11, 23, 0, 0, 0, 0, time.UTC))
	assert.Equal(t, time.Duration(1<<63-1), Never.Sub(now))
	assert.Equal(t, time.Duration(-1<<63), now.Sub(Never))
	assert.Equal(t, time.Hour, now.Add(time.Hour).Sub(now))
	assert.Equal(t, -time.Millisecond, (now - 1).Sub(now))
}

func TestModeText(t *testing.T) {
	for _, m := range Modes {
		got, err := ParseMode(m.String())
		require.NoError(t, err)
		assert.Equal(t, m, got)
	}
	_, err := ParseMode("open")
	assert.ErrorContains(t, err, "free, card")
}

func BenchmarkNextChange(b *testing.B) {
	z, _ := zone(b, "America/Halifax")
	p := Pattern{}
	for d := range 5 {
		p.Paint(d, Segment{Period: Period{600, 1020}, Mode: Free})
	}
	c, at := CompilePlan(p), At(time.Date(2026, 11, 26, 18, 0, 0, 0, time.UTC))
	b.ReportAllocs()
	for b.Loop() {
		c.Next(Local{Zone: &z}, at)
	}
}
