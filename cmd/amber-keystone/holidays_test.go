package main

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Asked of the site file alone: a holiday, the Lantern evening over a plan, a half day, a day for nobody.
func TestHoursOnSpecialDays(t *testing.T) {
	ask := func(args ...string) (list []period) {
		out, err := run(hoursCommand(), append([]string{"--site", museum}, args...)...)
		require.NoError(t, err)
		require.NoError(t, json.Unmarshal([]byte(out), &list))
		return list
	}
	day := func(date string) []string {
		return []string{"--from", date + "T00:00:00-04:00", "--to", date + "T23:59:00-04:00"}
	}
	modes := func(list []period) (out []string) {
		for _, p := range list {
			out = append(out, p.From[11:16]+" "+p.Mode)
		}
		return out
	}
	quay := func(date string) []string {
		return modes(ask(append([]string{"--door", "Quay entrance"}, day(date)...)...))
	}
	assert.Equal(t, []string{"00:00 barred", "06:00 card", "10:00 free", "17:00 card", "22:00 card and PIN"},
		quay("2026-11-25"))
	assert.Equal(t, []string{"00:00 barred", "06:00 card", "22:00 card and PIN"}, quay("2026-11-26"), "Founders' Day")
	assert.Equal(
		t,
		[]string{"00:00 barred", "06:00 card", "10:00 free", "17:00 free", "21:30 card", "22:00 card and PIN"},
		quay("2026-11-27"),
		"after its first card until 17:00, then for all",
	)
	assert.Equal(
		t,
		[]string{"00:00 barred", "17:00 free", "21:30 barred"},
		quay("2026-12-25"),
		"an honest mistake: the last Friday of December is Christmas, and a finding says so",
	)
	assert.Equal(t, []string{"00:00 barred"}, quay("2026-12-26"))
	assert.Equal(t, []string{"00:00 barred", "06:00 card", "10:00 free", "14:00 card", "22:00 card and PIN"},
		quay("2026-12-31"))

	open := ask(append([]string{"--schedule", "Gallery days"}, day("2026-12-24")...)...)
	require.Len(t, open, 1)
	assert.Equal(t, "2026-12-24T15:00:00-04:00", open[0].To, "a short day")
	assert.Empty(t, ask(append([]string{"--schedule", "Office hours"}, day("2026-12-25")...)...), "nobody")
	assert.Len(t, ask(append([]string{"--schedule", "Cleaning evenings"}, day("2026-12-25")...)...), 1, "but the cleaners")
}

// Why somebody is refused on a holiday, and when they may come again.
func TestAskOnAHoliday(t *testing.T) {
	out, err := run(askCommand(), "--site", museum, "--person", "Sunniva Lindqvist", "--door", "Staff entrance", "--at",
		"2026-12-25T12:00:00-04:00")
	assert.ErrorIs(t, err, errAnswerNo)
	var a struct {
		Reason, Next string
		Trace        []struct{ Words string }
	}
	require.NoError(t, json.Unmarshal([]byte(out), &a))
	assert.Equal(t, "outside-hours", a.Reason)
	assert.Contains(t, a.Trace[len(a.Trace)-1].Words, "closed on Fri (Christmas)")
	_, err = run(askCommand(), "--site", museum, "--person", "Ines Marrow", "--door", "Reading room", "--at",
		"2026-12-25T12:00:00-04:00")
	assert.NoError(t, err, "Always is always")
}
