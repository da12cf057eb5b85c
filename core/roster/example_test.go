package roster_test

import (
	"fmt"

	"amberkeystone/core/roster"
	"amberkeystone/core/site"
)

// One who is known stays as they are, one is new, and one row is wrong.
func ExamplePlan() {
	c := &site.Config{Settings: site.DefaultSettings(), People: []*site.Person{{ID: 7, Name: "Ada Reed", Record: site.Record{Number: "901"}}}}
	rows := []roster.Row{
		{Line: 2, Values: map[roster.Field]string{roster.Name: "Ada Reed", roster.Number: "901"}},
		{Line: 3, Values: map[roster.Field]string{roster.Name: "Ben Holt"}},
		{Line: 4, Values: map[roster.Field]string{roster.Name: ""}},
	}
	planned, _ := roster.Plan(c, rows)
	for _, p := range planned {
		fmt.Println(p.Line, p.Fate, p.Name, p.Faults)
	}
	// Output:
	// 2 unchanged Ada Reed []
	// 3 new Ben Holt []
	// 4 wrong  [{name give a name, or a number or a card of somebody who is known}]
}
