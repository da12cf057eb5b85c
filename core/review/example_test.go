package review_test

import (
	"fmt"

	"amberkeystone/core/hours"
	"amberkeystone/core/review"
	"amberkeystone/core/site"
)

// A finding says what is wrong, and the mend.
func ExampleHours() {
	c := &site.Config{Schedules: []site.Schedule{{ID: 8, Name: "Summer lectures"}}}
	zone := func(site.ID) *hours.Zone { return &hours.Zone{Name: "UTC"} }
	for _, f := range review.Hours(c, site.NewTimetable(c, zone), zone, 0) {
		fmt.Printf("%s: %s %s\n", f.Severity, f.Words, f.Mend)
	}
	// Output:
	// risky: Summer lectures never opens: no period is painted. Paint its hours; where nobody is meant to come in, use Never.
	// untidy: Nothing uses Summer lectures. Use it in an access level, or remove it.
}
