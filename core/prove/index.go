package prove

import (
	"reflect"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/model"
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
	utc := &hours.Zone{Name: "UTC"}
	return Open(model.New(c, nil, func(controller site.ID, _ string) *hours.Zone {
		if z := mine[controller]; z != nil {
			return z
		}
		return utc
	}))
}

// Open returns the book of a snapshot.
func Open(s *model.Snapshot) *Book {
	b := index(s)
	b.times = s.Times
	return b
}

// BookOf returns the book of what one controller holds, with the names that things had when it was sent.
func BookOf(im *image.Image, names image.Names) *Book {
	c := im.Site()
	c.Holidays, c.Plans = slices.Clone(c.Holidays), slices.Clone(c.Plans)
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
	out := index(b.Snapshot.Of(c))
	out.times = site.NewTimetableFor(c, out.Clock, from, to)
	return out
}

func index(s *model.Snapshot) *Book {
	c := s.Config
	b := &Book{
		Snapshot: s, names: image.Names{}, doors: make(map[site.ID]*site.Door, len(c.Doors)),
		schedules: map[site.ID]*site.Schedule{}, plans: map[site.ID]*site.Plan{},
	}
	for i := range c.Doors {
		b.doors[c.Doors[i].ID] = &c.Doors[i]
	}
	for i := range c.Schedules {
		b.schedules[c.Schedules[i].ID] = &c.Schedules[i]
	}
	for i := range c.Plans {
		b.plans[c.Plans[i].ID] = &c.Plans[i]
	}
	for _, k := range model.Kinds {
		if k.Word() == "person" {
			continue // who are many, and are found by number
		}
		for id, name := range k.Named(c) {
			b.names[id] = name
		}
	}
	for _, l := range s.Effective.Levels {
		if t, schedule, ok := l.ID.Own(); ok {
			b.names[l.ID] = b.TargetWords(t) + " during " + b.Name(schedule)
		}
	}
	return b
}

// TargetWords names a place in a few words.
func (b *Book) TargetWords(t site.Target) string {
	switch t.Kind {
	case site.Everything:
		return "everything"
	case site.AtStops:
		return "elevator floors"
	case site.AtReader:
		if t.Out {
			return "the way out of " + b.Name(t.ID)
		}
		return "the way into " + b.Name(t.ID)
	case site.AtFloor:
		for _, f := range b.Config.Floors {
			if f.ID == t.ID {
				return b.Name(f.SiteID) + ", " + f.Name
			}
		}
	}
	return b.Name(t.ID)
}
