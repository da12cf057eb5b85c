package access

import (
	"math/bits"
	"slices"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Level is an access level; where it leads stands in Table.Ways.
type Level struct {
	ID  site.ID
	May Authority
}

// Authority is what a level lets its holders do besides coming in.
type Authority uint8

// The authorities.
const (
	OpensDay  Authority = 1 << iota // give the first card where a door wants one of them
	Approves                        // approve others
	Toggles                         // toggle doors
	Overrides                       // come in during a lockdown that lets them
	LocksDown                       // start and end lockdowns
	Arms                            // arm alarm areas
	Disarms                         // disarm them too, and come in while they are armed
)

// AuthorityOf gathers what a level says.
func AuthorityOf(l site.Authorities) (a Authority) {
	for i, may := range l.Has() {
		if may {
			a |= 1 << i
		}
	}
	return a
}

// Way lets those through a door who have a level, while a schedule is open.
type Way struct {
	Level    int32 // index into Table.Levels
	Schedule int32 // index into Table.Schedules
	Side     site.Side
	Stops    uint16 // of an elevator: the number of its stops, as AddStops gave it; 0 of a door
}

// Schedule is a compiled schedule.
type Schedule struct {
	ID site.ID
	hours.Schedule
}

// Table is all that decisions at one controller need, ready to be asked. It is not changed once built.
type Table struct {
	*Directory
	Zone      *hours.Zone
	Accepts   []cards.Accepts      // of every reader that is not in Own
	Own       [][2][]cards.Accepts // of the readers of Doors[i] that take less; nil where none does
	Doors     []site.Door
	Calendars []*hours.Calendar // the holidays of Doors[i]
	Levels    []Level
	Schedules []Schedule

	// Whole says that the directory knows only people who have something to do here. A directory that several
	// controllers share knows others too: at this one their cards are unknown.
	Whole bool
	// Instead says that somebody's PIN does here where a card is asked, so that others typed there are wrong ones.
	Instead bool

	ways   []Way          // by door, then by level, in the order of the entries
	starts []int32        // where the ways of each level of each door begin, of doors with more ways than levels
	blocks []uint64       // of each door: its head, then a bit for each level that leads through it
	stride int            // of a block
	here   []uint64       // the levels that lead through any door
	stops  []site.StopSet // of ways, by their number; the first is no elevator's
}

// The head of a block: what is fitted at the two sides, whether starts is needed, and in the upper half where the ways
// or the starts of the door begin.
const (
	readerIn = 1 << iota
	keypadIn
	readerOut
	keypadOut
	several // a level leads through the door more than once
)

// AddStops takes in stops of an elevator, and returns their number. Equal ones are one.
func (t *Table) AddStops(s site.StopSet) uint16 {
	if t.stops == nil {
		t.stops = make([]site.StopSet, 1)
	}
	if i := slices.Index(t.stops[1:], s); i >= 0 {
		return uint16(i + 1)
	}
	t.stops = append(t.stops, s)
	return uint16(len(t.stops) - 1)
}

// SetWays lays out which levels lead through which doors: list[i] are those of Doors[i], by level.
func (t *Table) SetWays(list [][]Way) {
	words := (len(t.Levels) + 63) / 64
	t.stride = words + 1
	t.blocks, t.here = make([]uint64, t.stride*len(list)), make([]uint64, words)
	n := 0
	for _, w := range list {
		n += len(w)
	}
	t.ways = make([]Way, 0, n)
	for i, ways := range list {
		block := t.blocks[i*t.stride : (i+1)*t.stride]
		levels := 0
		for k, w := range ways {
			block[1+w.Level>>6] |= 1 << (w.Level & 63)
			t.here[w.Level>>6] |= 1 << (w.Level & 63)
			if k == 0 || w.Level != ways[k-1].Level {
				levels++
			}
		}
		block[0] = heads(&t.Doors[i]) | uint64(len(t.ways))<<32
		if levels < len(ways) {
			block[0] = heads(&t.Doors[i]) | several | uint64(len(t.starts))<<32
			for k, w := range ways {
				if k == 0 || w.Level != ways[k-1].Level {
					t.starts = append(t.starts, int32(len(t.ways)+k))
				}
			}
			t.starts = append(t.starts, int32(len(t.ways)+len(ways)))
		}
		t.ways = append(t.ways, ways...)
	}
}

// heads says what is fitted to a door.
func heads(d *site.Door) (head uint64) {
	for side, r := range []site.Reader{d.In, d.Out} {
		if r.Fitted && !d.OutOfUse {
			head |= readerIn << (2 * side)
		}
		if r.Keypad {
			head |= keypadIn << (2 * side)
		}
	}
	return head
}

// through returns the ways of a level through a door.
func (t *Table) through(door int, level int32) []Way {
	block := t.blocks[door*t.stride:][:t.stride]
	word, bit := 1+int(level>>6), uint(level&63)
	if block[word]>>bit&1 == 0 {
		return nil
	}
	n := int(block[0]>>32) + bits.OnesCount64(block[word]&(1<<bit-1))
	for _, w := range block[1:word] {
		n += bits.OnesCount64(w)
	}
	if block[0]&several == 0 {
		return t.ways[n : n+1]
	}
	return t.ways[t.starts[n]:t.starts[n+1]]
}

// known reports whether a set of levels leads through any door here.
func (t *Table) known(set uint32) bool {
	if t.Whole {
		return true
	}
	for _, l := range t.levelsOf(set) {
		if t.here[l>>6]>>(l&63)&1 != 0 {
			return true
		}
	}
	return false
}

// Known reports whether people with a set of levels, as AddSet gave it, have something to do here.
func (t *Table) Known(set int) bool { return t.known(uint32(set)) }

func (d *Directory) levelsOf(n uint32) []int32 {
	s := d.sets[n]
	return d.levels[s.first : s.first+s.n]
}

// spanOf returns when the kth level of a set is held.
func (d *Directory) spanOf(n uint32, k int) Span {
	if s := d.sets[n].spans; s >= 0 {
		return d.spans[int(s)+k]
	}
	return Ever
}

// accepts returns the formats of the reader of a pass.
func (t *Table) accepts(p *pass.Pass) []cards.Accepts {
	if t.Own == nil {
		return t.Accepts
	}
	own := t.Own[p.Door][0]
	if p.Out {
		own = t.Own[p.Door][1]
	}
	if own == nil {
		return t.Accepts
	}
	return own
}
