package site

import (
	"cmp"
	"slices"
)

// What people hold is said in four ways: of themselves, of their departments, by levels that contain others, and by
// screenings, each of which gives the level that counts alone until somebody is cleared. The
// effective configuration has it worked out once, so that whoever decides looks at one list.

// Effective returns the configuration as it decides. Everybody holds what they are given and what their departments
// are given, each level with all that it contains, with the dates of the grant. A place that is given without a level
// is a level of its own, with a number below 0. Who holds no more than is said of them is the same person as before.
func (c *Config) Effective() *Config { return c.EffectiveAfter(nil) }

// EffectiveAfter is Effective, where people who hold what they held in another effective configuration stay the same.
func (c *Config) EffectiveAfter(was *Config) *Config {
	if c.effective {
		return c
	}
	out := *c
	out.effective = true
	h := newHolder(c)
	out.Levels = h.levels()
	if !h.any {
		return &out
	}
	out.People = make([]*Person, len(c.People))
	for i, p := range c.People {
		out.People[i] = h.effective(p)
	}
	if was != nil {
		out.keep(was)
	}
	return &out
}

// With is the effective configuration after people have changed and nothing else: said is the configuration as it is
// said now. Ok is false where more than these people may hold something else.
func (c *Config) With(said *Config, people []ID) (out *Config, ok bool) {
	h := newHolder(said)
	next := *said
	next.effective, next.Levels, next.People = true, c.Levels, slices.Clone(c.People)
	for _, id := range people {
		i, there := slices.BinarySearchFunc(next.People, id, byID)
		was, is := (*Person)(nil), said.Person(id)
		if there {
			was = next.People[i]
		}
		lost := was != nil && slices.ContainsFunc(was.Levels, func(g Grant) bool { return g.LevelID < 0 })
		if lost || is != nil && is.holdsOwn() { // a level of its own comes or goes
			return nil, false
		}
		switch {
		case is == nil && there:
			next.People = slices.Delete(next.People, i, i+1)
		case is != nil && there:
			next.People[i] = h.effective(is)
		case is != nil:
			next.People = slices.Insert(next.People, i, h.effective(is))
		}
	}
	return &next, true
}

func byID(p *Person, id ID) int { return cmp.Compare(p.ID, id) }

// holdsOwn reports whether somebody holds a place without a level.
func (p *Person) holdsOwn() bool {
	return slices.ContainsFunc(p.Levels, Grant.own)
}

// own reports whether a grant gives a place, and not a level.
func (g Grant) own() bool { return g.LevelID == 0 && g.Level() < 0 }

// keep takes people over from an effective configuration before, where they are the same.
func (c *Config) keep(was *Config) {
	for i, p := range c.People {
		k, ok := slices.BinarySearchFunc(was.People, p.ID, byID)
		if !ok {
			continue
		}
		if old := was.People[k]; old.sameAs(p) {
			c.People[i] = old
		}
	}
}

// sameAs reports whether two effective people were made from the same person, and hold the same.
func (p *Person) sameAs(o *Person) bool {
	return p.Name == o.Name && p.Suspended == o.Suspended && p.Dates == o.Dates && p.AlwaysPIN == o.AlwaysPIN &&
		p.PINInstead == o.PINInstead && p.ExtendedTime == o.ExtendedTime && p.Record == o.Record && p.PIN == o.PIN &&
		p.Duress == o.Duress && p.PINLength == o.PINLength && slices.Equal(p.DepartmentIDs, o.DepartmentIDs) &&
		slices.Equal(p.Levels, o.Levels) && slices.Equal(p.Credentials, o.Credentials) &&
		slices.Equal(p.screened, o.screened) && p.refused == o.refused && p.only == o.only
}

// holder works out what people hold.
type holder struct {
	config      *Config
	departments map[ID]*Department
	contains    map[ID][]ID // of each level that contains others: itself and all of them
	screenings  []*Screening
	byPerson    map[ID][]int // of the screenings
	byMember    map[ID][]int // those of a department
	any         bool         // somebody holds more than is said of them
}

func newHolder(c *Config) *holder {
	h := &holder{config: c, departments: make(map[ID]*Department, len(c.Departments))}
	for i := range c.Departments {
		d := &c.Departments[i]
		h.departments[d.ID] = d
		h.any = h.any || len(d.Levels) > 0 || d.AlwaysPIN || d.ExtendedTime
	}
	for i := range c.Screenings {
		if x := &c.Screenings[i]; !x.Off {
			h.under(x, len(h.screenings))
			h.screenings = append(h.screenings, x)
		}
	}
	h.contains = c.Containment()
	h.any = h.any || len(h.contains)+len(h.screenings) > 0 || slices.ContainsFunc(c.People, (*Person).holdsOwn)
	return h
}

// under notes whom the nth screening is about.
func (h *holder) under(x *Screening, n int) {
	if h.byPerson == nil {
		h.byPerson, h.byMember = map[ID][]int{}, map[ID][]int{}
	}
	for _, id := range x.PersonIDs {
		h.byPerson[id] = append(h.byPerson[id], n)
	}
	for _, id := range x.DepartmentIDs {
		h.byMember[id] = append(h.byMember[id], n)
	}
}

// screeningsOf lists the screenings that somebody is under, in their order.
func (h *holder) screeningsOf(p *Person) (out []*Screening) {
	if len(h.screenings) == 0 {
		return nil
	}
	list := slices.Clone(h.byPerson[p.ID])
	for _, d := range p.DepartmentIDs {
		list = append(list, h.byMember[d]...)
	}
	slices.Sort(list)
	for _, n := range slices.Compact(list) {
		out = append(out, h.screenings[n])
	}
	return out
}

// contained lists a level and all that it contains, each once, also where a file has them in a loop.
func contained(level map[ID]*Level, id ID) []ID {
	out := []ID{id}
	for i := 0; i < len(out); i++ {
		l := level[out[i]]
		if l == nil {
			continue
		}
		for _, in := range l.Includes {
			if level[in] != nil && !slices.Contains(out, in) {
				out = append(out, in)
			}
		}
	}
	return out
}

// Loop returns the levels by which one would contain itself if it contained others, from the first to the last; nil
// where it would not.
func (c *Config) Loop(level ID, includes []ID) []ID {
	by := make(map[ID]*Level, len(c.Levels))
	for i := range c.Levels {
		by[c.Levels[i].ID] = &c.Levels[i]
	}
	var path []ID
	seen := map[ID]bool{}
	var walk func(id ID) bool
	walk = func(id ID) bool {
		if id == level {
			return true
		}
		if seen[id] || by[id] == nil {
			return false
		}
		seen[id] = true
		path = append(path, id)
		if slices.ContainsFunc(by[id].Includes, walk) {
			return true
		}
		path = path[:len(path)-1]
		return false
	}
	for _, id := range includes {
		if walk(id) {
			return append(append([]ID{level}, path...), level)
		}
	}
	return nil
}

// levels are those of the configuration and those of their own, by number.
func (h *holder) levels() []Level {
	own := map[ID]Level{}
	note := func(list []Grant) {
		for _, g := range list {
			if id := g.Level(); g.own() {
				own[id] = Level{ID: id, Entries: []Entry{{Target: g.Target, ScheduleID: g.ScheduleID}}}
			}
		}
	}
	for i := range h.config.Departments {
		note(h.config.Departments[i].Levels)
	}
	for _, p := range h.config.People {
		note(p.Levels)
	}
	if len(own) == 0 {
		return h.config.Levels
	}
	var out []Level
	for _, l := range own {
		out = append(out, l)
	}
	slices.SortFunc(out, func(a, b Level) int { return cmp.Compare(a.ID, b.ID) })
	return append(out, h.config.Levels...)
}

// effective is a person with all that they hold; the same one where that is what is said of them.
func (h *holder) effective(p *Person) *Person {
	out := *p
	list := make([]Grant, 0, len(p.Levels)+4)
	list = h.append(list, p.Levels)
	for _, id := range p.DepartmentIDs {
		if d := h.departments[id]; d != nil {
			list = h.append(list, d.Levels)
			out.AlwaysPIN, out.ExtendedTime = out.AlwaysPIN || d.AlwaysPIN, out.ExtendedTime || d.ExtendedTime
		}
	}
	for _, x := range h.screeningsOf(p) {
		out.screen(x)
		if x.LevelID != 0 {
			list = h.append(list, []Grant{{LevelID: x.LevelID}})
		}
	}
	list = once(list)
	if len(out.screened) == 0 && slices.Equal(list, p.Levels) && out.AlwaysPIN == p.AlwaysPIN &&
		out.ExtendedTime == p.ExtendedTime {
		return p
	}
	out.Levels = list
	return &out
}

// append adds what grants give: levels with all that they contain, by their number alone.
func (h *holder) append(list, grants []Grant) []Grant {
	for _, g := range grants {
		all := h.contains[g.LevelID]
		if all == nil {
			list = append(list, Grant{LevelID: g.Level(), Dates: g.Dates})
			continue
		}
		for _, id := range all {
			list = append(list, Grant{LevelID: id, Dates: g.Dates})
		}
	}
	return list
}

// once leaves each grant once; a level that is held for good needs no dates besides. What is one list already stays in
// its order.
func once(list []Grant) []Grant {
	out := list[:0]
	for i, g := range list {
		twice := slices.ContainsFunc(list[:i],
			func(o Grant) bool { return o.LevelID == g.LevelID && (o.Dates == g.Dates || o.Dates == Dates{}) }) ||
			slices.ContainsFunc(list[i+1:], func(o Grant) bool {
				return o.LevelID == g.LevelID && o.Dates == Dates{} &&
					g.Dates != Dates{}
			})
		if !twice {
			out = append(out, g)
		}
	}
	return out
}

// The number of a level of its own holds the place and the schedule, so that equal ones are one and the number stays:
// −(1 + kind + 16 · (place + 2^25 · schedule)). Places and schedules have numbers below 2^25 and 2^24, far more than a
// database of objects gives out.
const (
	ownKind  = 16
	ownPlace = 1 << 25
	ownLast  = 1 << 24
)

// OwnLevel is the number of the level that a place is during a schedule, where it is given without one.
func OwnLevel(t Target, schedule ID) ID {
	kind := 2 * max(0, slices.Index(TargetKinds, t.Kind))
	if t.Out {
		kind++
	}
	return -(1 + ID(kind) + ownKind*(t.ID%ownPlace+ownPlace*(schedule%ownLast)))
}

// Own returns the place and the schedule of a level of its own; ok is false of any other.
func (id ID) Own() (t Target, schedule ID, ok bool) {
	if id >= 0 {
		return Target{}, 0, false
	}
	n := -id - 1
	kind := int(n % ownKind)
	if kind/2 >= len(TargetKinds) {
		return Target{}, 0, false
	}
	n /= ownKind
	return Target{Kind: TargetKinds[kind/2], ID: n % ownPlace, Out: kind%2 == 1}, n / ownPlace, true
}

// Holding is one reason for which somebody holds a level.
type Holding struct {
	LevelID ID
	Dates
	DepartmentID ID // through which they hold it; 0: themselves
	OuterID      ID // the level that contains it; 0: it was given itself
	ScreeningID  ID // the screening until which it counts alone
}

// Holdings lists what somebody holds and why: what they are given themselves first, then by department.
func (c *Config) Holdings(p *Person) []Holding { return c.HoldingsOf()(p) }

// HoldingsOf is Holdings for asking about many: what all share is looked up once.
func (c *Config) HoldingsOf() func(*Person) []Holding { return newHolder(c).holdings }

func (h *holder) holdings(p *Person) []Holding {
	var out []Holding
	note := func(grants []Grant, department ID) {
		for _, g := range grants {
			all := h.contains[g.LevelID]
			if all == nil {
				out = append(out, Holding{LevelID: g.Level(), Dates: g.Dates, DepartmentID: department})
				continue
			}
			for i, id := range all {
				x := Holding{LevelID: id, Dates: g.Dates, DepartmentID: department}
				if i > 0 {
					x.OuterID = g.LevelID
				}
				out = append(out, x)
			}
		}
	}
	note(p.Levels, 0)
	for _, id := range p.DepartmentIDs {
		if d := h.departments[id]; d != nil {
			note(d.Levels, id)
		}
	}
	for _, x := range h.screeningsOf(p) {
		if x.LevelID == 0 {
			continue
		}
		n := len(out)
		note([]Grant{{LevelID: x.LevelID}}, 0)
		more := out[n:]
		for i := range more {
			more[i].ScreeningID = x.ID
		}
		out = append(out[:n], slices.DeleteFunc(more, func(h Holding) bool { // who holds it anyhow needs no other reason
			return slices.ContainsFunc(out[:n], func(o Holding) bool { return o.LevelID == h.LevelID && o.Dates == Dates{} })
		})...)
	}
	return out
}

// Containment is what levels contain: of each that contains any, itself and all of those.
type Containment map[ID][]ID

// Containment works out what levels contain.
func (c *Config) Containment() Containment {
	level := make(map[ID]*Level, len(c.Levels))
	for i := range c.Levels {
		level[c.Levels[i].ID] = &c.Levels[i]
	}
	out := Containment{}
	for id, l := range level {
		if len(l.Includes) > 0 {
			out[id] = contained(level, id)
		}
	}
	return out
}

// Of lists a level and all that it contains.
func (n Containment) Of(level ID) []ID {
	if all := n[level]; all != nil {
		return all
	}
	return []ID{level}
}

// Whole is a person of a configuration as they decide: with all that they hold. The person need not be in it.
func (c *Config) Whole(p *Person) *Person { return newHolder(c).effective(p) }

// HoldingsDated is Holdings of those that have dates, or nothing where neither somebody nor what they hold has any.
func (c *Config) HoldingsDated(p *Person) []Holding {
	dated := func(g Grant) bool { return g.Dates != Dates{} }
	any := p.Dates != Dates{} || slices.ContainsFunc(p.Levels, dated)
	for _, id := range p.DepartmentIDs {
		if d := c.Department(id); d != nil {
			any = any || slices.ContainsFunc(d.Levels, dated)
		}
	}
	if !any {
		return nil
	}
	return c.Holdings(p)
}
