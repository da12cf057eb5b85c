package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// presented shows a 26-bit card of facility 42 to the reader of the quay entrance.
func (w *world) presented(number uint64) { w.presentAt(1, 42, number) }

// saved waits until what is on a sheet is saved.
func (w *world) saved() {
	w.Save()
	w.Gone("Discard")
}

// A box of cards: six presented one after another, the last one lit, then named; one more goes into the box.
func TestBoxOfCards(t *testing.T) {
	w := newMuseum(t)
	w.step("present, present, present", func() {
		w.Go("/people/cards")
		w.See("In the box")
		w.Pick("Reader at which", "Quay entrance")
		w.Press("Present cards")
		w.See("Present one after another")
		for i := range 7 {
			w.presented(uint64(15001 + i))
			w.See(fmt.Sprintf("42-%d", 15001+i))
		}
		w.See("7 cards read; the last one is lit.")
	})
	w.step("then name", func() {
		for i, name := range people {
			w.Fill(fmt.Sprintf("Name for 42-%d", 15001+i), name)
		}
		w.Press("Keep them")
		w.See("6 people added, 1 card in the box.")
		w.See("42-15007")
	})
	w.step("out of the box to somebody", func() {
		openPerson(w.Page, "Fay Birch")
		w.Press("From the box …")
		w.Press("42-15007")
		w.See("42-15007")
		w.saved()
		w.Go("/people/cards")
		w.See("In the box")
		w.Gone("42-15007")
	})
}

// A list with two wrong rows: what is wrong is told, the good ones are written, and the same list again changes
// nothing.
func TestImportAList(t *testing.T) {
	w := newMuseum(t)
	list := filepath.Join(t.TempDir(), "list.csv")
	require.NoError(t, os.WriteFile(list, []byte("name;department;card number;access level;until\r\n"+
		"Zo\xeb Reed;Registrars;42-14001;Registrars;31.12.2026\r\n=Ben Holt;New team;42-14002;;\r\n"+
		"Cy Marsh;;42-12345;;\r\nDot Quill;;42-14003;Kings;\r\n"), 0o600))
	w.step("what it would do", func() {
		w.Go("/people/import")
		w.Upload("Choose a file", list)
		w.See("4 rows, Latin-1, cells apart by semicolons")
		w.See("2 new")
		w.See("1 department is made: New team")
		w.See("cards: card 42-12345 already belongs to Sunniva Lindqvist")
		w.See(`levels: there is no access level "Kings"`)
	})
	w.step("only the good ones", func() {
		w.Press("Write the 2 good ones")
		w.See("2 people are written; 2 wrong rows were left out.")
	})
	w.step("the same again changes nothing", func() {
		w.Upload("Another file", list)
		w.See("2 unchanged")
		w.See("No row is right")
		w.Go("/people?q=Zo")
		w.Press("Zoë Reed")
		w.See("until Thu 31 Dec 2026, 23:59")
	})
}

// A level for next week only, sent, then the network is cut: refused before, granted during, refused after.
func TestForNextWeekOnly(t *testing.T) {
	w := newMuseum(t)
	w.step("given", func() {
		openPerson(w.Page, "Emeka Okafor")
		w.Pick("Give an access level", "Registrars")
		w.Press("at all dates. Limit Registrars to dates")
		w.Fill("Registrars from", "2026-11-30")
		w.Fill("Registrars until", "2026-12-06")
		w.Focus("Name")
		w.See("until Sun 6 Dec 2026, 23:59")
		w.See("Emeka Okafor gains")
		w.saved()
		w.Go("/people/coming")
		w.See("Mon 30 Nov 2026, 00:00")
		w.See("Sun 6 Dec 2026, 23:59")
	})
	w.step("sent, with what it does", func() {
		w.Station("5 Send")
		w.See("Emeka Okafor gains")
		w.Press("Send to")
		w.See("every hash was checked")
	})
	w.step("before, during and after, off the network", func() {
		w.clock("Registrars' office", "2026-11-27 10:00:00")
		w.Press("Cut the network")
		w.See("decides alone")
		w.reads("Emeka Okafor")
		w.See("Refused")
		w.at("2026-12-02 10:00:00")
		w.See("Clock moved 5 days ahead")
		w.presentsUntil("Granted")
		w.at("2026-12-07 10:00:00")
		w.See("10:00")
		w.presentsUntil("Registrars is not in force on this day")
	})
}

// presentsUntil presents the card again until something shows: what one read brings shows with its decision.
func (w *world) presentsUntil(words string) {
	for range 10 {
		time.Sleep(apart)
		w.presents()
		if w.says(words, time.Second) {
			return
		}
	}
	w.See(words)
}

// A level is edited, its consequence read, saved, sent with its impact, and proved; undo restores the access.
func TestLevelEditedAndUndone(t *testing.T) {
	w := newMuseum(t)
	w.step("read, then saved", func() {
		w.Go("/people/levels")
		w.See("12 in all")
		w.Press("Gallery staff")
		w.See("Who has it 14")
		w.TickIn("Doors of the level", "Quay entrance")
		w.See("13 people: ")
		w.See("nobody gains")
		w.Press("Open: 13 people")
		w.See("loses Quay entrance")
		w.saved()
		w.See("lacks what was saved")
	})
	w.step("sent with its impact", func() {
		w.Station("5 Send")
		w.See("13 people: ")
		w.Press("Send to")
		w.See("every hash was checked")
		w.Press("What was sent")
		w.See("verified")
	})
	w.step("proved", func() {
		w.presented(12571) // Emeka's
		w.Station("7 Watch")
		w.See("no access level Emeka Okafor")
		w.Go("/prove?q=Emeka at Quay entrance")
		w.See("Refused: no access level")
	})
	w.step("undone, with what that does first", func() {
		w.Go("/people/levels")
		w.See("12 in all")
		w.Press("Gallery staff")
		w.See("Who has it 14")
		w.Press("Undo …")
		w.See("Undo what Keeper did?")
		w.See("nobody loses")
		w.Press("Undo it")
		w.See("undone by Keeper")
		w.send()
		w.presented(12571)
		w.Station("7 Watch")
		w.See("Granted Emeka Okafor")
	})
}

// A lost card is replaced in one step; who presents the lost one raises an alarm.
func TestLostCardReplaced(t *testing.T) {
	w := newMuseum(t)
	w.step("replaced", func() {
		openPerson(w.Page, "Emeka Okafor")
		w.Press("Replace card 42-12571")
		w.Press("Type …")
		w.Fill("Facility code", "42")
		w.Fill("Card number", "15500")
		w.Press("Add")
		w.See("takes the place of 42-12571")
		w.saved()
		w.See("42-15500")
		w.send()
	})
	w.step("the new one opens, the lost one raises an alarm", func() {
		w.presented(15500)
		w.Station("7 Watch")
		w.See("Granted Emeka Okafor")
		w.presented(12571)
		w.See("Refused: card lost")
		w.See("alarm")
	})
}

// Somebody moves to another department: what they lose and gain is said before it is saved, and kept.
func TestDepartmentMoved(t *testing.T) {
	w := newMuseum(t)
	openPerson(w.Page, "Emeka Okafor")
	w.Press("Out of Gallery staff")
	w.Press("in no department; choose one")
	w.Pick("Department", "Registrars")
	w.See("Emeka Okafor loses")
	w.See("Emeka Okafor gains")
	w.Press("Open: 1 person")
	w.See("gains Specimen vault")
	w.saved()
	w.See("Departments: Gallery staff → Registrars")
	w.Go("/people/departments")
	w.See("10 in all")
	w.Press("Registrars")
	w.See("Department of 6 people")
	w.See("Emeka Okafor")
}

// A suspension reaches the door at once, also while everything is being sent, and takes nothing else along.
func TestSuspendedAtOnce(t *testing.T) {
	w := newMuseum(t)
	openPerson(w.Page, "Emeka Okafor")
	w.Fill("Phone", "902 555 0100")
	w.saved()
	other := w.another()
	other.Go("/send")
	other.Tick("everything anew, not the difference")
	other.Press("Send everything to 6 controllers")
	w.Press("Suspend now")
	w.See("Emeka Okafor is suspended: told")
	w.presented(12571)
	other.See("every hash was checked")
	w.Station("7 Watch")
	w.See("Refused: person suspended")
	w.Go("/send/sent")
	w.See("Emeka Okafor is suspended.")
}

// Questions in words are understood, shown, and can be corrected; the answer comes with its trace, and stands in the
// address. Ctrl K asks too.
func TestQuestionsInWords(t *testing.T) {
	w := newMuseum(t)
	w.Go("/prove")
	w.Fill("A question in words", "Noor at Specimen vault Sat 16:30")
	w.Press("Understand")
	w.See("May Noor Pell pass Specimen vault, Sat 28 Nov 2026, 16:30?")
	w.See("Refused: no access level")
	w.Press("who can?")
	w.Press("Ask")
	w.See("Who can come in through Specimen vault")
	w.Go("/prove?q=when Kofi vault")
	w.See("When can Kofi Ostrander come in through Specimen vault, in the next seven days?")
	w.See("Tue 24 Nov, 08:")
	w.Go("/prove/matrix?who=Kofi&span=week")
	w.See("1 person in 1 row, 24 doors")
	w.Press("Kofi Ostrander at Specimen vault: comes in")
	w.See("by Registrars during Office hours")
	w.Go("/prove/rights?door=vault")
	w.See("1 door")
	w.See("Office hours")
	w.Press("by person")
	w.Fill("Only people with this in the name or number", "Kofi")
	w.See("1 person")
	w.Press("Send again …")
	w.Press("Send again")
	w.See("1 controller holds everything again; every hash was checked.")
}

// A sheet tells who changed what, and a change is undone there with its consequence first.
func TestHistoryAtADoor(t *testing.T) {
	w := newMuseum(t)
	w.Go("/build/doors")
	w.See("24 in all")
	w.Press("Dry store")
	w.See("Who can come in")
	w.Fill("Name", "Rope store")
	w.saved()
	w.Press("Who changed it …")
	w.See("Dry store → Rope store")
	w.Press("Undo …")
	w.See("Undo what Keeper did?")
	w.Press("Undo it")
	w.See("undone by Keeper")
	w.See("Rope store → Dry store")
}
