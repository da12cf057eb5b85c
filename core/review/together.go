package review

import (
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/rules/proofs"
	"amberkeystone/core/site"
)

// nobodyPresent finds rules of combinations that could be filled, and at no hour at which the people of one come in.
func (d *desk) nobodyPresent(x *site.Proofs, note func(code string, s Severity, words, mend string)) {
	t := d.c.Entrants(d.eff, x)
	schedule := d.times.Schedules[x.ScheduleID]
	possible := slices.ContainsFunc(x.Combinations,
		func(m site.Combination) bool { return proofs.Possible(&m, len(t.People), t.In) })
	if schedule == nil || !possible {
		return // another finding
	}
	for _, door := range x.DoorIDs {
		if line := d.times.Door(door); line != nil && d.presentAt(x, t, door, line, schedule) {
			return
		}
	}
	note("nobody-present", Wrong,
		fmt.Sprintf("%s could be filled, and at no hour: those who are wanted together come in at %s at different times, or while the rule is not in force.",
			x.Name, d.doorsOf(x.DoorIDs)), "Widen the hours of one of the groups, or those of the rule.")
}

// presentAt reports whether a combination can be filled at a door at some time within four weeks.
func (d *desk) presentAt(
	x *site.Proofs, t *site.Entrants, door site.ID, line *hours.Timeline, schedule *hours.Schedule,
) bool {
	leads := map[site.ID][]*hours.Schedule{} // by level
	places := site.NewPlaces(d.eff)
	for i := range d.eff.Levels {
		l := &d.eff.Levels[i]
		for _, e := range places.Entries(l) {
			if s := d.times.Schedules[e.ScheduleID]; s != nil && e.DoorID == door && e.Side.Takes(false) {
				leads[l.ID] = append(leads[l.ID], s)
			}
		}
	}
	known := map[string]bool{} // of the levels that are open
	end := d.now + 28*hours.FullDay
	for at := d.now; at < end; {
		until := schedule.Next(line.Local, at)
		open := map[site.ID]bool{}
		var key strings.Builder
		for i := range d.eff.Levels {
			id := d.eff.Levels[i].ID
			for _, s := range leads[id] {
				until = min(until, s.Next(line.Local, at))
				if s.OpenAt(line.Local, at) && !open[id] {
					open[id] = true
					fmt.Fprintf(&key, "%d ", id)
				}
			}
		}
		if schedule.OpenAt(line.Local, at) && !known[key.String()] {
			known[key.String()] = true
			if among(x, t, open) {
				return true
			}
		}
		at = max(until, at+hours.Minute)
	}
	return false
}

// among reports whether those who hold a level that is open fill a combination.
func among(x *site.Proofs, t *site.Entrants, open map[site.ID]bool) bool {
	var there []int
	for i, p := range t.People {
		if slices.ContainsFunc(p.Levels, func(g site.Grant) bool { return open[g.LevelID] }) {
			there = append(there, i)
		}
	}
	in := func(k int, group site.ID) bool { return t.In(there[k], group) }
	return slices.ContainsFunc(x.Combinations,
		func(m site.Combination) bool { return proofs.Possible(&m, len(there), in) })
}

// limits finds areas that hold fewer people than a department whose members come in there.
func (d *desk) limits() {
	places := site.NewPlaces(d.eff)
	for i := range d.c.Areas {
		a := &d.c.Areas[i]
		if a.Most == 0 {
			continue
		}
		leads := map[site.ID]bool{} // levels that lead into it
		for k := range d.eff.Levels {
			l := &d.eff.Levels[k]
			leads[l.ID] = slices.ContainsFunc(places.Entries(l), func(e site.Covered) bool {
				x := d.c.Door(e.DoorID)
				return x != nil && x.InsideAreaID == a.ID && x.OutsideAreaID != a.ID && e.Side.Takes(false)
			})
		}
		members := map[site.ID]int{}
		for _, p := range d.eff.People {
			if slices.ContainsFunc(p.Levels, func(g site.Grant) bool { return leads[g.LevelID] }) && !p.Suspended {
				for _, id := range p.DepartmentIDs {
					members[id]++
				}
			}
		}
		for k := range d.c.Departments {
			if x := &d.c.Departments[k]; members[x.ID] > a.Most {
				d.add(Finding{Code: "area-limit", Severity: Untidy, Kind: "area", ID: a.ID, Name: a.Name,
					Words: fmt.Sprintf("%s holds %d at the most, and %d of %s may come in there: the last are refused while the others are inside.", a.Name, a.Most, members[x.ID], x.Name),
					Mend:  "Raise the limit, or let fewer of them in, if that is not meant."})
			}
		}
	}
}

// screenings finds those that would not work.
func (d *desk) screenings() {
	for i := range d.c.Screenings {
		x := &d.c.Screenings[i]
		if x.Off {
			continue
		}
		for _, words := range d.c.CheckScreening(x) {
			d.add(Finding{Code: "screening-wanting", Severity: Risky, Kind: "screening", ID: x.ID, Name: x.Name,
				Words: x.Name + ": " + words,
				Mend:  "Choose another door, or let the limited level lead there."})
		}
		if !slices.ContainsFunc(d.c.People, x.Has) {
			d.add(Finding{Code: "screening-nobody", Severity: Untidy, Kind: "screening", ID: x.ID, Name: x.Name,
				Words: "Nobody is under " + x.Name + ".", Mend: "Put people or departments into it, or switch it off."})
		}
	}
}

// emergencies finds lockdowns and fire releases that nobody can use as they are meant.
func (d *desk) emergencies() {
	places := site.NewPlaces(d.eff)
	for i := range d.c.Emergencies {
		x := &d.c.Emergencies[i]
		if x.Off {
			continue
		}
		note := func(code string, s Severity, words, mend string) {
			d.add(Finding{Code: code, Severity: s, Kind: "emergency", ID: x.ID, Name: x.Name, Words: words, Mend: mend})
		}
		doors := places.EmergencyDoors(x)
		may := func(has func(site.Authorities) bool) bool {
			return slices.ContainsFunc(d.eff.Levels, func(l site.Level) bool {
				return has(l.Authorities) &&
					slices.ContainsFunc(places.Entries(&l), func(e site.Covered) bool { return slices.Contains(doors, e.DoorID) })
			})
		}
		switch {
		case len(doors) == 0:
			note("emergency-nowhere", Wrong, x.Name+" is for no door.", "Choose its doors, or remove it.")
			continue
		case x.Overrides && !may(func(a site.Authorities) bool { return a.Overrides }):
			note("nobody-overrides", Risky, "No level that leads to the doors of "+x.Name+" overrides it, so nobody comes in.",
				"Let a level override lockdown, or say that nobody does.")
		}
		if x.Reads > 0 && !may(func(a site.Authorities) bool { return a.LocksDown }) {
			note("nobody-locks-down", Risky, "No level that leads to the doors of "+x.Name+" starts lockdowns, so no card does.",
				"Let a level start and end lockdowns, or say that no card does.")
		}
		for _, id := range doors {
			if door := d.c.Door(id); x.Reads > 0 && door.Toggle != nil && !door.Toggle.Off && door.Toggle.Reads == x.Reads {
				note("reads-alike", Risky, fmt.Sprintf("%d reads at %s both toggle it and start %s.", x.Reads, door.Name, x.Name),
					"Choose another number of reads for one of them.")
			}
		}
	}
}
