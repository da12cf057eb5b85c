package compare

import (
	"cmp"
	"encoding/binary"
	"slices"
	"strconv"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Who lists the people who may come in at other hours than before, in the order of the configuration.
type Who struct {
	Gainers []site.ID // at more hours somewhere
	Losers  []site.ID // at fewer hours somewhere
	People  int       // touched either way
}

// turns is whether there is a time at which somebody comes in who did not, and one at which somebody does not who did.
type turns struct{ gains, loses bool }

func (t turns) and(o turns) turns  { return turns{t.gains && o.gains, t.loses && o.loses} }
func (t turns) or(o turns) turns   { return turns{t.gains || o.gains, t.loses || o.loses} }
func (t turns) less(o turns) turns { return turns{t.gains && !o.gains, t.loses && !o.loses} }

// means is what somebody has to show, as far as it decides. Who has nothing yet counts as if a card were given.
type means struct {
	card, pin, always bool
	kinds             site.Kinds // what they can show, where it is not asked yet which reader takes it
}

func meansOf(p *site.Person) means {
	kinds := p.Kinds()
	if kinds == 0 && p.PIN == nil {
		kinds = site.KindsOf(site.Card)
	}
	return means{pin: p.PIN != nil, always: p.AlwaysPIN, kinds: kinds}
}

// enough reports whether that is what a door asks for (design 3.3, 3.4).
func (m means) enough(mode hours.Mode) bool {
	card := m.card && (m.pin || !m.always)
	switch mode {
	case hours.Free:
		return true
	case hours.Card:
		return card
	case hours.PIN:
		return m.pin
	case hours.CardOrPIN:
		return card || m.pin
	case hours.CardAndPIN:
		return m.card && m.pin
	}
	return false
}

// entry is one way through a door: a level and its schedule, and whether it was there before and is there after.
type entry struct {
	level, door, schedule site.ID
	was, is               bool
}

// entries lists where each level leads, before and after.
func (x *contrast) entries() map[site.ID][]entry {
	out := map[site.ID][]entry{}
	note := func(c *site.Config, mark func(*entry)) {
		levels, places := c.Levels, site.NewPlaces(c)
		for i := range levels {
			l := &levels[i]
			type leads struct{ door, schedule site.ID }
			at := map[leads]int{}
			for k, e := range out[l.ID] {
				at[leads{e.door, e.schedule}] = k
			}
			for _, e := range places.Entries(l) {
				if !e.Side.Takes(false) { // who comes in is what counts here
					continue
				}
				k, ok := at[leads{e.DoorID, e.ScheduleID}]
				if !ok {
					k = len(out[l.ID])
					at[leads{e.DoorID, e.ScheduleID}] = k
					out[l.ID] = append(out[l.ID], entry{level: l.ID, door: e.DoorID, schedule: e.ScheduleID})
				}
				mark(&out[l.ID][k])
			}
		}
	}
	note(x.was, func(e *entry) { e.was = true })
	note(x.is, func(e *entry) { e.is = true })
	return out
}

// crowd finds out who may come in at other hours, at the doors where something differs.
type crowd struct {
	*contrast
	doors   []site.ID
	levels  map[site.ID]*reach
	known   map[string]turns // by what somebody holds
	ways    map[way]turned
	courses map[run]*course
	readers map[site.ID]*site.Reader // in, of each door

	once, twice, unclear bits // of one set of levels: the doors that they cover, that several cover, that are to be asked
}

// turned is what entries come to at a door. What is sure holds whatever other entries somebody has there.
type turned struct {
	turns
	sure turns
}

// way is what decides whether somebody comes in through a door.
type way struct {
	pair
	few  [4]entry
	many string // where they are more
	means
}

// reach is where a level leads among those doors, and what holding it alone means there.
type reach struct {
	entries map[int][]entry // by door
	covers  bits
	alone   map[means]*lone
}

// lone is what a level alone means: the doors with a gain, those with a loss, and what is sure.
type lone struct {
	gains, loses bits
	sure         turns
}

// people finds those who may come in at more hours or at fewer. It asks what somebody's levels open together, given
// what the doors ask: who loses hours by one level and has them by another is not touched. Only the doors that
// somebody's levels cover count; who has nothing to do there is not touched when they go free.
func (x *contrast) people() Who {
	c := crowd{
		contrast: x,
		levels:   map[site.ID]*reach{},
		known:    map[string]turns{},
		ways:     map[way]turned{},
		courses:  map[run]*course{},
		readers:  map[site.ID]*site.Reader{},
	}
	for i := range x.is.Doors {
		c.readers[x.is.Doors[i].ID] = &x.is.Doors[i].In
	}
	number := map[site.ID]int{}
	for i := range x.is.Doors {
		if x.door(x.is.Doors[i].ID).first != hours.Never {
			c.join(number, x.is.Doors[i].ID)
		}
	}
	all := x.entries()
	for _, entries := range all {
		for _, e := range entries {
			if x.before.Door(e.door) == nil || x.after.Door(e.door) == nil {
				continue
			}
			if e.was != e.is || x.schedule(e.schedule, e.door).first != hours.Never {
				c.join(number, e.door)
			}
		}
	}
	c.once, c.twice, c.unclear = newBits(len(c.doors)), newBits(len(c.doors)), newBits(len(c.doors))
	for level, entries := range all {
		r := &reach{map[int][]entry{}, newBits(len(c.doors)), map[means]*lone{}}
		for _, e := range entries {
			if n, ok := number[e.door]; ok {
				r.entries[n] = append(r.entries[n], e)
				r.covers.set(n)
			}
		}
		if len(r.entries) > 0 {
			c.levels[level] = r
		}
	}
	var w Who
	for i := range x.is.People {
		p := x.is.People[i]
		t := c.person(p)
		if t.gains {
			w.Gainers = append(w.Gainers, p.ID)
		}
		if t.loses {
			w.Losers = append(w.Losers, p.ID)
		}
		if t.gains || t.loses {
			w.People++
		}
	}
	return w
}

func (c *crowd) join(number map[site.ID]int, door site.ID) {
	if _, ok := number[door]; !ok {
		number[door] = len(c.doors)
		c.doors = append(c.doors, door)
	}
}

// person finds out for one person; those who hold the same share the answer.
func (c *crowd) person(p *site.Person) turns {
	if p.Suspended || !c.holds(p.Dates) {
		return turns{}
	}
	var held []site.ID
	for _, g := range p.Levels {
		if c.levels[g.LevelID] != nil && c.holds(g.Dates) {
			held = append(held, g.LevelID)
		}
	}
	if len(held) == 0 {
		return turns{}
	}
	slices.Sort(held)
	held = slices.Compact(held)
	m := meansOf(p)
	key := []byte{byte(m.kinds)}
	key = strconv.AppendBool(key, m.pin)
	key = strconv.AppendBool(key, m.always)
	for _, id := range held {
		key = binary.AppendVarint(key, int64(id))
	}
	t, ok := c.known[string(key)]
	if !ok {
		t = c.set(held, m)
		c.known[string(key)] = t
	}
	return t
}

// holds reports whether dates and the span of time have a moment in common. Dates are read by the calendar of UTC,
// a day wide of any zone's.
func (c *crowd) holds(d site.Dates) bool {
	if d.From == "" && d.Until == "" {
		return true
	}
	from, to := c.span(&hours.Zone{})
	if first, err := hours.ParseDay(d.From); err == nil && hours.Instant(first)*hours.FullDay >= to {
		return false
	}
	last, err := hours.ParseDay(d.Until)
	return err != nil || hours.Instant(last+1)*hours.FullDay > from
}

// set finds out for a set of levels. A door that one of them covers is known for the level; where several lead
// through one door they are asked together, unless one of them alone has settled it. Nobody gains or loses by several
// what they do by none of them.
func (c *crowd) set(held []site.ID, m means) turns {
	clear(c.once)
	clear(c.twice)
	clear(c.unclear)
	for _, id := range held {
		c.twice.addCommon(c.once, c.levels[id].covers)
		c.once.add(c.levels[id].covers)
	}
	var t turns
	for _, id := range held {
		a := c.alone(id, m)
		t = t.or(a.sure).or(turns{a.gains.without(c.twice), a.loses.without(c.twice)})
	}
	for _, id := range held {
		a := c.alone(id, m)
		if !t.gains {
			c.unclear.addCommon(c.twice, a.gains)
		}
		if !t.loses {
			c.unclear.addCommon(c.twice, a.loses)
		}
	}
	for n := range c.unclear.all {
		var entries []entry
		for _, id := range held {
			entries = append(entries, c.levels[id].entries[n]...)
		}
		if t = t.or(c.way(n, entries, m).turns); t.gains && t.loses {
			break
		}
	}
	return t
}

func (c *crowd) alone(level site.ID, m means) *lone {
	r := c.levels[level]
	out, ok := r.alone[m]
	if !ok {
		out = &lone{gains: newBits(len(c.doors)), loses: newBits(len(c.doors))}
		for n, entries := range r.entries {
			t := c.way(n, entries, m)
			if t.gains {
				out.gains.set(n)
			}
			if t.loses {
				out.loses.set(n)
			}
			out.sure = out.sure.or(t.sure)
		}
		r.alone[m] = out
	}
	return out
}

// way finds out what entries through one door mean for somebody with these means.
func (c *crowd) way(n int, entries []entry, m means) turned {
	door := c.doors[n]
	if r := c.readers[door]; r != nil {
		m.pin = m.pin && r.Keypad // nobody types at a reader without keys
		m.card, m.kinds = m.kinds&r.TakenKinds() != 0, 0
	}
	a, b := c.before.Door(door), c.after.Door(door)
	entries = distinct(entries, a.Plan.Limited() || b.Plan.Limited())
	k := way{pairOf(a, b), [4]entry{}, "", m}
	if len(entries) <= len(k.few) {
		copy(k.few[:], entries)
	} else {
		k.many = spelled(entries)
	}
	t, ok := c.ways[k]
	if !ok {
		t = c.walk(door, entries, m)
		c.ways[k] = t
	}
	return t
}

// distinct leaves of the entries through one door what makes a difference there, each once and in one order: the
// schedule, and the level where a plan asks by which level somebody comes.
func distinct(entries []entry, byLevel bool) []entry {
	var out []entry
	for _, e := range entries {
		e.door = 0
		if !byLevel {
			e.level = 0
		}
		i := slices.IndexFunc(out, func(o entry) bool { return o.level == e.level && o.schedule == e.schedule })
		if i < 0 {
			out = append(out, e)
			continue
		}
		out[i].was, out[i].is = out[i].was || e.was, out[i].is || e.is
	}
	slices.SortFunc(out, func(a, b entry) int {
		return cmp.Or(cmp.Compare(a.schedule, b.schedule), cmp.Compare(a.level, b.level))
	})
	return out
}

// spelled writes entries as bytes that only the same entries have.
func spelled(entries []entry) string {
	var out []byte
	for _, e := range entries {
		out = binary.AppendVarint(out, int64(e.schedule))
		out = binary.AppendVarint(out, int64(e.level))
		out = strconv.AppendBool(out, e.was)
		out = strconv.AppendBool(out, e.is)
	}
	return string(out)
}

func (c *crowd) walk(door site.ID, entries []entry, m means) (t turned) {
	a, b := c.before.Door(door), c.after.Door(door)
	paths := make([]path, 0, len(entries))
	for _, e := range entries {
		x, y := c.course(e.schedule, a.Local, c.before), c.course(e.schedule, b.Local, c.after)
		if x != nil && y != nil {
			paths = append(paths, path{e, cursor{course: x}, cursor{course: y}})
		}
	}
	for _, s := range c.door(door).stretches {
		was, is := admits(a, s.was, m), admits(b, s.is, m)
		want := turns{is > was, is < was}
		if len(s.was.Levels)+len(s.is.Levels) > 0 {
			want = turns{is != nobody, was != nobody}
		}
		found := c.compare(a, b, s, paths, m, want.less(t.turns))
		t.turns = t.turns.or(found)
		t.sure = t.sure.or(found.and(turns{was == nobody, is == nobody}))
	}
	for _, e := range entries {
		if e.was != e.is {
			from, to := c.span(b.Zone)
			t.turns = t.turns.or(
				c.compare(a, b, stretch{from: from, to: to}, paths, m, turns{e.is, e.was}.less(t.turns)),
			)
		}
		for _, s := range c.schedule(e.schedule, door).stretches {
			t.turns = t.turns.or(c.compare(a, b, s, paths, m, turns{true, true}.less(t.turns)))
		}
	}
	return t
}

// admission is whom a door lets in, of those who have some means and a way through it.
type admission int

const (
	nobody admission = iota
	holders
	everybody
)

// admits tells whom a door lets in while it asks something. Before a first card has come it is what it asks then.
func admits(line *hours.Timeline, ask hours.Ask, m means) admission {
	switch mode := line.Asked(ask); {
	case mode == hours.Free:
		return everybody
	case m.enough(mode):
		return holders
	}
	return nobody
}

// path is a way through a door, followed through time.
type path struct {
	entry
	before, after cursor
}

// compare walks a stretch until it has found what is wanted: a time at which paths let somebody in on one side only.
func (c *crowd) compare(a, b *hours.Timeline, s stretch, paths []path, m means, want turns) (found turns) {
	asked := s.to // until when both doors ask the same
	for i := range paths {
		paths[i].before.seek(s.from)
		paths[i].after.seek(s.from)
	}
	for at := s.from; at < s.to && want.less(found) != (turns{}); {
		if !s.asks && (asked <= at || at == s.from) {
			s.was, s.is = a.At(at).Ask, b.At(at).Ask
			asked = min(s.to, a.Next(at), b.Next(at))
		}
		was, is := admits(a, s.was, m), admits(b, s.is, m)
		wasIn, isIn := was == everybody, is == everybody
		next := asked
		for i := range paths {
			p := &paths[i]
			open, until := p.before.at(at)
			wasIn = wasIn || p.was && was == holders && open && s.was.Counts(int64(p.level))
			next = min(next, until)
			open, until = p.after.at(at)
			isIn = isIn || p.is && is == holders && open && s.is.Counts(int64(p.level))
			next = min(next, until)
		}
		found = found.or(turns{isIn && !wasIn, wasIn && !isIn})
		at = next
	}
	return found
}
