package hours_test

import (
	"fmt"

	"amberkeystone/core/hours"
)

// A night belongs to the evening on which it starts: Friday's runs on into Saturday.
func ExampleSchedule_Next() {
	zone := &hours.Zone{Offsets: []hours.Offset{{Seconds: -4 * 3600}}}
	nights := hours.CompileWeek(hours.Week{4: {{Start: 22 * 60, End: 30 * 60}}}) // Fr 22:00-06:00
	saturday := zone.Resolve(hours.DayOf(2026, 11, 28), 5*60)
	fmt.Println("closes", zone.Time(nights.Next(hours.Local{Zone: zone}, saturday)).Format("Mon 15:04"))
	// Output: closes Sat 06:00
}

// What a door asks over time is its plan with the dated changes laid over it.
func ExampleTimeline() {
	zone := &hours.Zone{}
	pattern := hours.Pattern{} // a card at all hours, but for Monday morning
	pattern.Paint(0, hours.Segment{Period: hours.Period{Start: 8 * 60, End: 12 * 60}, Mode: hours.Free})
	plan := hours.CompilePlan(pattern)
	monday := hours.DayOf(2026, 11, 23)
	line := hours.Timeline{Plan: &plan, Local: hours.Local{Zone: zone}, Windows: []hours.Window{
		{From: zone.Resolve(monday, 11*60), Until: zone.Resolve(monday, 13*60), Mode: hours.Barred, Change: 1},
	}}
	for _, s := range line.Stretches(zone.Resolve(monday, 0), zone.Resolve(monday+1, 0)) {
		fmt.Println(zone.Time(s.From).Format("15:04"), s.Mode)
	}
	// Output:
	// 00:00 card
	// 08:00 free
	// 11:00 barred
	// 13:00 card
}
