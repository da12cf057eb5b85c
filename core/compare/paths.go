package compare

import (
	"cmp"
	"encoding/binary"
	"slices"
	"strconv"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// distinct leaves of the entries through one door what makes a difference there, each once and in one order: the
// schedule, when it is held, and the level where a plan asks by which level somebody comes.
func distinct(entries []entry, byLevel bool) []entry {
	var out []entry
	for _, e := range entries {
		e.door = 0
		if !byLevel {
			e.level = 0
		}
		i := slices.IndexFunc(out, func(o entry) bool {
			return o.level == e.level && o.schedule == e.schedule && o.joins(e, 0) && o.joins(e, 1)
		})
		if i < 0 {
			out = append(out, e)
			continue
		}
		out[i].was, out[i].is = out[i].was || e.was, out[i].is || e.is
		for k, h := range e.held {
			if h != (bounds{}) {
				out[i].held[k], out[i].disarms[k] = h, e.disarms[k]
			}
		}
	}
	slices.SortFunc(out, func(a, b entry) int {
		return cmp.Or(
			cmp.Compare(a.schedule, b.schedule),
			cmp.Compare(a.level, b.level),
			compareHolds(hold{0, a.held[0], a.held[1]}, hold{0, b.held[0], b.held[1]}),
			cmp.Compare(a.disarming(), b.disarming()),
		)
	})
	return out
}

// joins reports whether two are held alike on a side, or one is never.
func (e entry) joins(o entry, side int) bool {
	a, b := e.held[side], o.held[side]
	return a == bounds{} || b == bounds{} || a == b && e.disarms[side] == o.disarms[side]
}

// disarming orders entries by who may disarm.
func (e entry) disarming() (n int) {
	for k, is := range e.disarms {
		if is {
			n |= 1 << k
		}
	}
	return n
}

// spelled writes entries as bytes that only the same entries have.
func spelled(entries []entry) string {
	var out []byte
	for _, e := range entries {
		out = binary.AppendVarint(out, int64(e.schedule))
		out = binary.AppendVarint(out, int64(e.level))
		out = strconv.AppendBool(out, e.was)
		out = strconv.AppendBool(out, e.is)
		out = append(out, byte(e.disarming()))
		for _, h := range e.held {
			out = binary.AppendVarint(binary.AppendVarint(out, h.from), h.until)
		}
	}
	return string(out)
}

func (c *crowd) walk(door site.ID, entries []entry, m both) (t turned) {
	parts := c.parts(door, entries, m)
	if len(parts) == 0 {
		return t
	}
	paths := c.paths(door, entries)
	for _, p := range parts {
		want := turns{true, true}.less(p.cannot)
		if p.asks && c.guarded(door) == (guard{}) {
			a, b := c.before.Door(door), c.after.Door(door)
			was, is := admits(a, p.was, m.was, false), admits(b, p.is, m.is, false)
			if want = (turns{is > was, is < was}); len(p.was.Levels)+len(p.is.Levels) > 0 {
				want = turns{is != nobody, was != nobody}
			}
			found := c.compare(door, p, paths, m, want.less(t.turns), nil)
			t.turns = t.turns.or(found)
			t.sure = t.sure.or(found.and(turns{was == nobody, is == nobody}))
			continue
		}
		t.turns = t.turns.or(c.compare(door, p, paths, m, want.less(t.turns), nil))
	}
	return t
}

// parts are the stretches in which somebody may come in at other times.
func (c *crowd) parts(door site.ID, entries []entry, m both) []stretch {
	b := c.after.Door(door)
	from, to := c.span(b.Zone)
	if m.was != m.is {
		return []stretch{{from: from, to: to}}
	}
	out := append(slices.Clip(c.door(door).stretches), c.rearmed(door)...)
	for _, e := range entries {
		if e.differs() {
			first, last := hours.Never, -hours.Never
			for _, h := range e.held {
				if h != (bounds{}) {
					x, y := h.span(b.Zone)
					first, last = min(first, x), max(last, y)
				}
			}
			out = append(slices.Clip(out), stretch{from: max(from, first), to: min(to, last), cannot: e.cannot()})
		}
		if e.was || e.is {
			out = append(slices.Clip(out), c.schedule(e.schedule, door).stretches...)
		}
	}
	return out
}

// paths follows the entries through a door.
func (c *crowd) paths(door site.ID, entries []entry) []path {
	a, b := c.before.Door(door), c.after.Door(door)
	paths := make([]path, 0, len(entries))
	for _, e := range entries {
		x, y := c.course(e.schedule, a.Local, c.before), c.course(e.schedule, b.Local, c.after)
		if e.was && x == nil || e.is && y == nil || !e.was && !e.is {
			continue
		}
		p := path{entry: e, before: cursor{course: x}, after: cursor{course: y}}
		p.wasFrom, p.wasUntil = e.held[0].span(a.Zone)
		p.isFrom, p.isUntil = e.held[1].span(b.Zone)
		paths = append(paths, p)
	}
	return paths
}

// admission is whom a door lets in, of those who have some means and a way through it.
type admission int

const (
	nobody admission = iota
	holders
	everybody
)

// admits tells whom a door lets in while it asks something. Before a first card has come it is what it asks then; while
// its alarm area is armed it does not stand free.
func admits(line *hours.Timeline, ask hours.Ask, m means, armed bool) admission {
	mode := line.Asked(ask)
	if armed && mode == hours.Free {
		mode = hours.Card
	}
	switch {
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
	before, after     cursor
	wasFrom, wasUntil hours.Instant // when it is held
	isFrom, isUntil   hours.Instant
}

// held tells whether a path is open at an instant on one side, and before when that may change.
func (x *cursor) held(there bool, from, until, at hours.Instant) (open bool, next hours.Instant) {
	switch {
	case !there || at >= until:
		return false, hours.Never
	case at < from:
		return false, from
	}
	open, next = x.at(at)
	return open, min(next, until)
}

// compare walks a stretch until it has found what is wanted: a time at which paths let somebody in on one side only.
// Who takes notes is told every such time, until they have enough.
func (c *crowd) compare(
	door site.ID, s stretch, paths []path, m both, want turns, said *notes,
) (found turns) {
	if want.less(found) == (turns{}) {
		return found
	}
	a, b := c.before.Door(door), c.after.Door(door)
	alarm := c.watch(door)
	alarm.seek(s.from)
	asked := s.to // until when both doors ask the same
	for i := range paths {
		if p := &paths[i]; p.was {
			p.before.seek(s.from)
		}
		if p := &paths[i]; p.is {
			p.after.seek(s.from)
		}
	}
	for at := s.from; at < s.to && want.less(found) != (turns{}); {
		if !s.asks && (asked <= at || at == s.from) {
			s.was, s.is = a.At(at).Ask, b.At(at).Ask
			asked = min(s.to, a.Next(at), b.Next(at))
		}
		armed, next := alarm.armed(at)
		next = min(next, asked)
		was, is := admits(a, s.was, m.was, armed[0]), admits(b, s.is, m.is, armed[1])
		wasIn, isIn := was == everybody, is == everybody
		for i := range paths {
			p := &paths[i]
			open, until := p.before.held(p.was, p.wasFrom, p.wasUntil, at)
			wasIn = wasIn || was == holders && open && s.was.Counts(int64(p.level)) && (!armed[0] || p.disarms[0])
			next = min(next, until)
			open, until = p.after.held(p.is, p.isFrom, p.isUntil, at)
			isIn = isIn || is == holders && open && s.is.Counts(int64(p.level)) && (!armed[1] || p.disarms[1])
			next = min(next, until)
		}
		switch {
		case said == nil:
			found = found.or(turns{isIn && !wasIn, wasIn && !isIn})
		case isIn != wasIn:
			said.take(at, min(next, s.to), isIn)
		case said.enough(at):
			return found
		}
		at = next
	}
	return found
}
