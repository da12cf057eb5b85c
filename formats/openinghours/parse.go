// Package openinghours reads and writes weeks as opening-hours text: a stated subset of the OpenStreetMap
// opening_hours specification. In the subset are weekdays and ranges of them, times and ranges of them
// (past midnight as 22:00-06:00 or 22:00-30:00), 24/7, off, rules set apart by ; (says anew what the named
// days do) or , (adds to them), PH for every type of holiday, last and after ;, and a quoted comment that names
// the passage mode of a plan: "card", "free after first card", or "card only Registrars|Conservators", which
// names the access levels that count.
package openinghours

import (
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/hours"
)

// Error is a text outside the subset: where, and why.
type Error struct {
	Pos   int // in bytes, from 0
	Words string
}

func (e *Error) Error() string { return fmt.Sprintf("at position %d: %s", e.Pos+1, e.Words) }

// Schedule is the hours of a schedule as a text says them.
type Schedule struct {
	Week     hours.Week
	Holidays []hours.Period // on holidays of every type, where SaysPH
	SaysPH   bool           // the text has a rule for PH
}

// Plan is the segments of a plan as a text says them.
type Plan struct {
	hours.Pattern
	Holidays []hours.Segment // on holidays of every type, where SaysPH
	SaysPH   bool
	Notices  []string // of rules that replaced others
}

// Levels finds access levels by name, and names by level.
type Levels struct {
	ID   func(name string) (int64, bool)
	Name func(id int64) string
}

// ParseWeek reads the hours of a schedule.
func ParseWeek(text string) (Schedule, error) {
	rules, err := parse(text, false, false, nil)
	var out Schedule
	if err != nil {
		return out, err
	}
	for _, r := range rules {
		if r.ph {
			out.SaysPH, out.Holidays = true, r.times
		}
		for d, on := range r.days {
			if !on {
				continue
			}
			if !r.adds {
				out.Week[d] = nil
			}
			out.Week[d] = append(out.Week[d], r.times...)
		}
	}
	out.Week = out.Week.Normal()
	out.Holidays = hours.Week{out.Holidays}.Normal()[0]
	return out, nil
}

// ParseWeekRow reads the hours of a schedule on holidays of one type: a text without weekdays, with or without PH.
func ParseWeekRow(text string) ([]hours.Period, error) {
	rules, err := parse(text, false, true, nil)
	var out []hours.Period
	for _, r := range rules {
		out = append(out, r.times...)
	}
	return hours.Week{out}.Normal()[0], err
}

// ParsePlanRow reads the segments of a plan on holidays of one type, in the same way.
func ParsePlanRow(text string, def hours.Mode, levels Levels) (out []hours.Segment, err error) {
	rules, err := parse(text, true, true, levels.ID)
	for _, r := range rules {
		for _, t := range r.times {
			out = hours.PaintRow(def, out, hours.Segment{Period: t, Mode: r.mode, First: r.first, Levels: r.levels})
		}
	}
	return out, err
}

// ParsePlan reads the segments of a plan over a default mode.
func ParsePlan(text string, def hours.Mode, levels Levels) (p Plan, err error) {
	rules, err := parse(text, true, false, levels.ID)
	if err != nil {
		return Plan{}, err
	}
	p.Default = def
	for _, r := range rules {
		replaced := false
		for d, on := range r.days {
			if on && !r.adds {
				replaced = replaced || len(p.Week[d]) > 0
				p.Week[d] = nil
			}
		}
		if replaced && len(r.times) > 0 {
			p.Notices = append(
				p.Notices,
				fmt.Sprintf(
					"%q comes after ; and replaces what was said before for its days; write , to add to it",
					r.text,
				),
			)
		}
		for _, t := range r.times {
			seg := hours.Segment{Period: t, Mode: r.mode, First: r.first, Levels: r.levels}
			for d, on := range r.days {
				if on {
					p.Paint(d, seg)
				}
			}
			if r.ph {
				p.Holidays = hours.PaintRow(def, p.Holidays, seg)
			}
		}
		p.SaysPH = p.SaysPH || r.ph
	}
	return p, nil
}

type rule struct {
	text  string
	days  [7]bool
	times []hours.Period
	mode  hours.Mode
	adds  bool

	ph     bool // for holidays, too or only
	first  bool // waits for a first card
	levels []int64
}

type parser struct {
	s      string
	i      int
	err    *Error
	levels func(string) (int64, bool)
	row    bool // the text of one holiday type
}

func (p *parser) fail(pos int, format string, args ...any) {
	if p.err == nil {
		p.err = &Error{pos, fmt.Sprintf(format, args...)}
	}
}

func (p *parser) space() {
	for p.i < len(p.s) && strings.IndexByte(" \t\n\r", p.s[p.i]) >= 0 {
		p.i++
	}
}

func (p *parser) take(c byte) bool {
	p.space()
	if p.i < len(p.s) && p.s[p.i] == c {
		p.i++
		return true
	}
	return false
}

// word returns the letters and digits ahead without taking them.
func (p *parser) word() string {
	p.space()
	j := p.i
	for j < len(p.s) && (p.s[j]|0x20 >= 'a' && p.s[j]|0x20 <= 'z') {
		j++
	}
	return p.s[p.i:j]
}

func weekday(word string) int {
	for d, name := range hours.DayNames {
		if strings.EqualFold(word, name) {
			return d
		}
	}
	return -1
}

const dayHelp = "Mo, Tu, We, Th, Fr, Sa, Su"

// parse reads the rules of a text; row says that it is that of one holiday type, where no weekday is named.
func parse(text string, plan, row bool, levels func(string) (int64, bool)) ([]rule, error) {
	p := &parser{s: text, levels: levels, row: row}
	var rules []rule
	adds, saidPH := false, false
	for {
		p.space()
		if p.i >= len(p.s) {
			break
		}
		start := p.i
		r := p.rule(plan)
		if p.err != nil {
			return nil, p.err
		}
		r.adds, r.text = adds, strings.TrimSpace(text[start:p.i])
		switch {
		case saidPH && !r.ph:
			return nil, &Error{start, "rules for holidays come last: what follows PH would hold on holidays too"}
		case r.ph && adds && !saidPH:
			return nil, &Error{start, "write ; before PH: after , its hours would be added to those of the weekday"}
		case r.ph && saidPH && !(plan && adds):
			return nil, &Error{start, "PH is said twice; write its times in one rule"}
		case r.ph && adds && r.days != [7]bool{}:
			return nil, &Error{start, "after , a rule for PH names no weekdays"}
		}
		saidPH = saidPH || r.ph
		rules = append(rules, r)
		p.space()
		if p.i >= len(p.s) {
			break
		}
		switch {
		case p.take(';'):
			adds = false
		case p.take(','):
			adds = true
		default:
			return nil, &Error{
				p.i,
				fmt.Sprintf("%q is not understood here; set rules apart with ;", p.s[p.i:min(len(p.s), p.i+12)]),
			}
		}
	}
	return rules, nil
}

func (p *parser) rule(plan bool) rule {
	r := rule{days: [7]bool{true, true, true, true, true, true, true}}
	if p.row {
		r = rule{ph: true}
	}
	if strings.HasPrefix(p.s[p.i:], "24/7") {
		p.i += 4
		r.times = []hours.Period{{Start: 0, End: hours.DayMinutes}}
		p.mode(&r, plan)
		return r
	}
	w := p.word()
	if w != "" && !isOff(w) {
		at := p.i
		r.days, r.ph = p.days()
		if p.row && p.err == nil && r.days != [7]bool{} {
			p.fail(at, "the hours of a holiday type name no weekdays; write the times alone, or after PH")
		}
		if p.err != nil {
			return r
		}
	}
	if w = p.word(); isOff(w) {
		p.i += len(w)
		return r
	}
	p.space()
	if p.i >= len(p.s) || p.s[p.i] < '0' || p.s[p.i] > '9' {
		if w != "" {
			p.fail(p.i, "%s", refusal(w))
		} else {
			p.fail(p.i, "times are missing; write them as 08:30-17:00, or off")
		}
		return r
	}
	for {
		r.times = append(r.times, p.period())
		if p.err != nil {
			return r
		}
		mark := p.i
		if !p.take(',') {
			break
		}
		p.space()
		if p.i >= len(p.s) || p.s[p.i] < '0' || p.s[p.i] > '9' {
			p.i = mark // the comma begins another rule
			break
		}
	}
	if w = p.word(); strings.EqualFold(w, "open") {
		p.i += len(w)
	} else if isOff(w) {
		p.fail(p.i, "off with times is outside the subset; write the times that are open")
		return r
	}
	p.mode(&r, plan)
	return r
}

func isOff(w string) bool { return strings.EqualFold(w, "off") || strings.EqualFold(w, "closed") }

// mode reads the quoted name of a passage mode.
func (p *parser) mode(r *rule, plan bool) {
	p.space()
	at := p.i
	if !p.take('"') {
		if plan {
			p.fail(at, "which mode? Write it in quotes after the times, such as \"free\"")
		}
		return
	}
	end := strings.IndexByte(p.s[p.i:], '"')
	if end < 0 {
		p.fail(at, "the closing quote is missing")
		return
	}
	name := p.s[p.i : p.i+end]
	p.i += end + 1
	if !plan {
		p.fail(at, "a schedule is open or closed; modes in quotes belong to passage plans")
		return
	}
	p.means(r, name, at)
}

const afterFirst, onlyLevels = " after first card", " only "

// means reads what a quoted comment says: a mode, whether it waits, which levels count.
func (p *parser) means(r *rule, name string, at int) {
	mode := strings.TrimSuffix(name, afterFirst)
	r.first = mode != name
	mode, only, limited := strings.Cut(mode, onlyLevels)
	m, err := hours.ParseMode(mode)
	if err != nil {
		p.fail(at, "%s", err)
		return
	}
	r.mode = m
	if limited {
		for _, level := range strings.Split(only, "|") {
			id, ok := int64(0), false
			if p.levels != nil {
				id, ok = p.levels(strings.TrimSpace(level))
			}
			if !ok {
				p.fail(at, "there is no access level %q; set names apart with |", strings.TrimSpace(level))
				return
			}
			r.levels = append(r.levels, id)
		}
		slices.Sort(r.levels)
		r.levels = slices.Compact(r.levels)
	}
	seg := hours.Segment{Period: hours.Period{Start: 0, End: 1}, Mode: r.mode, First: r.first, Levels: r.levels}
	if err := seg.Valid(); err != nil {
		p.fail(at, "%s", strings.TrimPrefix(err.Error(), seg.Period.String()+": "))
	}
}

func (p *parser) day() int {
	w := p.word()
	d := weekday(w)
	if d < 0 {
		p.fail(p.i, "%s", refusal(w))
		return 0
	}
	p.i += len(w)
	return d
}

func (p *parser) days() (on [7]bool, ph bool) {
	for {
		if w := p.word(); strings.EqualFold(w, "PH") {
			p.i += len(w)
			ph = true
			mark := p.i
			if !p.take(',') {
				if w := p.word(); weekday(w) >= 0 {
					p.fail(
						mark,
						"PH %s, holidays on some weekdays only, is outside the subset; write PH alone for all holidays, or PH,%s for those days and holidays",
						w,
						w,
					)
				}
				return on, ph
			}
			if w := p.word(); weekday(w) < 0 {
				p.i = mark
				return on, ph
			}
			continue
		}
		first := p.day()
		last := first
		if p.take('-') {
			last = p.day()
		}
		if p.take('[') {
			p.fail(p.i-1, "the nth weekday of a month is outside the subset; use a dated change")
		}
		if p.err != nil {
			return on, ph
		}
		for d := first; ; d = (d + 1) % 7 {
			on[d] = true
			if d == last {
				break
			}
		}
		mark := p.i
		if !p.take(',') {
			return on, ph
		}
		if p.word() == "" {
			p.i = mark
			return on, ph
		}
	}
}

func refusal(w string) string {
	switch strings.ToLower(w) {
	case "":
		return "a weekday is missing; they are " + dayHelp
	case "sh":
		return w + ": school holidays are outside the subset; give them a holiday type of their own"
	case "jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec", "easter", "week":
		return w + ": dates are outside the subset; a week says what every week is like"
	case "sunrise", "sunset", "dawn", "dusk":
		return w + ": times of the sun are outside the subset; write clock times"
	case "unknown":
		return "hours are open or closed, not unknown"
	}
	return fmt.Sprintf("%q is not a weekday; they are %s", w, dayHelp)
}

func (p *parser) period() hours.Period {
	at := p.i
	start := p.clock()
	if !p.take('-') {
		if p.take('+') {
			p.fail(p.i-1, "an open end is outside the subset; write when it ends")
		}
		p.fail(p.i, "a time range is missing its end; write 08:30-17:00")
		return hours.Period{}
	}
	end := p.clock()
	if p.take('+') {
		p.fail(p.i-1, "an open end is outside the subset; write when it ends")
	}
	if p.err != nil {
		return hours.Period{}
	}
	if end <= start && start >= hours.DayMinutes {
		p.fail(
			at,
			"a range that starts past 24:00 is what is left of a night; write its end past 24:00 too, such as 26:00-30:00",
		)
	}
	if end <= start {
		end += hours.DayMinutes
	}
	t := hours.Period{Start: start, End: end}
	if err := t.Valid(); err != nil && p.err == nil {
		p.fail(at, "%s", err)
	}
	return t
}

func (p *parser) clock() int {
	p.space()
	at := p.i
	number := func() (n, digits int) {
		for p.i < len(p.s) && p.s[p.i] >= '0' && p.s[p.i] <= '9' && digits < 3 {
			n, digits = n*10+int(p.s[p.i]-'0'), digits+1
			p.i++
		}
		return n, digits
	}
	h, hd := number()
	if hd == 0 || p.i >= len(p.s) || p.s[p.i] != ':' {
		if hd == 0 {
			p.fail(at, "a time is missing; write it as 08:30")
		} else {
			p.fail(at, "a time has hours and minutes, such as 08:30")
		}
		return 0
	}
	p.i++
	m, md := number()
	if md != 2 || hd > 2 || m > 59 || h > 48 || h == 48 && m > 0 {
		p.fail(at, "%q is not a time; write it as 08:30", p.s[at:p.i])
		return 0
	}
	return h*60 + m
}
