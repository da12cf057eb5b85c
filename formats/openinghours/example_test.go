package openinghours_test

import (
	"fmt"

	"amberkeystone/core/hours"
	"amberkeystone/formats/openinghours"
)

func ExampleParseWeek() {
	s, err := openinghours.ParseWeek("Mo-Fr 08:30-17:00; Sa 22:00-02:00; PH off")
	fmt.Println(s.Week[0], s.Week[5], err)
	_, err = openinghours.ParseWeek("Mo 06:00-07")
	fmt.Println(err)
	fmt.Println(openinghours.FormatWeek(hours.Always()))
	// Output:
	// [08:30-17:00] [22:00-02:00] <nil>
	// at position 10: a time has hours and minutes, such as 08:30
	// 24/7
}
