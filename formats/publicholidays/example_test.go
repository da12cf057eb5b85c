package publicholidays_test

import (
	"fmt"

	"amberkeystone/formats/publicholidays"
)

func ExampleDays() {
	region, days, err := publicholidays.Days("CA-NS", 2027, 2027)
	fmt.Println(region.Name, err)
	for _, d := range days {
		if d.Date == "2027-07-01" || d.Date == "2027-12-25" {
			fmt.Println(d.Date, d.Name)
		}
	}
	// Output:
	// Canada, Nova Scotia <nil>
	// 2027-07-01 Canada Day
	// 2027-12-25 Christmas Day
}
