package compare

import (
	"fmt"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Horizon is how far the consequences of an edit are looked for: 13 months.
const Horizon = hours.Instant(396 * 86400 * 1000)

// Effect is what an edit of hours does from a moment on.
type Effect struct {
	Doors []site.ID // that ask something else at some time, in the order of the configuration
	Who
	First hours.Instant // when something differs first; Never: not within the horizon
	Where site.ID       // the door where it differs first
	Days  int           // on how many days, at the door where it is most
	Modes [6]int        // minutes gained by each mode on the first date that differs, at that door
	crowd *crowd
	alike map[site.ID]site.ID // who stands for whom
	Rules []site.ID           // doors where something else must hold besides: several proofs, an interlock, a toggle
	// Screened are people who must be cleared from now on before all counts that they hold. Hours are compared as they are
	// once somebody is cleared.
	Screened []site.ID
	Open     int // minutes that schedules gain (or lose) on the first date that differs, where no door does
}

// Timetable prepares the hours of a configuration for Hours from the same moment on.
func Timetable(c *site.Config, zone func(controller site.ID) *hours.Zone, from hours.Instant) *site.Timetable {
	day := func(i hours.Instant) hours.Day { return hours.Day(i / hours.FullDay) }
	return site.NewTimetableFor(
		c,
		zone,
		day(from)-3,
		day(from+Horizon)+4,
	) // nights begin on the day before, and days differ by zone
}

// Hours compares what two configurations do from a moment on: what doors ask, and when people may come in.
// It looks at hours and at where levels lead; the people and the levels that they have are those of the second. The
// timetables need to know 13 months from then on; see Timetable.
func Hours(was, is *site.Config, before, after *site.Timetable, from hours.Instant) Effect {
	was = was.Effective()
	is = is.EffectiveAfter(was)
	x := newContrast(
		was,
		is,
		before,
		after,
		func(*hours.Zone) (hours.Instant, hours.Instant) { return from, from + Horizon },
	)
	e := Effect{First: hours.Never, Rules: rulesDiffer(was, is)}
	e.asks(x)
	places := site.NewPlaces(is)
	for i := range is.Levels {
		for _, entry := range places.Entries(&is.Levels[i]) {
			d := x.schedule(entry.ScheduleID, entry.DoorID)
			if d.first < e.First {
				e.First, e.Open, e.Where = d.first, d.open, entry.DoorID
			}
			if len(e.Doors) == 0 {
				e.Days = max(e.Days, d.days)
			}
		}
	}
	entries := x.entries()
	e.leads(x, entries, from)
	differ := !slices.Equal(was.People, is.People)
	if differ {
		e.Screened = x.screenedAnew()
	}
	if e.First == hours.Never && !differ && len(was.Levels) == len(is.Levels) && !x.anyRearmed() &&
		!disarmersDiffer(entries) {
		return e
	}
	e.crowd = x.crowd()
	e.Who = e.crowd.who()
	if len(e.Doors) > 0 || e.Open != 0 { // what is told of a date is of the first on which hours differ
		return e
	}
	soonest := e.crowd.soonest()
	if soonest >= e.First {
		return e
	}
	for _, id := range slices.Concat(e.Gainers, e.Losers) {
		for _, t := range e.Turns(id) {
			if t.First < e.First {
				e.First, e.Where = t.First, t.Door
			}
		}
		if e.First <= soonest {
			break
		}
	}
	return e
}

// asks finds out which doors ask something else, and when first.
func (e *Effect) asks(x *contrast) {
	for i := range x.is.Doors {
		id := x.is.Doors[i].ID
		d := x.door(id)
		if d.first == hours.Never {
			continue
		}
		e.Doors = append(e.Doors, id)
		e.Days = max(e.Days, d.days)
		if d.first < e.First {
			e.First, e.Modes, e.Where = d.first, d.gain, id
		}
	}
}

// leads finds out when a level first leads somewhere that it did not, or no longer does.
func (e *Effect) leads(x *contrast, entries map[site.ID][]entry, from hours.Instant) {
	for i := range x.is.Levels {
		for _, n := range entries[x.is.Levels[i].ID] {
			if n.was == n.is {
				continue
			}
			by := x.after
			if n.was { // its schedule may be gone with it, as in an image that nothing else there needs it in
				by = x.before
			}
			line := x.after.Door(n.door)
			if s := by.Schedules[n.schedule]; s != nil && line != nil {
				if at := s.NextOpen(line.Local, from); at < min(e.First, from+Horizon) {
					e.First, e.Where = at, n.door
				}
			}
		}
	}
}

// Words puts an effect into lines: hours on the first date, then on how many days.
func (e Effect) Words(z *hours.Zone) []Consequence {
	var out []Consequence
	if e.First == hours.Never {
		return out
	}
	date := z.Wall(e.First).Day.Words()
	for _, m := range hours.Modes {
		if d := e.Modes[m]; d != 0 {
			out = append(out, Consequence{fmt.Sprintf("%s %s on %s", duration(d), m, date), opens(m) * sign(d)})
		}
	}
	if e.Open != 0 {
		out = append(out, Consequence{fmt.Sprintf("%s open on %s", duration(e.Open), date), sign(e.Open)})
	}
	return out
}
