package server_test

import (
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/point"
	"amberkeystone/rack"
	"amberkeystone/server"
)

// Water on a floor writes to the mailbox and sounds at another controller; an address that is allowed is called, with a
// signature, again until it answers.
func TestReactionsAcross(t *testing.T) {
	begin := time.Now()
	c := openAt(t, func() time.Time { return evening().Add(time.Since(begin)) })
	var mu sync.Mutex
	var calls []string
	var key struct{ Key string }
	c.get("/api/call-key", &key)
	secret, err := hex.DecodeString(key.Key)
	require.NoError(t, err)
	hook := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		body, _ := io.ReadAll(r.Body)
		mu.Lock()
		defer mu.Unlock()
		if r.Header.Get("X-Keystone-Signature") != "sha256="+server.Sign(secret,
			[]byte(r.Header.Get("X-Keystone-Time")+"."+string(body))) {
			calls = append(calls, "forged")
		}
		calls = append(calls, string(body))
		if len(calls) == 1 {
			w.WriteHeader(http.StatusServiceUnavailable)
		}
	}))
	defer hook.Close()

	var settings struct {
		Rev   int64
		Value map[string]any
	}
	c.get("/api/settings", &settings)
	settings.Value["callouts"] = []any{map[string]any{"name": "Porter", "url": "gopher://x"}}
	put := func() string {
		b, err := json.Marshal(settings)
		require.NoError(t, err)
		return string(b)
	}
	c.want(422, "write a whole address, such as https://example.org/hook", "PUT", "/api/settings", put())
	deaf := make(chan struct{})
	silent := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { <-deaf }))
	defer silent.Close()
	defer close(deaf)
	settings.Value["callouts"] = []any{map[string]any{"name": "Porter", "url": hook.URL},
		map[string]any{"name": "Deaf", "url": silent.URL}}
	c.want(200, "", "PUT", "/api/settings", put())

	water := fmt.Sprintf(`"when":"input-active","inputIds":[%d],"scheduleId":%d,"at":[],"to":[],"sourceIds":[],"outputIds":[]`, c.id("Water on the floor"), c.id("Always"))
	c.want(422, "is no address that is allowed", "POST", "/api/reactions",
		`{"id":0,"name":"Call","do":"call","address":"Nobody",`+water+`}`)
	c.want(200, "", "POST", "/api/reactions", `{"id":0,"name":"Call","do":"call","address":"Porter",`+water+`}`)
	c.want(200, "", "POST", "/api/reactions", `{"id":0,"name":"Call nobody","do":"call","address":"Deaf",`+water+`}`)
	c.want(200, "Needs the server, which tells North riser.", "GET", "/api/reactions-in-words", "")

	c.want(204, "", "POST", fmt.Sprintf("/api/controllers/%d/hand", c.id("Collections room")),
		`{"do":"close","at":"1/i1"}`)
	c.sees("/api/lines", "Water on the floor of the collections")
	c.sees("/api/calls", `"answer":"200 OK`)
	mu.Lock()
	require.Len(t, calls, 2, "once more, since nobody answered")
	assert.Equal(t, calls[0], calls[1])
	assert.Contains(t, calls[0], `"because":"Input active: Water on the floor"`)
	mu.Unlock()
	c.terminal(c.id("North riser"), "o5", "on") // the sounder of another controller
}

// What is on at another controller until something has ended is let go also where that ended while the server was
// closed, or while the other controller was off the network.
func TestLetGoLater(t *testing.T) {
	begin := time.Now()
	c, again := openAgain(t, func() time.Time { return evening().Add(time.Since(begin)) })
	c.want(200, "", "POST", "/api/reactions", fmt.Sprintf(`{"id":0,"name":"Leak","when":"input-active","inputIds":[%d],"scheduleId":%d,`+
		`"do":"output on","outputIds":[%d],"until":true,"at":[],"to":[],"sourceIds":[]}`,
		c.id("Water on the floor"), c.id("Always"), c.id("Siren, shop")))
	north := c.id("North riser")
	var standIns rack.Client
	hand := func(serial, do string, at point.Address, on bool) {
		_, err := standIns.Do(rack.Hand{Serial: serial, Do: do, Point: at, On: on})
		require.NoError(t, err)
	}
	floor := point.Address{Board: 1, Kind: point.Input, Number: 1}
	again(func(r rack.Client) { standIns = r })
	hand("AK-1003", "close", floor, false)
	c.terminal(north, "o6", "on")
	again(func(rack.Client) { hand("AK-1003", "open", floor, false) })
	c.terminal(north, "o6", "off")

	hand("AK-1003", "close", floor, false)
	c.terminal(north, "o6", "on")
	hand("AK-1001", "network", point.Address{}, false)
	c.sees("/api/overview", `"offline":true`)
	hand("AK-1003", "open", floor, false)
	c.sees("/api/events", "input-rest")
	hand("AK-1001", "network", point.Address{}, true)
	c.terminal(north, "o6", "off")
}

// Loops are refused with the loop; a reaction is tried on what has happened.
func TestReactionsAreChecked(t *testing.T) {
	c := openAt(t, evening)
	body := func(name, when, do string) string {
		place := fmt.Sprintf(`[{"kind":"door","id":%d}]`, c.id("Tide hall"))
		return fmt.Sprintf(`{"id":0,"name":%q,"when":%q,"do":%q,"mode":"free","at":%s,"to":%s,"scheduleId":%d,"inputIds":[],"sourceIds":[],"outputIds":[]}`,
			name, when, do, place, place, c.id("Always"))
	}
	c.want(422, "it would set itself off for ever: Again (hold Tide hall free until it is let go)", "POST",
		"/api/reactions", body("Again", "hold", "hold"))
	c.want(200, "", "POST", "/api/reactions", body("To and fro", "hold", "back"))
	c.want(422,
		"these would set each other off for ever: Fro and to (hold Tide hall free until it is let go) → To and fro (let Tide hall go, back to plan) → Fro and to",
		"POST", "/api/reactions", body("Fro and to", "hold-ended", "hold"))

	try := `{"hours":48,"reaction":` + body("Tried", "granted", "release") + `}`
	text := c.want(200, "would have set it off", "POST", "/api/rules/reaction-try", try)
	assert.Contains(t, text, "Granted, Tide hall")
	assert.Contains(t, text, "release Tide hall once")
}

// So many inside an area set a reaction off once, as the last of them comes in.
func TestReactionToOccupancy(t *testing.T) {
	c, again := openAgain(t, evening)
	c.want(422, "choose the area", "POST", "/api/reactions", occupied(0, c.id("Always")))
	c.want(200, "When 1 person is inside Staff side", "POST", "/api/rules/reaction",
		occupied(c.id("Staff side"), c.id("Always")))
	c.want(200, "", "POST", "/api/reactions", occupied(c.id("Staff side"), c.id("Always")))
	_, present := c.card("Petra Tarn")
	for _, do := range []string{`{"do":"clock","clock":"2026-11-23 18:00"}`, present, `{"do":"open"}`, `{"do":"close"}`} {
		c.bench("Staff entrance", do)
	}
	c.sees("/api/lines", "somebody is on the staff side")
	c.sees("/api/lines", "1 inside Staff side now")

	again(func(rack.Client) {})
	c.sees("/api/overview", `"offline":false`)
	_, present = c.card("Linnea Vane")
	for _, do := range []string{present, `{"do":"open"}`, `{"do":"close"}`} {
		c.bench("Staff entrance", do)
	}
	c.sees("/api/areas-now", `"inside":2`)
	assert.Equal(t, 1, strings.Count(c.want(200, "", "GET", "/api/lines", ""), "somebody is on the staff side"),
		"not by the second, also after a restart")
}

func occupied(area, schedule int64) string {
	return fmt.Sprintf(`{"id":0,"name":"Lights","when":"occupied","areaId":%d,"count":1,"scheduleId":%d,"do":"mail","address":"porter@example.org","text":"somebody is on the staff side",`+
		`"at":[],"to":[],"inputIds":[],"sourceIds":[],"outputIds":[]}`, area, schedule)
}
