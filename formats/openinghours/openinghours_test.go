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

type vectors struct {
	Same, Differs []struct {
		Text string
		Open [][2]int
	}
}

// monday is 2026-06-01, as in the vectors.
var monday = hours.DayOf(2026, 6, 1)

func minutes(w hours.Week) []bool {
	s := hours.CompileWeek(w)
	out := make([]bool, 14*1440)
	for m := range out {
		out[m] = s.Open(monday+hours.Day(m/1440), m%1440)
	}
	return out
}

// Against the opening_hours package of npm: testdata/vectors.json names the version that made them.
func TestAgainstReference(t *testing.T) {
	b, err := os.ReadFile("testdata/vectors.json")
	require.NoError(t, err)
	var v vectors
	require.NoError(t, json.Unmarshal(b, &v))
	require.NotEmpty(t, v.Same)
	reference := func(open [][2]int) []bool {
		out := make([]bool, 14*1440)
		for _, o := range open {
			for m := o[0]; m < o[1]; m++ {
				out[m] = true
			}
		}
		return out
	}
	for _, c := range v.Same {
		w, err := ParseWeek(c.Text)
		require.NoError(t, err, c.Text)
		got, want := minutes(w), reference(c.Open)
		for m := range want {
			// The first night before the window cannot be seen by the reference.
			if got[m] != want[m] && m >= 1440 {
				t.Errorf("%s: %s %s is open=%v, the reference says %v", c.Text, hours.DayNames[m/1440%7], hours.Clock(m%1440), got[m], want[m])
				break
			}
		}
	}
	for _, c := range v.Differs { // on purpose: a night belongs to the day on which it starts, whole
		w, err := ParseWeek(c.Text)
		require.NoError(t, err, c.Text)
		assert.False(t, slices.Equal(reference(c.Open), minutes(w)), "%s: the reference has changed its mind", c.Text)
	}
	night, err := ParseWeek("Fr 22:00-06:00; Sa 10:00-16:00")
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
		{"PH off", 1, "rows of their own"},
		{"Mo-Fr 08:00-18:00; PH off", 20, "rows of their own"},
		{"Jan 08:00-09:00", 1, "dates are outside"},
		{"Mo sunrise-17:00", 4, "times of the sun"},
		{"Mo 08:00+", 9, "open end"},
		{"Mo 08:00-09:00+", 15, "open end"},
		{"Mo[1] 08:00-09:00", 3, "nth weekday"},
		{"Mo 08:00-09:00 \"free\"", 16, "belong to passage plans"},
		{"Mo 08:00-09:00 || Tu", 16, "not understood"},
		{"Mo 08:00-09:00 off", 16, "outside the subset"},
		{"Mo 26:00-27:00", 4, "starts before 24:00"},
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

func TestPlanText(t *testing.T) {
	p, notices, err := ParsePlan(`Tu-Su 10:00-17:00 "free", Mo-Su 22:00-06:00 "Barred"`, hours.Card)
	require.NoError(t, err)
	assert.Empty(t, notices)
	assert.Equal(t, `Tu-Su 10:00-17:00 "free", Mo-Su 22:00-06:00 "barred"`, FormatPlan(p))
	minutes := p.Minutes()
	assert.Equal(t, 6*7*60, minutes[hours.Free])
	assert.Equal(t, 7*8*60, minutes[hours.Barred])

	_, notices, err = ParsePlan(`Mo-Fr 08:00-17:00 "free"; 22:00-24:00 "barred"`, hours.Card)
	require.NoError(t, err)
	require.Len(t, notices, 1)
	assert.Contains(t, notices[0], "write , to add")

	_, _, err = ParsePlan(`Mo 08:00-09:00`, hours.Card)
	assert.ErrorContains(t, err, "which mode?")
	_, _, err = ParsePlan(`Mo 08:00-09:00 "open"`, hours.Card)
	assert.ErrorContains(t, err, "not a passage mode")
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
			p.Paint(d, hours.Segment{Period: period, Mode: rapid.SampledFrom(hours.Modes).Draw(t, "mode")})
		}
		got, err := ParseWeek(FormatWeek(w))
		require.NoError(t, err, FormatWeek(w))
		require.True(t, slices.Equal(minutes(w)[:7*1440], minutes(got)[:7*1440]), FormatWeek(w))
		again, notices, err := ParsePlan(FormatPlan(p), p.Default)
		require.NoError(t, err, FormatPlan(p))
		require.Empty(t, notices)
		require.Equal(t, p.Minutes(), again.Minutes(), FormatPlan(p))
		require.Equal(t, FormatPlan(p), FormatPlan(again))
	})
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"Mo-Fr 08:30-17:00; Sa 10:00-16:00", "24/7", "off", `Mo 22:00-30:00 "card or PIN", Tu off`, "Mo,", "\"", "Mo[", "9:99-"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		if w, err := ParseWeek(s); err == nil {
			require.NoError(t, w.Valid())
			again, err := ParseWeek(FormatWeek(w))
			require.NoError(t, err)
			require.True(t, slices.Equal(minutes(w), minutes(again)))
		} else {
			var e *Error
			require.ErrorAs(t, err, &e)
			require.LessOrEqual(t, e.Pos, len(s))
		}
		if p, _, err := ParsePlan(s, hours.Card); err == nil {
			require.NoError(t, p.Valid())
		}
	})
}
