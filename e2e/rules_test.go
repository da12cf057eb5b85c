package e2e

import (
	"fmt"
	"testing"
)

// The vault needs a registrar and a conservator: one alone waits, the right pair enters, a wrong pair starts over. What
// a rule does is read before it is saved, and what it means at a door is asked.
func TestTwoAtTheVault(t *testing.T) {
	w := newMuseum(t)
	w.step("read", func() {
		w.Station("4 Rules")
		w.See("it takes one from Registrars and one from Conservators, or one from Duty managers and one more who may come in")
		w.Press("Two at the vault")
		w.See("Never opens as it stands")
		w.Press("Take away: combination 2")
		w.Gone("Never opens as it stands")
		w.See("Nobody enters Specimen vault alone: 14 people.")
		w.See("30 ways: Kofi Ostrander (Registrars) + Petra Tarn (Conservators)")
		w.saved()
		w.send()
	})
	w.step("at the bench", func() {
		w.clock("Specimen vault", "2026-11-25 10:00:00")
		w.reads("Kofi Ostrander")
		w.See("1 of 2: one from Conservators")
		w.reads("Petra Tarn")
		w.See("Granted")
		w.reads("Kofi Ostrander")
		w.See("Good so far, waits for more")
	})
	w.step("a wrong pair, one person twice, too late", func() {
		w.at("2026-11-25 10:05:00")
		w.reads("Kofi Ostrander")
		w.reads("Linnea Vane")
		w.See("Refused: nobody who is wanted here now")
		w.See("somebody else was refused, so all begin anew")
		w.at("2026-11-25 10:10:00")
		w.reads("Kofi Ostrander")
		w.Press("Present card")
		w.at("2026-11-25 10:11:00")
		w.See("Refused: the others did not come in time")
	})
	w.step("asked", func() {
		w.Go("/prove?q=Kofi at Specimen vault Fri 10:00")
		w.See("Not alone: it takes one from Conservators too")
	})
}

// Doors are held and locked down by hand: said before, told after, seen in the band, ended.
func TestByHand(t *testing.T) {
	w := newMuseum(t)
	w.step("held free until 18:00", func() {
		w.Go("/rules/hand")
		w.See("every door follows its plan")
		w.TickIn("Doors for an order", "Loading dock")
		w.Press("Hold free")
		w.See("Loading dock stands free: whoever comes may pass.")
		w.Fill("Why", "a delivery")
		w.Press("Hold free now")
		w.See("Collections room: done")
		w.See("by Keeper: a delivery")
		w.See("held free, until it is ended")
	})
	w.step("at the door, and back", func() {
		w.Go(w.doorOf("Loading dock"))
		w.See("free")
		w.Press("Back to plan")
		w.See("Loading dock follows the plan again.")
		w.Press("Back to plan now")
		w.See("Collections room: done")
		w.Go("/rules/hand")
		w.See("every door follows its plan")
	})
	w.step("barred wants a reason", func() {
		w.TickIn("Doors for an order", "Tide hall")
		w.Press("Hold barred")
		w.See("Tide hall lets nobody in; ways out always work.")
		w.Press("Hold barred now")
		w.See("say why")
		w.Fill("Why", "a spill")
		w.Press("Hold barred now")
		w.See("held barred")
		w.Press("Back to plan: Tide hall")
		w.See("every door follows its plan")
	})
}

// doorOf is where the rules of a door stand.
func (w *world) doorOf(name string) string {
	v, err := w.Eval(`n => fetch('/api/doors?q=' + encodeURIComponent(n)).then(r => r.json()).then(p => p.items[0].value.id)`, name)
	if err != nil {
		panic(err)
	}
	return fmt.Sprintf("/rules/doors/%d", v.Value.Int())
}

// The staff entrance: in, in again refused, forgiven, in.
func TestInAgain(t *testing.T) {
	w := newMuseum(t)
	w.step("in, and in again", func() {
		w.clock("Staff entrance", "2026-11-23 18:10:00")
		w.reads("Petra Tarn")
		w.See("Granted")
		w.Press("Open")
		w.See("Is in another area now")
		w.Press("Close")
		w.See("closed")
		w.presentsUntil("is inside already")
		w.See("is in Staff side already")
	})
	w.step("seen, and forgiven", func() {
		w.Go("/rules/areas")
		w.See("1 inside")
		w.Press("Forgive Petra Tarn")
		w.See("0 inside")
	})
	w.step("in", func() {
		w.clock("Staff entrance", "2026-11-23 18:20:00")
		w.reads("Petra Tarn")
		w.See("18:20")
		w.presentsUntil("Granted")
	})
}

// An interlock is made, refused where a door has no contact, and tried at the bench.
func TestAirlock(t *testing.T) {
	w := newMuseum(t)
	w.step("refused with the reason", func() {
		w.Go("/rules/interlocks/new")
		w.Fill("Name", "Slipway")
		w.TickIn("Doors of the interlock", "Workshop")
		w.TickIn("Doors of the interlock", "Dry store")
		w.See("at most one is other than closed and locked")
		w.Press("Add the interlock")
		w.See("Dry store has no door contact")
		w.TickIn("Doors of the interlock", "Dry store")
		w.TickIn("Doors of the interlock", "Sail loft")
		w.Press("Add the interlock")
		w.See("All are closed and locked now.")
	})
}
