package hours

import (
	"fmt"
	"slices"
)

// DayMinutes is the length of a local day on the clock face.
const DayMinutes = 1440

// Period is a span of wall-clock minutes, [Start, End). It belongs to the day on which it starts; what is past 1440 is
// on the next day, so 22:00-06:00 is {1320, 1800}. What is left of a night that was painted over in its middle goes on
// belonging to its evening, so a Start may be past 1440 too: {1560, 1800} is 02:00-06:00 of the next day. Valid:
// 0 ≤ Start < End ≤ Start+1440, and End ≤ 2880.
type Period struct {
	Start int `json:"start" doc:"Minute of the local day to which it belongs; past 1440 is on the next day"`
	End   int `json:"end" doc:"Minute at which it ends; past 1440 is on the next day"`
}

// Valid says what is wrong with a period, or nothing.
func (p Period) Valid() error {
	switch {
	case p.Start < 0 || p.Start >= 2*DayMinutes:
		return fmt.Errorf("a period starts between 00:00 and 23:59 of its day or the next, not at minute %d", p.Start)
	case p.End <= p.Start:
		return fmt.Errorf("a period ends after it starts: %s", p)
	case p.End > p.Start+DayMinutes:
		return fmt.Errorf("a period lasts at most 24 hours: %s", p)
	case p.End > 2*DayMinutes:
		return fmt.Errorf("a period ends on the next day at the latest: %s", p)
	}
	return nil
}

// Today returns the part on the day to which the period belongs; empty where Start is not before End.
func (p Period) Today() Period { return Period{p.Start, min(p.End, DayMinutes)} }

// Tomorrow returns the part on the day after, in minutes of that; empty where Start is not before End.
func (p Period) Tomorrow() Period { return Period{max(p.Start-DayMinutes, 0), p.End - DayMinutes} }

// CrossesMidnight reports whether any of it is on the day after.
func (p Period) CrossesMidnight() bool { return p.End > DayMinutes }

// String writes 08:30-17:00; an end on the next day is written as its clock time (22:00-06:00), unless all of it is on
// the next day (26:00-30:00).
func (p Period) String() string {
	end := p.End
	if end > DayMinutes && p.Start < DayMinutes {
		end -= DayMinutes
	}
	return Clock(p.Start) + "-" + Clock(end)
}

// Clock writes a minute of the day as 08:30. 1440 is 24:00.
func Clock(minute int) string { return fmt.Sprintf("%02d:%02d", minute/60, minute%60) }

// Week is a list of periods for each weekday, Monday first.
type Week [7][]Period

// Always is open at every minute, the empty week at none; neither can be edited.
func Always() Week {
	var w Week
	for d := range w {
		w[d] = []Period{{0, DayMinutes}}
	}
	return w
}

// Valid says what is wrong with a week, or nothing.
func (w Week) Valid() error {
	for d, periods := range w {
		for _, p := range periods {
			if err := p.Valid(); err != nil {
				return fmt.Errorf("%s: %w", DayNames[d], err)
			}
		}
	}
	return nil
}

// DayNames are the weekdays as opening-hours text writes them, Monday first.
var DayNames = [7]string{"Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"}

// Normal returns the same hours with periods sorted, and touching or overlapping ones of one day joined.
func (w Week) Normal() Week {
	var out Week
	for d, periods := range w {
		sorted := slices.Clone(periods)
		slices.SortFunc(sorted, func(a, b Period) int { return a.Start - b.Start })
		for _, p := range sorted {
			n := len(out[d])
			if n == 0 || p.Start > out[d][n-1].End {
				out[d] = append(out[d], p)
				continue
			}
			last := &out[d][n-1]
			switch {
			case p.End <= last.End:
			case p.End <= last.Start+DayMinutes:
				last.End = p.End
			default: // together longer than a day, which no period is
				p.Start = last.End
				out[d] = append(out[d], p)
			}
		}
	}
	return out
}

// Open returns the week with a period added to a day.
func (w Week) Open(day int, p Period) Week {
	w[day] = append(slices.Clone(w[day]), p)
	return w.Normal()
}

// Close returns the week without the minutes of a period that begins on a day, tails past midnight included. A
// tail that goes on after them goes on belonging to its evening.
func (w Week) Close(day int, p Period) Week {
	var out Week
	a := day*DayMinutes + p.Start
	for d, periods := range w {
		base := d * DayMinutes
		for _, x := range periods {
			for _, piece := range cut(base+x.Start, base+x.End, a, a+p.End-p.Start) {
				out[d] = append(out[d], Period{piece[0] - base, piece[1] - base})
			}
		}
	}
	return out.Normal()
}

// Minutes returns how many of the 10080 minutes of an ordinary week are open.
func (w Week) Minutes() int {
	s := CompileWeek(w)
	n := 0
	for d := range Day(7) {
		n += s.MinutesOn(nil, d)
	}
	return n
}
