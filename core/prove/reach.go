package prove

import (
	"encoding/binary"
	"math/bits"
	"slices"
	"strings"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/rules/firstcard"
	"amberkeystone/core/site"
)

// Reach is who may go where at a moment: every person, every door's reader in, as if no first card had come yet, and
// nobody were cleared who is screened. People
// who hold the same levels and can show the same are one row of bits, so that all pairs of a large site take no longer
// than a page does.
type Reach struct {
	of    []int32 // the row of each person, by their place in the configuration
	rows  [][]uint64
	doors int
}

// May reports whether a person may pass a door, both by their place in the configuration.
func (r *Reach) May(person, door int) bool { return r.rows[r.of[person]][door>>6]>>(door&63)&1 != 0 }

// Doors counts the doors that a person may pass.
func (r *Reach) Doors(person int) int {
	n := 0
	for _, w := range r.rows[r.of[person]] {
		n += bits.OnesCount64(w)
	}
	return n
}

// People counts, for each door, the people who may pass it.
func (r *Reach) People() []int {
	held := make([]int, len(r.rows))
	for _, row := range r.of {
		held[row]++
	}
	out := make([]int, r.doors)
	for i, row := range r.rows {
		for word, w := range row {
			for ; w != 0; w &= w - 1 {
				out[word<<6+bits.TrailingZeros64(w)] += held[i]
			}
		}
	}
	return out
}

// shows is what somebody can show at a reader, as far as it decides: a card in use, a PIN, and whether they always need
// it.
type shows struct {
	cards       string // of each choice of formats: 1 where a card is read as what it is; empty: at none
	pin, always bool
	instead     bool       // the PIN does instead of a card
	kinds       site.Kinds // what is no card
}

// enough reports whether that satisfies a door (design 3.3, 3.4): nobody types at a reader without keys, and other
// things than cards are shown at readers that take them.
func (s shows) enough(mode hours.Mode, r *site.Reader, list int) bool {
	pin, shown := s.pin && r.Keypad, s.cards != "" && s.cards[list] != 0 || s.kinds&r.TakenKinds() != 0
	card := shown && (!s.always || pin)
	switch mode {
	case hours.Card:
		return card || pin && s.instead
	case hours.PIN:
		return pin
	case hours.CardOrPIN:
		return card || pin
	case hours.CardAndPIN:
		return shown && pin
	}
	return mode == hours.Free
}

// field is what all doors ask at a moment, as rows of bits over the doors.
type field struct {
	*Book
	at     hours.Instant
	words  int
	free   []uint64
	armed  []uint64 // doors whose alarm area is armed by its schedule
	needs  []uint64 // doors where nobody enters but who may give the first card
	modes  []hours.Mode
	zones  []*hours.Zone
	opens  map[site.ID][]uint64 // by level: the doors that it covers now
	first  map[site.ID][]uint64 // by level: those of them whose first card it may give
	inZone [][]uint64           // by zone: its doors
	shown  map[shows][]uint64   // the doors that are satisfied by it
	reader []int                // of each door: which of the lists its reader in takes
	lists  [][]cards.Accepts    // the different choices of formats; the first is all
}

// Reach works out who may go where at an instant.
func (b *Book) Reach(at hours.Instant) *Reach {
	f := b.field(at)
	r := &Reach{of: make([]int32, len(b.Effective.People)), doors: len(b.Config.Doors)}
	known := map[string]int32{}
	var key []byte
	for i, p := range b.Effective.People {
		key = f.key(key[:0], p)
		row, ok := known[string(key)]
		if !ok {
			row = int32(len(r.rows))
			known[string(key)] = row
			r.rows = append(r.rows, f.row(p))
		}
		r.of[i] = row
	}
	return r
}

func (b *Book) field(at hours.Instant) *field {
	n := len(b.Config.Doors)
	f := &field{
		Book: b, at: at, words: (n + 63) / 64, modes: make([]hours.Mode, n),
		opens: map[site.ID][]uint64{}, first: map[site.ID][]uint64{}, shown: map[shows][]uint64{},
	}
	f.free, f.needs, f.armed = make([]uint64, f.words), make([]uint64, f.words), make([]uint64, f.words)
	f.takes()
	place := make(map[site.ID]int, n)
	limits, guards := map[int][]int64{}, b.Config.Guards()
	zone := map[*hours.Zone]int{}
	for i := range b.Config.Doors {
		d := &b.Config.Doors[i]
		place[d.ID] = i
		var card firstcard.Card
		a := card.Ask(b.times.Door(d.ID), &d.FirstCard, at)
		if s := b.times.Schedules[guards[d.ID]]; s != nil && s.OpenAt(b.times.Door(d.ID).Local, at) {
			set(f.armed, i)
			if a.Mode == hours.Free {
				a.Mode = hours.Card
			}
		}
		f.modes[i] = a.Mode
		if a.Mode == hours.Free && !d.OutOfUse {
			set(f.free, i)
		}
		if a.Awaiting && d.FirstCard.Who == site.Openers {
			set(f.needs, i)
		}
		if len(a.Levels) > 0 {
			limits[i] = a.Levels
		}
		z := b.Zone(d.ID)
		if _, ok := zone[z]; !ok {
			zone[z] = len(f.zones)
			f.zones, f.inZone = append(f.zones, z), append(f.inZone, make([]uint64, f.words))
		}
		set(f.inZone[zone[z]], i)
	}
	f.levels(place, limits)
	return f
}

// levels works out which doors each level covers now.
func (f *field) levels(place map[site.ID]int, limits map[int][]int64) {
	type asked struct {
		schedule site.ID
		zone     *hours.Zone
		calendar *hours.Calendar
	}
	open := map[asked]bool{}
	places := site.NewPlaces(f.Config)
	for i := range f.Effective.Levels {
		l := &f.Effective.Levels[i]
		row, first := make([]uint64, f.words), make([]uint64, f.words)
		for _, e := range places.Entries(l) {
			door, ok := place[e.DoorID]
			s := f.times.Schedules[e.ScheduleID]
			if !ok || s == nil || !e.Side.Takes(false) {
				continue
			}
			line := f.times.Door(e.DoorID)
			q := asked{e.ScheduleID, line.Zone, line.Calendar}
			is, known := open[q]
			if !known {
				is = s.OpenAt(line.Local, f.at)
				open[q] = is
			}
			if !is {
				continue
			}
			if l.OpensDay {
				set(first, door)
			}
			if counts(limits[door], l.ID) && (l.Disarms || f.armed[door>>6]>>(door&63)&1 == 0) {
				set(row, door)
			}
		}
		f.opens[l.ID], f.first[l.ID] = row, first
	}
}

func counts(limit []int64, level site.ID) bool {
	for _, l := range limit {
		if l == int64(level) {
			return true
		}
	}
	return len(limit) == 0
}

// can returns what somebody can show by the clock of a zone; ok is false where they may not come in these days.
func (f *field) can(p *site.Person, z *hours.Zone) (s shows, ok bool) {
	if p.Suspended || !p.Dates.Holds(z, f.at) {
		return shows{}, false
	}
	s.pin, s.always, s.instead = p.PIN != nil && p.Duress != nil, p.AlwaysPIN, p.PINInstead
	for i := range p.Credentials {
		h := &p.Credentials[i]
		if h.Status != site.Active || !h.Dates.Holds(z, f.at) {
			continue
		}
		facility, number, ok := h.Card()
		if !ok {
			if h.Kind != site.Card {
				s.kinds |= site.KindsOf(h.Kind)
			}
			continue
		}
		s.cards = f.decodes(s.cards, h.Format, facility, number)
	}
	return s, true
}

// key is all that decides where somebody may go; equal keys are one row.
func (f *field) key(key []byte, p *site.Person) []byte {
	for _, z := range f.zones {
		s, ok := f.can(p, z)
		for _, b := range []bool{s.pin, s.always, s.instead, ok} {
			key = append(key, 0)
			if b {
				key[len(key)-1] = 1
			}
		}
		key = append(append(key, byte(s.kinds), byte(len(s.cards))), s.cards...)
	}
	for _, g := range p.UntilCleared() {
		key = binary.AppendVarint(key, int64(g.LevelID))
		for i, z := range f.zones {
			if !g.Dates.Holds(z, f.at) {
				key = append(key, 0xff, byte(i))
			}
		}
	}
	return key
}

// row works out where somebody may go.
func (f *field) row(p *site.Person) []uint64 {
	out := append([]uint64(nil), f.free...)
	for i, z := range f.zones {
		s, ok := f.can(p, z)
		if !ok {
			continue
		}
		satisfied := f.satisfied(s)
		covered, first := make([]uint64, f.words), make([]uint64, f.words)
		for _, g := range p.UntilCleared() {
			if !g.Dates.Holds(z, f.at) {
				continue
			}
			for w := range f.opens[g.LevelID] {
				covered[w] |= f.opens[g.LevelID][w]
				first[w] |= f.first[g.LevelID][w]
			}
		}
		for w := range out {
			out[w] |= covered[w] & satisfied[w] & f.inZone[i][w] & (^f.needs[w] | first[w])
		}
	}
	return out
}

// satisfied returns the doors that ask for no more than what somebody can show.
func (f *field) satisfied(s shows) []uint64 {
	row, ok := f.shown[s]
	if !ok {
		row = make([]uint64, f.words)
		for i, mode := range f.modes {
			if in := &f.Config.Doors[i].In; in.Fitted && !f.Config.Doors[i].OutOfUse && s.enough(mode, in, f.reader[i]) {
				set(row, i)
			}
		}
		f.shown[s] = row
	}
	return row
}

func set(row []uint64, i int) { row[i>>6] |= 1 << (i & 63) }

// takes finds the different choices of formats that readers take.
func (f *field) takes() {
	s := &f.Config.Settings
	f.lists = [][]cards.Accepts{s.Accepts(nil)}
	known := map[string]int{}
	f.reader = make([]int, len(f.Config.Doors))
	for i := range f.Config.Doors {
		r := &f.Config.Doors[i].In
		if len(r.Formats) == 0 {
			continue
		}
		key := strings.Join(r.Formats, "\n")
		if known[key] == 0 {
			known[key] = len(f.lists)
			f.lists = append(f.lists, s.Accepts(r))
		}
		f.reader[i] = known[key]
	}
}

// decodes marks the choices of formats at which a card is read as what it is.
func (f *field) decodes(was, format string, facility, number uint64) string {
	if len(f.lists) == 1 { // nearly always
		if was == "" && reads(f.lists[0], format, facility, number) {
			return "\x01"
		}
		return was
	}
	marks := []byte(was)
	for i, list := range f.lists {
		if !reads(list, format, facility, number) {
			continue
		}
		if len(marks) == 0 {
			marks = make([]byte, len(f.lists))
		}
		marks[i] = 1
	}
	return string(marks)
}

// reads reports whether a reader that takes some formats reads a card as what it is.
func reads(list []cards.Accepts, format string, facility, number uint64) bool {
	k := slices.IndexFunc(list, func(a cards.Accepts) bool { return a.Format.Name == format })
	if k < 0 {
		return false
	}
	f := list[k].Format
	rival := func(a cards.Accepts) bool {
		return a.Format != f && (a.Format.Len == f.Len || a.Format.Len == 0 || f.Len == 0)
	}
	if !slices.ContainsFunc(list[:k], rival) { // it is the first to be asked of this length
		return f.Len != 0 && f.Check(facility, number) == nil &&
			(len(list[k].Facilities) == 0 || slices.Contains(list[k].Facilities, facility)) ||
			f.Len == 0 && readsAs(list, f, facility, number)
	}
	return readsAs(list, f, facility, number)
}

// readsAs encodes a card and looks what the reader makes of it.
func readsAs(list []cards.Accepts, f *cards.Format, facility, number uint64) bool {
	read, err := f.Encode(facility, number)
	if err != nil {
		return false
	}
	r := cards.Decode(&read, list)
	return r.Fault == cards.Fits && r.Format == f
}
