package hours

import (
	"fmt"
	"strings"
	"time"
)

// Words says the rule as people do: "every 2 weeks on Friday, 6 times".
func (r Recurrence) Words(start Day) string {
	if r.Freq == Once {
		return "once"
	}
	units := [...]string{"", "day", "week", "month", "year"}
	words := "every " + units[r.Freq]
	if r.Interval > 1 {
		words = fmt.Sprintf("every %d %ss", r.Interval, units[r.Freq])
	}
	if on := r.onWords(start); len(on) > 0 {
		words += " on " + joinAnd(on)
	}
	if len(r.ByMonth) > 0 {
		var names []string
		for _, m := range r.ByMonth {
			names = append(names, time.Month(m).String())
		}
		words += " in " + joinAnd(names)
	}
	if len(r.BySetPos) > 0 {
		var which []string
		for _, n := range r.BySetPos {
			which = append(which, "the "+ordinal(n))
		}
		words += ", only " + joinAnd(which) + " of these"
	}
	switch {
	case r.Count == 1:
		words += ", once"
	case r.Count > 1:
		words += fmt.Sprintf(", %d times", r.Count)
	case r.HasUntil:
		words += ", until " + r.Until.Words() + r.UntilAt.words()
	}
	return words
}

// onWords names the days of a period on which the rule falls.
func (r Recurrence) onWords(start Day) []string {
	var on []string
	for _, d := range r.ByDay {
		name := WeekdayNames[d.Weekday]
		if d.N != 0 {
			name = "the " + ordinal(d.N) + " " + name
		}
		on = append(on, name)
	}
	for _, n := range r.ByMonthDay {
		switch {
		case n == -1:
			on = append(on, "the last day")
		case n < 0:
			on = append(on, fmt.Sprintf("%d days before the last", -n-1))
		default:
			on = append(on, fmt.Sprintf("day %d", n))
		}
	}
	_, month, dom := start.Date()
	switch {
	case len(on) > 0 || r.Freq == Daily:
	case r.Freq == Weekly:
		on = []string{WeekdayNames[start.Weekday()]}
	case r.Freq == Yearly && len(r.ByMonth) == 0:
		on = []string{fmt.Sprintf("%d %s", dom, month)}
	default:
		on = []string{fmt.Sprintf("day %d", dom)}
	}
	return on
}

func ordinal(n int) string {
	if words, ok := ordinals[n]; ok {
		return words
	}
	return fmt.Sprintf("%d.", n)
}

func joinAnd(list []string) string {
	if len(list) < 2 {
		return strings.Join(list, "")
	}
	return strings.Join(list[:len(list)-1], ", ") + " and " + list[len(list)-1]
}

func (u UntilAt) words() string {
	if !u.Said {
		return ""
	}
	if u.UTC {
		return " " + Clock(u.Second/60) + " UTC"
	}
	return " " + Clock(u.Second/60)
}
