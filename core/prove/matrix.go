package prove

import (
	"cmp"
	"encoding/binary"
	"iter"
	"slices"
	"strconv"

	"amberkeystone/core/hours"
	"amberkeystone/core/rules/firstcard"
	"amberkeystone/core/site"
)

// Cell is what somebody may do at a door in a window of time.
type Cell byte

// The cells.
const (
	NoWay    Cell = iota // nothing they hold leads through it
	Closed               // something leads through it, at no time in the window
	Opens                // they may come in at some time in the window
	WithMore             // so, and not by themselves alone: with others, by another proof, or once they are cleared
)

// Matrix is who can go where in a window of time, [From, To): rows of people who are alike, columns of doors.
type Matrix struct {
	Doors []*site.Door
	Rows  []MatrixRow
}

// MatrixRow is people who may do the same at every door of the matrix, in the order of the configuration.
type MatrixRow struct {
	People []*site.Person
	Cells  []Cell
	Open   int // how many of them are Opens
}

// MatrixOf works out who can go where, for some people of the effective configuration and some doors. A door that is
// free counts for those whom something leads through it. As everywhere, no first card has come yet.
func (b *Book) MatrixOf(people []*site.Person, doors []*site.Door, from, to hours.Instant) *Matrix {
	m := &grid{
		field: &field{Book: b, at: from}, doors: doors, from: from, to: to,
		rows: map[string]int{}, levels: map[levelKey][]Cell{}, open: map[openKey]bool{},
		entries: map[site.ID][]covered{},
	}
	m.takes()
	m.prepare()
	m.together()
	out, folded := &Matrix{Doors: doors}, map[string]int{}
	var key []byte
	for _, p := range people {
		key = m.key(key[:0], p)
		i, ok := m.rows[string(key)]
		if !ok {
			i = out.fold(m.row(p), folded)
			m.rows[string(key)] = i
		}
		out.Rows[i].People = append(out.Rows[i].People, p)
	}
	slices.SortStableFunc(out.Rows, func(a, b MatrixRow) int { return cmp.Compare(b.Open, a.Open) })
	return out
}

// fold finds the place of a row among those that are there, or adds it.
func (m *Matrix) fold(row []Cell, at map[string]int) int {
	text := make([]byte, len(row))
	n := 0
	for i, c := range row {
		text[i] = byte(c)
		if c >= Opens {
			n++
		}
	}
	i, ok := at[string(text)]
	if !ok {
		i = len(m.Rows)
		at[string(text)] = i
		m.Rows = append(m.Rows, MatrixRow{Cells: row, Open: n})
	}
	return i
}

// grid works a matrix out; what people share is worked out once.
type grid struct {
	*field
	doors    []*site.Door
	from, to hours.Instant
	rows     map[string]int // of people who are alike
	levels   map[levelKey][]Cell
	open     map[openKey]bool
	entries  map[site.ID][]covered // of each level, at the doors of the matrix
	several  []bool                // one proof is not enough there
	guards   []site.ID             // the schedule while which the alarm area of each door is armed; 0: none
	lists    []int                 // which choice of formats each door takes
}

// covered is a door of the matrix to which a level comes, during a schedule.
type covered struct {
	door     int
	schedule site.ID
}

// levelKey is a level as somebody holds it who can show something.
type levelKey struct {
	level site.ID
	shows
	from, to hours.Instant
}

// openKey is all that decides whether a way is open at some time in a window.
type openKey struct {
	plan     *hours.Plan
	calendar *hours.Calendar
	zone     *hours.Zone
	window   *hours.Window
	windows  int
	schedule site.ID
	level    site.ID // where it matters by which one comes
	first    site.FirstCard
	modes    uint8   // that are satisfied
	guard    site.ID // the schedule while which its alarm area is armed
	disarms  bool    // who comes may disarm it
	from, to hours.Instant
}

func (m *grid) prepare() {
	place := make(map[site.ID]int, len(m.doors))
	index := make(map[site.ID]int, len(m.Config.Doors))
	for i := range m.Config.Doors {
		index[m.Config.Doors[i].ID] = i
	}
	for i, d := range m.doors {
		place[d.ID] = i
		m.lists = append(m.lists, m.reader[index[d.ID]])
	}
	places := site.NewPlaces(m.Config)
	for i := range m.Effective.Levels {
		l := &m.Effective.Levels[i]
		for _, e := range places.Entries(l) {
			if n, ok := place[e.DoorID]; ok && e.Side.Takes(false) && m.times.Schedules[e.ScheduleID] != nil {
				m.entries[l.ID] = append(m.entries[l.ID], covered{n, e.ScheduleID})
			}
		}
	}
}

// key is all that decides what somebody may do in the window; equal keys are one row.
func (m *grid) key(key []byte, p *site.Person) []byte {
	key = strconv.AppendBool(key, p.Suspended)
	key = append(append(key, p.From...), '|')
	key = append(append(key, p.Until...), '|')
	key = m.shows(p, nil, m.from).append(key)
	if m.ragged(p) {
		for _, h := range p.Credentials {
			key = append(append(append(append(key, h.Words()...), h.From...), '/'), h.Until...)
		}
	}
	for _, g := range p.Levels {
		key = binary.AppendVarint(key, int64(g.LevelID))
		key = append(append(append(key, g.From...), '/'), g.Until...)
	}
	if until := p.UntilCleared(); len(until) < len(p.Levels) {
		key = append(key, '!')
		for _, g := range until {
			key = binary.AppendVarint(key, int64(g.LevelID))
		}
	}
	return key
}

// append writes what somebody can show so that equal ones are equal.
func (s shows) append(key []byte) []byte {
	flags := byte(0)
	for i, b := range []bool{s.pin, s.always, s.instead} {
		if b {
			flags |= 1 << i
		}
	}
	return append(append(append(key, byte(s.kinds), flags), s.cards...), ' ')
}

// shows is what somebody can show at an instant by the clock of a zone, of all credentials without dates.
func (m *grid) shows(p *site.Person, z *hours.Zone, at hours.Instant) shows {
	s := shows{pin: p.PIN != nil && p.Duress != nil, always: p.AlwaysPIN, instead: p.PINInstead}
	for i := range p.Credentials {
		h := &p.Credentials[i]
		if h.Status != site.Active || h.Dates != (site.Dates{}) && (z == nil || !h.Dates.Holds(z, at)) {
			continue
		}
		if facility, number, ok := h.Card(); ok {
			s.cards = m.decodes(s.cards, h.Format, facility, number)
		} else if h.Kind != site.Card {
			s.kinds |= site.KindsOf(h.Kind)
		}
	}
	return s
}

// ragged reports whether somebody has a credential with dates: what they can show may change within the window.
func (m *grid) ragged(p *site.Person) bool {
	return slices.ContainsFunc(p.Credentials, func(h site.Credential) bool { return h.Dates != site.Dates{} })
}

func (m *grid) row(p *site.Person) []Cell {
	out := make([]Cell, len(m.doors))
	s := m.shows(p, nil, m.from)
	for _, g := range p.Levels {
		if len(m.entries[g.LevelID]) == 0 {
			continue
		}
		for n, c := range m.level(g.LevelID, s, g.Dates, p) {
			out[n] = max(out[n], c)
		}
	}
	m.more(p, s, out)
	return out
}

// more marks the doors where somebody comes in, and not by themselves alone.
func (m *grid) more(p *site.Person, s shows, row []Cell) {
	until := p.UntilCleared()
	alone := make([]Cell, len(row))
	for _, g := range until {
		if len(until) < len(p.Levels) && len(m.entries[g.LevelID]) > 0 {
			for n, c := range m.level(g.LevelID, s, g.Dates, p) {
				alone[n] = max(alone[n], c)
			}
		}
	}
	for n, c := range row {
		uncleared := len(until) < len(p.Levels) && alone[n] != Opens
		if c == Opens && (uncleared || m.several[n]) && !m.isFree(n) {
			row[n] = WithMore
		}
	}
}

// together marks the doors where one proof is not enough at any time of the window, and those that an alarm area
// guards.
func (m *grid) together() {
	m.guards = make([]site.ID, len(m.doors))
	guards := m.Config.Guards()
	for n, d := range m.doors {
		m.guards[n] = guards[d.ID]
	}
	m.several = make([]bool, len(m.doors))
	for i := range m.Config.Proofs {
		x := &m.Config.Proofs[i]
		schedule := m.times.Schedules[x.ScheduleID]
		if x.Off || schedule == nil {
			continue
		}
		for n, d := range m.doors {
			line := m.times.Door(d.ID)
			if slices.Contains(x.DoorIDs, d.ID) && schedule.OpenAt(line.Local, m.from) &&
				schedule.Next(line.Local, m.from) >= m.to {
				m.several[n] = true
			}
		}
	}
}

// spells cuts a window where what somebody can show changes, by the clock of a zone, and yields what it is in each.
func (m *grid) spells(p *site.Person, z *hours.Zone, from, to hours.Instant) iter.Seq2[[2]hours.Instant, shows] {
	edges := []hours.Instant{from, to}
	for _, h := range p.Credentials {
		a, b := h.Dates.Span(z)
		for _, edge := range []hours.Instant{a, b} {
			if from < edge && edge < to {
				edges = append(edges, edge)
			}
		}
	}
	slices.Sort(edges)
	return func(yield func([2]hours.Instant, shows) bool) {
		for i := range edges[1:] {
			if edges[i] < edges[i+1] && !yield([2]hours.Instant{edges[i], edges[i+1]}, m.shows(p, z, edges[i])) {
				return
			}
		}
	}
}

// level is what holding one level means at each door.
func (m *grid) level(id site.ID, s shows, d site.Dates, p *site.Person) []Cell {
	bounded := d != (site.Dates{}) || p.Dates != (site.Dates{}) || p.Suspended || m.ragged(p)
	key := levelKey{level: id, shows: s, from: m.from, to: m.to}
	if row, ok := m.levels[key]; ok && !bounded {
		return row
	}
	var may site.Authorities
	if l := m.Config.Level(id); l != nil {
		may = l.Authorities
	}
	row := make([]Cell, len(m.doors))
	for _, e := range m.entries[id] {
		row[e.door] = max(row[e.door], Closed)
		switch {
		case row[e.door] == Opens:
		case m.isFree(e.door):
			row[e.door] = Opens
		case bounded:
			if m.bounded(e, id, may, d, p) {
				row[e.door] = Opens
			}
		case m.opens(e, id, may, s, m.from, m.to):
			row[e.door] = Opens
		}
	}
	if !bounded {
		m.levels[key] = row
	}
	return row
}

// bounded is opens for somebody with dates, of themselves, of what they hold or of what they can show.
func (m *grid) bounded(e covered, level site.ID, may site.Authorities, d site.Dates, p *site.Person) bool {
	if p.Suspended {
		return false
	}
	z, from, to := m.Zone(m.doors[e.door].ID), m.from, m.to
	for _, x := range []site.Dates{d, p.Dates} {
		a, b := x.Span(z)
		from, to = max(from, a), min(to, b)
	}
	if from >= to {
		return false
	}
	for spell, s := range m.spells(p, z, from, to) {
		if m.opens(e, level, may, s, spell[0], spell[1]) {
			return true
		}
	}
	return false
}

// isFree reports whether a door is free at some time in the window.
func (m *grid) isFree(n int) bool {
	d := m.doors[n]
	k := m.lineKey(d, m.from, m.to)
	k.first, k.guard = d.FirstCard, m.guards[n]
	is, ok := m.open[k]
	if !ok {
		line := m.times.Door(d.ID)
		var card firstcard.Card
		for at := m.from; at < m.to && !is; {
			armed, edge := m.armed(k.guard, line, at)
			is = !armed && card.Ask(line, &d.FirstCard, at).Mode == hours.Free
			at = min(line.Next(at), edge)
		}
		m.open[k] = is
	}
	return is && !d.OutOfUse
}

// lineKey tells what a door asks over time; no schedule stands in it.
func (m *grid) lineKey(d *site.Door, from, to hours.Instant) openKey {
	line := m.times.Door(d.ID)
	k := openKey{plan: line.Plan, calendar: line.Calendar, zone: line.Zone, windows: len(line.Windows), from: from, to: to}
	if len(line.Windows) > 0 {
		k.window = &line.Windows[0]
	}
	return k
}

// opens reports whether a way is open at some time, to somebody who can show something.
func (m *grid) opens(e covered, level site.ID, may site.Authorities, s shows, from, to hours.Instant) bool {
	d := m.doors[e.door]
	if !d.In.Fitted || d.OutOfUse {
		return false
	}
	line, k := m.times.Door(d.ID), m.lineKey(d, from, to)
	k.schedule, k.guard = e.schedule, m.guards[e.door]
	k.disarms = k.guard != 0 && may.Disarms
	for _, mode := range hours.Modes {
		if s.enough(mode, &d.In, m.lists[e.door]) {
			k.modes |= 1 << mode
		}
	}
	if line.Plan.Limited() {
		k.level = level
	}
	if line.Plan.Waits() {
		k.first = d.FirstCard
		if may.OpensDay {
			k.level = level
		}
	}
	is, ok := m.open[k]
	if !ok {
		is = m.walk(line, &d.FirstCard, &k, level, may.OpensDay)
		m.open[k] = is
	}
	return is
}

func (m *grid) walk(line *hours.Timeline, first *site.FirstCard, k *openKey, level site.ID, opensDay bool) bool {
	s := m.times.Schedules[k.schedule]
	var card firstcard.Card
	for at := k.from; at < k.to; {
		if !s.OpenAt(line.Local, at) {
			at = s.NextOpen(line.Local, at)
			continue
		}
		a := card.Ask(line, first, at)
		armed, edge := m.armed(k.guard, line, at)
		if armed && !k.disarms {
			at = min(edge, s.Next(line.Local, at))
			continue
		}
		if armed && a.Mode == hours.Free {
			a.Mode = hours.Card
		}
		mayFirst := !a.Awaiting || first.Who != site.Openers || opensDay
		if k.modes>>a.Mode&1 != 0 && mayFirst && counts(a.Levels, level) {
			return true
		}
		at = min(line.Next(at), s.Next(line.Local, at), edge)
	}
	return false
}

// armed reports whether a schedule keeps the alarm area of a door armed at an instant, and until when.
func (m *grid) armed(guard site.ID, line *hours.Timeline, at hours.Instant) (armed bool, until hours.Instant) {
	s := m.times.Schedules[guard]
	if s == nil {
		return false, hours.Never
	}
	return s.OpenAt(line.Local, at), s.Next(line.Local, at)
}
