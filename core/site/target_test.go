package site

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/point"
)

// shore is two sites with a floor each, three doors and a set.
func shore() *Config {
	return &Config{
		Sites: []Site{{ID: 1}, {ID: 2}}, Floors: []Floor{{ID: 10, SiteID: 1}, {ID: 11, SiteID: 1}, {ID: 12, SiteID: 2}},
		Doors: []Door{{ID: 20, FloorID: 10}, {ID: 21, FloorID: 11}, {ID: 22, FloorID: 12}}, Sets: []DoorSet{
			{ID: 30, DoorIDs: []ID{20, 22}},
		},
	}
}

func TestTargets(t *testing.T) {
	p := NewPlaces(shore())
	for name, c := range map[string]struct {
		target Target
		want   []ID
	}{
		"a door":            {Target{Kind: AtDoor, ID: 21}, []ID{21}},
		"a reader":          {Target{Kind: AtReader, ID: 21, Out: true}, []ID{21}},
		"a door set":        {Target{Kind: AtDoorSet, ID: 30}, []ID{20, 22}},
		"a floor":           {Target{Kind: AtFloor, ID: 11}, []ID{21}},
		"a site":            {Target{Kind: AtSite, ID: 1}, []ID{20, 21}},
		"everything":        {Target{Kind: Everything}, []ID{20, 21, 22}},
		"a door that is no": {Target{Kind: AtDoor, ID: 99}, nil},
		"nothing":           {Target{}, nil},
	} {
		t.Run(name, func(t *testing.T) {
			assert.Equal(t, c.want, p.Doors(c.target))
			for _, d := range shore().Doors {
				in := false
				for _, id := range c.want {
					in = in || id == d.ID
				}
				assert.Equal(t, in, p.Covers(c.target, d.ID))
			}
		})
	}
}

func TestEntriesResolve(t *testing.T) {
	l := Level{Entries: []Entry{
		{Target: Target{Kind: AtReader, ID: 21, Out: true}, ScheduleID: 5}, {Target: Target{Kind: AtReader, ID: 21}, ScheduleID: 6},
		{Target: Target{Kind: AtSite, ID: 1}, ScheduleID: 7}, At(22, 8),
	}}
	assert.Equal(t, []Covered{{21, 5, SideOut, StopSet{}}, {21, 6, SideIn, StopSet{}}, {20, 7, BothSides, StopSet{}},
		{21, 7, BothSides, StopSet{}}, {22, 8, BothSides, StopSet{}}}, NewPlaces(shore()).Entries(&l))
	for side, takes := range map[Side][2]bool{BothSides: {true, true}, SideIn: {true, false}, SideOut: {false, true},
		SideNone: {false, false}} {
		assert.Equal(t, takes, [2]bool{side.Takes(false), side.Takes(true)})
	}
}

// Entries from before there were targets are read, and written in the new form.
func TestEntryText(t *testing.T) {
	for text, want := range map[string]Entry{
		`{"doorId":3,"scheduleId":4}`:                                   At(3, 4),
		`{"target":{"kind":"door","id":3},"scheduleId":4}`:              At(3, 4),
		`{"target":{"kind":"reader","id":3,"out":true},"scheduleId":4}`: {Target: Target{AtReader, 3, true}, ScheduleID: 4},
		`{"target":{"kind":"everything"},"scheduleId":4}`:               {Target: Target{Kind: Everything}, ScheduleID: 4},
	} {
		var e Entry
		require.NoError(t, json.Unmarshal([]byte(text), &e), text)
		assert.Equal(t, want, e)
		b, err := json.Marshal(e)
		require.NoError(t, err)
		var again Entry
		require.NoError(t, json.Unmarshal(b, &again))
		assert.Equal(t, e, again)
		assert.NotContains(t, string(b), "doorId")
	}
	var e Entry
	assert.Error(t, json.Unmarshal([]byte(`{"target":7}`), &e))
}

func TestTargetFaults(t *testing.T) {
	for want, target := range map[string]Target{
		"":                       {Kind: AtDoor, ID: 1},
		"entries[0].target.kind": {Kind: "roof", ID: 1},
		"entries[0].target.id":   {Kind: AtFloor},
		"entries[0].target.out":  {Kind: AtDoor, ID: 1, Out: true},
		"entries[0].target.id entries[0].target.out": {Kind: Everything, ID: 4, Out: true},
	} {
		assert.Equal(t, want, fields(Level{Name: "x", Entries: []Entry{{Target: target, ScheduleID: 2}}}.Check()))
	}
}

func TestTerminals(t *testing.T) {
	d := Door{ID: 1, ControllerID: 9, Port: 2, Hardware: UsualHardware()}
	assert.Equal(
		t,
		Points{
			In: point.At(point.Reader, 3), Contact: point.At(point.Input, 3), Exit: point.At(point.Input, 4),
			Lock: point.At(point.Output, 2),
		},
		d.Wired(),
	)
	d.Points = &Points{Lock: point.Address{Board: 1, Kind: point.Output, Number: 4}}
	assert.Equal(t, d.Points.Lock, d.Wired().Lock)
	assert.Equal(t, point.At(point.Reader, 4), d.Terminals().Out, "also of what is not fitted")
	good := Door{
		Name: "x", FloorID: 1, ControllerID: 9, Port: 1, PlanID: 1, FirstCard: UsualFirstCard(), Hardware: UsualHardware(),
	}
	for name, c := range map[string]struct {
		points Points
		want   string
	}{
		"an input as the lock":      {Points{Lock: point.At(point.Input, 1)}, "the lock cannot be on i1"},
		"contact and exit together": {Points{Contact: point.At(point.Input, 7), Exit: point.At(point.Input, 7)}, "that this door uses already"},
	} {
		t.Run(name, func(t *testing.T) {
			bad := good
			bad.Points = &c.points
			assert.ErrorContains(t, bad.Check(), c.want)
		})
	}
}
