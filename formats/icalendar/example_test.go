package icalendar_test

import (
	"context"
	"fmt"

	"amberkeystone/core/hours"
	"amberkeystone/formats/icalendar"
)

// A holiday that comes back every year (RFC 5545, 3.8.5.3).
func ExampleRead() {
	const text = "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20260101T000000Z\r\n" +
		"DTSTART;VALUE=DATE:20261226\r\nRRULE:FREQ=YEARLY\r\nSUMMARY:Quiet day\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
	days, problems, err := icalendar.Read(context.Background(), text, hours.DayOf(2026, 1, 1), hours.DayOf(2028, 1, 1))
	for _, d := range days {
		fmt.Println(d.Date, d.Name, d.Start, d.End)
	}
	fmt.Println(problems, err)
	// Output:
	// 2026-12-26 Quiet day 0 1440
	// 2027-12-26 Quiet day 0 1440
	// [] <nil>
}
