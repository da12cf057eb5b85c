package review

import (
	"cmp"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Known is what findings about people are told besides the configuration.
type Known struct {
	Seen   map[site.ID]hours.Instant // when somebody was let in last; who never was is not in it
	Since  hours.Instant             // from when on that is known; 0: not at all
	Over   map[site.ID]string        // controllers that hold more than they can, in words
	Unsent map[site.ID]hours.Instant // controllers that lack something, and since when
}

// roll is what the checks of people look at.
type roll struct {
	desk
	Known
	places  *site.Places
	holders map[site.ID]int
	doors   map[site.ID][]site.Covered // of each effective level, by door
	inside  site.Containment
}

// mostOfOne is how many findings of one code are listed one by one; more are told together.
const mostOfOne = 20

// People finds what is to be said of people, departments, access levels and what they hold.
func People(
	c *site.Config, effective *site.Config, times *site.Timetable, zone func(controller site.ID) *hours.Zone,
	now hours.Instant, k Known,
) []Finding {
	r := &roll{
		desk: desk{c: c, eff: effective, times: times, now: now, zone: zone}, Known: k, places: site.NewPlaces(c),
		holders: map[site.ID]int{}, doors: map[site.ID][]site.Covered{}, inside: c.Containment(),
	}
	for i := range effective.Levels {
		entries := r.places.Entries(&effective.Levels[i])
		slices.SortStableFunc(entries, func(a, b site.Covered) int { return cmp.Compare(a.DoorID, b.DoorID) })
		r.doors[effective.Levels[i].ID] = entries
	}
	for _, p := range effective.People {
		for _, g := range p.Levels {
			r.holders[g.LevelID]++
		}
	}
	r.levels()
	r.cardsAndLevels()
	r.strangeHours()
	r.deadGrants()
	r.notSeen()
	r.twins()
	r.expired()
	r.overlapping()
	r.names()
	r.untaken()
	r.elevators()
	r.controllers()
	return stand(InOrder(r.out), "people")
}

func (r *roll) note(code string, s Severity, kind string, id site.ID, name, words, mend string) {
	r.add(Finding{Code: code, Severity: s, Kind: kind, ID: id, Name: name, Words: words, Mend: mend})
}

// many tells of people one by one, or of so many together.
func (r *roll) many(code string, s Severity, people []*site.Person, one func(*site.Person) string, all, mend string) {
	if len(people) <= mostOfOne {
		for _, p := range people {
			r.note(code, s, "person", p.ID, p.Name, one(p), mend)
		}
		return
	}
	r.note(code, s, "person", people[0].ID, people[0].Name+fmt.Sprintf(" and %d others", len(people)-1),
		fmt.Sprintf(all, len(people)), mend)
}

func (r *roll) levels() {
	inside := map[site.ID]string{}
	for _, l := range r.c.Levels {
		for _, id := range l.Includes {
			inside[id] = l.Name
		}
	}
	for i := range r.c.Levels {
		l := &r.c.Levels[i]
		if r.holders[l.ID] == 0 {
			words := "Nobody has " + l.Name + "."
			if inside[l.ID] != "" {
				words = "Nobody has " + l.Name + ", nor " + inside[l.ID] + ", which contains it."
			}
			r.note("level-nobody", Untidy, "level", l.ID, l.Name, words, "Give it to somebody, or remove it.")
		}
		doors := 0
		for _, id := range r.inside.Of(l.ID) {
			doors += len(r.doors[id])
		}
		if doors == 0 {
			r.note("level-nowhere", Risky, "level", l.ID, l.Name,
				l.Name+" leads through no door: whoever has it comes in nowhere by it.",
				"Choose places for it, or remove it.")
		}
	}
}

// cardsAndLevels finds who has the one without the other.
func (r *roll) cardsAndLevels() {
	var cards, levels []*site.Person
	for _, p := range r.eff.People {
		if p.Suspended {
			continue
		}
		has := len(p.Credentials) > 0 || p.PIN != nil
		switch {
		case has && len(p.Levels) == 0:
			cards = append(cards, p)
		case !has && len(p.Levels) > 0:
			levels = append(levels, p)
		}
	}
	r.many("card-no-level", Risky, cards, func(p *site.Person) string {
		return p.Name + " has a card or a PIN, and nothing that leads through a door."
	},
		"%d people have a card or a PIN, and nothing that leads through a door.",
		"Give them an access level or a department, or take the card back.")
	r.many("level-no-card", Untidy, levels,
		func(p *site.Person) string { return p.Name + " has access, and neither a card nor a PIN." },
		"%d people have access, and neither a card nor a PIN.", "Let them present a card, or take the access away.")
}

// strangeHours finds entries of levels whose schedule is never open while the door asks for something.
func (r *roll) strangeHours() {
	type pair struct {
		schedule *hours.Schedule
		plan     *hours.Plan
		calendar *hours.Calendar
	}
	known := map[pair]bool{}
	for i := range r.c.Levels {
		l := &r.c.Levels[i]
		var doors []string
		for _, e := range r.doors[l.ID] {
			line, s := r.times.Door(e.DoorID), r.times.Schedules[e.ScheduleID]
			if line == nil || s == nil {
				continue
			}
			k := pair{s, line.Plan, line.Calendar}
			meets, ok := known[k]
			if !ok {
				meets = r.meets(line, s)
				known[k] = meets
			}
			if !meets {
				doors = append(doors, r.doorName(e.DoorID))
			}
		}
		if len(doors) > 0 {
			r.note("hours-never-meet", Risky, "level", l.ID, l.Name,
				fmt.Sprintf("The hours of %s at %s never meet hours at which a card is asked there: it is free or barred then, or the schedule is never open.", l.Name, few(doors)),
				"Choose other hours for these doors, or take them out.")
		}
	}
}

// meets reports whether a schedule is open at some time of the next four weeks at which a door asks for something.
func (r *roll) meets(line *hours.Timeline, s *hours.Schedule) bool {
	end := r.now + 28*hours.FullDay
	for at := r.now; at < end; {
		if !s.OpenAt(line.Local, at) {
			at = s.NextOpen(line.Local, at)
			continue
		}
		if m := line.At(at); m.Mode != hours.Free && m.Mode != hours.Barred || m.First {
			return true
		}
		at = min(line.Next(at), s.Next(line.Local, at))
	}
	return false
}

func (r *roll) doorName(id site.ID) string {
	if d := r.c.Door(id); d != nil {
		return d.Name
	}
	return "a door"
}

// few names some things, and counts the rest.
func few(names []string) string {
	names = slices.Compact(slices.Sorted(slices.Values(names)))
	if len(names) > 4 {
		return strings.Join(names[:3], ", ") + fmt.Sprintf(" and %d more", len(names)-3)
	}
	return strings.Join(names, ", ")
}

// deadGrants finds grants whose dates never meet their schedule, or those of the person.
func (r *roll) deadGrants() {
	for _, p := range r.c.People {
		for _, h := range r.c.HoldingsDated(p) {
			from, until, b := p.Dates.Walls()
			gFrom, gUntil, g := h.Dates.Walls()
			if b[1] && g[0] && gFrom >= until || b[0] && g[1] && gUntil <= from {
				words := fmt.Sprintf("%s has %s only %s, and may come in only %s.", p.Name, r.levelName(h.LevelID), h.Dates.Words(),
					p.Dates.Words())
				if h.DepartmentID != 0 {
					words = fmt.Sprintf("%s has %s through %s only %s, and may come in only %s.", p.Name, r.levelName(h.LevelID),
						r.c.Department(h.DepartmentID).Name, h.Dates.Words(), p.Dates.Words())
				}
				r.note("dates-apart", Wrong, "person", p.ID, p.Name, words, "Change one of the dates, or take it away.")
				continue
			}
			if (g[0] || g[1]) && !r.opensWithin(h) {
				r.note("grant-never", Wrong, "person", p.ID, p.Name,
					fmt.Sprintf("%s has %s %s; its schedules are not open at any time then.", p.Name, r.levelName(h.LevelID),
						h.Dates.Words()),
					"Choose other dates, or a schedule that is open then.")
			}
		}
	}
}

func (r *roll) levelName(id site.ID) string {
	if t, schedule, ok := id.Own(); ok {
		name := string(t.Kind)
		if t.Kind == site.AtDoor || t.Kind == site.AtReader {
			name = r.doorName(t.ID)
		}
		for _, s := range r.c.Schedules {
			if s.ID == schedule {
				name += " during " + s.Name
			}
		}
		return name
	}
	if l := r.c.Level(id); l != nil {
		return l.Name
	}
	return "a level"
}

// opensWithin reports whether a schedule of what is held is open while it is held; what is past is let be.
func (r *roll) opensWithin(h site.Holding) bool {
	entries := r.doors[h.LevelID]
	if len(entries) == 0 {
		return true // another finding
	}
	for _, e := range entries {
		line, s := r.times.Door(e.DoorID), r.times.Schedules[e.ScheduleID]
		if line == nil || s == nil {
			continue
		}
		from, until := h.Dates.Span(line.Zone)
		from = max(from, r.now-28*hours.FullDay)
		if until <= r.now || from > r.now+366*hours.FullDay || s.NextOpen(line.Local, from) < until {
			return true
		}
	}
	return false
}

// unseenDays is after how many days without being let in somebody is told of.
const unseenDays = 90

func (r *roll) notSeen() {
	before := r.now - unseenDays*hours.FullDay
	if r.Since == 0 || r.Since > before { // nobody could have been seen before
		return
	}
	var list []*site.Person
	for _, p := range r.eff.People {
		if at, ok := r.Seen[p.ID]; (!ok || at < before) && !p.Suspended && len(p.Levels) > 0 && len(p.Credentials) > 0 {
			list = append(list, p)
		}
	}
	r.many("not-seen", Untidy, list, func(p *site.Person) string {
		if at, ok := r.Seen[p.ID]; ok {
			return fmt.Sprintf("%s was let in last on %s.", p.Name, at.Time().Format("2 Jan 2006"))
		}
		return p.Name + " has never been let in."
	}, "%d people were not let in for 90 days.",
		"Ask whether they still need it; suspend them, or give their access an end.")
}

// twins finds two people whose cards have one number in different formats.
func (r *roll) twins() {
	seen := map[string]*site.Person{}
	for _, p := range r.c.People {
		for _, c := range p.Credentials {
			if c.Kind != site.Card {
				continue
			}
			if other := seen[c.Value]; other != nil && other != p {
				r.note("card-twice", Risky, "person", p.ID, p.Name,
					fmt.Sprintf("%s and %s both have a card %s, of different formats: a reader that takes both may take the one for the other.", p.Name, other.Name, c.Value),
					"Look at the cards, and take away the one that was typed wrong.")
			}
			seen[c.Value] = p
		}
	}
}

func (r *roll) expired() {
	var list []*site.Person
	for _, p := range r.eff.People {
		_, until, b := p.Dates.Walls()
		if b[1] && until < int64(r.now/hours.Minute)-hours.DayMinutes && len(p.Levels) > 0 {
			list = append(list, p)
		}
	}
	r.many("expired", Untidy, list, func(p *site.Person) string {
		return fmt.Sprintf("%s may come in %s, and still has cards and access.", p.Name, p.Dates.Words())
	}, "%d people whose time is over still have cards and access.",
		"Take their cards back and remove them, or give them a new end.")
}

// atOtherHours names the doors that two levels lead through, by schedules of which they have none in common.
func (r *roll) atOtherHours(a, b site.ID) (doors []string) {
	if len(r.doors[a]) > len(r.doors[b]) {
		a, b = b, a
	}
	for list := r.doors[a]; len(list) > 0; {
		door := list[0].DoorID
		n := slices.IndexFunc(list, func(e site.Covered) bool { return e.DoorID != door })
		if n < 0 {
			n = len(list)
		}
		mine := list[:n]
		list = list[n:]
		at, there := slices.BinarySearchFunc(r.doors[b], door,
			func(e site.Covered, d site.ID) int { return cmp.Compare(e.DoorID, d) })
		same, meet := false, false
		for _, e := range r.doors[b][at:] {
			if e.DoorID != door {
				break
			}
			meet = meet || slices.ContainsFunc(mine, func(m site.Covered) bool { return m.Meets(&e) })
			same = same || slices.ContainsFunc(mine, func(m site.Covered) bool { return m.ScheduleID == e.ScheduleID })
		}
		if there && meet && !same {
			doors = append(doors, r.doorName(door))
		}
	}
	return doors
}

// overlapping finds two levels that somebody has both, and that lead through a door at different hours.
func (r *roll) overlapping() {
	type pair struct{ a, b site.ID }
	count, example := map[pair]int{}, map[pair]*site.Person{}
	for _, p := range r.eff.People {
		for i, g := range p.Levels {
			for _, h := range p.Levels[:i] {
				k := pair{min(g.LevelID, h.LevelID), max(g.LevelID, h.LevelID)}
				if k.a == k.b || g.Dates != (site.Dates{}) || h.Dates != (site.Dates{}) {
					continue
				}
				if count[k]++; example[k] == nil {
					example[k] = p
				}
			}
		}
	}
	pairs := slices.SortedFunc(maps.Keys(count),
		func(x, y pair) int { return cmp.Or(cmp.Compare(x.a, y.a), cmp.Compare(x.b, y.b)) })
	for _, k := range pairs {
		if slices.Contains(r.inside.Of(k.a), k.b) || slices.Contains(r.inside.Of(k.b), k.a) {
			continue // who has the one is meant to have the other
		}
		doors := r.atOtherHours(k.a, k.b)
		if len(doors) == 0 {
			continue
		}
		who := example[k].Name
		if n := count[k]; n > 1 {
			who += fmt.Sprintf(" and %d others", n-1)
		}
		r.note("several-ways", Untidy, "person", example[k].ID, example[k].Name,
			fmt.Sprintf("%s may pass %s by %s and by %s, at different hours: the longer ones count.", who, few(doors),
				r.levelName(k.a), r.levelName(k.b)),
			"Take one of them away where it is not meant.")
	}
}

var tryName = regexp.MustCompile(`(?i)\b(test|asdf|xxx|dummy|tmp)\b|\d{4}-\d\d-\d\d|\b\d{1,2}\.\d{1,2}\.\d{2,4}\b`)

func (r *roll) names() {
	note := func(kind string, id site.ID, name string) {
		if tryName.MatchString(name) {
			r.note("name-odd", Untidy, kind, id, name, name+" looks like a name for trying, or has a date in it.",
				"Give it its name, and put dates where they end something by themselves.")
		}
	}
	for _, p := range r.c.People {
		note("person", p.ID, p.Name)
	}
	for i := range r.c.Levels {
		note("level", r.c.Levels[i].ID, r.c.Levels[i].Name)
	}
	for i := range r.c.Departments {
		note("department", r.c.Departments[i].ID, r.c.Departments[i].Name)
	}
}

// untaken finds credentials of kinds that no reader takes at the doors of their holder.
func (r *roll) untaken() {
	takes := map[site.ID]site.Kinds{}
	for i := range r.c.Doors {
		takes[r.c.Doors[i].ID] = r.c.Doors[i].In.TakenKinds() | r.c.Doors[i].Out.TakenKinds()
	}
	kinds := map[site.ID]site.Kinds{}
	for id, list := range r.doors {
		for _, e := range list {
			kinds[id] |= takes[e.DoorID]
		}
	}
	for _, p := range r.eff.People {
		if p.Kinds() == site.KindsOf(site.Card) || len(p.Levels) == 0 {
			continue
		}
		taken := site.Kinds(0)
		for _, g := range p.Levels {
			taken |= kinds[g.LevelID]
		}
		for _, c := range p.Credentials {
			if c.Status == site.Active && taken&site.KindsOf(c.Kind) == 0 {
				r.note("nothing-takes", Risky, "person", p.ID, p.Name,
					fmt.Sprintf("No reader on the way of %s takes a %s: %s opens nothing.", p.Name, c.Kind, c.Words()),
					"Say at a reader that it takes them, or give a card.")
			}
		}
	}
}

// controllers tells of those that cannot hold all, and of what was changed long ago and never sent.
func (r *roll) controllers() {
	for i := range r.c.Controllers {
		x := &r.c.Controllers[i]
		if words := r.Over[x.ID]; words != "" {
			r.note("over-capacity", Wrong, "controller", x.ID, x.Name, x.Name+" cannot be sent: "+words+".",
				"Give fewer people something to do there, or fit a larger controller.")
		}
		if since := r.Unsent[x.ID]; since != 0 && since < r.now-hours.FullDay {
			r.note("unsent", Risky, "controller", x.ID, x.Name,
				fmt.Sprintf("%s lacks what was changed on %s: it decides by what it held before.", x.Name,
					since.Time().Format("2 Jan 2006")), "Send, or undo the change in History.")
		}
	}
}
