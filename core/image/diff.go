package image

import (
	"bytes"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"amberkeystone/core/cards"
	"amberkeystone/core/site"
)

// Names gives objects their names, for words.
type Names map[site.ID]string

// Mentions returns the numbers of everything that an image mentions and people may want named.
func (im *Image) Mentions() []site.ID {
	out := slices.Concat(
		idsOf(im.Inputs, func(x site.Input) site.ID { return x.ID }),
		idsOf(im.Outputs, func(x site.Output) site.ID { return x.ID }),
		idsOf(im.Floors, func(x site.Floor) site.ID { return x.SiteID }),
		idsOf(im.Types, func(x site.HolidayType) site.ID { return x.ID }),
		idsOf(im.Changes, func(x site.DatedChange) site.ID { return x.ID }),
		idsOf(im.Levels, func(x Level) site.ID { return x.ID }),
		idsOf(im.People, func(x Person) site.ID { return x.ID }),
		im.Rules.mentions(),
		[]site.ID{im.Controller},
	)
	for _, d := range im.Doors {
		out = append(out, d.ID, d.FloorID, d.PlanID)
		if d.Car != nil {
			out = append(out, idsOf(d.Car.Stops, func(x site.Stop) site.ID { return x.FloorID })...)
		}
	}
	for _, h := range im.Holidays {
		out = append(append(out, h.ID, h.TypeID), h.SiteIDs...)
	}
	for _, s := range im.Schedules {
		out = append(out, s.ID)
		out = append(out, idsOf(s.Holidays, func(x site.ScheduleHoliday) site.ID { return x.TypeID })...)
	}
	for i := range im.Plans {
		p := &im.Plans[i]
		out = append(out, p.ID)
		out = append(out, idsOf(p.Holidays, func(x site.PlanHoliday) site.ID { return x.TypeID })...)
		for _, s := range p.Segments() {
			out = append(out, idsOf(s.Levels, func(x int64) site.ID { return site.ID(x) })...)
		}
	}
	return out
}

func (r *Rules) mentions() []site.ID {
	return slices.Concat(
		idsOf(r.Interlocks, func(x site.Interlock) site.ID { return x.ID }),
		idsOf(r.Areas, func(x site.Area) site.ID { return x.ID }),
		idsOf(r.Proofs, func(x site.Proofs) site.ID { return x.ID }),
		idsOf(r.Groups, func(x Group) site.ID { return x.ID }),
		idsOf(r.Screenings, func(x site.Screening) site.ID { return x.ID }),
		idsOf(r.Screenings, func(x site.Screening) site.ID { return x.LevelID }),
		idsOf(r.Emergencies, func(x Emergency) site.ID { return x.ID }),
		idsOf(r.Reactions, func(x Reaction) site.ID { return x.ID }),
		idsOf(r.AlarmAreas, func(x site.AlarmArea) site.ID { return x.ID }),
	)
}

// idsOf takes a number from each of a list.
func idsOf[T any](list []T, of func(T) site.ID) []site.ID {
	out := make([]site.ID, len(list))
	for i, x := range list {
		out[i] = of(x)
	}
	return out
}

func (n Names) of(kind string, id site.ID) string {
	if s := n[id]; s != "" {
		return s
	}
	return fmt.Sprintf("%s %d", kind, id)
}

// Change is one thing that a controller lacks.
type Change struct {
	Kind  string `json:"kind" enum:"everything,settings,door,input,output,holiday type,holiday,plan,schedule,dated change,level,interlock,area,group,several proofs,screening,emergency,reaction,alarm area,person" doc:"What sort of thing differs"`
	Words string `json:"words"`
}

// Diff says in words what must change at a controller that holds old to make it hold new. A nil old is an
// empty controller. No changes means that the canonical bytes are the same, and the other way round.
func Diff(old, new *Image, names Names) []Change {
	if old == nil {
		return []Change{{"everything", fmt.Sprintf("holds nothing yet: %s and %s will be sent",
			count(len(new.Doors), "door", "doors"), count(len(new.People), "person", "people"))}}
	}
	out := slices.Concat(diffSettings(old, new),
		diffLists("door", old.Doors, new.Doors, func(d site.Door) site.ID { return d.ID }, names, doorWords(names)),
		diffLists("input", old.Inputs, new.Inputs, func(x site.Input) site.ID { return x.ID }, names,
			plain[site.Input]("is wired or does its work in another way")),
		diffLists("output", old.Outputs, new.Outputs, func(x site.Output) site.ID { return x.ID }, names,
			plain[site.Output]("is wired or does its work in another way")),
		diffLists("plan", old.Plans, new.Plans, func(p site.Plan) site.ID { return p.ID }, names,
			plain[site.Plan]("asks for other things at other hours")),
		diffLists("schedule", old.Schedules, new.Schedules, func(s site.Schedule) site.ID { return s.ID }, names,
			plain[site.Schedule]("has other hours")),
		diffLists("holiday type", old.Types, new.Types, func(t site.HolidayType) site.ID { return t.ID }, names,
			plain[site.HolidayType]("means something else")),
		diffLists("holiday", old.Holidays, new.Holidays, func(h site.Holiday) site.ID { return h.ID }, names,
			plain[site.Holiday]("has other dates, type or hours")),
		diffLists("dated change", old.Changes, new.Changes, func(c site.DatedChange) site.ID { return c.ID }, names,
			plain[site.DatedChange]("has other doors, dates or another mode")),
		diffLists("level", old.Levels, new.Levels, func(l Level) site.ID { return l.ID }, names,
			levelWords(names, old.cars(), new.cars())),
		diffRules(&old.Rules, &new.Rules, names),
		diffLists("person", old.People, new.People, func(p Person) site.ID { return p.ID }, names, personWords(names)),
	)
	if len(out) == 0 && !bytes.Equal(old.Bytes(), new.Bytes()) {
		out = append(out, Change{"everything", "details that have no words of their own"})
	}
	return out
}

// diffSettings says what differs in the settings of a controller and in what it is made of.
func diffSettings(old, new *Image) []Change {
	var out []Change
	if !reflect.DeepEqual(old.Settings, new.Settings) || !slices.Equal(old.PINKey, new.PINKey) {
		out = append(out, Change{"settings", "card formats, facility codes or PIN rules have changed"})
	}
	if !reflect.DeepEqual(old.Zone, new.Zone) {
		words := fmt.Sprintf("time zone is now %s", new.Zone.Name)
		if old.Zone.Name == new.Zone.Name {
			words = "newer time zone data for " + new.Zone.Name
		}
		out = append(out, Change{"settings", words})
	}
	if !slices.Equal(old.Expanders, new.Expanders) {
		out = append(out, Change{"settings", "other expanders are on its bus"})
	}
	return out
}

// diffRules says which rules differ.
func diffRules(old, new *Rules, names Names) []Change {
	return slices.Concat(
		diffLists("interlock", old.Interlocks, new.Interlocks, func(x site.Interlock) site.ID { return x.ID },
			names, plain[site.Interlock]("has other doors, or waits where it refused")),
		diffLists("area", old.Areas, new.Areas, func(x site.Area) site.ID { return x.ID }, names,
			plain[site.Area]("minds other things about who is inside")),
		diffLists("group", old.Groups, new.Groups, func(g Group) site.ID { return g.ID }, names,
			plain[Group]("has other people in it")),
		diffLists("several proofs", old.Proofs, new.Proofs, func(x site.Proofs) site.ID { return x.ID }, names,
			plain[site.Proofs]("wants something else, of others, or at other hours")),
		diffLists("screening", old.Screenings, new.Screenings, func(x site.Screening) site.ID { return x.ID },
			names, plain[site.Screening]("lets people in by another level, clears them elsewhere or for another time")),
		diffLists("emergency", old.Emergencies, new.Emergencies, func(x Emergency) site.ID { return x.ID }, names,
			plain[Emergency]("is for other doors, or is started or overridden by others")),
		diffLists("reaction", old.Reactions, new.Reactions, func(x Reaction) site.ID { return x.ID }, names,
			reactionWords(names)),
		diffLists("alarm area", old.AlarmAreas, new.AlarmAreas, func(x site.AlarmArea) site.ID { return x.ID },
			names, alarmAreaWords(names)),
	)
}

func either(is bool, yes, no string) string {
	if is {
		return yes
	}
	return no
}

func count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

func plain[T any](words string) func(a, b T) string { return func(a, b T) string { return words } }

func diffLists[T any](kind string, old, new []T, id func(T) site.ID, names Names, words func(a, b T) string) []Change {
	was := make(map[site.ID]*T, len(old))
	for i := range old {
		was[id(old[i])] = &old[i]
	}
	var out []Change
	for i := range new {
		k := id(new[i])
		a, ok := was[k]
		delete(was, k)
		switch {
		case !ok:
			out = append(out, Change{kind, names.of(kind, k) + " is new here"})
		case !reflect.DeepEqual(*a, new[i]):
			out = append(out, Change{kind, names.of(kind, k) + ": " + words(*a, new[i])})
		}
	}
	for i := range old {
		if k := id(old[i]); was[k] != nil {
			out = append(out, Change{kind, names.of(kind, k) + " is no longer needed here"})
		}
	}
	return out
}

func doorWords(names Names) func(a, b site.Door) string {
	return func(a, b site.Door) string {
		var w []string
		if a.PlanID != b.PlanID {
			w = append(w, "follows "+names.of("plan", b.PlanID))
			a.PlanID = b.PlanID
		}
		w = append(w, seconds(
			timed{"unlock time", a.Unlock, b.Unlock}, timed{"extended time", a.Extended, b.Extended},
			timed{"exit time", a.ExitTime, b.ExitTime}, timed{"held open after", a.HeldOpen, b.HeldOpen},
			timed{"warning", a.PreAlarm, b.PreAlarm}, timed{"forced delay", a.Forced, b.Forced})...)
		if a.FirstCard != b.FirstCard {
			w = append(w, "first card")
		}
		if a.OutsideAreaID != b.OutsideAreaID || a.InsideAreaID != b.InsideAreaID {
			w = append(w, "between other areas")
		}
		if !reflect.DeepEqual(a.Toggle, b.Toggle) {
			w = append(w, "card toggle")
		}
		if a.FloorID != b.FloorID {
			w = append(w, "is at "+names.of("site", b.FloorID))
		}
		if !reflect.DeepEqual(a.In, b.In) || !reflect.DeepEqual(a.Out, b.Out) {
			w = append(w, "readers")
		}
		if a.Lock != b.Lock || a.FailSafe != b.FailSafe {
			w = append(w, "lock")
		}
		if a.Contact != b.Contact || a.Exit != b.Exit || a.ExitReleases != b.ExitReleases ||
			a.ContactSupervised != b.ContactSupervised || a.ExitSupervised != b.ExitSupervised || a.ExitKind != b.ExitKind {
			w = append(w, "contact or exit request")
		}
		if a.Wired() != b.Wired() {
			w = append(w, "other terminals")
		}
		if a.OutOfUse != b.OutOfUse {
			w = append(w, either(b.OutOfUse, "is out of use", "is in use again"))
		}
		w = append(w, carWords(names, a.Car, b.Car)...)
		if a.Relock != b.Relock {
			w = append(w, "re-locks "+relockWords[b.Relock])
		}
		if a.Port != b.Port {
			w = append(w, fmt.Sprintf("port %d, was %d", b.Port, a.Port))
		}
		return strings.Join(w, ", ")
	}
}

// carWords says what differs in the floors of an elevator.
func carWords(names Names, a, b *site.Car) (w []string) {
	switch {
	case a == nil && b == nil:
		return nil
	case a == nil:
		return []string{"is an elevator now"}
	case b == nil:
		return []string{"is no elevator any more"}
	}
	for i, s := range b.Stops {
		k := a.StopAt(s.FloorID)
		floor := names.of("floor", s.FloorID)
		switch {
		case k < 0:
			w = append(w, "stops at "+floor)
		case a.Stops[k].Relay != s.Relay:
			w = append(w, fmt.Sprintf("%s by relay %d, was %d", floor, s.Relay, a.Stops[k].Relay))
		case a.Stops[k].FreeID != s.FreeID && s.FreeID != 0:
			w = append(w, floor+" is free during "+names.of("schedule", s.FreeID))
		case a.Stops[k].FreeID != s.FreeID:
			w = append(w, floor+" is no longer free by a schedule")
		case i != k:
			w = append(w, floor+" is another stop in its order")
		}
	}
	for _, s := range a.Stops {
		if b.StopAt(s.FloorID) < 0 {
			w = append(w, "no longer stops at "+names.of("floor", s.FloorID))
		}
	}
	if !slices.Equal(a.Boards, b.Boards) || !slices.Equal(a.Buttons, b.Buttons) {
		w = append(w, "floors on other expanders")
	}
	if a.Fire != b.Fire {
		w = append(w, either(b.Fire == site.FireDrops, "in a fire its floor relays drop",
			"in a fire its floors are released"))
	}
	return w
}

var relockWords = map[site.Relock]string{
	site.OnOpening: "on opening",
	site.OnClosing: "on closing",
	site.AtEnd:     "at the end of the time",
}

func (e Entry) words(names Names, floors map[site.ID]*site.Car) string {
	way := ""
	if car := floors[e.DoorID]; car != nil {
		var to []string
		for _, f := range car.Floors(&e.Stops) {
			to = append(to, names.of("floor", f))
		}
		way = " to " + strings.Join(to, ", ")
		if len(to) == 0 {
			way = " to no floor"
		}
	}
	switch e.Side {
	case site.SideIn:
		way = " on the way in"
	case site.SideOut:
		way = " on the way out"
	}
	return fmt.Sprintf("%s%s during %s", names.of("door", e.DoorID), way, names.of("schedule", e.ScheduleID))
}

// levelWords says what differs in a level; cars are the elevators of the images before and after.
func levelWords(names Names, was, is map[site.ID]*site.Car) func(a, b Level) string {
	return func(a, b Level) string {
		var w []string
		for _, e := range b.Entries {
			if !slices.Contains(a.Entries, e) {
				w = append(w, "opens "+e.words(names, is))
			}
		}
		for _, e := range a.Entries {
			if !slices.Contains(b.Entries, e) {
				w = append(
					w,
					"no longer opens "+e.words(names, was),
				)
			}
		}
		had, has := a.Has(), b.Has()
		for i, words := range authorities {
			if had[i] != has[i] {
				w = append(w, either(has[i], words[0], words[1]))
			}
		}
		return strings.Join(w, ", ")
	}
}

// authorities are what levels let people do, given and taken away, in the order of site.Authorities.Has.
var authorities = [...][2]string{
	{"opens the day", "no longer opens the day"},
	{"approves others", "no longer approves others"},
	{"may toggle doors", "may no longer toggle doors"},
	{"overrides lockdown", "no longer overrides lockdown"},
	{"locks down", "no longer locks down"},
	{"arms alarm areas", "no longer arms alarm areas"},
	{"disarms alarm areas", "no longer disarms alarm areas"},
}

func personWords(names Names) func(a, b Person) string {
	return func(a, b Person) string {
		var w []string
		for _, g := range b.Levels {
			if !slices.Contains(a.Levels, g) {
				w = append(w, strings.TrimSpace("has level "+names.of("level", g.LevelID)+" "+g.Dates.Words()))
			}
		}
		for _, g := range a.Levels {
			if !slices.ContainsFunc(b.Levels, func(x site.Grant) bool { return x.LevelID == g.LevelID }) {
				w = append(w, "loses level "+names.of("level", g.LevelID))
			}
		}
		for _, c := range b.Cards {
			if !slices.Contains(a.Cards, c) {
				w = append(w, fmt.Sprintf("card %s is %s", cards.Number(c.Format, c.Facility, c.Number), c.Status))
			}
		}
		for _, c := range a.Cards {
			same := func(x Card) bool {
				return x.Format == c.Format && x.Facility == c.Facility && x.Number == c.Number
			}
			if !slices.ContainsFunc(b.Cards, same) {
				w = append(w, "loses card "+cards.Number(c.Format, c.Facility, c.Number))
			}
		}
		for _, c := range b.Shown {
			if !slices.Contains(a.Shown, c) {
				w = append(w, fmt.Sprintf("%s %s is %s", c.Kind, c.Value, c.Status))
			}
		}
		for _, c := range a.Shown {
			if !slices.ContainsFunc(b.Shown, func(x Shown) bool { return x.Kind == c.Kind && x.Value == c.Value }) {
				w = append(w, fmt.Sprintf("loses %s %s", c.Kind, c.Value))
			}
		}
		if !reflect.DeepEqual(a.PIN, b.PIN) {
			w = append(w, "PIN changed")
		}
		if a.Suspended != b.Suspended {
			w = append(w, either(b.Suspended, "suspended", "no longer suspended"))
		}
		if a.Extended != b.Extended || a.AlwaysPIN != b.AlwaysPIN || a.PINInstead != b.PINInstead || a.Dates != b.Dates {
			w = append(w, "dates or marks")
		}
		return strings.Join(w, ", ")
	}
}
