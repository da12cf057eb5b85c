package hours

// Kind is what sort of day it is: 0..6 are Monday to Sunday, 7 and above are holiday types in the order
// in which the configuration lists them.
type Kind uint8

// Weekdays is the number of kinds that are not holiday types.
const Weekdays = 7

// Answer is what a schedule or a plan does on holidays of a type.
type Answer uint8

// The answers.
const (
	AsWeekday Answer = iota // as on an ordinary day
	Resting                 // a schedule is closed, a plan stays in its default mode
	Own                     // periods of its own
)

// Row is the answer for one holiday type, and its own periods where that is the answer.
type Row[T any] struct {
	Answer Answer
	Own    []T
	// Nobody: holidays of the type are for nobody, whatever they hold. Of plans that rest on them.
	Nobody bool
}

// Schedule is a compiled week: a bit for each minute of each kind of day, and apart from it the part that
// runs on past midnight into whatever day follows.
type Schedule struct {
	plain      [Weekdays]mask // on an ordinary day after an ordinary day
	own, spill []mask
	answered   []bool // by holiday type: it has an answer other than as weekday
	steady     bool   // it never opens or closes
	open       bool   // and is open, where it is steady
}

// CompileWeek prepares a week for asking. Rows are the answers by holiday type; a type past their end is as
// a weekday.
func CompileWeek(w Week, rows ...Row[Period]) Schedule {
	kinds := Weekdays + len(rows)
	s := Schedule{own: make([]mask, kinds), spill: make([]mask, kinds), answered: make([]bool, len(rows))}
	add := func(k int, periods []Period) {
		for _, p := range periods {
			s.own[k].set(p.Today().Start, p.Today().End)
			s.spill[k].set(p.Tomorrow().Start, min(p.Tomorrow().End, DayMinutes))
		}
	}
	for d, periods := range w {
		add(d, periods)
	}
	for i, r := range rows {
		s.answered[i] = r.Answer != AsWeekday
		if r.Answer == Own {
			add(Weekdays+i, r.Own)
		}
	}
	for d := range Weekdays {
		before := &s.spill[(d+Weekdays-1)%Weekdays]
		for i := range s.plain[d] {
			s.plain[d][i] = s.own[d][i] | before[i]
		}
	}
	s.steady = true
	for k := range s.own {
		if k >= Weekdays && !s.answered[k-Weekdays] {
			continue
		}
		n := s.own[k].count()
		tail := s.spill[k].count()
		s.steady = s.steady && n == s.own[0].count() && n%DayMinutes == 0 && (tail == 0 || n == DayMinutes)
	}
	s.open = s.steady && s.own[0].count() > 0
	return s
}

// day returns the masks that hold at a minute of a day: its own, and the tail of the day before. The tail
// belongs to whatever held in the last minute of that day, and runs on whatever today is.
func (s *Schedule) day(c *Calendar, d Day, minute int) (own, tail *mask) {
	if c == nil {
		return &s.own[d.Weekday()], &s.spill[(d - 1).Weekday()]
	}
	return &s.own[c.kindOf(d, minute, s.answered)], &s.spill[c.kindOf(d-1, DayMinutes-1, s.answered)]
}

// Open reports whether a wall-clock minute is in the schedule.
func (s *Schedule) Open(c *Calendar, d Day, minute int) bool {
	own, tail := s.day(c, d, minute)
	return own.has(minute) || tail.has(minute)
}

// OpenAt reports whether an instant is in the schedule.
func (s *Schedule) OpenAt(l Local, i Instant) bool {
	if s.steady {
		return s.open
	}
	w := l.Wall(i)
	return s.Open(l.Calendar, w.Day, w.Minute)
}

// DayNow is a minute of a day at a site, worked out once to ask many schedules about it.
type DayNow struct {
	calendar *Calendar
	day      Day
	minute   int
	weekday  int  // 0..6
	plain    bool // neither the day nor the one before is a holiday
}

// DayAt returns the minute that it is at an instant.
func DayAt(z *Zone, c *Calendar, i Instant) DayNow {
	w := z.Wall(i)
	return DayNow{c, w.Day, w.Minute, w.Day.Weekday(), c.shape(w.Day) == nil && c.shape(w.Day-1) == nil}
}

// OpenOn reports whether a minute is in the schedule.
func (s *Schedule) OpenOn(d *DayNow) bool {
	if d.plain {
		return s.plain[d.weekday].has(d.minute)
	}
	return s.Open(d.calendar, d.day, d.minute)
}

// MinutesOn returns how many minutes of the clock face of a day are open.
func (s *Schedule) MinutesOn(c *Calendar, d Day) int {
	n := 0
	for minute := 0; minute < DayMinutes; {
		end := s.edge(c, d, minute)
		if s.Open(c, d, minute) {
			n += end - minute
		}
		minute = end
	}
	return n
}

func (s *Schedule) value(c *Calendar, d Day, minute int) int {
	if s.Open(c, d, minute) {
		return 1
	}
	return 0
}

func (s *Schedule) edge(c *Calendar, d Day, minute int) int {
	own, tail := s.day(c, d, minute)
	return min(edge(own, tail, minute), c.shape(d).edge(minute))
}

// Next returns the first instant after i at which the schedule opens or closes, or Never.
func (s *Schedule) Next(l Local, i Instant) Instant {
	if s.steady {
		return Never
	}
	return next(l, s, i)
}

// NextOpen returns the first instant at or after i at which the schedule is open, or Never.
func (s *Schedule) NextOpen(l Local, i Instant) Instant {
	if s.OpenAt(l, i) {
		return i
	}
	return s.Next(l, i)
}

// Openings returns the stretches between two instants at which the schedule is open.
func (s *Schedule) Openings(l Local, from, to Instant) []Stretch {
	var out []Stretch
	for at := from; at < to; {
		end := min(s.Next(l, at), to)
		if s.OpenAt(l, at) {
			out = append(out, Stretch{From: at, To: end})
		}
		at = end
	}
	return out
}

// pattern is something with a value for each wall-clock minute.
type pattern interface {
	value(c *Calendar, d Day, minute int) int
	edge(
		c *Calendar,
		d Day,
		minute int,
	) int // a minute after the given one up to which the value surely stays; 1440 at most
}

// horizon is how far a change is looked for where no holiday is near: a week repeats, so what has not changed
// in 9 days does not change before the next holiday.
const horizon = 9

// next walks from edge to edge on the wall clock inside one stretch of constant offset, then looks at the
// clock again where the offset changes. Where the week says the same at all hours it jumps to the next holiday.
func next[P pattern](l Local, p P, i Instant) Instant {
	offset, end := l.OffsetAt(i)
	w := wall(i, offset)
	was := p.value(l.Calendar, w.Day, w.Minute)
	for {
		for limit := w.Day + horizon; ; {
			minute := p.edge(l.Calendar, w.Day, w.Minute)
			day := w.Day
			if minute >= DayMinutes {
				day, minute = day+1, 0
			}
			if day > limit {
				holiday, ok := l.NextDay(day - 1)
				if !ok {
					break
				}
				day, limit = max(day, holiday), holiday+horizon
			}
			if day != w.Day && l.shape(day) != nil {
				limit = day + horizon
			}
			at := Instant((int64(day)*86400 + int64(minute)*60 - int64(offset.Seconds)) * 1000)
			if at >= end {
				break
			}
			if p.value(l.Calendar, day, minute) != was {
				return at
			}
			w.Day, w.Minute = day, minute
		}
		if end == Never {
			return Never
		}
		at := end
		offset, end = l.OffsetAt(at)
		w = wall(at, offset)
		if p.value(l.Calendar, w.Day, w.Minute) != was {
			return at
		}
	}
}
