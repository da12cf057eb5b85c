// Package attack sends what nobody means well with: bent requests over every operation of the API's description,
// clients that are slow or go away, and too much of everything. Afterwards nothing may have answered 500, nothing may
// have hung, and the memory is back to about where it was.
//
// Read attack.go (what is looked for), bend.go (how requests are bent), rude.go (clients that misbehave).
package attack

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"sync"
	"sync/atomic"
	"time"
)

// Target is a server under attack, with a sign-in that is good.
type Target struct {
	URL            string // http://127.0.0.1:8470
	Name, Password string
	// Memory tells how much the server holds, in bytes.
	Memory func() (int64, error)
}

// Options are how much of it.
type Options struct {
	Requests int
	Slow     int           // clients that send a byte now and then
	Wait     time.Duration // for the memory to come back
	Seed     uint64
	Log      io.Writer
}

// hang is how long an answer may take.
const hang = 5 * time.Second

// Report is what came of it.
type Report struct {
	Requests      int
	ByStatus      map[int]int
	Slowest       time.Duration
	Before, After int64
	Took          time.Duration
	Findings      []string
}

func (r Report) String() string {
	return fmt.Sprintf(
		"%d requests in %s, the slowest %s; answers %v; memory %d MB before, %d MB after; %d findings",
		r.Requests,
		r.Took.Round(time.Second),
		r.Slowest.Round(time.Millisecond),
		r.ByStatus,
		r.Before>>20,
		r.After>>20,
		len(r.Findings),
	)
}

// attacker is one attack under way.
type attacker struct {
	Target
	Options
	http   *http.Client // signed in
	guest  *http.Client // somebody else, from another address of this machine
	mu     sync.Mutex
	report Report
}

func (a *attacker) find(format string, args ...any) {
	a.mu.Lock()
	defer a.mu.Unlock()
	if len(a.report.Findings) < 40 {
		a.report.Findings = append(a.report.Findings, fmt.Sprintf(format, args...))
	}
}

// Run attacks. The error says why it could not be done; what was found stands in the report.
func Run(ctx context.Context, t Target, o Options) (Report, error) {
	begin := time.Now()
	jar, err := cookiejar.New(nil)
	if err != nil {
		return Report{}, err
	}
	elsewhere := net.Dialer{LocalAddr: &net.TCPAddr{IP: net.IPv4(127, 0, 0, 9)}}
	a := &attacker{
		Target:  t,
		Options: o,
		http:    &http.Client{Jar: jar, Timeout: 3 * hang},
		report:  Report{ByStatus: map[int]int{}},
		guest: &http.Client{
			Timeout:   3 * hang,
			Transport: &http.Transport{DialContext: elsewhere.DialContext, MaxIdleConnsPerHost: 8},
		},
	}
	if err := a.signIn(); err != nil {
		return a.report, err
	}
	operations, err := a.describe()
	if err != nil {
		return a.report, err
	}
	if a.report.Before, err = t.Memory(); err != nil {
		return a.report, err
	}
	a.bent(ctx, operations)
	a.rude(ctx)
	if err := a.alive(); err != nil {
		a.find("afterwards it does not answer: %v", err)
	}
	if err := a.memory(ctx); err != nil {
		return a.report, err
	}
	a.report.Took = time.Since(begin)
	return a.report, ctx.Err()
}

func (a *attacker) signIn() error {
	b, err := json.Marshal(map[string]string{"name": a.Name, "password": a.Password})
	if err != nil {
		return err
	}
	r, err := a.http.Post(a.URL+"/api/sign-in", "application/json", bytes.NewReader(b))
	if err != nil {
		return err
	}
	defer r.Body.Close()
	if r.StatusCode != http.StatusOK {
		text, _ := io.ReadAll(r.Body)
		return fmt.Errorf("signing in: %d %s", r.StatusCode, text)
	}
	return nil
}

// bent sends bent requests from several clients at once.
func (a *attacker) bent(ctx context.Context, operations []operation) {
	var next atomic.Int64
	var all sync.WaitGroup
	for worker := range 6 {
		all.Go(func() {
			r := rand.New(rand.NewPCG(a.Seed, uint64(worker)))
			for n := next.Add(1); n <= int64(a.Requests) && ctx.Err() == nil; n = next.Add(1) {
				a.send(bend(r, operations[r.IntN(len(operations))]))
				if n%5000 == 0 {
					fmt.Fprintf(a.Log, "%d requests\n", n)
				}
			}
		})
	}
	all.Wait()
}

// request is a request that was bent.
type request struct {
	method, path, kind, body string
}

func (q request) String() string {
	return fmt.Sprintf("%s %s %s %.300s", q.method, q.path, q.kind, q.body)
}

func (a *attacker) send(q request) {
	req, err := http.NewRequest(q.method, a.URL+q.path, strings.NewReader(q.body))
	if err != nil {
		return // not even a request
	}
	if q.kind != "" {
		req.Header.Set("Content-Type", q.kind)
	}
	who := a.http
	if strings.HasPrefix(q.path, "/api/sign-") || strings.HasPrefix(q.path, "/api/first-") ||
		strings.HasPrefix(q.path, "/api/account/") {
		who = a.guest // who would end the session of the rest
	}
	begin := time.Now()
	r, err := who.Do(req)
	took := time.Since(begin)
	if err != nil {
		a.find("no answer after %s: %s: %v", took.Round(time.Millisecond), q, err)
		return
	}
	defer r.Body.Close()
	b, err := io.ReadAll(io.LimitReader(r.Body, 64<<20))
	took = time.Since(begin)
	a.mu.Lock()
	a.report.Requests++
	a.report.ByStatus[r.StatusCode]++
	a.report.Slowest = max(a.report.Slowest, took)
	a.mu.Unlock()
	switch {
	case err != nil:
		a.find("half an answer: %s: %v", q, err)
	case r.StatusCode >= 500 && r.StatusCode != http.StatusServiceUnavailable:
		a.find("%d: %s\n  %.300s", r.StatusCode, q, b)
	case took > hang:
		a.find("%s for an answer: %s", took.Round(time.Millisecond), q)
	case r.StatusCode == http.StatusUnauthorized && who == a.http:
		if err := a.signIn(); err != nil {
			a.find("signed out, and no way back: %v", err)
		}
	case r.StatusCode >= 400 && q.method != http.MethodHead && !worded(b):
		a.find("%d without words: %s\n  %.300s", r.StatusCode, q, b)
	}
}

// worded reports whether a refusal says something that a person can use, and nothing in the words of a decoder.
func worded(b []byte) bool {
	text := string(b)
	for _, raw := range []string{"json:", "Go struct", "runtime error", "sql:", "SQL logic", "invalid character",
		"unexpected end of JSON"} {
		if strings.Contains(text, raw) {
			return false
		}
	}
	return strings.TrimSpace(text) != ""
}

// alive asks for something plain.
func (a *attacker) alive() error {
	begin := time.Now()
	r, err := a.http.Get(a.URL + "/api/overview")
	if err != nil {
		return err
	}
	defer r.Body.Close()
	if _, err := io.Copy(io.Discard, r.Body); err != nil {
		return err
	}
	if took := time.Since(begin); r.StatusCode != http.StatusOK || took > hang {
		return fmt.Errorf("%d after %s", r.StatusCode, took)
	}
	return nil
}

// memory waits for the memory to come back: to what it was, and a half and 100 MB more for what was added.
func (a *attacker) memory(ctx context.Context) error {
	most := a.report.Before*3/2 + 100<<20
	end := time.Now().Add(a.Wait)
	for {
		var err error
		if a.report.After, err = a.Target.Memory(); err != nil {
			return err
		}
		if a.report.After <= most {
			return nil
		}
		if time.Now().After(end) {
			a.find("%d MB are held; it was %d MB", a.report.After>>20, a.report.Before>>20)
			return nil
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(time.Second):
		}
	}
}

var errNoOperations = errors.New("the API describes no operations")
