package openinghours

import (
	"encoding/json"
	"os"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
)

type vector struct {
	Text string
	Open [][2]int
}

type vectors struct{ Same, Differs []vector }

func read(t *testing.T, file string, v any) {
	b, err := os.ReadFile(file)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(b, v))
}

// reference marks the minutes of a fortnight that the reference says are open.
func reference(open [][2]int) []bool {
	out := make([]bool, 14*1440)
	for _, o := range open {
		for m := o[0]; m < o[1]; m++ {
			out[m] = true
		}
	}
	return out
}

func parseWeek(text string) (hours.Week, error) {
	s, err := ParseWeek(text)
	return s.Week, err
}

// monday is 2026-06-01, as in the vectors.
var monday = hours.DayOf(2026, 6, 1)

func minutes(w hours.Week) []bool {
	s := hours.CompileWeek(w)
	out := make([]bool, 14*1440)
	for m := range out {
		out[m] = s.Open(nil, monday+hours.Day(m/1440), m%1440)
	}
	return out
}

// Against the opening_hours package of npm: testdata/vectors.json names the version that made them.
func TestAgainstReference(t *testing.T) {
	var v vectors
	read(t, "testdata/vectors.json", &v)
	require.NotEmpty(t, v.Same)
	for _, c := range v.Same {
		w, err := parseWeek(c.Text)
		require.NoError(t, err, c.Text)
		got, want := minutes(w), reference(c.Open)
		for m := range want {
			// The first night before the window cannot be seen by the reference.
			if got[m] != want[m] && m >= 1440 {
				t.Errorf("%s: %s %s is open=%v, the reference says %v", c.Text, hours.DayNames[m/1440%7], hours.Clock(m%1440),
					got[m], want[m])
				break
			}
		}
	}
	for _, c := range v.Differs { // on purpose: a night belongs to the day on which it starts, whole
		w, err := parseWeek(c.Text)
		require.NoError(t, err, c.Text)
		assert.False(t, slices.Equal(reference(c.Open), minutes(w)), "%s: the reference has changed its mind", c.Text)
	}
	night, err := parseWeek("Fr 22:00-06:00; Sa 10:00-16:00")
	require.NoError(t, err)
	assert.True(t, minutes(night)[5*1440+5*60+59], "Saturday 05:59 belongs to Friday's night")
}

func TestRefusals(t *testing.T) {
	for _, c := range []struct {
		text string
		pos  int // from 1
		says string
	}{
		{"Mo-Fr 08:30", 12, "08:30-17:00"},
		{"Mo-Fr 08:30-", 13, "a time is missing"},
		{"Mo-Fr 25:61-26:00", 7, "not a time"},
		{"Mo-Xx 08:00-09:00", 4, "not a weekday"},
		{"SH off", 1, "school holidays"},
		{"PH off; Mo-Fr 08:00-18:00", 9, "holidays come last"},
		{"Mo-Fr 08:00-18:00, PH 10:00-14:00", 20, "write ; before PH"},
		{"Mo 08:00-09:00; PH off; PH 10:00-11:00", 25, "said twice"},
		{"Jan 08:00-09:00", 1, "dates are outside"},
		{"Mo sunrise-17:00", 4, "times of the sun"},
		{"Mo 08:00+", 9, "open end"},
		{"Mo 08:00-09:00+", 15, "open end"},
		{"Mo[1] 08:00-09:00", 3, "nth weekday"},
		{"Mo 08:00-09:00 \"free\"", 16, "belong to passage plans"},
		{"Mo 08:00-09:00 || Tu", 16, "not understood"},
		{"Mo 08:00-09:00 off", 16, "outside the subset"},
		{"Mo 26:00-03:00", 4, "what is left of a night"},
		{"Mo 26:00-49:00", 10, "not a time"},
		{"PH Mo-Fr 10:00-14:00", 3, "holidays on some weekdays only"},
		{"Mo 8-9", 4, "hours and minutes"},
		{"Mo", 3, "times are missing"},
	} {
		_, err := ParseWeek(c.text)
		var e *Error
		if assert.ErrorAs(t, err, &e, c.text) {
			assert.Equal(t, c.pos, e.Pos+1, c.text)
			assert.Contains(t, e.Words, c.says, c.text)
		}
	}
}

// The text of one holiday type means the row, with or without PH, and names no weekdays.
func TestRowText(t *testing.T) {
	for text, want := range map[string][]hours.Period{
		"PH 10:00-14:00":          {{Start: 600, End: 840}},
		"10:00-14:00":             {{Start: 600, End: 840}},
		"10:00-12:00,13:00-14:00": {{Start: 600, End: 720}, {Start: 780, End: 840}},
		"PH off":                  nil,
		"off":                     nil,
		"24/7":                    {{Start: 0, End: 1440}},
		"26:00-30:00":             {{Start: 1560, End: 1800}},
	} {
		got, err := ParseWeekRow(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
	segments, err := ParsePlanRow(`06:00-22:00 "barred"`, hours.Card, Levels{})
	require.NoError(t, err)
	assert.Equal(t, []hours.Segment{{Period: hours.Period{Start: 360, End: 1320}, Mode: hours.Barred}}, segments)
	segments, err = ParsePlanRow(`PH 06:00-08:00 "free", PH 20:00-22:00 "barred"`, hours.Card, Levels{})
	require.NoError(t, err)
	assert.Len(t, segments, 2)
	for _, text := range []string{"Mo 10:00-14:00", "Mo-Fr,PH 10:00-14:00"} {
		_, err = ParseWeekRow(text)
		assert.ErrorContains(t, err, "name no weekdays", text)
	}
}

func TestPlanText(t *testing.T) {
	p, err := ParsePlan(`Tu-Su 10:00-17:00 "free", Mo-Su 22:00-06:00 "Barred"`, hours.Card, Levels{})
	require.NoError(t, err)
	assert.Empty(t, p.Notices)
	assert.Equal(t, `Tu-Su 10:00-17:00 "free", Mo-Su 22:00-06:00 "barred"`, FormatPlan(p.Pattern, Levels{}))
	minutes := p.Minutes()
	assert.Equal(t, 6*7*60, minutes[hours.Free])
	assert.Equal(t, 7*8*60, minutes[hours.Barred])

	p, err = ParsePlan(`Mo-Fr 08:00-17:00 "free"; 22:00-24:00 "barred"`, hours.Card, Levels{})
	require.NoError(t, err)
	require.Len(t, p.Notices, 1)
	assert.Contains(t, p.Notices[0], "write , to add")

	_, err = ParsePlan(`Mo 08:00-09:00`, hours.Card, Levels{})
	assert.ErrorContains(t, err, "which mode?")
	_, err = ParsePlan(`Mo 08:00-09:00 "open"`, hours.Card, Levels{})
	assert.ErrorContains(t, err, "not a passage mode")
}

var someLevels = Levels{
	ID: func(name string) (int64, bool) {
		i := slices.Index([]string{"Registrars", "Night watch"}, name)
		return int64(i + 1), i >= 0
	},
	Name: func(id int64) string { return []string{"Registrars", "Night watch"}[id-1] },
}

// A segment may wait for a first card or be limited to levels, and holidays have rules of their own.
func TestPlanTextSaysMore(t *testing.T) {
	const text = `Mo-Fr 08:00-10:00 "card only Registrars|Night watch", Mo-Fr 10:00-17:00 "free after first card"`
	p, err := ParsePlan(text+`; PH 10:00-14:00 "free", PH 14:00-15:00 "card"`, hours.CardAndPIN, someLevels)
	require.NoError(t, err)
	assert.Equal(t, text, FormatPlan(p.Pattern, someLevels))
	assert.Equal(t, []int64{1, 2}, p.Week[0][0].Levels)
	assert.True(t, p.Week[0][1].First)
	assert.True(t, p.SaysPH)
	assert.Equal(t, `PH 10:00-14:00 "free", PH 14:00-15:00 "card"`, FormatPlanHolidays(p.Holidays, someLevels))
	for _, c := range []struct{ text, says string }{
		{`Mo 08:00-09:00 "card only Strangers"`, "no access level"},
		{`Mo 08:00-09:00 "card after first card"`, "only a free segment"},
		{`Mo 08:00-09:00 "free only Registrars"`, "asks for nothing"},
	} {
		_, err := ParsePlan(c.text, hours.Card, someLevels)
		assert.ErrorContains(t, err, c.says)
	}
}

// Holidays by the reference: a fortnight of April and May 2026 with the days that it took as public holidays.
func TestHolidaysAgainstReference(t *testing.T) {
	var v struct {
		From     string   `json:"from"`
		Holidays []string `json:"holidays"`
		Same     []vector `json:"same"`
		Differs  []vector `json:"differs"`
	}
	read(t, "testdata/holidays.json", &v)
	first, err := hours.ParseDay(v.From)
	require.NoError(t, err)
	require.Equal(t, []string{"2026-04-25", "2026-05-01"}, v.Holidays)
	calendar := hours.NewCalendar(
		[]hours.Holiday{{Dates: hours.HolidayDates{Kind: hours.OnDates, Dates: v.Holidays}, End: hours.DayMinutes}},
		[]int{1},
		first-10,
		first+40,
	)
	ours := func(text string) []bool {
		s, err := ParseWeek(text)
		require.NoError(t, err, text)
		require.True(t, s.SaysPH, text)
		row := hours.Row[hours.Period]{Answer: hours.Own, Own: s.Holidays}
		c := hours.CompileWeek(s.Week, row)
		out := make([]bool, 14*1440)
		for m := range out {
			out[m] = c.Open(calendar, first+hours.Day(m/1440), m%1440)
		}
		return out
	}
	for _, c := range v.Same {
		got, want := ours(c.Text), reference(c.Open)
		for m := 1440; m < 14*1440; m++ { // the night before the window cannot be seen by the reference
			require.Equal(t, want[m], got[m], "%s: %s %s", c.Text, first+hours.Day(m/1440), hours.Clock(m%1440))
		}
	}
	for _, c := range v.Differs {
		assert.False(t, slices.Equal(reference(c.Open)[1440:], ours(c.Text)[1440:]), "%s: the reference has changed its mind",
			c.Text)
	}
	// On purpose (design 3.1): a night belongs to the day on which it starts, so it runs on into a holiday …
	assert.True(t, ours("Th 22:00-06:00; PH off")[11*1440+3*60], "Friday 1 May 03:00, after Thursday's evening")
	// … and a holiday that is off has no night, nor the morning after it.
	assert.False(t, ours("Fr 22:00-06:00; PH off")[12*1440+3*60], "Saturday 2 May 03:00, no evening before it")
	assert.False(t, ours("Mo-Sa 22:00-06:00; PH 22:00-02:00")[12*1440+3*60],
		"Saturday 2 May 03:00: the holiday's own night ended at 02:00")
}

// What is written is read as the same hours.
func TestRoundTrip(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var w hours.Week
		p := hours.Pattern{Default: rapid.SampledFrom(hours.Modes).Draw(t, "default")}
		for range rapid.IntRange(0, 9).Draw(t, "n") {
			d := rapid.IntRange(0, 6).Draw(t, "day")
			start := rapid.IntRange(0, 1439).Draw(t, "start")
			period := hours.Period{Start: start, End: start + rapid.IntRange(1, 1440).Draw(t, "length")}
			w[d] = append(w[d], period)
			seg := hours.Segment{Period: period, Mode: rapid.SampledFrom(hours.Modes).Draw(t, "mode")}
			switch seg.Mode {
			case hours.Free:
				seg.First = rapid.Bool().Draw(t, "first")
			case hours.Barred:
			default:
				seg.Levels = rapid.SampledFrom([][]int64{nil, {1}, {1, 2}}).Draw(t, "levels")
			}
			p.Paint(d, seg)
		}
		got, err := ParseWeek(FormatWeek(w))
		require.NoError(t, err, FormatWeek(w))
		require.True(t, slices.Equal(minutes(w)[:7*1440], minutes(got.Week)[:7*1440]), FormatWeek(w))
		text := FormatPlan(p, someLevels)
		again, err := ParsePlan(text, p.Default, someLevels)
		require.NoError(t, err, text)
		require.Empty(t, again.Notices)
		require.Equal(t, p.Minutes(), again.Minutes(), text)
		require.Equal(t, text, FormatPlan(again.Pattern, someLevels))
	})
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"Mo-Fr 08:30-17:00; Sa 10:00-16:00", "24/7", "off", `Mo 22:00-30:00 "card or PIN", Tu off`,
		"10:00-14:00", "Mo 26:00-30:00", "PH Mo", "Mo,", "\"", "Mo[", "9:99-"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		if w, err := ParseWeek(s); err == nil {
			require.NoError(t, w.Week.Valid())
			text := FormatWeek(w.Week)
			if w.SaysPH {
				text += "; " + FormatHolidays(w.Holidays)
			}
			again, err := ParseWeek(text)
			require.NoError(t, err)
			require.True(t, slices.Equal(minutes(w.Week), minutes(again.Week)))
			require.Equal(t, w.Holidays, again.Holidays)
			require.Equal(t, w.SaysPH, again.SaysPH)
		} else {
			var e *Error
			require.ErrorAs(t, err, &e)
			require.LessOrEqual(t, e.Pos, len(s))
		}
		if p, err := ParsePlan(s, hours.Card, someLevels); err == nil {
			require.NoError(t, p.Valid())
			require.NoError(t, hours.ValidRow(hours.Card, p.Holidays))
		}
		if own, err := ParsePlanRow(s, hours.Card, someLevels); err == nil {
			require.NoError(t, hours.ValidRow(hours.Card, own))
		}
		if own, err := ParseWeekRow(s); err == nil {
			again, err := ParseWeekRow(FormatHolidays(own))
			require.NoError(t, err)
			require.Equal(t, own, again)
		}
	})
}
