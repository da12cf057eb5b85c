package e2e

import (
	"context"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/demo"
	"amberkeystone/e2e/browser"
	"amberkeystone/rack"
	"amberkeystone/server"
	"amberkeystone/store"
	"amberkeystone/web"
)

// newMuseum is the demo, sent to its stand-ins and signed in, on a Monday evening of 2026.
func newMuseum(t *testing.T) *world {
	needs(t)
	ctx := context.Background()
	w := &world{t: t, dir: t.TempDir()}
	var err error
	w.rack, err = rack.Open(filepath.Join(w.dir, "rack"), "127.0.0.1:0", demo.Rack(0))
	require.NoError(t, err)
	w.store, err = store.Open(filepath.Join(w.dir, "keystone.db"))
	require.NoError(t, err)
	begin, evening := time.Now(), time.Date(2026, 11, 23, 22, 0, 0, 0, time.UTC)
	now := func() time.Time { return evening.Add(time.Since(begin)) }
	standIns := rack.Client{Address: w.rack.Address()}
	require.NoError(t, standIns.SetClocks(hours.At(now())))
	require.NoError(t, demo.Load(ctx, w.store, standIns, now()))
	w.keeper()
	w.server, err = server.New(ctx, server.Options{
		Store: w.store, Rack: w.rack.Address(), Web: web.Pages(), DemoSignIn: &demo.SignIn, Now: now,
	})
	require.NoError(t, err)
	require.NoError(t, w.server.SendAll(ctx, "test"))
	h, err := w.server.Handler()
	require.NoError(t, err)
	w.web = httptest.NewServer(h)
	w.Page, err = browser.Open(w.web.URL)
	require.NoError(t, err)
	t.Cleanup(func() {
		if t.Failed() {
			_ = w.Shot(filepath.Join(os.TempDir(), strings.ReplaceAll(t.Name(), "/", "-")+".png"))
		}
		w.Close()
		w.stopServer()
		_ = w.rack.Close()
	})
	w.Press("Sign in")
	w.See("In service")
	return w
}

// send brings the controllers up to date.
func (w *world) send() {
	w.Station("5 Send")
	w.See("Send to")
	w.Press("Send to")
	w.See("Nothing to send")
}

// clock goes to the bench of a door and sets its controller's clock.
func (w *world) clock(door, when string) {
	w.Station("6 Prove")
	w.Press(door)
	w.See("Bench: " + door)
	w.at(when)
}

func (w *world) at(when string) {
	w.Fill("Make it", when)
	w.Press("Set its clock")
	w.See(when[11:15])
}

// reads gives the card of somebody to the reader.
func (w *world) reads(who string) {
	w.Fill("Find a card", who)
	w.Gone("Unknown card") // only what was looked for is left
	w.See(who)
	w.Press(who)
	w.Press("Present card")
}

// A public holiday for nobody: loaded, seen at the door, sent, and proved on the bench.
func TestHolidayForNobody(t *testing.T) {
	w := newMuseum(t)
	w.step("load", func() {
		w.Station("2 Hours")
		w.Press("Holidays")
		w.See("Holidays: the days")
		w.Press("Load public holidays")
		w.Fill("Country or region", "Nova Scotia")
		w.Press("Canada, Nova Scotia")
		w.See("Remembrance Day")
		w.Pick("Type of Remembrance Day", "Nobody")
		w.Press("Add 2 dates")
		w.See("2 dates added.")
		w.See("Add 0 dates") // nothing is there to add twice
	})
	w.step("what it does", func() {
		w.Press("All holidays")
		w.Press("Remembrance Day")
		w.See("Thu 11 Nov 2027")
		w.See("Gallery days stops")
		w.See("people lose hours that day")
		w.See("Running on: Always, Cleaning evenings, Night rounds")
	})
	w.step("the week of that date at the door", func() {
		w.Press("Quay entrance")
		w.See("This week at this door")
		w.Fill("Go to a date", "2027-11-11 10:05")
		w.Type(input.Enter)
		w.See("Thu 11")
		w.See("The door is barred: nobody comes in, whatever they hold, because of Remembrance Day")
		w.See("decides then")
	})
	w.step("send", w.send)
	w.step("bench", func() {
		w.clock("Quay entrance", "2027-11-11 10:05:00")
		w.See("Barred now")
		w.See("because of Remembrance Day")
		w.reads("Ines Marrow")
		w.See("Refused: door barred")
		w.See("Wait until the door is no longer barred")
		// a plan without an answer: the door asks for a card, and the schedule is closed
		w.clock("Reading room", "2027-11-11 10:06:00")
		w.See("Card now")
	})
	w.step("the day after is a day as any other", func() {
		w.clock("Quay entrance", "2027-11-12 10:05:00")
		w.See("waits for its first card")
	})
}

// One evening a door stays free past closing, and is shut again after.
func TestDatedChangeForOneEvening(t *testing.T) {
	w := newMuseum(t)
	w.step("make it", func() {
		w.Station("2 Hours")
		w.Press("Dated changes")
		w.See("laid over their plans")
		w.See("Lantern evening")
		w.Press("New dated change")
		w.See("Choose doors, a floor")
		w.Fill("Name", "Late talk")
		w.Fill("From date", "2027-03-09")
		w.Fill("From time", "16:30")
		w.Fill("Until date", "2027-03-09")
		w.Fill("Until time", "20:30")
		w.TickIn("Where it holds", "Cloakroom")
		w.See("1 door asks something else")
		w.See("Free 16:30–20:30, once.")
		w.See("The week of 2027-03-08 with this change")
		w.Press("every week")
		w.See("every week on Tuesday")
		w.Press("once")
		w.See("Free 16:30–20:30, once.")
		w.Press("Add the change")
		w.See("As iCalendar")
	})
	w.step("send", w.send)
	w.step("bench", func() {
		w.clock("Cloakroom", "2027-03-09 16:31:00")
		w.See("Free now")
		w.See("Late talk")
		w.at("2027-03-09 20:29:57") // past closing at 17:00; three seconds later it is over
		w.See("20:30:0")
		w.See("Card now")
		w.Press("back to now")
	})
	w.step("overlaps are found", func() {
		w.Station("2 Hours") // at the door that was on the bench
		w.See("What decides")
		w.Station("2 Hours")
		w.Press("Findings")
		w.See("Lantern evening (free) and Members’ night (card) meet at Tide hall")
		w.See("Autumn fair is entirely in the past.")
	})
}

// Shut at opening time, free once a duty manager has come in, forgotten the next day.
func TestFirstCardOfTheDay(t *testing.T) {
	w := newMuseum(t)
	w.step("the screen says what the rule does", func() {
		w.Station("2 Hours")
		w.Press("Quay entrance")
		w.See("Free from 10:00 once somebody whose level opens the day has come in; a card counts from 08:30; until then cards work.")
	})
	w.step("bench", func() {
		w.clock("Quay entrance", "2027-03-09 10:05:00")
		w.See("Card now, waits for its first card")
		w.reads("Sunniva Lindqvist")
		w.See("Granted")
		w.See("waits for its first card")
		w.at("2027-03-09 10:06:00")
		w.reads("Ines Marrow")
		w.See("First card: opens the day")
		w.See("Free now")
		w.See("The door is free now, since its first card has come, until 17:00")
		w.at("2027-03-10 10:05:00")
		w.See("waits for its first card")
	})
}

// The clocks go forward and back in the night, and the door is right on both sides.
func TestClockChangeNight(t *testing.T) {
	w := newMuseum(t)
	w.step("the sheet names the night", func() {
		w.Station("2 Hours")
		w.Press("Staff entrance")
		w.Fill("Go to a date", "2027-03-14 03:30")
		w.Type(input.Enter)
		w.See("2027-03-14: clocks go forward, 02:00 becomes 03:00")
	})
	w.step("a plan with boundaries in the hour that is left out, and in the one that comes twice", func() {
		w.Station("2 Hours")
		w.See("Passage plans")
		w.Press("Never without card and PIN")
		w.See("Hours a week")
		w.Fill("Hours as text", `Su 00:00-02:30 "card", Su 02:30-04:00 "barred"`)
		w.See("First differs")
		w.Press("Save")
		w.Gone("First differs")
		w.Station("2 Hours")
		w.Press("Findings")
		w.See("a time that does not exist on Sun 14 Mar 2027")
	})
	w.step("send", w.send)
	w.step("forward", func() {
		w.clock("Dry store", "2027-03-14 01:59:57")
		w.See("Card now")
		w.See("03:00:0") // three seconds later
		w.See("Barred now")
		w.at("2027-03-14 04:00:00")
		w.See("Card and PIN now")
	})
	w.step("back", func() {
		w.at("2027-11-07 01:59:57")
		w.See("01:00:0") // the hour comes a second time
		w.See("Card now")
		w.at("2027-11-07 02:30:00")
		w.See("Barred now")
	})
}

// The painter: a stroke with the mouse, an edge stretched, a segment typed to the minute, a day copied to the others,
// a row of a holiday type, undo, and what it all does, before Save.
func TestPaintAPlan(t *testing.T) {
	w := newMuseum(t)
	w.step("open", func() {
		w.Station("2 Hours")
		w.Press("Card at all hours")
		w.See("168 h 00")
	})
	w.step("paint", func() {
		w.Drag("Week.", 9.0/24, 0.05, 17.0/24, 0.05) // Monday 09:00 to 17:00
		w.See("First differs")
		w.See("+8 h 00 free a week")
		w.See("5 doors ask something else")           // two of them elevators
		w.Drag("Week.", 17.0/24, 0.05, 18.0/24, 0.05) // its end
		w.See("+9 h 00 free a week")
	})
	w.step("to the minute", func() {
		w.Drag("Week.", 12.0/24, 0.05, 12.0/24, 0.05) // a click
		w.See("waits for a first card")
		w.Fill("Segment from", "08:17")
		w.Tick("waits for a first card")
		w.Press("Set")
		w.See("+9 h 43 free a week")
		w.Press("Close")
	})
	w.step("copy and undo", func() {
		w.Press("Copy Mon to")
		w.Press("Mon to Fri")
		w.See("+48 h 35 free a week")
		w.Press("Undo")
		w.See("+9 h 43 free a week")
		w.Press("Redo")
		w.See("+48 h 35 free a week")
	})
	w.step("holiday row", func() {
		w.Choose("On Nobody", "own hours")
		w.Press("Barred")
		w.Drag("Week.", 0.001, 0.97, 0.999, 0.97)
		w.Press("Save")
		w.Gone("What this edit does")
		w.See("1 of 3 holiday types answered")
	})
	w.step("duplicate", func() {
		w.Press("Duplicate")
		w.Gone("Duplicate")
		w.Fill("Name", "Reading days")
		w.See("A new plan; doors follow it")
		w.Press("Save")
		w.See("No door follows it.")
	})
}
