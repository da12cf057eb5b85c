package server

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"slices"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/formats/sitefile"
)

// Pending is what one controller lacks.
type Pending struct {
	ID      site.ID        `json:"id"`
	Name    string         `json:"name"`
	Online  bool           `json:"online"`
	Changes []image.Change `json:"changes"`
	Refused string         `json:"refused" doc:"Why it cannot be sent: over capacity"`
	Wanted  bool           `json:"wanted" doc:"It is sent as soon as the controller returns"`
	SentAt  hours.Instant  `json:"sentAt" doc:"Unix milliseconds; 0: never"`
	Hash    string         `json:"hash" doc:"Of what is in force there, as last verified"`
	Drifted bool           `json:"drifted" doc:"The controller holds something else than was sent"`
	Sending *Progress      `json:"sending,omitempty"`
}

// built is an image with its bytes and hash; it is made once for each version of the configuration.
type built struct {
	image *image.Image
	bytes []byte
	hash  string
}

// build makes the image of a controller, or finds it; ok is false where there is no such controller.
func (s *Server) build(b *prove.Book, id site.ID) (out built, ok bool) {
	s.mu.RLock()
	out, ok = s.built[id]
	ok = ok && s.book == b
	s.mu.RUnlock()
	if ok {
		return out, true
	}
	for _, c := range b.Config.Controllers {
		if c.ID != id {
			continue
		}
		im := image.Build(b.Config, id, s.zone(c.Zone), image.Secrets{PINKey: s.pinKey})
		out = built{image: im, bytes: im.Bytes()}
		out.hash = image.Hash(out.bytes)
		s.mu.Lock()
		if s.book == b {
			s.built[id] = out
		}
		s.mu.Unlock()
		return out, true
	}
	return out, false
}

// pending works out what every controller lacks.
func (s *Server) pending(ctx context.Context) ([]Pending, error) {
	b := s.current()
	links, err := s.Store.Links(ctx)
	if err != nil {
		return nil, err
	}
	units := map[site.ID]Unit{}
	for _, u := range s.unitsNow() {
		units[u.ID] = u
	}
	out := []Pending{}
	for _, c := range b.Config.Controllers {
		p := Pending{ID: c.ID, Name: c.Name, Online: units[c.ID].Online, Sending: units[c.ID].Sending}
		want, _ := s.build(b, c.ID)
		p.Refused = image.OverCapacity(want.image, c)
		var old *image.Image
		names := image.Names{}
		for _, l := range links {
			if l.ControllerID != c.ID {
				continue
			}
			if len(l.Image) > 0 && l.Hash != want.hash {
				if old, err = image.Parse(l.Image); err != nil {
					slog.Warn("what was sent cannot be read; everything is sent anew", "controller", c.Name, "err", err)
					old = nil
				}
			}
			if l.Hash != want.hash {
				if err := json.Unmarshal([]byte(l.Names), &names); err != nil {
					return nil, err
				}
			}
			p.Wanted, p.Hash = l.Wanted, l.Hash
			if l.SentAt != nil {
				p.SentAt = hours.Instant(*l.SentAt)
			}
		}
		for id, name := range b.Names() {
			names[id] = name
		}
		if p.Online && p.Hash != "" && units[c.ID].Hash != p.Hash && p.Sending == nil {
			p.Drifted, old = true, nil
		}
		if p.Drifted || p.Hash != want.hash {
			p.Changes = image.Diff(old, want.image, names)
		}
		if p.Changes == nil {
			p.Changes = []image.Change{}
		}
		out = append(out, p)
	}
	return out, nil
}

func (s *Server) sendRoutes(api huma.API) {
	huma.Get(api, "/api/pending", func(ctx context.Context, _ *struct{}) (*output[[]Pending], error) { return give(s.pending(ctx)) })
	huma.Post(api, "/api/send", func(ctx context.Context, in *struct {
		Body struct {
			Controllers []site.ID `json:"controllers" doc:"None: all that lack something"`
		}
	}) (*output[[]Pending], error) {
		list, err := s.pending(ctx)
		if err != nil {
			return nil, err
		}
		chosen := map[site.ID]bool{}
		for _, id := range in.Body.Controllers {
			chosen[id] = true
		}
		var todo []Pending
		for _, p := range list {
			if len(p.Changes) > 0 && (len(chosen) == 0 || chosen[p.ID]) {
				if p.Refused != "" {
					return nil, huma.Error422UnprocessableEntity("Nothing was sent. " + p.Name + ": " + p.Refused + ".")
				}
				todo = append(todo, p)
			}
		}
		if len(todo) > 0 {
			body, err := sitefile.Write(s.current().Config)
			if err != nil {
				return nil, err
			}
			if err := s.Store.Backup(ctx, fmt.Sprintf("before sending to %s", counted(len(todo), "controller", "controllers")), body); err != nil {
				return nil, err
			}
		}
		who := s.who(ctx)
		var all sync.WaitGroup
		for _, p := range todo {
			if err := s.Store.SetWanted(ctx, p.ID, true); err != nil {
				return nil, err
			}
			if p.Online {
				all.Go(func() { s.send(who, p.ID) })
			}
		}
		all.Wait()
		return give(s.pending(ctx))
	})
	huma.Post(api, "/api/send/{id}/cancel", func(ctx context.Context, in *idInput) (*output[[]Pending], error) {
		if err := s.Store.SetWanted(ctx, in.ID, false); err != nil {
			return nil, err
		}
		s.hub.send(note{Type: "units"})
		return give(s.pending(ctx))
	})
}

// send brings one controller up to date and verifies the hash that it reports.
func (s *Server) send(who string, id site.ID) {
	s.mu.Lock()
	u := s.units[id]
	if u == nil || u.sending != nil {
		s.mu.Unlock()
		return
	}
	b := s.book
	u.sending = &Progress{}
	s.mu.Unlock()
	defer func() {
		s.mu.Lock()
		u.sending = nil
		s.mu.Unlock()
		s.hub.send(note{Type: "units"})
	}()
	want, ok := s.build(b, id)
	if !ok {
		return
	}
	bytes, hash := want.bytes, want.hash
	ctx, cancel := context.WithTimeout(s.ctx, 2*time.Minute)
	defer cancel()
	got, err := u.keeper.Load(ctx, bytes, hash, func(sent int) {
		s.mu.Lock()
		u.sending = &Progress{Sent: sent, Size: len(bytes)}
		s.mu.Unlock()
		s.hub.send(note{Type: "units"})
	})
	if err != nil || got != hash {
		slog.Warn("send failed", "controller", b.Name(id), "err", err, "hash", got)
		return
	}
	names, err := json.Marshal(b.Names())
	if err == nil {
		err = s.Store.SetSent(ctx, who, id, b.Name(id), bytes, hash, string(names))
	}
	if err != nil {
		slog.Error("send not recorded", "controller", b.Name(id), "err", err)
		return
	}
	s.mu.Lock()
	u.status.Hash = hash
	s.mu.Unlock()
}

// resend gives a controller that has returned what it was waiting for.
func (s *Server) resend(u *unit) {
	links, err := s.Store.Links(s.ctx)
	if err != nil {
		return
	}
	for _, l := range links {
		if l.ControllerID == u.id && l.Wanted {
			go s.send("Amber Keystone, on its return", u.id)
		}
	}
}

// SendAll brings every controller up to date; those that do not answer within a few seconds get it on their return.
func (s *Server) SendAll(ctx context.Context, who string) error {
	for range 50 {
		if !slices.ContainsFunc(s.unitsNow(), func(u Unit) bool { return !u.Online }) {
			break
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(50 * time.Millisecond):
		}
	}
	for _, u := range s.unitsNow() {
		if err := s.Store.SetWanted(ctx, u.ID, true); err != nil {
			return err
		}
		if u.Online {
			s.send(who, u.ID)
		}
	}
	return nil
}

// Reload reads the configuration anew after it was written past the server.
func (s *Server) Reload(ctx context.Context) error { return s.reload(ctx) }

func counted(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
