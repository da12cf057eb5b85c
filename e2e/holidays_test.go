package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"
)

// Every kind of rule, by a click on a day and by typing; a type of one's own; what each does, beside it.
func TestHolidaysByHand(t *testing.T) {
	w := newMuseum(t)
	w.step("by a day of the strip, with the keyboard", func() {
		w.Press("2 Hours")
		w.Press("Holidays")
		w.See("Holidays: the days")
		w.See("Founders’ Day")
		w.Focus("Main house 2026")
		for range 4 { // Monday 23 November to Friday
			w.Type(input.ArrowRight)
		}
		w.Type(input.Enter)
		w.See("New holiday")
		w.Fill("Name", "Lamp day")
		w.Choose("Type", "Nobody")
		w.See("Fri 27 Nov 2026")
		w.See("Office hours stops")
		w.Press("Add the holiday")
		w.See("Remove")
	})
	w.step("an edit says what it does", func() {
		w.Tick("only part of the day")
		w.Fill("To", "18:00")
		w.Type(input.Tab)
		w.See("First differs Fri 27 Nov 2026")
		w.Press("Save")
		w.Gone("First differs")
		w.Press("All holidays")
		w.See("14:00-18:00 · Main house")
	})
	w.step("by rules", func() {
		w.Press("New holiday")
		w.See("New holiday")
		w.Fill("Name", "Ebb day")
		w.Press("on the nth weekday of a month")
		w.Choose("Which", "last")
		w.Choose("Weekday", "Fri")
		w.Choose("Month", "October")
		w.See("Fri 29 Oct 2027")
		w.Press("at a distance from Easter")
		w.Fill("Days from Easter Sunday", "39")
		w.See("Thu 6 May 2027")
		w.Fill("Days from Easter Sunday", "900")
		w.See("at most 120 days before")
		w.Fill("Days from Easter Sunday", "39")
		w.Press("Add the holiday")
		w.See("Remove")
		w.Press("All holidays")
		w.Fill("Find a holiday", "Ebb")
		w.See("Thu 14 May")
		w.Gone("Canada Day")
	})
	w.step("a type of one's own", func() {
		w.Press("New type")
		w.See("New holiday type")
		w.Fill("Name", "Quiet")
		w.Press("Doors do as on the weekday")
		w.Press("Nobody, not even with a card")
		w.See("Doors ask what they ask on the weekday; schedules are closed, so cards do not work")
		w.Press("Add the type")
		w.See("No holiday is of this type.")
	})
	w.step("removed, and asked before", func() {
		w.Press("All holidays")
		w.See("Ebb day")
		w.Press("Ebb day")
		w.See("39 days after Easter Sunday")
		w.Press("Edit")
		w.See("Holiday: from local midnight")
		w.Press("Remove")
		w.See("Holidays in 2026")
		w.Gone("Ebb day")
		require.Contains(t, w.Asked(), "Remove Ebb day?")
	})
	w.step("from an iCalendar file", func() {
		file := filepath.Join(t.TempDir(), "pier.ics")
		require.NoError(t, os.WriteFile(file, []byte("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:pier\r\nBEGIN:VEVENT\r\nUID:1\r\nSUMMARY:Pier day\r\nDTSTART;VALUE=DATE:20270807\r\nRRULE:FREQ=YEARLY\r\nEND:VEVENT\r\n"+
			"BEGIN:VEVENT\r\nUID:2\r\nSUMMARY:Hourly\r\nDTSTART:20270807T100000\r\nDTEND:20270807T110000\r\nRRULE:FREQ=HOURLY\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"), 0o600))
		w.Press("Load public holidays")
		w.See("before anything is added")
		w.Upload("iCalendar file", file)
		w.See("Pier day")
		w.See("Hourly: FREQ=HOURLY is outside the subset")
		w.Press("Add 1 date")
		w.See("1 date added.")
	})
}

// A schedule typed, with PH for every holiday; findings with their click; a dated change copied and ended early; a set of doors.
func TestSchedulesChangesAndFindings(t *testing.T) {
	w := newMuseum(t)
	w.step("a schedule, typed and by keys", func() {
		w.Press("2 Hours")
		w.Press("Summer lectures")
		w.See("No access level uses it.")
		w.Fill("Hours as text", "Th 18:30-21:30; PH off; Fr 10:00-11:00")
		w.See("at position 25: rules for holidays come last")
		w.Fill("Hours as text", "Th 18:30-21:30; PH off")
		w.See("Nothing differs in the next 13 months")
		w.Focus("Week.")
		w.Type(input.ArrowDown, input.Enter) // Tuesday 08:00
		for range 12 {
			w.Type(input.ArrowRight)
		}
		w.Type(input.Enter)
		w.See("4 h 00") // an hour more
		w.Press("Save")
		w.Gone("What this edit does")
	})
	w.step("findings, mended by a click", func() {
		w.Press("2 Hours")
		w.Press("Findings")
		w.See("Nothing uses Summer lectures.")
		w.Press("Remove it")
		w.Gone("Nothing uses Summer lectures.")
		w.Press("Stay on barred then")
		w.Gone("Loading dock has no answer")
	})
	w.step("a dated change, copied to tonight", func() {
		w.Press("Dated changes")
		w.See("laid over their plans")
		w.See("Members’ night")
		w.Press("Members’ night")
		w.See("The week of 2026-11-23 with this change")
		w.Press("Copy")
		w.See("Add the change")
		w.Fill("Name", "Tonight")
		w.Fill("From date", "2026-11-23")
		w.Fill("From time", "17:00")
		w.Fill("Until date", "2026-11-23")
		w.Fill("Until time", "23:30")
		w.Tick("Cloakroom")
		w.See("Keep these 2 as a door set")
		w.Answer("Two doors")
		w.Press("Keep these 2 as a door set")
		w.See("Two doors")
		w.Gone("Keep these 2")
		w.Press("Barred")
		w.See("2 doors ask something else")
		w.Press("Add the change")
		w.See("End now")
	})
	w.step("ended early", func() {
		w.Press("All dated changes")
		w.See("Tonight")
		w.Press("End now")
		w.See("ended early 2026-11-23 18:0")
		require.Contains(t, w.Asked(), "End Tonight now?")
		w.See("Public front")
		w.See("Two doors")
	})
	w.step("and in the history", func() {
		w.Go("/history")
		w.See("Tonight")
		w.See("Two doors")
	})
}

// What decides at a chosen moment, and from a door's sheet to a change for it.
func TestMomentsAtADoor(t *testing.T) {
	w := newMuseum(t)
	w.Press("2 Hours")
	w.Press("Tide hall")
	w.step("jump to a moment", func() {
		w.See("This week at this door")
		w.Fill("Go to a date", "soon")
		w.Type(input.Enter)
		w.See("Write a date as 2026-12-25")
		w.Fill("Go to a date", "2026-11-27 20:30")
		w.Type(input.Enter)
		w.See("A card is needed for Members’ night, until 23:00")
		w.See("Members’ night · card until 23:00")
		w.Fill("Go to a date", "2026-12-25 12:00")
		w.Type(input.Enter)
		w.See("21 Dec – 27 Dec 2026")
		w.See("because of Christmas")
		w.See("decides then")
		w.Press("Now")
		w.See("This week at this door")
		w.See("decides now")
	})
	w.step("the findings that concern it", func() { w.See("Lantern evening (free) and Members’ night (card) meet at Tide hall") })
	w.step("a change for this door", func() {
		w.Press("New dated change")
		w.See("Free 17:00–21:00, once.")
		w.See("1 door asks something else")
	})
}
