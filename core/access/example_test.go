package access_test

import (
	"fmt"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Whose card it is, whether a level covers the door now, and every check on the way.
func Example() {
	evening := hours.Week{}
	for d := range evening {
		evening[d] = []hours.Period{{Start: 18 * 60, End: 22 * 60}}
	}
	c := &site.Config{
		Settings:  site.DefaultSettings(),
		Doors:     []site.Door{{ID: 1, Port: 1, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()}},
		Plans:     []site.Plan{{ID: 20}},
		Schedules: []site.Schedule{{ID: 30, Week: evening}},
		Levels:    []site.Level{{ID: 40, Entries: []site.Entry{site.At(1, 30)}}},
		People: []*site.Person{
			{ID: 50, Levels: []site.Grant{{LevelID: 40}}, Credentials: []site.Credential{site.NewCard("26-bit", 42, 7)}},
		},
	}
	table := image.Build(c, 9, hours.Zone{Name: "UTC"}, image.Secrets{}).Compile()
	read, _ := cards.Standard26.Encode(42, 7)
	noon := hours.Instant(12 * 3600 * 1000) // of 1 January 1970, a Thursday
	d, trace := table.Decide(&pass.Request{At: noon, Mode: hours.Card, HasCard: true, Bits: read})
	fmt.Println(d.Reason, "for person", d.Person, "until", d.Next.Time().Format("15:04"))
	for _, check := range trace.Checks() {
		fmt.Println(check.Kind == pass.CheckHours, check.OK)
	}
	// Output:
	// outside-hours for person 50 until 18:00
	// false true
	// false true
	// false true
	// false true
	// false true
	// true false
}
