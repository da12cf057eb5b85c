// Package e2e drives the real interface in Chromium as a user would, against the real server and rack.
package e2e

import (
	"context"
	"fmt"
	"io/fs"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/demo"
	"amberkeystone/e2e/browser"
	"amberkeystone/rack"
	"amberkeystone/server"
	"amberkeystone/store"
	"amberkeystone/web"
)

// world is a server, its rack, and a browser before it.
type world struct {
	*browser.Page
	t      *testing.T
	dir    string
	rack   *rack.Rack
	store  *store.Store
	server *server.Server
	web    *httptest.Server
}

func (w *world) startServer() {
	st, err := store.Open(filepath.Join(w.dir, "keystone.db"))
	require.NoError(w.t, err)
	s, err := server.New(context.Background(), server.Options{Store: st, Rack: w.rack.Address(), Web: web.Pages()})
	require.NoError(w.t, err)
	h, err := s.Handler()
	require.NoError(w.t, err)
	w.store, w.server = st, s
	if w.web == nil {
		w.web = httptest.NewServer(h)
		return
	}
	address := w.web.Listener.Addr().String() // the same address, as after a restart
	w.web = httptest.NewUnstartedServer(h)
	require.NoError(w.t, w.web.Listener.Close())
	w.web.Listener, err = net.Listen("tcp", address)
	require.NoError(w.t, err)
	w.web.Start()
}

func (w *world) stopServer() {
	w.server.Close()
	w.web.CloseClientConnections()
	w.web.Close()
	require.NoError(w.t, w.store.Close())
}

// needs skips a test where the pages or the browser are not there.
func needs(t *testing.T) {
	if f, err := fs.Stat(web.Pages(), "index.html"); err != nil || f.Size() == 0 {
		t.Skip("the web pages are not built; make web")
	}
	if _, err := os.Stat("/usr/bin/chromium"); err != nil {
		t.Skip("no Chromium; make need-chromium")
	}
}

// keeper lets the one of the demo sign in.
func (w *world) keeper() {
	hash, err := argon2id.CreateHash(demo.SignIn.Password, &argon2id.Params{
		Memory: 64, Iterations: 1, Parallelism: 1, SaltLength: 16, KeyLength: 32,
	})
	require.NoError(w.t, err)
	_, err = w.store.AddFirstUser(context.Background(), demo.SignIn.Name, hash)
	require.NoError(w.t, err)
}

func newWorld(t *testing.T) *world {
	needs(t)
	w := &world{t: t, dir: t.TempDir()}
	var err error
	w.rack, err = rack.Open(filepath.Join(w.dir, "rack"), "127.0.0.1:0", demo.Rack(0)[:2])
	require.NoError(t, err)
	w.startServer()
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
	return w
}

// step names a part of the path, so that a panic tells where it was.
func (w *world) step(name string, f func()) {
	defer func() {
		if r := recover(); r != nil {
			w.t.Fatalf("%s: %v", name, r)
		}
	}()
	f()
	w.t.Logf("%s: %d clicks, %d keys so far", name, w.Clicks, w.Keys)
}

var doorNames = []string{"Front door", "Back door", "Office", "Store"}
var people = []string{"Ada Reed", "Ben Holt", "Cy Marsh", "Dot Quill", "Eve Stone", "Fay Birch"}

// From an empty database to a proved door: the path of a first evening with a new controller.
func TestFirstEvening(t *testing.T) {
	w := newWorld(t)
	w.step("first administrator", func() {
		w.See("Nobody can sign in yet")
		w.Fill("Name", "Robin")
		w.Fill("Password", "short")
		w.Press("Begin")
		w.See("at least 10 characters")
		w.Fill("Password", "low tide at noon")
		w.Press("Begin")
	})
	w.step("controller", func() {
		w.See("AK-1001")
		w.Press("Take into service")
		w.See("Whatever this controller holds is erased")
		w.Fill("Name", "Hall cupboard")
		w.Fill("Time zone", "America/Halifax")
		w.Press("Erase and take into service")
		w.See("Does it show the same code")
		w.sameCodes()
		w.Press("It is the same: take into service")
		w.See("one to a port")
	})
	w.step("doors", func() {
		for i, name := range doorNames {
			if i == 0 {
				w.Press("Name a door")
			} else {
				w.Press("Next door")
			}
			w.See("Name it, say where it is")
			w.Fill("Name", name)
			if name == "Store" { // so that held open need not take a minute
				w.Fill("Held open after", "6")
				w.Fill("Warning before", "2")
			}
			w.Press("Add the door")
			w.See("Who can come in")
		}
	})
	w.step("hours", func() {
		w.Station("2 Hours") // at the door that was made last
		w.See("What decides")
		w.Press("All hours")
		w.Press("New schedule")
		w.Fill("Name", "Office hours")
		w.Fill("Hours as text", "Mo-Fr 08:30-17:00; Sa 10:00-16")
		w.See("at position 29: a time has hours and minutes")
		w.Fill("Hours as text", "Mo-Fr 08:30-17:00; Sa 10:00-16:00")
		w.See("48 h 30")
		w.Press("Save")
		w.See("No access level uses it")
	})
	w.step("level", func() {
		w.Station("3 People")
		w.Press("Access levels")
		w.See("Where, and each place")
		w.Press("New level")
		w.Fill("Name", "Staff")
		w.See("Places that you choose")
		w.Pick("Schedule of places", "Office hours")
		for _, d := range doorNames[:3] { // not the store
			w.TickIn("Doors of the level", d)
		}
		w.Press("Add the level")
		w.See("Nobody has it yet")
	})
	w.step("send the doors", func() {
		w.Station("5 Send")
		w.See("holds nothing yet: 4 doors")
		w.Press("Send to 1 controller")
		w.See("up to date since")
	})
	w.step("six cards, presented", func() { w.enrol() })
	w.step("send the people", func() {
		w.Station("5 Send")
		w.See("Ada Reed is new here")
		w.Press("Send to 1 controller")
		w.See("every hash was checked")
		w.Gone("Ada Reed is new here")
	})
	w.step("bench", func() { w.bench() })
	w.step("open and closed again in one breath, over a slow line", func() {
		clicks, keys := w.Clicks, w.Keys
		w.Slow(300 * time.Millisecond)
		w.Type(input.KeyE, input.KeyO, input.KeyO)
		w.Press("Unknown card")
		w.Type(input.Enter)
		w.See("Refused: card unknown")
		w.See("closed · locked")
		w.Slow(0)
		w.Clicks, w.Keys = clicks, keys // not of the path
	})
	w.step("watch", func() {
		w.Station("7 Watch")
		w.Press("Store ✕") // the door that was at hand stays; now all of them
		for _, reason := range []string{"Granted Ada Reed · level Staff", "no access level Ada Reed",
			"outside hours Ada Reed · may come in again Mon", "card unknown · card 9-55001",
			"damaged read · parity of group 2", "Door forced · opened with no grant", "Door held open"} {
			w.See(reason)
		}
	})
	clicks, keys := w.Clicks, w.Keys
	w.step("go to a schedule by its name", func() {
		require.NoError(t, w.KeyActions().Press(input.ControlLeft).Type('k').Do())
		w.Fill("Go to", "Office h")
		w.See("Office hours schedule")
		w.Type(input.Enter)
		w.See("48 h 30")
	})
	w.Clicks, w.Keys = clicks, keys
	t.Logf("the whole path: %d clicks, %d keystrokes", w.Clicks, w.Keys)
	fmt.Printf("first evening: %d clicks, %d keystrokes\n", w.Clicks, w.Keys)
}

// enrol gives six people a card that each presents at the first door's reader.
func (w *world) enrol() {
	for i, name := range people {
		if i == 0 {
			w.Station("3 People")
			w.Press("New person")
		} else {
			w.Press("Next new person")
		}
		w.See("this person cannot come in anywhere")
		w.Fill("Name", name)
		if i == 0 {
			w.Pick("Reader at which", "Front door") // it is remembered
		}
		w.Press("Present a card")
		w.See("Waiting for a card")
		w.present(uint64(12345 + i))
		w.See(fmt.Sprintf("Card 9-%d was presented at Front door", 12345+i))
		if i < 5 {
			w.Pick("Give an access level", "Staff")
		}
		w.Press("Add the person")
		w.See("Has not been at a door yet")
	}
}

// bench proves the doors: every answer with its reason.
func (w *world) bench() {
	refused := func() { w.See("What would change it") }
	w.Station("6 Prove")
	w.See("Two of person, door and time")
	w.Press("Front door")
	w.See("Touch the drawing")
	w.Fill("Make it", "Sat 15:59:50")
	w.Press("Set its clock")
	w.See("15:59:5")
	w.Press("Ada Reed")
	w.Type(input.Enter)
	w.See("Staff covers this door")
	w.See("Granted")
	w.Type(input.KeyO)
	w.See("Went through Ada Reed")
	w.Type(input.KeyO)
	w.See("Closed")

	w.Fill("Make it", "Sat 16:00:00") // the last minute of the schedule has gone
	w.Press("Set its clock")
	w.See("16:00:0")
	w.Press("Unknown card") // another card first: one card twice within 0.8 s is one presentation
	w.Type(input.Enter)
	w.See("Refused: card unknown")
	w.Press("Damaged read")
	w.Type(input.Enter)
	w.See("Refused: damaged read")
	refused()
	w.Press("Ada Reed")
	w.Type(input.Enter)
	w.See("Refused: outside hours")
	w.See("may come in again Mon")
	refused()

	w.Press("Store")
	w.See("Bench: Store")
	w.Fill("Make it", "Mon 10:00:00")
	w.Press("Set its clock")
	w.See("10:00:0")
	w.Press("Ada Reed")
	w.Type(input.Enter)
	w.See("Refused: no access level")
	w.See("Give Ada Reed a level that covers Store")

	w.Type(input.KeyO) // pulled open by force
	w.See("Opened without a reason")
	w.See("Door forced")
	w.Type(input.KeyO)
	w.See("Forced door closed")

	w.Type(input.KeyE) // out by the button, and propped open
	w.Type(input.KeyO)
	w.See("after an exit request")
	w.See("Door held open")
	w.Type(input.KeyO)
	w.See("Held-open ended")
}

// present is a person who stands at the front door with a card in hand.
func (w *world) present(number uint64) { w.presentAt(1, 9, number) }

// presentAt shows a card to the reader on the way in of a port of the first controller.
func (w *world) presentAt(port int, facility, number uint64) {
	bits, err := encode(facility, number)
	require.NoError(w.t, err)
	_, err = rack.Client{Address: w.rack.Address()}.Do(rack.Hand{
		Serial: "AK-1001", Do: "present", Point: site.PortPoints(port).In, Bits: bits,
	})
	require.NoError(w.t, err)
}

// What a controller kept while it was off the network arrives once, in order, with its own times; and
// nothing is lost when server and page were away.
func TestOffTheNetwork(t *testing.T) {
	w := newWorld(t)
	w.step("set up", func() {
		w.See("Nobody can sign in yet")
		w.Fill("Name", "Robin")
		w.Fill("Password", "low tide at noon")
		w.Press("Begin")
		w.Press("Take into service")
		w.Fill("Name", "Hall cupboard")
		w.Fill("Time zone", "America/St_Johns")
		w.Press("Erase and take into service")
		w.See("Does it show the same code")
		w.sameCodes()
		w.Press("It is the same: take into service")
		w.Press("Name a door")
		w.See("Name it, say where it is")
		w.Fill("Name", "Front door")
		w.Press("Add the door")
		w.See("Who can come in")
		w.Station("5 Send")
		w.Press("Send to 1 controller")
		w.See("every hash was checked")
	})
	hands := rack.Client{Address: w.rack.Address()}
	do := func(h rack.Hand) {
		h.Serial = "AK-1001"
		_, err := hands.Do(h)
		require.NoError(t, err)
	}
	w.step("cut, change, use", func() {
		do(rack.Hand{Do: "network", On: false})
		w.Station("1 Build")
		w.See("does not answer")
		for n := range uint64(3) {
			bits, err := encode(9, 100+n)
			require.NoError(t, err)
			do(rack.Hand{Do: "present", Point: point.At(point.Reader, 1), Bits: bits})
		}
		w.Press("Front door")
		w.See("controller does not answer")
		w.Fill("Unlock time", "7")
		w.Press("Save")
		w.See("unlock time 7 s, was 5 s")
		w.Station("5 Send")
		w.Press("Send to 1 controller")
		w.See("sent on its return")
	})
	w.step("the server restarts", func() {
		w.stopServer()
		w.startServer()
		do(rack.Hand{Do: "network", On: true})
		w.Go("/send")
		w.See("up to date since")
		w.Go("/watch")
		for n := range 3 {
			w.See(fmt.Sprintf("card 9-0010%d", n))
		}
	})
	text := w.Text()
	for n := range 3 {
		require.Equal(t, 1, strings.Count(text, fmt.Sprintf("card 9-0010%d", n)), "each event once")
	}
	require.Greater(t, strings.Index(text, "card 9-00100"), strings.Index(text, "card 9-00102"), "the newest on top")
}

// The server answers bad input with a sentence, and strangers with nothing.
func TestNothingForStrangers(t *testing.T) {
	w := newWorld(t)
	for _, path := range []string{"/api/overview", "/api/people", "/api/live", "/api/site-file", "/api/events"} {
		r, err := http.Get(w.web.URL + path)
		require.NoError(t, err)
		require.NoError(t, r.Body.Close())
		require.Equal(t, http.StatusUnauthorized, r.StatusCode, path)
	}
}
