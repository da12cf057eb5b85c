package sitefile

import (
	"bytes"
	_ "embed"
	"encoding/json"

	"amberkeystone/core/site"
)

// Write writes a configuration as a site file. PINs are not in it: they are stored hashed and cannot be read.
func Write(c *site.Config) ([]byte, error) {
	name := map[site.ID]string{}
	floors := map[site.ID]site.Floor{}
	f := file{
		Settings:    c.Settings,
		Sites:       []place{},
		Controllers: []controller{},
		Types:       []holidayType{},
		Holidays:    []holiday{},
		Schedules:   []schedule{},
		Plans:       []plan{},
		Doors:       []door{},
		Sets:        []doorSet{},
		Changes:     []change{},
		Levels:      []level{},
		People:      []person{},
	}
	writePlaces(&f, c, name, floors)
	for _, l := range c.Levels {
		name[l.ID] = l.Name
	}
	writeHours(&f, c, name)
	for _, x := range c.Areas {
		name[x.ID] = x.Name
	}
	for _, d := range c.Doors {
		name[d.ID] = d.Name
		fl := floors[d.FloorID]
		out := door{
			Name: d.Name, Site: name[fl.SiteID], Floor: fl.Name, Controller: name[d.ControllerID], Port: d.Port,
			Plan: name[d.PlanID], Outside: d.Outside, Inside: d.Inside, Points: d.Points, Hardware: d.Hardware,
			From: name[d.OutsideAreaID], To: name[d.InsideAreaID], Toggle: d.Toggle, NotFar: d.NotFromAfar,
			OutOfUse: d.OutOfUse, Order: d.Order, Supply: name[d.SupplyID], Cable: d.Cable,
			Car: carOf(d.Car, name, floors),
		}
		if d.FirstCard != site.UsualFirstCard() {
			out.FirstCard = &d.FirstCard
		}
		f.Doors = append(f.Doors, out)
	}
	writeWired(&f, c, name)
	writeChanges(&f, c, name, floors)
	for _, l := range c.Levels {
		out := level{Name: l.Name, Authorities: l.Authorities, Entries: []entry{}}
		for _, e := range l.Entries {
			x := entry{where: whereOf(e.Target, name, floors), Schedule: name[e.ScheduleID], Ride: rideOf(e.Ride, name, floors)}
			for _, t := range e.Except {
				x.Except = append(x.Except, whereOf(t, name, floors))
			}
			out.Entries = append(out.Entries, x)
		}
		for _, id := range l.Includes {
			out.Contains = append(out.Contains, name[id])
		}
		f.Levels = append(f.Levels, out)
	}
	writePeople(&f, c, name, floors)
	writeRules(&f, c, name, floors)
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	err := enc.Encode(f)
	return b.Bytes(), err
}

func writePlaces(f *file, c *site.Config, name map[site.ID]string, floors map[site.ID]site.Floor) {
	for _, s := range c.Sites {
		name[s.ID] = s.Name
		p := place{Name: s.Name, Zone: s.Zone, Twelve: s.TwelveHour, Sunday: s.FromSunday, Floors: []floor{}}
		for _, fl := range c.Floors {
			if fl.SiteID == s.ID {
				p.Floors = append(p.Floors, floor{fl.Name, fl.Level})
				floors[fl.ID] = fl
			}
		}
		f.Sites = append(f.Sites, p)
	}
	for _, x := range c.Controllers {
		name[x.ID] = x.Name
		f.Controllers = append(
			f.Controllers,
			controller{x.Name, name[x.SiteID], x.Zone, x.Serial, x.Model, x.Ports, x.People, x.Place, x.Resistor, x.Expanders,
				x.Network},
		)
	}
	for _, x := range c.Supplies {
		name[x.ID] = x.Name
		f.Supplies = append(f.Supplies, supply{x.Name, name[x.SiteID], x.Volts, x.Milliamps, x.Battery})
	}
}

func writePeople(f *file, c *site.Config, name map[site.ID]string, floors map[site.ID]site.Floor) {
	grants := func(list []site.Grant) []grant {
		var out []grant
		for _, g := range list {
			x := grant{Level: name[g.LevelID], Schedule: name[g.ScheduleID], Dates: g.Dates}
			if g.LevelID == 0 {
				x.where = whereOf(g.Target, name, floors)
			}
			out = append(out, x)
		}
		return out
	}
	for _, d := range c.Departments {
		name[d.ID] = d.Name
		f.Departments = append(f.Departments, department{d.Name, d.AlwaysPIN, d.ExtendedTime, grants(d.Levels)})
	}
	for _, p := range c.People {
		out := person{
			Name:        p.Name,
			Suspended:   p.Suspended,
			Extended:    p.ExtendedTime,
			AlwaysPIN:   p.AlwaysPIN,
			PINInstead:  p.PINInstead,
			Credentials: p.Credentials,
			Levels:      grants(p.Levels),
			Dates:       p.Dates,
			Record:      p.Record,
		}
		for _, id := range p.DepartmentIDs {
			out.Departments = append(out.Departments, name[id])
		}
		f.People = append(f.People, out)
	}
	for _, x := range c.FreeCards {
		f.FreeCards = append(f.FreeCards, x.Credential)
	}
}

// whereOf writes a place by names.
func whereOf(t site.Target, name map[site.ID]string, floors map[site.ID]site.Floor) (out where) {
	switch t.Kind {
	case site.AtDoor:
		out.Door = name[t.ID]
	case site.AtReader:
		out.Door, out.Side = name[t.ID], "in"
		if t.Out {
			out.Side = "out"
		}
	case site.AtDoorSet:
		out.DoorSet = name[t.ID]
	case site.AtFloor:
		out.Floor = &floorName{name[floors[t.ID].SiteID], floors[t.ID].Name}
	case site.AtSite:
		out.Site = name[t.ID]
	case site.Everything:
		out.Everything = true
	}
	return out
}
