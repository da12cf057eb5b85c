package power_test

import (
	"fmt"

	"amberkeystone/core/power"
)

// The resistance of a kilometre of wire, of gauge 18 and 22: 20.95 Ω and 52.96 Ω (ASTM B258, from memory).
func ExampleOhmsPerMetre() {
	fmt.Printf("%.2f %.2f\n", 1000*power.OhmsPerMetre(18), 1000*power.OhmsPerMetre(22))
	// Output:
	// 20.95 52.96
}
