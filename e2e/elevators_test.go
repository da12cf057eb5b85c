package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// released counts the floors of the drawing whose relays are on.
func (w *world) released() int {
	v, err := w.Eval(`() => [...document.querySelectorAll('main [role=option]')].filter(e => /, released/.test(e.textContent)).length`)
	if err != nil {
		panic(err)
	}
	return v.Value.Int()
}

// From nothing to a car with four floors: made by answering, sent, a card releases its floors, only these, and they are
// held again after the select time; the relays turn out to be shifted, which is seen while walking the floors and
// mended in one step.
func TestElevatorFromNothing(t *testing.T) {
	w := newMuseum(t)
	w.step("made by answering", func() {
		w.Go("/build/elevators/new")
		w.Fill("Name", "Tank hoist")
		w.Pick("Controller", "Lookout cupboard")
		w.See("5 floors, Level −1 · Collections to Level 3 · Lookout, by relays 1 to 5 on expander 4 of Lookout cupboard")
		w.Fill("How many floors", "4") // it does not go to the Lookout
		w.See("4 floors, Level −1 · Collections to Level 2 · Offices and lab, by relays 1 to 4")
		w.See("expander 4 added: set the address at the expander itself")
		w.Press("Make the elevator")
		w.See("The shaft")
	})
	w.step("a level with floors of it", func() {
		w.Go("/people/levels")
		w.Press("Volunteers")
		w.See("Elevator floors")
		w.Press("Add elevator floors")
		w.See("No floor is chosen: a card releases nothing by this.")
		w.seeTimes("Take these floors away", 2)
		w.tickLast("Level −1 · Collections")
		w.See("No elevator is chosen: nobody rides by this.")
		w.tickLast("Level 2 · Offices and lab")
		w.tickLast("Tank hoist")
		w.Gone("No elevator is chosen")
		w.saved()
		w.send()
	})
	w.step("a card releases its floors, and only these, for the select time", func() {
		w.clock("Tank hoist", "2026-11-25 11:00:00")
		w.See("Stands at −1, Level −1 · Collections")
		w.reads("Viggo Groyne")
		w.See("Granted")
		w.See("s left")
		assert.Equal(t, 2, w.released())
		w.Press("Level 1 · Galleries, held")
		w.See("its relay is off, and the car stays")
		w.Press("Level 2 · Offices and lab, released")
		w.See("Rides to 2, Level 2 · Offices and lab")
		w.Gone("s left")
		assert.Zero(t, w.released())
	})
	w.step("the wires are one floor off: seen, and mended in one step", func() {
		w.Press("Its sheet")
		w.Press("Begin at the lowest")
		w.See("Relay 1 is on.")
		w.Choose("Another one was lit", "0 · Level 0 · Galleries")
		w.See("Relay 1 lit Level 0 · Galleries")
		w.See("What you saw agrees with:")
		w.See("Relay 2 is on.")
		w.Choose("Another one was lit", "1 · Level 1 · Galleries")
		w.See("Relay 3 is on.")
		w.Choose("Another one was lit", "2 · Level 2 · Offices and lab")
		w.See("Relay 4 is on.")
		w.Choose("Another one was lit", "−1 · Level −1 · Collections")
		w.See("0 of 4 seen right, 4 lit another floor.")
		w.See("Every relay works one floor further up, and the last one the lowest: shift all by one.")
		w.Press("Take this over")
		w.See("The floors have the relays that you saw. Send it, then try them once more.")
		w.send()
		w.Press("Tank hoist")
		w.See("To the bench")
		w.Press("Level −1 · Collections, held")
		w.See("4 · 4/o4")
	})
}

// tickLast ticks the last box with a label, as of a place that was added just now.
func (w *world) tickLast(label string) {
	_, err := w.Eval(`l => { const all = [...document.querySelectorAll('[aria-label="Elevator floors"] input[type=checkbox]')].filter(e => e.labels[0].textContent.includes(l)); all.at(-1).click() }`, label)
	if err != nil {
		panic(err)
	}
}

// With the buttons wired back the log says who went where; who may not ride with the goods is refused there, and no
// floor is released but what is pressed.
func TestWhoWentWhere(t *testing.T) {
	w := newMuseum(t)
	w.step("one floor by one card", func() {
		w.clock("Freight elevator", "2026-11-25 11:00:00")
		w.reads("Linnea Vane")
		w.See("may be pressed")
		assert.Zero(t, w.released())
		w.Press("Level 2 · Offices and lab, may be pressed")
		w.See("Rides to 2, Level 2 · Offices and lab")
		w.See("Chose a floor")
		assert.Equal(t, 1, w.released())
		w.Gone("s left")
	})
	w.step("nobody of the cleaning crew rides with the goods", func() {
		w.at("2026-11-25 19:00:00")
		w.reads("Callum Shoal")
		w.See("Refused: no access level")
	})
	w.step("in the events", func() {
		w.Go("/watch")
		w.See("Chose a floor")
		w.See("Linnea Vane")
	})
	w.step("the louder log says what it costs, and ends when it is told to", func() {
		w.Press("Front elevator")
		w.Go("/build")
		w.Press("Front elevator")
		w.See("5 floors: up to 10 relay events a card; a log of 100,000 events is full after 9,090 cards.")
		w.Press("Louder for")
		w.See("As usual again")
		w.Press("Release 5 s")
		w.See("released by hand")
		w.See("s left")
		w.Press("As usual again")
		w.See("relays are no events")
	})
	w.step("a question says which floors, and why not the others", func() {
		w.Go("/prove")
		w.Fill("A question in words", "Linnea Vane at Front elevator Wed 11:00")
		w.Press("Understand")
		w.See("Registrars, during Staff day")
		w.See("nothing that they hold comes to this floor")
		w.See("no card is needed")
	})
}
