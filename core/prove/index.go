package prove

import (
	"reflect"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// NewBook indexes a configuration. Zones are those of the controllers, by their ID.
func NewBook(c *site.Config, zones map[site.ID]hours.Zone) *Book {
	shared, mine := map[string]*hours.Zone{}, make(map[site.ID]*hours.Zone, len(zones))
	for id, z := range zones {
		if p := shared[z.Name]; p != nil && reflect.DeepEqual(*p, z) {
			mine[id] = p // one zone is told from another by its address
			continue
		}
		mine[id] = &z
		shared[z.Name] = &z
	}
	b := index(c, mine)
	b.times = site.NewTimetable(c, b.ControllerClock)
	return b
}

// BookOf returns the book of what one controller holds, with the names that things had when it was sent.
func BookOf(im *image.Image, names image.Names) *Book {
	c := &site.Config{
		Settings: im.Settings, Floors: im.Floors, Doors: im.Doors, Types: im.Types, Holidays: im.Holidays, Plans: im.Plans,
		Schedules: im.Schedules, Changes: im.Changes, Levels: im.Levels,
	}
	b := NewBook(c, map[site.ID]hours.Zone{im.Controller: im.Zone})
	for i := range c.Holidays { // images name nothing
		c.Holidays[i].Name = names[c.Holidays[i].ID]
	}
	for i := range c.Plans {
		c.Plans[i].Name = names[c.Plans[i].ID]
	}
	b.names = names
	return b
}

// With returns the book of another configuration with the same controllers, which knows the hours of the days [from,
// to).
func (b *Book) With(c *site.Config, from, to hours.Day) *Book {
	out := index(c, b.zones)
	out.times = site.NewTimetableFor(c, out.ControllerClock, from, to)
	return out
}

func index(c *site.Config, zones map[site.ID]*hours.Zone) *Book {
	b := &Book{
		Config: c, names: image.Names{}, doors: map[site.ID]*site.Door{}, schedules: map[site.ID]*site.Schedule{},
		plans: map[site.ID]*site.Plan{}, people: map[site.ID]*site.Person{}, zones: zones,
	}
	for i := range c.Doors {
		b.doors[c.Doors[i].ID], b.names[c.Doors[i].ID] = &c.Doors[i], c.Doors[i].Name
	}
	for i := range c.Schedules {
		b.schedules[c.Schedules[i].ID], b.names[c.Schedules[i].ID] = &c.Schedules[i], c.Schedules[i].Name
	}
	for i := range c.Plans {
		b.plans[c.Plans[i].ID], b.names[c.Plans[i].ID] = &c.Plans[i], c.Plans[i].Name
	}
	for i := range c.People {
		b.people[c.People[i].ID], b.names[c.People[i].ID] = &c.People[i], c.People[i].Name
	}
	for _, l := range c.Levels {
		b.names[l.ID] = l.Name
	}
	for _, x := range c.Controllers {
		b.names[x.ID] = x.Name
	}
	for _, x := range c.Sites {
		b.names[x.ID] = x.Name
	}
	for _, x := range c.Floors {
		b.names[x.ID] = x.Name
	}
	for _, t := range c.Types {
		b.names[t.ID] = t.Name
	}
	for _, h := range c.Holidays {
		b.names[h.ID] = h.Name
	}
	for _, x := range c.Changes {
		b.names[x.ID] = x.Name
	}
	for _, x := range c.Sets {
		b.names[x.ID] = x.Name
	}
	return b
}
