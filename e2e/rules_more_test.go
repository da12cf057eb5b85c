package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/e2e/browser"
	"amberkeystone/rack"
)

// beside lets another door stand beside the one at the bench.
func (w *world) beside(door string) {
	w.Pick("Another door beside", door)
	w.See("At both doors at once")
}

// hands takes a card in hand.
func (w *world) hands(who string) {
	w.Fill("Find a card", who)
	w.Gone("Unknown card")
	w.See(who)
	w.Press(who)
	w.Press("Take in hand: " + who)
}

// An airlock, played at two doors side by side: the second waits and opens once the first is closed and locked; of two
// at one instant the first goes; fire opens both.
func TestAirlockPlayed(t *testing.T) {
	w := newMuseum(t)
	w.step("the second waits, then opens", func() {
		w.clock("Lab, outer door", "2026-11-25 10:00:00")
		w.beside("Lab, inner door")
		w.reads("Petra Tarn")
		w.See("Granted")
		w.Press("Open")
		w.See("Opened")
		w.Press("Present card: Lab, inner door")
		w.See("Good, waits for another door")
		w.See("Lab, outer door is not closed and locked")
		w.Press("Close")
		w.See("level Conservators")
		w.Press("Open: Lab, inner door")
		w.See("open · ")
		w.Press("Close: Lab, inner door")
		w.Gone("open · ")
	})
	w.step("both at one instant", func() {
		w.at("2026-11-25 10:30:00")
		w.hands("Petra Tarn")
		w.hands("Rosa Inver")
		w.Press("At both doors at once")
		w.seeTimes("Good, waits for another door", 2) // whichever of the two came second
	})
	w.step("fire opens both", func() {
		w.Go("/rules/emergencies")
		w.Hold("Hold to start Main house, fire")
		w.See("fire release: on at 20 of 20 doors")
		w.Go(w.benchOf("Lab, outer door"))
		w.See("fire release")
		w.beside("Lab, inner door")
		w.See("Free now")
		w.Go("/rules/emergencies")
		w.Press("End Main house, fire")
		w.See("fire release: off")
	})
}

// A lockdown from the screen, overridden by a duty manager, ended; then by a button at a controller, for doors of
// others too, ended by three reads of a card.
func TestLockdown(t *testing.T) {
	w := newMuseum(t)
	w.step("said before, begun by a button that is held", func() {
		w.Go("/rules/emergencies")
		w.See("18 doors and 2 elevators of Main house let in only those whose level overrides it: Duty managers; ways out always work.")
		w.Press("Main house shut")
		w.See("as if it began now; nothing is changed")
		w.See("4 people, such as Ines Marrow and Pavel Umber")
		w.Press("All emergencies")
		w.Hold("Hold to start Main house shut")
		w.See("lockdown: on at 20 of 20 doors")
		w.See("North riser, 4 doors: done")
	})
	w.step("overridden by a duty manager", func() {
		w.clock("Staff stair", "2026-11-25 10:00:00")
		w.reads("Petra Tarn")
		w.See("Refused: door barred")
		w.reads("Pavel Umber")
		w.See("Granted")
		w.See("this person's level overrides it")
	})
	w.step("ended", func() {
		w.Go("/rules/emergencies")
		w.Press("End Main house shut")
		w.See("lockdown: off")
	})
	w.step("a button at another controller", func() {
		w.Go("/build/terminals?controller=" + w.idOf("South riser") + "&at=i10")
		w.See("Lockdown button at the desk")
		w.Press("Close the switch")
		w.Go("/rules/emergencies")
		w.See("lockdown: on at 20 of 20 doors")
		w.Go(w.benchOf("Specimen vault"))
		w.See("barred")
		w.See("in lockdown")
	})
	w.step("ended by as many reads as would have begun it", func() {
		w.clock("Staff stair", "2026-11-25 10:30:00")
		w.reads("Pavel Umber")
		w.See("Granted")
		w.inARow(3, "by the card of Pavel Umber")
		w.Go("/rules/emergencies")
		w.See("lockdown: off")
	})
}

// A researcher is refused at the quarantine lab, comes up at the desk by their card, is cleared by one button, enters,
// and is refused again after midnight.
func TestQuarantineLab(t *testing.T) {
	w := newMuseum(t)
	w.step("refused", func() {
		w.clock("Quarantine lab", "2026-11-25 10:00:00")
		w.reads("Hugo Ashdown")
		w.See("Refused: not cleared yet")
		w.See("until then only the level Researchers counts")
		w.See("Clear Hugo Ashdown in Rules, Screening.")
	})
	w.step("cleared at the desk", func() {
		w.clock("Staff entrance", "2026-11-25 10:00:00")
		w.reads("Hugo Ashdown")
		w.See("is not cleared yet; only the level Researchers counts")
		w.Go("/rules/screening")
		w.See("card at Staff entrance")
		w.See("Hugo Ashdown")
		w.Press("Clear until 23:59: Hugo Ashdown, Guests of the quarantine lab")
		w.See("cleared until 23:59, by Keeper")
		w.See("1 of 5 cleared")
	})
	w.step("enters", func() {
		w.Go(w.benchOf("Quarantine lab"))
		w.reads("Hugo Ashdown")
		w.See("Granted")
		w.See("is cleared until midnight")
	})
	w.step("expires at midnight", func() {
		w.at("2026-11-26 10:05:00")
		w.presentsUntil("Refused: not cleared yet")
	})
}

// An operator has the last word on people who come together: on every page, whoever sits there.
func TestAnOperatorConfirms(t *testing.T) {
	w := newMuseum(t)
	w.step("the rule", func() {
		w.Station("4 Rules")
		w.Press("Two at the vault")
		w.Press("Take away: combination 2")
		w.Tick("an operator confirms")
		w.See("and an operator who confirms")
		w.saved()
		w.send()
	})
	w.step("they wait", func() {
		w.clock("Specimen vault", "2026-11-25 10:00:00")
		w.hands("Kofi Ostrander")
		w.hands("Petra Tarn")
		w.Press("Present all 2")
		w.See("2 of 2: all are there, an operator confirms")
		w.See("Kofi Ostrander and Petra Tarn wait at")
		w.Press("Let them in: Specimen vault")
		w.See("Confirmed by an operator")
		w.Gone("for your word")
	})
	w.step("refused", func() {
		w.at("2026-11-25 10:10:00")
		w.Press("Present all 2")
		w.See("for your word")
		w.Press("Refuse them: Specimen vault")
		w.See("Refused: refused by an operator")
	})
}

// benchOf is where a door is played.
func (w *world) benchOf(name string) string {
	v, err := w.Eval(`n => fetch('/api/doors?q=' + encodeURIComponent(n)).then(r => r.json()).then(p => p.items.find(i => i.value.name === n).value.id)`, name)
	if err != nil {
		panic(err)
	}
	return fmt.Sprintf("/prove/%d", v.Value.Int())
}

// An area over two controllers: who has come in by one door is refused at the other, until that one is cut off and lets
// everybody pass who may come in.
func TestAreaOverTwoControllers(t *testing.T) {
	w := newMuseum(t)
	w.step("a second door leads there", func() {
		w.Go(w.doorOf("Staff stair"))
		w.See("it leads nowhere")
		w.Pick("Area inside", "Staff side")
		w.saved()
		w.send()
	})
	w.step("in by the one, refused at the other", func() {
		w.clock("Staff stair", "2026-11-25 10:00:00")
		w.clock("Staff entrance", "2026-11-25 10:00:00")
		w.reads("Petra Tarn")
		w.See("Granted")
		w.Press("Open")
		w.See("Is in another area now")
		w.Press("Close")
		w.Go(w.benchOf("Staff stair"))
		w.reads("Petra Tarn")
		w.See("is inside already")
	})
	w.step("cut off, it lets pass who may come in", func() {
		w.Press("Cut the network")
		w.See("off the network, decides alone")
		w.presentsUntil("Granted")
	})
}

// Two reads of a duty manager set a door free; the plan's next change ends it.
func TestToggledByTwoReads(t *testing.T) {
	w := newMuseum(t)
	w.step("the rule", func() {
		w.Go(w.doorOf("Staff stair"))
		w.Press("Use: Card toggle")
		w.See("Two reads within 5 s by one person with Duty managers set the door free")
		w.saved()
		w.send()
	})
	w.step("toggled", func() {
		w.clock("Staff stair", "2026-11-25 21:58:00")
		w.reads("Pavel Umber")
		w.See("Granted")
		w.inARow(2, "Toggled by reads")
		w.See("toggled by a card, until 22:00")
		w.See("Free now")
	})
	w.step("ended by the plan's change", func() {
		w.at("2026-11-25 22:00:05")
		w.See("Toggle ended")
		w.See("Card and PIN now")
	})
}

// Held free until a time, by Keeper: the controller's own clock ends it, with the server down.
func TestHeldUntilItsTime(t *testing.T) {
	w := newMuseum(t)
	w.step("held", func() {
		w.Go("/rules/hand")
		w.TickIn("Doors for an order", "Loading dock")
		w.Press("Hold free")
		w.When("Until", "2026-11-23T20:00") // it is 18:00 there
		w.Fill("Why", "a delivery")
		w.Press("Hold free now")
		w.See("by Keeper: a delivery")
		w.See("held free, until")
	})
	w.step("its time comes while the server is down", func() {
		w.stopServer()
		v, err := rack.Client{Address: w.rack.Address()}.Do(rack.Hand{
			Serial: "AK-1003", Do: "clock", ByMs: (3 * time.Hour).Milliseconds(),
		})
		require.NoError(t, err)
		for _, d := range v.Doors {
			assert.NotEqual(t, hours.OperatorHold, d.Layer)
		}
		w.startServer()
	})
	w.step("seen when it is back", func() {
		w.Go("/rules/hand")
		w.See("every door follows its plan")
		w.Go("/watch")
		w.See("Operator hold ended")
	})
}

// Reads of one card count as two from 0.8 s apart, and as in a row within 5 s (common practice).
const (
	apart = 900 * time.Millisecond
	inRow = 5 * time.Second
)

// inARow presents the chosen card so many times at a person's pace, until something is said. A busy machine may be too
// slow for them to count as in a row, which the times in the log tell: then they are presented anew.
func (w *world) inARow(times int, until string) {
	for range 8 {
		time.Sleep(inRow) // what was read before counts no more
		var said []time.Time
		for range times {
			pressed := time.Now()
			said = append(said, w.presents())
			time.Sleep(time.Until(pressed.Add(apart)))
		}
		took := said[times-1].Sub(said[0]) // of whole seconds: the same as the limit may be more or less
		if took < inRow || took == inRow && w.says(until, browser.Patience/3) {
			break
		}
	}
	w.See(until)
}

// says waits a while for words, and reports whether they show.
func (w *world) says(words string, d time.Duration) bool {
	return w.Timeout(d).Wait(rod.Eval(`w => document.body.innerText.replace(/\s+/g, ' ').includes(w)`, words)) == nil
}

// presents presents the chosen card, waits until the controller has decided, and returns when that says it has.
func (w *world) presents() time.Time {
	const rows = `[...document.querySelectorAll('[aria-label="What the controller said"] button')].filter(e => /^(Granted|Refused)/.test(e.querySelector('b').textContent))`
	_, err := w.Eval(`() => { for (const e of ` + rows + `) e.dataset.before = 'yes' }`)
	require.NoError(w.t, err)
	w.Press("Present card")
	fresh := rod.Eval(`() => ` + rows + `.find(e => !e.dataset.before) || null`)
	e, err := w.Timeout(browser.Patience).ElementByJS(fresh)
	require.NoError(w.t, err, "the controller says what it decided")
	at, err := time.Parse(time.TimeOnly, e.MustElement("span").MustText())
	require.NoError(w.t, err)
	return at
}

// seeTimes waits until words show so many times.
func (w *world) seeTimes(words string, times int) {
	err := w.Timeout(browser.Patience).Wait(rod.Eval(`(w, n) => document.body.innerText.split(w).length > n`, words,
		times))
	if err != nil {
		panic(fmt.Sprintf("%q does not show %d times; the page says: %s", words, times, w.Text()))
	}
}
