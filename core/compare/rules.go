package compare

import (
	"reflect"
	"slices"

	"amberkeystone/core/site"
)

// ruled is what must hold at a door besides a plan and a level.
type ruled struct {
	proofs     []site.Proofs
	groups     [][]site.ID // who is in the groups that they name
	schedules  []site.Schedule
	interlocks []site.Interlock
	areas      []site.Area
	between    [2]site.ID // areas
	toggle     *site.Toggle
	guards     []site.AlarmArea
	floors     []site.Stop // of an elevator
	fire       site.CarFire
}

// rulesDiffer lists the doors where other rules hold than before, in the order of the configuration.
func rulesDiffer(was, is *site.Config) (out []site.ID) {
	if !ruling(was) && !ruling(is) {
		return nil
	}
	for i := range is.Doors {
		id := is.Doors[i].ID
		before := was.Door(id)
		if before != nil && !reflect.DeepEqual(rulesAt(was, before), rulesAt(is, &is.Doors[i])) {
			out = append(out, id)
		}
	}
	return out
}

// ruling reports whether there is any rule at a door.
func ruling(c *site.Config) bool {
	return len(c.Proofs)+len(c.Interlocks)+len(c.Areas)+len(c.AlarmAreas)+len(c.Cars()) > 0 ||
		slices.ContainsFunc(c.Doors, func(d site.Door) bool { return d.Toggle != nil })
}

// rulesAt gathers what holds at a door. What is switched off, and what things are called, make no difference.
func rulesAt(c *site.Config, d *site.Door) (r ruled) {
	if d.Toggle != nil && !d.Toggle.Off {
		r.toggle = d.Toggle
	}
	if d.Car != nil {
		r.fire = d.Car.Fire
		for _, s := range d.Car.Stops {
			s.Relay = 0 // which it is makes no difference to whoever rides
			r.floors = append(r.floors, s)
			if s.FreeID != 0 {
				r.schedules = append(r.schedules, hoursOf(c, s.FreeID))
			}
		}
	}
	r.between = [2]site.ID{d.OutsideAreaID, d.InsideAreaID}
	for _, a := range c.Areas {
		if d.OutsideAreaID != d.InsideAreaID && slices.Contains(r.between[:], a.ID) {
			a.Name, a.ExemptIDs = "", slices.Sorted(slices.Values(a.ExemptIDs))
			r.areas = append(r.areas, a)
		}
	}
	for _, x := range c.Interlocks {
		if !x.Off && slices.Contains(x.DoorIDs, d.ID) {
			x.Name, x.DoorIDs = "", slices.Sorted(slices.Values(x.DoorIDs))
			r.interlocks = append(r.interlocks, x)
		}
	}
	for _, x := range c.AlarmAreas {
		if x.Off || !slices.Contains(x.DoorIDs, d.ID) {
			continue
		}
		// What it watches besides, and what it turns on, makes no difference to whoever comes.
		x.Name, x.DoorIDs, x.Inputs, x.AlarmIDs, x.ArmedIDs, x.DelayIDs, x.Sounds = "", nil, nil, nil, nil, nil, 0
		r.guards = append(r.guards, x)
		if x.ScheduleID != 0 {
			r.schedules = append(r.schedules, hoursOf(c, x.ScheduleID))
		}
	}
	for _, x := range c.Proofs {
		if x.Off || !slices.Contains(x.DoorIDs, d.ID) {
			continue
		}
		x.Name, x.DoorIDs = "", nil
		if len(x.Combinations) == 0 {
			x.Combinations = nil
		}
		r.proofs, r.schedules = append(r.proofs, x), append(r.schedules, hoursOf(c, x.ScheduleID))
		for _, m := range x.Combinations {
			for _, p := range m.Parts {
				r.groups = append(r.groups, members(c, p.GroupID))
			}
		}
	}
	return r
}

// hoursOf is a schedule without its name.
func hoursOf(c *site.Config, id site.ID) site.Schedule {
	i := slices.IndexFunc(c.Schedules, func(s site.Schedule) bool { return s.ID == id })
	if i < 0 {
		return site.Schedule{}
	}
	s := c.Schedules[i]
	s.Name, s.Week, s.Holidays = "", s.Week.Normal(), append([]site.ScheduleHoliday(nil), s.Holidays...)
	return s
}

// screenedAnew lists the people of whom less counts until they are cleared than counted before, by number.
func (x *contrast) screenedAnew() (out []site.ID) {
	for was, is := range x.pairs() {
		if was == nil || is == nil || was == is {
			continue
		}
		if more, less := is.UntilCleared(), was.UntilCleared(); len(more) < len(is.Levels) &&
			(len(less) == len(was.Levels) || len(more) < len(less)) {
			out = append(out, is.ID)
		}
	}
	return out
}

func members(c *site.Config, group site.ID) []site.ID {
	for i := range c.Groups {
		if g := &c.Groups[i]; g.ID == group && len(g.DepartmentIDs) == 0 {
			return slices.Sorted(slices.Values(g.PersonIDs))
		}
		if c.Groups[i].ID == group {
			return c.Members(&c.Groups[i])
		}
	}
	return nil
}
