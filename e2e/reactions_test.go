package e2e

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/e2e/browser"
	"amberkeystone/rack"
)

// hand does something to a stand-in itself, wherever the server is.
func (w *world) hand(serial string, h rack.Hand) rack.View {
	h.Serial = serial
	v, err := rack.Client{Address: w.rack.Address()}.Do(h)
	require.NoError(w.t, err)
	return v
}

// output waits until an output is on, or off.
func (w *world) output(serial, at string, on bool) {
	want, err := point.Parse(at)
	require.NoError(w.t, err)
	require.Eventually(w.t, func() bool {
		list, err := rack.Client{Address: w.rack.Address()}.List()
		require.NoError(w.t, err)
		for _, v := range list {
			for _, o := range v.Outputs {
				if v.Serial == serial && o.At == want {
					return o.On == on
				}
			}
		}
		return false
	}, browser.Patience, 50*time.Millisecond, "%s of %s is on: %v", at, serial, on)
}

// A door that is held open turns a lamp on until it closes, while the server is down: made by answering, sent, done
// by the controller alone.
func TestHeldOpenWithServerDown(t *testing.T) {
	w := newMuseum(t)
	w.step("made by answering", func() {
		w.Go("/rules/reactions")
		w.See("Shutter left open")
		w.Press("New reaction")
		w.See("What would have followed")
		w.Fill("Name", "Cloakroom left open")
		w.Choose("When", "a door is held open")
		w.TickIn("Doors where it happens", "Cloakroom")
		w.Choose("Do", "turn an output on")
		w.Pick("Choose an output", "Lamp over the quay")
		w.See("until that has ended")
		w.Press("until that has ended")
		w.See("Works with the server down")
		w.saved()
		w.Go(strings.Replace(w.doorOf("Cloakroom"), "/rules", "/build", 1))
		w.Fill("Held open after", "20")
		w.saved()
		w.send()
	})
	w.step("held open while the server is down", func() {
		w.clock("Cloakroom", "2026-11-25 19:00:00")
		w.reads("Callum Shoal")
		w.See("Granted")
		w.stopServer()
		w.hand("AK-1001", rack.Hand{Do: "open", Point: site.PortPoints(4).Contact})
		w.output("AK-1001", "1/o1", true)
		w.hand("AK-1001", rack.Hand{Do: "close", Point: site.PortPoints(4).Contact})
		w.output("AK-1001", "1/o1", false)
	})
	w.step("told when it is back", func() {
		w.startServer()
		w.Go("/watch")
		w.See("Held open")
		w.See("Cloakroom left open")
	})
}

// Two reactions that would set each other off for ever are refused, with the loop; what is mended is saved.
func TestLoopIsRefused(t *testing.T) {
	w := newMuseum(t)
	reaction := func(name, at, to string) {
		w.Go("/rules/reactions/new")
		w.See("What would have followed")
		w.Fill("Name", name)
		w.Choose("When", "a hold begins")
		w.TickIn("Doors where it happens", at)
		w.Choose("Do", "hold")
		w.TickIn("Doors to which it is done", to)
	}
	w.step("the first", func() {
		reaction("There", "Tide hall", "Cloakroom")
		w.saved()
	})
	w.step("the second closes the loop", func() {
		reaction("And back", "Cloakroom", "Tide hall")
		w.Press("Add the reaction")
		w.See("these would set each other off for ever: And back (hold Tide hall free for 1 min) → There")
	})
	w.step("mended", func() {
		w.TickIn("Doors to which it is done", "Tide hall")
		w.TickIn("Doors to which it is done", "Upper galleries")
		w.saved()
		w.Go("/rules/reactions")
		w.See("And back")
	})
}

// A reaction is tried on what has happened, and nothing is done.
func TestTriedOnWhatHappened(t *testing.T) {
	w := newMuseum(t)
	w.step("tried", func() {
		w.Go("/rules/reactions/new")
		w.See("What would have followed")
		w.Choose("When", "somebody is granted")
		w.TickIn("Doors where it happens", "Tide hall")
		w.Choose("Do", "tell operators")
		w.Fill("Words", "somebody is at the tanks")
		w.Press("From the last 24 hours")
		w.See("of the last 24 hours 1 would have set it off.")
		w.See("Granted, Tide hall")
	})
}
