package asks_test

import (
	"fmt"

	"amberkeystone/core/asks"
	"amberkeystone/core/hours"
)

// always is a layer that asks the same at all times.
type always hours.Mode

func (a always) Says(hours.Instant) (asks.Answer, bool, hours.Instant) {
	var out asks.Answer
	out.Mode = hours.Mode(a)
	return out, true, hours.Never
}

// silent is a layer that has no answer before noon.
type silent struct{ below always }

func (s silent) Says(at hours.Instant) (asks.Answer, bool, hours.Instant) {
	const noon = hours.Instant(12 * 60 * 60 * 1000)
	if at < noon {
		return asks.Answer{}, false, noon
	}
	return s.below.Says(at)
}

// Of the layers the first that has an answer decides (design 3.3).
func ExampleLayers() {
	layers := asks.Layers{silent{always(hours.Barred)}, always(hours.Card)}
	for _, at := range []hours.Instant{0, 13 * 60 * 60 * 1000} {
		a, next := layers.At(at)
		fmt.Println(a.Mode, next == hours.Never)
	}
	// Output:
	// card false
	// barred true
}
