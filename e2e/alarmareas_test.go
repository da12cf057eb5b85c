package e2e

import (
	"strings"
	"testing"

	"amberkeystone/core/point"
	"amberkeystone/rack"
)

// Two reads at the shutter arm the shop, not while it stands open; then only those come in who may disarm it, and two
// reads of theirs do.
func TestArmedByTwoReads(t *testing.T) {
	w := newMuseum(t)
	w.step("a shorter exit delay, by answering", func() {
		w.Go("/rules/alarm-areas")
		w.See("Nothing stands open")
		w.Press("Museum shop")
		w.See("by two reads of a card within 5 s at its doors with Gallery staff, Duty managers or Night watch")
		w.Fill("Exit delay", "2")
		w.See("then 2 s to leave")
		w.saved()
		w.send()
	})
	w.step("not while the shutter stands open", func() {
		w.clock("Shop shutter", "2026-11-24 17:40:00")
		w.Press("Open")
		w.See("Opened without a reason")
		w.reads("Sunniva Lindqvist")
		w.presentsUntil("Museum shop: Shop shutter stands open, by card")
		w.Go("/rules/alarm-areas")
		w.See("Shop shutter stands open")
	})
	w.step("closed, it is armed", func() {
		w.clock("Shop shutter", "2026-11-24 17:42:00")
		w.Press("Close")
		w.reads("Sunniva Lindqvist")
		w.presentsUntil("Armed Sunniva Lindqvist Museum shop, by card")
		w.See("Museum shop is armed: only those come in who may disarm it")
		w.output("AK-1001", "1/o2", true)
		w.presentsUntil("Refused: alarm area is armed")
		w.Press("Refused: alarm area is armed")
		w.See("Have Museum shop disarmed by somebody with Duty managers or Night watch")
	})
	w.step("the band and the page say so", func() {
		w.See("Museum shop armed")
		w.Go("/rules/alarm-areas")
		w.See("by Sunniva Lindqvist")
	})
	w.step("a duty manager comes in, and disarms", func() {
		w.clock("Shop shutter", "2026-11-24 17:50:00")
		w.reads("Ines Marrow")
		w.See("level Duty managers")
		w.Press("Open")
		w.See("Came in while armed")
		w.Press("Close")
		w.presentsUntil("Disarmed Ines Marrow Museum shop, by card")
		w.Go("/rules/alarm-areas")
		w.See("Nothing stands open")
	})
}

// An area is made from nothing, armed at the screen without what stands open, and raises its alarm with the server
// down: the siren sounds, and the page, the band and the mailbox say so once it is back.
func TestIntrusionWithServerDown(t *testing.T) {
	w := newMuseum(t)
	broken := rack.Hand{Do: "close", Point: point.Address{Board: 2, Kind: point.Input, Number: 2}}
	w.step("made", func() {
		w.Go("/rules/alarm-areas/new")
		w.See("Arming and disarming")
		w.Fill("Name", "Cloakroom at night")
		w.Pick("Choose a door", "Cloakroom")
		w.Pick("Armed during", "Office hours")
		w.See("lose Monday to Friday at Cloakroom")
		w.Pick("Armed during", "no schedule")
		w.See("Other rules hold at Cloakroom")
		w.Press("Add the alarm area")
		w.Gone("Add the alarm area")
		w.See("Armed at the screen or by two reads")
		w.send()
	})
	w.step("armed without what stands open", func() {
		w.hand("AK-1001", broken)
		w.Go("/rules/alarm-areas")
		w.See("Glass break, shop is active")
		w.Tick("Glass break, shop is active: leave it out")
		w.Press("Arm Museum shop without Glass break, shop")
		w.See("active, left out")
		w.See("without Glass break, shop")
		w.Press("Disarm Museum shop")
		w.hand("AK-1001", rack.Hand{Do: "open", Point: broken.Point})
		w.See("Nothing stands open")
	})
	w.step("an intruder while the server is down", func() {
		w.Press("Arm Museum shop")
		w.See("exit delay")
		w.See("Since ")
		w.stopServer()
		w.hand("AK-1001", broken)
		w.output("AK-1001", "o6", true)
		w.startServer()
	})
	w.step("told when it is back", func() {
		w.Go("/rules/alarm-areas")
		w.See("Raised by Glass break, shop")
		w.See("Alarm: Museum shop")
		w.Go("/rules/reactions")
		w.See("Alarm in the museum shop (Intrusion: Museum shop: Glass break, shop is active)")
		w.Go("/rules/alarm-areas")
		w.Press("Disarm Museum shop")
		w.output("AK-1001", "o6", false)
		w.Go(strings.Replace(w.doorOf("Cloakroom"), "/build", "/rules", 1))
		w.See("Cloakroom at night")
	})
}
