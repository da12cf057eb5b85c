package script_test

import (
	"fmt"
	"strings"

	"amberkeystone/core/site"
	"amberkeystone/formats/script"
)

// A line that cannot be played is refused with its number.
func ExampleParse() {
	c := &site.Config{
		Controllers: []site.Controller{{ID: 9, Name: "Riser"}},
		Doors:       []site.Door{{ID: 1, Name: "Lab", ControllerID: 9, Port: 1, Hardware: site.UsualHardware()}},
	}
	acts, err := script.Parse("# the day begins\n2026-11-26T08:00:00-04:00, Riser, press Lab\n", c)
	fmt.Println(len(acts), acts[0].At.Time().Format("15:04 MST"), acts[0].Input.Point, err)
	_, err = script.Parse("2026-11-26T08:00:00-04:00, Riser, press Gate\n", c)
	words, _, _ := strings.Cut(err.Error(), ";")
	fmt.Println(words)
	// Output:
	// 1 12:00 UTC i2 <nil>
	// line 1: "press Gate" is not understood
}
