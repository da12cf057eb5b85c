package openinghours

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/hours"
)

// FormatWeek writes a schedule. ParseWeek of it gives the same hours.
func FormatWeek(w hours.Week) string {
	w = w.Normal()
	var rules []string
	var done [7]bool
	for d := range w {
		if done[d] || len(w[d]) == 0 {
			continue
		}
		var days [7]bool
		for e := d; e < 7; e++ {
			if slices.Equal(w[d], w[e]) {
				days[e], done[e] = true, true
			}
		}
		if days == [7]bool{true, true, true, true, true, true, true} &&
			slices.Equal(w[d], []hours.Period{{Start: 0, End: hours.DayMinutes}}) {
			return "24/7"
		}
		var times []string
		for _, p := range w[d] {
			times = append(times, p.String())
		}
		rules = append(rules, dayText(days)+" "+strings.Join(times, ","))
	}
	if len(rules) == 0 {
		return "off"
	}
	return strings.Join(rules, "; ")
}

// FormatHolidays writes a rule for PH, to follow the text of a week after "; ".
func FormatHolidays(periods []hours.Period) string {
	if len(periods) == 0 {
		return "PH off"
	}
	var times []string
	for _, p := range periods {
		times = append(times, p.String())
	}
	return "PH " + strings.Join(times, ",")
}

// FormatPlanHolidays writes the rules for PH of a plan, to follow its text after "; ".
func FormatPlanHolidays(own []hours.Segment, levels Levels) string {
	if len(own) == 0 {
		return "PH off"
	}
	var rules []string
	for _, s := range own {
		rules = append(rules, fmt.Sprintf("PH %s \"%s\"", s.Period, meaning(s, levels)))
	}
	return strings.Join(rules, ", ")
}

// meaning is the quoted comment of a segment.
func meaning(s hours.Segment, levels Levels) string {
	words := s.Mode.String()
	if len(s.Levels) > 0 && levels.Name != nil {
		var names []string
		for _, id := range s.Levels {
			names = append(names, levels.Name(id))
		}
		words += onlyLevels + strings.Join(names, "|")
	}
	if s.First {
		words += afterFirst
	}
	return words
}

// FormatPlan writes the segments of a plan, without its default. ParsePlan of it gives the same plan.
func FormatPlan(p hours.Pattern, levels Levels) string {
	p = p.Normal()
	type group struct {
		seg  hours.Segment
		days [7]bool
	}
	var groups []*group
	for d, segments := range p.Week {
		for _, s := range segments {
			i := slices.IndexFunc(
				groups,
				func(g *group) bool { return g.seg.Period == s.Period && g.seg.Ask().Same(s.Ask()) },
			)
			if i < 0 {
				groups = append(groups, &group{seg: s})
				i = len(groups) - 1
			}
			groups[i].days[d] = true
		}
	}
	slices.SortStableFunc(groups, func(a, b *group) int { return cmp.Compare(a.seg.Start, b.seg.Start) })
	var rules []string
	for _, g := range groups {
		rules = append(rules, fmt.Sprintf("%s %s \"%s\"", dayText(g.days), g.seg.Period, meaning(g.seg, levels)))
	}
	return strings.Join(rules, ", ")
}

func dayText(on [7]bool) string {
	var parts []string
	for d := 0; d < 7; d++ {
		if !on[d] {
			continue
		}
		last := d
		for last < 6 && on[last+1] {
			last++
		}
		if last == d {
			parts = append(parts, hours.DayNames[d])
		} else {
			parts = append(parts, hours.DayNames[d]+"-"+hours.DayNames[last])
		}
		d = last
	}
	return strings.Join(parts, ",")
}
