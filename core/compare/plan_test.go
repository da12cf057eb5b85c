package compare

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

func TestPlans(t *testing.T) {
	was := hours.Pattern{}
	was.Paint(4, hours.Segment{Period: hours.Period{Start: 600, End: 1020}, Mode: hours.Free})
	is := was.Normal()
	is.Paint(4, hours.Segment{Period: hours.Period{Start: 1020, End: 1140}, Mode: hours.Free})
	assert.Equal(t, []Consequence{{"+2 h 00 free a week", 1}, {"−2 h 00 card a week", 0}}, Plans(was, is))
	assert.Empty(t, Plans(was, was))
	is.Paint(0, hours.Segment{Period: hours.Period{Start: 0, End: 60}, Mode: hours.Barred})
	assert.Contains(t, Plans(was, is), Consequence{"+1 h 00 barred a week", -1}, "less is open")
}

func TestLevels(t *testing.T) {
	places := site.NewPlaces(&site.Config{Doors: []site.Door{{ID: 0}, {ID: 1}, {ID: 2}, {ID: 3}}})
	name := func(id site.ID) string { return string(rune('A' + id)) }
	was := site.Level{Entries: []site.Entry{site.At(0, 1), site.At(1, 1), site.At(2, 1), site.At(2, 2)}}
	is := site.Level{Entries: []site.Entry{site.At(2, 2), site.At(2, 1), site.At(1, 2), site.At(3, 1)}}
	assert.Equal(t, []Consequence{{"Leads through D", 1}, {"No longer leads through A", -1}, {"At other hours: B", 0}},
		Levels(places, was, is, name))
	assert.Empty(t, Levels(places, was, was, name))

	may, mayNot := was, was
	may.Disarms, mayNot.OpensDay = true, true
	assert.Equal(t, []Consequence{
		{"Who has it may no longer give the first card of the day", -1},
		{"Who has it may disarm alarm areas, and come in while they are armed", 1},
	}, Levels(places, mayNot, may, name))
}

func TestWeeks(t *testing.T) {
	var w hours.Week
	w[0] = []hours.Period{{Start: 480, End: 1020}}
	assert.Equal(t, []Consequence{{"+9 h 00 open a week", 1}}, Weeks(hours.Week{}, w))
	assert.Empty(t, Weeks(w, w))
}
