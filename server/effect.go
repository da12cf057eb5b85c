package server

import (
	"context"
	"encoding/json"
	"slices"
	"strings"
	"sync"

	"amberkeystone/core/compare"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// EditEffect is what an edit that is not saved yet would do.
type EditEffect struct {
	Sentence string                `json:"sentence" doc:"Whom it touches, in a sentence; it is kept in the history"`
	Lines    []compare.Consequence `json:"lines"`
	Doors    []store.Place         `json:"doors" doc:"That would ask something else, at most 50"`
	Count    int                   `json:"count" doc:"How many doors"`
	People   int                   `json:"people" doc:"Whose hours change somewhere"`
	Gain     int                   `json:"gain" doc:"Of these, who may come in at more hours"`
	Lose     int                   `json:"lose" doc:"Of these, who may come in at fewer hours"`
	Losers   []string              `json:"losers" doc:"Their names, at most 12"`
	Touched  []Touched             `json:"touched" doc:"People with what they lose and gain, those with the same together; at most 60 people"`
	First    string                `json:"first" doc:"When something differs first, in words; empty: not within 13 months"`
	Days     int                   `json:"days" doc:"On how many days of the next 13 months"`
}

// Touched is people who lose and gain the same.
type Touched struct {
	People []store.Place `json:"people" doc:"At most 12 of them"`
	Count  int           `json:"count"`
	Turns  []TurnLine    `json:"turns"`
}

// TurnLine is a door through which they lose or gain.
type TurnLine struct {
	Door  site.ID `json:"door"`
	Name  string  `json:"name"`
	Gains bool    `json:"gains" doc:"Else they lose"`
	When  string  `json:"when" doc:"In the first week: Sat 09:00–17:00"`
	First string  `json:"first" doc:"The day on which it differs first"`
}

// naming names people and doors in sentences.
func naming(b *prove.Book) compare.Naming {
	count := map[site.ID]int{}
	for i := range b.Config.Doors {
		count[b.Config.SiteOf(&b.Config.Doors[i]).ID]++
	}
	return compare.Naming{Name: b.Name, Zone: b.Zone, Site: func(door site.ID) (string, int) {
		d := b.Door(door)
		if d == nil {
			return "", 0
		}
		x := b.Config.SiteOf(d)
		return x.Name, count[x.ID]
	}}
}

// changed compares what is in force with an edit of it. The edited book names what the edit adds.
func (s *Server) changed(b *prove.Book, e compare.Edit) (compare.Effect, compare.Naming) {
	is, now := e.Apply(b.Config), s.now()
	x := compare.Hours(b.Effective, is, b.Times(), compare.Timetable(is, b.Clock, now), now)
	n := naming(b)
	n.Name = func(id site.ID) string {
		if id != compare.Fresh {
			return b.Name(id)
		}
		if e.Person != nil && e.Person.Name != "" {
			return e.Person.Name
		}
		return "The new one"
	}
	return x, n
}

// effect computes the consequence of an edit.
func (s *Server) effect(e compare.Edit) (EditEffect, error) {
	b := s.current()
	if faults := e.Check(); len(faults) > 0 {
		return EditEffect{}, say(faults)
	}
	if e.Level != nil {
		if loop := b.Config.Loop(e.Level.ID, e.Level.Includes); loop != nil && e.Level.ID != 0 {
			return EditEffect{}, say(&store.Taken{Field: "includes", Words: s.loopWords(loop)})
		}
	}
	x, n := s.changed(b, e)
	out := EditEffect{
		Sentence: x.Sentence(n), Lines: []compare.Consequence{}, Doors: []store.Place{},
		Touched: touched(compare.Together{&x}, n), Count: len(x.Doors), People: x.People, Gain: len(x.Gainers),
		Lose: len(x.Losers), Losers: someNames(n, x.Losers), Days: x.Days,
	}
	out.Lines = append(out.Lines, weekly(b, e)...)
	z := &hours.Zone{Name: "UTC"}
	if x.Where != 0 {
		z = b.Zone(x.Where)
	}
	if len(out.Lines) == 0 {
		out.Lines = append(out.Lines, x.Words(z)...)
	}
	for _, d := range x.Doors[:min(len(x.Doors), 50)] {
		out.Doors = append(out.Doors, store.Place{ID: d, Kind: "door", Name: b.Name(d)})
	}
	if x.First != hours.Never {
		out.First = z.Time(x.First).Format("Mon 2 Jan 2006 15:04")
	}
	s.remember(e, out.Sentence)
	return out, nil
}

// someNames gives the first twelve names.
func someNames(n compare.Naming, ids []site.ID) []string {
	out := []string{}
	for _, id := range ids[:min(len(ids), 12)] {
		out = append(out, n.Name(id))
	}
	return out
}

// How many people an effect is opened to, how many doors of each, and how many of those with the same are named.
const (
	mostTouched = 60
	mostTurns   = 40
	mostTold    = 12
)

// touched opens an effect to names, doors and hours.
func touched(x compare.Together, n compare.Naming) []Touched {
	out := []Touched{}
	w := x.Who()
	people := slices.Concat(w.Losers, w.Gainers)
	slices.Sort(people)
	people = slices.Compact(people)
	at := map[string]int{}
	for _, id := range people[:min(len(people), mostTouched)] {
		turns := []TurnLine{}
		for _, t := range x.Turns(id) {
			if len(turns) == mostTurns {
				break
			}
			z := n.Zone(t.Door)
			door := t.Door
			if car, _, ok := door.Stop(); ok { // it is looked at as a whole
				door = car
			}
			turns = append(turns, TurnLine{door, n.Name(t.Door), t.Gains, t.Words(z), z.Wall(t.First).Day.Words()})
		}
		key, err := json.Marshal(turns)
		if err != nil { // numbers and texts
			continue
		}
		i, ok := at[string(key)]
		if !ok {
			i = len(out)
			at[string(key)] = i
			out = append(out, Touched{People: []store.Place{}, Turns: turns})
		}
		g := &out[i]
		if g.Count++; len(g.People) < mostTold {
			g.People = append(g.People, store.Place{ID: id, Kind: "person", Name: n.Name(id)})
		}
	}
	return out
}

// weekly says how the ordinary week of a plan or schedule changes, or where a level leads.
func weekly(b *prove.Book, e compare.Edit) []compare.Consequence {
	if e.Plan != nil {
		for _, p := range b.Config.Plans {
			if p.ID == e.Plan.ID {
				return compare.Plans(p.Pattern, e.Plan.Pattern)
			}
		}
	}
	if e.Level != nil {
		was := site.Level{}
		if l := b.Config.Level(e.Level.ID); l != nil {
			was = *l
		}
		return compare.Levels(site.NewPlaces(b.Config), was, *e.Level, b.Name)
	}
	if e.Schedule != nil {
		for _, x := range b.Config.Schedules {
			if x.ID == e.Schedule.ID {
				return compare.Weeks(x.Week, e.Schedule.Week)
			}
		}
	}
	return nil
}

// editOf is the edit that writing an object is; ok is false of what no effect is told.
func editOf(v any) (e compare.Edit, ok bool) {
	switch v := v.(type) {
	case *site.HolidayType:
		e.Type = v
	case *site.Holiday:
		e.Holiday = v
	case *site.Schedule:
		e.Schedule = v
	case *site.Plan:
		e.Plan = v
	case *site.DatedChange:
		e.Change = v
	case *site.Level:
		e.Level = v
	case *site.Department:
		e.Department = v
	case *site.Person:
		e.Person = v
	case *site.AlarmArea:
		e.AlarmArea = v
	default:
		return e, false
	}
	return e, true
}

// effects remembers the sentences that were shown for edits, so that saving one keeps the sentence that was read.
type effects struct {
	mu   sync.Mutex
	said map[string]string
}

// mostSaid is how many are remembered.
const mostSaid = 200

func effectKey(commit int64, e compare.Edit) (string, bool) {
	b, err := json.Marshal(struct {
		Commit int64
		Edit   compare.Edit
	}{commit, e})
	return image.Hash(b), err == nil
}

func (s *Server) remember(e compare.Edit, sentence string) {
	key, ok := effectKey(s.present().commit, e)
	if !ok {
		return
	}
	s.effects.mu.Lock()
	defer s.effects.mu.Unlock()
	if len(s.effects.said) >= mostSaid || s.effects.said == nil {
		s.effects.said = map[string]string{}
	}
	s.effects.said[key] = sentence
}

// smallCrowd is with how many people an effect is worked out while somebody waits for a save.
const smallCrowd = 5000

// sayingEffect lets a write keep what it does in the history: whom it touches, and of a rule what it says.
func (s *Server) sayingEffect(ctx context.Context, v any) context.Context {
	words := strings.TrimSpace(s.touches(v) + " " + s.ruleWords(v))
	if words == "" {
		return ctx
	}
	return store.WithEffect(ctx, words)
}

// touches is the sentence of an edit as it was shown, else worked out where that is quick; empty where neither is.
func (s *Server) touches(v any) string {
	e, ok := editOf(v)
	if !ok {
		return ""
	}
	f := s.present()
	key, ok := effectKey(f.commit, e)
	if !ok {
		return ""
	}
	s.effects.mu.Lock()
	sentence, known := s.effects.said[key]
	s.effects.mu.Unlock()
	if known {
		return sentence
	}
	if len(f.Config.People) > smallCrowd || len(e.Check()) > 0 {
		return ""
	}
	x, n := s.changed(f.Book, e)
	return x.Sentence(n)
}
