package review

import (
	"fmt"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// alarmAreas finds those that nobody disarms, that do not see, that nobody hears, and reads that do two things at once.
func (d *desk) alarmAreas() {
	places := site.NewPlaces(d.c)
	guarded := map[site.ID]bool{}
	for i := range d.c.AlarmAreas {
		x := &d.c.AlarmAreas[i]
		if x.Off {
			continue
		}
		for _, id := range x.DoorIDs {
			guarded[id] = true
		}
		note := func(code string, s Severity, words, mend string) {
			d.add(Finding{Code: code, Severity: s, Kind: "alarm area", ID: x.ID, Name: x.Name, Words: words, Mend: mend})
		}
		for _, f := range d.c.CheckAlarmArea(x) {
			note("alarm-elsewhere", Wrong, x.Name+": "+f.Words+".", "Until then it is not watched.")
		}
		disarms := d.mayAt(places, x.DoorIDs, func(l *site.Level) bool { return l.Disarms })
		arms := disarms || d.mayAt(places, x.DoorIDs, func(l *site.Level) bool { return l.Arms })
		if len(x.DoorIDs) > 0 && !disarms {
			note("alarm-nobody-disarms", Wrong,
				"Nobody's level disarms "+x.Name+": while it is armed nobody comes in at "+d.doorsOf(x.DoorIDs)+".",
				"Let a level that leads there disarm alarm areas.")
		}
		if x.Reads > 0 && !arms {
			note("alarm-nobody-arms", Untidy, "Nobody's reads arm "+x.Name+": no level that leads to its doors may.",
				"Let a level arm alarm areas, or let no card arm it.")
		}
		if len(x.AlarmIDs) == 0 && !d.heard(x.ID) {
			note("alarm-silent", Risky,
				"An alarm of "+x.Name+" turns nothing on and sets off no reaction: only whoever looks at the events learns of it.",
				"Choose an output, or make a reaction that tells somebody.")
		}
		for _, id := range x.DoorIDs {
			if door := d.c.Door(id); door != nil {
				d.watchedDoor(x, door, note)
			}
		}
	}
	for i := range d.c.Levels {
		l := &d.c.Levels[i]
		leads := slices.ContainsFunc(places.Entries(l), func(e site.Covered) bool { return guarded[e.DoorID] })
		if (l.Arms || l.Disarms) && !leads {
			d.add(Finding{Code: "level-arms-nothing", Severity: Untidy, Kind: "level", ID: l.ID, Name: l.Name,
				Words: l.Name + " arms or disarms alarm areas, and leads to no door of one.",
				Mend:  "Add a door of an alarm area, or take it away from the level."})
		}
	}
}

// mayAt reports whether a level that is in force leads to one of some doors and has an authority.
func (d *desk) mayAt(places *site.Places, doors []site.ID, has func(*site.Level) bool) bool {
	return slices.ContainsFunc(d.eff.Levels, func(l site.Level) bool {
		return has(&l) &&
			slices.ContainsFunc(places.Entries(&l), func(e site.Covered) bool { return slices.Contains(doors, e.DoorID) })
	})
}

// heard reports whether a reaction waits for an area's alarm.
func (d *desk) heard(area site.ID) bool {
	return slices.ContainsFunc(d.c.Reactions, func(r site.Reaction) bool {
		return !r.Off && r.When == site.WhenIntrusion && (len(r.AlarmIDs) == 0 || slices.Contains(r.AlarmIDs, area))
	})
}

// watchedDoor finds what is wrong with a door of an alarm area.
func (d *desk) watchedDoor(x *site.AlarmArea, door *site.Door, note func(code string, s Severity, words, mend string)) {
	if door.Contact == site.NotFitted {
		note("alarm-blind", Risky, door.Name+" of "+x.Name+" has no door contact: nobody sees it open.",
			"Fit a door contact, or watch the room by an input.")
	}
	if t := door.Toggle; t != nil && !t.Off && x.Reads > 0 && t.Reads == x.Reads {
		note("reads-alike", Risky, fmt.Sprintf("%d reads at %s arm %s and flip the door's card toggle at once.", x.Reads,
			door.Name, x.Name),
			"Let one of them want another number of reads.")
	}
	line, s := d.times.Door(door.ID), d.times.Schedules[x.ScheduleID]
	if line == nil || s == nil {
		return
	}
	for at, end := d.now, d.now+28*hours.FullDay; at < end; at = min(line.Next(at), s.Next(line.Local, at)) {
		if s.OpenAt(line.Local, at) && line.At(at).Mode == hours.Free {
			w := line.Wall(at)
			note("alarm-free-hours", Risky,
				fmt.Sprintf("%s would be free from %s %s on, while its schedule keeps %s armed: it asks for a card then.",
					door.Name, w.Day.Words(), hours.Clock(w.Minute), x.Name), "Let the schedule close before the door goes free.")
			return
		}
	}
}
