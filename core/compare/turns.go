package compare

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Turn is a door through which somebody may come in at more hours than before, or at fewer.
type Turn struct {
	Door  site.ID
	Gains bool          // else they lose
	First hours.Instant // when it differs first
	Week  []Stretch     // when it differs in the seven days from then on
}

// Stretch is a piece of time, [From, To).
type Stretch struct{ From, To hours.Instant }

// told is what a way through a door means for somebody, gains and losses.
type told struct {
	gains, loses Turn
}

// Turns tells through which doors somebody gains or loses, and when first; nothing of who is not touched. Losses stand
// before gains, doors in the order of the configuration.
func (e *Effect) Turns(person site.ID) []Turn {
	c := e.crowd
	if c == nil {
		return nil
	}
	was, is := c.was.Person(person), c.is.Person(person)
	if rep, ok := e.alike[person]; ok && was == nil && is == nil {
		was, is = c.was.Person(rep), c.is.Person(rep)
	}
	if was == nil && is == nil {
		return nil
	}
	held, m := c.holds(was, is)
	held = slices.DeleteFunc(held, func(h hold) bool { return c.levels[h.level] == nil })
	var out []Turn
	for n, door := range c.doors {
		entries := c.entriesOf(held, n)
		if len(entries) == 0 {
			continue
		}
		x := c.tell(n, entries, m)
		for _, t := range []Turn{x.loses, x.gains} {
			if t.First != hours.Never {
				t.Door = door
				out = append(out, t)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Turn) int {
		switch {
		case a.Gains == b.Gains:
			return cmp.Compare(c.place[a.Door], c.place[b.Door])
		case b.Gains:
			return -1
		}
		return 1
	})
	return out
}

// tell works out when entries let somebody in on one side only.
func (c *crowd) tell(n int, entries []entry, m both) told {
	want, door := c.way(n, entries, m).turns, c.doors[n]
	if want == (turns{}) {
		return told{Turn{First: hours.Never, Gains: true}, Turn{First: hours.Never}}
	}
	if r := c.readers[door]; r != nil {
		m = both{m.was.at(r), m.is.at(r)}
	}
	entries, k := c.keyOf(door, entries, m)
	out, ok := c.told[k]
	if ok {
		return out
	}
	said := notes{told: told{Turn{First: hours.Never, Gains: true}, Turn{First: hours.Never}}, want: want}
	parts := slices.SortedFunc(slices.Values(c.parts(door, entries, m)),
		func(a, b stretch) int { return cmp.Compare(a.from, b.from) })
	paths := c.paths(door, entries)
	for _, p := range parts {
		if said.enough(p.from) {
			break
		}
		if left := want.less(p.cannot); left != (turns{}) {
			c.compare(door, p, paths, m, left, &said)
		}
	}
	said.gains.settle()
	said.loses.settle()
	c.told[k] = said.told
	return said.told
}

// notes gather when somebody comes in on one side only.
type notes struct {
	told
	want turns
}

func (n *notes) take(from, to hours.Instant, gains bool) {
	t := &n.loses
	if gains {
		t = &n.gains
	}
	t.First = min(t.First, from)
	t.Week = append(t.Week, Stretch{from, to})
}

// enough reports whether what comes after an instant would not be told any more.
func (n *notes) enough(at hours.Instant) bool {
	over := func(t *Turn) bool { return t.First != hours.Never && at >= t.First.Add(week) }
	return (!n.want.gains || over(&n.gains)) && (!n.want.loses || over(&n.loses))
}

// week is for how long it is told when somebody gains or loses.
const week = 7 * 24 * time.Hour

// settle puts the times in order and leaves those of the first week. The parts that were looked at may overlap.
func (t *Turn) settle() {
	slices.SortFunc(t.Week, func(a, b Stretch) int { return cmp.Compare(a.From, b.From) })
	out := t.Week[:0]
	for _, s := range t.Week {
		switch n := len(out); {
		case s.From >= t.First.Add(week):
		case n > 0 && out[n-1].To >= s.From:
			out[n-1].To = max(out[n-1].To, s.To)
		default:
			out = append(out, s)
		}
	}
	t.Week = out
}

// Words says when: "Sat 09:00–17:00", "Mon–Fri 08:00–18:00", "all hours".
func (t *Turn) Words(z *hours.Zone) string {
	if len(t.Week) == 1 && t.Week[0].To-t.Week[0].From >= 7*hours.FullDay {
		return "all hours"
	}
	byHours := map[string][7]bool{}
	var order []string
	for _, s := range t.Week {
		for at := s.From; at < s.To; {
			w := z.Wall(at)
			end := min(s.To, z.Resolve(w.Day+1, 0))
			if end <= at {
				break
			}
			last := z.Wall(end-1).Minute + 1
			hoursOf := hours.Clock(w.Minute) + "–" + hours.Clock(last)
			if w.Minute == 0 && last == hours.DayMinutes {
				hoursOf = "all day"
			}
			days, seen := byHours[hoursOf]
			if !seen {
				order = append(order, hoursOf)
			}
			days[w.Day.Weekday()] = true
			byHours[hoursOf] = days
			at = end
		}
	}
	var words []string
	for _, h := range order {
		words = append(words, daysWords(byHours[h], shortDays)+" "+h)
	}
	if len(words) > 4 {
		words = append(words[:4], fmt.Sprintf("and %d more times", len(words)-4))
	}
	return strings.Join(words, ", ")
}

var (
	shortDays = [7]string{"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"}
	longDays  = [7]string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"}
)

// daysWords lists weekdays, three and more in a row from the first to the last.
func daysWords(days [7]bool, names [7]string) string {
	var out []string
	for d := 0; d < 7; d++ {
		if !days[d] {
			continue
		}
		end := d
		for end+1 < 7 && days[end+1] {
			end++
		}
		switch {
		case end-d >= 2:
			out = append(out, names[d]+" to "+names[end])
			d = end
		default:
			out = append(out, names[d])
		}
	}
	return strings.Join(out, ", ")
}

// Naming gives what a sentence names.
type Naming struct {
	Name func(site.ID) string             // of people and doors
	Zone func(door site.ID) *hours.Zone   // by whose clock a door is told of
	Site func(door site.ID) (string, int) // the name of its site, and how many doors are there
}

// mostAsked is how many people a sentence looks at to say where and when.
const mostAsked = 40

// Sentence says whom the effect touches: "14 people: Ines Alder and 3 others lose Saturday at Slipway gate, from Sat 28
// Nov 2026; nobody gains".
func (e *Effect) Sentence(n Naming) string { return Together{e}.Sentence(n) }

// Together are several effects that come about at once, as of several controllers.
type Together []*Effect

// Who lists the people whom one of the effects touches, by number.
func (t Together) Who() (w Who) {
	all := map[site.ID]bool{}
	gather := func(list func(*Effect) []site.ID) (out []site.ID) {
		seen := map[site.ID]bool{}
		for _, e := range t {
			for _, id := range list(e) {
				all[id] = true
				if !seen[id] {
					seen[id] = true
					out = append(out, id)
				}
			}
		}
		slices.Sort(out)
		return out
	}
	w.Gainers = gather(func(e *Effect) []site.ID { return e.Gainers })
	w.Losers = gather(func(e *Effect) []site.ID { return e.Losers })
	w.People = len(all)
	return w
}

// Turns tells through which doors somebody gains or loses, losses first.
func (t Together) Turns(person site.ID) (out []Turn) {
	for _, e := range t {
		out = append(out, e.Turns(person)...)
	}
	slices.SortStableFunc(out, func(a, b Turn) int {
		switch {
		case a.Gains == b.Gains:
			return 0
		case b.Gains:
			return -1
		}
		return 1
	})
	return out
}

// Sentence says whom they touch, and where other rules hold.
func (t Together) Sentence(n Naming) string {
	var doors, screened []site.ID
	for _, e := range t {
		doors, screened = append(doors, e.Rules...), append(screened, e.Screened...)
	}
	out := t.access(n)
	slices.Sort(screened)
	switch screened = slices.Compact(screened); {
	case len(screened) == 1:
		out += " " + n.Name(screened[0]) + " must be cleared from now on."
	case len(screened) > 1:
		out += fmt.Sprintf(" %d people must be cleared from now on.", len(screened))
	}
	if len(doors) > 0 {
		out += " Other rules hold at " + doorsWords(n, doors) + "."
	}
	return out
}

// access says whom they touch by levels and hours.
func (t Together) access(n Naming) string {
	w := t.Who()
	asks := slices.ContainsFunc(t, func(e *Effect) bool { return len(e.Doors) > 0 })
	switch {
	case w.People == 0 && !asks:
		return "Nobody's access changes, and no door asks anything else."
	case w.People == 0 && t.waits():
		return "Doors ask something else; as long as no first card has come, nobody comes in at other hours."
	case w.People == 0:
		return "Doors ask something else; nobody comes in at other hours."
	}
	lose, gain := t.side(n, w.Losers, false), t.side(n, w.Gainers, true)
	out := lose + "; " + gain
	if len(w.Losers) == 0 {
		out = gain + "; nobody loses"
	}
	if len(w.Gainers) == 0 {
		out = lose + "; nobody gains"
	}
	if w.People > 1 {
		out = fmt.Sprintf("%d people: %s", w.People, out)
	}
	return out + "."
}

// waits reports whether a first card makes a difference: hours are compared as they are before one has come.
func (t Together) waits() bool {
	for _, e := range t {
		if e.crowd == nil {
			continue
		}
		for _, id := range e.Doors {
			first := func(s stretch) bool { return s.was.First || s.is.First }
			if slices.ContainsFunc(e.crowd.door(id).stretches, first) {
				return true
			}
		}
	}
	return false
}

// side is one half of a sentence.
func (t Together) side(n Naming, people []site.ID, gains bool) string {
	if len(people) == 0 {
		return ""
	}
	var doors []site.ID
	var days [7]bool
	first, where := hours.Never, site.ID(0)
	for _, p := range people[:min(len(people), mostAsked)] {
		for _, x := range t.Turns(p) {
			if x.Gains != gains {
				continue
			}
			if !slices.Contains(doors, x.Door) {
				doors = append(doors, x.Door)
			}
			if x.First < first {
				first, where = x.First, x.Door
			}
			x.weekdays(n.Zone(x.Door), &days)
		}
	}
	verb := "lose"
	if gains {
		verb = "gain"
	}
	who := n.Name(people[0])
	switch len(people) {
	case 1:
		verb += "s"
	case 2:
		who += " and " + n.Name(people[1])
	default:
		who += fmt.Sprintf(" and %d others", len(people)-1)
	}
	if len(doors) == 0 {
		return who + " " + verb + " hours"
	}
	out := who + " " + verb + " "
	if days != [7]bool{true, true, true, true, true, true, true} {
		out += daysWords(days, longDays) + " at "
	}
	return out + doorsWords(n, doors) + ", from " + n.Zone(where).Wall(first).Day.Words()
}

// weekdays marks those on which it differs.
func (t *Turn) weekdays(z *hours.Zone, days *[7]bool) {
	for _, s := range t.Week {
		for at := s.From; at < s.To; at = z.Resolve(z.Wall(at).Day+1, 0) {
			days[z.Wall(at).Day.Weekday()] = true
		}
	}
}

// doorsWords names some doors and floors of elevators, doors first: each of a few, else how many of which site.
func doorsWords(n Naming, doors []site.ID) string {
	isFloor := func(id site.ID) bool { _, _, ok := id.Stop(); return ok }
	doors = slices.Clone(doors)
	slices.SortStableFunc(doors, func(a, b site.ID) int { return cmp.Compare(rank(isFloor(a)), rank(isFloor(b))) })
	names := make([]string, 0, 3)
	for _, d := range doors[:min(len(doors), 3)] {
		names = append(names, n.Name(d))
	}
	switch {
	case len(doors) == 1:
		return names[0]
	case len(doors) <= 3:
		return strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1]
	}
	floors := len(doors)
	if k := slices.IndexFunc(doors, isFloor); k >= 0 {
		floors -= k
	} else {
		floors = 0
	}
	many := countWords(len(doors)-floors, floors)
	place, all := n.Site(doorOf(doors[0]))
	for _, d := range doors {
		if other, _ := n.Site(doorOf(d)); other != place {
			return many
		}
	}
	if len(doors) == all && floors == 0 {
		return "all doors of " + place
	}
	return many + " of " + place
}

func rank(last bool) int {
	if last {
		return 1
	}
	return 0
}

// doorOf is the door itself, of a floor its elevator.
func doorOf(id site.ID) site.ID {
	if car, _, ok := id.Stop(); ok {
		return car
	}
	return id
}

// countWords counts doors, and floors of elevators apart.
func countWords(doors, floors int) string {
	few := func(n int, one, many string) string {
		if n == 1 {
			return "1 " + one
		}
		return fmt.Sprintf("%d %s", n, many)
	}
	switch {
	case floors == 0:
		return few(doors, "door", "doors")
	case doors == 0:
		return few(floors, "elevator floor", "elevator floors")
	}
	return few(doors, "door", "doors") + " and " + few(floors, "elevator floor", "elevator floors")
}
