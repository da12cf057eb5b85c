package image

import (
	"slices"

	"amberkeystone/core/access"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/rules/alarmarea"
	"amberkeystone/core/site"
)

// alarmAreasOf selects the alarm areas that a controller keeps.
func alarmAreasOf(c *site.Config, controller site.ID) (out []site.AlarmArea) {
	sorted := func(ids []site.ID) []site.ID {
		ids = append([]site.ID{}, ids...)
		slices.Sort(ids)
		return ids
	}
	for i := range c.AlarmAreas {
		x := c.AlarmAreas[i]
		if x.Off || c.AlarmController(&x) != controller {
			continue
		}
		x.Name, x.DoorIDs = "", sorted(x.DoorIDs)
		x.AlarmIDs, x.ArmedIDs, x.DelayIDs = sorted(x.AlarmIDs), sorted(x.ArmedIDs), sorted(x.DelayIDs)
		x.Inputs = append([]site.Watched{}, x.Inputs...)
		slices.SortFunc(x.Inputs, func(a, b site.Watched) int { return int(a.InputID - b.InputID) })
		out = append(out, x)
	}
	return out
}

// alarmArea lays out the alarm area of a door, or nil.
func (c *Compiled) alarmArea(door site.ID) *alarmarea.Area {
	for i := range c.Rules.AlarmAreas {
		if x := &c.Rules.AlarmAreas[i]; slices.Contains(x.DoorIDs, door) {
			return c.newArea(x)
		}
	}
	return nil
}

func (c *Compiled) newArea(x *site.AlarmArea) *alarmarea.Area {
	a := &alarmarea.Area{Rule: x, Local: c.local()}
	if x.ScheduleID != 0 {
		a.Schedule = c.timetable(x.ScheduleID)
	}
	return a
}

// alarmAreas lays out the alarm areas of the controller.
func (c *Compiled) alarmAreas() (out []*alarmarea.Area) {
	for i := range c.Rules.AlarmAreas {
		out = append(out, c.newArea(&c.Rules.AlarmAreas[i]))
	}
	return out
}

// watch ties alarm areas to their doors and terminals.
func (c *Compiled) watch(areas []*alarmarea.Area, places []*Place) *alarmarea.Watch {
	w := alarmarea.Wiring{
		Points: map[string]site.ID{}, Outputs: map[site.ID]point.Address{},
		Arms:    func(p *pass.Pass) bool { return c.Table.Counts(p, access.Arms) },
		Disarms: func(p *pass.Pass) bool { return c.Table.Counts(p, access.Disarms) },
	}
	for i := range c.Outputs {
		w.Outputs[c.Outputs[i].ID] = c.Outputs[i].At
	}
	for i := range c.Inputs {
		w.Points[c.Inputs[i].At.String()] = c.Inputs[i].ID
	}
	for _, a := range areas {
		for k, p := range places {
			if !slices.Contains(a.Rule.DoorIDs, p.ID) {
				continue
			}
			a.Doors = append(a.Doors, alarmarea.Door{ID: p.ID, Place: k, Open: p.Door.Open})
			wired := p.Door.Config.Wired()
			for _, at := range []point.Address{wired.Contact, wired.Exit} {
				if at != (point.Address{}) {
					w.Points[at.String()] = p.ID
				}
			}
		}
	}
	return alarmarea.New(areas, w)
}

// local is the clock and the holidays of the controller.
func (c *Compiled) local() hours.Local {
	if len(c.Lines) > 0 {
		return c.Lines[0].Local
	}
	return hours.Local{Zone: c.Zone}
}
