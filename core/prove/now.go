package prove

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Layer is one of the things that may decide what a door asks, highest first.
type Layer struct {
	Name    string `json:"name"`
	Words   string `json:"words"`
	Decides bool   `json:"decides"`
	Next    bool   `json:"next" doc:"It will decide soon"`
}

// Now is what a door does at a moment, and next.
type Now struct {
	Sentence string        `json:"sentence" doc:"Words in **stars** matter most"`
	Mode     hours.Mode    `json:"mode"`
	Waits    bool          `json:"waits" doc:"It would be free, and waits for a first card"`
	Until    hours.Instant `json:"until" doc:"Unix milliseconds; 0 is for ever"`
	Layers   []Layer       `json:"layers"`
}

// Live is what a controller says of a door now; it alone knows whether a first card has come.
type Live struct {
	Mode  hours.Mode
	Waits bool
	Until hours.Instant // when it asks something else; 0: not known
	Layer hours.Layer   // that decides there; above the dated changes only a controller knows of it
}

var modePhrases = map[hours.Mode]string{
	hours.Free: "The door is **free**", hours.Card: "A **card** is needed", hours.PIN: "A **PIN** is needed",
	hours.CardOrPIN: "A **card or a PIN** is needed", hours.CardAndPIN: "A **card and a PIN** are needed",
	hours.Barred: "The door is **barred**: nobody comes in, whatever they hold",
}

var thenPhrases = map[hours.Mode]string{
	hours.Free: "it goes **free**", hours.Card: "a **card** is needed", hours.PIN: "a **PIN** is needed",
	hours.CardOrPIN: "a **card or a PIN** is needed", hours.CardAndPIN: "a **card and a PIN** are needed",
	hours.Barred: "it is **barred**",
}

// Line returns what a door asks over time, or nil where there is no such door.
func (b *Book) Line(door site.ID) *hours.Timeline { return b.times.Door(door) }

// Times returns the hours of the configuration.
func (b *Book) Times() *site.Timetable { return b.times }

// Now tells what a door does at an instant, why, and what happens next. Live is what its controller says, or
// nil where it says nothing or the instant is not now.
func (b *Book) Now(door site.ID, at hours.Instant, live *Live) Now {
	line, d := b.times.Door(door), b.doors[door]
	if line == nil || b.plans[d.PlanID] == nil {
		return Now{
			Sentence: "This door follows no passage plan yet, so nothing is known of its hours.",
			Layers:   []Layer{},
		}
	}
	n := b.now(d, line, at, live)
	if d.Car != nil {
		n.Sentence = b.carSentence(d, &n, at)
	}
	return n
}

func (b *Book) now(d *site.Door, line *hours.Timeline, at hours.Instant, live *Live) Now {
	door := d.ID
	if live != nil && live.Layer > hours.DatedChange {
		return b.held(door, line, at, live)
	}
	m := line.At(at)
	n := Now{Mode: m.Mode}
	next := line.Next(at)
	if next != hours.Never {
		n.Until = next
	}
	first := ""
	if m.First {
		n.Mode, n.Waits = line.Plan.Waiting(), true
		first = ", and waits for its first card to go **free**"
	}
	minutes := d.FirstCard.Length == site.ForMinutes && live != nil && live.Mode == hours.Free &&
		m.Mode != hours.Free &&
		m.Layer != hours.DatedChange
	if m.First && live != nil && !live.Waits || minutes {
		n.Mode, n.Waits, first = live.Mode, false, ", since its first card has come"
		if live.Until != 0 {
			next, n.Until = live.Until, live.Until
		}
	}
	s := modePhrases[n.Mode] + " now" + b.limited(m) + first + b.because(door, line, m, at)
	if next == hours.Never {
		n.Sentence = strings.Replace(s, " now", " at all hours", 1) + "."
	} else {
		n.Sentence = s + fmt.Sprintf(", until **%s**; then %s.", shortStamp(line.Zone, at, next),
			b.then(door, line, at, next))
	}
	n.Layers = b.layers(door, line, at)
	return n
}

// held is Now of a door in which a layer decides that no plan knows of.
func (b *Book) held(door site.ID, line *hours.Timeline, at hours.Instant, live *Live) Now {
	layer := above[live.Layer]
	until := untilWords(line.Zone, at, live.Until)
	n := Now{
		Mode: live.Mode, Until: live.Until,
		Sentence: fmt.Sprintf("%s now, %s, **%s**.", modePhrases[live.Mode], layer.words, until),
		Layers:   []Layer{{Name: layer.name, Words: live.Mode.String() + " " + until, Decides: true}},
	}
	for _, l := range b.layers(door, line, at) {
		l.Decides = false
		n.Layers = append(n.Layers, l)
	}
	return n
}

// Moment returns the instant of a wall time at a door, and what is odd about it where the clocks change: it does not
// exist, or comes twice.
func (b *Book) Moment(door site.ID, day hours.Day, minute int) (at hours.Instant, odd string) {
	z := b.Zone(door)
	at = z.Resolve(day, minute)
	shown := z.Wall(at)
	if shown.Day != day || shown.Minute != minute {
		return at, fmt.Sprintf(
			"%s does not exist on %s, when the clocks go forward; %s is shown",
			hours.Clock(minute),
			day.Words(),
			hours.Clock(shown.Minute),
		)
	}
	if _, twice := z.Again(at); twice {
		return at, fmt.Sprintf(
			"%s comes twice on %s, when the clocks go back; the first is shown, and hours hold both times",
			hours.Clock(minute),
			day.Words(),
		)
	}
	return at, ""
}

// ModeAt returns what a door asks at an instant, as if no first card had come.
func (b *Book) ModeAt(door site.ID, at hours.Instant) hours.Mode {
	line := b.times.Door(door)
	if line == nil {
		return hours.Card
	}
	return line.Asked(line.At(at).Ask)
}

// limited names the levels that count where not all do.
func (b *Book) limited(m hours.Moment) string {
	switch len(m.Levels) {
	case 0:
		return ""
	case 1:
		return ", of the level **" + b.levelNames(m.Levels) + "** only,"
	}
	return ", of the levels **" + b.levelNames(m.Levels) + "** only,"
}

// because names the holiday or the dated change that decides.
func (b *Book) because(door site.ID, line *hours.Timeline, m hours.Moment, at hours.Instant) string {
	switch m.Layer {
	case hours.DatedChange:
		return " for **" + b.Name(site.ID(m.Change)) + "**"
	case hours.PlanHoliday:
		w := line.Wall(at)
		if h := b.times.Holiday(b.times.Site(door), w.Day, w.Minute); h != nil {
			return ", because of **" + h.Name + "**"
		}
	}
	return ""
}

// then says what begins at an instant, and until when.
func (b *Book) then(door site.ID, line *hours.Timeline, now, at hours.Instant) string {
	m := line.At(at)
	words := thenPhrases[m.Mode] + b.limited(m)
	if m.First {
		who := "somebody with access"
		if b.doors[door].FirstCard.Who == site.Openers {
			who = "somebody who opens the day"
		}
		words += ", once " + who + " has come in,"
	}
	words += b.because(door, line, m, at)
	if after := line.Next(at); after != hours.Never {
		words += fmt.Sprintf(" until **%s**", shortStamp(line.Zone, now, after))
	}
	return words
}

func (b *Book) layers(door site.ID, line *hours.Timeline, at hours.Instant) []Layer {
	m, z, w := line.At(at), line.Zone, line.Wall(at)
	d := b.doors[door]
	plan := b.plans[d.PlanID]
	out := []Layer{{Name: "Dated change", Words: "none in the next 30 days"}}
	soon := func(x hours.Window) bool { return x.From > at && x.From < at.Add(30*24*time.Hour) }
	if m.Layer == hours.DatedChange {
		out[0] = Layer{
			Name:    "Dated change",
			Words:   fmt.Sprintf("%s · %s", b.Name(site.ID(m.Change)), m.Mode),
			Decides: true,
		}
		if i := slices.IndexFunc(line.Windows, func(x hours.Window) bool { return x.Until > at }); i >= 0 {
			out[0].Words += " until " + shortStamp(z, at, line.Windows[i].Until)
		}
	} else if i := slices.IndexFunc(line.Windows, soon); i >= 0 {
		x := line.Windows[i]
		out[0].Words, out[0].Next = fmt.Sprintf("%s · starts %s", b.Name(site.ID(x.Change)), shortStamp(z, at, x.From)), true
	}
	ask, from := line.Plan.Ask(line.Calendar, w.Day, w.Minute)
	holiday := Layer{Name: "Holiday", Words: "none today"}
	if list := b.times.Holidays(b.times.Site(door), w.Day); len(list) > 0 {
		var names []string
		for _, h := range list {
			names = append(names, holidayWords(h))
		}
		holiday.Words = strings.Join(names, ", ") + " · "
		switch {
		case from == hours.FromHoliday:
			holiday.Words += ask.String()
		case b.times.Holiday(b.times.Site(door), w.Day, w.Minute) == nil:
			holiday.Words += "not at this hour"
		default:
			holiday.Words += "as on a weekday"
		}
	}
	holiday.Decides = m.Layer == hours.PlanHoliday
	week := Layer{Name: "Plan, week", Words: "nothing is painted at this hour", Decides: m.Layer == hours.PlanWeek}
	if from == hours.FromWeek {
		until := "for ever"
		if next := line.Plan.Next(line.Local, at); next != hours.Never {
			until = "until " + shortStamp(z, at, next)
		}
		week.Words = fmt.Sprintf("%s · %s %s", plan.Name, ask.String(), until)
	}
	if len(ask.Levels) > 0 {
		week.Words += " · only " + b.levelNames(ask.Levels)
	}
	return append(
		out,
		holiday,
		week,
		Layer{
			Name:    "Plan, otherwise",
			Words:   fmt.Sprintf("%s · %s", plan.Name, plan.Default),
			Decides: m.Layer == hours.PlanDefault,
		},
	)
}

func (b *Book) levelNames(ids []int64) string {
	var names []string
	for _, id := range ids {
		names = append(names, b.Name(site.ID(id)))
	}
	return strings.Join(names, ", ")
}

// holidayWords names a holiday, with its hours where it takes part of the day.
func holidayWords(h *site.Holiday) string {
	if h.Whole() {
		return h.Name
	}
	return fmt.Sprintf("%s %s", h.Name, hours.Period{Start: h.Start, End: h.End})
}

// Way is one way to come in through a door: a level with its schedule, and how many hold it.
type Way struct {
	LevelID    site.ID `json:"levelId"`
	Level      string  `json:"level"`
	ScheduleID site.ID `json:"scheduleId"`
	Schedule   string  `json:"schedule"`
	People     int     `json:"people" doc:"How many people hold the level"`
	Floors     string  `json:"floors,omitempty" doc:"Of an elevator: which floors it releases"`
}

// Holders counts the people who hold each level, through themselves, a department or a level that contains it.
func (b *Book) Holders() map[site.ID]int {
	out := map[site.ID]int{}
	for _, p := range b.Effective.People {
		for i, g := range p.Levels {
			if !slices.ContainsFunc(p.Levels[:i], func(o site.Grant) bool { return o.LevelID == g.LevelID }) {
				out[g.LevelID]++
			}
		}
	}
	return out
}

// Ways lists the levels that open a door, most people first.
func (b *Book) Ways(door site.ID) []Way { return b.ways(site.NewPlaces(b.Effective), door) }

// WaysAdded lists the levels that open a door as soon as it is added at a floor: by the floor, its site, or everything.
func (b *Book) WaysAdded(floor site.ID) []Way {
	const added site.ID = 1 << 60
	c := *b.Effective
	c.Doors = append(slices.Clone(c.Doors), site.Door{ID: added, FloorID: floor})
	return b.ways(site.NewPlaces(&c), added)
}

func (b *Book) ways(places *site.Places, door site.ID) []Way {
	holders := b.Holders()
	out := []Way{}
	for i := range b.Effective.Levels {
		l := &b.Effective.Levels[i]
		for _, e := range places.Entries(l) {
			if e.DoorID == door {
				floors := ""
				if d := b.doors[door]; d != nil && d.Car != nil {
					floors = b.stopsWords(d.Car, &e.Stops)
				}
				out = append(out, Way{l.ID, b.LevelWords(l.ID), e.ScheduleID, b.Name(e.ScheduleID), holders[l.ID], floors})
			}
		}
	}
	slices.SortStableFunc(out, func(x, y Way) int { return y.People - x.People })
	return out
}

// Mark is a stretch of one day of a real week at a door, in wall-clock minutes.
type Mark struct {
	Start   int        `json:"start"`
	End     int        `json:"end"`
	Mode    hours.Mode `json:"mode"`
	First   bool       `json:"first" doc:"Free once a first card has come"`
	Change  site.ID    `json:"change" doc:"The dated change that decides, or 0"`
	Name    string     `json:"name" doc:"Of the dated change"`
	Holiday bool       `json:"holiday" doc:"The day's holiday type decides"`
	Only    string     `json:"only" doc:"The access levels to which it is limited"`
}

// DayHoliday is a holiday of a real day.
type DayHoliday struct {
	ID     site.ID `json:"id"`
	Name   string  `json:"name" doc:"With its hours where it takes part of the day"`
	TypeID site.ID `json:"typeId"`
	Type   string  `json:"type"`
}

// RealDay is one date at a door.
type RealDay struct {
	Date     string       `json:"date"`
	Marks    []Mark       `json:"marks"`
	Holidays []DayHoliday `json:"holidays" doc:"The highest rank first"`
	Clocks   string       `json:"clocks" doc:"What the clocks do on this date, or nothing"`
}

// RealWeek returns what a door asks on the seven dates from a day on, by the clock on the wall.
func (b *Book) RealWeek(door site.ID, from hours.Day) []RealDay {
	line := b.times.Door(door)
	if line == nil {
		return nil
	}
	out := make([]RealDay, 7)
	for i := range out {
		out[i] = b.realDay(door, line, from+hours.Day(i))
	}
	return out
}

// realDay cuts a day where the door asks something else, where another layer decides, and where the clocks change.
func (b *Book) realDay(door site.ID, line *hours.Timeline, day hours.Day) RealDay {
	out := RealDay{Date: day.String(), Marks: []Mark{}, Holidays: []DayHoliday{}}
	for _, h := range b.times.Holidays(b.times.Site(door), day) {
		out.Holidays = append(out.Holidays, DayHoliday{h.ID, holidayWords(h), h.TypeID, b.Name(h.TypeID)})
	}
	begin, end := line.Resolve(day, 0), line.Resolve(day+1, 0)
	for at := begin; at < end; {
		m := line.At(at)
		offset, change := line.OffsetAt(at)
		to := min(line.Next(at), change, end, b.nextWindow(line, at))
		start := line.Wall(at).Minute
		mark := Mark{
			Start:   start,
			End:     start + int((to-at)/hours.Minute),
			Mode:    m.Mode,
			First:   m.First,
			Holiday: m.Layer == hours.PlanHoliday,
		}
		if m.Layer == hours.DatedChange {
			mark.Change, mark.Name = site.ID(m.Change), b.Name(site.ID(m.Change))
		}
		if len(m.Levels) > 0 {
			mark.Only = b.levelNames(m.Levels)
		}
		if to == change && to < end {
			after, _ := line.OffsetAt(to)
			out.Clocks = clocksWords(line.Zone, to, int(after.Seconds-offset.Seconds)/60)
		}
		out.Marks = append(out.Marks, mark)
		at = to
	}
	return out
}

// nextWindow is where a dated change begins or ends next; its edges are drawn even where the mode stays.
func (b *Book) nextWindow(line *hours.Timeline, at hours.Instant) hours.Instant {
	for _, w := range line.Windows {
		if w.From > at {
			return w.From
		}
		if w.Until > at {
			return w.Until
		}
	}
	return hours.Never
}

// clocksWords says which way the clocks go at an instant, by how many minutes.
func clocksWords(z *hours.Zone, at hours.Instant, minutes int) string {
	after := z.Wall(at).Minute
	before := ((after-minutes)%hours.DayMinutes + hours.DayMinutes) % hours.DayMinutes
	if minutes > 0 {
		return fmt.Sprintf("clocks go forward, %s becomes %s", hours.Clock(before), hours.Clock(after))
	}
	return fmt.Sprintf("clocks go back, %s becomes %s", hours.Clock(before), hours.Clock(after))
}
