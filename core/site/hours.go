package site

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"amberkeystone/core/hours"
)

// OnHoliday is what a plan or a schedule does on holidays of a type.
type OnHoliday string

// What they do.
const (
	AsWeekday   OnHoliday = "as weekday"   // as on an ordinary day
	DefaultMode OnHoliday = "default mode" // of a plan: its default mode all day
	Closed      OnHoliday = "closed"       // of a schedule: closed all day
	OwnHours    OnHoliday = "own"          // hours of its own
)

// HolidayType says what a sort of holiday means where a plan or a schedule has no answer of its own.
type HolidayType struct {
	ID        ID        `json:"id"`
	Name      string    `json:"name"`
	Rank      int       `json:"rank" doc:"Of two holidays on one date the higher rank decides"`
	Plans     OnHoliday `json:"plans" enum:"as weekday,default mode" doc:"What passage plans do that have no answer of their own"`
	Schedules OnHoliday `json:"schedules" enum:"as weekday,closed" doc:"What schedules do that have no answer of their own"`
}

// Holiday is a holiday at chosen sites.
type Holiday struct {
	ID      ID     `json:"id"`
	Name    string `json:"name"`
	TypeID  ID     `json:"typeId"`
	SiteIDs []ID   `json:"siteIds" doc:"The sites that it holds for; none listed: all"`
	hours.HolidayDates
	Start int `json:"start" doc:"Minute of the day from which it holds"`
	End   int `json:"end" doc:"Minute up to which it holds; 0 and 1440 are the whole day"`
}

// At reports whether the holiday holds at a site.
func (h *Holiday) At(site ID) bool { return len(h.SiteIDs) == 0 || slices.Contains(h.SiteIDs, site) }

// Whole reports whether the holiday takes the whole day.
func (h *Holiday) Whole() bool { return h.Start == 0 && h.End == hours.DayMinutes }

// ScheduleHoliday is a schedule's answer for a holiday type.
type ScheduleHoliday struct {
	TypeID  ID             `json:"typeId"`
	Do      OnHoliday      `json:"do" enum:"as weekday,closed,own"`
	Periods []hours.Period `json:"periods,omitempty" doc:"Of own"`
}

// PlanHoliday is a plan's answer for a holiday type.
type PlanHoliday struct {
	TypeID   ID              `json:"typeId"`
	Do       OnHoliday       `json:"do" enum:"as weekday,default mode,own"`
	Segments []hours.Segment `json:"segments,omitempty" doc:"Of own"`
}

// Does tells what the schedule does on holidays of a type: as it says, else as the type says.
func (s *Schedule) Does(t HolidayType) OnHoliday {
	for _, h := range s.Holidays {
		if h.TypeID == t.ID {
			return h.Do
		}
	}
	return t.Schedules
}

// Does tells what the plan does on holidays of a type: as it says, else as the type says.
func (p *Plan) Does(t HolidayType) OnHoliday {
	for _, h := range p.Holidays {
		if h.TypeID == t.ID {
			return h.Do
		}
	}
	return t.Plans
}

// DoorSet is a named set of doors.
type DoorSet struct {
	ID      ID     `json:"id"`
	Name    string `json:"name"`
	DoorIDs []ID   `json:"doorIds"`
}

// DatedChange asks for a passage mode at chosen doors in a window, once or recurring.
type DatedChange struct {
	ID       ID         `json:"id"`
	Name     string     `json:"name"`
	Mode     hours.Mode `json:"mode" enum:"free,card,PIN,card or PIN,card and PIN,barred"`
	DoorIDs  []ID       `json:"doorIds"`
	FloorIDs []ID       `json:"floorIds"`
	SiteIDs  []ID       `json:"siteIds"`
	SetIDs   []ID       `json:"setIds" doc:"Door sets"`
	From     string     `json:"from" doc:"Wall clock of the door, 2006-01-02T15:04"`
	Until    string     `json:"until" doc:"Wall clock of the door, 2006-01-02T15:04"`
	Recurs   string     `json:"recurs" doc:"RFC 5545 rule, FREQ=WEEKLY;BYDAY=FR; empty: once"`
	Except   []string   `json:"except,omitempty" doc:"First days on which it does not happen"`
	Ended    string     `json:"ended,omitempty" doc:"It was ended early: wall clock from which it no longer holds"`
}

// ParseWall reads a wall-clock moment, 2006-01-02T15:04.
func ParseWall(s string) (hours.Day, int, error) {
	t, err := time.Parse("2006-01-02T15:04", s)
	if err != nil {
		return 0, 0, fmt.Errorf("%q is not a moment; write it as 2026-11-27T17:00", s)
	}
	return hours.DayOf(t.Date()), t.Hour()*60 + t.Minute(), nil
}

// FirstGiver is who gives the first card.
type FirstGiver string

// Those who may give it.
const (
	Anybody FirstGiver = "anybody" // with access at the door
	Openers FirstGiver = "openers" // people whose level opens the day
)

// CountsFrom is from when a first card counts.
type CountsFrom string

// From when it counts.
const (
	FromStart    CountsFrom = "start"    // of the segment
	FromMinutes  CountsFrom = "minutes"  // some minutes before
	FromMidnight CountsFrom = "midnight" // any time since local midnight
)

// UntilFirst is what holds until the first card has come.
type UntilFirst string

// What holds until then.
const (
	CardAsUsual UntilFirst = "card"   // cards work
	NobodyElse  UntilFirst = "nobody" // only who can give the first card comes in
)

// HowOften is how often a first card is wanted.
type HowOften string

// How often.
const (
	EachSegment HowOften = "segment" // for each free segment
	OnceADay    HowOften = "day"     // one for the whole day
)

// HowLong is for how long a first card makes a door free.
type HowLong string

// For how long.
const (
	ToTheEnd   HowLong = "end"     // of the segment
	ForMinutes HowLong = "minutes" // for some minutes, outside a free segment too
)

// FirstCard says how the free segments of a door wait for a first card.
type FirstCard struct {
	Who       FirstGiver `json:"who" enum:"anybody,openers"`
	Counts    CountsFrom `json:"counts" enum:"start,minutes,midnight"`
	Before    int        `json:"before" doc:"Minutes before the start, where counts is minutes"`
	UntilThen UntilFirst `json:"untilThen" enum:"card,nobody"`
	Often     HowOften   `json:"often" enum:"segment,day"`
	Length    HowLong    `json:"length" enum:"end,minutes"`
	Minutes   int        `json:"minutes" doc:"How long it is free, where length is minutes"`
}

// UsualFirstCard lets anybody with access give the first card from the segment's start, free to its end.
func UsualFirstCard() FirstCard {
	return FirstCard{
		Who:       Anybody,
		Counts:    FromStart,
		Before:    30,
		UntilThen: CardAsUsual,
		Often:     EachSegment,
		Length:    ToTheEnd,
		Minutes:   10,
	}
}

// Words says in a sentence what the combination does, for a free segment that starts at a minute of the day.
func (f FirstCard) Words(start int) string {
	who := "anybody with access here"
	if f.Who == Openers {
		who = "somebody whose level opens the day"
	}
	from := "from " + hours.Clock(start)
	switch f.Counts {
	case FromMinutes:
		from = "from " + hours.Clock(max(0, start-f.Before))
	case FromMidnight:
		from = "from midnight"
	}
	words := fmt.Sprintf("Free from %s once %s has come in; a card counts %s", hours.Clock(start), who, from)
	if f.UntilThen == NobodyElse {
		words += ", and until then nobody else enters"
	} else {
		words += "; until then cards work"
	}
	if f.Length == ForMinutes {
		words += fmt.Sprintf(". Free for %d minutes, outside free hours too", f.Minutes)
	}
	if f.Often == OnceADay {
		words += ". Once a day is enough"
	}
	return words + ". Forgotten at midnight."
}

// Check says what is wrong with a first-card rule. The zero value is the usual one.
func (f FirstCard) Check() Faults {
	var fs Faults
	if f == (FirstCard{}) {
		return fs
	}
	fs.add(!oneOf(f.Who, Anybody, Openers), "firstCard.who", "choose who gives the first card: anybody or openers")
	fs.add(
		!oneOf(f.Counts, FromStart, FromMinutes, FromMidnight),
		"firstCard.counts",
		"choose from when it counts: start, minutes or midnight",
	)
	fs.add(
		!oneOf(f.UntilThen, CardAsUsual, NobodyElse),
		"firstCard.untilThen",
		"choose what holds until then: card or nobody",
	)
	fs.add(!oneOf(f.Often, EachSegment, OnceADay), "firstCard.often", "choose how often: segment or day")
	fs.add(!oneOf(f.Length, ToTheEnd, ForMinutes), "firstCard.length", "choose for how long: end or minutes")
	fs.within("FirstCard.before", "firstCard.before", f.Before)
	fs.within("FirstCard.minutes", "firstCard.minutes", f.Minutes)
	return fs
}

// Check says what is wrong with a holiday type.
func (t HolidayType) Check() Faults {
	var fs Faults
	fs.name(t.Name)
	fs.within("HolidayType.rank", "rank", t.Rank)
	fs.add(
		!oneOf(t.Plans, AsWeekday, DefaultMode),
		"plans",
		"passage plans stay in their default mode, or run as on a weekday",
	)
	fs.add(!oneOf(t.Schedules, AsWeekday, Closed), "schedules", "schedules are closed, or run as on a weekday")
	return fs
}

// Check says what is wrong with a holiday.
func (h Holiday) Check() Faults {
	var fs Faults
	fs.name(h.Name)
	fs.add(h.TypeID == 0, "typeId", "choose what type of holiday it is")
	if field, words := h.Valid(); field != "" {
		fs.add(true, field, "%s", words)
	}
	fs.add(len(h.Dates) > 2000, "dates", "at most 2000 dates; make it two holidays")
	fs.add(h.Start < 0 || h.Start >= hours.DayMinutes, "start", "a part of a day starts between 00:00 and 23:59")
	fs.add(
		h.End <= h.Start || h.End > hours.DayMinutes,
		"end",
		"a part of a day ends after it starts, at 24:00 at the latest",
	)
	return fs
}

// Check says what is wrong with a door set.
func (s DoorSet) Check() Faults {
	var fs Faults
	fs.name(s.Name)
	fs.add(len(s.DoorIDs) == 0, "doorIds", "choose at least one door")
	return fs
}

// Check says what is wrong with a dated change.
func (c DatedChange) Check() Faults {
	var fs Faults
	fs.name(c.Name)
	fs.add(
		len(c.DoorIDs)+len(c.FloorIDs)+len(c.SiteIDs)+len(c.SetIDs) == 0,
		"doorIds",
		"choose the doors, a floor, a site or a door set",
	)
	d, m, err := ParseWall(c.From)
	fs.add(err != nil, "from", "%v", err)
	d2, m2, err2 := ParseWall(c.Until)
	fs.add(err2 != nil, "until", "%v", err2)
	if err == nil && err2 == nil {
		length := int(d2-d)*hours.DayMinutes + m2 - m
		fs.add(length <= 0, "until", "the end must come after the start, %s", strings.Replace(c.From, "T", " ", 1))
		fs.add(length > 366*hours.DayMinutes, "until", "it lasts at most a year; a plan is the place for more")
		fs.add(d < hours.FirstDay || d2 >= hours.LastDay, "from", "between %s and %s", hours.FirstDay, hours.LastDay-1)
	}
	r, err := hours.ParseRecurrence(c.Recurs)
	fs.add(err != nil, "recurs", "%v", err)
	if err == nil && err2 == nil && r.Freq != hours.Once {
		fs.add(
			len(r.Ending(m, nil).Between(d, d, min(d+3700, hours.LastDay))) == 0,
			"recurs",
			"it never happens: no date meets the rule in ten years",
		)
	}
	for _, s := range c.Except {
		_, err := hours.ParseDay(s)
		fs.add(err != nil, "except", "%q is not a date; write it as 2026-11-27", s)
	}
	if c.Ended != "" {
		_, _, err := ParseWall(c.Ended)
		fs.add(err != nil, "ended", "%v", err)
	}
	return fs
}

func (fs *Faults) answers(n int, at func(i int) (ID, OnHoliday, error), words ...OnHoliday) {
	seen := map[ID]bool{}
	for i := range n {
		id, do, err := at(i)
		field := fmt.Sprintf("holidays[%d].", i)
		fs.add(id == 0, field+"typeId", "choose a holiday type")
		fs.add(seen[id], field+"typeId", "this holiday type is answered twice")
		seen[id] = true
		fs.add(!oneOf(do, words...), field+"do", "%q is not an answer; it is %s", do, joined(words, ", "))
		fs.add(err != nil, field+"periods", "%v", err)
	}
}

// Windows returns the windows of a dated change by the clock of a zone, ascending.
func (c *DatedChange) Windows(z *hours.Zone) []hours.Window {
	return c.WindowsFrom(z, hours.FirstDay, hours.LastDay)
}

// WindowsFrom returns those that begin before a day and have not ended before another: [from, to). They are by the wall
// clock: the hour that does not occur is in none, the one that comes twice may be in two.
func (c *DatedChange) WindowsFrom(z *hours.Zone, from, to hours.Day) []hours.Window {
	d, m, err := ParseWall(c.From)
	d2, m2, err2 := ParseWall(c.Until)
	r, err3 := hours.ParseRecurrence(c.Recurs)
	if err != nil || err2 != nil || err3 != nil {
		return nil
	}
	end := hours.Never
	if day, minute, err := ParseWall(c.Ended); err == nil {
		end = z.Resolve(day, minute)
	}
	var out []hours.Window
	for _, day := range r.Ending(m, z).Between(d, from-(d2-d), to) {
		if len(c.Except) > 0 && slices.Contains(c.Except, day.String()) {
			continue
		}
		for _, x := range z.Between(day, m, day+d2-d, m2) {
			w := hours.Window{From: x.From, Until: min(x.To, end), Mode: c.Mode, Change: int64(c.ID)}
			if w.From < w.Until {
				out = append(out, w)
			}
		}
	}
	return out
}

// Coming returns the first days on which it happens from a day on, those that are left out not among them. An end by
// UTC is read as by the wall clock.
func (c *DatedChange) Coming(from hours.Day) []hours.Day {
	start, minute, err := ParseWall(c.From)
	r, err2 := hours.ParseRecurrence(c.Recurs)
	if err != nil || err2 != nil {
		return nil
	}
	return slices.DeleteFunc(
		r.Ending(minute, nil).Between(start, max(start, from), hours.LastDay),
		func(d hours.Day) bool { return slices.Contains(c.Except, d.String()) },
	)
}

// End ends it at an instant: nothing of it holds from that minute on. Of several zones the earliest wall clock
// counts, so that it has ended at all of its doors. It reports whether there is a door to end it at.
func (c *DatedChange) End(zones []*hours.Zone, now hours.Instant) bool {
	c.Ended = ""
	for _, z := range zones {
		w := z.Wall(now)
		if wall := fmt.Sprintf("%sT%s", w.Day, hours.Clock(w.Minute)); c.Ended == "" || wall < c.Ended {
			c.Ended = wall
		}
	}
	return c.Ended != ""
}

// Places says where floors are and what door sets hold, ready for asking.
type Places struct {
	doors []ID               // in the order of the configuration
	cars  map[ID]*Car        // of those that are elevators
	floor map[ID]ID          // of each door
	site  map[ID]ID          // of each floor
	sets  map[ID]map[ID]bool // doors
}

// NewPlaces prepares the places of a configuration.
func NewPlaces(cfg *Config) *Places {
	p := &Places{
		doors: make([]ID, len(cfg.Doors)), floor: make(map[ID]ID, len(cfg.Doors)),
		site: make(map[ID]ID, len(cfg.Floors)), sets: make(map[ID]map[ID]bool, len(cfg.Sets)),
	}
	for i := range cfg.Doors {
		d := &cfg.Doors[i]
		p.doors[i], p.floor[d.ID] = d.ID, d.FloorID
		if d.Car != nil {
			if p.cars == nil {
				p.cars = map[ID]*Car{}
			}
			p.cars[d.ID] = d.Car
		}
	}
	for _, f := range cfg.Floors {
		p.site[f.ID] = f.SiteID
	}
	for _, s := range cfg.Sets {
		p.sets[s.ID] = member(s.DoorIDs)
	}
	return p
}

// Site returns the site of a floor.
func (p *Places) Site(floor ID) ID { return p.site[floor] }

func member(ids []ID) map[ID]bool {
	if len(ids) == 0 {
		return nil
	}
	in := make(map[ID]bool, len(ids))
	for _, id := range ids {
		in[id] = true
	}
	return in
}

// Wide returns the targets of a dated change besides single doors.
func (c *DatedChange) Wide() []Target {
	var out []Target
	for _, x := range []struct {
		kind TargetKind
		ids  []ID
	}{{AtFloor, c.FloorIDs}, {AtSite, c.SiteIDs}, {AtDoorSet, c.SetIDs}} {
		for _, id := range x.ids {
			out = append(out, Target{Kind: x.kind, ID: id})
		}
	}
	return out
}

// Doors returns the doors that a dated change is for, in the order of the configuration.
func (c *DatedChange) Doors(cfg *Config) []ID { return c.DoorsAmong(NewPlaces(cfg), cfg.Doors) }

// DoorsAmong returns those of some doors that a dated change is for, in their order.
func (c *DatedChange) DoorsAmong(p *Places, doors []Door) []ID {
	in, wide := member(c.DoorIDs), c.Wide()
	var out []ID
	for i := range doors {
		d := doors[i].ID
		if in[d] || slices.ContainsFunc(wide, func(t Target) bool { return p.Covers(t, d) }) {
			out = append(out, d)
		}
	}
	return out
}

func joined[T ~string](list []T, sep string) string {
	texts := make([]string, len(list))
	for i, t := range list {
		texts[i] = string(t)
	}
	return strings.Join(texts, sep)
}
