package compare

import (
	"cmp"
	"encoding/binary"
	"iter"
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

// crowd finds out who may come in at other hours, at the doors where something differs.
type crowd struct {
	*contrast
	from    hours.Instant
	about   [2]int64 // minutes of wall clocks that may be in the span
	doors   []site.ID
	number  map[site.ID]int // of each of them
	leads   map[site.ID][]entry
	levels  map[site.ID]*reach
	known   map[string]turns // by what somebody holds
	told    map[way]told
	ways    map[way]turned
	courses map[run]*course
	readers map[site.ID]*site.Reader // in, of each door
	place   map[site.ID]int          // of each door in the configuration

	held []hold // of one person, used again for the next
	key  []byte

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
	both
	guard
}

// reach is where a level leads among those doors, and what holding it alone means there.
type reach struct {
	entries map[int][]entry // by door
	covers  bits
	alone   map[holding]*lone
}

// holding is a level as somebody holds it who can show something.
type holding struct {
	was, is bounds
	both
}

// lone is what a level alone means: the doors with a gain, those with a loss, and what is sure.
type lone struct {
	gains, loses bits
	sure         turns
}

// people finds those who may come in at more hours or at fewer. It asks what somebody's levels open together, given
// what the doors ask: who loses hours by one level and has them by another is not touched. Only the doors that
// somebody's levels cover count; who has nothing to do there is not touched when they go free.
func (x *contrast) people() Who { return x.crowd().who() }

func (c *crowd) who() Who {
	var w Who
	for was, is := range c.pairs() {
		t := c.person(was, is)
		if !t.gains && !t.loses {
			continue
		}
		w.People++
		if t.gains {
			w.Gainers = append(w.Gainers, idOf(was, is))
		}
		if t.loses {
			w.Losers = append(w.Losers, idOf(was, is))
		}
	}
	return w
}

func idOf(was, is *site.Person) site.ID {
	if is != nil {
		return is.ID
	}
	return was.ID
}

// pairs yields everybody as they were and as they are, by number; one of the two is nil where somebody comes or goes.
func (x *contrast) pairs() iter.Seq2[*site.Person, *site.Person] {
	return func(yield func(was, is *site.Person) bool) {
		a, b := x.was.People, x.is.People
		for len(a)+len(b) > 0 {
			var was, is *site.Person
			if len(b) == 0 || len(a) > 0 && a[0].ID <= b[0].ID {
				was = a[0]
			}
			if len(a) == 0 || len(b) > 0 && b[0].ID <= a[0].ID {
				is = b[0]
			}
			if was != nil {
				a = a[1:]
			}
			if is != nil {
				b = b[1:]
			}
			if !yield(was, is) {
				return
			}
		}
	}
}

// crowd makes ready to ask about people: which doors are to be looked at, and where each level leads there.
func (x *contrast) crowd() *crowd {
	c := &crowd{
		contrast: x,
		number:   map[site.ID]int{},
		leads:    x.entries(),
		levels:   map[site.ID]*reach{},
		known:    map[string]turns{},
		told:     map[way]told{},
		ways:     map[way]turned{},
		courses:  map[run]*course{},
		readers:  map[site.ID]*site.Reader{},
		place:    make(map[site.ID]int, len(x.is.Doors)),
	}
	from, to := x.span(&hours.Zone{})
	c.from, c.about = from,
		[2]int64{int64(from/hours.Minute) - hours.DayMinutes, int64(to/hours.Minute) + hours.DayMinutes}
	for i := range x.is.Doors {
		c.place[x.is.Doors[i].ID] = i
		for _, id := range x.is.Doors[i].StopIDs() {
			c.readers[id] = &x.is.Doors[i].In
		}
	}
	for i := range x.is.Doors {
		if id := x.is.Doors[i].ID; x.door(id).first != hours.Never || len(x.rearmed(id)) > 0 {
			for _, id := range x.is.Doors[i].StopIDs() {
				c.join(id)
			}
		}
	}
	for _, entries := range c.leads {
		for _, e := range entries {
			if e.differs() || c.there(e.door) && x.schedule(e.schedule, e.door).first != hours.Never {
				c.join(e.door)
			}
		}
	}
	for was, is := range x.pairs() {
		if was != is {
			c.joinOf(was, is)
		}
	}
	c.once, c.twice, c.unclear = newBits(len(c.doors)), newBits(len(c.doors)), newBits(len(c.doors))
	for level, entries := range c.leads {
		r := &reach{map[int][]entry{}, newBits(len(c.doors)), map[holding]*lone{}}
		for _, e := range entries {
			if n, ok := c.number[e.door]; ok {
				r.entries[n] = append(r.entries[n], e)
				r.covers.set(n)
			}
		}
		if len(r.entries) > 0 {
			c.levels[level] = r
		}
	}
	return c
}

// there reports whether a door is on both sides.
func (c *crowd) there(door site.ID) bool {
	return c.before.Door(door) != nil && c.after.Door(door) != nil
}

func (c *crowd) join(door site.ID) {
	if _, ok := c.number[door]; !ok && c.there(door) {
		c.number[door] = len(c.doors)
		c.doors = append(c.doors, door)
	}
}

// joinOf joins the doors where what somebody holds may make a difference.
func (c *crowd) joinOf(was, is *site.Person) {
	held, m := c.holds(was, is)
	for _, h := range held {
		if h.was == h.is && m.was == m.is {
			continue
		}
		for _, e := range c.leads[h.level] {
			c.join(e.door)
		}
	}
}

// holds lists what somebody holds before and after, by level, and what they can show. The list is good until it is
// asked again.
func (c *crowd) holds(was, is *site.Person) (out []hold, m both) {
	out = c.held[:0]
	defer func() { c.held = out }()
	if was == is {
		for _, g := range is.Levels {
			if b := c.within(is, g.Dates); b != (bounds{}) {
				out = append(out, hold{g.LevelID, b, b})
			}
		}
		slices.SortFunc(out, compareHolds)
		return slices.Compact(out), bothOf(is, is, c.from)
	}
	note := func(p *site.Person, side func(*hold) *bounds) {
		if p == nil {
			return
		}
		for _, g := range p.Levels {
			b := c.within(p, g.Dates)
			if b == (bounds{}) {
				continue
			}
			i := slices.IndexFunc(out, func(h hold) bool { return h.level == g.LevelID && *side(&h) == bounds{} })
			if i < 0 {
				out = append(out, hold{level: g.LevelID})
				i = len(out) - 1
			}
			*side(&out[i]) = b
		}
	}
	note(was, func(h *hold) *bounds { return &h.was })
	note(is, func(h *hold) *bounds { return &h.is })
	slices.SortFunc(out, compareHolds)
	nobody := &site.Person{}
	switch {
	case was == nil:
		was = nobody
		if is.PIN == nil && len(is.Credentials) == 0 {
			was = is // as if a card were given
		}
	case is == nil:
		is = nobody
	}
	return slices.Compact(out), bothOf(was, is, c.from)
}

func compareHolds(a, b hold) int {
	return cmp.Or(cmp.Compare(a.level, b.level), cmp.Compare(a.was.from, b.was.from),
		cmp.Compare(a.was.until, b.was.until),
		cmp.Compare(a.is.from, b.is.from), cmp.Compare(a.is.until, b.is.until))
}

// within is when somebody holds what they are given on some dates, as far as that is in the span. Wall clocks are
// compared a day wide of any zone's.
func (c *crowd) within(p *site.Person, d site.Dates) bounds {
	if p.Suspended {
		return bounds{}
	}
	out := boundsOf(d).and(boundsOf(p.Dates))
	if out.until <= c.about[0] || out.from >= c.about[1] {
		return bounds{}
	}
	return out
}

// person finds out for one person; those who hold the same share the answer.
func (c *crowd) person(was, is *site.Person) turns {
	held, m := c.holds(was, is)
	held = slices.DeleteFunc(held, func(h hold) bool { return c.levels[h.level] == nil })
	if len(held) == 0 {
		return turns{}
	}
	key := c.key[:0]
	for _, x := range [2]means{m.was, m.is} {
		key = append(key, byte(x.kinds))
		for _, b := range [3]bool{x.pin, x.always, x.instead} {
			key = strconv.AppendBool(key, b)
		}
	}
	for _, h := range held {
		key = binary.AppendVarint(key, int64(h.level))
		if h.was == ever && h.is == ever {
			key = append(key, '=')
			continue
		}
		for _, n := range []int64{h.was.from, h.was.until, h.is.from, h.is.until} {
			key = binary.AppendVarint(key, n)
		}
	}
	c.key = key
	t, ok := c.known[string(key)]
	if !ok {
		t = c.set(held, m)
		c.known[string(key)] = t
	}
	return t
}

// set finds out for a set of levels. A door that one of them covers is known for the level; where several lead
// through one door they are asked together, unless one of them alone has settled it. Nobody gains or loses by several
// what they do by none of them.
func (c *crowd) set(held []hold, m both) turns {
	clear(c.once)
	clear(c.twice)
	clear(c.unclear)
	for _, h := range held {
		c.twice.addCommon(c.once, c.levels[h.level].covers)
		c.once.add(c.levels[h.level].covers)
	}
	var t turns
	for _, h := range held {
		a := c.alone(h, m)
		t = t.or(a.sure).or(turns{a.gains.without(c.twice), a.loses.without(c.twice)})
	}
	for _, h := range held {
		a := c.alone(h, m)
		if !t.gains {
			c.unclear.addCommon(c.twice, a.gains)
		}
		if !t.loses {
			c.unclear.addCommon(c.twice, a.loses)
		}
	}
	for n := range c.unclear.all {
		if t = t.or(c.way(n, c.entriesOf(held, n), m).turns); t.gains && t.loses {
			break
		}
	}
	return t
}

// entriesOf lists somebody's ways through a door.
func (c *crowd) entriesOf(held []hold, n int) []entry {
	var out []entry
	for _, h := range held {
		if r := c.levels[h.level]; r != nil {
			for _, e := range r.entries[n] {
				out = append(out, e.of(h))
			}
		}
	}
	return out
}

func (c *crowd) alone(h hold, m both) *lone {
	r := c.levels[h.level]
	key := holding{h.was, h.is, m}
	out, ok := r.alone[key]
	if !ok {
		out = &lone{gains: newBits(len(c.doors)), loses: newBits(len(c.doors))}
		for n := range r.entries {
			t := c.way(n, c.entriesOf([]hold{h}, n), m)
			if t.gains {
				out.gains.set(n)
			}
			if t.loses {
				out.loses.set(n)
			}
			out.sure = out.sure.or(t.sure)
		}
		r.alone[key] = out
	}
	return out
}

// soonest is before when nobody gains or loses: by several levels nobody does sooner than by one of them.
func (c *crowd) soonest() hours.Instant {
	first := hours.Never
	for level, r := range c.levels {
		for k, a := range r.alone {
			for n := range r.entries {
				if a.gains.has(n) || a.loses.has(n) {
					x := c.tell(n, c.entriesOf([]hold{{level, k.was, k.is}}, n), k.both)
					first = min(first, x.gains.First, x.loses.First)
				}
			}
		}
	}
	return first
}

// way finds out what entries through one door mean for somebody with these means.
func (c *crowd) way(n int, entries []entry, m both) turned {
	door := c.doors[n]
	if r := c.readers[door]; r != nil {
		m = both{m.was.at(r), m.is.at(r)}
	}
	entries, k := c.keyOf(door, entries, m)
	t, ok := c.ways[k]
	if !ok {
		t = c.walk(door, entries, m)
		c.ways[k] = t
	}
	return t
}

// keyOf is what decides whether somebody comes in through a door, with the entries that make a difference there.
func (c *crowd) keyOf(door site.ID, entries []entry, m both) ([]entry, way) {
	a, b := c.before.Door(door), c.after.Door(door)
	entries = distinct(entries, a.Plan.Limited() || b.Plan.Limited())
	k := way{pairOf(a, b), [4]entry{}, "", m, c.guarded(door)}
	if len(entries) <= len(k.few) {
		copy(k.few[:], entries)
	} else {
		k.many = spelled(entries)
	}
	return entries, k
}
