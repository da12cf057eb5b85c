package image_test

import (
	"fmt"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// What a controller lacks, in words, and the same thing as bytes: two images are the same where their names are.
func ExampleDiff() {
	c := &site.Config{
		Settings: site.DefaultSettings(), Sites: []site.Site{{ID: 1}}, Floors: []site.Floor{{ID: 2, SiteID: 1}},
		Controllers: []site.Controller{{ID: 3, SiteID: 1}}, Plans: []site.Plan{{ID: 4, Pattern: hours.Pattern{Default: hours.Card}}},
		Doors: []site.Door{{ID: 5, FloorID: 2, ControllerID: 3, PlanID: 4, Port: 1, Hardware: site.UsualHardware()}},
	}
	was := image.Build(c, 3, hours.Zone{Name: "UTC"}, image.Secrets{})
	c.Doors[0].Unlock = 9
	is := image.Build(c, 3, hours.Zone{Name: "UTC"}, image.Secrets{})
	for _, x := range image.Diff(was, is, image.Names{5: "Gate"}) {
		fmt.Println(x.Kind, x.Words)
	}
	fmt.Println(image.NameOf(was.Bytes()) == image.NameOf(is.Bytes()))
	// Output:
	// door Gate: unlock time 9 s, was 5 s
	// false
}
