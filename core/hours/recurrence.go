package hours

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"
)

// Recurrence is a rule by which days recur: the parts of an RFC 5545 RRULE (3.3.10) that speak of days. The
// zero value does not recur.
type Recurrence struct {
	Freq       Freq
	Interval   int      // 0 is 1
	ByDay      []NthDay // RFC 5545 BYDAY
	ByMonthDay []int    // 1..31, -1 is the last
	ByMonth    []int    // 1..12
	BySetPos   []int    // of the days of one period, 1 the first, -1 the last
	Count      int      // 0: without end
	Until      Day      // through this day, where HasUntil
	HasUntil   bool     //
	UntilAt    UntilAt  // where the rule ends at a time of that day; Ending works out which day is the last
	WeekStart  int      // weekday on which weeks start, 0 Monday
}

// UntilAt is the time of day with which a rule ends, inclusive (RFC 5545, 3.3.10). The zero value is none: the whole
// day.
type UntilAt struct {
	Said   bool
	UTC    bool // by UTC, else by the wall clock
	Second int  // of the day
}

// Ending returns the rule with its last day worked out, for something that starts at a minute of the day by the clock
// of a zone: an end at a time of day leaves out what starts after it. A nil zone takes UTC for the wall clock.
func (r Recurrence) Ending(minute int, z *Zone) Recurrence {
	if !r.UntilAt.Said {
		return r
	}
	last, second := r.Until, r.UntilAt.Second
	if r.UntilAt.UTC && z != nil {
		w := z.Wall(Instant((int64(last)*86400 + int64(second)) * 1000))
		last, second = w.Day, w.Minute*60+w.Second
	}
	if minute*60 > second {
		last--
	}
	r.Until, r.UntilAt = last, UntilAt{}
	return r
}

// Freq is the period of a recurrence.
type Freq uint8

// The periods.
const (
	Once Freq = iota
	Daily
	Weekly
	Monthly
	Yearly
)

// NthDay is a weekday, or the nth of it in a month or year; N 0 is every one.
type NthDay struct{ N, Weekday int }

var freqNames = [...]string{"", "DAILY", "WEEKLY", "MONTHLY", "YEARLY"}
var icalDays = [7]string{"MO", "TU", "WE", "TH", "FR", "SA", "SU"}

// ParseRecurrence reads an RRULE value such as FREQ=MONTHLY;BYDAY=1FR. Parts that speak of hours, weeks of
// the year or days of the year are refused, each with its name.
func ParseRecurrence(text string) (Recurrence, error) {
	var r Recurrence
	text = strings.TrimPrefix(strings.ToUpper(strings.TrimSpace(text)), "RRULE:")
	if text == "" {
		return r, nil
	}
	for _, item := range strings.Split(text, ";") {
		name, value, ok := strings.Cut(item, "=")
		if !ok || value == "" {
			return r, fmt.Errorf("%q is not a part of a rule; write FREQ=WEEKLY;BYDAY=MO", item)
		}
		if err := r.take(name, value); err != nil {
			return r, err
		}
	}
	return r, r.Valid()
}

func (r *Recurrence) take(name, value string) (err error) {
	switch name {
	case "FREQ":
		i := slices.Index(freqNames[:], value)
		if i < 1 {
			return fmt.Errorf("FREQ=%s is outside the subset; it is DAILY, WEEKLY, MONTHLY or YEARLY", value)
		}
		r.Freq = Freq(i)
	case "INTERVAL":
		r.Interval, err = whole(name, value, 1, 1000)
	case "COUNT":
		r.Count, err = whole(name, value, 1, 5000)
	case "UNTIL":
		return r.takeUntil(value)
	case "WKST":
		if r.WeekStart = slices.Index(icalDays[:], value); r.WeekStart < 0 {
			return fmt.Errorf("WKST=%s is not a weekday", value)
		}
	case "BYMONTHDAY":
		r.ByMonthDay, err = wholes(name, value, 31, true)
	case "BYMONTH":
		r.ByMonth, err = wholes(name, value, 12, false)
	case "BYSETPOS":
		r.BySetPos, err = wholes(name, value, 366, true)
	case "BYDAY":
		for _, s := range strings.Split(value, ",") {
			i := slices.Index(icalDays[:], s[max(len(s)-2, 0):])
			if i < 0 {
				return fmt.Errorf("BYDAY=%s: %q is not a weekday; write MO, 2TU or -1FR", value, s)
			}
			n := 0
			if number := strings.TrimPrefix(s[:len(s)-2], "+"); number != "" {
				if n, err = strconv.Atoi(number); err != nil || n == 0 || n < -53 || n > 53 {
					return fmt.Errorf("BYDAY=%s: %q is not a weekday; write MO, 2TU or -1FR", value, s)
				}
			}
			r.ByDay = append(r.ByDay, NthDay{n, i})
		}
	default:
		return fmt.Errorf("%s is outside the subset; rules here speak of days, weekdays, months and years", name)
	}
	return err
}

// takeUntil reads a date, or a date with a time of day by the wall clock or, with a Z, by UTC.
func (r *Recurrence) takeUntil(value string) error {
	t, err := time.Parse("20060102", value)
	if err == nil {
		r.Until, r.HasUntil = DayOf(t.Date()), true
		return nil
	}
	text, utc := strings.CutSuffix(value, "Z")
	if t, err = time.Parse("20060102T150405", text); err != nil {
		return fmt.Errorf("UNTIL=%s is not a date; write UNTIL=20261231, or with a time UNTIL=20261231T170000", value)
	}
	r.Until, r.HasUntil = DayOf(t.Date()), true
	r.UntilAt = UntilAt{Said: true, UTC: utc, Second: t.Hour()*3600 + t.Minute()*60 + t.Second()}
	return nil
}

func whole(name, value string, lo, hi int) (int, error) {
	n, err := strconv.Atoi(value)
	if err != nil || n < lo || n > hi {
		return 0, fmt.Errorf("%s=%s is not a number from %d to %d", name, value, lo, hi)
	}
	return n, nil
}

func wholes(name, value string, most int, negative bool) ([]int, error) {
	var out []int
	for _, s := range strings.Split(value, ",") {
		n, err := strconv.Atoi(strings.TrimPrefix(s, "+"))
		if err != nil || n == 0 || n > most || n < -most || n < 0 && !negative {
			return nil, fmt.Errorf("%s=%s: %q is out of range", name, value, s)
		}
		out = append(out, n)
	}
	return out, nil
}

// Valid says what is wrong with a rule, or nothing.
func (r Recurrence) Valid() error {
	nth := slices.ContainsFunc(r.ByDay, func(d NthDay) bool { return d.N != 0 })
	by := len(r.ByDay) + len(r.ByMonthDay) + len(r.ByMonth)
	switch {
	case r.Freq == Once && (r.Count != 0 || r.HasUntil || r.Interval != 0 || by > 0):
		return fmt.Errorf("FREQ is missing; it is DAILY, WEEKLY, MONTHLY or YEARLY")
	case nth && r.Freq != Monthly && r.Freq != Yearly:
		return fmt.Errorf("an nth weekday needs FREQ=MONTHLY or FREQ=YEARLY (RFC 5545, 3.3.10)")
	case nth && len(r.ByMonthDay) > 0:
		return fmt.Errorf("an nth weekday and BYMONTHDAY together are outside the subset")
	case r.Freq == Weekly && len(r.ByMonthDay) > 0:
		return fmt.Errorf("BYMONTHDAY does not go with FREQ=WEEKLY (RFC 5545, 3.3.10)")
	case r.Count > 0 && r.HasUntil:
		return fmt.Errorf("COUNT and UNTIL exclude each other (RFC 5545, 3.3.10)")
	case len(r.BySetPos) > 0 && by == 0:
		return fmt.Errorf("BYSETPOS needs another BY part (RFC 5545, 3.3.10)")
	}
	return nil
}

// String writes the rule as an RRULE value; empty where it does not recur.
func (r Recurrence) String() string {
	if r.Freq == Once {
		return ""
	}
	parts := []string{"FREQ=" + freqNames[r.Freq]}
	if r.Interval > 1 {
		parts = append(parts, "INTERVAL="+strconv.Itoa(r.Interval))
	}
	numbers := func(name string, list []int) {
		var s []string
		for _, n := range list {
			s = append(s, strconv.Itoa(n))
		}
		if len(s) > 0 {
			parts = append(parts, name+"="+strings.Join(s, ","))
		}
	}
	numbers("BYMONTH", r.ByMonth)
	numbers("BYMONTHDAY", r.ByMonthDay)
	var byDay []string
	for _, d := range r.ByDay {
		n := ""
		if d.N != 0 {
			n = strconv.Itoa(d.N)
		}
		byDay = append(byDay, n+icalDays[d.Weekday])
	}
	if len(byDay) > 0 {
		parts = append(parts, "BYDAY="+strings.Join(byDay, ","))
	}
	numbers("BYSETPOS", r.BySetPos)
	if r.Count > 0 {
		parts = append(parts, "COUNT="+strconv.Itoa(r.Count))
	}
	if r.HasUntil {
		parts = append(parts, "UNTIL="+strings.ReplaceAll(r.Until.String(), "-", "")+r.UntilAt.text())
	}
	if r.WeekStart != 0 {
		parts = append(parts, "WKST="+icalDays[r.WeekStart])
	}
	return strings.Join(parts, ";")
}

func (u UntilAt) text() string {
	if !u.Said {
		return ""
	}
	end := ""
	if u.UTC {
		end = "Z"
	}
	return fmt.Sprintf("T%02d%02d%02d%s", u.Second/3600, u.Second/60%60, u.Second%60, end)
}

// Between returns the days in [from, to) on which the rule falls that begins on start, ascending. A rule
// that does not recur falls on start alone. Start itself counts only where it meets the rule.
func (r Recurrence) Between(start, from, to Day) []Day {
	if r.Freq == Once {
		if start >= from && start < to {
			return []Day{start}
		}
		return nil
	}
	if r.HasUntil {
		to = min(to, r.Until+1)
	}
	var out []Day
	count := 0
	for k := r.firstPeriod(start, from); ; k++ {
		first, days := r.period(start, k)
		if first >= to {
			return out
		}
		for _, d := range days {
			if d < start {
				continue
			}
			if d >= to {
				return out
			}
			if count++; r.Count > 0 && count > r.Count {
				return out
			}
			if d >= from {
				out = append(out, d)
			}
		}
	}
}

// firstPeriod skips the periods before from; a counted rule has to be counted from its start.
func (r Recurrence) firstPeriod(start, from Day) int {
	if r.Count > 0 || from <= start {
		return 0
	}
	longest := map[Freq]int{Daily: 1, Weekly: 7, Monthly: 31, Yearly: 366}[r.Freq] * max(r.Interval, 1)
	return max(0, int(from-start)/longest-1)
}

// period returns the first day of the kth period of a rule, and the days of it that meet the rule.
func (r Recurrence) period(start Day, k int) (first Day, days []Day) {
	k *= max(r.Interval, 1)
	year, month, dom := start.Date()
	switch r.Freq {
	case Daily:
		first = start + Day(k)
		if r.limit(first, true, true) {
			days = []Day{first}
		}
	case Weekly:
		first = start - Day((start.Weekday()-r.WeekStart+7)%7) + Day(7*k)
		for d := first; d < first+7; d++ {
			on := len(r.ByDay) == 0 && d.Weekday() == start.Weekday()
			if (on || r.onWeekday(d)) && r.limit(d, false, false) {
				days = append(days, d)
			}
		}
	case Monthly:
		first = DayOf(year, month+time.Month(k), 1)
		days = r.month(first, dom)
	case Yearly:
		first = DayOf(year+k, 1, 1)
		days = r.year(year+k, month, dom)
	}
	return first, r.positions(days)
}

// limit tests a day against the month, and against month days and weekdays where these only limit.
func (r Recurrence) limit(d Day, monthDay, weekday bool) bool {
	_, m, _ := d.Date()
	if len(r.ByMonth) > 0 && !slices.Contains(r.ByMonth, int(m)) {
		return false
	}
	if monthDay && len(r.ByMonthDay) > 0 && !r.onMonthDay(d) {
		return false
	}
	return !weekday || len(r.ByDay) == 0 || r.onWeekday(d)
}

func (r Recurrence) onWeekday(d Day) bool {
	return slices.ContainsFunc(r.ByDay, func(n NthDay) bool { return n.Weekday == d.Weekday() })
}

func (r Recurrence) onMonthDay(d Day) bool {
	y, m, dom := d.Date()
	length := int(DayOf(y, m+1, 1) - DayOf(y, m, 1))
	return slices.Contains(r.ByMonthDay, dom) || slices.Contains(r.ByMonthDay, dom-length-1)
}

// month returns the days of one month; dom is what an otherwise empty rule falls on.
func (r Recurrence) month(first Day, dom int) []Day {
	y, m, _ := first.Date()
	end := DayOf(y, m+1, 1)
	var out []Day
	for d := first; d < end; d++ {
		switch {
		case len(r.ByMonth) > 0 && !slices.Contains(r.ByMonth, int(m)):
			continue
		case len(r.ByMonthDay) > 0:
			if r.onMonthDay(d) && (len(r.ByDay) == 0 || r.onWeekday(d)) {
				out = append(out, d)
			}
		case len(r.ByDay) > 0:
			if r.nthIn(d, first, end) {
				out = append(out, d)
			}
		case int(d-first) == dom-1:
			out = append(out, d)
		}
	}
	return out
}

// nthIn tests a day against the weekdays, whose numbers count within [first, end).
func (r Recurrence) nthIn(d, first, end Day) bool {
	return slices.ContainsFunc(r.ByDay, func(n NthDay) bool {
		return n.Weekday == d.Weekday() && (n.N == 0 || n.N == int(d-first)/7+1 || n.N == -(int(end-1-d)/7+1))
	})
}

func (r Recurrence) year(year int, month time.Month, dom int) []Day {
	first, end := DayOf(year, 1, 1), DayOf(year+1, 1, 1)
	var out []Day
	switch {
	case len(r.ByMonth) > 0 || len(r.ByMonthDay) > 0:
		for m := time.January; m <= time.December; m++ {
			out = append(out, r.month(DayOf(year, m, 1), dom)...)
		}
	case len(r.ByDay) > 0:
		for d := first; d < end; d++ {
			if r.nthIn(d, first, end) {
				out = append(out, d)
			}
		}
	default:
		if d := DayOf(year, month, dom); dayOfMonth(d) == dom {
			out = append(out, d)
		}
	}
	return out
}

func dayOfMonth(d Day) int { _, _, n := d.Date(); return n }

// positions keeps the days that BYSETPOS names.
func (r Recurrence) positions(days []Day) []Day {
	if len(r.BySetPos) == 0 {
		return days
	}
	var out []Day
	for i, d := range days {
		if slices.Contains(r.BySetPos, i+1) || slices.Contains(r.BySetPos, i-len(days)) {
			out = append(out, d)
		}
	}
	return out
}
