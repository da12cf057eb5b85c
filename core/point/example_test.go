package point_test

import (
	"fmt"

	"amberkeystone/core/point"
)

// Of a supervised wire a cut and a short circuit are told apart from the switch itself.
func ExampleWire() {
	w := point.Wire{NormallyClosed: true, Supervised: true}
	for _, active := range []bool{false, true} {
		fmt.Println(w.Circuit(active), "is", w.Level(w.Circuit(active)))
	}
	fmt.Println(w.Level(point.Open), w.Level(point.Closed))
	at, err := point.Parse("2/i3")
	fmt.Println(at.Board, at.Number, err)
	// Output:
	// one-resistor is normal
	// two-resistors is active
	// cut shorted
	// 2 3 <nil>
}
