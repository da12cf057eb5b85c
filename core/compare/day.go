package compare

import (
	"fmt"

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
	Doors      []DoorDay
	Schedules  []ScheduleDay // in use, and open for longer or shorter somewhere
	Running    []site.ID     // schedules in use that are as long open everywhere
	Gain, Lose int           // people who may come in at more or fewer hours that day
	Losers     []site.ID     // the first 12 of those who lose
}

// Day compares what two configurations do on a date. The people and their levels are those of the second.
func Day(is *site.Config, before, after *site.Timetable, day hours.Day) DayEffect {
	var e DayEffect
	for i := range is.Doors {
		if words := DayWords(before.Door(is.Doors[i].ID), after.Door(is.Doors[i].ID), day); words != "" {
			e.Doors = append(e.Doors, DoorDay{is.Doors[i].ID, words})
		}
	}
	type place struct{ schedule, site site.ID }
	known := map[place]ScheduleDay{}
	changed, used := map[site.ID]ScheduleDay{}, map[site.ID]bool{}
	gain, lose := map[site.ID]bool{}, map[site.ID]bool{}
	for _, l := range is.Levels {
		for _, entry := range l.Entries {
			a, b := before.Schedules[entry.ScheduleID], after.Schedules[entry.ScheduleID]
			if a == nil || b == nil {
				continue
			}
			p := place{entry.ScheduleID, after.Site(entry.DoorID)}
			d, ok := known[p]
			if !ok {
				d = ScheduleDay{p.schedule, a.MinutesOn(before.Calendar(p.site), day), b.MinutesOn(after.Calendar(p.site), day)}
				known[p] = d
			}
			used[p.schedule] = true
			if d.Was != d.Is {
				changed[p.schedule] = d
			}
			gain[l.ID], lose[l.ID] = gain[l.ID] || d.Is > d.Was, lose[l.ID] || d.Is < d.Was
		}
	}
	for _, s := range is.Schedules {
		if d, ok := changed[s.ID]; ok {
			e.Schedules = append(e.Schedules, d)
		} else if used[s.ID] {
			e.Running = append(e.Running, s.ID)
		}
	}
	e.Gain, e.Lose, e.Losers = touched(is, gain, lose)
	return e
}

// touched counts the people who hold a level that gains, or one that loses.
func touched(c *site.Config, gain, lose map[site.ID]bool) (more, fewer int, losers []site.ID) {
	for i := range c.People {
		up, down := false, false
		for _, g := range c.People[i].Levels {
			up, down = up || gain[g.LevelID], down || lose[g.LevelID]
		}
		if up {
			more++
		}
		if down {
			if fewer++; len(losers) < 12 {
				losers = append(losers, c.People[i].ID)
			}
		}
	}
	return more, fewer, losers
}

// DayWords says what a door asks on a day in the one and in the other, at the first minute where they differ;
// nothing where they do not.
func DayWords(before, after *hours.Timeline, day hours.Day) string {
	if before == nil || after == nil {
		return ""
	}
	for at, end := after.Resolve(day, 0), after.Resolve(day+1, 0); at < end; {
		x, y := before.At(at), after.At(at)
		if !x.Same(y.Ask) {
			return fmt.Sprintf("%s instead of %s from %s", y.Ask, x.Ask, hours.Clock(after.Wall(at).Minute))
		}
		at = min(before.Next(at), after.Next(at), end)
	}
	return ""
}
