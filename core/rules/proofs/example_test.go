package proofs_test

import (
	"fmt"

	"amberkeystone/core/rules/proofs"
	"amberkeystone/core/site"
)

// Two people of whom one is a registrar and one a conservator: somebody who is both cannot stand for both.
func ExamplePossible() {
	const registrars, conservators site.ID = 1, 2
	two := site.Combination{Total: 2, Parts: []site.Part{{GroupID: registrars, Count: 1}, {GroupID: conservators, Count: 1}}}
	groups := [][]site.ID{{registrars, conservators}, {registrars}, {}}
	may := func(people ...int) bool {
		return proofs.Possible(&two, len(people), func(i int, group site.ID) bool {
			for _, g := range groups[people[i]] {
				if g == group {
					return true
				}
			}
			return false
		})
	}
	fmt.Println(may(0, 1), may(0, 2), may(0))
	// Output:
	// true false false
}
