package server

import (
	"bytes"
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// Sign is the signature of a call: HMAC-SHA-256 (RFC 2104, FIPS 180-4) in hexadecimal.
func Sign(key, text []byte) string {
	mac := hmac.New(sha256.New, key)
	mac.Write(text)
	return hex.EncodeToString(mac.Sum(nil))
}

// The headers of a call. What is signed is the time, a full stop and the body.
const (
	signatureHeader = "X-Keystone-Signature"
	timeHeader      = "X-Keystone-Time"
)

// backoff is how long a call waits after each try that failed; after the last it is given up.
var backoff = []time.Duration{time.Second, 5 * time.Second, 30 * time.Second, 2 * time.Minute, 10 * time.Minute}

// said is the body of a call.
type said struct {
	Reaction string `json:"reaction"`
	Because  string `json:"because"`
	At       string `json:"at"` // RFC 3339
	Kind     string `json:"kind,omitempty"`
	Door     string `json:"door,omitempty"`
	Person   string `json:"person,omitempty"`
}

// callOut keeps a call and has it made at once. An address that is no longer allowed is not called.
func (s *Server) callOut(b *prove.Book, r *site.Reaction, f *pass.Fact, because string) error {
	url, ok := b.Config.Settings.Callout(r.Address)
	if !ok {
		return fmt.Errorf("there is no allowed address %q", r.Address)
	}
	x := said{Reaction: r.Name, Because: because, At: s.Now().UTC().Format(time.RFC3339)}
	if f != nil {
		x.Kind = f.Kind.String()
		if f.Door != 0 {
			x.Door = b.Name(f.Door)
		}
		if f.Person != 0 {
			x.Person = b.Name(f.Person)
		}
	}
	body, err := json.Marshal(x)
	if err != nil {
		return err
	}
	now := int64(s.now())
	_, err = s.Store.AddCall(s.ctx, store.Call{
		At: now, Address: r.Address, URL: url, Body: string(body), Reaction: r.Name, Next: now, Answer: "waits",
	})
	s.pokeCalls()
	return err
}

func (s *Server) pokeCalls() {
	select {
	case s.calling <- struct{}{}:
	default:
	}
}

// makeCalls makes the calls that are due, until the server closes: those to one address one after the other, and
// addresses beside each other, so that one that does not answer holds no other up.
func (s *Server) makeCalls() {
	busy, done := map[string]bool{}, make(chan string, 1)
	for {
		list, err := s.Store.DueCalls(s.ctx, int64(s.now()))
		if err != nil && s.ctx.Err() == nil {
			slog.Error("calls cannot be read", "err", err)
		}
		for i := range list {
			if at := list[i].URL; !busy[at] {
				busy[at] = true
				go func() {
					s.makeCall(&list[i])
					select {
					case done <- at:
					case <-s.ctx.Done():
					}
				}()
			}
		}
		select {
		case <-s.ctx.Done():
			return
		case at := <-done:
			delete(busy, at)
		case <-s.calling:
		case <-time.After(time.Second):
		}
	}
}

// makeCall tries once, and keeps what came of it.
func (s *Server) makeCall(c *store.Call) {
	c.Tries++
	answer, ok := s.tryCall(c)
	c.Answer, c.Next = answer, 0
	if !ok && c.Tries <= len(backoff) {
		c.Next = int64(s.now().Add(backoff[c.Tries-1]))
	}
	if err := s.Store.SetCall(s.ctx, *c); err != nil && s.ctx.Err() == nil {
		slog.Error("what came of a call is not kept", "err", err)
	}
}

func (s *Server) tryCall(c *store.Call) (answer string, ok bool) {
	key, err := s.Store.Secret(s.ctx, "call out")
	if err != nil {
		return err.Error(), false
	}
	ctx, stop := context.WithTimeout(s.ctx, 10*time.Second)
	defer stop()
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, c.URL, bytes.NewReader([]byte(c.Body)))
	if err != nil {
		return err.Error(), false
	}
	at := strconv.FormatInt(int64(s.now()), 10)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set(timeHeader, at)
	req.Header.Set(signatureHeader, "sha256="+Sign(key, []byte(at+"."+c.Body)))
	client := http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	resp, err := client.Do(req)
	if err != nil {
		return "no answer: " + err.Error(), false
	}
	defer resp.Body.Close()
	text, _ := io.ReadAll(io.LimitReader(resp.Body, 200))
	return resp.Status + " " + string(bytes.TrimSpace(text)), resp.StatusCode/100 == 2
}

// CallKey is by what whoever is called knows that a call is ours.
type CallKey struct {
	Key    string `json:"key" doc:"In hexadecimal"`
	Header string `json:"header" doc:"Of the signature: HMAC-SHA-256 of the time header, a full stop and the body"`
	Time   string `json:"time" doc:"Of the time, Unix milliseconds"`
}

func (s *Server) callRoutes(api huma.API) {
	huma.Get(api, "/api/calls", func(ctx context.Context, _ *struct{}) (*output[[]store.Call], error) {
		return give(s.Store.Calls(ctx, 200))
	})
	huma.Get(api, "/api/call-key", func(ctx context.Context, _ *struct{}) (*output[CallKey], error) {
		key, err := s.Store.Secret(ctx, "call out")
		return give(CallKey{hex.EncodeToString(key), signatureHeader, timeHeader}, err)
	})
}

// hourBegan lets reactions hear that a minute has begun.
func (s *Server) hourBegan(at hours.Instant) { s.reactTo(happened{hour: at}) }
