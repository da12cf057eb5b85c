package compare_test

import (
	"fmt"

	"amberkeystone/core/compare"
	"amberkeystone/core/hours"
)

// What painting two more hours into a plan comes to, before it is saved.
func ExamplePlans() {
	was := hours.Pattern{Default: hours.Card}
	is := was
	is.Paint(4, hours.Segment{Period: hours.Period{Start: 17 * 60, End: 19 * 60}, Mode: hours.Free})
	for _, c := range compare.Plans(was, is) {
		fmt.Println(c.Words)
	}
	// Output:
	// +2 h 00 free a week
	// −2 h 00 card a week
}
