package attack

import (
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"time"

	"github.com/coder/websocket"
)

// rude is clients that are slow, that go away, and that bring too much; meanwhile others are answered.
func (a *attacker) rude(ctx context.Context) {
	u, err := url.Parse(a.URL)
	if err != nil {
		a.find("%v", err)
		return
	}
	ending, end := context.WithCancel(ctx)
	var all sync.WaitGroup
	for i := range a.Slow {
		all.Go(func() { a.slow(ending, u.Host, i%2 == 0) })
	}
	for _, q := range a.tooMuch() {
		a.send(q)
		if err := a.alive(); err != nil {
			a.find("while slow clients are there: %v", err)
		}
	}
	a.vanish(ctx, u.Host)
	a.listeners(ctx)
	end()
	all.Wait()
	a.crowd(ctx)
}

// slow holds a connection and sends a byte now and then: in the header, or in a body that never ends.
func (a *attacker) slow(ctx context.Context, host string, header bool) {
	c, err := net.DialTimeout("tcp", host, hang)
	if err != nil {
		return // it takes no more of them, which is fair
	}
	defer c.Close()
	begin := "GET /api/session HTTP/1.1\r\nHost: x\r\n"
	if !header {
		begin = "POST /api/sign-in HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 4000\r\n\r\n"
	}
	if _, err := io.WriteString(c, begin); err != nil {
		return
	}
	for ctx.Err() == nil {
		if _, err := io.WriteString(c, "x"); err != nil {
			return // it was given up, as it should be
		}
		select {
		case <-ctx.Done():
		case <-time.After(300 * time.Millisecond):
		}
	}
}

// tooMuch is requests of a size that nobody needs.
func (a *attacker) tooMuch() []request {
	long := strings.Repeat("x", 3<<20)
	daily := "BEGIN:VEVENT\r\nUID:%d\r\nDTSTART:20200101\r\nRRULE:FREQ=DAILY\r\nSUMMARY:x\r\nEND:VEVENT\r\n"
	var calendar strings.Builder
	calendar.WriteString("BEGIN:VCALENDAR\r\n")
	for i := range 400 {
		fmt.Fprintf(&calendar, daily, i)
	}
	calendar.WriteString("END:VCALENDAR\r\n")
	text := strings.NewReplacer("\r", `\r`, "\n", `\n`).Replace(calendar.String())
	const kind = "application/json"
	return []request{
		{"POST", "/api/sign-in", kind, `{"name":"` + long + `","password":"x"}`},
		{"POST", "/api/sign-in", kind, `{"name":"x","password":"` + long + `"}`},
		{"POST", "/api/first-administrator", kind, `{"name":"Mallory","password":"a long enough one"}`},
		{"POST", "/api/sites", kind, `{"name":"` + long + `"}`},
		{
			"POST",
			"/api/people",
			kind,
			`{"credentials":[` + strings.TrimSuffix(
				strings.Repeat(`{"kind":"card","format":"26-bit","value":"0-1"},`, 30000),
				",",
			) + `]}`,
		},
		{"GET", "/api/people?q=" + strings.Repeat("x", 30000), "", ""},
		{"GET", "/api/find?q=" + strings.Repeat("%25", 10000), "", ""},
		{"POST", "/api/holidays/read-calendar", kind, `{"text":"` + text + `","from":2020,"to":2049,"siteIds":[]}`},
		{
			"POST",
			"/api/hours/plan",
			kind,
			`{"do":"text","text":"` + strings.Repeat(
				`Mo 08:00-09:00 \"free\", `,
				20000,
			) + `","plan":{"id":0,"name":"x","default":"card","week":[[],[],[],[],[],[],[]]}}`,
		},
		{
			"POST",
			"/api/dated-changes/preview",
			kind,
			`{"change":{"id":0,"name":"","mode":"free","doorIds":[],"floorIds":[],"siteIds":[1,2],"setIds":[],"from":"2020-01-01T00:00","until":"2020-12-31T00:00","recurs":"FREQ=DAILY"}}`,
		},
	}
}

// vanish begins requests and goes away in the middle.
func (a *attacker) vanish(ctx context.Context, host string) {
	var all sync.WaitGroup
	for i := range 60 {
		all.Go(func() {
			c, err := net.DialTimeout("tcp", host, hang)
			if err != nil {
				a.find("no connection any more: %v", err)
				return
			}
			defer c.Close()
			_, _ = io.WriteString(
				c,
				"POST /api/sign-in HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 4000\r\n\r\n{\"name\":",
			)
			time.Sleep(time.Duration(i) * time.Millisecond)
		})
		all.Go(func() {
			gone, cancel := context.WithTimeout(ctx, time.Duration(i)*time.Millisecond)
			defer cancel()
			req, err := http.NewRequestWithContext(gone, "GET", a.URL+"/api/overview", nil)
			if err != nil {
				return
			}
			if r, err := a.http.Do(req); err == nil {
				r.Body.Close()
			}
		})
	}
	all.Wait()
}

// listeners open live sockets, say nonsense into them, and read nothing.
func (a *attacker) listeners(ctx context.Context) {
	for i := range 40 {
		conn, _, err := websocket.Dial(
			ctx,
			"ws"+strings.TrimPrefix(a.URL, "http")+"/api/live",
			&websocket.DialOptions{HTTPClient: a.http},
		)
		if err != nil {
			a.find("no live socket: %v", err)
			return
		}
		defer conn.CloseNow()
		_ = conn.Write(
			ctx,
			websocket.MessageText,
			[]byte([]string{`{"bench":12}`, `{"bench":-1}`, `nonsense`, strings.Repeat("x", 40000)}[i%4]),
		)
	}
}

// crowd tries to sign in and to become the first administrator, all at once.
func (a *attacker) crowd(ctx context.Context) {
	var all sync.WaitGroup
	for i := range 80 {
		all.Go(func() {
			path, body := "/api/first-administrator", `{"name":"Mallory","password":"a long enough one"}`
			if i%2 == 0 {
				path, body = "/api/sign-in", fmt.Sprintf(`{"name":"nobody %d","password":"guess"}`, i)
			}
			req, err := http.NewRequestWithContext(ctx, "POST", a.URL+path, strings.NewReader(body))
			if err != nil {
				return
			}
			req.Header.Set("Content-Type", "application/json")
			r, err := a.guest.Do(req)
			if err != nil {
				a.find("%s: %v", path, err)
				return
			}
			defer r.Body.Close()
			if r.StatusCode == http.StatusOK || r.StatusCode == http.StatusInternalServerError {
				a.find("%s answered %d", path, r.StatusCode)
			}
		})
	}
	all.Wait()
}
