package alarmarea_test

import (
	"fmt"

	"amberkeystone/core/rules/alarmarea"
)

// From the first moment of the exit delay on those are kept out who may not disarm.
func ExampleState() {
	for s := alarmarea.Disarmed; s <= alarmarea.Alarm; s++ {
		fmt.Printf("%s: %t\n", s.Words(), s.Closed())
	}
	// Output:
	// disarmed: false
	// exit delay: true
	// armed: true
	// entry delay: true
	// alarm: true
}
