package prove

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Where is where somebody may go on a day: the doors that something they hold leads through.
type Where struct {
	Date     string      `json:"date" doc:"2006-01-02"`
	Words    string      `json:"words" doc:"The date in words"`
	Sentence string      `json:"sentence" doc:"Words in **stars** matter most"`
	Now      int         `json:"now" doc:"How many doors they may pass now"`
	Week     int         `json:"week" doc:"How many within seven days from now"`
	Doors    []WhereDoor `json:"doors" doc:"In the order of the building"`
	Held     []HeldLine  `json:"held" doc:"All that they hold, and why"`
}

// HeldLine is something that somebody holds, and why.
type HeldLine struct {
	LevelID    site.ID `json:"levelId" doc:"Below 0: a place that was given without a level"`
	Level      string  `json:"level"`
	By         string  `json:"by" doc:"The department or the level by which they hold it; empty: it was given to them"`
	Department site.ID `json:"department" doc:"0: not through one"`
	Dates      string  `json:"dates" doc:"From when and until when, in words"`
	Doors      int     `json:"doors" doc:"Through how many doors it leads"`
	Over       bool    `json:"over" doc:"Its dates are past"`
}

// WhereDoor is one of the doors.
type WhereDoor struct {
	ID      site.ID   `json:"id"`
	Name    string    `json:"name"`
	FloorID site.ID   `json:"floorId"`
	Floor   string    `json:"floor" doc:"With its site where there are several"`
	Open    []Piece   `json:"open" doc:"When they may come in, by the wall clock of the door"`
	Through []Through `json:"through"`
	Floors  string    `json:"floors,omitempty" doc:"Of an elevator: which floors they reach, at some hour"`
	Now     bool      `json:"now"`
	Next    string    `json:"next" doc:"Until when they may come in, else when they may next, else why not"`
	Minute  int       `json:"minute" doc:"The minute of the day there now; -1 on other days"`
}

// Piece is a part of a day, in minutes of the wall clock.
type Piece struct {
	Start int  `json:"start"`
	End   int  `json:"end"`
	Free  bool `json:"free" doc:"The door is free then: nobody needs anything"`
}

// Through is a level by which somebody comes through a door, and why they hold it.
type Through struct {
	LevelID    site.ID `json:"levelId" doc:"Below 0: a place that was given without a level"`
	Level      string  `json:"level"`
	ScheduleID site.ID `json:"scheduleId"`
	Schedule   string  `json:"schedule"`
	By         string  `json:"by" doc:"The department or the level by which they hold it; empty: themselves"`
	Dates      string  `json:"dates" doc:"From when and until when, in words"`
}

// Where tells where a person may go on a day; day 0 is today at each door. The person is as a configuration says them,
// and need not be in it.
func (b *Book) Where(p *site.Person, day hours.Day, now hours.Instant) Where {
	w := b.where(b.Config.Whole(p), b.Config.Holdings(p), false, day, now)
	w.Sentence = fmt.Sprintf("May pass **%s** now, **%d** at some time in the next seven days.",
		count(w.Now, "door", "doors"), w.Week)
	switch {
	case p.Suspended:
		w.Sentence = "**Suspended**: their cards open nothing."
	case len(w.Doors) == 0 && len(p.Levels)+len(p.DepartmentIDs) == 0:
		w.Sentence = "Holds **nothing yet**: no access level, no place, no department."
	case len(w.Doors) == 0:
		w.Sentence = "What they hold leads through **no door**."
	case len(p.Credentials) == 0 && p.PIN == nil:
		w.Sentence = "Has **neither card nor PIN**: nothing opens but doors that are free."
	}
	return w
}

// WhereLevels tells where levels lead on a day: where somebody goes who holds them and can show whatever is asked.
func (b *Book) WhereLevels(day hours.Day, now hours.Instant, levels ...site.ID) Where {
	var held []site.Holding
	p := &site.Person{}
	inside := b.Config.Containment()
	for _, l := range levels {
		for i, id := range inside.Of(l) {
			h := site.Holding{LevelID: id}
			if i > 0 {
				h.OuterID = l
			}
			held = append(held, h)
			p.Levels = append(p.Levels, site.Grant{LevelID: id})
		}
	}
	w := b.where(p, held, true, day, now)
	w.Sentence = fmt.Sprintf("Leads through **%s** now, **%d** at some time in the next seven days.",
		count(w.Now, "door", "doors"), w.Week)
	if len(w.Doors) == 0 {
		w.Sentence = "Leads through **no door** yet."
	}
	return w
}

func count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

func (b *Book) where(p *site.Person, held []site.Holding, all bool, day hours.Day, now hours.Instant) Where {
	out := Where{Doors: []WhereDoor{}, Held: []HeldLine{}}
	by, ways, stops := map[site.ID][]site.Holding{}, map[site.ID][]way{}, map[site.ID]*site.StopSet{}
	for _, h := range held {
		by[h.LevelID] = append(by[h.LevelID], h)
	}
	places := site.NewPlaces(b.Config)
	for _, h := range held {
		out.Held = append(out.Held, b.heldLine(places, h, now))
	}
	for id := range by {
		l := b.levelOf(id)
		for _, e := range places.Entries(&l) {
			s := b.times.Schedules[e.ScheduleID]
			if d := b.doors[e.DoorID]; d != nil && d.Car != nil {
				if stops[e.DoorID] == nil {
					stops[e.DoorID] = new(site.StopSet)
				}
				stops[e.DoorID].Join(&e.Stops)
			}
			if s != nil && e.Side.Takes(false) {
				ways[e.DoorID] = append(ways[e.DoorID], way{id, e.ScheduleID, s})
			}
		}
	}
	for _, d := range b.InOrder() {
		list := ways[d.ID]
		if len(list) == 0 {
			continue
		}
		slices.SortFunc(list, func(a, b way) int { return cmp.Or(cmp.Compare(b.level, a.level), cmp.Compare(a.id, b.id)) })
		h := b.hand(p, d, list, all)
		x := b.whereDoor(h, by, day, now)
		if d.Car != nil {
			x.Floors = b.stopsWords(d.Car, stops[d.ID])
		}
		if x.Now {
			out.Now++
		}
		if in, at := h.next(now, now+7*hours.FullDay); in || at < hours.Never {
			out.Week++
		}
		out.Doors = append(out.Doors, x)
		if out.Date == "" {
			out.Date, out.Words = dayAt(h.line.Zone, day, now).String(), dayAt(h.line.Zone, day, now).Words()
		}
	}
	if out.Date == "" {
		z := &hours.Zone{Name: "UTC"}
		if len(b.Config.Doors) > 0 {
			z = b.Zone(b.Config.Doors[0].ID)
		}
		out.Date, out.Words = dayAt(z, day, now).String(), dayAt(z, day, now).Words()
	}
	return out
}

// heldBy says by what somebody holds a level; nothing where it was given to them.
func (b *Book) heldBy(h site.Holding) string {
	var why []string
	if h.OuterID != 0 {
		why = append(why, "inside "+b.Name(h.OuterID))
	}
	if h.ScreeningID != 0 {
		why = append(why, "through "+b.Name(h.ScreeningID)+", until they are cleared too")
	}
	if h.DepartmentID != 0 {
		why = append(why, "through "+b.Name(h.DepartmentID))
	}
	return strings.Join(why, ", ")
}

func (b *Book) heldLine(places *site.Places, h site.Holding, now hours.Instant) HeldLine {
	l := b.levelOf(h.LevelID)
	doors := map[site.ID]bool{}
	for _, e := range places.Entries(&l) {
		doors[e.DoorID] = true
	}
	_, until, bounded := h.Dates.Walls()
	return HeldLine{
		LevelID: h.LevelID, Level: b.LevelWords(h.LevelID), By: b.heldBy(h), Department: h.DepartmentID,
		Dates: h.Dates.Words(),
		Doors: len(doors), Over: bounded[1] && until < int64(now/hours.Minute)-hours.DayMinutes,
	}
}

func dayAt(z *hours.Zone, day hours.Day, now hours.Instant) hours.Day {
	if day == 0 {
		return z.Wall(now).Day
	}
	return day
}

// levelOf is a level, also one of its own that is only thought of.
func (b *Book) levelOf(id site.ID) site.Level {
	if t, schedule, ok := id.Own(); ok {
		return site.Level{ID: id, Entries: []site.Entry{{Target: t, ScheduleID: schedule}}}
	}
	if l := b.Config.Level(id); l != nil {
		return *l
	}
	return site.Level{}
}

// LevelWords names a level, also one of its own that is only thought of.
func (b *Book) LevelWords(id site.ID) string {
	if t, schedule, ok := id.Own(); ok {
		return b.TargetWords(t) + " during " + b.Name(schedule)
	}
	return b.Name(id)
}

// InOrder are the doors in the order of the building: by site, from the highest floor down, as they are ordered there.
func (b *Book) InOrder() []*site.Door {
	place, floors := map[site.ID]int{}, map[site.ID]site.Floor{}
	for i, s := range b.Config.Sites {
		place[s.ID] = i
	}
	for _, f := range b.Config.Floors {
		floors[f.ID] = f
	}
	out := make([]*site.Door, len(b.Config.Doors))
	for i := range b.Config.Doors {
		out[i] = &b.Config.Doors[i]
	}
	slices.SortStableFunc(out, func(x, y *site.Door) int {
		f, g := floors[x.FloorID], floors[y.FloorID]
		return cmp.Or(cmp.Compare(place[f.SiteID], place[g.SiteID]), cmp.Compare(g.Level, f.Level),
			cmp.Compare(x.Order, y.Order))
	})
	return out
}

// hand is somebody before a door, asked at any instant.
type hand struct {
	book   *Book
	person *site.Person // with all that they hold
	place  *image.Place
	n      int // of the door at its controller
	line   *hours.Timeline
	ways   []way
	all    bool // they can show whatever is asked
	edges  []hours.Instant
}

type way struct {
	level, id site.ID
	schedule  *hours.Schedule
}

func (b *Book) hand(p *site.Person, d *site.Door, ways []way, all bool) *hand {
	h := &hand{book: b, person: p, line: b.times.Door(d.ID), ways: ways, all: all}
	if all {
		c := b.core(d.ControllerID)
		h.n = slices.IndexFunc(c.Doors, func(x site.Door) bool { return x.ID == d.ID })
		h.place = c.Place(h.n)
	} else {
		_, h.place, h.n = b.alone(p, d)
	}
	dates := []site.Dates{p.Dates}
	for _, g := range p.Levels {
		dates = append(dates, g.Dates)
	}
	for _, c := range p.Credentials {
		dates = append(dates, c.Dates)
	}
	if b.Cleared != nil && len(p.Screened()) > 0 {
		for _, c := range b.Cleared(p.ID) {
			h.edges = append(h.edges, c.At, c.Until)
		}
	}
	for _, x := range dates {
		if x != (site.Dates{}) {
			from, until := x.Span(h.line.Zone)
			h.edges = append(h.edges, from, until)
		}
	}
	return h
}

// at tells whether the door lets them in at an instant, whether it is free then, and a later instant before which
// neither changes.
func (h *hand) at(t hours.Instant) (in, free bool, until hours.Instant) {
	ask, until := h.place.Asks.At(t)
	for _, w := range h.ways {
		until = min(until, w.schedule.Next(h.line.Local, t))
	}
	for _, edge := range h.edges {
		if edge > t {
			until = min(until, edge)
		}
	}
	until = max(until, t+1)
	if ask.Mode == hours.Free {
		return true, true, until
	}
	if h.all {
		return ask.Mode != hours.Barred && slices.ContainsFunc(h.ways, func(w way) bool {
			return w.schedule.OpenAt(h.line.Local, t) && ask.Counts(int64(w.level))
		}), false, until
	}
	q := pass.Request{At: t, Door: h.n, Mode: ask.Mode, Levels: ask.Levels}
	for _, o := range offers(&h.book.Config.Settings, h.person, q) {
		x := pass.Pass{Request: o.Request}
		h.place.Gates[0].Decide(&x)
		if x.Reason.Granted() || x.Reason == pass.WaitingForMore { // with the others whom a rule wants
			return true, false, until
		}
	}
	return false, false, until
}

// next tells whether they may come in at an instant, and when that is over; else when they may for the first time
// before an end, or Never.
func (h *hand) next(t, end hours.Instant) (in bool, at hours.Instant) {
	now, _, until := h.at(t)
	for until < end {
		if in, _, next := h.at(until); in != now {
			return now, until
		} else {
			until = next
		}
	}
	return now, hours.Never
}

// pieces cuts a day into the parts in which they may come in.
func (h *hand) pieces(day hours.Day) []Piece {
	out := []Piece{}
	begin, end := h.line.Resolve(day, 0), h.line.Resolve(day+1, 0)
	for t := begin; t < end; {
		in, free, until := h.at(t)
		_, change := h.line.OffsetAt(t)
		until = min(until, end, change)
		if start := h.line.Wall(t).Minute; in {
			p := Piece{start, start + int((until-t)/hours.Minute), free}
			if n := len(out); n > 0 && out[n-1].End == p.Start && out[n-1].Free == p.Free {
				out[n-1].End = p.End
			} else {
				out = append(out, p)
			}
		}
		t = until
	}
	return out
}

func (b *Book) whereDoor(h *hand, by map[site.ID][]site.Holding, day hours.Day, now hours.Instant) WhereDoor {
	d := b.doors[h.place.ID]
	z := h.line.Zone
	today := z.Wall(now)
	x := WhereDoor{
		ID: d.ID, Name: d.Name, FloorID: d.FloorID, Floor: b.TargetWords(site.Target{Kind: site.AtFloor, ID: d.FloorID}),
		Open: h.pieces(dayAt(z, day, now)), Through: []Through{}, Minute: -1,
	}
	if dayAt(z, day, now) == today.Day {
		x.Minute = today.Minute
	}
	for _, w := range h.ways {
		for _, held := range by[w.level] {
			x.Through = append(x.Through, Through{
				LevelID: w.level, Level: b.LevelWords(w.level), ScheduleID: w.id, Schedule: b.Name(w.id), By: b.heldBy(held),
				Dates: held.Dates.Words(),
			})
		}
	}
	in, at := h.next(now, now+8*hours.FullDay)
	x.Now = in
	switch {
	case in && at == hours.Never:
		x.Next = "at all hours"
	case in:
		x.Next = "until " + shortStamp(z, now, at)
	case at != hours.Never:
		x.Next = shortStamp(z, now, at)
	case h.all:
		x.Next = "not in the next week"
	default:
		x.Next = "not in the next week"
		if a, err := b.askAs(h.person, d, now); err == nil && !a.Granted && a.Reason != pass.OutsideHours {
			x.Next = a.Reason.Words()
		}
	}
	return x
}

// Anybody is somebody who is only thought of: who holds some levels and can show whatever a door asks.
func (b *Book) Anybody(id site.ID, levels ...site.ID) *site.Person {
	p := &site.Person{ID: id, PIN: new(cards.PINHash), Duress: new(cards.PINHash), PINInstead: true}
	for _, k := range site.CredentialKinds[1:] {
		p.Credentials = append(p.Credentials, site.Credential{Kind: k, Value: "-", Status: site.Active})
	}
	for _, f := range b.Config.Settings.Cards {
		c := site.Credential{
			Kind: site.Card, Format: f.Format, Value: cards.Number(f.Format, first(f.Facilities), 1), Status: site.Active,
		}
		p.Credentials = append(p.Credentials, c)
	}
	for _, l := range levels {
		p.Levels = append(p.Levels, site.Grant{LevelID: l})
	}
	return p
}

func first(list []uint64) uint64 {
	if len(list) == 0 {
		return 0
	}
	return list[0]
}
