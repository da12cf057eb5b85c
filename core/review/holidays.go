package review

import (
	"slices"

	"amberkeystone/core/site"
)

// kindAt is a holiday type at a site.
type kindAt struct{ kind, site site.ID }

// idleHolidays finds holidays to come for which no plan and no schedule at their sites does anything.
func (d *desk) idleHolidays() {
	var busy map[kindAt]bool
	for i := range d.c.Holidays {
		h := &d.c.Holidays[i]
		var where []string
		coming, does := false, false
		if busy == nil {
			busy = d.answered()
		}
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
		if p := &d.c.Plans[i]; !steady(p) || slices.ContainsFunc(p.Holidays, func(h site.PlanHoliday) bool { return h.Do == site.OwnHours }) {
			plans[p.ID] = p
		}
	}
	for i := range d.c.Schedules {
		if s := &d.c.Schedules[i]; !s.Fixed {
			schedules[s.ID] = s
		}
	}
	mark := func(door site.ID, does func(site.HolidayType) string) {
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
	for _, l := range d.c.Levels {
		for _, e := range l.Entries {
			if s := schedules[e.ScheduleID]; s != nil {
				mark(e.DoorID, s.Does)
			}
		}
	}
	return out
}
