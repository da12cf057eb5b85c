package server

import (
	"context"
	"fmt"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/prove"
	"amberkeystone/core/site"
)

// RulesOverview is every rule of the site as a sentence.
type RulesOverview struct {
	Proofs      []RuleRow `json:"proofs"`
	Interlocks  []RuleRow `json:"interlocks"`
	Toggles     []RuleRow `json:"toggles" doc:"By door"`
	Groups      []RuleRow `json:"groups"`
	Areas       []RuleRow `json:"areas"`
	Screenings  []RuleRow `json:"screenings"`
	Emergencies []RuleRow `json:"emergencies"`
	AlarmAreas  []RuleRow `json:"alarmAreas"`
	Reactions   []RuleRow `json:"reactions"`
}

// RuleRow is one rule.
type RuleRow struct {
	ID    site.ID   `json:"id"`
	Name  string    `json:"name"`
	Words string    `json:"words"`
	Note  string    `json:"note,omitempty"`
	Off   bool      `json:"off"`
	Doors []DoorRef `json:"doors"`
}

// DoorRef names a door.
type DoorRef struct {
	ID   site.ID `json:"id"`
	Name string  `json:"name"`
}

func (s *Server) rulesOverview() RulesOverview {
	b := s.current()
	out := RulesOverview{
		Proofs: []RuleRow{}, Interlocks: []RuleRow{}, Toggles: []RuleRow{}, Groups: []RuleRow{},
		Screenings: []RuleRow{}, Emergencies: []RuleRow{}, AlarmAreas: []RuleRow{}, Reactions: []RuleRow{},
	}
	doors := func(ids []site.ID) []DoorRef {
		list := make([]DoorRef, len(ids))
		for i, id := range ids {
			list[i] = DoorRef{id, b.Name(id)}
		}
		return list
	}
	c := b.Config
	for i := range c.Proofs {
		x := &c.Proofs[i]
		m := b.MeaningOf(x)
		out.Proofs = append(out.Proofs, RuleRow{x.ID, x.Name, m.Words, m.Effect, x.Off, doors(x.DoorIDs)})
	}
	for i := range c.Interlocks {
		x := &c.Interlocks[i]
		out.Interlocks = append(out.Interlocks, RuleRow{x.ID, x.Name, b.InterlockWords(x), s.blocks(x), x.Off,
			doors(x.DoorIDs)})
	}
	for i := range c.Doors {
		if d := &c.Doors[i]; d.Toggle != nil {
			out.Toggles = append(out.Toggles, RuleRow{d.ID, d.Name, b.ToggleWords(d.Toggle), "", d.Toggle.Off,
				doors([]site.ID{d.ID})})
		}
	}
	out.Areas = s.areaRows()
	for _, x := range s.screeningsNow() {
		out.Screenings = append(out.Screenings,
			RuleRow{x.ID, x.Name, x.Words, fmt.Sprintf("%d of %s cleared now.", x.Cleared, counted(x.Count, "person", "people")),
				x.Off, append(x.Desks, x.Passing...)})
	}
	for _, x := range s.emergenciesNow() {
		note := ""
		if len(x.On) > 0 {
			note = "On now at " + counted(len(x.On), "door", "doors") + "."
		}
		out.Emergencies = append(out.Emergencies, RuleRow{x.ID, x.Name, x.Words, note, x.Off, []DoorRef{}})
	}
	out.AlarmAreas, out.Reactions = s.alarmAreaRows(b), reactionRows(b)
	for i := range c.Groups {
		g := &c.Groups[i]
		out.Groups = append(out.Groups, RuleRow{
			ID: g.ID, Name: g.Name, Words: counted(len(c.Members(g)), "person", "people"), Doors: []DoorRef{},
		})
	}
	return out
}

func (s *Server) areaRows() []RuleRow {
	rows := []RuleRow{}
	for _, a := range s.areasNow() {
		row := RuleRow{
			ID: a.ID, Name: a.Name, Words: a.Words, Note: counted(a.Inside, "person is", "people are") + " inside now.",
			Doors: []DoorRef{},
		}
		for _, w := range a.Ways {
			row.Doors = append(row.Doors, w.DoorRef)
		}
		rows = append(rows, row)
	}
	return rows
}

func (s *Server) alarmAreaRows(b *prove.Book) []RuleRow {
	out := []RuleRow{}
	for i := range b.Config.AlarmAreas {
		a := &b.Config.AlarmAreas[i]
		now := s.alarmAreaNow(b, a)
		row := RuleRow{a.ID, a.Name, now.Meaning.Keeps + " " + now.Meaning.Raises, now.Words + ".", a.Off, s.refs(a.DoorIDs)}
		if now.State != "disarmed" && now.State != "unknown" {
			row.Note = "Now " + now.State + ": " + row.Note
		}
		out = append(out, row)
	}
	return out
}

func reactionRows(b *prove.Book) []RuleRow {
	out := []RuleRow{}
	for i := range b.Config.Reactions {
		x := &b.Config.Reactions[i]
		m := b.MeaningOfReaction(x)
		out = append(out, RuleRow{x.ID, x.Name, m.Words, m.Needs, x.Off, []DoorRef{}})
	}
	return out
}

// ruleWords says what a rule does that is being saved; nothing of what is no rule.
func (s *Server) ruleWords(v any) string {
	b := s.current()
	switch x := v.(type) {
	case *site.Proofs:
		m := b.MeaningOf(x)
		return m.Words + " " + m.Effect
	case *site.Interlock:
		return b.InterlockWords(x)
	case *site.Area:
		return b.AreaWords(x)
	case *site.Screening:
		m := b.ScreeningMeaning(x)
		return m.Words + " " + m.Effect
	case *site.Emergency:
		return b.EmergencyWords(x)
	case *site.AlarmArea:
		m := b.MeaningOfAlarmArea(x)
		return m.Arms + " " + m.Keeps + " " + m.Raises
	case *site.Reaction:
		return b.MeaningOfReaction(x).Words
	}
	return ""
}

// blocks says which door of an interlock is open or released now.
func (s *Server) blocks(x *site.Interlock) string {
	b := s.current()
	var unit *unit
	if len(x.DoorIDs) > 0 {
		if d := b.Door(x.DoorIDs[0]); d != nil {
			s.mu.RLock()
			defer s.mu.RUnlock()
			unit = s.units[d.ControllerID]
		}
	}
	if unit == nil || !unit.online {
		return "Its controller does not answer, so nobody knows which door is open now."
	}
	for _, st := range unit.status.Doors {
		if slices.Contains(x.DoorIDs, st.Door) && (st.Open || st.Released) {
			return b.Name(st.Door) + " is not closed and locked now: the others stay shut."
		}
	}
	return "All are closed and locked now."
}

func (s *Server) ruleRoutes(api huma.API) {
	op := func(id, method, path, words string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: path, Summary: words, Tags: []string{"rules"}}
	}
	huma.Register(api, op("rules", http.MethodGet, "/api/rules", "Every rule as a sentence"),
		func(context.Context, *struct{}) (*output[RulesOverview], error) { return give(s.rulesOverview(), nil) })
	huma.Register(api,
		op("rulesAtDoor", http.MethodGet, "/api/doors/{id}/rules",
			"The rules at a door, in the order in which they are checked"),
		func(_ context.Context, in *idInput) (*output[[]prove.RuleLine], error) {
			return give(orNone(s.current().RulesAt(in.ID)), nil)
		})
	huma.Register(api, op("usualRules", http.MethodGet, "/api/usual-rules", "Rules as most begin"),
		func(_ context.Context, in *struct {
			Door site.ID `query:"door" doc:"For which; none: for no door yet"`
		}) (*output[site.Usual], error) {
			c, always := s.current().Config, site.ID(0)
			if i := slices.IndexFunc(c.Schedules, func(x site.Schedule) bool { return x.IsAlways() }); i >= 0 {
				always = c.Schedules[i].ID
			}
			return give(site.UsualRules(in.Door, always), nil)
		})
	huma.Register(api,
		op("proofsMeaning", http.MethodPost, "/api/rules/proofs", "What a rule of several proofs would mean"),
		func(_ context.Context, in *struct{ Body site.Proofs }) (*output[prove.ProofsMeaning], error) {
			return give(s.current().MeaningOf(&in.Body), nil)
		})
	huma.Register(api, op("interlockWords", http.MethodPost, "/api/rules/interlock", "What an interlock would do"),
		func(_ context.Context, in *struct{ Body site.Interlock }) (*output[Sentence], error) {
			return give(Sentence{s.current().InterlockWords(&in.Body)}, nil)
		})
	huma.Register(api, op("toggleWords", http.MethodPost, "/api/rules/toggle", "What a card toggle would do"),
		func(_ context.Context, in *struct{ Body site.Toggle }) (*output[Sentence], error) {
			return give(Sentence{s.current().ToggleWords(&in.Body)}, nil)
		})
}

// Sentence is what something does.
type Sentence struct {
	Words string `json:"words"`
}
