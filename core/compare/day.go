package compare

import (
	"fmt"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// DoorDay is what a door asks on a day that it would not have asked.
type DoorDay struct {
	ID    site.ID
	Words string
}

// ScheduleDay is how long a schedule is open on a day, in minutes of the clock face.
type ScheduleDay struct {
	ID      site.ID
	Was, Is int
}

// DayEffect is how two configurations differ on one date, by the clock of each door.
type DayEffect struct {
	Doors     []DoorDay
	Schedules []ScheduleDay // in use, and open at other hours somewhere
	Running   []site.ID     // schedules in use that run on everywhere
	Who
}

// Day compares what two configurations do on a date. The people and their levels are those of the second.
func Day(is *site.Config, before, after *site.Timetable, day hours.Day) DayEffect {
	is = is.Effective()
	x := newContrast(
		is,
		is,
		before,
		after,
		func(z *hours.Zone) (from, to hours.Instant) { return z.Resolve(day, 0), z.Resolve(day+1, 0) },
	)
	var e DayEffect
	for i := range is.Doors {
		id := is.Doors[i].ID
		if d := x.door(id); d.first != hours.Never {
			e.Doors = append(e.Doors, DoorDay{id, x.words(d.stretches[0], x.after.Door(id))})
		}
	}
	e.Schedules, e.Running = x.schedulesOn(day)
	e.Who = x.people()
	return e
}

// schedulesOn tells which schedules in use are open at other hours on a day, and which run on.
func (x *contrast) schedulesOn(day hours.Day) (changed []ScheduleDay, running []site.ID) {
	differs, used := map[site.ID]ScheduleDay{}, map[site.ID]bool{}
	places := site.NewPlaces(x.is)
	for i := range x.is.Levels {
		for _, entry := range places.Entries(&x.is.Levels[i]) {
			a, b := x.before.Schedules[entry.ScheduleID], x.after.Schedules[entry.ScheduleID]
			if a == nil || b == nil {
				continue
			}
			used[entry.ScheduleID] = true
			if _, ok := differs[entry.ScheduleID]; ok ||
				x.schedule(entry.ScheduleID, entry.DoorID).first == hours.Never {
				continue
			}
			place := x.after.Site(entry.DoorID)
			differs[entry.ScheduleID] = ScheduleDay{
				entry.ScheduleID,
				a.MinutesOn(x.before.Calendar(place), day),
				b.MinutesOn(x.after.Calendar(place), day),
			}
		}
	}
	for _, s := range x.is.Schedules {
		if d, ok := differs[s.ID]; ok {
			changed = append(changed, d)
		} else if used[s.ID] {
			running = append(running, s.ID)
		}
	}
	return changed, running
}

// words says what a door asks in a stretch: "card instead of free from 10:00".
func (x *contrast) words(s stretch, line *hours.Timeline) string {
	return fmt.Sprintf("%s instead of %s from %s", x.ask(s.is), x.ask(s.was), hours.Clock(line.Wall(s.from).Minute))
}

func (x *contrast) ask(a hours.Ask) string {
	words := a.String()
	var names []string
	for _, l := range x.is.Levels {
		for _, id := range a.Levels {
			if site.ID(id) == l.ID {
				names = append(names, l.Name)
			}
		}
	}
	if len(a.Levels) > 0 {
		words += " for " + strings.Join(names, ", ") + " only"
	}
	return words
}
