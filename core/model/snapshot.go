package model

import (
	"maps"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Change is what a commit did to one object: it wrote it, or removed it, where Object is nil. The object belongs to
// whoever gets the change and is not changed any more.
type Change struct {
	Kind   Kind
	ID     site.ID
	Rev    int64
	Object any
}

// Zones gives the zone of a controller, which names it: the same address for the same zone, since that is how one is
// told from another. A controller that is not known names none.
type Zones func(controller site.ID, name string) *hours.Zone

// Snapshot is a configuration at one commit, with what is to be found in it. It is never changed.
type Snapshot struct {
	Config *site.Config
	// Effective is the configuration as it decides: what everybody holds is worked out.
	Effective *site.Config
	Times     *site.Timetable
	zones     Zones
	revs      overlay[site.ID, int64]
	cards     overlay[card, *site.Person]
}

// card is a credential by what tells it from others: of a card its format, of others their kind.
type card struct{ format, value string }

func cardOf(c *site.Credential) card {
	if c.Kind == site.Card {
		return card{c.Format, c.Value}
	}
	return card{string(c.Kind), c.Value}
}

// New makes a snapshot of a configuration whose lists are sorted by number. Revs are the revisions of its objects.
func New(c *site.Config, revs map[site.ID]int64, zones Zones) *Snapshot {
	s := &Snapshot{
		Config: c, Effective: c.Effective(), zones: zones, revs: overlay[site.ID, int64]{base: revs},
		cards: overlay[card, *site.Person]{base: make(map[card]*site.Person, len(c.People))},
	}
	for _, p := range c.People {
		for i := range p.Credentials {
			s.cards.base[cardOf(&p.Credentials[i])] = p
		}
	}
	s.Times = site.NewTimetable(c, s.Clock)
	return s
}

// Of returns a snapshot of another configuration with the same zones, to be asked what it would be like. It knows no
// hours, no revisions and no cards.
func (s *Snapshot) Of(c *site.Config) *Snapshot {
	return &Snapshot{Config: c, Effective: c.Effective(), zones: s.zones}
}

// Clock returns the zone of a controller.
func (s *Snapshot) Clock(controller site.ID) *hours.Zone {
	i, ok := find(s.Config.Controllers, controller, func(c site.Controller) site.ID { return c.ID })
	if !ok {
		return s.zones(controller, "")
	}
	return s.zones(controller, s.Config.Controllers[i].Zone)
}

// Holder finds whose credential it is, or nil: a card by its format and its number as people say it, another by its
// kind and its value.
func (s *Snapshot) Holder(format, value string) *site.Person {
	p, _ := s.cards.get(card{format, value})
	return p
}

// Rev returns the revision of an object; ok is false where there is none.
func (s *Snapshot) Rev(id site.ID) (rev int64, ok bool) { return s.revs.get(id) }

// Apply returns the snapshot after changes, in their order. What they do not touch is shared.
func (s *Snapshot) Apply(changes []Change) *Snapshot {
	c := *s.Config
	next := &Snapshot{Config: &c, Times: s.Times, zones: s.zones, revs: s.revs.edit(), cards: s.cards}
	if slices.ContainsFunc(changes, func(x Change) bool { return x.Kind.Word() == "person" }) {
		next.cards = s.cards.edit()
	}
	var touched touched
	own := map[Kind]bool{} // whose lists are copied
	for _, x := range changes {
		touched.note(&c, x)
		if x.Kind.Word() == "person" {
			next.deal(c.Person(x.ID), x)
		}
		if x.Object == nil {
			x.Kind.remove(&c, x.ID, own[x.Kind])
			next.revs.drop(x.ID)
		} else {
			x.Kind.put(&c, x.Object, own[x.Kind])
			next.revs.set(x.ID, x.Rev)
		}
		own[x.Kind] = true
	}
	next.Times = touched.times(s.Times, next)
	next.Effective = s.effective(next.Config, changes)
	return next
}

// effective is the configuration after changes as it decides. Who holds what they held stays the same person.
func (s *Snapshot) effective(c *site.Config, changes []Change) *site.Config {
	var people []site.ID
	for _, x := range changes {
		if x.Kind.Word() != "person" {
			return c.EffectiveAfter(s.Effective)
		}
		people = append(people, x.ID)
	}
	if out, ok := s.Effective.With(c, people); ok {
		return out
	}
	return c.EffectiveAfter(s.Effective)
}

// Differing lists the people who hold or can show something else than in a snapshot before, by number: also those
// about whom nothing was changed, as where their department was.
func (s *Snapshot) Differing(was *Snapshot) []site.ID {
	var out []site.ID
	a, b := was.Effective.People, s.Effective.People
	for len(a)+len(b) > 0 {
		switch {
		case len(b) == 0 || len(a) > 0 && a[0].ID < b[0].ID:
			out, a = append(out, a[0].ID), a[1:]
		case len(a) == 0 || b[0].ID < a[0].ID:
			out, b = append(out, b[0].ID), b[1:]
		default:
			if a[0] != b[0] {
				out = append(out, a[0].ID)
			}
			a, b = a[1:], b[1:]
		}
	}
	return out
}

// deal keeps the index of cards.
func (s *Snapshot) deal(was *site.Person, x Change) {
	if was != nil {
		for i := range was.Credentials {
			k := cardOf(&was.Credentials[i])
			if p, _ := s.cards.get(k); p == was { // it may be somebody else's by now
				s.cards.drop(k)
			}
		}
	}
	if p, ok := x.Object.(*site.Person); ok {
		for i := range p.Credentials {
			s.cards.set(cardOf(&p.Credentials[i]), p)
		}
	}
}

// touched is what changes mean for the hours.
type touched struct {
	all       bool // everything is to be worked out
	plans     map[site.ID]bool
	schedules map[site.ID]bool
}

// note looks at a change before it is made.
func (t *touched) note(c *site.Config, x Change) {
	switch x.Kind.Word() {
	case "person", "level", "department", "free card", "settings", "input", "output", "supply", "interlock", "area",
		"group", "several proofs", "screening", "emergency", "reaction", "alarm area":
	case "plan":
		t.plans = with(t.plans, x.ID)
		t.all = t.all || x.Object == nil
	case "schedule":
		t.schedules = with(t.schedules, x.ID)
	case "door":
		was := c.Door(x.ID)
		is, _ := x.Object.(*site.Door)
		if was == nil || is == nil || was.PlanID != is.PlanID || was.FloorID != is.FloorID ||
			was.ControllerID != is.ControllerID {
			t.all = true
		}
	default:
		t.all = true
	}
}

func with(set map[site.ID]bool, id site.ID) map[site.ID]bool {
	out := maps.Clone(set)
	if out == nil {
		out = map[site.ID]bool{}
	}
	out[id] = true
	return out
}

// times works out the hours anew as far as they were touched.
func (t *touched) times(was *site.Timetable, next *Snapshot) *site.Timetable {
	switch {
	case t.all:
		return site.NewTimetable(next.Config, next.Clock)
	case len(t.plans)+len(t.schedules) == 0:
		return was
	}
	return was.With(next.Config, t.plans, t.schedules)
}
