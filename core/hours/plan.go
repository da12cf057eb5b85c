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

// Segment is a period of a plan with its mode. A free one may wait for a first card; one that asks for
// something may be limited to chosen access levels.
type Segment struct {
	Period
	Mode   Mode    `json:"mode" enum:"free,card,PIN,card or PIN,card and PIN,barred"`
	First  bool    `json:"first,omitempty" doc:"Free once a first card has come"`
	Levels []int64 `json:"levels,omitempty" doc:"Only these access levels count during it; none listed: all"`
}

// Ask is what a door asks of people: a passage mode, whether it waits for a first card, and which access
// levels count (none listed: all).
type Ask struct {
	Mode   Mode
	First  bool
	Levels []int64
}

// Ask returns what the segment asks.
func (s Segment) Ask() Ask { return Ask{s.Mode, s.First, s.Levels} }

// String says what is asked in words; levels have no names here.
func (a Ask) String() string {
	if a.First {
		return a.Mode.String() + " after a first card"
	}
	return a.Mode.String()
}

// Counts reports whether an access level counts.
func (a Ask) Counts(level int64) bool { return len(a.Levels) == 0 || slices.Contains(a.Levels, level) }

// Same reports whether two asks are the same.
func (a Ask) Same(b Ask) bool {
	return a.Mode == b.Mode && a.First == b.First && slices.Equal(a.Levels, b.Levels)
}

// Valid says what is wrong with a segment, or nothing.
func (s Segment) Valid() error {
	if err := s.Period.Valid(); err != nil {
		return err
	}
	switch {
	case int(s.Mode) >= len(modeNames):
		return fmt.Errorf("%s: not a passage mode", s.Period)
	case s.First && s.Mode != Free:
		return fmt.Errorf("%s: only a free segment can wait for a first card", s.Period)
	case len(s.Levels) > 0 && (s.Mode == Free || s.Mode == Barred):
		return fmt.Errorf(
			"%s: a %s segment asks for nothing, so it cannot be limited to access levels",
			s.Period,
			s.Mode,
		)
	}
	return nil
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
				out = append(out, span{d, max(a-weekMinutes, 0), b - weekMinutes, s.Mode})
				b = weekMinutes
			}
			if a < b {
				out = append(out, span{d, a, b, s.Mode})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b span) int { return a.start - b.start })
	return out
}

// Erase empties a period of a day, so that the default mode holds there.
func (p *Pattern) Erase(day int, x Period) {
	a := day*DayMinutes + x.Start
	p.clear(a, a+x.End-x.Start)
	p.tidy()
}

// Paint lays a segment over a day, cutting away what was there, its tail into the next day included.
func (p *Pattern) Paint(day int, seg Segment) {
	a := day*DayMinutes + seg.Start
	p.clear(a, a+seg.End-seg.Start)
	p.Week[day] = append(p.Week[day], seg)
	p.tidy()
}

// clear empties the week minutes [a, b); b may pass the end of the week. What is left of a night goes on belonging to
// its evening.
func (p *Pattern) clear(a, b int) {
	var out [7][]Segment
	for d, segments := range p.Week {
		base := d * DayMinutes
		for _, s := range segments {
			for _, piece := range cut(base+s.Start, base+s.End, a, b) {
				s.Period = Period{piece[0] - base, piece[1] - base}
				out[d] = append(out[d], s)
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

// tidy sorts each day, joins touching segments of one mode, and drops what only repeats the default. What crosses
// midnight is kept as written, also in the default mode: it runs on into the next day, whatever that is.
func (p *Pattern) tidy() {
	for d := range p.Week {
		slices.SortFunc(p.Week[d], func(a, b Segment) int { return a.Start - b.Start })
		var out []Segment
		for _, s := range p.Week[d] {
			n := len(out)
			switch {
			case s.Ask().Same(Ask{Mode: p.Default}) && !s.CrossesMidnight():
			case n > 0 && out[n-1].Ask().Same(s.Ask()) && out[n-1].End == s.Start && s.End <= out[n-1].Start+DayMinutes:
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
		n[p.Default] -= s.end - s.start
		n[s.mode] += s.end - s.start
	}
	return n
}

// rowPattern makes a week of which Monday is a day of a holiday type, so that it is painted by the same rules.
func rowPattern(def Mode, own []Segment) Pattern {
	p := Pattern{Default: def}
	p.Week[0] = slices.Clone(own)
	return p
}

// PaintRow lays a segment over the own segments of a holiday type.
func PaintRow(def Mode, own []Segment, seg Segment) []Segment {
	p := rowPattern(def, own)
	p.Paint(0, seg)
	return p.Week[0]
}

// EraseRow empties a period of the own segments of a holiday type.
func EraseRow(def Mode, own []Segment, x Period) []Segment {
	p := rowPattern(def, own)
	p.Erase(0, x)
	return p.Week[0]
}

// ValidRow says what is wrong with the own segments of a holiday type, or nothing.
func ValidRow(def Mode, own []Segment) error {
	p := rowPattern(def, own)
	if err := p.Valid(); err != nil {
		return fmt.Errorf("%s", strings.TrimPrefix(err.Error(), DayNames[0]+": "))
	}
	return nil
}

// NormalRow returns own segments sorted and joined, without repeats of the default.
func NormalRow(def Mode, own []Segment) []Segment {
	p := rowPattern(def, own).Normal()
	return p.Week[0]
}

// Source is which part of a plan says what is asked.
type Source uint8

// The sources, lowest first.
const (
	FromDefault Source = iota // nothing is painted there
	FromWeek                  // a segment of the week
	FromHoliday               // the answer for the day's holiday type
)

// piece is a segment of a compiled plan.
type piece struct {
	start, end int
	ask        int // index into asks
}

// Plan is a compiled pattern.
type Plan struct {
	asks       []Ask     // 0 is the default
	own, spill [][]piece // by kind of day; spill holds the tails of the day before, in minutes of this day
	answered   []bool    // by holiday type
	nobody     []bool    // by holiday type
}

// CompilePlan prepares a pattern for asking. Rows are the answers by holiday type; a type past their end is as
// a weekday.
func CompilePlan(p Pattern, rows ...Row[Segment]) Plan {
	kinds := Weekdays + len(rows)
	c := Plan{
		asks:     []Ask{{Mode: p.Default}},
		own:      make([][]piece, kinds),
		spill:    make([][]piece, kinds),
		answered: make([]bool, len(rows)),
		nobody:   make([]bool, len(rows)),
	}
	add := func(k int, segments []Segment) {
		for _, s := range segments {
			ask := c.intern(s.Ask())
			if x := s.Today(); x.Start < x.End {
				c.own[k] = append(c.own[k], piece{x.Start, x.End, ask})
			}
			if x := s.Tomorrow(); x.Start < x.End {
				c.spill[k] = append(c.spill[k], piece{x.Start, x.End, ask})
			}
		}
	}
	for d, segments := range p.Week {
		add(d, segments)
	}
	for i, r := range rows {
		c.answered[i] = r.Answer != AsWeekday
		c.nobody[i] = r.Answer == Resting && r.Nobody
		if r.Answer == Own {
			add(Weekdays+i, r.Own)
		}
	}
	return c
}

func (p *Plan) intern(a Ask) int {
	i := slices.IndexFunc(p.asks, a.Same)
	if i < 0 {
		i = len(p.asks)
		p.asks = append(p.asks, a)
	}
	return i
}

func (p *Plan) kinds(c *Calendar, d Day, minute int) (today, yesterday Kind) {
	if c == nil {
		return Kind(d.Weekday()), Kind((d - 1).Weekday())
	}
	return c.kindOf(d, minute, p.answered), c.kindOf(d-1, DayMinutes-1, p.answered)
}

// find returns what is asked at a minute: yesterday's tail first, since it runs on whatever today is.
func (p *Plan) find(c *Calendar, d Day, minute int) (ask int, from Source) {
	today, yesterday := p.kinds(c, d, minute)
	for _, s := range p.spill[yesterday] {
		if s.start <= minute && minute < s.end {
			return s.ask, sourceOf(yesterday)
		}
	}
	for _, s := range p.own[today] {
		if s.start <= minute && minute < s.end {
			return s.ask, sourceOf(today)
		}
	}
	if today >= Weekdays {
		return 0, FromHoliday
	}
	return 0, FromDefault
}

func sourceOf(k Kind) Source {
	if k >= Weekdays {
		return FromHoliday
	}
	return FromWeek
}

// Ask returns what the plan asks at a wall-clock minute, and which part of it says so.
func (p *Plan) Ask(c *Calendar, d Day, minute int) (Ask, Source) {
	i, from := p.find(c, d, minute)
	return p.asks[i], from
}

// AskAt returns what the plan asks at an instant, and which part of it says so.
func (p *Plan) AskAt(l Local, i Instant) (Ask, Source) {
	w := l.Wall(i)
	return p.Ask(l.Calendar, w.Day, w.Minute)
}

// Nobody reports whether a wall-clock minute is on a holiday for nobody, on which the plan rests.
func (p *Plan) Nobody(c *Calendar, d Day, minute int) bool {
	today, _ := p.kinds(c, d, minute)
	return today >= Weekdays && p.nobody[today-Weekdays]
}

// Default returns the plan's default mode.
func (p *Plan) Default() Mode { return p.asks[0].Mode }

// Waiting returns what a door asks while a free segment waits for its first card: the default where that asks
// for a card, else a card.
func (p *Plan) Waiting() Mode {
	if d := p.Default(); d.AsksCard() {
		return d
	}
	return Card
}

// Waits reports whether any segment waits for a first card.
func (p *Plan) Waits() bool {
	return slices.ContainsFunc(p.asks, func(a Ask) bool { return a.First })
}

// Limited reports whether any segment is limited to chosen levels.
func (p *Plan) Limited() bool {
	return slices.ContainsFunc(p.asks, func(a Ask) bool { return len(a.Levels) > 0 })
}

func (p *Plan) value(c *Calendar, d Day, minute int) int {
	i, _ := p.find(c, d, minute)
	return i
}

func (p *Plan) edge(c *Calendar, d Day, minute int) int {
	e := c.shape(d).edge(minute)
	today, yesterday := p.kinds(c, d, minute)
	for _, list := range [...][]piece{p.spill[yesterday], p.own[today]} {
		for _, s := range list {
			if s.start > minute {
				e = min(e, s.start)
			}
			if s.end > minute {
				e = min(e, s.end)
			}
		}
	}
	return e
}

// Next returns the first instant after i at which the plan asks something else, or Never.
func (p *Plan) Next(l Local, i Instant) Instant {
	if len(p.asks) == 1 {
		return Never
	}
	return next(l, p, i)
}
