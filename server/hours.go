package server

import (
	"context"
	"errors"
	"fmt"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/compare"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
	"amberkeystone/formats/openinghours"
	"amberkeystone/store"
)

// WeekText is a schedule's week in both forms.
type WeekText struct {
	Text    string     `json:"text"`
	Week    hours.Week `json:"week"`
	Minutes int        `json:"minutes" doc:"Open minutes in an ordinary week"`
}

// PlanText is a plan in both forms.
type PlanText struct {
	Text    string        `json:"text"`
	Plan    hours.Pattern `json:"plan"`
	Minutes []ModeMinutes `json:"minutes" doc:"What an ordinary week holds"`
	Notices []string      `json:"notices"`
}

// ModeMinutes is how long a mode holds in a week.
type ModeMinutes struct {
	Mode    hours.Mode `json:"mode"`
	Minutes int        `json:"minutes"`
}

// unread is the answer to a text outside the subset: the field, where, and why.
func unread(err error) error {
	var e *openinghours.Error
	if errors.As(err, &e) {
		return huma.Error422UnprocessableEntity("The hours are not understood "+e.Error()+".", &huma.ErrorDetail{Location: "text", Message: e.Error(), Value: e.Pos})
	}
	return say(err)
}

func weekText(w hours.Week) WeekText {
	w = w.Normal()
	for d := range w {
		if w[d] == nil {
			w[d] = []hours.Period{}
		}
	}
	return WeekText{Text: openinghours.FormatWeek(w), Week: w, Minutes: w.Minutes()}
}

func planText(p hours.Pattern, notices []string) PlanText {
	p = p.Normal()
	for d := range p.Week {
		if p.Week[d] == nil {
			p.Week[d] = []hours.Segment{}
		}
	}
	out := PlanText{Text: openinghours.FormatPlan(p), Plan: p, Notices: append([]string{}, notices...)}
	minutes := p.Minutes()
	for _, m := range hours.Modes {
		if minutes[m] > 0 {
			out.Minutes = append(out.Minutes, ModeMinutes{m, minutes[m]})
		}
	}
	return out
}

// stroke is one movement of the brush.
type stroke struct {
	Days   []int        `json:"days" doc:"0 is Monday"`
	Period hours.Period `json:"period"`
}

func (k stroke) check() error {
	for _, d := range k.Days {
		if d < 0 || d > 6 {
			return fmt.Errorf("days are counted from 0, Monday, to 6, Sunday; not %d", d)
		}
	}
	return k.Period.Valid()
}

func (s *Server) hoursRoutes(api huma.API) {
	huma.Post(api, "/api/hours/read-week", func(_ context.Context, in *struct {
		Body struct {
			Text string `json:"text"`
		}
	}) (*output[WeekText], error) {
		w, err := openinghours.ParseWeek(in.Body.Text)
		if err != nil {
			return nil, unread(err)
		}
		return give(weekText(w), nil)
	})
	huma.Post(api, "/api/hours/read-plan", func(_ context.Context, in *struct {
		Body struct {
			Text      string     `json:"text"`
			Otherwise hours.Mode `json:"otherwise"`
		}
	}) (*output[PlanText], error) {
		p, notices, err := openinghours.ParsePlan(in.Body.Text, in.Body.Otherwise)
		if err != nil {
			return nil, unread(err)
		}
		return give(planText(p, notices), nil)
	})
	huma.Post(api, "/api/hours/paint-week", func(_ context.Context, in *struct {
		Body struct {
			Week   hours.Week `json:"week"`
			Stroke *stroke    `json:"stroke,omitempty"`
			Open   bool       `json:"open" doc:"Paint open, or wipe"`
		}
	}) (*output[WeekText], error) {
		w := in.Body.Week
		if err := w.Valid(); err != nil {
			return nil, say(&store.Taken{Field: "week", Words: err.Error()})
		}
		if k := in.Body.Stroke; k != nil {
			if err := k.check(); err != nil {
				return nil, say(&store.Taken{Field: "stroke", Words: err.Error()})
			}
			w = w.Paint(k.Days, k.Period, in.Body.Open)
		}
		return give(weekText(w), nil)
	})
	huma.Post(api, "/api/hours/paint-plan", func(_ context.Context, in *struct {
		Body struct {
			Plan   hours.Pattern `json:"plan"`
			Stroke *stroke       `json:"stroke,omitempty"`
			Mode   hours.Mode    `json:"mode"`
		}
	}) (*output[PlanText], error) {
		p := in.Body.Plan
		if err := p.Valid(); err != nil {
			return nil, say(&store.Taken{Field: "plan", Words: err.Error()})
		}
		if k := in.Body.Stroke; k != nil {
			if err := k.check(); err != nil {
				return nil, say(&store.Taken{Field: "stroke", Words: err.Error()})
			}
			for _, d := range k.Days {
				p.Paint(d, hours.Segment{Period: k.Period, Mode: in.Body.Mode})
			}
		}
		return give(planText(p, nil), nil)
	})
	s.consequenceRoutes(api)
}

// Effect is what an edit that is not saved yet would do.
type Effect struct {
	Lines []compare.Consequence `json:"lines"`
	Doors []store.Place         `json:"doors" doc:"The doors it touches"`
	First string                `json:"first" doc:"When something differs first, in words; empty: not within nine days"`
}

func (s *Server) consequenceRoutes(api huma.API) {
	huma.Post(api, "/api/plans/{id}/effect", func(_ context.Context, in *struct {
		ID   site.ID `path:"id"`
		Body hours.Pattern
	}) (*output[Effect], error) {
		b := s.current()
		if err := in.Body.Valid(); err != nil {
			return nil, say(&store.Taken{Field: "week", Words: err.Error()})
		}
		e := Effect{Lines: []compare.Consequence{}, Doors: []store.Place{}}
		for _, p := range b.Config.Plans {
			if p.ID != in.ID {
				continue
			}
			e.Lines = append(e.Lines, compare.Plans(p.Pattern, in.Body)...)
			for _, d := range b.Config.Doors {
				if d.PlanID != p.ID {
					continue
				}
				e.Doors = append(e.Doors, store.Place{ID: d.ID, Kind: "door", Name: d.Name})
				z := b.Zone(d.ID)
				if at, ok := compare.FirstDifference(p.Pattern, in.Body, z, s.now()); ok && e.First == "" {
					e.First = z.Time(at).Format("Mon 2 Jan 15:04")
				}
			}
		}
		return give(e, nil)
	})
	huma.Post(api, "/api/schedules/{id}/effect", func(_ context.Context, in *struct {
		ID   site.ID `path:"id"`
		Body hours.Week
	}) (*output[Effect], error) {
		b := s.current()
		if err := in.Body.Valid(); err != nil {
			return nil, say(&store.Taken{Field: "week", Words: err.Error()})
		}
		e := Effect{Lines: []compare.Consequence{}, Doors: []store.Place{}}
		seen := map[site.ID]bool{}
		people := map[site.ID]bool{}
		for _, x := range b.Config.Schedules {
			if x.ID != in.ID {
				continue
			}
			e.Lines = append(e.Lines, compare.Weeks(x.Week, in.Body)...)
			for _, l := range b.Config.Levels {
				for _, entry := range l.Entries {
					if entry.ScheduleID != x.ID {
						continue
					}
					people[l.ID] = true
					if !seen[entry.DoorID] {
						seen[entry.DoorID] = true
						e.Doors = append(e.Doors, store.Place{ID: entry.DoorID, Kind: "door", Name: b.Name(entry.DoorID)})
					}
				}
			}
		}
		n := 0
		for i := range b.Config.People {
			for _, g := range b.Config.People[i].Levels {
				if people[g.LevelID] {
					n++
					break
				}
			}
		}
		if len(e.Lines) > 0 {
			e.Lines = append(e.Lines, compare.Consequence{Words: fmt.Sprintf("for %s", counted(n, "person", "people"))})
		}
		return give(e, nil)
	})
}

func counted(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
