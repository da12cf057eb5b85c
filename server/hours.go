package server

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/compare"
	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/formats/openinghours"
	"amberkeystone/store"
)

// usualOpening stands in a first card's words where the plan of its door never goes free, in minutes of the day.
const usualOpening = 9 * 60

// ModeMinutes is how long a mode holds in an ordinary week.
type ModeMinutes struct {
	Mode    hours.Mode `json:"mode"`
	Minutes int        `json:"minutes"`
}

// ScheduleEdit is a schedule under edit, and what is done to it.
type ScheduleEdit struct {
	Schedule site.Schedule `json:"schedule"`
	Stroke
	Open bool `json:"open,omitempty" doc:"Of paint: open, or closed"`
}

// PlanEdit is a plan under edit, and what is done to it.
type PlanEdit struct {
	Plan site.Plan `json:"plan"`
	Stroke
	Segment *hours.Segment `json:"segment,omitempty" doc:"Of paint"`
}

// Stroke is one thing done to a week.
type Stroke struct {
	Do     string         `json:"do" enum:"show,text,paint,copy,clear,answer"`
	Rows   []site.Row     `json:"rows,omitempty" doc:"Of paint, copy and clear: where"`
	From   *site.Row      `json:"from,omitempty" doc:"Of copy: from where"`
	Period *hours.Period  `json:"period,omitempty" doc:"Of paint, for a schedule"`
	Was    *hours.Period  `json:"was,omitempty" doc:"Of paint: a period of the same rows that is emptied first, as when it is moved or taken away"`
	Text   string         `json:"text,omitempty" doc:"Of text: opening-hours text"`
	TypeID site.ID        `json:"typeId,omitempty" doc:"Of answer: the holiday type"`
	Answer site.OnHoliday `json:"answer,omitempty" doc:"Of answer; empty follows the type"`
}

func (k *Stroke) check() error {
	rows := k.Rows
	if k.From != nil {
		rows = append(slices.Clone(rows), *k.From)
	}
	for _, r := range rows {
		if err := r.Check(); err != nil {
			return err
		}
	}
	if k.Do == "copy" && k.From == nil {
		return errors.New("say which row to copy")
	}
	for _, p := range []*hours.Period{k.Period, k.Was} {
		if p == nil {
			continue
		}
		if err := p.Valid(); err != nil {
			return err
		}
	}
	return nil
}

// ScheduleShown is a schedule in both forms.
type ScheduleShown struct {
	Schedule site.Schedule `json:"schedule"`
	Text     string        `json:"text"`
	Minutes  int           `json:"minutes" doc:"Open minutes in an ordinary week"`
	Notices  []string      `json:"notices" doc:"What stands in the text and counts for nothing"`
}

// PlanShown is a plan in both forms.
type PlanShown struct {
	Plan    site.Plan     `json:"plan"`
	Text    string        `json:"text"`
	Minutes []ModeMinutes `json:"minutes" doc:"What an ordinary week holds"`
	Notices []string      `json:"notices"`
}

// unread is the answer to a text outside the subset: the field, where, and why.
func unread(err error) error {
	var e *openinghours.Error
	if errors.As(err, &e) {
		return huma.Error422UnprocessableEntity(
			"The hours are not understood "+e.Error()+".",
			&huma.ErrorDetail{Location: "text", Message: e.Error(), Value: e.Pos},
		)
	}
	return say(err)
}

// levels finds the access levels that a text names.
func levels(b *prove.Book) openinghours.Levels {
	return openinghours.Levels{
		ID: func(name string) (int64, bool) {
			for _, l := range b.Config.Levels {
				if l.Name == name {
					return int64(l.ID), true
				}
			}
			return 0, false
		},
		Name: func(id int64) string { return b.Name(site.ID(id)) },
	}
}

func (s *Server) editSchedule(in ScheduleEdit) (ScheduleShown, error) {
	v := in.Schedule
	if err := v.Week.Valid(); err != nil {
		return ScheduleShown{}, say(&store.Taken{Field: "week", Words: err.Error()})
	}
	if err := in.check(); err != nil {
		return ScheduleShown{}, say(&store.Taken{Field: "rows", Words: err.Error()})
	}
	typed, notices := "", []string{}
	switch in.Do {
	case "text":
		text, err := openinghours.ParseWeek(in.Text)
		if err != nil {
			return ScheduleShown{}, unread(err)
		}
		v.Week, typed = text.Week, in.Text
		if types := s.current().Config.Types; text.SaysPH {
			if _, ok := samePeriods(v.Holidays, types); ok { // the text said them until now
				v.Holidays = nil
			}
			notices = site.HiddenWords(v.AnswerPH(text.Holidays, types))
		}
	case "paint":
		if in.Was != nil {
			v.Paint(in.Rows, *in.Was, false)
		}
		if in.Period != nil {
			v.Paint(in.Rows, *in.Period, in.Open)
		}
	case "copy":
		v.Copy(*in.From, in.Rows)
	case "clear":
		v.Clear(in.Rows)
	case "answer":
		v.Answer(in.TypeID, in.Answer)
	}
	v.Week = v.Week.Normal()
	for d := range v.Week {
		v.Week[d] = orNone(v.Week[d])
	}
	out := ScheduleShown{Schedule: v, Text: typed, Minutes: v.Week.Minutes(), Notices: orNone(notices)}
	if typed == "" {
		out.Text = openinghours.FormatWeek(v.Week)
		if ph, ok := samePeriods(v.Holidays, s.current().Config.Types); ok {
			out.Text += "; " + openinghours.FormatHolidays(ph)
		}
	}
	return out, nil
}

// samePeriods reports whether every holiday type has the same answer, other than as weekday, so that it can be written
// as PH.
func samePeriods(rows []site.ScheduleHoliday, types []site.HolidayType) ([]hours.Period, bool) {
	if len(types) == 0 || len(rows) != len(types) || rows[0].Do == site.AsWeekday {
		return nil, false
	}
	for _, r := range rows {
		if r.Do != rows[0].Do || !slices.Equal(r.Periods, rows[0].Periods) {
			return nil, false
		}
	}
	return rows[0].Periods, true
}

func sameSegments(rows []site.PlanHoliday, types []site.HolidayType) ([]hours.Segment, bool) {
	if len(types) == 0 || len(rows) != len(types) || rows[0].Do == site.AsWeekday {
		return nil, false
	}
	for _, r := range rows {
		same := slices.EqualFunc(
			r.Segments,
			rows[0].Segments,
			func(a, b hours.Segment) bool { return a.Period == b.Period && a.Ask().Same(b.Ask()) },
		)
		if r.Do != rows[0].Do || !same {
			return nil, false
		}
	}
	return rows[0].Segments, true
}

func orNone[T any](list []T) []T {
	if list == nil {
		return []T{}
	}
	return list
}

func (s *Server) editPlan(in PlanEdit) (PlanShown, error) {
	v, b := in.Plan, s.current()
	if err := v.Pattern.Valid(); err != nil {
		return PlanShown{}, say(&store.Taken{Field: "week", Words: err.Error()})
	}
	if err := in.check(); err != nil {
		return PlanShown{}, say(&store.Taken{Field: "rows", Words: err.Error()})
	}
	out := PlanShown{Notices: []string{}}
	switch in.Do {
	case "text":
		var err error
		if out.Notices, err = typePlan(&v, b, in.Text); err != nil {
			return PlanShown{}, unread(err)
		}
		out.Text = in.Text
	case "paint":
		if in.Was != nil {
			v.Erase(in.Rows, *in.Was)
		}
		if in.Segment == nil {
			break
		}
		if err := in.Segment.Valid(); err != nil {
			return PlanShown{}, say(&store.Taken{Field: "segment", Words: err.Error()})
		}
		v.Paint(in.Rows, *in.Segment)
	case "copy":
		v.Copy(*in.From, in.Rows)
	case "clear":
		v.Clear(in.Rows)
	case "answer":
		v.Answer(in.TypeID, in.Answer)
	}
	v = v.Normal()
	for d := range v.Week {
		v.Week[d] = orNone(v.Week[d])
	}
	out.Plan = v
	if in.Do != "text" {
		out.Text = planText(&v, b)
	}
	minutes := v.Minutes()
	for _, m := range hours.Modes {
		if minutes[m] > 0 {
			out.Minutes = append(out.Minutes, ModeMinutes{m, minutes[m]})
		}
	}
	return out, nil
}

// typePlan puts what a text says into a plan; PH says the same for every holiday type.
func typePlan(v *site.Plan, b *prove.Book, text string) (notices []string, err error) {
	p, err := openinghours.ParsePlan(text, v.Default, levels(b))
	if err != nil {
		return nil, err
	}
	v.Pattern = p.Pattern
	if p.SaysPH {
		if _, ok := sameSegments(v.Holidays, b.Config.Types); ok { // the text said them until now
			v.Holidays = nil
		}
		p.Notices = append(p.Notices, site.HiddenWords(v.AnswerPH(p.Holidays, b.Config.Types))...)
	}
	return orNone(p.Notices), nil
}

func planText(v *site.Plan, b *prove.Book) string {
	text := openinghours.FormatPlan(v.Pattern, levels(b))
	ph, ok := sameSegments(v.Holidays, b.Config.Types)
	switch {
	case !ok:
		return text
	case text == "":
		return openinghours.FormatPlanHolidays(ph, levels(b))
	}
	return text + "; " + openinghours.FormatPlanHolidays(ph, levels(b))
}

// HoursList is every plan and schedule, with how many follow or use it.
type HoursList struct {
	Plans     []PlanLine     `json:"plans"`
	Schedules []ScheduleLine `json:"schedules"`
}

// PlanLine is a plan in a list.
type PlanLine struct {
	ID site.ID `json:"id"`
	hours.Pattern
	Name  string `json:"name"`
	Doors int    `json:"doors" doc:"How many doors follow it"`
}

// ScheduleLine is a schedule in a list.
type ScheduleLine struct {
	ID     site.ID    `json:"id"`
	Name   string     `json:"name"`
	Week   hours.Week `json:"week"`
	Fixed  bool       `json:"fixed"`
	Levels int        `json:"levels" doc:"How many access levels use it"`
}

func (s *Server) hoursList() HoursList {
	c := s.current().Effective
	doors, levels := map[site.ID]int{}, map[site.ID]map[site.ID]bool{}
	for i := range c.Doors {
		doors[c.Doors[i].PlanID]++
	}
	for _, l := range c.Levels {
		for _, e := range l.Entries {
			if levels[e.ScheduleID] == nil {
				levels[e.ScheduleID] = map[site.ID]bool{}
			}
			levels[e.ScheduleID][l.ID] = true
		}
	}
	out := HoursList{Plans: []PlanLine{}, Schedules: []ScheduleLine{}}
	for _, p := range c.Plans {
		line := PlanLine{ID: p.ID, Pattern: p.Pattern, Name: p.Name, Doors: doors[p.ID]}
		for d := range line.Week {
			line.Week[d] = orNone(line.Week[d])
		}
		out.Plans = append(out.Plans, line)
	}
	for _, x := range c.Schedules {
		line := ScheduleLine{ID: x.ID, Name: x.Name, Week: x.Week, Fixed: x.Fixed, Levels: len(levels[x.ID])}
		for d := range line.Week {
			line.Week[d] = orNone(line.Week[d])
		}
		out.Schedules = append(out.Schedules, line)
	}
	slices.SortStableFunc(
		out.Plans,
		func(a, b PlanLine) int { return strings.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) },
	)
	slices.SortStableFunc(
		out.Schedules,
		func(a, b ScheduleLine) int { return strings.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) },
	)
	return out
}

func (s *Server) hoursRoutes(api huma.API) {
	op := func(id, path, words string) huma.Operation {
		return huma.Operation{
			OperationID: id,
			Method:      http.MethodPost,
			Path:        path,
			Summary:     words,
			Tags:        []string{"hours"},
		}
	}
	huma.Get(
		api,
		"/api/hours/list",
		func(context.Context, *struct{}) (*output[HoursList], error) { return give(s.hoursList(), nil) },
	)
	huma.Register(
		api,
		op("editSchedule", "/api/hours/schedule", "A schedule under edit after one stroke"),
		func(_ context.Context, in *struct{ Body ScheduleEdit }) (*output[ScheduleShown], error) {
			return give(s.editSchedule(in.Body))
		},
	)
	huma.Register(
		api,
		op("editPlan", "/api/hours/plan", "A plan under edit after one stroke"),
		func(_ context.Context, in *struct{ Body PlanEdit }) (*output[PlanShown], error) {
			return give(s.editPlan(in.Body))
		},
	)
	huma.Register(
		api,
		op("effect", "/api/hours/effect", "What an edit would do"),
		func(_ context.Context, in *struct{ Body compare.Edit }) (*output[EditEffect], error) {
			return give(s.effect(in.Body))
		},
	)
	huma.Register(
		api,
		op("firstCardWords", "/api/hours/first-card", "What a first-card rule does, in words"),
		func(_ context.Context, in *firstCardWish) (*output[string], error) { return give(s.firstCardWords(in)) },
	)
	s.holidayRoutes(api)
	s.changeRoutes(api)
	s.findingRoutes(api)
}

// firstCardWish asks for the words of a first-card rule.
type firstCardWish struct {
	Body struct {
		Rule   site.FirstCard `json:"rule"`
		Start  int            `json:"start,omitempty" minimum:"0" maximum:"1439" doc:"Minute at which a free segment starts"`
		PlanID site.ID        `json:"planId,omitempty" doc:"A plan to take that minute from, in its place"`
	}
}

func (s *Server) firstCardWords(in *firstCardWish) (string, error) {
	if faults := in.Body.Rule.Check(); len(faults) > 0 {
		return "", say(faults)
	}
	start := in.Body.Start
	if plans := s.current().Config.Plans; in.Body.PlanID != 0 {
		start = usualOpening
		i := slices.IndexFunc(plans, func(p site.Plan) bool { return p.ID == in.Body.PlanID })
		if i < 0 {
			return "", huma.Error404NotFound("This plan is not there, or no longer.")
		}
		if at, ok := plans[i].FirstFree(); ok {
			start = at
		}
	}
	return in.Body.Rule.Words(start), nil
}
