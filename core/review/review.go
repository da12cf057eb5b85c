// Package review finds what is wrong, risky or incomplete in a configuration, with the mend.
package review

import (
	"slices"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Severity is how much a finding matters.
type Severity string

// The severities.
const (
	Wrong  Severity = "wrong"
	Risky  Severity = "risky"
	Untidy Severity = "untidy"
)

// Finding is something in the configuration that is wrong, risky or incomplete.
type Finding struct {
	Code     string   `json:"code" doc:"Such as change-past"`
	Station  string   `json:"station" enum:"build,hours,people,rules" doc:"Where it stands"`
	Severity Severity `json:"severity" enum:"wrong,risky,untidy"`
	Kind     string   `json:"kind" doc:"Of the object that it is about: plan, schedule, site …"`
	ID       site.ID  `json:"id"`
	Name     string   `json:"name"`
	Words    string   `json:"words"`
	Mend     string   `json:"mend"`
	Click    string   `json:"click" doc:"What one click does about it; empty: nothing can be done by one click"`

	// Mended is the object as the click would leave it: a *site.Plan …, or nil where the click removes it.
	Mended any `json:"-"`
}

// desk is what the checks look at.
type desk struct {
	c     *site.Config
	eff   *site.Config // as it decides
	times *site.Timetable
	now   hours.Instant
	zone  func(controller site.ID) *hours.Zone
	out   []Finding
}

// Hours finds what is to be said of schedules, holidays, plans and dated changes, and of PINs that cannot be typed. Now
// bounds what is past and what is to come; zones are those of the controllers.
func Hours(
	c *site.Config,
	times *site.Timetable,
	zone func(controller site.ID) *hours.Zone,
	now hours.Instant,
) []Finding {
	d := &desk{c: c, eff: c.Effective(), times: times, now: now, zone: zone}
	d.noHolidays()
	d.idleHolidays()
	d.cutNights()
	d.silentPlans()
	d.freeWeekends()
	d.missingHour()
	d.schedules()
	d.changes()
	d.firstCards()
	d.noKeypad()
	d.pinLengths()
	return stand(InOrder(d.out), "hours")
}

// stand says at which station findings stand.
func stand(list []Finding, station string) []Finding {
	for i := range list {
		list[i].Station = station
	}
	return list
}

// InOrder sorts findings, the gravest first; of equal ones the order stays.
func InOrder(list []Finding) []Finding {
	order := map[Severity]int{Wrong: 0, Risky: 1, Untidy: 2}
	slices.SortStableFunc(list, func(a, b Finding) int { return order[a.Severity] - order[b.Severity] })
	return list
}

func (d *desk) add(f Finding) { d.out = append(d.out, f) }

// local is the clock of a site, by one of its controllers.
func (d *desk) local(s site.ID) *hours.Zone {
	for i := range d.c.Controllers {
		if d.c.Controllers[i].SiteID == s {
			return d.zone(d.c.Controllers[i].ID)
		}
	}
	return &hours.Zone{Name: "UTC"}
}

// horizon is how far findings look: 13 months.
const horizon = 396

func (d *desk) noHolidays() {
	for _, s := range d.c.Sites {
		today := d.local(s.ID).Wall(d.now).Day
		if next, ok := d.times.Calendar(s.ID).NextDay(today); ok && next <= today+horizon {
			continue
		}
		d.add(Finding{Code: "no-holidays", Severity: Risky, Kind: "site", ID: s.ID, Name: s.Name,
			Words: "No holiday is entered for " + s.Name +
				" in the next 13 months: its doors go free on public holidays as on any other day.",
			Mend: "Load the public holidays of its country or region in Hours, Holidays."})
	}
}

func (d *desk) followers(plan site.ID) []*site.Door {
	var out []*site.Door
	for i := range d.c.Doors {
		if d.c.Doors[i].PlanID == plan {
			out = append(out, &d.c.Doors[i])
		}
	}
	return out
}

// silentPlans finds plans in use that say nothing for a holiday type, and tells what they do then.
func (d *desk) silentPlans() {
	for i := range d.c.Plans {
		p := &d.c.Plans[i]
		if len(d.followers(p.ID)) == 0 {
			continue
		}
		var silent, free, unbarred []string
		minutes := p.Minutes()
		mended := *p
		mended.Holidays = slices.Clone(p.Holidays)
		for _, t := range d.c.Types {
			if slices.ContainsFunc(p.Holidays, func(h site.PlanHoliday) bool { return h.TypeID == t.ID }) {
				continue
			}
			silent = append(silent, t.Name)
			switch {
			case t.Plans == site.AsWeekday && minutes[hours.Free] > 0:
				free = append(free, t.Name)
			case t.Plans == site.DefaultMode && minutes[hours.Barred] > 0 && p.Default != hours.Barred:
				unbarred = append(unbarred, t.Name)
			}
			mended.Holidays = append(mended.Holidays, site.PlanHoliday{TypeID: t.ID, Do: site.DefaultMode})
		}
		if len(silent) == 0 || steady(p) {
			continue
		}
		f := Finding{Code: "plan-silent", Severity: Untidy, Kind: "plan", ID: p.ID, Name: p.Name,
			Words: p.Name + " has no answer for " + list(silent) + "; it follows what the type says.",
			Mend:  "Give it an answer for each holiday type in its rows.",
			Click: "Stay on " + p.Default.String() + " then", Mended: &mended}
		if p.Default == hours.Free {
			f.Click, f.Mended = "", nil
		}
		var so []string
		if len(free) > 0 {
			so = append(so, "go free on "+list(free)+" as on a weekday")
		}
		if len(unbarred) > 0 { // one click would only say the same aloud
			f.Click, f.Mended = "", nil
			f.Mend = "Give it hours of its own for each holiday type in its rows, with what is to be barred."
			so = append(
				so,
				"stay on "+p.Default.String()+" on "+list(
					unbarred,
				)+", even at hours at which they are barred on a weekday",
			)
		}
		if len(so) > 0 {
			f.Severity = Risky
			f.Words = p.Name + " has no answer for " + list(
				silent,
			) + ", so its doors " + strings.Join(
				so,
				", and ",
			) + "."
		}
		d.add(f)
	}
}

// steady reports whether a plan asks the same at all hours, so that a holiday can change nothing.
func steady(p *site.Plan) bool {
	n := p.Pattern.Normal()
	for _, day := range n.Week {
		if len(day) > 0 {
			return false
		}
	}
	return true
}

func list(names []string) string {
	if len(names) < 2 {
		return strings.Join(names, "")
	}
	return strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1]
}

// freeWeekends finds plans whose default is free and whose weekend was forgotten.
func (d *desk) freeWeekends() {
	for i := range d.c.Plans {
		p := &d.c.Plans[i]
		freeAll := func(day int) bool {
			c := hours.CompilePlan(p.Pattern)
			for minute := 0; minute < hours.DayMinutes; minute++ {
				if a, _ := c.Ask(nil, monday+hours.Day(day), minute); a.Mode != hours.Free || a.First {
					return false
				}
			}
			return true
		}
		var days []string
		mended := *p
		mended.Pattern = p.Pattern.Normal()
		for _, day := range []int{5, 6} {
			if freeAll(day) {
				days = append(days, hours.WeekdayNames[day])
				mended.Pattern.Paint(
					day,
					hours.Segment{Period: hours.Period{Start: 0, End: hours.DayMinutes}, Mode: hours.Card},
				)
			}
		}
		week := freeAll(0) || freeAll(1) || freeAll(2) || freeAll(3) || freeAll(4)
		if len(days) == 0 || week {
			continue
		}
		d.add(Finding{Code: "weekend-free", Severity: Risky, Kind: "plan", ID: p.ID, Name: p.Name,
			Words: p.Name + " is free all of " + list(
				days,
			) + ", and never a whole day from Monday to Friday: a row may have been missed.",
			Mend: "Paint what is asked on " + list(
				days,
			) + ".", Click: "Ask for a card on " + list(days), Mended: &mended})
	}
}

// monday is 1970-01-05.
const monday = hours.Day(4)

// missingHour finds boundaries of plans in the hour that a change of the clocks leaves out in the next 13 months.
func (d *desk) missingHour() {
	for i := range d.c.Plans {
		p := &d.c.Plans[i]
		seen := map[string]bool{}
		for _, door := range d.followers(p.ID) {
			z := d.zone(door.ControllerID)
			if seen[z.Name] {
				continue
			}
			seen[z.Name] = true
			for _, o := range z.Offsets {
				if o.At <= d.now || o.At > d.now+horizon*hours.FullDay {
					continue
				}
				before, after := z.Wall(o.At-1), z.Wall(o.At)
				gapFrom, gapTo := before.Minute+1, after.Minute
				if before.Day != after.Day || gapTo <= gapFrom {
					continue
				}
				if at, ok := boundary(p, after.Day.Weekday(), gapFrom, gapTo); ok {
					d.add(Finding{Code: "missing-hour", Severity: Untidy, Kind: "plan", ID: p.ID, Name: p.Name,
						Words: p.Name + " changes at " + hours.Clock(
							at,
						) + ", a time that does not exist on " + after.Day.Words() + " (" + z.Name + "): it changes at " + hours.Clock(
							gapTo,
						) + ", when the clocks go forward.",
						Mend: "Nothing is lost; move the boundary to " + hours.Clock(
							gapTo,
						) + " or before " + hours.Clock(
							gapFrom,
						) + " if the minute matters."})
				}
			}
		}
	}
}

// boundary finds a start or end of a segment within [from, to) on a weekday.
func boundary(p *site.Plan, weekday, from, to int) (int, bool) {
	in := func(m int) bool { return m > from && m < to }
	for _, s := range p.Week[weekday] {
		if in(s.Start) {
			return s.Start, true
		}
		if in(s.End) {
			return s.End, true
		}
	}
	for _, s := range p.Week[(weekday+6)%7] {
		if in(s.End - hours.DayMinutes) {
			return s.End - hours.DayMinutes, true
		}
	}
	return 0, false
}

func (d *desk) schedules() {
	used := map[site.ID]bool{}
	for _, l := range d.eff.Levels {
		for _, e := range l.Entries {
			used[e.ScheduleID] = true
		}
	}
	for i := range d.c.Schedules {
		s := &d.c.Schedules[i]
		if s.Fixed {
			continue
		}
		if !used[s.ID] {
			d.add(Finding{Code: "schedule-unused", Severity: Untidy, Kind: "schedule", ID: s.ID, Name: s.Name,
				Words: "Nothing uses " + s.Name + ".", Mend: "Use it in an access level, or remove it.", Click: "Remove it"})
		}
		opens := s.Week.Minutes() > 0 ||
			slices.ContainsFunc(
				s.Holidays,
				func(h site.ScheduleHoliday) bool { return h.Do == site.OwnHours && len(h.Periods) > 0 },
			)
		if !opens {
			d.add(Finding{Code: "schedule-never", Severity: Risky, Kind: "schedule", ID: s.ID, Name: s.Name,
				Words: s.Name + " never opens: no period is painted.",
				Mend:  "Paint its hours; where nobody is meant to come in, use Never."})
		}
	}
}

// firstCards finds doors whose free segments wait for a first card that nobody can give.
func (d *desk) firstCards() {
	var ways map[site.ID][]way
	for i := range d.c.Doors {
		door := &d.c.Doors[i]
		line := d.times.Door(door.ID)
		if line == nil || !line.Plan.Waits() {
			continue
		}
		if ways == nil {
			ways = d.ways()
		}
		if d.canOpen(door, line, ways[door.ID]) {
			continue
		}
		who := "nobody has access to this door at those hours"
		mend := "Give somebody a level that covers " + door.Name + "."
		if door.FirstCard.Who == site.Openers {
			who = "nobody has a level that opens the day and covers this door at those hours"
			mend = "Mark a level that covers " + door.Name +
				" as one that opens the day, or let anybody with access give the first card."
		}
		d.add(Finding{Code: "first-card-nobody", Severity: Wrong, Kind: "door", ID: door.ID, Name: door.Name,
			Words: door.Name + " waits for a first card that nobody can give: " + who + ". It never goes free.", Mend: mend})
	}
}

// way is a level that somebody holds and the schedule with which it opens a door.
type way struct {
	opensDay bool
	schedule site.ID
}

// ways lists, for each door, how those come in who have a credential and are not suspended.
func (d *desk) ways() map[site.ID][]way {
	held := map[site.ID]bool{}
	for _, p := range d.eff.People {
		if p.Suspended || len(p.Credentials) == 0 && p.PIN == nil {
			continue
		}
		for _, g := range p.Levels {
			held[g.LevelID] = true
		}
	}
	out := map[site.ID][]way{}
	places := site.NewPlaces(d.c)
	for i := range d.eff.Levels {
		l := &d.eff.Levels[i]
		if !held[l.ID] {
			continue
		}
		for _, e := range places.Entries(l) {
			if !e.Side.Takes(false) {
				continue
			}
			out[e.DoorID] = append(out[e.DoorID], way{l.OpensDay, e.ScheduleID})
		}
	}
	return out
}

// canOpen looks for a way in at a minute of the next two weeks when a first card counts.
func (d *desk) canOpen(door *site.Door, line *hours.Timeline, ways []way) bool {
	for _, w := range ways {
		if door.FirstCard.Who == site.Openers && !w.opensDay {
			continue
		}
		if s := d.times.Schedules[w.schedule]; s != nil && d.counts(door, line, s) {
			return true
		}
	}
	return false
}

// counts reports whether a schedule is open at some moment of the next two weeks at which a first card counts.
func (d *desk) counts(door *site.Door, line *hours.Timeline, s *hours.Schedule) bool {
	for at := d.now; at < d.now+14*hours.FullDay; at = line.Next(at) {
		if !line.At(at).First {
			continue
		}
		from, to := at, line.Next(at)
		switch door.FirstCard.Counts {
		case site.FromMinutes:
			from -= hours.Instant(door.FirstCard.Before) * hours.Minute
		case site.FromMidnight:
			from = line.Resolve(line.Wall(at).Day, 0)
		}
		if s.NextOpen(line.Local, from) < to {
			return true
		}
	}
	return false
}
