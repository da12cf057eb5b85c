package server

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"maps"
	"slices"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/compare"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// SendImpact is what sending does: whom it touches, at which doors, from when.
type SendImpact struct {
	Sentence    string             `json:"sentence"`
	People      int                `json:"people"`
	Gain        int                `json:"gain"`
	Lose        int                `json:"lose"`
	Touched     []Touched          `json:"touched" doc:"People with what they lose and gain, at most 60"`
	Controllers []ControllerImpact `json:"controllers"`
}

// ControllerImpact is what sending to one controller does.
type ControllerImpact struct {
	ID       site.ID               `json:"id"`
	Sentence string                `json:"sentence"`
	Doors    []store.Place         `json:"doors" doc:"That ask something else"`
	Lines    []compare.Consequence `json:"lines" doc:"How long on the first day that differs"`
	First    string                `json:"first" doc:"When something differs first; empty: not within 13 months"`
}

// folded are the people in force, those who are alike together; worked out when it is asked for first.
type folded struct {
	once  sync.Once
	alike []compare.Alike
}

func (f inForce) alike() []compare.Alike {
	f.folded.once.Do(func() { f.folded.alike = compare.Fold(f.Effective.People) })
	return f.folded.alike
}

// others are those who stand in both images alike: their section is the same.
func (f inForce) others(was []image.Head, is []image.Head) []compare.Alike {
	same := map[uint64]bool{}
	for n := range uint64(image.Shards) {
		name := image.ShardName(int(n))
		of := func(h image.Head) bool { return h.Name == name }
		i, k := slices.IndexFunc(was, of), slices.IndexFunc(is, of)
		same[n] = i >= 0 && k >= 0 && was[i] == is[k]
	}
	var out []compare.Alike
	for _, a := range f.alike() {
		members := slices.DeleteFunc(slices.Clone(a.Members), func(id site.ID) bool { return !same[uint64(id)%image.Shards] })
		if len(members) == 0 {
			continue
		}
		if p := f.Effective.Person(members[0]); p != nil {
			out = append(out, compare.Alike{Person: p, Members: members})
		}
	}
	return out
}

// effectAt compares what a controller holds with what it should; ok is false where it holds nothing that is known.
func (s *Server) effectAt(
	ctx context.Context, f inForce, id site.ID, hash string,
) (e compare.Effect, ok bool, err error) {
	if hash == "" {
		return e, false, nil
	}
	sent, err := s.Store.Sent(ctx, id, hash)
	if err != nil {
		return e, false, nil //nolint:nilerr // what was sent is no longer kept: nothing can be compared with it
	}
	was, is, err := f.outlines.Differing(id, sent.Image)
	if err != nil {
		return e, false, err
	}
	var others []compare.Alike
	if heads, err := image.HeadsOf(sent.Image); err == nil {
		want := f.outlines.Of(id).Heads
		if len(heads) >= 3 && !slices.Equal(heads[:3], want[:3]) {
			others = f.others(heads, want)
		}
	}
	return compare.Images(was, is, others, s.now()), true, nil
}

// impact works out what sending does, to some controllers or to all that lack something.
func (s *Server) impact(ctx context.Context, only []site.ID) (SendImpact, error) {
	f, err := s.settled(ctx)
	out := SendImpact{Controllers: []ControllerImpact{}, Touched: []Touched{}}
	if err != nil {
		return out, err
	}
	f.outlineAll()
	var todo []Pending
	err = s.linked(ctx, f, func(c site.Controller, l store.Link, u Unit) error {
		if p := s.lack(f, c, l, u); p.Lacks && (len(only) == 0 || slices.Contains(only, c.ID)) {
			todo = append(todo, p)
		}
		return nil
	})
	if err != nil {
		return out, err
	}
	effects := make([]*compare.Effect, len(todo))
	errs := make([]error, len(todo))
	var wait sync.WaitGroup
	next := make(chan int)
	for range 2 {
		wait.Go(func() {
			for i := range next {
				if todo[i].Drifted {
					continue
				}
				e, ok, err := s.effectAt(ctx, f, todo[i].ID, todo[i].Hash)
				if errs[i] = err; ok && err == nil {
					effects[i] = &e
				}
			}
		})
	}
	for i := range todo {
		next <- i
	}
	close(next)
	wait.Wait()
	n := naming(f.Book)
	var all compare.Together
	for i, p := range todo {
		if errs[i] != nil {
			return out, errs[i]
		}
		line := ControllerImpact{ID: p.ID, Doors: []store.Place{}, Lines: []compare.Consequence{}}
		if e := effects[i]; e == nil {
			line.Sentence = "It holds nothing that is known here: everything at its doors is as it stands here once it is sent."
		} else {
			all = append(all, e)
			line.fill(e, n)
		}
		out.Controllers = append(out.Controllers, line)
	}
	w := all.Who()
	out.Sentence, out.People, out.Gain, out.Lose = all.Sentence(n), w.People, len(w.Gainers), len(w.Losers)
	out.Touched = touched(all, n)
	return out, nil
}

func (c *ControllerImpact) fill(e *compare.Effect, n compare.Naming) {
	c.Sentence = e.Sentence(n)
	for _, d := range e.Doors {
		c.Doors = append(c.Doors, store.Place{ID: d, Kind: "door", Name: n.Name(d)})
	}
	if e.First != hours.Never {
		z := n.Zone(e.Where)
		c.First = z.Time(e.First).Format("Mon 2 Jan 2006 15:04")
		c.Lines = append(c.Lines, e.Words(z)...)
	}
}

// recordOf is the record of a send that is about to begin: what differs and what that does.
func (s *Server) recordOf(ctx context.Context, f inForce, x sending, id site.ID) store.SendRecord {
	r := store.SendRecord{Who: x.who, Why: x.why, Whole: x.whole, ControllerID: id, Controller: f.Name(id), Changes: "[]"}
	l, err := s.Store.LinkOf(ctx, id)
	if err != nil {
		return r
	}
	p := Pending{ID: id, Name: r.Controller, Hash: l.Hash}
	s.mu.RLock()
	if u := s.units[id]; u != nil {
		p.Drifted = u.online && p.Hash != "" && u.status.Hash != p.Hash
	}
	s.mu.RUnlock()
	if p.Hash != f.outlines.Of(id).Root || p.Drifted {
		if list, err := s.differences(ctx, f, p); err == nil {
			if b, err := json.Marshal(list); err == nil {
				r.Changes = string(b)
			}
		}
	}
	if !p.Drifted {
		if e, ok, err := s.effectAt(ctx, f, id, l.Hash); ok && err == nil {
			r.Impact = e.Sentence(naming(f.Book))
		}
	}
	return r
}

// keepRecord keeps what a send carried and how it ended.
func (s *Server) keepRecord(r store.SendRecord, err error) {
	r.Outcome = "verified"
	switch {
	case errors.Is(err, context.Canceled):
		r.Outcome, r.Words = "cancelled", "It was cancelled; the controller goes on with what it held."
	case err != nil:
		r.Outcome, r.Words = "failed", err.Error()
	}
	if err := s.Store.AddSend(context.WithoutCancel(s.ctx), r); err != nil {
		slog.Error("what was sent could not be recorded", "controller", r.Controller, "err", err)
	}
}

// SentLine is a send with what it carried.
type SentLine struct {
	store.SendRecord
	Changes []image.Change `json:"changes"`
}

// SendPlan is a send at a set time.
type SendPlan struct {
	At    hours.Instant `json:"at" doc:"When, Unix milliseconds; 0: none is set"`
	Words string        `json:"words" doc:"When, by the clock of the first site"`
	Who   string        `json:"who"`
	Wish  SendWish      `json:"wish"`
}

const sendPlan = "send at"

func (s *Server) sentRoutes(api huma.API) {
	huma.Get(api, "/api/send/impact", func(ctx context.Context, in *struct {
		Controllers []int64 `query:"controllers,explode" doc:"None: all that lack something"`
	}) (*output[SendImpact], error) {
		var only []site.ID
		for _, id := range in.Controllers {
			only = append(only, site.ID(id))
		}
		return give(s.impact(ctx, only))
	})
	huma.Get(api, "/api/sends", func(ctx context.Context, in *struct {
		Controller site.ID `query:"controller"`
		Before     int64   `query:"before" doc:"Only those older than this one"`
		Limit      int     `query:"limit" default:"50" minimum:"1" maximum:"500"`
	}) (*output[[]SentLine], error) {
		list, err := s.Store.Sends(ctx, in.Controller, in.Before, in.Limit)
		out := []SentLine{}
		for _, r := range list {
			out = append(out, sentLine(r))
		}
		return give(out, err)
	})
	huma.Get(api, "/api/send/plan", func(ctx context.Context, _ *struct{}) (*output[SendPlan], error) {
		return give(s.plannedSend(ctx))
	})
	huma.Put(api, "/api/send/plan", func(ctx context.Context, in *struct {
		Body struct {
			At   string   `json:"at" doc:"Wall clock of the first site, 2006-01-02T15:04; empty: no longer"`
			Wish SendWish `json:"wish"`
		}
	}) (*output[SendPlan], error) {
		return give(s.planSend(ctx, in.Body.At, in.Body.Wish))
	})
}

func sentLine(r store.SendRecord) SentLine {
	out := SentLine{r, []image.Change{}}
	if err := json.Unmarshal([]byte(r.Changes), &out.Changes); err != nil {
		out.Changes = []image.Change{}
	}
	return out
}

// firstZone is the clock of the first site.
func (s *Server) firstZone() *hours.Zone {
	if b := s.current(); len(b.Config.Sites) > 0 {
		return s.zone(b.Config.Sites[0].Zone)
	}
	return &hours.Zone{Name: "UTC"}
}

func (s *Server) plannedSend(ctx context.Context) (SendPlan, error) {
	var p SendPlan
	_, err := s.Store.Recall(ctx, sendPlan, &p)
	if p.At != 0 {
		p.Words = s.firstZone().Time(p.At).Format("Mon 2 Jan 2006, 15:04")
	}
	p.Wish.Controllers = orNone(p.Wish.Controllers)
	return p, err
}

// planSend sets when what is lacking is sent by itself.
func (s *Server) planSend(ctx context.Context, at string, w SendWish) (SendPlan, error) {
	if at == "" {
		if err := s.Store.Remember(ctx, sendPlan, nil); err != nil {
			return SendPlan{}, err
		}
		return s.plannedSend(ctx)
	}
	day, minute, err := site.ParseWall(at)
	if err != nil {
		return SendPlan{}, &store.Taken{Field: "at", Words: err.Error()}
	}
	p := SendPlan{At: s.firstZone().Resolve(day, minute), Who: s.who(ctx), Wish: w}
	switch {
	case p.At <= s.now():
		return p, &store.Taken{Field: "at", Words: "that is past; choose a time to come, or send now"}
	case p.At > s.now()+366*hours.FullDay:
		return p, &store.Taken{Field: "at", Words: "that is more than a year away; choose a nearer time"}
	}
	if err := s.Store.Remember(ctx, sendPlan, p); err != nil {
		return p, err
	}
	return s.plannedSend(ctx)
}

// sendPlanned sends when the time that was set has come. Controllers that do not answer then get it on their return.
func (s *Server) sendPlanned() {
	every := time.NewTicker(time.Second)
	defer every.Stop()
	for {
		select {
		case <-s.ctx.Done():
			return
		case <-every.C:
		}
		p, err := s.plannedSend(s.ctx)
		if err != nil || p.At == 0 || p.At > s.now() {
			continue
		}
		if err := s.Store.Remember(s.ctx, sendPlan, nil); err != nil {
			continue
		}
		if err := s.sendAs(s.ctx, p.Who, "at the time that was set", p.Wish); err != nil {
			slog.Error("what was to be sent at a set time was not", "err", err)
			_ = s.Store.Note(s.ctx, p.Who, "not sent at the time that was set: "+err.Error(), "controller", 0, "all")
		}
	}
}

// Ahead are the people whose suspension waits for controllers that did not answer, by controller.
type ahead map[site.ID][]site.ID

// errNotThere is why a controller could not be told now.
var errNotThere = errors.New("it does not answer")

const sendAhead = "suspended ahead"

// suspendAhead tells controllers that somebody is suspended, before anything else and without it: what else is unsent
// waits, and what is on its way is stopped and begun again. It returns whom it told, and who is told on their return.
func (s *Server) suspendAhead(ctx context.Context, who string, person site.ID) (told, later []string, err error) {
	links, err := s.Store.Links(ctx)
	if err != nil {
		return nil, nil, err
	}
	var mu sync.Mutex
	var wait sync.WaitGroup
	for _, l := range links {
		if l.Hash == "" {
			continue
		}
		wait.Go(func() {
			name := s.current().Name(l.ControllerID)
			had, err := s.suspendAt(ctx, who, l, person)
			mu.Lock()
			defer mu.Unlock()
			switch {
			case err != nil:
				later = append(later, name)
			case had:
				told = append(told, name)
			}
		})
	}
	wait.Wait()
	slices.Sort(told)
	slices.Sort(later)
	return told, later, nil
}

// suspendAt tells one controller, where the person stands in what it holds; else it is told on its return.
func (s *Server) suspendAt(ctx context.Context, who string, l store.Link, person site.ID) (had bool, err error) {
	sent, err := s.Store.Sent(ctx, l.ControllerID, l.Hash)
	if err != nil {
		return false, err
	}
	sections, found, err := image.WithSuspended(sent.Image, person)
	if err != nil || !found {
		return false, err
	}
	s.mu.RLock()
	u := s.units[l.ControllerID]
	s.mu.RUnlock()
	if err := s.loadAhead(ctx, who, u, sections, sent.Names, l.Asked, person); err != nil {
		s.aheadMu.Lock()
		defer s.aheadMu.Unlock()
		waiting := ahead{}
		if _, err := s.Store.Recall(ctx, sendAhead, &waiting); err != nil {
			return true, err
		}
		if !slices.Contains(waiting[l.ControllerID], person) {
			waiting[l.ControllerID] = append(waiting[l.ControllerID], person)
		}
		return true, orElse(s.Store.Remember(ctx, sendAhead, waiting), err)
	}
	return true, nil
}

func orElse(a, b error) error {
	if a != nil {
		return a
	}
	return b
}

// loadAhead stops what is on its way to a controller, loads sections, and lets what was on its way begin again.
func (s *Server) loadAhead(
	ctx context.Context, who string, u *unit, sections []image.Section, names string, asked int64, person site.ID,
) error {
	if u == nil || !u.online {
		return errNotThere
	}
	again := false
	for {
		s.mu.Lock()
		if u.sending == nil {
			u.sending = &Progress{}
			s.mu.Unlock()
			break
		}
		if u.stop != nil {
			again = true
			u.stop()
		}
		s.mu.Unlock()
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(2 * time.Millisecond):
		}
	}
	x := sending{who: who, why: "ahead of everything else"}
	record := store.SendRecord{
		Who: who, Why: x.why, ControllerID: u.id, Controller: s.current().Name(u.id), Hash: image.Root(image.Heads(sections)),
		Impact: s.current().Name(person) + " is suspended.",
	}
	if b, err := json.Marshal([]image.Change{{Kind: "person", Words: s.current().Name(person) +
		": suspended"}}); err == nil {
		record.Changes = string(b)
	}
	var err error
	record.Bytes, err = s.carry(ctx, x, u, sections, names, asked-1) // what was asked for still waits
	s.keepRecord(record, err)
	s.mu.Lock()
	u.sending = nil
	s.mu.Unlock()
	s.poke()
	if again {
		go s.send(sending{who: who, why: "begun again after a suspension"}, u.id)
	}
	return err
}

// aheadOnReturn tells a controller that has returned of the suspensions that it missed, and then what else waits for
// it.
func (s *Server) aheadOnReturn(id site.ID) bool {
	s.aheadMu.Lock()
	waiting := ahead{}
	_, err := s.Store.Recall(s.ctx, sendAhead, &waiting)
	people := waiting[id]
	if err == nil && len(people) > 0 {
		waiting = maps.Clone(waiting)
		delete(waiting, id)
		err = s.Store.Remember(s.ctx, sendAhead, waiting)
	}
	s.aheadMu.Unlock()
	if err != nil || len(people) == 0 {
		return false
	}
	go func() {
		for _, p := range people {
			l, err := s.Store.LinkOf(s.ctx, id)
			if err != nil {
				return
			}
			if _, err := s.suspendAt(s.ctx, "Amber Keystone", l, p); err != nil {
				slog.Warn("a suspension could not be told", "controller", s.current().Name(id), "err", err)
			}
		}
		if l, err := s.Store.LinkOf(s.ctx, id); err == nil && l.Wanted {
			s.send(sending{who: "Amber Keystone", why: "on its return"}, id)
		}
	}()
	return true
}
