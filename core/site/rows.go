package site

import (
	"fmt"
	"slices"

	"amberkeystone/core/hours"
)

// Row is a row of a week: a weekday, or the days of a holiday type.
type Row struct {
	Day    int `json:"day" doc:"0 is Monday; where typeId is 0"`
	TypeID ID  `json:"typeId" doc:"A holiday type; 0: the weekday"`
}

// Check says what is wrong with a row, or nothing.
func (r Row) Check() error {
	if r.TypeID == 0 && (r.Day < 0 || r.Day > 6) {
		return fmt.Errorf("days are counted from 0, Monday, to 6, Sunday; not %d", r.Day)
	}
	return nil
}

// own returns the segments of a holiday type's row, to be written; a row that had another answer starts empty.
func (p *Plan) own(t ID) *PlanHoliday {
	p.Holidays = slices.Clone(p.Holidays)
	i := slices.IndexFunc(p.Holidays, func(h PlanHoliday) bool { return h.TypeID == t })
	if i < 0 {
		p.Holidays = append(p.Holidays, PlanHoliday{TypeID: t})
		i = len(p.Holidays) - 1
	}
	h := &p.Holidays[i]
	if h.Do != OwnHours {
		h.Do, h.Segments = OwnHours, nil
	}
	return h
}

// Paint lays a segment over rows, cutting away what was there.
func (p *Plan) Paint(rows []Row, seg hours.Segment) {
	for _, r := range rows {
		if r.TypeID == 0 {
			p.Pattern.Paint(r.Day, seg)
			continue
		}
		h := p.own(r.TypeID)
		h.Segments = hours.PaintRow(p.Default, h.Segments, seg)
	}
}

// Erase empties a period of rows, so that the default mode holds there.
func (p *Plan) Erase(rows []Row, x hours.Period) {
	for _, r := range rows {
		if r.TypeID == 0 {
			p.Pattern.Erase(r.Day, x)
			continue
		}
		h := p.own(r.TypeID)
		h.Segments = hours.EraseRow(p.Default, h.Segments, x)
	}
}

// row returns the segments of a row.
func (p *Plan) row(r Row) []hours.Segment {
	if r.TypeID == 0 {
		return slices.Clone(p.Week[r.Day])
	}
	if i := slices.IndexFunc(p.Holidays, func(h PlanHoliday) bool { return h.TypeID == r.TypeID }); i >= 0 {
		return slices.Clone(p.Holidays[i].Segments)
	}
	return nil
}

// Clear takes every segment off rows, so that the default mode holds; what runs on from the day before stays.
func (p *Plan) Clear(rows []Row) {
	for _, r := range rows {
		if r.TypeID == 0 {
			p.Week[r.Day] = nil
		} else {
			p.own(r.TypeID).Segments = nil
		}
	}
}

// Copy makes rows the same as another.
func (p *Plan) Copy(from Row, to []Row) {
	segments := p.row(from)
	for _, r := range to {
		if r == from {
			continue
		}
		p.Clear([]Row{r})
		for _, s := range segments {
			p.Paint([]Row{r}, s)
		}
	}
}

// Answer sets what the plan does on holidays of a type; an empty answer follows the type.
func (p *Plan) Answer(t ID, do OnHoliday) {
	p.Holidays = slices.DeleteFunc(
		slices.Clone(p.Holidays),
		func(h PlanHoliday) bool { return h.TypeID == t && do != OwnHours },
	)
	switch do {
	case "":
	case OwnHours:
		p.own(t)
	default:
		p.Holidays = append(p.Holidays, PlanHoliday{TypeID: t, Do: do})
	}
}

// Normal returns the same plan in its shortest form: segments joined, repeats of the default left out.
func (p Plan) Normal() Plan {
	p.Pattern = p.Pattern.Normal()
	p.Holidays = slices.Clone(p.Holidays)
	for i := range p.Holidays {
		p.Holidays[i].Segments = hours.NormalRow(p.Default, p.Holidays[i].Segments)
	}
	return p
}

// own returns the periods of a holiday type's row, to be written; a row that had another answer starts empty.
func (s *Schedule) own(t ID) *ScheduleHoliday {
	s.Holidays = slices.Clone(s.Holidays)
	i := slices.IndexFunc(s.Holidays, func(h ScheduleHoliday) bool { return h.TypeID == t })
	if i < 0 {
		s.Holidays = append(s.Holidays, ScheduleHoliday{TypeID: t})
		i = len(s.Holidays) - 1
	}
	h := &s.Holidays[i]
	if h.Do != OwnHours {
		h.Do, h.Periods = OwnHours, nil
	}
	return h
}

// Paint opens or closes a period on rows. Opening adds; closing cuts away what was there.
func (s *Schedule) Paint(rows []Row, p hours.Period, open bool) {
	stroke := hours.Week.Close
	if open {
		stroke = hours.Week.Open
	}
	for _, r := range rows {
		if r.TypeID == 0 {
			s.Week = stroke(s.Week, r.Day, p)
			continue
		}
		h := s.own(r.TypeID)
		h.Periods = stroke(hours.Week{h.Periods}, 0, p)[0]
	}
}

// Clear closes rows; what runs on from the day before stays.
func (s *Schedule) Clear(rows []Row) {
	for _, r := range rows {
		if r.TypeID == 0 {
			s.Week[r.Day] = nil
		} else {
			s.own(r.TypeID).Periods = nil
		}
	}
}

// Copy makes rows the same as another.
func (s *Schedule) Copy(from Row, to []Row) {
	periods := slices.Clone(s.Week[from.Day])
	if from.TypeID != 0 {
		periods = nil
		if i := slices.IndexFunc(s.Holidays, func(h ScheduleHoliday) bool { return h.TypeID == from.TypeID }); i >= 0 {
			periods = slices.Clone(s.Holidays[i].Periods)
		}
	}
	for _, r := range to {
		if r == from {
			continue
		}
		s.Clear([]Row{r})
		for _, p := range periods {
			s.Paint([]Row{r}, p, true)
		}
	}
}

// Answer sets what the schedule does on holidays of a type; an empty answer follows the type.
func (s *Schedule) Answer(t ID, do OnHoliday) {
	s.Holidays = slices.DeleteFunc(
		slices.Clone(s.Holidays),
		func(h ScheduleHoliday) bool { return h.TypeID == t && do != OwnHours },
	)
	switch do {
	case "":
	case OwnHours:
		s.own(t)
	default:
		s.Holidays = append(s.Holidays, ScheduleHoliday{TypeID: t, Do: do})
	}
}

// AnswerPH lets PH in a text answer for every holiday type that has no row of its own: own segments, or the default
// mode where there are none. It returns the types whose row wins over the text.
func (p *Plan) AnswerPH(own []hours.Segment, types []HolidayType) (hidden []HolidayType) {
	p.Holidays = slices.Clone(p.Holidays)
	for _, t := range types {
		if slices.ContainsFunc(p.Holidays, func(h PlanHoliday) bool { return h.TypeID == t.ID }) {
			hidden = append(hidden, t)
			continue
		}
		h := PlanHoliday{TypeID: t.ID, Do: DefaultMode}
		if len(own) > 0 {
			h.Do, h.Segments = OwnHours, own
		}
		p.Holidays = append(p.Holidays, h)
	}
	return hidden
}

// AnswerPH lets PH in a text answer for every holiday type that has no row of its own: own periods, or closed where
// there are none. It returns the types whose row wins over the text.
func (s *Schedule) AnswerPH(own []hours.Period, types []HolidayType) (hidden []HolidayType) {
	s.Holidays = slices.Clone(s.Holidays)
	for _, t := range types {
		if slices.ContainsFunc(s.Holidays, func(h ScheduleHoliday) bool { return h.TypeID == t.ID }) {
			hidden = append(hidden, t)
			continue
		}
		h := ScheduleHoliday{TypeID: t.ID, Do: Closed}
		if len(own) > 0 {
			h.Do, h.Periods = OwnHours, own
		}
		s.Holidays = append(s.Holidays, h)
	}
	return hidden
}

// HiddenWords points out that rows win over PH in a text; nothing where none does.
func HiddenWords(hidden []HolidayType) []string {
	var out []string
	for _, t := range hidden {
		out = append(out, "the row for "+t.Name+" wins over PH in the text")
	}
	return out
}
