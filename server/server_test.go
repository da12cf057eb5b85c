package server_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/demo"
	"amberkeystone/rack"
	"amberkeystone/server"
	"amberkeystone/store"
)

// client is a browser without a screen.
type client struct {
	t    *testing.T
	http *http.Client
	url  string
}

// open starts the demo with its rack, and signs in.
func open(t *testing.T) *client { return openAt(t, time.Now) }

func openAt(t *testing.T, now func() time.Time) *client {
	c, _ := openAgain(t, now)
	return c
}

// openAgain is openAt, with a way to close the server, do something with the stand-ins meanwhile, and open it again.
func openAgain(t *testing.T, now func() time.Time) (*client, func(meanwhile func(rack.Client))) {
	dir := t.TempDir()
	r, err := rack.Open(filepath.Join(dir, "rack"), "127.0.0.1:0", demo.Rack(0))
	require.NoError(t, err)
	t.Cleanup(func() { _ = r.Close() })
	st, err := store.Open(filepath.Join(dir, "keystone.db"))
	require.NoError(t, err)
	standIns := rack.Client{Address: r.Address()}
	require.NoError(t, standIns.SetClocks(hours.At(now())))
	require.NoError(t, demo.Load(context.Background(), st, standIns, now()))
	s, err := server.New(
		context.Background(),
		server.Options{Store: st, Rack: r.Address(), Now: now, Web: fstest.MapFS{"index.html": {Data: []byte("the page")}}},
	)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, st.Close()) })
	c := serve(t, s)
	require.NoError(t, s.SendAll(context.Background(), "test"))
	status, _ := c.call("POST", "/api/first-administrator", `{"name":"Robin","password":"low tide at noon"}`)
	require.Equal(t, 200, status)
	return c, func(meanwhile func(rack.Client)) {
		s.Close()
		meanwhile(standIns)
		s, err = server.New(context.Background(), server.Options{Store: st, Rack: r.Address(), Now: now})
		require.NoError(t, err)
		c.url = serve(t, s).url
	}
}

// serve answers at an address of its own until the test ends, and gives a browser that is there.
func serve(t *testing.T, s *server.Server) *client {
	h, err := s.Handler()
	require.NoError(t, err)
	web := httptest.NewServer(h)
	t.Cleanup(func() {
		s.Close()
		web.CloseClientConnections()
		web.Close()
	})
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &client{t: t, http: &http.Client{Jar: jar}, url: web.URL}
}

func (c *client) call(method, path, body string) (int, string) {
	req, err := http.NewRequest(method, c.url+path, strings.NewReader(body))
	require.NoError(c.t, err)
	if body != "" {
		req.Header.Set("Content-Type", "application/json")
	}
	r, err := c.http.Do(req)
	require.NoError(c.t, err)
	defer r.Body.Close()
	b, err := io.ReadAll(r.Body)
	require.NoError(c.t, err)
	return r.StatusCode, string(b)
}

func (c *client) get(path string, out any) {
	status, body := c.call("GET", path, "")
	require.Equal(c.t, 200, status, body)
	require.NoError(c.t, json.NewDecoder(bytes.NewReader([]byte(body))).Decode(out))
}

func (c *client) id(name string) int64 {
	var found []struct {
		ID   int64
		Name string
	}
	c.get("/api/find?q="+strings.ReplaceAll(name, " ", "+"), &found)
	require.NotEmpty(c.t, found, name)
	return found[0].ID
}

// idOf finds an object of one kind by its name, where others may have it too.
func (c *client) idOf(many, name string) int64 {
	var page struct {
		Items []struct {
			Value struct {
				ID   int64
				Name string
			}
		}
	}
	c.get("/api/"+many+"?limit=1000&q="+strings.ReplaceAll(name, " ", "+"), &page)
	for _, i := range page.Items {
		if i.Value.Name == name {
			return i.Value.ID
		}
	}
	c.t.Fatalf("there is none of %s named %s", many, name)
	return 0
}

type problem struct {
	Detail string
	Errors []struct{ Location, Message string }
}

// Bad input of any kind gets a sentence that names the field and the mend; never a 500.
func TestBadInput(t *testing.T) {
	c := open(t)
	door, person, plan := c.id("Quay entrance"), c.id("Ines Marrow"), c.id("Public galleries")
	var doc struct {
		Rev   int64
		Value map[string]any
	}
	c.get(fmt.Sprintf("/api/doors/%d", door), &doc)
	with := func(field string, v any) string {
		value := map[string]any{}
		for k, x := range doc.Value {
			value[k] = x
		}
		value[field] = v
		b, err := json.Marshal(map[string]any{"rev": doc.Rev, "value": value})
		require.NoError(t, err)
		return string(b)
	}
	put := fmt.Sprintf("/api/doors/%d", door)
	for _, q := range []struct {
		method, path, body string
		status             int
		says, field        string
	}{
		{"PUT", put, with("name", ""), 422, "give it a name", "name"},
		{"PUT", put, with("name", "  Quay"), 422, "remove the spaces", "name"},
		{"PUT", put, with("name", strings.Repeat("x", 99)), 422, "at most 80", "name"},
		{"PUT", put, with("name", "Tide hall"), 422, "already is a door named Tide hall", "name"},
		{"PUT", put, with("unlock", -1), 422, "outside 1 to 600", "unlock"},
		{"PUT", put, with("unlock", 99999999999), 422, "outside 1 to 600", "unlock"},
		{"PUT", put, with("unlock", "soon"), 422, "", ""},
		{"PUT", put, with("preAlarm", 60), 422, "shorter than the held-open time", "preAlarm"},
		{"PUT", put, with("lock", "glue"), 422, "", ""},
		{"PUT", put, with("port", 2), 422, "already drives Tide hall", "port"},
		{"PUT", put, with("port", 9), 422, "can drive 4 doors", "port"},
		{"PUT", put, with("planId", 99999), 422, "does not exist", ""},
		{"PUT", put, with("planId", 0), 422, "choose the passage plan", "planId"},
		{"PUT", put, `{"rev":0,"value":{}}`, 422, "", ""},
		{"PUT", put, `{`, 400, "", ""},
		{"PUT", put, ``, 400, "", ""},
		{"PUT", put, `null`, 422, "", ""},
		{"PUT", put, strings.Replace(with("unlock", 9), fmt.Sprintf(`"rev":%d`, doc.Rev), `"rev":77`, 1), 409, "has been changed by", ""},
		{"GET", "/api/doors/99999", "", 404, "", ""},
		{"GET", "/api/doors/abc", "", 422, "", ""},
		{"GET", "/api/doors/-1", "", 404, "", ""},
		{"GET", "/api/doors/99999999999999999999", "", 422, "", ""},
		{"GET", "/api/nothing", "", 404, "", ""},
		{"DELETE", fmt.Sprintf("/api/plans/%d?rev=1", plan), "", 409, "in use by door", ""},
		{"DELETE", put, "", 422, "", ""},
		{"DELETE", fmt.Sprintf("/api/schedules/%d?rev=1", c.id("Always")), "", 422, "cannot be removed", ""},
		{"PUT", fmt.Sprintf("/api/schedules/%d", c.id("Always")), `{"rev":1,"value":{"id":0,"name":"Always","week":[[],[],[],[],[],[],[]]}}`, 422, "cannot be edited", "name"},
		{"POST", "/api/sites", `{"id":0,"name":"Pier","zone":"Mars/Olympus"}`, 422, "is not an IANA time zone", "zone"},
		{"POST", "/api/hours/schedule", `{"do":"text","text":"Mo-Fr 8-17","schedule":{"id":0,"name":"x","week":[[],[],[],[],[],[],[]]}}`, 422, "position 7", "text"},
		{"POST", "/api/hours/plan", `{"do":"text","text":"Mo 08:00-09:00","plan":{"id":0,"name":"x","default":"card","week":[[],[],[],[],[],[],[]]}}`, 422, "which mode?", "text"},
		{"POST", "/api/hours/schedule", `{"do":"paint","rows":[{"day":9,"typeId":0}],"period":{"start":0,"end":60},"open":true,"schedule":{"id":0,"name":"x","week":[[],[],[],[],[],[],[]]}}`, 422, "days are counted from 0", "rows"},
		{"POST", "/api/hours/schedule", `{"do":"show","schedule":{"id":0,"name":"x","week":[[{"start":50,"end":40}],[],[],[],[],[],[]]}}`, 422, "ends after it starts", "week"},
		{"POST", "/api/hours/plan", `{"do":"show","plan":{"id":0,"name":"x","default":"card","week":[[{"start":0,"end":90,"mode":"free"},{"start":60,"end":120,"mode":"PIN"}],[],[],[],[],[],[]]}}`, 422, "overlap", "week"},
		{"POST", "/api/holidays", `{"id":0,"name":"Tide day","typeId":1,"siteIds":[],"kind":"every year","month":2,"day":30,"start":0,"end":1440}`, 422, "February has no day 30", "day"},
		{"POST", "/api/holiday-types", `{"id":0,"name":"Odd","rank":1,"plans":"sleep","schedules":"closed"}`, 422, "", "body.plans"},
		{"POST", "/api/dated-changes", `{"id":0,"name":"Evening","mode":"free","doorIds":[],"floorIds":[],"siteIds":[],"setIds":[],"from":"2026-11-27T17:00","until":"2026-11-27T16:00","recurs":""}`, 422, "choose the doors", "doorIds"},
		{"POST", "/api/dated-changes/preview", `{"change":{"id":0,"name":"","mode":"free","doorIds":[],"floorIds":[],"siteIds":[],"setIds":[],"from":"2026-11-27T17:00","until":"2026-11-27T21:00","recurs":"FREQ=HOURLY"}}`, 422, "FREQ=HOURLY is outside", "recurs"},
		{"POST", "/api/holidays/read-calendar", `{"text":"no calendar","from":2026,"to":2027,"siteIds":[]}`, 422, "not an iCalendar file", "text"},
		{"PUT", fmt.Sprintf("/api/people/%d/pin", person), `{"pin":"1234"}`, 422, "too easy to guess", "pin"},
		{"PUT", fmt.Sprintf("/api/people/%d/pin", person), `{"pin":"12"}`, 422, "4 digits", "pin"},
		{"POST", "/api/people", `{"id":0,"name":"Ann","departmentIds":[],"suspended":false,"extendedTime":false,"alwaysPin":false,"levels":[],"credentials":[{"kind":"card","format":"26-bit","value":"42-12345","status":"active"}]}`, 422, "already belongs to", "credentials[0].value"},
		{"POST", "/api/people", `{"id":0,"name":"Ann","departmentIds":[],"suspended":false,"extendedTime":false,"alwaysPin":false,"levels":[],"credentials":[],"from":"2026-12-01","until":"2026-11-01"}`, 422, "before the first day", "until"},
		{"POST", "/api/people", `{"id":0,"name":"Ann","departmentIds":[],"suspended":false,"extendedTime":false,"alwaysPin":false,"levels":[],"credentials":[{"kind":"card","format":"26-bit","value":"999-1","status":"active"}]}`, 422, "more than 255", "credentials[0].value"},
		{"GET", "/api/people?limit=0", "", 422, "", ""},
		{"GET", "/api/people?q=%25%5C%27%22%3B--", "", 200, "", ""},
		{"GET", fmt.Sprintf("/api/doors/%d/sheet?week=Monday", door), "", 422, "a date such as", "week"},
		{"GET", fmt.Sprintf("/api/ask?person=%d&door=%d&at=noon", person, door), "", 422, "Write the moment", "at"},
		{"GET", fmt.Sprintf("/api/ask?person=%d&door=1", person), "", 404, "", ""},
		{"POST", fmt.Sprintf("/api/bench/%d", door), `{"do":"present","bits":"012"}`, 422, "0 and 1", "number"},
		{"POST", fmt.Sprintf("/api/bench/%d", door), `{"do":"keys","keys":"abc"}`, 422, "keys 0 to 9", "keys"},
		{"POST", fmt.Sprintf("/api/bench/%d", door), `{"do":"clock","clock":"later"}`, 422, "write Sat 16:59:50", "clock"},
		{"POST", fmt.Sprintf("/api/bench/%d", door), `{"do":"clock","clock":""}`, 422, "write Sat", "clock"},
		{"POST", fmt.Sprintf("/api/bench/%d", door), `{"do":"dance"}`, 422, "", ""},
		{"POST", "/api/found/NOPE/take-into-service", `{"name":"X","siteId":0,"site":"Y","zone":"UTC"}`, 404, "No controller with serial NOPE", ""},
		{"POST", "/api/found/AK-1007/take-into-service", `{"name":"","siteId":1,"zone":"UTC"}`, 422, "give it a name", "name"},
		{"POST", "/api/found/AK-1007/take-into-service", `{"name":"North riser","siteId":1,"zone":"UTC"}`, 422, "already is a controller", "name"},
		{"POST", "/api/controllers/99999/blink", "", 404, "", ""},
		{"POST", "/api/history/99999/undo", "", 404, "", ""},
		{"POST", "/api/events/99999/acknowledge", "", 404, "", ""},
		{"PUT", "/api/settings", `{"rev":1,"value":{"name":"M","cards":[],"pinLength":4,"pinTries":5,"pinLock":5,"cardWithPin":10}}`, 422, "at least one card format", "cards"},
	} {
		status, body := c.call(q.method, q.path, q.body)
		name := q.method + " " + q.path + " " + q.body
		assert.Equal(t, q.status, status, "%s: %s", name, body)
		assert.Contains(t, body, q.says, name)
		if q.field != "" {
			var p problem
			require.NoError(t, json.Unmarshal([]byte(body), &p), name)
			require.NotEmpty(t, p.Errors, name)
			assert.Equal(t, q.field, p.Errors[0].Location, name)
		}
	}
	var after struct{ Rev int64 }
	c.get(put, &after)
	assert.Equal(t, doc.Rev, after.Rev, "nothing of all this was written")
}

func TestStrangersAndGuessers(t *testing.T) {
	c := open(t)
	stranger := &client{t: t, http: &http.Client{}, url: c.url}
	for _, path := range []string{"/api/overview", "/api/doors", "/api/live", "/api/site-file", "/api/history",
		"/api/openapi.json"} {
		status, _ := stranger.call("GET", path, "")
		assert.Equal(t, 401, status, path)
	}
	status, body := stranger.call("GET", "/build/doors/3", "")
	assert.Equal(t, 200, status)
	assert.Equal(t, "the page", body, "the application itself, which asks to sign in")
	status, _ = stranger.call("POST", "/api/first-administrator", `{"name":"Mallory","password":"a long enough one"}`)
	assert.Equal(t, 409, status)
	last := 0
	for range 12 {
		last, body = stranger.call("POST", "/api/sign-in", `{"name":"Robin","password":"guess"}`)
	}
	assert.Equal(t, 429, last)
	assert.Contains(t, body, "Wait a minute")

	req, err := http.NewRequest("POST", c.url+"/api/sign-out", nil)
	require.NoError(t, err)
	req.Header.Set("Origin", "https://elsewhere.example")
	req.Header.Set("Sec-Fetch-Site", "cross-site")
	r, err := c.http.Do(req)
	require.NoError(t, err)
	require.NoError(t, r.Body.Close())
	assert.Equal(t, 403, r.StatusCode, "another site's page cannot act here")
	assert.Contains(t, r.Header.Get("Content-Security-Policy"), "script-src 'self'")
	for _, cookie := range c.http.Jar.Cookies(req.URL) {
		assert.Equal(t, "keystone", cookie.Name)
	}
	status, _ = c.call("POST", "/api/sign-out", "")
	assert.Equal(t, 200, status)
	status, _ = c.call("GET", "/api/overview", "")
	assert.Equal(t, 401, status)
}

// A change is pending until it is sent, said in words; undone, nothing is pending any more.
func TestPendingAndUndo(t *testing.T) {
	c := open(t)
	type pending struct {
		Name    string
		Changes []struct{ Words string }
	}
	lacking := func() (out []string) {
		var list []pending
		c.get("/api/pending", &list)
		for _, p := range list {
			for _, ch := range p.Changes {
				out = append(out, p.Name+": "+ch.Words)
			}
		}
		return out
	}
	require.Empty(t, lacking())
	path := fmt.Sprintf("/api/doors/%d", c.id("Loading dock"))
	var doc struct {
		Rev   int64          `json:"rev"`
		Value map[string]any `json:"value"`
	}
	c.get(path, &doc)
	doc.Value["unlock"] = 40
	b, err := json.Marshal(doc)
	require.NoError(t, err)
	status, body := c.call("PUT", path, string(b))
	require.Equal(t, 200, status, body)
	assert.Equal(t, []string{"Collections room: Loading dock: unlock time 40 s, was 30 s"}, lacking())
	var lines []store.HistoryLine
	c.get("/api/history?limit=1", &lines)
	assert.Equal(t, "Robin", lines[0].Who)
	status, body = c.call("POST", fmt.Sprintf("/api/history/%d/undo", lines[0].ID), "")
	require.Equal(t, 204, status, body)
	assert.Empty(t, lacking())
}

func TestSelfTestFindsWhatIsWrong(t *testing.T) {
	c := open(t)
	door, box := c.id("Reading room"), c.id("South riser")
	play := func(body string) {
		status, answer := c.call("POST", fmt.Sprintf("/api/bench/%d", door), body)
		require.Equal(t, 200, status, answer)
	}
	bad := func() (out []string) {
		status, body := c.call("POST", fmt.Sprintf("/api/controllers/%d/self-test", box), "")
		require.Equal(t, 200, status, body)
		var lines []server.TestLine
		require.NoError(t, json.Unmarshal([]byte(body), &lines))
		for _, l := range lines {
			if !l.OK {
				out = append(out, l.Place+", "+l.What)
			}
		}
		return out
	}
	assert.Empty(t, bad())
	play(`{"do":"open"}`)
	play(`{"do":"press"}`)
	play(`{"do":"reader-unplug"}`)
	play(`{"do":"clock","clock":"2030-01-01 00:00"}`)
	assert.Equal(t, []string{"South riser, Clock", "Reading room, Reader in", "Reading room, Contact",
		"Reading room, Exit request"}, bad())
	status, _ := c.call("POST", fmt.Sprintf("/api/controllers/%d/set-clock", box), "")
	assert.Equal(t, 204, status)
	assert.NotContains(t, bad(), "South riser, Clock")
	play(`{"do":"unplug"}`)
	require.Eventually(t, func() bool { b := bad(); return len(b) == 1 && b[0] == "South riser, Reachable" },
		5*time.Second, 20*time.Millisecond)
}
