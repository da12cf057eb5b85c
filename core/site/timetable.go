package site

import (
	"encoding/binary"
	"maps"
	"slices"

	"amberkeystone/core/hours"
)

// Timetable is the hours of a configuration, ready for asking.
type Timetable struct {
	Schedules map[ID]*hours.Schedule
	Plans     map[ID]*hours.Plan
	doors     map[ID]*hours.Timeline
	sites     map[ID]ID // of each door
	calendars map[ID]*hours.Calendar
	holidays  map[ID][]*Holiday // by site, in the order of its calendar
}

// NewTimetable prepares the hours of a configuration. Zones are those of the controllers.
func NewTimetable(c *Config, zone func(controller ID) *hours.Zone) *Timetable {
	return NewTimetableFor(c, zone, hours.FirstDay, hours.LastDay)
}

// NewTimetableFor prepares the hours of the days [from, to); it knows no holiday and no dated change of other days.
func NewTimetableFor(c *Config, zone func(controller ID) *hours.Zone, from, to hours.Day) *Timetable {
	t := &Timetable{
		Schedules: map[ID]*hours.Schedule{}, Plans: map[ID]*hours.Plan{}, doors: make(map[ID]*hours.Timeline, len(c.Doors)),
		sites: make(map[ID]ID, len(c.Doors)), calendars: map[ID]*hours.Calendar{}, holidays: map[ID][]*Holiday{},
	}
	for i := range c.Schedules {
		s := CompileSchedule(&c.Schedules[i], c.Types)
		t.Schedules[c.Schedules[i].ID] = &s
	}
	for i := range c.Plans {
		p := CompilePlan(&c.Plans[i], c.Types)
		t.Plans[c.Plans[i].ID] = &p
	}
	places := NewPlaces(c)
	add := func(site ID) {
		if _, ok := t.calendars[site]; !ok {
			t.calendars[site], t.holidays[site] = calendar(c, site, from, to)
		}
	}
	for _, x := range c.Sites {
		add(x.ID)
	}
	for _, f := range c.Floors { // an image lists no sites
		add(f.SiteID)
	}
	changes := map[ID][]int{}
	for i := range c.Changes {
		for _, d := range c.Changes[i].DoorsAmong(places, c.Doors) {
			changes[d] = append(changes[d], i)
		}
	}
	laid := overlays{c: c, from: from, to: to, windows: map[placed][]hours.Window{}, flat: map[laidOver][]hours.Window{}}
	always := hours.CompilePlan(hours.Pattern{})
	for i := range c.Doors {
		d := &c.Doors[i]
		t.sites[d.ID] = places.Site(d.FloorID)
		z := zone(d.ControllerID)
		line := &hours.Timeline{
			Plan:  t.Plans[d.PlanID],
			Local: hours.Local{Zone: z, Calendar: t.calendars[t.sites[d.ID]]},
		}
		if line.Plan == nil {
			line.Plan = &always
		}
		line.Windows = laid.over(z, changes[d.ID])
		t.doors[d.ID] = line
	}
	return t
}

// overlays are the windows of dated changes, laid over each other once for all doors that have the same ones.
type overlays struct {
	c        *Config
	from, to hours.Day
	windows  map[placed][]hours.Window
	flat     map[laidOver][]hours.Window
}

type placed struct {
	change int // its place in the configuration
	zone   *hours.Zone
}

type laidOver struct {
	changes string // their places, as bytes
	zone    *hours.Zone
}

// over returns the windows of some changes in a zone, cut so that none overlap.
func (o *overlays) over(z *hours.Zone, changes []int) []hours.Window {
	if len(changes) == 0 {
		return nil
	}
	var places []byte
	for _, k := range changes {
		places = binary.AppendUvarint(places, uint64(k))
	}
	key := laidOver{string(places), z}
	flat, ok := o.flat[key]
	if !ok {
		var all []hours.Window
		for _, k := range changes {
			p := placed{k, z}
			if _, ok := o.windows[p]; !ok {
				o.windows[p] = o.c.Changes[k].WindowsFrom(z, o.from, o.to)
			}
			all = append(all, o.windows[p]...)
		}
		flat = hours.Flatten(all)
		o.flat[key] = flat
	}
	return flat
}

// With returns the timetable of a configuration that differs in some plans and schedules only.
func (t *Timetable) With(c *Config, plans, schedules map[ID]bool) *Timetable {
	out := *t
	if len(schedules) > 0 {
		out.Schedules = maps.Clone(t.Schedules)
		for id := range schedules {
			delete(out.Schedules, id)
		}
		for i := range c.Schedules {
			if x := &c.Schedules[i]; schedules[x.ID] {
				s := CompileSchedule(x, c.Types)
				out.Schedules[x.ID] = &s
			}
		}
	}
	if len(plans) == 0 {
		return &out
	}
	out.Plans, out.doors = maps.Clone(t.Plans), maps.Clone(t.doors)
	for i := range c.Plans {
		if x := &c.Plans[i]; plans[x.ID] {
			p := CompilePlan(x, c.Types)
			out.Plans[x.ID] = &p
		}
	}
	for i := range c.Doors {
		if d := &c.Doors[i]; plans[d.PlanID] && out.Plans[d.PlanID] != nil {
			line := *t.doors[d.ID]
			line.Plan = out.Plans[d.PlanID]
			out.doors[d.ID] = &line
		}
	}
	return &out
}

// Door returns what a door asks over time, or nil where there is no such door. At a stop an elevator asks what it asks
// at all of them.
func (t *Timetable) Door(id ID) *hours.Timeline { return t.doors[doorOf(id)] }

// Site returns the site of a door.
func (t *Timetable) Site(door ID) ID { return t.sites[doorOf(door)] }

func doorOf(id ID) ID {
	if car, _, ok := id.Stop(); ok {
		return car
	}
	return id
}

// Calendar returns the holidays of a site.
func (t *Timetable) Calendar(site ID) *hours.Calendar { return t.calendars[site] }

// Holiday returns the holiday that decides at a minute of a day at a site, or nil.
func (t *Timetable) Holiday(site ID, d hours.Day, minute int) *Holiday {
	if i, ok := t.calendars[site].Decides(d, minute); ok {
		return t.holidays[site][i]
	}
	return nil
}

// Holidays returns every holiday of a day at a site, the highest rank first.
func (t *Timetable) Holidays(site ID, d hours.Day) []*Holiday {
	var out []*Holiday
	for _, i := range t.calendars[site].On(d) {
		out = append(out, t.holidays[site][i])
	}
	return out
}

// calendar lays out the holidays of one site, and lists them in the calendar's order.
func calendar(c *Config, site ID, from, to hours.Day) (*hours.Calendar, []*Holiday) {
	index := map[ID]int{}
	ranks := make([]int, len(c.Types))
	for i, t := range c.Types {
		index[t.ID], ranks[i] = i, t.Rank
	}
	var list []hours.Holiday
	var all []*Holiday
	for i := range c.Holidays {
		h := &c.Holidays[i]
		if k, ok := index[h.TypeID]; ok && h.At(site) {
			list = append(list, hours.Holiday{Type: k, Dates: h.HolidayDates, Start: h.Start, End: h.End})
			all = append(all, h)
		}
	}
	return hours.NewCalendar(list, ranks, from, to), all
}

// CompileSchedule prepares a schedule. What it does not say of a holiday type follows the type; Always and
// Never are the same on every day.
func CompileSchedule(s *Schedule, types []HolidayType) hours.Schedule {
	if s.Fixed {
		return hours.CompileWeek(s.Week)
	}
	rows := make([]hours.Row[hours.Period], len(types))
	for i, t := range types {
		if t.Schedules == Closed {
			rows[i].Answer = hours.Resting
		}
		if k := slices.IndexFunc(s.Holidays, func(h ScheduleHoliday) bool { return h.TypeID == t.ID }); k >= 0 {
			rows[i] = hours.Row[hours.Period]{Answer: answers[s.Holidays[k].Do], Own: s.Holidays[k].Periods}
		}
	}
	return hours.CompileWeek(s.Week, rows...)
}

// CompilePlan prepares a plan. What it does not say of a holiday type follows the type.
func CompilePlan(p *Plan, types []HolidayType) hours.Plan {
	rows := make([]hours.Row[hours.Segment], len(types))
	for i, t := range types {
		if t.Plans == DefaultMode {
			rows[i].Answer = hours.Resting
		}
		if k := slices.IndexFunc(p.Holidays, func(h PlanHoliday) bool { return h.TypeID == t.ID }); k >= 0 {
			rows[i] = hours.Row[hours.Segment]{Answer: answers[p.Holidays[k].Do], Own: p.Holidays[k].Segments}
		}
		rows[i].Nobody = t.Schedules == Closed
	}
	return hours.CompilePlan(p.Pattern, rows...)
}

var answers = map[OnHoliday]hours.Answer{
	AsWeekday:   hours.AsWeekday,
	DefaultMode: hours.Resting,
	Closed:      hours.Resting,
	OwnHours:    hours.Own,
}
