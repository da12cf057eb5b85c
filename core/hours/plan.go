package hours

import (
	"fmt"
	"slices"
	"strings"
)

// Mode is what a door asks of people at an instant.
type Mode uint8

// The passage modes. The zero value is Card, the safe one to forget.
const (
	Card Mode = iota
	Free
	PIN
	CardOrPIN
	CardAndPIN
	Barred
)

// Modes lists every passage mode.
var Modes = []Mode{Free, Card, PIN, CardOrPIN, CardAndPIN, Barred}

var modeNames = [...]string{"card", "free", "PIN", "card or PIN", "card and PIN", "barred"}

// String returns the mode in words, as screens and texts write it.
func (m Mode) String() string {
	if int(m) >= len(modeNames) {
		return fmt.Sprintf("mode %d", uint8(m))
	}
	return modeNames[m]
}

// ParseMode reads a mode in words; the case of letters does not matter.
func ParseMode(s string) (Mode, error) {
	for m, name := range modeNames {
		if strings.EqualFold(s, name) {
			return Mode(m), nil
		}
	}
	return 0, fmt.Errorf("%q is not a passage mode; write free, card, PIN, card or PIN, card and PIN, or barred", s)
}

// MarshalText writes the mode in words.
func (m Mode) MarshalText() ([]byte, error) {
	if int(m) >= len(modeNames) {
		return nil, fmt.Errorf("no passage mode %d", uint8(m))
	}
	return []byte(modeNames[m]), nil
}

// UnmarshalText reads the mode in words.
func (m *Mode) UnmarshalText(text []byte) error {
	v, err := ParseMode(string(text))
	*m = v
	return err
}

// AsksCard reports whether a card is part of what the mode asks.
func (m Mode) AsksCard() bool { return m == Card || m == CardOrPIN || m == CardAndPIN }

// AsksPIN reports whether a PIN is part of what the mode asks.
func (m Mode) AsksPIN() bool { return m == PIN || m == CardOrPIN || m == CardAndPIN }

// Segment is a period of a plan with its mode.
type Segment struct {
	Period
	Mode Mode `json:"mode" enum:"free,card,PIN,card or PIN,card and PIN,barred"`
}

// Pattern is the weekly part of a passage plan: segments over a default mode. Segments never overlap, not
// even across midnight; Paint keeps it so.
type Pattern struct {
	Default Mode         `json:"default" enum:"free,card,PIN,card or PIN,card and PIN,barred"`
	Week    [7][]Segment `json:"week" doc:"Monday first"`
}

// Valid says what is wrong with a pattern, or nothing.
func (p *Pattern) Valid() error {
	if int(p.Default) >= len(modeNames) {
		return fmt.Errorf("the default is not a passage mode")
	}
	for d, segments := range p.Week {
		for _, s := range segments {
			if err := s.Valid(); err != nil {
				return fmt.Errorf("%s: %w", DayNames[d], err)
			}
			if int(s.Mode) >= len(modeNames) {
				return fmt.Errorf("%s %s: not a passage mode", DayNames[d], s.Period)
			}
		}
	}
	for d, line := range p.line() {
		if d > 0 && line.start < p.line()[d-1].end {
			return fmt.Errorf("%s: two segments overlap at %s", DayNames[line.day], Clock(line.start%DayMinutes))
		}
	}
	return nil
}

type span struct {
	day, start, end int
	mode            Mode
}

const weekMinutes = 7 * DayMinutes

// line lays the week out as spans of week minutes, sorted; a Sunday tail comes back at the front.
func (p *Pattern) line() []span {
	var out []span
	for d, segments := range p.Week {
		for _, s := range segments {
			a, b := d*DayMinutes+s.Start, d*DayMinutes+s.End
			if b > weekMinutes {
				out = append(out, span{d, 0, b - weekMinutes, s.Mode})
				b = weekMinutes
			}
			out = append(out, span{d, a, b, s.Mode})
		}
	}
	slices.SortStableFunc(out, func(a, b span) int { return a.start - b.start })
	return out
}

// Paint lays a segment over a day, cutting away what was there, its tail into the next day included.
func (p *Pattern) Paint(day int, seg Segment) {
	a := day*DayMinutes + seg.Start
	p.clear(a, a+seg.End-seg.Start)
	p.Week[day] = append(p.Week[day], seg)
	p.tidy()
}

// clear empties the week minutes [a, b); b may pass the end of the week.
func (p *Pattern) clear(a, b int) {
	var out [7][]Segment
	for d, segments := range p.Week {
		for _, s := range segments {
			base := d * DayMinutes
			for _, piece := range cut(base+s.Start, base+s.End, a, b) {
				day, start := d, piece[0]-base
				if start >= DayMinutes { // what is left is only the part on the next day
					day, start = (d+1)%7, start-DayMinutes
				}
				out[day] = append(out[day], Segment{Period{start, start + piece[1] - piece[0]}, s.Mode})
			}
		}
	}
	p.Week = out
}

// cut removes [a, b) from [s, e) on a circle of one week and returns what is left, at most three pieces.
func cut(s, e, a, b int) [][2]int {
	pieces := [][2]int{{s, e}}
	for _, shift := range [...]int{-weekMinutes, 0, weekMinutes} {
		lo, hi := a+shift, b+shift
		var rest [][2]int
		for _, q := range pieces {
			if hi <= q[0] || lo >= q[1] {
				rest = append(rest, q)
				continue
			}
			if q[0] < lo {
				rest = append(rest, [2]int{q[0], lo})
			}
			if hi < q[1] {
				rest = append(rest, [2]int{hi, q[1]})
			}
		}
		pieces = rest
	}
	return pieces
}

// tidy sorts each day, joins touching segments of one mode, and drops what only repeats the default.
func (p *Pattern) tidy() {
	for d := range p.Week {
		slices.SortFunc(p.Week[d], func(a, b Segment) int { return a.Start - b.Start })
		var out []Segment
		for _, s := range p.Week[d] {
			n := len(out)
			switch {
			case s.Mode == p.Default:
			case n > 0 && out[n-1].Mode == s.Mode && out[n-1].End == s.Start && s.End <= out[n-1].Start+DayMinutes:
				out[n-1].End = s.End
			default:
				out = append(out, s)
			}
		}
		p.Week[d] = out
	}
}

// Normal returns the same plan with days sorted, touching segments joined and repeats of the default dropped.
func (p Pattern) Normal() Pattern {
	for d := range p.Week {
		p.Week[d] = slices.Clone(p.Week[d])
	}
	p.tidy()
	return p
}

// Minutes returns how many of the 10080 minutes of an ordinary week each mode holds, indexed by Mode.
func (p *Pattern) Minutes() [6]int {
	var n [6]int
	n[p.Default] = weekMinutes
	for _, s := range p.line() {
		n[s.mode] += s.end - s.start
		n[p.Default] -= s.end - s.start
	}
	return n
}

// Plan is a compiled pattern.
type Plan struct {
	def        Mode
	own, spill [][]Segment // by kind of day; spill holds the tails of the day before, in minutes of this day
}

// CompilePlan prepares a pattern for asking.
func CompilePlan(p Pattern) Plan {
	c := Plan{def: p.Default, own: make([][]Segment, Weekdays), spill: make([][]Segment, Weekdays)}
	for d, segments := range p.Week {
		for _, s := range segments {
			c.own[d] = append(c.own[d], Segment{Period{s.Start, min(s.End, DayMinutes)}, s.Mode})
			if s.End > DayMinutes {
				c.spill[d] = append(c.spill[d], Segment{Period{0, s.End - DayMinutes}, s.Mode})
			}
		}
	}
	return c
}

// find returns the segment at a minute: yesterday's tail first, since it runs on whatever today is.
func (p *Plan) find(d Day, minute int) (Segment, bool) {
	for _, s := range p.spill[kindOf(d-1)] {
		if minute < s.End {
			return s, true
		}
	}
	for _, s := range p.own[kindOf(d)] {
		if s.Start <= minute && minute < s.End {
			return s, true
		}
	}
	return Segment{}, false
}

// Mode returns what the plan asks at a wall-clock minute, and whether a segment said so (or the default).
func (p *Plan) Mode(d Day, minute int) (mode Mode, segment bool) {
	if s, ok := p.find(d, minute); ok {
		return s.Mode, true
	}
	return p.def, false
}

// ModeAt returns what the plan asks at an instant, and whether a segment said so (or the default).
func (p *Plan) ModeAt(z *Zone, i Instant) (mode Mode, segment bool) {
	w := z.Wall(i)
	return p.Mode(w.Day, w.Minute)
}

func (p *Plan) value(d Day, minute int) int {
	m, _ := p.Mode(d, minute)
	return int(m)
}

func (p *Plan) edge(d Day, minute int) int {
	e := DayMinutes
	for _, list := range [...][]Segment{p.spill[kindOf(d-1)], p.own[kindOf(d)]} {
		for _, s := range list {
			if s.Start > minute {
				e = min(e, s.Start)
			}
			if s.End > minute {
				e = min(e, s.End)
			}
		}
	}
	return e
}

// Next returns the first instant after i at which the plan asks something else, or Never.
func (p *Plan) Next(z *Zone, i Instant) Instant { return next(z, p, i) }

// Stretch is a mode that holds over [From, To).
type Stretch struct {
	From, To Instant
	Mode     Mode
}

// Stretches returns what the plan asks between two instants, in order and without gaps.
func (p *Plan) Stretches(z *Zone, from, to Instant) []Stretch {
	var out []Stretch
	for at := from; at < to; {
		m, _ := p.ModeAt(z, at)
		end := min(p.Next(z, at), to)
		out = append(out, Stretch{at, end, m})
		at = end
	}
	return out
}

// Openings returns the stretches between two instants at which the schedule is open.
func (s *Schedule) Openings(z *Zone, from, to Instant) []Stretch {
	var out []Stretch
	for at := from; at < to; {
		end := min(s.Next(z, at), to)
		if s.OpenAt(z, at) {
			out = append(out, Stretch{From: at, To: end})
		}
		at = end
	}
	return out
}

// Until returns the minute of the day up to which the plan asks the same as at the given one; 1440 at most.
func (p *Plan) Until(d Day, minute int) int {
	was := p.value(d, minute)
	for minute < DayMinutes && p.value(d, minute) == was {
		minute = p.edge(d, minute)
	}
	return minute
}

// Paint opens or closes a period on some days, cutting away what was there, tails past midnight included.
// It paints by way of a plan: open is free over barred.
func (w Week) Paint(days []int, period Period, open bool) Week {
	p := Pattern{Default: Barred}
	for d, periods := range w {
		for _, t := range periods {
			p.Paint(d, Segment{t, Free})
		}
	}
	mode := Barred
	if open {
		mode = Free
	}
	for _, d := range days {
		p.Paint(d, Segment{period, mode})
	}
	var out Week
	for d, segments := range p.Week {
		for _, s := range segments {
			out[d] = append(out[d], s.Period)
		}
	}
	return out
}
