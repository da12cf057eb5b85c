package server

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"maps"
	"reflect"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/formats/sitefile"
	"amberkeystone/store"
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
	book  *prove.Book
	image *image.Image
	bytes []byte
	hash  string
}

// build makes the image of a controller, or finds it; ok is false where there is no such controller. Where the last
// version gave the same image, its bytes and hash stay.
func (s *Server) build(b *prove.Book, id site.ID) (out built, ok bool) {
	s.mu.RLock()
	last := s.built[id]
	s.mu.RUnlock()
	if last.book == b {
		return last, true
	}
	i := slices.IndexFunc(b.Config.Controllers, func(c site.Controller) bool { return c.ID == id })
	if i < 0 {
		return out, false
	}
	out = built{book: b, image: image.Build(b.Config, id, s.zone(b.Config.Controllers[i].Zone), image.Secrets{PINKey: s.pinKey})}
	if last.image != nil && reflect.DeepEqual(last.image, out.image) {
		out.bytes, out.hash = last.bytes, last.hash
	} else {
		out.bytes = out.image.Bytes()
		out.hash = image.Hash(out.bytes)
	}
	s.mu.Lock()
	if s.book == b {
		s.built[id] = out
	}
	s.mu.Unlock()
	return out, true
}

// buildAll makes the images of all controllers, on all processors.
func (s *Server) buildAll(b *prove.Book) {
	var next atomic.Int64
	var wait sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		wait.Go(func() {
			for i := next.Add(1) - 1; i < int64(len(b.Config.Controllers)); i = next.Add(1) - 1 {
				s.build(b, b.Config.Controllers[i].ID)
			}
		})
	}
	wait.Wait()
}

// lack is what one controller lacks, as far as hashes tell; alike is false where something does.
func (s *Server) lack(b *prove.Book, c site.Controller, l store.Link, u Unit) (p Pending, want built, alike bool) {
	p = Pending{ID: c.ID, Name: c.Name, Online: u.Online, Sending: u.Sending, Wanted: l.Wanted, Hash: l.Hash, Changes: []image.Change{}}
	if l.SentAt != nil {
		p.SentAt = hours.Instant(*l.SentAt)
	}
	want, _ = s.build(b, c.ID)
	p.Refused = image.OverCapacity(want.image, c)
	p.Drifted = p.Online && p.Hash != "" && u.Hash != p.Hash && p.Sending == nil
	return p, want, !p.Drifted && p.Hash == want.hash
}

// differences says in words what a controller lacks.
func (s *Server) differences(ctx context.Context, b *prove.Book, p Pending, want built) ([]image.Change, error) {
	if p.Drifted || p.Hash == "" {
		return image.Diff(nil, want.image, b.Names()), nil
	}
	sent, err := s.Store.Sent(ctx, p.ID)
	if err != nil {
		return nil, err
	}
	old, err := image.Parse(sent.Image)
	if err != nil {
		slog.Warn("what was sent cannot be read; everything is sent anew", "controller", p.Name, "err", err)
		old = nil
	}
	names := image.Names{}
	if err := json.Unmarshal([]byte(sent.Names), &names); err != nil {
		return nil, err
	}
	maps.Copy(names, b.Names())
	return orNone(image.Diff(old, want.image, names)), nil
}

// linked calls do for every controller, with its link and what is heard of it.
func (s *Server) linked(ctx context.Context, b *prove.Book, do func(site.Controller, store.Link, Unit) error) error {
	list, err := s.Store.Links(ctx)
	if err != nil {
		return err
	}
	links, units := map[site.ID]store.Link{}, map[site.ID]Unit{}
	for _, l := range list {
		links[l.ControllerID] = l
	}
	for _, u := range s.unitsNow() {
		units[u.ID] = u
	}
	for _, c := range b.Config.Controllers {
		if err := do(c, links[c.ID], units[c.ID]); err != nil {
			return err
		}
	}
	return nil
}

// lacking counts the controllers that lack something.
func (s *Server) lacking(ctx context.Context) (n int, err error) {
	b := s.current()
	s.buildAll(b)
	err = s.linked(ctx, b, func(c site.Controller, l store.Link, u Unit) error {
		if _, _, alike := s.lack(b, c, l, u); !alike {
			n++
		}
		return nil
	})
	return n, err
}

// pending works out what controllers lack: one, or every one where it is 0.
func (s *Server) pending(ctx context.Context, only site.ID) ([]Pending, error) {
	b := s.current()
	if only == 0 {
		s.buildAll(b)
	}
	out := []Pending{}
	err := s.linked(ctx, b, func(c site.Controller, l store.Link, u Unit) error {
		if only != 0 && c.ID != only {
			return nil
		}
		p, want, alike := s.lack(b, c, l, u)
		var err error
		if !alike {
			p.Changes, err = s.differences(ctx, b, p, want)
		}
		out = append(out, p)
		return err
	})
	return out, err
}

func (s *Server) sendRoutes(api huma.API) {
	huma.Get(api, "/api/pending", func(ctx context.Context, _ *struct{}) (*output[[]Pending], error) { return give(s.pending(ctx, 0)) })
	huma.Post(api, "/api/send", func(ctx context.Context, in *struct {
		Body struct {
			Controllers []site.ID `json:"controllers" doc:"None: all that lack something"`
		}
	}) (*output[[]Pending], error) {
		list, err := s.pending(ctx, 0)
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
		return give(s.pending(ctx, 0))
	})
	huma.Post(api, "/api/send/{id}/cancel", func(ctx context.Context, in *idInput) (*output[[]Pending], error) {
		if err := s.Store.SetWanted(ctx, in.ID, false); err != nil {
			return nil, err
		}
		s.hub.send(note{Type: "units"})
		return give(s.pending(ctx, 0))
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
