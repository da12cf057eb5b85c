package site

import (
	"fmt"
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
	type placed struct {
		change int
		zone   *hours.Zone
	}
	windows, flat := map[placed][]hours.Window{}, map[string][]hours.Window{}
	always := hours.CompilePlan(hours.Pattern{})
	for i := range c.Doors {
		d := &c.Doors[i]
		t.sites[d.ID] = places.Site(d.FloorID)
		z := zone(d.ControllerID)
		line := &hours.Timeline{Plan: t.Plans[d.PlanID], Local: hours.Local{Zone: z, Calendar: t.calendars[t.sites[d.ID]]}}
		if line.Plan == nil {
			line.Plan = &always
		}
		if list := changes[d.ID]; len(list) > 0 {
			key := fmt.Sprintf("%p %d", z, list)
			if _, ok := flat[key]; !ok {
				var all []hours.Window
				for _, k := range list {
					p := placed{k, z}
					if _, ok := windows[p]; !ok {
						windows[p] = c.Changes[k].WindowsFrom(z, from, to)
					}
					all = append(all, windows[p]...)
				}
				flat[key] = hours.Flatten(all)
			}
			line.Windows = flat[key]
		}
		t.doors[d.ID] = line
	}
	return t
}

// Door returns what a door asks over time, or nil where there is no such door.
func (t *Timetable) Door(id ID) *hours.Timeline { return t.doors[id] }

// Site returns the site of a door.
func (t *Timetable) Site(door ID) ID { return t.sites[door] }

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

var answers = map[string]hours.Answer{
	AsWeekday:   hours.AsWeekday,
	DefaultMode: hours.Resting,
	Closed:      hours.Resting,
	OwnHours:    hours.Own,
}
