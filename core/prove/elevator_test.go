package prove

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/elevator"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// lift is book with a car of four floors: the second is free during Evenings, Tomas reaches the first by Crew in the
// evenings, and the fourth at all hours.
func lift(t *testing.T) *Book {
	b := book(t)
	c := *b.Config
	car := site.UsualCar([]site.ID{60, 61, 62, 63}, []int{1})
	car.Stops[1].FreeID = 30
	for i, name := range []string{"Cellar", "Street", "Offices", "Roof"} {
		c.Floors = append(c.Floors, site.Floor{ID: site.ID(60 + i), SiteID: 5, Name: name, Level: i - 1})
	}
	c.Sites = []site.Site{{ID: 5, Name: "House"}}
	c.Controllers = []site.Controller{{ID: 9, SiteID: 5, Model: "Stand-in 4", Ports: 4}}
	c.Plans = append(c.Plans, site.Plan{ID: 21, Name: "Cards", Pattern: hours.Pattern{Default: hours.Card}})
	c.Schedules = append(c.Schedules, site.Schedule{ID: 31, Name: "Always", Week: hours.Always(), Fixed: true})
	c.Doors = append(c.Doors, site.Door{
		ID: 2, Name: "Hoist", FloorID: 60, ControllerID: 9, Port: 2, PlanID: 21, Hardware: site.UsualElevator(), Car: &car,
	})
	c.Levels = append([]site.Level{}, c.Levels...)
	c.Levels[0].Entries = append(c.Levels[0].Entries,
		site.Entry{
			Target: site.Target{Kind: site.AtStops}, ScheduleID: 30, Ride: &site.Ride{FloorIDs: []site.ID{60}, AllCars: true},
		},
		site.Entry{Target: site.Target{Kind: site.AtStops}, ScheduleID: 31,
			Ride: &site.Ride{FloorIDs: []site.ID{63}, CarIDs: []site.ID{2}}})
	return NewBook(&c, map[site.ID]hours.Zone{9: *b.Zone(1)})
}

// Asked about an elevator the answer says of every floor whether it is reached, and why not.
func TestAskFloors(t *testing.T) {
	b := lift(t)
	a, err := b.Ask(50, 2, at(t, "2026-11-26T12:00:00-04:00"))
	require.NoError(t, err)
	assert.True(t, a.Granted)
	require.Len(t, a.Floors, 4)
	var words []string
	for _, f := range a.Floors {
		words = append(words, f.Floor+": "+f.Words)
	}
	assert.Equal(t, []string{
		"Cellar: Crew comes here, and Evenings is closed; again 18:00",
		"Street: nothing that they hold comes to this floor",
		"Offices: nothing that they hold comes to this floor",
		"Roof: Crew, during Always",
	}, words)
	assert.Equal(t, []bool{false, false, false, true},
		[]bool{a.Floors[0].Reached, a.Floors[1].Reached, a.Floors[2].Reached, a.Floors[3].Reached})
	a, err = b.Ask(50, 2, at(t, "2026-11-26T19:00:00-04:00"))
	require.NoError(t, err)
	assert.Equal(t, "Street: free until 22:00; no card is needed", a.Floors[1].Floor+": "+a.Floors[1].Words)
	assert.True(t, a.Floors[0].Reached && a.Floors[1].Reached)
}

// What the answer says of floors is what a controller releases, at every hour of a week.
func TestAskFloorsIsRiding(t *testing.T) {
	b := lift(t)
	for when := at(t, "2026-11-23T00:30:00-04:00"); when < at(t, "2026-11-30T00:00:00-04:00"); when += hours.Hour {
		w := NewWorld(b, when, image.Secrets{}, func(site.ID, *pass.Fact) {})
		a, err := b.Ask(50, 2, when)
		require.NoError(t, err)
		bits, err := cards.Standard26.Encode(42, 1)
		require.NoError(t, err)
		require.NoError(t, w.Do(when, 9, panel.Input{Kind: panel.Read, Point: site.PortPoints(2).In, Bits: bits}))
		for _, st := range w.Doors(9) {
			if st.Door != 2 {
				continue
			}
			for i, f := range st.Floors {
				assert.Equal(t, a.Floors[i].Reached, f.Why != elevator.Held, "%s at %d", a.Floors[i].Floor, when)
			}
		}
	}
}

func TestCarSentence(t *testing.T) {
	b := lift(t)
	noon, evening := at(t, "2026-11-26T12:00:00-04:00"), at(t, "2026-11-26T19:00:00-04:00")
	assert.Equal(t, "A **card** is needed at all hours.", b.Now(2, noon, nil).Sentence)
	assert.Equal(t, "**Street** is **free** until **22:00**. For the other floors: a **card** is needed at all hours.",
		b.Now(2, evening, nil).Sentence)
	assert.Equal(t, "The elevator is **barred**: no card releases a floor now, in lockdown, **until it is ended**.",
		b.Now(2, noon, &Live{Mode: hours.Barred, Layer: hours.Lockdown}).Sentence)
	assert.Contains(t, b.Now(2, noon, &Live{Mode: hours.Free, Layer: hours.FireRelease}).Sentence,
		"every floor relay has dropped")
	assert.Contains(t, b.Now(2, noon, &Live{Mode: hours.Free, Layer: hours.OperatorHold}).Sentence,
		"Every floor is **free** now, held by an operator")
}

// 4 floors: 8 relay events a card; 50,000 events are full after 5,555 cards (common practice).
func TestLouderWords(t *testing.T) {
	assert.Equal(t, "4 floors: up to 8 relay events a card; a log of 50,000 events is full after 5,555 cards.",
		lift(t).LouderWords(2))
	assert.Empty(t, lift(t).LouderWords(1))
}

func TestRideWords(t *testing.T) {
	b := lift(t)
	assert.Equal(t, "Cellar and Roof by Hoist", b.RideWords(&site.Ride{FloorIDs: []site.ID{60, 63}, CarIDs: []site.ID{2}}))
	assert.Equal(t, "all floors, later ones too by all elevators, later ones too", b.RideWords(&site.Ride{
		AllFloors: true, AllCars: true,
	}))
	assert.Equal(t, "no floor by no elevator", b.RideWords(&site.Ride{}))
}
