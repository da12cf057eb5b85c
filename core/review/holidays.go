package review

import (
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// kindAt is a holiday type at a site.
type kindAt struct{ kind, site site.ID }

// idleHolidays finds holidays to come for which no plan and no schedule at their sites does anything.
func (d *desk) idleHolidays() {
	busy := d.answered()
	for i := range d.c.Holidays {
		h := &d.c.Holidays[i]
		var where []string
		coming, does := false, false
		for _, s := range d.c.Sites {
			if !h.At(s.ID) {
				continue
			}
			today := d.local(s.ID).Wall(d.now).Day
			coming = coming || len(h.Between(today, today+horizon)) > 0
			does = does || busy[kindAt{h.TypeID, s.ID}]
			where = append(where, s.Name)
		}
		if !coming || does {
			continue
		}
		at := "anywhere"
		if len(h.SiteIDs) > 0 {
			at = "at " + list(where)
		}
		d.add(Finding{Code: "holiday-nothing", Severity: Untidy, Kind: "holiday", ID: h.ID, Name: h.Name,
			Words: h.Name + " changes nothing " + at + ": every plan and schedule there runs as on a weekday.",
			Mend:  "Give its type an answer in a plan or schedule that is used there, give the holiday another type, or remove it.", Click: "Remove it"})
	}
}

// answered tells for which holiday types a plan that is followed at a site, or a schedule that is used there, does
// something else than on a weekday.
func (d *desk) answered() map[kindAt]bool {
	out := map[kindAt]bool{}
	plans, schedules := map[site.ID]*site.Plan{}, map[site.ID]*site.Schedule{}
	for i := range d.c.Plans {
		if p := &d.c.Plans[i]; !steady(p) ||
			slices.ContainsFunc(p.Holidays, func(h site.PlanHoliday) bool { return h.Do == site.OwnHours }) {
			plans[p.ID] = p
		}
	}
	for i := range d.c.Schedules {
		if s := &d.c.Schedules[i]; !s.Fixed {
			schedules[s.ID] = s
		}
	}
	mark := func(door site.ID, does func(site.HolidayType) site.OnHoliday) {
		for _, t := range d.c.Types {
			if does(t) != site.AsWeekday {
				out[kindAt{t.ID, d.times.Site(door)}] = true
			}
		}
	}
	for i := range d.c.Doors {
		if p := plans[d.c.Doors[i].PlanID]; p != nil {
			mark(d.c.Doors[i].ID, p.Does)
		}
	}
	places := site.NewPlaces(d.c)
	for i := range d.eff.Levels {
		for _, e := range places.Entries(&d.eff.Levels[i]) {
			if s := schedules[e.ScheduleID]; s != nil {
				mark(e.DoorID, s.Does)
			}
		}
	}
	return out
}

// cutNights finds rows of holiday types in which a night ends at midnight that runs on into the morning on weekdays: a
// night belongs to the day on which it starts (design 3.1), so after such a holiday the morning is missing.
func (d *desk) cutNights() {
	for i := range d.c.Plans {
		p := &d.c.Plans[i]
		if len(d.followers(p.ID)) == 0 {
			continue
		}
		mended := *p
		mended.Holidays = slices.Clone(p.Holidays)
		var types []string
		until := 0
		for k, h := range p.Holidays {
			own, night, ok := cutNight(
				p.Week[:],
				h.Segments,
				func(a, b hours.Segment) bool { return a.Ask().Same(b.Ask()) },
				func(s hours.Segment) hours.Period { return s.Period },
			)
			if !ok || h.Do != site.OwnHours {
				continue
			}
			types, until = append(types, d.typeName(h.TypeID)), night.End
			night.Start = max(night.Start, own.Start) // what the row leaves out before it stays left out
			mended.Holidays[k].Segments = hours.PaintRow(p.Default, h.Segments, night)
		}
		if len(types) > 0 {
			d.add(Finding{Code: "night-cut", Severity: Risky, Kind: "plan", ID: p.ID, Name: p.Name,
				Words: cutWords(p.Name, types, until), Mend: "Let the night run on in the row of " + list(types) + ".",
				Click: "Run on until " + hours.Clock(until-hours.DayMinutes), Mended: &mended})
		}
	}
	for i := range d.c.Schedules {
		s := &d.c.Schedules[i]
		var types []string
		until := 0
		for _, h := range s.Holidays {
			if _, night, ok := cutNight(s.Week[:], h.Periods, func(a, b hours.Period) bool { return true },
				func(p hours.Period) hours.Period { return p }); ok &&
				h.Do == site.OwnHours {
				types, until = append(types, d.typeName(h.TypeID)), night.End
			}
		}
		if len(types) > 0 {
			d.add(Finding{Code: "night-cut", Severity: Risky, Kind: "schedule", ID: s.ID, Name: s.Name,
				Words: cutWords(
					s.Name,
					types,
					until,
				), Mend: "Let the night run on in the row of " + list(types) + ", if people stay."})
		}
	}
}

// cutNight finds what a row lets end at midnight, and the night of a week that runs on instead.
func cutNight[T any](week [][]T, row []T, same func(a, b T) bool, of func(T) hours.Period) (own, night T, ok bool) {
	for _, x := range row {
		if of(x).End > hours.DayMinutes {
			return own, night, false
		}
	}
	for _, own := range row {
		if of(own).End != hours.DayMinutes {
			continue
		}
		for _, day := range week {
			for _, x := range day {
				if of(x).End > hours.DayMinutes && same(own, x) {
					return own, x, true
				}
			}
		}
	}
	return own, night, false
}

func cutWords(name string, types []string, until int) string {
	return "In " + name + " the night of " + list(
		types,
	) + " ends at midnight; on weekdays it runs on until " + hours.Clock(
		until-hours.DayMinutes,
	) + ". The morning after such a holiday is not what it is on other days."
}

func (d *desk) typeName(id site.ID) string {
	for _, t := range d.c.Types {
		if t.ID == id {
			return t.Name
		}
	}
	return "a holiday type"
}
