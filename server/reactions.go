package server

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// reacting is what the server remembers of the reactions that it carries out: those that are across controllers, or do
// what only it can do.
type reacting struct {
	work  chan happened
	relay prove.Relay
	kept  []byte // what is stored of the relay
	told  uint64 // the last number of an event of its own
	once  sync.Once
}

// reactionsLasting is the name under which it is stored what reactions keep on at other controllers.
const reactionsLasting = "reactions lasting"

// happened is something that may set reactions off.
type happened struct {
	controller site.ID
	events     []store.Event
	offline    bool
	back       bool          // the controller has returned
	hour       hours.Instant // a minute that has begun; 0: not
}

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
	s.goOnReacting()
	for {
		select {
		case <-s.ctx.Done():
			return
		case h := <-s.reacting.work:
			if b := s.current(); !s.reacting.relay.Idle(b) {
				s.reactOn(b, &h)
			}
		}
	}
}

// goOnReacting takes up what reactions kept on when the server was last closed.
func (s *Server) goOnReacting() {
	s.reacting.relay.Count(s.current(), s.insideOf)
	var kept json.RawMessage
	had, err := s.Store.Recall(s.ctx, reactionsLasting, &kept)
	if err == nil && had {
		err = s.reacting.relay.Restore(kept)
	}
	s.reacting.kept = kept
	if err == nil && s.reacting.relay.Lasts() {
		err = s.letGoMissed()
	}
	if err != nil {
		slog.Error("what reactions keep on cannot be taken up", "err", err)
	}
}

// letGoMissed lets go what has ended by events that were stored and not followed any more.
func (s *Server) letGoMissed() error {
	defer s.keepReacting()
	b, relay := s.current(), &s.reacting.relay
	for from := relay.Since() - hours.Hour; ; { // clocks may differ
		list, err := s.Store.EventsBetween(s.ctx, int64(from), int64(hours.Never), mostTried)
		if err != nil {
			return err
		}
		for i := range list {
			var f pass.Fact
			if json.Unmarshal([]byte(list[i].Raw), &f) == nil {
				s.doAll(b, relay.Ended(b, list[i].ControllerID, &f), "")
			}
		}
		if len(list) < mostTried || hours.Instant(list[len(list)-1].At) == from {
			return nil
		}
		from = hours.Instant(list[len(list)-1].At)
	}
}

// keepReacting stores what reactions keep on, where that has changed.
func (s *Server) keepReacting() {
	kept, err := s.reacting.relay.Save()
	if err == nil && !bytes.Equal(kept, s.reacting.kept) {
		if err = s.Store.Remember(s.ctx, reactionsLasting, json.RawMessage(kept)); err == nil {
			s.reacting.kept = kept
		}
	}
	if err != nil {
		slog.Error("what reactions keep on could not be stored", "err", err)
	}
}

func (s *Server) reactOn(b *prove.Book, h *happened) {
	now, relay := s.now(), &s.reacting.relay
	defer s.keepReacting()
	if h.back {
		s.doAll(b, relay.Back(b, h.controller), "")
	}
	if h.offline {
		s.doAll(b, relay.Lost(b, h.controller, now), "")
	}
	if h.hour != 0 {
		s.doAll(b, relay.Strike(b, h.hour), "")
	}
	drift := s.driftAt(h.controller)
	for i := range h.events {
		e := &h.events[i]
		var f pass.Fact
		if json.Unmarshal([]byte(e.Raw), &f) != nil {
			continue
		}
		at := f.At - drift
		deeds := relay.Hear(b, h.controller, &f, at, now)
		s.keepReacting() // before anything is turned on
		s.doAll(b, deeds, e.Headline+placeWords(e))
		if f.Kind == pass.PlaceIs && !prove.Late(at, now) {
			s.doAll(b, relay.Moved(b, h.controller, s.insideOf, now), "")
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

// insideOf counts the people in an area.
func (s *Server) insideOf(area site.ID) (n int) {
	s.whereabouts.mu.Lock()
	defer s.whereabouts.mu.Unlock()
	return s.whereabouts.book.Inside(area)
}

// doAll does what follows from reactions, because of what words say where the deed does not.
func (s *Server) doAll(b *prove.Book, list []prove.Deed, because string) {
	for i := range list {
		d := &list[i]
		d.Because = cmp.Or(d.Because, because)
		if err := s.do(b, d); err != nil {
			slog.Error("a reaction could not do what it says", "reaction", d.Reaction.Name, "err", err)
		}
	}
}

func (s *Server) do(b *prove.Book, d *prove.Deed) error {
	r := d.Reaction
	line := store.Written{At: int64(s.now()), Reaction: r.Name}
	switch {
	case d.Rests:
		words := fmt.Sprintf("%s was set off more than %d times in a minute; it rests until the minute is over", r.Name,
			site.MostInARow)
		s.tellOwn(b, r, d.Controller, "reaction-rests", "Reaction rests", words, false)
		return nil
	case r.Do == site.DoTell:
		s.tellOwn(b, r, d.Controller, "reaction-told", r.Text, r.Name+": "+d.Because, true)
		return nil
	case r.Do == site.DoMail:
		line.Kind, line.Whom, line.Words = "mail", r.Address, r.Text+" ("+d.Because+")"
		return s.Store.AddLine(s.ctx, line)
	case r.Do == site.DoCamera:
		line.Kind, line.Whom, line.Words = "camera", r.Text, d.Because
		return s.Store.AddLine(s.ctx, line)
	case r.Do == site.DoCall:
		return s.callOut(b, r, d.Fact, d.Because)
	}
	for i := range d.Orders {
		s.giveOrder(b, &d.Orders[i])
	}
	return nil
}

// giveOrder tells a controller what a reaction wants of it.
func (s *Server) giveOrder(b *prove.Book, x *prove.Ordering) {
	o, ok := link.OrderOf(&x.Input)
	if !ok {
		return
	}
	ctx, stop := context.WithTimeout(s.ctx, 5*time.Second)
	defer stop()
	one := s.oneOrder(x.Controller)
	one.Lock()
	defer one.Unlock()
	if err := s.callNow(ctx, x.Controller, o); err != nil {
		slog.Warn("a reaction did not reach a controller", "controller", b.Name(x.Controller), "reaction", o.Note, "err", err)
	} else {
		s.reacting.relay.Told(x)
	}
	s.poke()
}

// tellOwn stores an event of the server's own, and shows it.
func (s *Server) tellOwn(
	b *prove.Book, r *site.Reaction, controller site.ID, kind, headline, detail string, alarm bool,
) {
	s.reacting.once.Do(func() { s.reacting.told = uint64(s.now()) << 10 })
	s.reacting.told++
	e := store.Event{
		ControllerID: controller, Log: "reactions", Seq: s.reacting.told, At: int64(s.now()), Kind: kind, Outcome: "system",
		Controller: b.Name(controller), Headline: headline, Detail: detail, Trace: "[]", Zone: b.ControllerZone(controller),
		Raw: "{}", Alarm: alarm,
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
	out.Words = fmt.Sprintf("Of %d events of the last %d hours %d would have set it off", len(past), in.Hours,
		len(out.Followed)-rests)
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
	huma.Post(api, "/api/rules/reaction",
		func(_ context.Context, in *struct{ Body site.Reaction }) (*output[prove.ReactionMeaning], error) {
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
