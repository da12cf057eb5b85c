package server

import (
	"cmp"
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/compare"
	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// RuleParts is a recurrence in the parts that people choose.
type RuleParts struct {
	Every      string    `json:"every" enum:"once,day,week,month,year"`
	Interval   int       `json:"interval" doc:"Every so many"`
	ByDay      []RuleDay `json:"byDay"`
	ByMonthDay []int     `json:"byMonthDay"`
	ByMonth    []int     `json:"byMonth"`
	BySetPos   []int     `json:"bySetPos"`
	Count      int       `json:"count" doc:"0: without end"`
	Until      string    `json:"until" doc:"Last day, 2006-01-02; empty: without end"`
}

// RuleDay is a weekday, or the nth of it.
type RuleDay struct {
	N       int `json:"n" doc:"0: every one; -1: the last"`
	Weekday int `json:"weekday" doc:"0 is Monday"`
}

var everyWords = []string{"once", "day", "week", "month", "year"}

func (p RuleParts) rule() (hours.Recurrence, error) {
	r := hours.Recurrence{Freq: hours.Freq(max(0, slices.Index(everyWords, p.Every)))}
	if r.Freq == hours.Once {
		return r, nil
	}
	if p.Interval < 0 || p.Interval > 1000 || p.Count < 0 || p.Count > 5000 {
		return r, fmt.Errorf("every 1 to 1000, at most 5000 times")
	}
	r.Interval, r.ByMonthDay, r.ByMonth, r.BySetPos, r.Count = p.Interval, p.ByMonthDay, p.ByMonth, p.BySetPos, p.Count
	for _, d := range p.ByDay {
		if d.Weekday < 0 || d.Weekday > 6 {
			return r, fmt.Errorf("weekdays are counted from 0, Monday, to 6, Sunday")
		}
		r.ByDay = append(r.ByDay, hours.NthDay(d))
	}
	if p.Until != "" {
		d, err := hours.ParseDay(p.Until)
		if err != nil {
			return r, fmt.Errorf("%q is not a date; write it as 2026-12-31", p.Until)
		}
		r.Until, r.HasUntil = d, true
	}
	return hours.ParseRecurrence(r.String())
}

func partsOf(r hours.Recurrence) RuleParts {
	p := RuleParts{
		Every:      everyWords[r.Freq],
		Interval:   max(r.Interval, 1),
		ByDay:      []RuleDay{},
		ByMonthDay: orNone(r.ByMonthDay),
		ByMonth:    orNone(r.ByMonth),
		BySetPos:   orNone(r.BySetPos),
		Count:      r.Count,
	}
	for _, d := range r.ByDay {
		p.ByDay = append(p.ByDay, RuleDay(d))
	}
	if r.HasUntil {
		p.Until = r.Until.String()
	}
	return p
}

// ChangePreview is what a dated change under edit means.
type ChangePreview struct {
	Recurs string      `json:"recurs" doc:"The rule as RFC 5545 text"`
	Parts  RuleParts   `json:"parts"`
	Words  string      `json:"words" doc:"The rule in words"`
	Next   []string    `json:"next" doc:"Its next dates, in words"`
	Days   []string    `json:"days" doc:"The same as 2006-01-02"`
	Doors  []ChangedAt `json:"doors" doc:"The affected doors, at most 12"`
	Count  int         `json:"count" doc:"How many doors"`
	Week   string      `json:"week" doc:"The Monday of the weeks shown"`
}

// ChangedAt is the real week of a door with a change laid over.
type ChangedAt struct {
	ID   site.ID         `json:"id"`
	Name string          `json:"name"`
	Week []prove.RealDay `json:"week"`
}

func (s *Server) previewChange(c site.DatedChange, parts *RuleParts, week string) (ChangePreview, error) {
	b := s.current()
	out := ChangePreview{Next: []string{}, Days: []string{}, Doors: []ChangedAt{}}
	if parts != nil {
		r, err := parts.rule()
		if err != nil {
			return out, say(&store.Taken{Field: "recurs", Words: err.Error()})
		}
		c.Recurs = r.String()
	}
	faults := slices.DeleteFunc(c.Check(), func(f site.Fault) bool { return f.Field == "name" || f.Field == "doorIds" })
	if len(faults) > 0 {
		return out, say(faults)
	}
	r, err := hours.ParseRecurrence(c.Recurs)
	if err != nil {
		return out, say(&store.Taken{Field: "recurs", Words: err.Error()})
	}
	start, minute, err := site.ParseWall(c.From)
	if err != nil {
		return out, say(&store.Taken{Field: "from", Words: err.Error()})
	}
	out.Recurs, out.Parts, out.Words = c.Recurs, partsOf(r.Ending(minute, nil)), r.Words(start)
	is := compare.Edit{Change: &c}.Apply(b.Config)
	doors := c.Doors(is)
	next := c.Coming(s.today(b, doors))
	for _, d := range next[:min(len(next), 6)] {
		out.Next, out.Days = append(out.Next, d.Words()), append(out.Days, d.String())
	}
	monday := start.Monday()
	if len(next) > 0 {
		monday = next[0].Monday()
	}
	if week != "" {
		if d, err := hours.ParseDay(week); err == nil {
			monday = d.Monday()
		}
	}
	out.Week = monday.String()
	out.Count = len(doors)
	if len(doors) == 0 {
		return out, nil
	}
	drafted := b.With(is, monday-2, monday+9)
	for _, d := range doors[:min(len(doors), 12)] {
		out.Doors = append(out.Doors, ChangedAt{d, b.Name(d), drafted.RealWeek(d, monday)})
	}
	return out, nil
}

// today is the day at the first of some doors, else at the first site.
func (s *Server) today(b *prove.Book, doors []site.ID) hours.Day {
	if len(doors) > 0 {
		return b.Zone(doors[0]).Wall(s.now()).Day
	}
	if _, local := s.placeOf(b, ""); local.Zone != nil {
		return local.Wall(s.now()).Day
	}
	return hours.Day(s.now() / hours.FullDay)
}

// ChangeLine is a dated change in a list.
type ChangeLine struct {
	ID    site.ID       `json:"id"`
	Name  string        `json:"name"`
	Mode  hours.Mode    `json:"mode"`
	State string        `json:"state" enum:"now,coming,past"`
	When  string        `json:"when" doc:"Its rule, or its window, in words"`
	Next  string        `json:"next" doc:"Its present or next window, else its last, in words"`
	At    hours.Instant `json:"at" doc:"When that begins"`
	Where string        `json:"where"`
	Doors int           `json:"doors"`
}

func (s *Server) changeLines() []ChangeLine {
	b, now := s.current(), s.now()
	out := []ChangeLine{}
	for i := range b.Config.Changes {
		x := &b.Config.Changes[i]
		doors := x.Doors(b.Config)
		line := ChangeLine{ID: x.ID, Name: x.Name, Mode: x.Mode, State: "past", Where: where(b, x), Doors: len(doors)}
		r, err := hours.ParseRecurrence(x.Recurs)
		start, _, err2 := site.ParseWall(x.From)
		if err == nil && err2 == nil {
			line.When = r.Words(start)
		}
		var z *hours.Zone
		if len(doors) > 0 {
			z = b.Zone(doors[0])
		} else {
			z = &hours.Zone{Name: "UTC"}
		}
		for _, w := range x.Windows(z) {
			line.Next = z.Time(w.From).Format("Mon 2 Jan 2006 15:04") + " – " + z.Time(w.Until).Format("15:04")
			if z.Wall(w.From).Day != z.Wall(w.Until).Day {
				line.Next = z.Time(w.From).
					Format("Mon 2 Jan 2006 15:04") +
					" – " + z.Time(w.Until).
					Format("Mon 2 Jan 15:04")
			}
			line.At = w.From
			if w.Until > now {
				line.State = "coming"
				if w.From <= now {
					line.State = "now"
				}
				break
			}
		}
		if x.Ended != "" {
			line.When += ", ended early " + strings.Replace(x.Ended, "T", " ", 1)
		}
		out = append(out, line)
	}
	slices.SortStableFunc(out, func(a, b ChangeLine) int { return cmp.Compare(a.At, b.At) })
	return out
}

// where names what a dated change is for.
func where(b *prove.Book, x *site.DatedChange) string {
	var names []string
	for _, list := range [][]site.ID{x.SiteIDs, x.FloorIDs, x.SetIDs, x.DoorIDs} {
		for _, id := range list {
			names = append(names, b.Name(id))
		}
	}
	if len(names) > 4 {
		return strings.Join(names[:3], ", ") + fmt.Sprintf(" and %d more", len(names)-3)
	}
	return strings.Join(names, ", ")
}

// endChange ends a dated change now: nothing of it holds from this minute on, at any of its doors.
func (s *Server) endChange(ctx context.Context, id site.ID) (Versioned[site.DatedChange], error) {
	v, err := store.Get[site.DatedChange](ctx, s.Store, id)
	if err != nil {
		return Versioned[site.DatedChange]{}, say(err)
	}
	b, now := s.current(), s.now()
	var zones []*hours.Zone
	for _, d := range v.Value.Doors(b.Config) {
		zones = append(zones, b.Zone(d))
	}
	if !v.Value.End(zones, now) {
		return Versioned[site.DatedChange]{}, say(&store.Taken{Words: "it is for no door, so there is nothing to end"})
	}
	rev, err := store.Put(ctx, s.Store, s.who(ctx), &v.Value, v.Rev)
	if err != nil {
		return Versioned[site.DatedChange]{}, say(err)
	}
	return Versioned[site.DatedChange]{rev, v.Value}, s.settle(ctx)
}

func (s *Server) changeRoutes(api huma.API) {
	huma.Get(
		api,
		"/api/change-lines",
		func(context.Context, *struct{}) (*output[[]ChangeLine], error) { return give(s.changeLines(), nil) },
	)
	huma.Register(
		api,
		huma.Operation{OperationID: "previewChange", Method: http.MethodPost, Path: "/api/dated-changes/preview"},
		func(_ context.Context, in *struct {
			Body struct {
				Change site.DatedChange `json:"change"`
				Parts  *RuleParts       `json:"parts,omitempty" doc:"The rule as it was clicked; left out: as the change says"`
				Week   string           `json:"week,omitempty" doc:"A date in the week to show"`
			}
		}) (*output[ChangePreview], error) {
			return give(s.previewChange(in.Body.Change, in.Body.Parts, in.Body.Week))
		},
	)
	huma.Register(
		api,
		huma.Operation{OperationID: "endChange", Method: http.MethodPost, Path: "/api/dated-changes/{id}/end"},
		func(ctx context.Context, in *idInput) (*output[Versioned[site.DatedChange]], error) {
			return give(s.endChange(ctx, in.ID))
		},
	)
}
