package compare

import (
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
)

func TestPlans(t *testing.T) {
	was := hours.Pattern{}
	was.Paint(4, hours.Segment{Period: hours.Period{Start: 600, End: 1020}, Mode: hours.Free})
	is := was.Normal()
	is.Paint(4, hours.Segment{Period: hours.Period{Start: 1020, End: 1140}, Mode: hours.Free})
	assert.Equal(t, []Consequence{{"+2 h 00 free a week", 1}, {"−2 h 00 card a week", -1}}, Plans(was, is))
	assert.Empty(t, Plans(was, was))

	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	thursday := hours.At(time.Date(2026, 11, 26, 14, 7, 0, 0, loc))
	z := hours.ZoneFrom(loc, thursday-86400000, thursday.Add(60*24*time.Hour))
	at, ok := FirstDifference(was, is, &z, thursday)
	require.True(t, ok)
	assert.Equal(t, "Fri 27 Nov 17:00", z.Time(at).Format("Mon 2 Jan 15:04"))
	_, ok = FirstDifference(was, was, &z, thursday)
	assert.False(t, ok)
}

func TestWeeks(t *testing.T) {
	var w hours.Week
	w[0] = []hours.Period{{Start: 480, End: 1020}}
	assert.Equal(t, []Consequence{{"+9 h 00 open a week", 1}}, Weeks(hours.Week{}, w))
	assert.Empty(t, Weeks(w, w))
}
