package server_test

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"testing"
	"time"

	"github.com/coder/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/server"
	"amberkeystone/store"
)

type found struct{ Serial, State, Code, Shows, Fault string }

func (c *client) found(serial string) found {
	var list []found
	c.get("/api/found", &list)
	for _, f := range list {
		if f.Serial == serial {
			return f
		}
	}
	c.t.Fatalf("no %s in %v", serial, list)
	return found{}
}

const adoption = `{"name":"Annex","siteId":0,"site":"Annex","zone":"America/Halifax"`

// Both sides show one code; only who has compared it takes the controller into service, and it answers from then on.
func TestTakingIntoService(t *testing.T) {
	c := open(t)
	status, body := c.call("POST", "/api/found/AK-1007/take-into-service", adoption+`}`)
	require.Equal(t, 200, status, body)
	var compare server.Compare
	require.NoError(t, json.Unmarshal([]byte(body), &compare))
	assert.Regexp(t, `^\d{3} \d{3}$`, compare.Code)
	assert.Equal(t, compare.Code, compare.Shows)
	f := c.found("AK-1007")
	assert.Equal(t, found{"AK-1007", "new", compare.Code, compare.Code, ""}, f, "not in service yet")

	status, body = c.call("POST", "/api/found/AK-1007/confirm", adoption+`,"code":"000 000"}`)
	assert.Equal(t, 409, status, body)
	status, body = c.call("POST", "/api/found/AK-1007/confirm", adoption+fmt.Sprintf(`,"code":%q}`, compare.Code))
	require.Equal(t, 200, status, body)
	require.Eventually(t, func() bool {
		var units []server.Unit
		c.get("/api/units", &units)
		for _, u := range units {
			if u.Name == "Annex" {
				return u.Online
			}
		}
		return false
	}, 20*time.Second, 20*time.Millisecond)
	status, body = c.call("POST", "/api/found/AK-1007/confirm", adoption+fmt.Sprintf(`,"code":%q}`, compare.Code))
	assert.Equal(t, 409, status, "once is enough: %s", body)

	status, body = c.call("POST", "/api/found/AK-1008/take-into-service",
		`{"name":"Shed","siteId":1,"zone":"America/Halifax"}`)
	require.Equal(t, 200, status, body)
	status, _ = c.call("DELETE", "/api/found/AK-1008/taking", "")
	assert.Equal(t, 204, status)
	assert.Empty(t, c.found("AK-1008").Code, "the codes differed: nothing waits, and it can be taken again")
	status, _ = c.call("POST", "/api/found/NOPE/reset", "")
	assert.Equal(t, 404, status)
}

// A client that goes away at any moment leaves no controller with a key that nobody has.
func TestClientGoesAwayWhileTaking(t *testing.T) {
	c := open(t)
	for try := range 12 {
		ctx, cancel := context.WithTimeout(context.Background(), time.Duration(try)*time.Millisecond)
		req, err := http.NewRequestWithContext(ctx, "POST", c.url+"/api/found/AK-1007/take-into-service",
			strings.NewReader(adoption+`}`))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/json")
		if r, err := c.http.Do(req); err == nil {
			require.NoError(t, r.Body.Close())
		}
		cancel()
		assert.Equal(t, "new", c.found("AK-1007").State, "it can always be taken again")
	}
	var compare server.Compare
	status, body := c.call("POST", "/api/found/AK-1007/take-into-service", adoption+`}`)
	require.Equal(t, 200, status, body)
	require.NoError(t, json.Unmarshal([]byte(body), &compare))
	ctx, cancel := context.WithTimeout(context.Background(), 2*time.Millisecond)
	defer cancel()
	req, err := http.NewRequestWithContext(
		ctx,
		"POST",
		c.url+"/api/found/AK-1007/confirm",
		strings.NewReader(adoption+fmt.Sprintf(`,"code":%q}`, compare.Code)),
	)
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	_, _ = c.http.Do(req)
	require.Eventually(t, func() bool { // either it was confirmed, and answers, or it still can be
		s, _ := c.call("POST", "/api/found/AK-1007/confirm", adoption+fmt.Sprintf(`,"code":%q}`, compare.Code))
		var units []server.Unit
		c.get("/api/units", &units)
		for _, u := range units {
			if u.Name == "Annex" && u.Online {
				return true
			}
		}
		return s == 0
	}, 20*time.Second, 50*time.Millisecond)
}

// another is a second browser that signs in.
func (c *client) another(password string) (*client, int) {
	jar, err := cookiejar.New(nil)
	require.NoError(c.t, err)
	x := &client{t: c.t, http: &http.Client{Jar: jar}, url: c.url}
	status, _ := x.call("POST", "/api/sign-in", fmt.Sprintf(`{"name":"Robin","password":%q}`, password))
	return x, status
}

func (c *client) socket() *websocket.Conn {
	conn, _, err := websocket.Dial(context.Background(), "ws"+strings.TrimPrefix(c.url, "http")+"/api/live",
		&websocket.DialOptions{HTTPClient: c.http})
	require.NoError(c.t, err)
	c.t.Cleanup(func() { conn.CloseNow() })
	return conn
}

// ends reports whether a socket is closed by the other side.
func ends(conn *websocket.Conn) bool {
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	for {
		if _, _, err := conn.Read(ctx); err != nil {
			return ctx.Err() == nil
		}
	}
}

// A password is changed by who knows the present one; that ends the other sessions and what they were listening to.
func TestPasswordAndSessions(t *testing.T) {
	c := open(t)
	other, status := c.another("low tide at noon")
	require.Equal(t, 200, status)
	mine, theirs := c.socket(), other.socket()
	var visits []server.Visit
	c.get("/api/account/sessions", &visits)
	assert.Len(t, visits, 2)

	for body, says := range map[string]string{
		`{"old":"high tide","new":"slack water at dusk"}`:        "present password is not right",
		`{"old":"low tide at noon","new":"short"}`:               "at least 10 characters",
		`{"old":"low tide at noon","new":"Robin"}`:               "at least 10 characters",
		`{"old":"` + strings.Repeat("x", 501) + `","new":"abc"}`: "",
	} {
		status, answer := c.call("POST", "/api/account/password", body)
		assert.Equal(t, 422, status, answer)
		assert.Contains(t, answer, says)
	}
	status, body := c.call("POST", "/api/account/password", `{"old":"low tide at noon","new":"slack water at dusk"}`)
	require.Equal(t, 200, status, body)
	assert.True(t, ends(theirs), "what the other session was listening to is cut")
	status, _ = other.call("GET", "/api/overview", "")
	assert.Equal(t, 401, status)
	status, _ = c.call("GET", "/api/overview", "")
	assert.Equal(t, 200, status, "one's own goes on")
	_, status = c.another("low tide at noon")
	assert.Equal(t, 401, status)

	third, status := c.another("slack water at dusk")
	require.Equal(t, 200, status)
	socket := third.socket()
	status, _ = c.call("POST", "/api/account/end-other-sessions", "")
	assert.Equal(t, 200, status)
	assert.True(t, ends(socket))
	status, _ = c.call("POST", "/api/sign-out", "")
	require.Equal(t, 200, status)
	assert.True(t, ends(mine), "signing out ends what one listens to")
}

// The database holds no token with which anybody could sign in.
func TestTokensAreStoredHashed(t *testing.T) {
	st, err := store.Open(t.TempDir() + "/keystone.db")
	require.NoError(t, err)
	defer st.Close()
	s, err := server.New(context.Background(), server.Options{Store: st, FirstCode: "K7QM-2XDP"})
	require.NoError(t, err)
	defer s.Close()
	c := serve(t, s)
	status, body := c.call("POST", "/api/first-administrator", `{"name":"Robin","password":"low tide at noon"}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "the code that the server wrote into its log")
	status, body = c.call("POST", "/api/first-administrator",
		`{"name":"Robin","password":"low tide at noon","code":"k7qm2xdp"}`)
	require.Equal(t, 200, status, body)
	data, err := st.SessionsOf(context.Background(), "Robin")
	require.NoError(t, err)
	require.Len(t, data, 1)
	req, err := http.NewRequest("GET", c.url, nil)
	require.NoError(t, err)
	for token := range data {
		assert.NotEqual(t, token, c.http.Jar.Cookies(req.URL)[0].Value)
	}
	status, _ = c.call("POST", "/api/first-administrator", `{"name":"Mallory","password":"a long enough one"}`)
	assert.Equal(t, 409, status)
}

// A full disk is said, with what to do, and that nothing was written.
func TestFullDisk(t *testing.T) {
	st, err := store.Open(t.TempDir() + "/keystone.db")
	require.NoError(t, err)
	defer st.Close()
	s, err := server.New(context.Background(), server.Options{Store: st})
	require.NoError(t, err)
	defer s.Close()
	c := serve(t, s)
	status, _ := c.call("POST", "/api/first-administrator", `{"name":"Robin","password":"low tide at noon"}`)
	require.Equal(t, 200, status)
	st.DB().SetMaxOpenConns(1)
	_, err = st.DB().Exec("PRAGMA max_page_count = 1")
	require.NoError(t, err)
	var body string
	for i := range 200 {
		status, body = c.call("POST", "/api/sites",
			fmt.Sprintf(`{"id":0,"name":"Pier %d %s","zone":"UTC"}`, i, strings.Repeat("x", 60)))
		if status != 200 {
			break
		}
	}
	assert.Equal(t, 507, status, body)
	assert.Contains(t, body, "the disk is full, so nothing was written; make room")
}

// What was not understood is said by field, without the words of a decoder.
func TestWordsOfBadBodies(t *testing.T) {
	c := open(t)
	for body, want := range map[string]struct {
		status int
		says   string
	}{
		"":                               {400, "Nothing was sent"},
		"{":                              {400, "not JSON"},
		`{"id":0,"name":"Pier",}`:        {400, "not JSON: at position"},
		`{"id":0,"name":5,"zone":"UTC"}`: {422, `"location":"body.name"`},
		`{"id":99999999999999999999,"name":"Pier","zone":"UTC"}`: {422, `"location":"body.id"`},
		`[1]`: {422, "body"},
	} {
		status, answer := c.call("POST", "/api/sites", body)
		assert.Equal(t, want.status, status, "%s: %s", body, answer)
		assert.Contains(t, answer, want.says, body)
		for _, raw := range []string{"json:", "Go ", "request body is required", "unexpected end", "invalid character"} {
			assert.NotContains(t, answer, raw, body)
		}
	}
	status, body := c.call("GET", fmt.Sprintf("/api/regions/CA-NS?from=2026&to=2026&sites=%d", c.id("Main house")), "")
	assert.Equal(t, 200, status, body)
	assert.Contains(t, body, "Labour Day")
	status, body = c.call("POST", fmt.Sprintf("/api/bench/%d", c.id("Quay entrance")),
		`{"do":"clock","clock":"9999-01-01 00:00"}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "from 2000 to 2099")
}
