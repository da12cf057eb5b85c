package site_test

import (
	"fmt"

	"amberkeystone/core/site"
)

// Every refusal names the field and the mend.
func ExampleFaults() {
	a := site.UsualAlarmArea(0)
	a.Name, a.Single, a.Reads = "Shop", true, 0
	for _, f := range a.Check() {
		fmt.Printf("%s: %s\n", f.Field, f.Words)
	}
	// Output:
	// doorIds: choose a door or an input that belongs to it
	// single: say how many reads of a card arm it first
}

// Relays of a car count from the lowest floor upward, sixteen to an expander.
func ExampleUsualCar() {
	floors := make([]site.ID, 18)
	for i := range floors {
		floors[i] = site.ID(100 + i)
	}
	car := site.UsualCar(floors, []int{1, 2})
	for _, n := range []int{0, 15, 16} {
		at, _ := car.Relay(car.Stops[n].Relay)
		fmt.Println(car.Stops[n].FloorID, car.Stops[n].Relay, at)
	}
	// Output:
	// 100 1 1/o1
	// 115 16 1/o16
	// 116 17 2/o1
}

// A level leads where its entries say; doors that are added to a place later are meant too.
func ExamplePlaces() {
	c := &site.Config{
		Sites: []site.Site{{ID: 1}}, Floors: []site.Floor{{ID: 2, SiteID: 1}},
		Doors:  []site.Door{{ID: 5, FloorID: 2}, {ID: 6, FloorID: 2}},
		Levels: []site.Level{{ID: 9, Entries: []site.Entry{{Target: site.Target{Kind: site.AtFloor, ID: 2}, ScheduleID: 8}}}},
	}
	for _, e := range site.NewPlaces(c).Entries(&c.Levels[0]) {
		fmt.Println(e.DoorID, e.ScheduleID)
	}
	// Output:
	// 5 8
	// 6 8
}
