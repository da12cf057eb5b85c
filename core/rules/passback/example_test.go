package passback_test

import (
	"fmt"

	"amberkeystone/core/rules/passback"
)

// Two controllers that were cut off from each other saw somebody: whatever comes first, the later place wins.
func ExampleBook() {
	here := passback.Place{Person: 7, Area: 1, At: 1000, Controller: 3, Seq: 12}
	there := passback.Place{Person: 7, Area: 2, At: 2000, Controller: 4, Seq: 5}
	for _, order := range [][]passback.Place{{here, there}, {there, here}} {
		b := passback.NewBook()
		for _, p := range order {
			b.Put(p)
		}
		fmt.Println(b.Inside(1), b.Inside(2), b.Among(2))
	}
	// Output:
	// 0 1 [7]
	// 0 1 [7]
}
