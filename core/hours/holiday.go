package hours

import (
	"fmt"
	"slices"
	"sort"
	"strings"
	"time"
)

// HolidayKind is how the dates of a holiday are found.
type HolidayKind string

// The kinds of holiday dates.
const (
	OnDates    HolidayKind = "dates"       // the listed dates: one, or an imported list
	EveryYear  HolidayKind = "every year"  // on a day of a month
	NthWeekday HolidayKind = "nth weekday" // on the nth weekday of a month
	FromEaster HolidayKind = "from Easter" // days before or after Easter Sunday
)

// HolidayDates says on which dates a holiday falls. 29 February every year falls in leap years only; a fifth
// weekday only in months that have five.
type HolidayDates struct {
	Kind    HolidayKind `json:"kind" enum:"dates,every year,nth weekday,from Easter"`
	Dates   []string    `json:"dates,omitempty" doc:"Of dates: each as 2006-01-02"`
	Month   int         `json:"month,omitempty" doc:"Of every year and nth weekday: 1 to 12"`
	Day     int         `json:"day,omitempty" doc:"Of every year: the day of the month"`
	Nth     int         `json:"nth,omitempty" doc:"Of nth weekday: 1 to 5, or -1 for the last"`
	Weekday int         `json:"weekday,omitempty" doc:"Of nth weekday: 0 is Monday"`
	Offset  int         `json:"offset,omitempty" doc:"Of from Easter: days after Easter Sunday, before it negative"`
	Days    int         `json:"days,omitempty" doc:"How many days it lasts; 0 is one"`
}

// FirstDay and LastDay bound what holidays and dated changes are worked out for: [FirstDay, LastDay).
const (
	FirstDay Day = 18262 // 2020-01-01
	LastDay  Day = 29220 // 2050-01-01
)

// Longest is how many days a holiday lasts at most.
const Longest = 60

var monthDays = [...]int{31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31}

// Valid names the field that is wrong with the dates and says how to mend it, or returns empty strings.
func (h HolidayDates) Valid() (field, words string) {
	if h.Days < 0 || h.Days > Longest {
		return "days", fmt.Sprintf("a holiday lasts 1 to %d days", Longest)
	}
	month := h.Month < 1 || h.Month > 12
	switch h.Kind {
	case OnDates:
		if len(h.Dates) == 0 {
			return "dates", "write at least one date, such as 2026-12-25"
		}
		for _, s := range h.Dates {
			if _, err := ParseDay(s); err != nil {
				return "dates", fmt.Sprintf("%q is not a date; write it as 2026-12-25", s)
			}
		}
	case EveryYear:
		if month {
			return "month", "months are 1 to 12"
		}
		if h.Day < 1 || h.Day > monthDays[h.Month-1] {
			return "day", fmt.Sprintf("%s has no day %d", time.Month(h.Month), h.Day)
		}
	case NthWeekday:
		switch {
		case month:
			return "month", "months are 1 to 12"
		case h.Nth == 0 || h.Nth < -1 || h.Nth > 5:
			return "nth", "choose the first to fifth, or the last"
		case h.Weekday < 0 || h.Weekday > 6:
			return "weekday", "weekdays are counted from 0, Monday, to 6, Sunday"
		}
	case FromEaster:
		if h.Offset < -120 || h.Offset > 180 {
			return "offset", "at most 120 days before and 180 after Easter Sunday"
		}
	default:
		return "kind", fmt.Sprintf("%q is not a kind of date", h.Kind)
	}
	return "", ""
}

// Between returns the dates in [from, to) on which the holiday is, ascending, each once.
func (h HolidayDates) Between(from, to Day) []Day {
	length := Day(max(h.Days, 1))
	var out []Day
	add := func(first Day) {
		for d := max(first, from); d < min(first+length, to); d++ {
			out = append(out, d)
		}
	}
	if h.Kind == OnDates {
		for _, s := range h.Dates {
			if d, err := ParseDay(s); err == nil {
				add(d)
			}
		}
		slices.Sort(out)
		return slices.Compact(out)
	}
	first, _, _ := (from - Longest - 200).Date()
	last, _, _ := to.Date()
	for year := first; year <= last+1; year++ {
		if d, ok := h.in(year); ok {
			add(d)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// in returns the first day of the holiday in a year. But for Easter it is what a recurrence says of the month.
func (h HolidayDates) in(year int) (Day, bool) {
	var r Recurrence
	switch h.Kind {
	case EveryYear:
		r.ByMonthDay = []int{h.Day}
	case NthWeekday:
		r.ByDay = []NthDay{{h.Nth, h.Weekday}}
	case FromEaster:
		return Easter(year) + Day(h.Offset), true
	default:
		return 0, false
	}
	days := r.month(DayOf(year, time.Month(h.Month), 1), 0)
	if len(days) == 0 {
		return 0, false
	}
	return days[0], true
}

// Easter returns Easter Sunday of the Gregorian calendar (anonymous computus, as in Meeus, Astronomical
// Algorithms, chapter 8; from memory).
func Easter(year int) Day {
	a, b, c := year%19, year/100, year%100
	d, e := b/4, b%4
	g := (8*b + 13) / 25
	h := (19*a + b - d - g + 15) % 30
	i, k := c/4, c%4
	l := (32 + 2*e + 2*i - h - k) % 7
	m := (a + 11*h + 19*l) / 433
	n := (h + l - 7*m + 90) / 25
	p := (h + l - 7*m + 33*n + 19) % 32
	return DayOf(year, time.Month(n), p)
}

var ordinals = map[int]string{
	1:  "first",
	2:  "second",
	3:  "third",
	4:  "fourth",
	5:  "fifth",
	-1: "last",
	-2: "second last",
}

// WeekdayNames are the weekdays in full, Monday first.
var WeekdayNames = [7]string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"}

// String says in words when the holiday is: "every year on 25 December".
func (h HolidayDates) String() string {
	words := ""
	switch h.Kind {
	case OnDates:
		var list []string
		for i, s := range h.Dates {
			if d, err := ParseDay(s); err == nil && i < 3 {
				list = append(list, d.Words())
			}
		}
		words = strings.Join(list, ", ")
		if n := len(h.Dates) - 3; n > 0 {
			words += fmt.Sprintf(" and %d more", n)
		}
	case EveryYear:
		words = fmt.Sprintf("every year on %d %s", h.Day, time.Month(h.Month))
	case NthWeekday:
		words = fmt.Sprintf("the %s %s of %s", ordinals[h.Nth], WeekdayNames[h.Weekday%7], time.Month(h.Month))
	case FromEaster:
		switch n := h.Offset; {
		case n == 0:
			words = "Easter Sunday"
		case n < 0:
			words = counted(-n, "day") + " before Easter Sunday"
		default:
			words = counted(n, "day") + " after Easter Sunday"
		}
	}
	if h.Days > 1 {
		words += fmt.Sprintf(", for %d days", h.Days)
	}
	return words
}

func counted(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

// Words writes the day as Fri 27 Nov 2026.
func (d Day) Words() string { return time.Unix(int64(d)*86400, 0).UTC().Format("Mon 2 Jan 2006") }

// Holiday is a holiday at work: its type as an index, its dates, and the part of the day that it takes.
type Holiday struct {
	Type       int
	Dates      HolidayDates
	Start, End int // minutes of the day; 0 and 1440 are the whole day
}

// part is a stretch of a day that belongs to a holiday.
type part struct {
	start, end int
	kind       Kind
	holiday    int // index into the calendar's list
}

type dayShape struct {
	parts []part // ascending, not overlapping
	all   []int  // every holiday of the day, the deciding one of the first minute first
}

// Calendar is the holidays of one site, by day. A nil calendar has none. It knows them between two days
// and is asked for no others.
type Calendar struct {
	base   Day
	of     []uint16 // index into shapes for each day; 0 is no holiday
	shapes []dayShape
	days   []Day // those with a holiday, ascending
}

// NewCalendar lays holidays out over the days [from, to). Where two meet, the type with the higher rank
// decides; ranks are by type. Of equal ranks the holiday that comes first in the list decides.
func NewCalendar(list []Holiday, ranks []int, from, to Day) *Calendar {
	if len(list) == 0 {
		return nil
	}
	c := &Calendar{base: from, of: make([]uint16, to-from), shapes: make([]dayShape, 1)}
	on := map[Day][]int{}
	for i, h := range list {
		for _, d := range h.Dates.Between(from, to) {
			on[d] = append(on[d], i)
		}
	}
	known := map[string]uint16{}
	for d, holidays := range on {
		key := fmt.Sprint(holidays)
		shape, ok := known[key]
		if !ok {
			shape = uint16(len(c.shapes))
			c.shapes = append(c.shapes, shapeOf(list, ranks, holidays))
			known[key] = shape
		}
		c.of[d-from] = shape
		c.days = append(c.days, d)
	}
	slices.Sort(c.days)
	return c
}

// shapeOf lays the holidays of one day over each other, the highest rank on top.
func shapeOf(list []Holiday, ranks []int, holidays []int) dayShape {
	order := slices.Clone(holidays)
	slices.SortStableFunc(order, func(a, b int) int { return ranks[list[b].Type] - ranks[list[a].Type] })
	var cuts []int
	for _, i := range order {
		cuts = append(cuts, list[i].Start, list[i].End)
	}
	slices.Sort(cuts)
	cuts = slices.Compact(cuts)
	s := dayShape{all: order}
	for k := 0; k+1 < len(cuts); k++ {
		for _, i := range order {
			if h := list[i]; h.Start <= cuts[k] && cuts[k] < h.End {
				kind := Kind(Weekdays + h.Type)
				if n := len(s.parts); n > 0 && s.parts[n-1].end == cuts[k] && s.parts[n-1].holiday == i {
					s.parts[n-1].end = cuts[k+1]
				} else {
					s.parts = append(s.parts, part{cuts[k], cuts[k+1], kind, i})
				}
				break
			}
		}
	}
	return s
}

func (c *Calendar) shape(d Day) *dayShape {
	if c == nil {
		return nil
	}
	if i := int(d - c.base); i >= 0 && i < len(c.of) && c.of[i] != 0 {
		return &c.shapes[c.of[i]]
	}
	return nil
}

func (s *dayShape) at(minute int) *part {
	if s == nil {
		return nil
	}
	for i := range s.parts {
		if p := &s.parts[i]; p.start <= minute && minute < p.end {
			return p
		}
	}
	return nil
}

// edge returns the first boundary of a part after a minute, or 1440.
func (s *dayShape) edge(minute int) int {
	if s == nil {
		return DayMinutes
	}
	for _, p := range s.parts {
		if p.start > minute {
			return p.start
		}
		if p.end > minute {
			return p.end
		}
	}
	return DayMinutes
}

// Decides returns the holiday that decides at a minute of a day, as an index into the list.
func (c *Calendar) Decides(d Day, minute int) (holiday int, ok bool) {
	if p := c.shape(d).at(minute); p != nil {
		return p.holiday, true
	}
	return 0, false
}

// On returns every holiday of a day, the highest rank first.
func (c *Calendar) On(d Day) []int {
	if s := c.shape(d); s != nil {
		return s.all
	}
	return nil
}

// NextDay returns the first day with a holiday at or after d.
func (c *Calendar) NextDay(d Day) (Day, bool) {
	if c == nil {
		return 0, false
	}
	i := sort.Search(len(c.days), func(i int) bool { return c.days[i] >= d })
	if i == len(c.days) {
		return 0, false
	}
	return c.days[i], true
}

// Apart returns the days in [from, to) on which two calendars may differ in what holds, ascending: those whose
// holidays are of other types or hours, and the days after them, into which a night runs on.
func (c *Calendar) Apart(o *Calendar, from, to Day) []Day {
	var out []Day
	same := func(a, b part) bool { return a.start == b.start && a.end == b.end && a.kind == b.kind }
	apart := func(d Day) bool {
		var a, b []part
		if s := c.shape(d); s != nil {
			a = s.parts
		}
		if s := o.shape(d); s != nil {
			b = s.parts
		}
		return !slices.EqualFunc(a, b, same)
	}
	was := apart(from - 1)
	for d := from; d < to; d++ {
		is := apart(d)
		if is || was {
			out = append(out, d)
		}
		was = is
	}
	return out
}

// kindOf says what sort of day a minute belongs to, where only the types that have an answer count.
func (c *Calendar) kindOf(d Day, minute int, answered []bool) Kind {
	if p := c.shape(d).at(minute); p != nil {
		if i := int(p.kind - Weekdays); i < len(answered) && answered[i] {
			return p.kind
		}
	}
	return Kind(d.Weekday())
}

// Local is where hours are read: the clock of a zone, and the holidays of a site (nil: none).
type Local struct {
	*Zone
	*Calendar
}
