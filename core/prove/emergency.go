package prove

import (
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// PassedOn is what a controller began by itself, by a card or an input, for doors of other controllers too: the order
// for those. Ok is false of everything else, also of what a controller does because it was told.
func (b *Book) PassedOn(e *pass.Fact) (in panel.Input, ok bool) {
	rule, on := e.Rule, true
	switch e.Kind {
	case pass.LockdownBegan, pass.FireBegan:
	case pass.LockdownEnded, pass.FireEnded:
		on = false
	case pass.InputActive: // its doors may all be at other controllers
		for i := range b.Config.Inputs {
			if x := &b.Config.Inputs[i]; x.ID == e.Input {
				rule = x.EmergencyID
			}
		}
	default:
		return in, false
	}
	x := b.Config.Emergency(rule)
	if x == nil || x.Off || e.Person == 0 && e.Input == 0 {
		return in, false
	}
	in = panel.Input{
		Kind: panel.Lockdown, On: on, Rule: x.ID, Doors: site.NewPlaces(b.Config).EmergencyDoors(x), Note: b.startedBy(e),
	}
	if x.Does == site.FireRelease {
		in.Kind = panel.Fire
	}
	return in, len(in.Doors) > 0
}

// startedBy says by whom or what something began.
func (b *Book) startedBy(e *pass.Fact) string {
	if e.Person != 0 {
		return b.Name(e.Person) + ", by card at " + b.Name(e.Door)
	}
	return b.inputNamed(e)
}

// EmergencyWords says what an emergency does, who starts it and who ends it.
func (b *Book) EmergencyWords(x *site.Emergency) string {
	doors := site.NewPlaces(b.Config).EmergencyDoors(x)
	if len(doors) == 0 {
		return "It is for no door yet."
	}
	where, verb := b.doorsWords(doors), ""
	if len(doors) == 1 {
		verb = "s"
	}
	out := where + " let" + verb + " nobody in"
	switch {
	case x.Does == site.FireRelease:
		out = where + " stand" + verb + " free for escape, above every lockdown and hold" + b.carsInFire(doors)
	case x.Overrides:
		out = where + " let" + verb + " in only those whose level overrides it: " +
			b.levelsThat(func(a site.Authorities) bool { return a.Overrides })
	}
	if x.Does == site.Lockdown {
		out += "; ways out always work"
	}
	return out + ". " + b.startWords(x) + " " + b.endWords(x)
}

// carsInFire says what the elevators among some doors do in a fire release.
func (b *Book) carsInFire(doors []site.ID) string {
	by := map[site.CarFire][]string{}
	for _, id := range doors {
		if d := b.doors[id]; d != nil && d.Car != nil {
			by[d.Car.Fire] = append(by[d.Car.Fire], d.Name)
		}
	}
	out := ""
	if list := by[site.FireDrops]; len(list) > 0 {
		out += "; in " + both(list) + " every floor relay drops, and the elevator's own service takes over"
	}
	if list := by[site.FireReleases]; len(list) > 0 {
		out += "; in " + both(list) + " every floor is released, and the elevator's own service decides"
	}
	return out
}

// levelsThat names the levels with an authority.
func (b *Book) levelsThat(has func(site.Authorities) bool) string {
	var names []string
	for i := range b.Config.Levels {
		if has(b.Config.Levels[i].Authorities) {
			names = append(names, b.Config.Levels[i].Name)
		}
	}
	if len(names) == 0 {
		return "which none does yet"
	}
	return both(names)
}

func (b *Book) startWords(x *site.Emergency) string {
	ways := []string{"at the screen"}
	for i := range b.Config.Inputs {
		if in := &b.Config.Inputs[i]; in.EmergencyID == x.ID && x.ID != 0 {
			ways = append(ways, "by "+in.Name+" at "+b.Name(in.ControllerID))
		}
	}
	if x.Reads > 0 {
		ways = append(ways, fmt.Sprintf("by %s reads of a card within %d s at one of its doors, with %s", few(x.Reads),
			site.ReadsWithin,
			b.levelsThat(func(a site.Authorities) bool { return a.LocksDown })))
	}
	return "Started " + either(ways) + "."
}

func (b *Book) endWords(x *site.Emergency) string {
	if x.CardEnds {
		return "Ended at the screen, or by as many reads."
	}
	return "Ended at the screen only."
}

// doorsWords names some doors, or counts them and names their place.
func (b *Book) doorsWords(doors []site.ID) string {
	if len(doors) <= 3 {
		return both(b.namesOf(doors))
	}
	if place := b.placeOf(doors); place != "" {
		return b.manyWords(doors) + " of " + place
	}
	return b.manyWords(doors)
}

// Rehearsal is what an emergency would do now. It changes nothing.
type Rehearsal struct {
	Words string          `json:"words"`
	Doors []RehearsedDoor `json:"doors"`
	Wrong []string        `json:"wrong" doc:"What would not work"`
}

// RehearsedDoor is a door during an emergency.
type RehearsedDoor struct {
	ID     site.ID    `json:"id"`
	Name   string     `json:"name"`
	Before hours.Mode `json:"before" doc:"What it asks now"`
	After  hours.Mode `json:"after" doc:"What it would ask"`
	In     string     `json:"in" doc:"Who would come in"`
	Out    string     `json:"out" doc:"How people would get out"`
}

// Rehearse plays an emergency in simulated time, as its controllers would, from an instant on: begun, and
// then ended.
func (b *Book) Rehearse(x *site.Emergency, at hours.Instant) Rehearsal {
	out := Rehearsal{Doors: []RehearsedDoor{}, Wrong: []string{}}
	doors := site.NewPlaces(b.Config).EmergencyDoors(x)
	if len(doors) == 0 {
		out.Words = b.EmergencyWords(x)
		return out
	}
	var controllers []site.ID
	for _, d := range doors {
		if c := b.doors[d].ControllerID; !slices.Contains(controllers, c) {
			controllers = append(controllers, c)
		}
	}
	modes := func(w *World) map[site.ID]hours.Mode {
		m := map[site.ID]hours.Mode{}
		for _, c := range controllers {
			for _, st := range w.Doors(c) {
				m[st.Door] = st.Mode
			}
		}
		return m
	}
	w := b.imagine(x, at, controllers)
	before := modes(w)
	in := panel.Input{Kind: panel.Lockdown, On: true, Rule: x.ID, Doors: doors}
	if x.Does == site.FireRelease {
		in.Kind = panel.Fire
	}
	if err := w.Order(at, in); err != nil {
		out.Wrong = append(out.Wrong, err.Error())
	}
	during := modes(w)
	in.On = false
	if err := w.Order(at, in); err != nil {
		out.Wrong = append(out.Wrong, err.Error())
	}
	after := modes(w)
	for _, id := range doors {
		d := b.doors[id]
		out.Doors = append(out.Doors, RehearsedDoor{id, d.Name, before[id], during[id], b.whoIn(x, id, at), wayOut(d)})
		if during[id] != hours.Free && x.Does == site.FireRelease {
			out.Wrong = append(out.Wrong, d.Name+" would not go free.")
		}
		if after[id] != before[id] {
			out.Wrong = append(out.Wrong, fmt.Sprintf("%s would ask for %s once it has ended, and not for %s.", d.Name,
				after[id], before[id]))
		}
	}
	out.Words = b.EmergencyWords(x)
	return out
}

// imagine is a world in which an emergency is made ready that need not be in the configuration.
func (b *Book) imagine(x *site.Emergency, at hours.Instant, controllers []site.ID) *World {
	c := *b.Config
	c.Emergencies = slices.DeleteFunc(slices.Clone(c.Emergencies), func(e site.Emergency) bool { return e.ID == x.ID })
	ready := *x
	ready.Off = false
	c.Emergencies = append(c.Emergencies, ready)
	day := hours.Day(at / hours.FullDay)
	return NewWorld(b.With(&c, day-3, day+4), at, image.Secrets{}, func(site.ID, *pass.Fact) {}, controllers...)
}

// whoIn says who would come in at a door.
func (b *Book) whoIn(x *site.Emergency, door site.ID, at hours.Instant) string {
	switch {
	case x.Does == site.FireRelease:
		return "everybody"
	case !x.Overrides:
		return "nobody"
	}
	names := b.overriders(door, at)
	switch {
	case len(names) == 0:
		return "nobody: no level that overrides leads here now"
	case len(names) > 3:
		return fmt.Sprintf("%d people, such as %s", len(names), strings.Join(names[:2], " and "))
	}
	return both(names)
}

// overriders names those with a card who hold a level that overrides lockdown and leads to a door at an instant.
func (b *Book) overriders(door site.ID, at hours.Instant) (names []string) {
	line, places := b.times.Door(door), site.NewPlaces(b.Config)
	leads := map[site.ID]bool{}
	for i := range b.Effective.Levels {
		l := &b.Effective.Levels[i]
		if !l.Overrides {
			continue
		}
		for _, e := range places.Entries(l) {
			s := b.times.Schedules[e.ScheduleID]
			leads[l.ID] = leads[l.ID] || e.DoorID == door && e.Side.Takes(false) && s != nil && s.OpenAt(line.Local, at)
		}
	}
	if len(leads) == 0 {
		return nil
	}
	for _, p := range b.Effective.People {
		if p.Suspended || len(p.Credentials) == 0 || !p.Dates.Holds(line.Zone, at) {
			continue
		}
		if slices.ContainsFunc(p.UntilCleared(),
			func(g site.Grant) bool { return leads[g.LevelID] && g.Dates.Holds(line.Zone, at) }) {
			names = append(names, p.Name)
		}
	}
	return names
}

// wayOut says how people get out of a door, whatever bars it.
func wayOut(d *site.Door) string {
	switch {
	case d.Exit != site.NotFitted && d.Out.Fitted:
		return "exit request, or a card at the reader out"
	case d.Exit != site.NotFitted:
		return "exit request"
	case d.Out.Fitted:
		return "a card at the reader out"
	}
	return "nothing is fitted: by a handle that this system does not see"
}

// emergenciesAt lists the lockdowns and fire releases that a door belongs to, fire release first.
func (b *Book) emergenciesAt(door site.ID) (out []RuleLine) {
	places := site.NewPlaces(b.Config)
	for _, does := range []site.EmergencyKind{site.FireRelease, site.Lockdown} {
		for i := range b.Config.Emergencies {
			x := &b.Config.Emergencies[i]
			if ids := places.EmergencyDoors(x); x.Does == does && slices.Contains(ids, door) {
				out = append(out, RuleLine{
					Kind: "lockdown and fire", ID: x.ID, Name: x.Name, Words: b.EmergencyWords(x),
					Scope: count(len(ids), "door", "doors"), Off: x.Off,
				})
			}
		}
	}
	return out
}
