package compare

import (
	"cmp"
	"slices"

	"amberkeystone/core/site"
)

// Edit is a change to the hours of a configuration, to where a level leads, to what people hold or to what is armed,
// that is not saved: what is set replaces the object of the same ID, or is added where there is none.
type Edit struct {
	Type     *site.HolidayType `json:"type,omitempty"`
	Holiday  *site.Holiday     `json:"holiday,omitempty"`
	Schedule *site.Schedule    `json:"schedule,omitempty"`
	Plan     *site.Plan        `json:"plan,omitempty"`
	Change   *site.DatedChange `json:"change,omitempty"`
	Door     *site.Door        `json:"door,omitempty" doc:"As when it gets another plan"`
	Level    *site.Level       `json:"level,omitempty"`

	Department *site.Department `json:"department,omitempty"`
	Person     *site.Person     `json:"person,omitempty" doc:"A person's PIN is taken from who they are now"`

	AlarmArea *site.AlarmArea `json:"alarmArea,omitempty"`

	Remove site.ID `json:"remove,omitempty" doc:"The ID of a holiday, dated change, plan, schedule, person or alarm area to leave out"`
}

// Fresh is the ID of an object under edit that has none yet; as the latest made, it wins over older changes.
const Fresh site.ID = 1 << 60

// Check says what is wrong with what the edit sets.
func (e Edit) Check() site.Faults {
	var fs site.Faults
	if e.Type != nil {
		fs = append(fs, e.Type.Check()...)
	}
	if e.Holiday != nil {
		fs = append(fs, e.Holiday.Check()...)
	}
	if e.Schedule != nil {
		fs = append(fs, e.Schedule.Check()...)
	}
	if e.Plan != nil {
		fs = append(fs, e.Plan.Check()...)
	}
	if e.Change != nil {
		fs = append(fs, e.Change.Check()...)
	}
	if e.Door != nil {
		fs = append(fs, e.Door.Check()...)
	}
	if e.Level != nil {
		fs = append(fs, e.Level.Check()...)
	}
	if e.Department != nil {
		fs = append(fs, e.Department.Check()...)
	}
	if e.Person != nil {
		fs = append(fs, e.Person.Check()...)
	}
	if e.AlarmArea != nil {
		fs = append(fs, e.AlarmArea.Check()...)
	}
	return slices.DeleteFunc(fs, func(f site.Fault) bool { return f.Field == "name" }) // a name changes no hour
}

// Apply returns the configuration with the edit in it; the given one stays as it is.
func (e Edit) Apply(c *site.Config) *site.Config {
	out := *c
	if e.Type != nil {
		out.Types = put(c.Types, *e.Type, func(t *site.HolidayType) *site.ID { return &t.ID })
	}
	if e.Holiday != nil {
		out.Holidays = put(c.Holidays, *e.Holiday, func(h *site.Holiday) *site.ID { return &h.ID })
	}
	if e.Schedule != nil {
		out.Schedules = put(c.Schedules, *e.Schedule, func(s *site.Schedule) *site.ID { return &s.ID })
	}
	if e.Plan != nil {
		out.Plans = put(c.Plans, *e.Plan, func(p *site.Plan) *site.ID { return &p.ID })
	}
	if e.Change != nil {
		out.Changes = put(c.Changes, *e.Change, func(x *site.DatedChange) *site.ID { return &x.ID })
	}
	if e.Door != nil {
		out.Doors = put(c.Doors, *e.Door, func(d *site.Door) *site.ID { return &d.ID })
	}
	if e.Level != nil {
		out.Levels = put(c.Levels, *e.Level, func(l *site.Level) *site.ID { return &l.ID })
	}
	if e.Department != nil {
		out.Departments = put(c.Departments, *e.Department, func(d *site.Department) *site.ID { return &d.ID })
	}
	if e.Person != nil {
		out.People = putPerson(c.People, *e.Person)
	}
	if e.AlarmArea != nil {
		out.AlarmAreas = put(c.AlarmAreas, *e.AlarmArea, func(a *site.AlarmArea) *site.ID { return &a.ID })
	}
	if e.Remove != 0 {
		out.People = without(out.People, func(p *site.Person) bool { return p.ID == e.Remove })
		out.Holidays = without(out.Holidays, func(h site.Holiday) bool { return h.ID == e.Remove })
		out.Changes = without(out.Changes, func(x site.DatedChange) bool { return x.ID == e.Remove })
		out.Plans = without(out.Plans, func(p site.Plan) bool { return p.ID == e.Remove })
		out.Schedules = without(out.Schedules, func(s site.Schedule) bool { return s.ID == e.Remove })
		out.AlarmAreas = without(out.AlarmAreas, func(a site.AlarmArea) bool { return a.ID == e.Remove })
	}
	return &out
}

func put[T any](list []T, v T, id func(*T) *site.ID) []T {
	out := slices.Clone(list)
	if *id(&v) == 0 {
		*id(&v) = Fresh
	}
	for i := range out {
		if *id(&out[i]) == *id(&v) {
			out[i] = v
			return out
		}
	}
	return append(out, v)
}

// putPerson is put for people, who keep the PIN that they have.
func putPerson(list []*site.Person, p site.Person) []*site.Person {
	out := slices.Clone(list)
	for i, was := range out {
		if was.ID == p.ID && p.ID != 0 {
			p.PIN, p.Duress, p.PINLength = was.PIN, was.Duress, was.PINLength
			out[i] = &p
			return out
		}
	}
	if p.ID == 0 {
		p.ID = Fresh
	}
	i, _ := slices.BinarySearchFunc(out, p.ID, func(a *site.Person, id site.ID) int { return cmp.Compare(a.ID, id) })
	return slices.Insert(out, i, &p) // one who was removed comes back to their place
}

func without[T any](list []T, gone func(T) bool) []T {
	return slices.DeleteFunc(slices.Clone(list), gone)
}
