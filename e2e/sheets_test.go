package e2e

import (
	"strconv"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/e2e/browser"
)

// another opens a second browser and signs in there: a colleague.
func (w *world) another() *browser.Page {
	p, err := browser.Open(w.web.URL)
	require.NoError(w.t, err)
	w.t.Cleanup(p.Close)
	p.Press("Sign in")
	p.See("In service")
	return p
}

// value is what stands in a field.
func value(p *browser.Page, label string) string {
	v, err := p.Eval(`l => [...document.querySelectorAll('input')].find(e => (e.getAttribute('aria-label') || e.labels?.[0]?.textContent || '').replace(/\s+/g, ' ').trim().startsWith(l)).value`, label)
	if err != nil {
		panic(err)
	}
	return v.Value.Str()
}

// asks counts what has been asked of the server since the page was loaded, of addresses that end so.
func (w *world) asks(end string) int {
	v, err := w.Eval(`end => performance.getEntriesByType('resource').filter(e => e.name.split('?')[0].endsWith(end)).length`, end)
	require.NoError(w.t, err)
	return v.Value.Int()
}

// openPerson goes to somebody's sheet by the list.
func openPerson(p *browser.Page, name string) {
	p.Go("/people?q=" + strings.ReplaceAll(name, " ", "+"))
	p.See("1 found")
	p.Press(name)
	p.See("What they carry")
}

// Two people at one sheet: what one types outlives what the other saves; where both write the same, both values show
// and one is chosen; what is removed is gone, and back when it is brought back.
func TestTwoAtOneSheet(t *testing.T) {
	w := newMuseum(t)
	other := w.another()
	openPerson(w.Page, "Emeka Okafor")
	openPerson(other, "Emeka Okafor")
	w.step("over a slow line, a colleague's save overwrites nothing that is typed", func() {
		w.Slow(400 * time.Millisecond)
		w.Fill("Name", "Emeka Okafor-Bell")
		other.Fill("Phone", "902 555 0001")
		other.Save()
		other.Gone("Discard")
		w.See("both changes are here")
		require.Equal(t, "Emeka Okafor-Bell", value(w.Page, "Name"))
		require.Equal(t, "902 555 0001", value(w.Page, "Phone"))
		w.Slow(0)
		w.Save()
		w.Gone("Discard")
		other.See("Emeka Okafor-Bell")
	})
	w.step("both write the same: keep mine", func() {
		w.Fill("Phone", "Day watch")
		other.Fill("Phone", "Lookout")
		other.Save()
		other.Gone("Discard")
		w.See("Somebody else has changed the same")
		w.See("“Lookout”")
		w.See("“Day watch”")
		w.Press("Keep mine")
		w.Gone("Somebody else has changed the same")
		w.Save()
		w.Gone("Discard")
		require.Equal(t, "Day watch", value(w.Page, "Phone"))
	})
	w.step("and take theirs", func() {
		other.See("Day watch")
		w.Fill("Phone", "Quay")
		other.Fill("Phone", "Boats")
		other.Save()
		w.See("Somebody else has changed the same")
		w.Press("Take theirs")
		w.Gone("Discard")
		require.Equal(t, "Boats", value(w.Page, "Phone"))
	})
	w.step("removed, and brought back", func() {
		w.Fill("Phone", "Workshop")
		other.Press("Remove")
		other.Press("Remove them")
		w.See("is not there, or no longer")
		other.Go("/history")
		other.Press("person Emeka Okafor-Bell removed")
		other.Press("Undo this")
		w.Gone("is not there, or no longer")
		w.See("What they carry")
		require.Equal(t, "Workshop", value(w.Page, "Phone"), "what was being typed is still there")
		w.Save()
		w.Gone("Discard")
	})
}

// A session that ends loses nothing: the sign-in lies over the sheet, and the save goes on after it; signing out asks
// first; a draft outlives going elsewhere and a reload.
func TestDraftsOutlive(t *testing.T) {
	w := newMuseum(t)
	openPerson(w.Page, "Ruth Eider")
	w.step("going elsewhere and a reload", func() {
		w.Fill("Phone", "Rigging")
		w.Station("5 Send")
		w.See("How it is sent")
		openPerson(w.Page, "Ruth Eider")
		w.See("Discard")
		require.Equal(t, "Rigging", value(w.Page, "Phone"))
		require.NoError(t, w.Reload())
		w.See("Discard")
		require.Equal(t, "Rigging", value(w.Page, "Phone"))
	})
	w.step("signing out asks before it does", func() {
		w.Press("Sign out")
		w.See("Ruth Eider")
		w.See("Stay")
		w.Press("Stay")
		w.Gone("Stay")
		require.Equal(t, "Rigging", value(w.Page, "Phone"))
	})
	w.step("the session has ended", func() {
		require.NoError(t, proto.NetworkClearBrowserCookies{}.Call(w.Page))
		w.Save()
		w.See("Your session has ended")
		w.Press("Sign in")
		w.Gone("Your session has ended")
		w.Gone("Discard")
		require.Equal(t, "Rigging", value(w.Page, "Phone"))
		require.NoError(t, w.Reload())
		w.See("What they carry")
		require.Equal(t, "Rigging", value(w.Page, "Phone"), "it was saved")
	})
	w.step("a refused save puts the focus where it is refused", func() {
		w.Fill("Name", "")
		w.Save()
		require.NoError(t, w.Timeout(browser.Patience).Wait(rod.Eval(
			`() => document.activeElement?.getAttribute('aria-invalid') === 'true' && document.getElementById(document.activeElement.getAttribute('aria-describedby'))?.textContent.length > 3`,
		)))
		w.Press("Discard")
	})
}

// Keys do what they say wherever the hands are, and nothing behind a question.
func TestKeysAndQuestions(t *testing.T) {
	w := newMuseum(t)
	capsS := func() {
		// With Caps Lock the key is S; the browser tells it so.
		require.NoError(t, proto.InputDispatchKeyEvent{Type: proto.InputDispatchKeyEventTypeKeyDown, Modifiers: 2, Key: "S",
			Code: "KeyS", WindowsVirtualKeyCode: 83}.Call(w.Page))
		require.NoError(t, proto.InputDispatchKeyEvent{Type: proto.InputDispatchKeyEventTypeKeyUp, Modifiers: 2, Key: "S",
			Code: "KeyS", WindowsVirtualKeyCode: 83}.Call(w.Page))
	}
	w.step("hours that were typed a breath ago are what is saved", func() {
		w.Go("/hours?what=schedules")
		w.Press("Summer lectures")
		w.See("No access level uses it.")
		w.Slow(250 * time.Millisecond)
		w.Fill("Hours as text", "Tu 19:15-20:45")
		w.Save() // before the text has been read
		w.See("1 h 30")
		w.Gone("Discard")
		w.Slow(0)
		require.NoError(t, w.Reload())
		w.See("1 h 30")
		w.See("No access level uses it.")
	})
	w.step("undo and redo over the whole sheet", func() {
		w.Fill("Name", "Autumn lectures")
		w.Fill("Hours as text", "We 19:15-20:45")
		w.See("Discard")
		w.Press("Undo")
		w.Press("Undo")
		w.Gone("Discard")
		require.Equal(t, "Summer lectures", value(w.Page, "Name"))
		w.Press("Redo")
		w.Press("Redo")
		w.See("Discard")
		require.Equal(t, "Autumn lectures", value(w.Page, "Name"))
		w.Press("Discard")
		w.Gone("Discard")
	})
	w.step("Ctrl S with Caps Lock, and not behind a question", func() {
		openPerson(w.Page, "Priya Inver")
		w.Fill("Phone", "Store")
		w.Press("Remove")
		w.See("Their cards open nothing")
		capsS()
		w.Save()
		w.Type(input.Escape)
		w.Gone("Their cards open nothing")
		w.See("Discard") // it was not saved behind the question
		capsS()
		w.Gone("Discard")
	})
	w.step("the bench rests behind the keys", func() {
		w.Go("/build/doors")
		w.Press("Tide hall")
		w.See("Who can come in")
		w.Press("To the bench")
		w.See("Touch the drawing")
		w.See("closed")
		w.Type('?')
		w.See("Those that do something where you are now.")
		w.Type('o')
		w.Type(input.Escape)
		w.Gone("Those that do something")
		w.Type('e') // the exit request answers, so what was pressed before it has been through
		w.See("released")
		require.NotContains(t, w.Text(), "open · ")
	})
	w.step("keys of one letter can be switched off", func() {
		w.Go("/people")
		w.See("60 in all")
		w.Type('?')
		w.Tick("Keys of a single letter")
		w.Type(input.Escape)
		w.Gone("Those that do something")
		w.Type('/') // the list's search would have the focus; the next key would be typed there
		w.Type('?')
		w.See("Those that do something where you are now.")
		w.Tick("Keys of a single letter")
		w.Type(input.Escape)
		w.Gone("Those that do something")
		w.Type('/')
		for _, k := range "ruth eider" {
			w.Type(input.Key(k))
		}
		w.See("1 found")
	})
	w.step("over a slow line Ctrl K goes where the words say, in one request", func() {
		w.Go("/build")
		w.See("In service")
		w.Slow(600 * time.Millisecond)
		require.NoError(t, w.KeyActions().Press(input.ControlLeft).Type('k').Do())
		for _, k := range "Quarantine" {
			w.Type(input.Key(k))
		}
		w.Type(input.Enter)
		w.See("Who can come in")
		w.Slow(0)
		require.Equal(t, "Quarantine lab", value(w.Page, "Name"))
		require.LessOrEqual(t, w.asks("/api/find"), 2, "not one for each letter")
	})
}

// Numbers that are told are the numbers that are, and what is pressed twice happens once.
func TestCountsAndDoublePresses(t *testing.T) {
	w := newMuseum(t)
	w.step("as many doors as there are", func() {
		w.Go("/build/doors")
		w.See("24 in all")
		w.Go("/build")
		w.See("24 doors")
	})
	w.step("a plan that names a level is not one of its people", func() {
		w.Go("/people/levels")
		w.See("12 in all") // until then a door of the name is all that shows
		w.Press("Registrars")
		w.See("Whole places")
		w.Pick("Add a whole place", "Boathouse")
		w.See("Who has it 5")
		w.Press("Discard")
	})
	w.step("choosing what is chosen, and a date typed and cleared, change nothing", func() {
		openPerson(w.Page, "Priya Inver")
		w.Press("at all dates. Limit person")
		w.Fill("person from", "2026-12-24")
		w.Type(input.Tab)
		w.See("Discard")
		w.Fill("person from", "")
		w.Type(input.Tab)
		w.Gone("Discard")
		w.Go("/build/doors")
		w.Press("Tide hall")
		w.See("Who can come in")
		w.Pick("Passage plan", "Public galleries")
		w.See("Who can come in")
		assert.NotContains(t, w.Text(), "Discard")
	})
	w.step("a floor is made where it is missed", func() {
		w.Go("/build/doors")
		w.Press("Tide hall")
		w.See("Who can come in")
		w.Fill("Floor", "Mezzanine")
		w.Press("New: “Mezzanine”")
		w.See("Mezzanine")
		w.Save()
		w.Gone("Discard")
		w.See("Main house, Mezzanine")
	})
	w.step("a new dated change is for the door that it is made for", func() {
		w.Go("/build/doors")
		w.Press("Tide hall")
		w.See("Who can come in")
		w.Station("2 Hours")
		w.See("What decides")
		w.Press("New dated change")
		w.See("The doors are")
		w.See("1 door Tide hall")
		w.Go("/build/doors")
		w.Press("Cloakroom")
		w.See("Who can come in")
		w.Station("2 Hours")
		w.See("What decides")
		w.Press("New dated change")
		w.See("The doors are")
		w.See("1 door Cloakroom")
	})
	w.step("holidays are loaded once, however often it is pressed", func() {
		w.Go("/hours/holidays/load")
		w.Fill("Country or region", "Nova Scotia")
		w.Press("Canada, Nova Scotia")
		w.See("Remembrance Day")
		w.Slow(300 * time.Millisecond)
		before := w.asks("/api/holidays/load")
		_, err := w.Eval(`() => { const b = [...document.querySelectorAll('button')].find(b => b.textContent.includes('Add 2 dates')); b.click(); b.click(); b.click() }`)
		require.NoError(t, err)
		w.See("2 dates added.")
		w.Slow(0)
		require.Equal(t, before+1, w.asks("/api/holidays/load"))
	})
	w.step("undone once, however often it is pressed, and found by words", func() {
		openPerson(w.Page, "Priya Inver")
		w.Fill("Phone", "Sail loft")
		w.Save()
		w.Gone("Discard")
		w.Go("/history?q=Priya")
		w.Press("person Priya Inver changed")
		w.See("→ Sail loft")
		_, err := w.Eval(`() => { const b = [...document.querySelectorAll('button')].find(b => b.textContent.includes('Undo this')); b.click(); b.click() }`)
		require.NoError(t, err)
		w.See("Sail loft → ")
		v, err := w.Eval(`() => fetch('/api/history?q=Priya').then(r => r.json()).then(l => l.filter(x => /undo|undone/.test(x.action)).length)`)
		require.NoError(t, err)
		require.LessOrEqual(t, v.Value.Int(), 1)
	})
}

// A list stays as it was looked at: a sheet goes to the next of it and the one before, and Back finds its place.
func TestListsAreKept(t *testing.T) {
	w := newMuseum(t)
	w.step("next and previous within what was found", func() {
		w.Go("/people?sort=-name&q=ma")
		w.See("found")
		v, err := w.Eval(`() => fetch('/api/people?sort=-name&q=ma').then(r => r.json()).then(p => p.items.map(i => i.value.name).join('|'))`)
		require.NoError(t, err)
		names := strings.Split(v.Value.Str(), "|")
		require.Greater(t, len(names), 2)
		w.Press(names[0])
		w.See("1 of " + strconv.Itoa(len(names)))
		w.Type(']')
		w.See("2 of " + strconv.Itoa(len(names)))
		require.Equal(t, names[1], value(w.Page, "Name"))
		w.Type('[')
		w.See("1 of " + strconv.Itoa(len(names)))
		require.Equal(t, names[0], value(w.Page, "Name"))
	})
	w.step("Back finds the place in the list", func() {
		w.Go("/people")
		w.See("60 in all")
		const scroll = `() => document.querySelector('[role=grid]').scrollTop`
		_, err := w.Eval(`() => { document.querySelector('[role=grid]').scrollTop = 900 }`)
		require.NoError(t, err)
		require.NoError(t,
			w.Timeout(browser.Patience).Wait(rod.Eval(`() => [...document.querySelectorAll('[role=row]')].some(r => r.ariaRowIndex > 30)`)))
		time.Sleep(150 * time.Millisecond) // where it is looked at is kept a moment later
		_, err = w.Eval(`() => [...document.querySelectorAll('[role=row]')].find(r => r.ariaRowIndex == 30).click()`)
		require.NoError(t, err)
		w.See("What they carry")
		require.NoError(t, w.NavigateBack())
		w.See("60 in all")
		require.NoError(t,
			w.Timeout(browser.Patience).Wait(rod.Eval(`() => document.querySelector('[role=grid]').scrollTop === 900`)),
			"it is at %v", w.number(scroll))
	})
	w.step("a part that is no more after an upgrade is loaded anew", func() {
		w.Go("/build")
		w.See("In service")
		router := w.HijackRequests()
		var refused atomic.Bool
		router.MustAdd("*/assets/RulesHome*", func(h *rod.Hijack) {
			if refused.CompareAndSwap(false, true) {
				h.Response.Fail(proto.NetworkErrorReasonFailed)
				return
			}
			h.ContinueRequest(&proto.FetchContinueRequest{})
		})
		go router.Run()
		defer router.MustStop()
		w.Press("4 Rules")
		w.See("Two at the vault")
		require.True(t, refused.Load())
	})
}

// A name tells in place what it means, by keys too, and what stands in it does so in turn; all within the window.
func TestPeeks(t *testing.T) {
	w := newMuseum(t)
	const panels = `() => [...document.querySelectorAll('[data-peek]')].map(e => e.getBoundingClientRect()).every(r => r.left >= 0 && r.top >= 0 && r.right <= innerWidth && r.bottom <= innerHeight)`
	open := func(n int) {
		require.NoError(t,
			w.Timeout(browser.Patience).Wait(rod.Eval(`n => document.querySelectorAll('[data-peek]').length === n`, n)))
	}
	w.step("a peek in a peek", func() {
		w.Go("/people/levels")
		w.See("12 in all") // until then a door of the name is all that shows
		w.Press("Registrars")
		w.See("Used by")
		w.Press("Kofi Ostrander")
		open(1)
		w.See("card 42-")
		e, err := w.Timeout(browser.Patience).ElementByJS(rod.Eval(`() => [...document.querySelectorAll('[data-peek] button')].find(b => b.textContent.trim() === 'Registrars') || null`))
		require.NoError(t, err)
		require.NoError(t, e.CancelTimeout().Click(proto.InputMouseButtonLeft, 1))
		open(2)
		v, err := w.Eval(panels)
		require.NoError(t, err)
		require.True(t, v.Value.Bool(), "within the window")
		w.Type(input.Escape)
		open(1)
		w.Type(input.Escape)
		open(0)
	})
	w.step("by keys", func() {
		w.Go("/build/doors")
		w.Press("Tide hall")
		w.See("Who can come in")
		_, err := w.Eval(`() => [...document.querySelectorAll('button[aria-expanded]')].find(b => b.textContent.trim() === 'Public galleries').focus()`)
		require.NoError(t, err)
		w.Type(input.Enter)
		open(1)
		w.See("otherwise card")
		w.Type(input.Escape)
		open(0)
		v, err := w.Eval(`() => document.activeElement.textContent.trim()`)
		require.NoError(t, err)
		require.Equal(t, "Public galleries", v.Value.Str(), "the focus is where it was")
	})
}

// A site may write times in the 12-hour clock and begin weeks on Sunday; what is typed is read in both.
func TestClockOfASite(t *testing.T) {
	w := newMuseum(t)
	w.step("as it comes", func() {
		w.Go("/build/doors")
		w.Press("Quay entrance")
		w.See("until 22:00")
		w.See("Mon 23")
	})
	w.step("the site chooses", func() {
		w.Go(w.numbered("/build/sites/%site"))
		w.See("not as 18:30")
		w.Tick("12-hour clock")
		w.Tick("calendars begin")
		w.Save()
		w.Gone("Discard")
	})
	w.step("a door of it", func() {
		w.Go("/build/doors")
		w.Press("Quay entrance")
		w.See("until 10:00 pm")
		w.See("Sun 22")
	})
	w.step("times are typed and shown so", func() {
		w.Go("/hours/changes")
		w.Press("Lantern evening")
		w.See("The doors are")
		require.Equal(t, "5:00 pm", value(w.Page, "From time"))
		w.Fill("From time", "16:45")
		w.Type(input.Tab)
		w.See("Discard")
		require.Equal(t, "4:45 pm", value(w.Page, "From time"))
		w.Press("Pick: From date")
		w.See("Su Mo Tu We Th Fr Sa")
		w.Type(input.Escape)
		w.Press("Discard")
	})
}

// A card is taken from the reader that was chosen and from no other, and waiting for one can be ended.
func TestEnrolmentAtAReader(t *testing.T) {
	w := newMuseum(t)
	w.step("the wrong reader is not listened to", func() {
		openPerson(w.Page, "Priya Inver")
		w.Pick("Reader at which", "Tide hall")
		w.Press("Present a card")
		w.See("Waiting for a card")
		w.presentAt(4, 42, 31001) // the cloakroom
		w.presentAt(2, 9, 31005)  // Tide hall, but a card of another facility: who waits is told
		w.See("facility code not accepted")
		w.presentAt(2, 42, 31002)
		w.See("was presented at Tide hall")
		require.NotContains(t, w.Text(), "31001")
	})
	w.step("Esc ends it", func() {
		w.Press("Present a card")
		w.See("Waiting for a card")
		w.Type(input.Escape)
		w.Gone("Waiting for a card")
		w.presentAt(2, 42, 31003)
		require.NotContains(t, w.Text(), "31003")
		w.Press("Discard")
	})
}
