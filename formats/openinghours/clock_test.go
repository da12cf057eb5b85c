package openinghours

import (
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
)

// On the nights when the clocks change, minute by minute, as the opening_hours package reads the clock on the wall:
// the hour that does not exist never comes, the one that comes twice is in or out both times (design 3.1).
func TestClockChangesAgainstReference(t *testing.T) {
	var v struct {
		Zone    string
		Windows []struct {
			From, To int64
			Cases    []struct {
				Text  string
				Turns []int64
			}
		}
	}
	read(t, "testdata/clock.json", &v)
	loc, err := time.LoadLocation(v.Zone)
	require.NoError(t, err)
	z := hours.ZoneFrom(loc, hours.At(time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)),
		hours.At(time.Date(2028, 1, 1, 0, 0, 0, 0, time.UTC)))
	here := hours.Local{Zone: &z}
	require.Len(t, v.Windows, 2)
	for _, w := range v.Windows {
		require.NotEqual(t, int64(2880), w.To-w.From, "one of the days has 23 or 25 hours")
		for _, c := range w.Cases {
			week, err := parseWeek(c.Text)
			require.NoError(t, err, c.Text)
			s := hours.CompileWeek(week)
			var turns []int64
			was := false
			for m := w.From; m < w.To; m++ {
				if is := s.OpenAt(here, hours.Instant(m*60000)); is != was {
					turns, was = append(turns, m), is
				}
			}
			assert.Equal(t, c.Turns, append([]int64{}, turns...), "%s from %s", c.Text, z.Time(hours.Instant(w.From*60000)))
			for i, m := range turns[:max(len(turns)-1, 0)] { // and the next change is found from each
				assert.Equal(t, hours.Instant(turns[i+1]*60000), s.Next(here, hours.Instant(m*60000)), c.Text)
			}
		}
	}
}
