package server

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"slices"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/prove"
	"amberkeystone/core/rules/reactions"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// reacting is what the server remembers of the reactions that it carries out: those that are across controllers, or do
// what only it can do.
type reacting struct {
	work   chan happened
	limits map[site.ID]*reactions.Limit
	causes map[site.ID]map[cause]bool // of outputs that are on until something has ended
	inside map[site.ID]int            // people in areas, as last counted
	told   uint64                     // the last number of an event of its own
	once   sync.Once
}

type cause struct{ controller, door, input, area site.ID }

// causeOf is what began with an event at a controller, as it will be named when it ends.
func causeOf(controller site.ID, f *pass.Fact) cause {
	if f.Kind.OfAlarmArea() {
		return cause{controller: controller, area: f.Rule}
	}
	return cause{controller: controller, door: f.Door, input: f.Input}
}

// happened is something that may set reactions off.
type happened struct {
	controller site.ID
	events     []store.Event
	offline    bool
	hour       hours.Instant // a minute that has begun; 0: not
}

// lateness is how old an event may be that still sets the server's reactions off.
const lateness = hours.Instant(5 * time.Minute / time.Millisecond)

// reactTo lets the server's reactions hear of something; it never waits.
func (s *Server) reactTo(h happened) {
	select {
	case s.reacting.work <- h:
	default:
		slog.Warn("so much happens that reactions across controllers are left out", "controller", h.controller)
	}
}

// react carries reactions out, one after the other, until the server closes.
func (s *Server) react() {
	s.reacting.limits, s.reacting.causes, s.reacting.inside = map[site.ID]*reactions.Limit{}, map[site.ID]map[cause]bool{}, map[site.ID]int{}
	for {
		select {
		case <-s.ctx.Done():
			return
		case h := <-s.reacting.work:
			if b := s.current(); len(b.Config.Reactions) > 0 {
				s.reactOn(b, &h)
			}
		}
	}
}

func (s *Server) reactOn(b *prove.Book, h *happened) {
	for i := range b.Config.Reactions {
		r := &b.Config.Reactions[i]
		switch {
		case r.Off:
		case h.offline && r.When == site.WhenOffline && (len(r.SourceIDs) == 0 || slices.Contains(r.SourceIDs, h.controller)):
			s.setOff(b, r, h.controller, nil, b.Name(h.controller)+" is offline")
		case h.hour != 0 && r.When == site.WhenHour && r.Do.AtServer():
			s.strike(b, r, h.hour)
		}
	}
	drift := s.driftAt(h.controller)
	for i := range h.events {
		e := &h.events[i]
		var f pass.Fact
		if json.Unmarshal([]byte(e.Raw), &f) != nil || s.now()-(f.At-drift) > lateness {
			continue
		}
		for _, r := range b.EndsAt(&f) {
			s.ended(b, r, h.controller, &f)
		}
		for _, r := range b.ReactionsAt(h.controller, &f) {
			s.setOff(b, r, h.controller, &f, e.Headline+placeWords(e))
		}
		if f.Kind == pass.PlaceIs {
			s.occupied(b, h.controller)
		}
	}
}

func placeWords(e *store.Event) string {
	words := ""
	switch {
	case e.Door != "":
		words = " at " + e.Door
	case e.Detail != "":
		words = ": " + e.Detail
	}
	if e.Person != "" {
		words += ", " + e.Person
	}
	return words
}

// strike sets a reaction off whose hour has come, by the clock of the first controller.
func (s *Server) strike(b *prove.Book, r *site.Reaction, at hours.Instant) {
	if len(b.Config.Controllers) == 0 {
		return
	}
	first := b.Config.Controllers[0].ID
	if b.Strikes(r, first, at) {
		s.setOff(b, r, first, nil, "It is "+r.Hour)
	}
}

// occupied sets off what waits for so many in an area.
func (s *Server) occupied(b *prove.Book, controller site.ID) {
	for i := range b.Config.Reactions {
		r := &b.Config.Reactions[i]
		if r.Off || r.When != site.WhenOccupied {
			continue
		}
		n, was := s.insideOf(r.AreaID), s.reacting.inside[r.AreaID]
		if was < r.Count && n >= r.Count && b.ReactionOpen(r, controller, s.now()) {
			s.setOff(b, r, controller, nil, fmt.Sprintf("%d inside %s now", n, b.Name(r.AreaID)))
		}
	}
	for i := range b.Config.Areas {
		s.reacting.inside[b.Config.Areas[i].ID] = s.insideOf(b.Config.Areas[i].ID)
	}
}

// insideOf counts the people in an area.
func (s *Server) insideOf(area site.ID) (n int) {
	s.whereabouts.mu.Lock()
	defer s.whereabouts.mu.Unlock()
	return s.whereabouts.book.Inside(area)
}

// setOff does what a reaction says, unless it rests. What the controller where it happened does by itself is left to it.
func (s *Server) setOff(b *prove.Book, r *site.Reaction, controller site.ID, f *pass.Fact, because string) {
	across := b.Across(r, controller)
	if !r.Do.AtServer() && len(across) == 0 {
		return
	}
	if s.reacting.limits[r.ID] == nil {
		s.reacting.limits[r.ID] = new(reactions.Limit)
	}
	ok, first := s.reacting.limits[r.ID].Take(s.now())
	if first {
		s.tellOwn(b, r, controller, "reaction-rests", "Reaction rests", fmt.Sprintf("%s was set off more than %d times in a minute; it rests until the minute is over", r.Name, site.MostInARow), false)
	}
	if !ok {
		return
	}
	var err error
	switch r.Do {
	case site.DoTell:
		s.tellOwn(b, r, controller, "reaction-told", r.Text, r.Name+": "+because, true)
	case site.DoMail:
		err = s.Store.AddLine(s.ctx, store.Written{At: int64(s.now()), Kind: "mail", Whom: r.Address, Words: r.Text + " (" + because + ")", Reaction: r.Name})
	case site.DoCamera:
		err = s.Store.AddLine(s.ctx, store.Written{At: int64(s.now()), Kind: "camera", Whom: r.Text, Words: because, Reaction: r.Name})
	case site.DoCall:
		err = s.callOut(b, r, f, because)
	default:
		s.orderAcross(b, r, controller, f, across)
	}
	if err != nil {
		slog.Error("a reaction could not do what it says", "reaction", r.Name, "err", err)
	}
}

// orderAcross tells other controllers what a reaction wants of them.
func (s *Server) orderAcross(b *prove.Book, r *site.Reaction, controller site.ID, f *pass.Fact, across map[site.ID]site.Done) {
	o := link.Order{What: string(r.Do), Rule: r.EmergencyID, Seconds: r.Seconds, Note: "reaction " + r.Name}
	if r.Do == site.DoHold {
		o.Mode, _ = hours.ParseMode(r.Mode)
		o.Until = prove.ReactionUntil(r, s.now())
	}
	if r.Until && f != nil {
		set := s.reacting.causes[r.ID]
		if set == nil {
			set = map[cause]bool{}
			s.reacting.causes[r.ID] = set
		}
		set[causeOf(controller, f)] = true
	}
	for id, done := range across {
		s.giveOrder(b, id, o, done)
	}
}

// ended turns the outputs at other controllers off again once nothing of what a reaction waits for lasts any more.
func (s *Server) ended(b *prove.Book, r *site.Reaction, controller site.ID, f *pass.Fact) {
	set := s.reacting.causes[r.ID]
	at := causeOf(controller, f)
	if !set[at] {
		return
	}
	if delete(set, at); len(set) > 0 {
		return
	}
	for id, done := range b.Across(r, controller) {
		s.giveOrder(b, id, link.Order{What: "output back", Note: "reaction " + r.Name}, done)
	}
}

func (s *Server) giveOrder(b *prove.Book, controller site.ID, o link.Order, done site.Done) {
	o.Doors, o.Outputs = done.Doors, done.Outputs
	if len(done.Areas) > 0 {
		for _, area := range done.Areas {
			o.Rule = area
			s.giveOne(b, controller, o)
		}
		return
	}
	s.giveOne(b, controller, o)
}

func (s *Server) giveOne(b *prove.Book, controller site.ID, o link.Order) {
	ctx, stop := context.WithTimeout(s.ctx, 5*time.Second)
	defer stop()
	one := s.oneOrder(controller)
	one.Lock()
	defer one.Unlock()
	if err := s.callNow(ctx, controller, o); err != nil {
		slog.Warn("a reaction did not reach a controller", "controller", b.Name(controller), "reaction", o.Note, "err", err)
	}
	s.poke()
}

// tellOwn stores an event of the server's own, and shows it.
func (s *Server) tellOwn(b *prove.Book, r *site.Reaction, controller site.ID, kind, headline, detail string, alarm bool) {
	s.reacting.once.Do(func() { s.reacting.told = uint64(s.now()) << 10 })
	s.reacting.told++
	e := store.Event{
		ControllerID: controller, Log: "reactions", Seq: s.reacting.told, At: int64(s.now()), Kind: kind, Outcome: "system", Controller: b.Name(controller),
		Headline: headline, Detail: detail, Trace: "[]", Zone: b.ControllerZone(controller), Raw: "{}", Alarm: alarm,
	}
	if alarm {
		e.Outcome = "alarm"
	}
	fresh, err := s.Store.AddEvents(s.ctx, []store.Event{e}, clash)
	if err != nil {
		slog.Error("operators could not be told", "reaction", r.Name, "err", err)
		return
	}
	for i := range fresh {
		s.hub.send(note{Type: "event", Event: &fresh[i]})
	}
	s.poke()
}

// TryReaction is a reaction to be tried on what has happened.
type TryReaction struct {
	Reaction site.Reaction `json:"reaction" doc:"It need not be saved"`
	Hours    int           `json:"hours" default:"24" minimum:"1" maximum:"168" doc:"So far back from now"`
}

// TriedReaction is what would have followed.
type TriedReaction struct {
	Words    string           `json:"words"`
	Followed []prove.Followed `json:"followed" doc:"Oldest first"`
}

const (
	mostTried    = 20_000 // events looked at
	mostFollowed = 200
)

func (s *Server) tryReaction(ctx context.Context, in *TryReaction) (TriedReaction, error) {
	b := s.current()
	r := in.Reaction
	r.Off = false
	to := s.now()
	from := to - hours.Instant(in.Hours)*hours.Hour
	list, err := s.Store.EventsBetween(ctx, int64(from), int64(to)+1, mostTried)
	if err != nil {
		return TriedReaction{}, err
	}
	var past []prove.Happened
	for i := range list {
		var f pass.Fact
		if json.Unmarshal([]byte(list[i].Raw), &f) == nil && f.Kind != 0 {
			past = append(past, prove.Happened{Controller: list[i].ControllerID, Fact: f})
		}
	}
	out := TriedReaction{Followed: b.WouldFollow(past, []site.Reaction{r})}
	rests := 0
	for _, f := range out.Followed {
		if f.Rests {
			rests++
		}
	}
	out.Words = fmt.Sprintf("Of %d events of the last %d hours %d would have set it off", len(past), in.Hours, len(out.Followed)-rests)
	if rests > 0 {
		out.Words += fmt.Sprintf(", and %d more while it would have rested", rests)
	}
	if r.When.AtServer() || r.When == site.WhenHour {
		out.Words = "What it waits for stands in no event of the past, so it cannot be tried on them"
	}
	out.Words += "."
	out.Followed = out.Followed[:min(len(out.Followed), mostFollowed)]
	return out, nil
}

// ReactionOffer is what a reaction may be made of.
type ReactionOffer struct {
	Happenings []MayBe `json:"happenings"`
	Doings     []MayBe `json:"doings"`
	Reasons    []MayBe `json:"reasons" doc:"Of a refusal"`
}

// MayBe is one of them.
type MayBe struct {
	Code  string `json:"code"`
	Words string `json:"words"`
	Place string `json:"place" doc:"Of a happening: doors, inputs, controllers, area, alarm areas, or none"`
	Ends  bool   `json:"ends" doc:"Of a happening: it has an end"`
}

func reactionOffer() ReactionOffer {
	out := ReactionOffer{Reasons: []MayBe{}}
	for _, h := range site.Happenings {
		out.Happenings = append(out.Happenings, MayBe{string(h.Code), h.Words, h.Code.Place(), h.Ends != ""})
	}
	for _, d := range site.Doings {
		out.Doings = append(out.Doings, MayBe{Code: string(d.Code), Words: d.Words})
	}
	for r := pass.ReaderOff; r < pass.Granted; r++ {
		out.Reasons = append(out.Reasons, MayBe{Code: r.String(), Words: r.Words()})
	}
	return out
}

// ReactionRow is a reaction in a list.
type ReactionRow struct {
	ID   site.ID `json:"id"`
	Name string  `json:"name"`
	Off  bool    `json:"off"`
	prove.ReactionMeaning
}

func (s *Server) reactionRoutes(api huma.API) {
	huma.Get(api, "/api/reactions-in-words", func(context.Context, *struct{}) (*output[[]ReactionRow], error) {
		b, out := s.current(), []ReactionRow{}
		for i := range b.Config.Reactions {
			r := &b.Config.Reactions[i]
			out = append(out, ReactionRow{r.ID, r.Name, r.Off, b.MeaningOfReaction(r)})
		}
		return give(out, nil)
	})
	huma.Get(api, "/api/reaction-offer", func(context.Context, *struct{}) (*output[ReactionOffer], error) {
		return give(reactionOffer(), nil)
	})
	huma.Post(api, "/api/rules/reaction", func(_ context.Context, in *struct{ Body site.Reaction }) (*output[prove.ReactionMeaning], error) {
		return give(s.current().MeaningOfReaction(&in.Body), nil)
	})
	huma.Register(api, huma.Operation{OperationID: "tryReaction", Method: http.MethodPost, Path: "/api/rules/reaction-try",
		Summary: "What would have followed from the events of the last hours"},
		func(ctx context.Context, in *struct{ Body TryReaction }) (*output[TriedReaction], error) {
			return give(s.tryReaction(ctx, &in.Body))
		})
	huma.Get(api, "/api/lines", func(ctx context.Context, _ *struct{}) (*output[[]store.Written], error) {
		return give(s.Store.Lines(ctx, 200))
	})
	s.callRoutes(api)
}
