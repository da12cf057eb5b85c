package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/rack"
)

// name fills in a name, which the count of first doors leaves out.
func (w *world) name(label, text string, names *int) {
	w.Fill(label, text)
	*names += len(text)
}

// Four doors and six cards from nothing, working and tested: counted by what a person's hands do.
func TestFirstDoors(t *testing.T) {
	w := newWorld(t)
	names := 0
	w.step("first administrator", func() {
		w.See("Nobody can sign in yet")
		w.name("Name", "Robin", &names)
		w.name("Password", "low tide at noon", &names)
		w.Press("Begin")
	})
	w.step("which controllers", func() {
		w.See("Nothing works yet")
		w.Press("Begin")
		w.See("Next: Doors")
		w.See("AK-1002")
		w.Tick("AK-1002") // it stays in its box for now
		w.name("Name of AK-1001", "Hall cupboard", &names)
		w.Fill("Time zone", "America/Halifax")
		w.Press("Next: Doors")
	})
	w.step("doors", func() {
		for i, d := range doorNames {
			w.name(fmt.Sprintf("Name of door %d of Hall cupboard", i+1), d, &names)
		}
		w.Press("in R1")
		w.Press("Next: When")
	})
	w.step("when", func() { w.Press("Next: Who") })
	w.step("who", func() {
		w.See("Waiting for cards")
		for i, p := range people {
			w.present(uint64(12345 + i))
			w.name(fmt.Sprintf("Whose card 9-%d is", 12345+i), p, &names)
		}
		w.See("6 presented, 6 named")
		w.Press("Next: Look and begin")
	})
	w.step("look and begin", func() {
		w.See("Hall cupboard: taken into service. Whatever it holds is erased")
		w.See("4 doors are made: Front door, Back door, Office, Store.")
		w.See("6 people get a card")
		w.See("also doors that are added later")
		w.See("the same code")
		w.sameCodes()
		w.Press("The code is the same: begin")
		w.See("Bench: Front door")
		w.See("Touch the drawing")
	})
	w.step("it works", func() {
		w.See("A card is needed at all hours")
		w.See("Ada Reed")
		w.Press("Ada Reed")
		w.Type(input.Enter)
		w.See("Granted")
		w.Type(input.KeyO, input.KeyO)
		w.See("Closed")
		w.Press("Unknown card")
		w.Type(input.Enter)
		w.See("Refused: card unknown")
	})
	clicks, keys := w.Clicks, w.Keys-names
	fmt.Printf("first doors: %d clicks, %d keystrokes besides %d of names (goal: 45 and 140)\n", clicks, keys, names)
	assert.LessOrEqual(t, clicks, 45)
	assert.LessOrEqual(t, keys, 140)
	w.step("everybody everywhere is marked", func() {
		w.Station("1 Build")
		w.Go("/build/findings")
		w.See("Whoever has Everybody, everywhere may pass every door at all hours")
	})
	w.step("what was left in its box is still there", func() {
		w.Go("/build")
		w.See("AK-1002")
	})
}

// A controller that broke is replaced by another: its doors go on as before, at the new device.
func TestReplaceAController(t *testing.T) {
	w := newMuseum(t)
	w.step("replace", func() {
		w.Go("/build/controllers/" + w.idOf("Boathouse"))
		w.See("serial AK-1006")
		w.Press("Replace …")
		w.See("AK-1007")
		w.Press("Replace by this one")
		w.See("It takes the place of Boathouse")
		w.Press("Erase and take into service")
		w.See("the same code")
		w.sameCodes()
		w.Press("It is the same: take into service")
		w.See("serial AK-1007")
		w.See("online at")
	})
	w.step("its doors decide there", func() {
		w.Station("5 Send")
		w.See("up to date since")
		w.Go("/build/doors")
		w.See("24 in all")
		w.Press("Workshop")
		w.Press("To the bench")
		w.See("Touch the drawing")
		w.See("Plays on Boathouse")
		w.Press("Unknown card")
		w.Type(input.Enter)
		w.See("Refused: card unknown")
	})
}

// idOf finds the number of a controller by its name.
func (w *world) idOf(controller string) string {
	c, err := w.store.Load(w.t.Context())
	require.NoError(w.t, err)
	for _, x := range c.Controllers {
		if x.Name == controller {
			return fmt.Sprint(x.ID)
		}
	}
	w.t.Fatalf("there is no controller %s", controller)
	return ""
}

// A supervised contact whose wire is cut is a fault, not a closed door; and a door that is moved to other terminals is
// sent and works there.
func TestTerminals(t *testing.T) {
	w := newMuseum(t)
	riser := w.idOf("North riser")
	w.step("a cut wire is a fault", func() {
		w.Go("/build/terminals?controller=" + riser + "&at=i7")
		w.See("I7 contact of Cloakroom")
		w.See("1 kΩ")
		w.Press("Cut the wire")
		w.See("The door cannot be forced or held open until it is mended")
		w.See("In trouble: the contact of Cloakroom is cut")
		w.See("over 20 kΩ")
		w.Press("Short it")
		w.See("the contact of Cloakroom is shorted")
		w.Press("Mend it")
		w.See("Everything that is wired answers")
		w.Press("Open it")
		w.See("2 kΩ")
		w.Press("Close the switch")
	})
	w.step("moved to other terminals", func() {
		w.Press("Move to I10") // a free one
		w.See("Move the wires of the contact of Cloakroom from i7 to i10. Then send.")
		w.Station("5 Send")
		w.See("Cloakroom: other terminals")
		w.Press("Send to")
		w.See("every hash was checked")
		w.Go("/build/terminals?controller=" + riser + "&at=i10")
		w.See("I10 contact of Cloakroom")
		w.Press("Open it")
		w.See("Says open")
		w.Press("Close the switch")
		w.See("Says closed")
	})
	w.step("no terminal twice", func() {
		w.Go("/build/terminals?controller=" + riser + "&at=i7")
		w.See("Put something here")
		w.Press("A named input …")
		w.Fill("Name", "Window, shop")
		w.Press("Add it")
		w.See("I7 input Window, shop")
	})
	w.step("an output is tried", func() {
		w.Go("/build/terminals?controller=" + riser + "&at=o5")
		w.Press("Try it for 3 s")
		w.See("Says on")
		w.See("Says off")
	})
	w.step("the mains go, and come back", func() {
		w.Go("/build/terminals?controller=" + riser + "&at=mains")
		w.Press("Cut the mains")
		w.See("In trouble: it is on its battery")
		w.Go("/build")
		w.See("North riser is on its battery")
		w.Go("/build/terminals?controller=" + riser + "&at=mains")
		w.Press("Mains back")
		w.See("Everything that is wired answers")
	})
}

// Without power the fail-safe door falls open and the fail-secure stays shut, and the drawing says which.
func TestPowerLoss(t *testing.T) {
	w := newMuseum(t)
	for _, c := range []struct{ door, says, portrait string }{
		{"Lecture room", "The lock lets go: a magnet holds only with power", "no power: lets go"},
		{"Reading room", "The lock stays locked (fail-secure)", "no power: holds"},
	} {
		w.step(c.door, func() {
			w.Go("/build/doors")
			w.See("24 in all")
			w.Press(c.door)
			w.Press("To the bench")
			w.See("Cut the power")
			w.Press("Cut the power")
			w.See("The controller has no power.")
			w.See(c.says)
			w.See(c.portrait)
			w.Press("Power back")
			w.Gone("The controller has no power.")
			w.See("Controller started")
		})
	}
}

// A contact that is wired the other way is found by the self-test: the screen says open while the door is closed.
func TestPolarity(t *testing.T) {
	w := newMuseum(t)
	w.step("reverse it", func() {
		w.Go("/build/doors")
		w.See("24 in all")
		w.Press("Workshop")
		w.Choose("Door contact", "normally open")
		w.Press("Save")
		w.See("Not sent yet")
		w.Station("5 Send")
		w.Press("Send to")
		w.See("every hash was checked")
	})
	w.step("self-test", func() {
		w.Go("/build/controllers/" + w.idOf("Boathouse"))
		w.Press("Test now")
		w.See("the screen says open while the door is closed")
		w.See("Not ready")
	})
}

// A read that fits no format becomes a format, and its card is granted.
func TestAReadBecomesAFormat(t *testing.T) {
	w := newMuseum(t)
	own := site.ProposeFormat(35)
	f, faults := own.Compile()
	require.Empty(t, faults)
	bits, err := f.Encode(77, 4321)
	require.NoError(t, err)
	w.step("it is refused", func() {
		w.presentBits(site.PortPoints(2).In, bits)
		w.Station("7 Watch")
		w.See("card format unknown")
		w.Press("card format unknown")
		w.Press("Open its bits")
		w.See("35 bits.")
		w.See("35 bits fit no format of this reader")
	})
	w.step("a format of it", func() {
		w.Press("Make a format of this")
		w.See("The read is 77-04321")
		w.Press("Save")
		w.See("of this installation · facility 0")
	})
	w.step("its card", func() {
		w.Go("/people")
		w.See("60 in all")
		w.Press("Ines Marrow")
		w.Press("Type …")
		w.Choose("Card format", "Own 35-bit")
		w.Fill("Facility code", "77")
		w.Fill("Card number", "4321")
		w.Press("Add")
		w.Press("Save")
		w.See("77-04321")
		w.send()
	})
	w.step("it is granted", func() {
		w.presentBits(site.PortPoints(2).In, bits)
		w.Station("7 Watch")
		w.See("Granted Ines Marrow")
	})
}

func (w *world) presentBits(at point.Address, bits cards.Bits) {
	_, err := rack.Client{Address: w.rack.Address()}.Do(rack.Hand{Serial: "AK-1001", Do: "present", Point: at, Bits: bits})
	require.NoError(w.t, err)
}

// Twelve doors get another held-open time in one step, and undo takes it back in one.
func TestTwelveDoorsTogether(t *testing.T) {
	w := newMuseum(t)
	times := func() map[int]int {
		c, err := w.store.Load(t.Context())
		require.NoError(t, err)
		out := map[int]int{}
		for _, d := range c.Doors {
			out[d.HeldOpen]++
		}
		return out
	}
	before := times()
	w.step("choose twelve", func() {
		w.Go("/build/doors")
		w.See("24 in all")
		for i := range 12 {
			_, err := w.Eval(`i => document.querySelectorAll('.tick[title^=Choose]')[i].parentElement.click()`, i)
			require.NoError(t, err)
			w.See(fmt.Sprintf("%d chosen", i+1))
		}
		w.See("12 chosen")
	})
	w.step("together", func() {
		w.Press("Edit together …")
		w.See("Edit 12 doors together")
		w.Tick("Held open after")
		w.Fill("Held open after for all", "95")
		w.See("Held open after 60 s → 95 s")
		w.Press("Change 12 doors")
		w.See("12 doors changed.")
		assert.Equal(t, 12, times()[95])
	})
	w.step("undo", func() {
		w.Press("Undo")
		w.See("As it was before.")
		assert.Equal(t, before, times())
	})
}

// Wrong addresses are refused, each at its field.
func TestWrongAddresses(t *testing.T) {
	w := newMuseum(t)
	w.step("fixed", func() {
		w.Press("Take into service")
		w.See("Whatever this controller holds is erased")
		w.Fill("Name", "Annex")
		w.Tick("fixed")
		w.See("This computer is in")
	})
	for _, c := range []struct{ address, gateway, says string }{
		{"127.20.0.0/24", "", "the address of the subnet"},
		{"127.20.0.255/24", "", "the broadcast address"},
		{"127.0.0.1/8", "", "this computer's own address"},
		{"127.20.0.31", "", "no address with a prefix"},
		{"127.20.0.31/24", "127.20.1.1", "outside the subnet"},
	} {
		w.step(c.address+" "+c.gateway, func() {
			w.Fill("Address with prefix", c.address)
			w.Fill("Gateway", c.gateway)
			w.Press("Erase and take into service")
			w.See(c.says)
		})
	}
	w.step("a good one", func() {
		w.Fill("Address with prefix", "127.20.0.31/24")
		w.Fill("Gateway", "")
		w.Press("Erase and take into service")
		w.See("the same code")
		w.sameCodes()
		w.Press("It is the same: take into service")
		w.See("online at 127.20.0.31")
	})
	require.True(t, strings.HasPrefix(w.addressOf("Annex"), "127.20.0.31:"))
}

// addressOf is where a controller answers.
func (w *world) addressOf(controller string) string {
	views, err := rack.Client{Address: w.rack.Address()}.List()
	require.NoError(w.t, err)
	c, err := w.store.Load(w.t.Context())
	require.NoError(w.t, err)
	for _, x := range c.Controllers {
		for _, v := range views {
			if x.Name == controller && v.Serial == x.Serial {
				return v.Address
			}
		}
	}
	return ""
}
