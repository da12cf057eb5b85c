package server

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"maps"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// Pending is what one controller lacks.
type Pending struct {
	ID      site.ID        `json:"id"`
	Name    string         `json:"name"`
	Online  bool           `json:"online"`
	Changes []image.Change `json:"changes"`
	Lacks   bool           `json:"lacks" doc:"It holds something else than it should"`
	Refused string         `json:"refused" doc:"Why it cannot be sent: over capacity"`
	Wanted  bool           `json:"wanted" doc:"It is sent as soon as the controller returns"`
	SentAt  hours.Instant  `json:"sentAt" doc:"Unix milliseconds; 0: never"`
	Hash    string         `json:"hash" doc:"Of what is in force there, as last verified"`
	Drifted bool           `json:"drifted" doc:"The controller holds something else than was sent"`
	Sending *Progress      `json:"sending,omitempty"`
	Failed  string         `json:"failed,omitempty" doc:"Why the last send to it did not end; it goes on with what it held"`
}

// build makes the image of a controller; ok is false where there is no such controller.
func (s *Server) build(f inForce, id site.ID) (im *image.Image, ok bool) {
	if !slices.ContainsFunc(f.Config.Controllers, func(c site.Controller) bool { return c.ID == id }) {
		return nil, false
	}
	return image.Build(f.Effective, id, *f.Clock(id), image.Secrets{PINKey: s.pinKey}), true
}

// outlineAll works out what all controllers should hold, on all processors.
func (f inForce) outlineAll() {
	var next atomic.Int64
	var wait sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		wait.Go(func() {
			for i := next.Add(1) - 1; i < int64(len(f.Config.Controllers)); i = next.Add(1) - 1 {
				f.outlines.Of(f.Config.Controllers[i].ID)
			}
		})
	}
	wait.Wait()
}

// lack is what one controller lacks, as far as hashes tell.
func (s *Server) lack(f inForce, c site.Controller, l store.Link, u Unit) Pending {
	p := Pending{
		ID:      c.ID,
		Name:    c.Name,
		Online:  u.Online,
		Sending: u.Sending,
		Failed:  u.Failed,
		Wanted:  l.Wanted,
		Hash:    l.Hash,
		Changes: []image.Change{},
	}
	if l.SentAt != nil {
		p.SentAt = hours.Instant(*l.SentAt)
	}
	want := f.outlines.Of(c.ID)
	p.Refused = want.OverCapacity(c)
	p.Drifted = p.Online && p.Hash != "" && u.Hash != p.Hash && p.Sending == nil
	p.Lacks = p.Drifted || p.Hash != want.Root
	return p
}

// differences says in words what a controller lacks, of the sections that differ.
func (s *Server) differences(ctx context.Context, f inForce, p Pending) ([]image.Change, error) {
	all := func() ([]image.Change, error) {
		im, _ := s.build(f, p.ID)
		return image.Diff(nil, im, nil), nil
	}
	if p.Drifted || p.Hash == "" {
		return all()
	}
	var old, is *image.Image
	names := image.Names{}
	was, err := s.Store.Sent(ctx, p.ID, p.Hash)
	if err == nil {
		old, is, err = f.outlines.Differing(p.ID, was.Image)
	}
	if err == nil {
		err = json.Unmarshal([]byte(was.Names), &names)
	}
	if err != nil {
		slog.Warn("what was sent cannot be read; everything is sent anew", "controller", p.Name, "err", err)
		return all()
	}
	maps.Copy(names, f.NamesOf(old)) // as they are called now
	maps.Copy(names, f.NamesOf(is))
	list := image.Diff(old, is, names)
	if len(list) == 0 {
		list = []image.Change{
			{Kind: "everything", Words: "the same in another layout, as after an update of this application"},
		}
	}
	return list, nil
}

// sent reads what was sent to a controller under a hash, with the names that things had then.
func (s *Server) sent(ctx context.Context, id site.ID, hash string) (*image.Image, image.Names, error) {
	sent, err := s.Store.Sent(ctx, id, hash)
	if err != nil {
		return nil, nil, err
	}
	im, err := image.Parse(sent.Image)
	if err != nil {
		return nil, nil, err
	}
	names := image.Names{}
	return im, names, json.Unmarshal([]byte(sent.Names), &names)
}

// linked calls do for every controller, with its link and what is heard of it.
func (s *Server) linked(ctx context.Context, f inForce, do func(site.Controller, store.Link, Unit) error) error {
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
	for _, c := range f.Config.Controllers {
		if err := do(c, links[c.ID], units[c.ID]); err != nil {
			return err
		}
	}
	return nil
}

// lacking counts the controllers that lack something.
func (s *Server) lacking(ctx context.Context) (n int, err error) {
	f := s.present()
	f.outlineAll()
	err = s.linked(ctx, f, func(c site.Controller, l store.Link, u Unit) error {
		if s.lack(f, c, l, u).Lacks {
			n++
		}
		return nil
	})
	return n, err
}

// pending works out what controllers lack: one, or every one where it is 0. It is told of what is saved, so it waits
// until that is in force.
func (s *Server) pending(ctx context.Context, only site.ID) ([]Pending, error) {
	f, err := s.settled(ctx)
	if err != nil {
		return nil, err
	}
	if only == 0 {
		f.outlineAll()
	}
	out := []Pending{}
	err = s.linked(ctx, f, func(c site.Controller, l store.Link, u Unit) error {
		if only != 0 && c.ID != only {
			return nil
		}
		p := s.lack(f, c, l, u)
		var err error
		if p.Lacks {
			p.Changes, err = s.differences(ctx, f, p)
		}
		out = append(out, p)
		return err
	})
	return out, err
}

func (s *Server) sendRoutes(api huma.API) {
	huma.Get(
		api,
		"/api/pending",
		func(ctx context.Context, _ *struct{}) (*output[[]Pending], error) { return give(s.pending(ctx, 0)) },
	)
	huma.Post(api, "/api/send", func(ctx context.Context, in *struct{ Body SendWish }) (*output[[]Pending], error) {
		if err := s.sendChosen(ctx, in.Body); err != nil {
			return nil, say(err)
		}
		return give(s.pending(ctx, 0))
	})
	huma.Get(
		api,
		"/api/copies",
		func(context.Context, *struct{}) (*output[[]store.Manifest], error) { return give(s.Store.Copies()) },
	)
	huma.Post(api, "/api/send/{id}/cancel", func(ctx context.Context, in *idInput) (*output[[]Pending], error) {
		if err := s.Store.Unwant(ctx, in.ID); err != nil {
			return nil, say(err)
		}
		s.stopSending(in.ID)
		s.poke()
		return give(s.pending(ctx, 0))
	})
	s.sentRoutes(api)
}

// SendWish is what is to be sent, to whom and how.
type SendWish struct {
	Controllers []site.ID `json:"controllers" doc:"None: all that lack something"`
	Whole       bool      `json:"whole,omitempty" doc:"Everything anew, not the difference; also to those that lack nothing, where they are named"`
	Clocks      bool      `json:"clocks,omitempty" doc:"Their clocks are set too"`
	Ready       bool      `json:"ready,omitempty" doc:"Only to those that answer now; the others are not sent on their return"`
}

// chosen picks those of some controllers that a wish is for.
func (w *SendWish) chosen(list []Pending) ([]Pending, error) {
	var todo []Pending
	for _, p := range list {
		named := slices.Contains(w.Controllers, p.ID)
		switch {
		case len(w.Controllers) > 0 && !named, !p.Lacks && !(w.Whole && named), w.Ready && !p.Online:
			continue
		case p.Refused != "":
			return nil, huma.Error422UnprocessableEntity("Nothing was sent. " + p.Name + ": " + p.Refused + ".")
		}
		todo = append(todo, p)
	}
	return todo, nil
}

// sendChosen brings controllers up to date: the chosen ones, or all that lack something. A complete copy of the
// database is kept before anything is sent, and what it does is worked out and kept with what each got.
func (s *Server) sendChosen(ctx context.Context, w SendWish) error {
	return s.sendAs(ctx, s.who(ctx), "asked for", w)
}

// sendAs is sendChosen for somebody who may not be there any more.
func (s *Server) sendAs(ctx context.Context, who, why string, w SendWish) error {
	list, err := s.pending(ctx, 0)
	if err != nil {
		return err
	}
	todo, err := w.chosen(list)
	if err != nil || len(todo) == 0 {
		return err
	}
	if _, err := s.Store.Copy(ctx, who, "before sending to "+counted(len(todo), "controller", "controllers")); err != nil {
		return err
	}
	var all sync.WaitGroup
	defer all.Wait()
	for _, p := range todo {
		if err := s.Store.Want(ctx, p.ID); err != nil {
			return err
		}
		if p.Online {
			all.Go(func() {
				if w.Clocks {
					if err := s.setClock(ctx, p.ID); err != nil {
						slog.Warn("a clock was not set with what was sent", "controller", p.Name, "err", err)
					}
				}
				s.send(sending{who: who, why: why, whole: w.Whole}, p.ID)
			})
		}
	}
	return nil
}

// sending is who sends, why, and whether all of it.
type sending struct {
	who, why string
	whole    bool
}

// send brings one controller up to date, and once more where somebody asks for that while it is under way.
func (s *Server) send(x sending, id site.ID) {
	for {
		s.mu.Lock()
		u := s.units[id]
		if u == nil || u.sending != nil {
			s.mu.Unlock()
			return
		}
		ctx, cancel := context.WithTimeout(s.ctx, 2*time.Minute)
		u.sending, u.stop = &Progress{}, cancel
		s.mu.Unlock()
		err := s.sendOnce(ctx, x, u)
		cancel()
		s.mu.Lock()
		u.sending, u.stop, u.failed = nil, nil, ""
		if err != nil {
			u.failed = err.Error()
		}
		s.mu.Unlock()
		s.poke()
		if err != nil {
			slog.Warn("send failed", "controller", s.current().Name(id), "err", err)
			return
		}
		if l, err := s.Store.LinkOf(s.ctx, id); err != nil || !l.Wanted {
			return
		}
	}
}

// stopSending ends what is on its way to a controller; it goes on with what it holds.
func (s *Server) stopSending(id site.ID) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if u := s.units[id]; u != nil && u.stop != nil {
		u.stop()
	}
}

// sendOnce sends what is in force, verifies the hash that the controller reports, and keeps what was carried.
func (s *Server) sendOnce(ctx context.Context, x sending, u *unit) error {
	f, err := s.settled(ctx)
	if err != nil {
		return err
	}
	l, err := s.Store.LinkOf(ctx, u.id)
	if err != nil {
		return err
	}
	im, ok := s.build(f, u.id)
	if !ok {
		return store.ErrMissing
	}
	record := s.recordOf(ctx, f, x, u.id)
	names, err := json.Marshal(f.NamesOf(im))
	if err != nil {
		return err
	}
	record.Bytes, err = s.carry(ctx, x, u, im.Sections(), string(names), l.Asked)
	record.Hash = image.Root(f.outlines.Of(u.id).Heads)
	s.keepRecord(record, err)
	return err
}

// carry sends sections, verifies what the controller says that it holds then, and records it as sent.
func (s *Server) carry(
	ctx context.Context, x sending, u *unit, sections []image.Section, names string, asked int64,
) (size int, err error) {
	want := image.Root(image.Heads(sections))
	got, err := u.keeper.Load(ctx, sections, x.whole, func(sent, of int) {
		size = of
		s.mu.Lock()
		if u.sending != nil {
			u.sending = &Progress{Sent: sent, Size: of}
		}
		s.mu.Unlock()
		s.poke()
	})
	if err != nil {
		return size, err
	}
	if got != want {
		return size, fmt.Errorf("it says that it holds %.8s…, not %.8s…", got, want)
	}
	if err := s.Store.SetSent(ctx, x.who, u.id, s.current().Name(u.id), image.Pack(sections), want, names,
		asked); err != nil {
		return size, fmt.Errorf("not recorded: %w", err)
	}
	s.mu.Lock()
	u.status.Hash = want
	s.mu.Unlock()
	return size, nil
}

// resend gives a controller that has returned what it was waiting for.
func (s *Server) resend(id site.ID) {
	go s.ordersOnReturn(id)
	s.reactTo(happened{controller: id, back: true})
	go s.placesOnReturn(id)
	go s.clearedOnReturn(id)
	if s.aheadOnReturn(id) {
		return
	}
	if l, err := s.Store.LinkOf(s.ctx, id); err == nil && l.Wanted {
		go s.send(sending{who: "Amber Keystone", why: "on its return"}, id)
	}
}

// resendWanted does that for every controller that answers, as after trouble here.
func (s *Server) resendWanted() {
	for _, u := range s.unitsNow() {
		if u.Online {
			s.resend(u.ID)
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
		if err := s.Store.Want(ctx, u.ID); err != nil {
			return err
		}
		if u.Online {
			s.send(sending{who: who, why: "asked for"}, u.ID)
		}
	}
	return nil
}

func counted(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
