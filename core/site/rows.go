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
func (p *Plan) Answer(t ID, do string) {
	p.Holidays = slices.DeleteFunc(slices.Clone(p.Holidays), func(h PlanHoliday) bool { return h.TypeID == t && do != OwnHours })
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

// plan writes a schedule as a plan that is free where the schedule is open, so that both are edited by the same rules.
func (s Schedule) plan() Plan {
	p := Plan{Pattern: hours.Pattern{Default: hours.Barred}}
	for d, periods := range s.Week {
		for _, t := range periods {
			p.Pattern.Paint(d, hours.Segment{Period: t, Mode: hours.Free})
		}
	}
	for _, h := range s.Holidays {
		row := PlanHoliday{TypeID: h.TypeID, Do: h.Do}
		for _, t := range h.Periods {
			row.Segments = hours.PaintRow(hours.Barred, row.Segments, hours.Segment{Period: t, Mode: hours.Free})
		}
		p.Holidays = append(p.Holidays, row)
	}
	return p
}

// edit changes the schedule by way of a plan.
func (s *Schedule) edit(f func(p *Plan)) {
	p := s.plan()
	f(&p)
	for d := range s.Week {
		s.Week[d] = periods(p.Week[d])
	}
	s.Holidays = nil
	for _, h := range p.Holidays {
		s.Holidays = append(s.Holidays, ScheduleHoliday{TypeID: h.TypeID, Do: h.Do, Periods: periods(h.Segments)})
	}
}

func periods(segments []hours.Segment) []hours.Period {
	out := make([]hours.Period, 0, len(segments))
	for _, s := range segments {
		out = append(out, s.Period)
	}
	return out
}

// Paint opens or closes a period on rows, cutting away what was there.
func (s *Schedule) Paint(rows []Row, period hours.Period, open bool) {
	mode := hours.Barred
	if open {
		mode = hours.Free
	}
	s.edit(func(p *Plan) { p.Paint(rows, hours.Segment{Period: period, Mode: mode}) })
}

// Clear closes rows; what runs on from the day before stays.
func (s *Schedule) Clear(rows []Row) { s.edit(func(p *Plan) { p.Clear(rows) }) }

// Copy makes rows the same as another.
func (s *Schedule) Copy(from Row, to []Row) { s.edit(func(p *Plan) { p.Copy(from, to) }) }

// Answer sets what the schedule does on holidays of a type; an empty answer follows the type.
func (s *Schedule) Answer(t ID, do string) { s.edit(func(p *Plan) { p.Answer(t, do) }) }
