// Package cedar compares the decisions of this application with those of a general policy engine, cedar-go, on
// generated sites. It is a module of its own, so that the application does not depend on the engine. What stands for
// what: levels, departments and places are entities, and what is in what is their hierarchy, which the engine follows
// by itself; an entry of a level is a policy, its schedule a condition on weekday and minute; what a door asks is
// forbidden to those who cannot show it.
package cedar

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	engine "github.com/cedar-policy/cedar-go"
	"github.com/cedar-policy/cedar-go/types"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
)

// place is a generated site, drawn small so that everything meets everything.
type place struct {
	*rand.Rand
	c *site.Config
}

func (p *place) chance(n int) bool { return p.IntN(n) == 0 }

func (p *place) dates() (d site.Dates) {
	if p.chance(3) {
		d.From = fmt.Sprintf("2026-11-%02d", 20+p.IntN(8))
	}
	if p.chance(3) {
		d.Until = fmt.Sprintf("2026-11-%02dT%02d:30", 24+p.IntN(6), p.IntN(24))
	}
	if d.From != "" && d.Until != "" && d.Until[:10] < d.From {
		d.From = ""
	}
	return d
}

func (p *place) target() site.Target {
	door := site.ID(1 + p.IntN(6))
	return []site.Target{
		{Kind: site.AtDoor, ID: door}, {Kind: site.AtDoorSet, ID: 80}, {Kind: site.AtFloor, ID: site.ID(60 + p.IntN(3))},
		{Kind: site.AtSite, ID: site.ID(70 + p.IntN(2))}, {Kind: site.Everything},
	}[p.IntN(5)]
}

func (p *place) grants(most int) (out []site.Grant) {
	for range p.IntN(most + 1) {
		g := site.Grant{LevelID: site.ID(40 + p.IntN(5)), Dates: p.dates()}
		if p.chance(4) {
			g.LevelID, g.Target, g.ScheduleID = 0, p.target(), site.ID(30+p.IntN(4))
		}
		out = append(out, g)
	}
	return out
}

func draw(seed uint64) *place {
	p := &place{rand.New(rand.NewPCG(seed, 7)), &site.Config{
		Settings: site.DefaultSettings(), Sites: []site.Site{{ID: 70}, {ID: 71}}, Controllers: []site.Controller{{ID: 9}},
		Floors: []site.Floor{{ID: 60, SiteID: 70}, {ID: 61, SiteID: 70}, {ID: 62, SiteID: 71}},
		Sets:   []site.DoorSet{{ID: 80, DoorIDs: []site.ID{1, 4, 6}}},
	}}
	for i, m := range hours.Modes {
		p.c.Plans = append(p.c.Plans, site.Plan{ID: site.ID(20 + i), Pattern: hours.Pattern{Default: m}})
	}
	for i := range 4 {
		var w hours.Week
		for d := range w {
			if start := 60 * p.IntN(20); p.chance(2) {
				w[d] = []hours.Period{{Start: start, End: start + 60*(1+p.IntN(24-start/60))}}
			}
		}
		p.c.Schedules = append(p.c.Schedules, site.Schedule{ID: site.ID(30 + i), Week: w})
	}
	for i := range 6 {
		d := site.Door{ID: site.ID(1 + i), Port: i + 1, ControllerID: 9, PlanID: site.ID(20 + p.IntN(len(hours.Modes))),
			FloorID: site.ID(60 + i/2), Hardware: site.UsualHardware(), FirstCard: site.UsualFirstCard()}
		d.In.Keypad = p.chance(2)
		p.c.Doors = append(p.c.Doors, d)
	}
	for i := range 5 {
		l := site.Level{ID: site.ID(40 + i)}
		for range p.IntN(4) {
			e := site.Entry{Target: p.target(), ScheduleID: site.ID(30 + p.IntN(4))}
			if p.chance(3) {
				e.Except = []site.Target{{Kind: site.AtDoor, ID: site.ID(1 + p.IntN(6))}}
			}
			l.Entries = append(l.Entries, e)
		}
		if i > 0 && p.chance(2) {
			l.Includes = []site.ID{site.ID(40 + p.IntN(i))}
		}
		p.c.Levels = append(p.c.Levels, l)
	}
	p.c.Departments = []site.Department{
		{ID: 90, Levels: p.grants(2), AlwaysPIN: p.chance(5)}, {ID: 91, Levels: p.grants(2)},
	}
	for i := range 8 {
		x := &site.Person{
			ID: site.ID(100 + i), Suspended: p.chance(8), AlwaysPIN: p.chance(6), PINInstead: p.chance(4), Dates: p.dates(),
			Levels: p.grants(2),
		}
		for _, d := range []site.ID{90, 91} {
			if p.chance(2) {
				x.DepartmentIDs = append(x.DepartmentIDs, d)
			}
		}
		if !p.chance(4) {
			x.Credentials = []site.Credential{site.NewCard("26-bit", 42, uint64(i+1))}
			if p.chance(6) {
				x.Credentials[0].Status = site.Lost
			}
		}
		if p.chance(2) {
			pin, duress := cards.HashPIN(nil, fmt.Sprint(2000+10*i)), cards.HashPIN(nil, fmt.Sprint(2001+10*i))
			x.PIN, x.Duress, x.PINLength = &pin, &duress, 4
		}
		p.c.People = append(p.c.People, x)
	}
	return p
}

func uid(kind string, id site.ID) types.EntityUID {
	return types.NewEntityUID(types.EntityType(kind), types.String(fmt.Sprint(id)))
}

func (p *place) of(t site.Target) types.EntityUID {
	switch t.Kind {
	case site.AtDoorSet:
		return uid("Set", t.ID)
	case site.AtFloor:
		return uid("Floor", t.ID)
	case site.AtSite:
		return uid("Site", t.ID)
	case site.Everything:
		return uid("All", 0)
	}
	return uid("Door", t.ID)
}

// entities are who is in what: people in departments and levels, departments in levels, levels in those that they
// contain; doors in floors and sets, floors in sites, sites in all.
func (p *place) entities() types.EntityMap {
	out := types.EntityMap{}
	add := func(u types.EntityUID, attributes types.RecordMap, parents ...types.EntityUID) {
		out[u] = types.Entity{UID: u, Parents: types.NewEntityUIDSet(parents...), Attributes: types.NewRecord(attributes)}
	}
	add(uid("All", 0), nil)
	for _, s := range p.c.Sites {
		add(uid("Site", s.ID), nil, uid("All", 0))
	}
	for _, f := range p.c.Floors {
		add(uid("Floor", f.ID), nil, uid("Site", f.SiteID))
	}
	add(uid("Set", 80), nil)
	for _, d := range p.c.Doors {
		parents := []types.EntityUID{uid("Floor", d.FloorID)}
		for _, id := range p.c.Sets[0].DoorIDs {
			if id == d.ID {
				parents = append(parents, uid("Set", 80))
			}
		}
		mode := types.String(p.c.Plans[d.PlanID-20].Pattern.Default.String())
		add(uid("Door", d.ID), types.RecordMap{"mode": mode, "keypad": types.Boolean(d.In.Keypad)}, parents...)
	}
	for _, l := range p.c.Levels {
		var parents []types.EntityUID
		for _, id := range l.Includes {
			parents = append(parents, uid("Level", id))
		}
		add(uid("Level", l.ID), nil, parents...)
	}
	always := func(list []site.Grant) (out []types.EntityUID) {
		for _, g := range list {
			if g.LevelID != 0 && g.Dates == (site.Dates{}) {
				out = append(out, uid("Level", g.LevelID))
			}
		}
		return out
	}
	for _, d := range p.c.Departments {
		add(uid("Department", d.ID), nil, always(d.Levels)...)
	}
	for _, x := range p.c.People {
		parents, pin := always(x.Levels), x.AlwaysPIN
		for _, id := range x.DepartmentIDs {
			parents = append(parents, uid("Department", id))
			pin = pin || p.c.Departments[id-90].AlwaysPIN
		}
		from, until := bounds(x.Dates)
		add(uid("Person", x.ID), types.RecordMap{
			"suspended": types.Boolean(x.Suspended),
			"card":      types.Boolean(len(x.Credentials) > 0 && x.Credentials[0].Status == site.Active),
			"pin":       types.Boolean(x.PIN != nil), "always": types.Boolean(pin), "instead": types.Boolean(x.PINInstead),
			"from": types.Long(from), "until": types.Long(until),
		}, parents...)
	}
	return out
}

// bounds are dates as minutes since 1970, read by the standard library.
func bounds(d site.Dates) (from, until int64) {
	from, until = -1<<40, 1<<40
	at := func(s string, end bool) int64 {
		if t, err := time.Parse("2006-01-02T15:04", s); err == nil {
			return t.Unix() / 60
		}
		t, _ := time.Parse("2006-01-02", s)
		if end {
			t = t.AddDate(0, 0, 1)
		}
		return t.Unix() / 60
	}
	if d.From != "" {
		from = at(d.From, false)
	}
	if d.Until != "" {
		until = at(d.Until, true)
	}
	return from, until
}

// policies are the entries of levels, what is given for some time or without a level, and what doors ask.
func (p *place) policies(t *testing.T) *engine.PolicySet {
	var b strings.Builder
	open := func(schedule site.ID) string {
		var parts []string
		for day, list := range p.c.Schedules[schedule-30].Week {
			for _, x := range list {
				parts = append(parts, fmt.Sprintf("(context.weekday == %d && context.minute >= %d && context.minute < %d)", day,
					x.Start, x.End))
			}
		}
		if len(parts) == 0 {
			return "false"
		}
		return "(" + strings.Join(parts, " || ") + ")"
	}
	permit := func(principal string, e site.Entry, d site.Dates) {
		from, until := bounds(d)
		fmt.Fprintf(&b, "permit (principal %s, action, resource in %s) when { context.now >= %d && context.now < %d && %s }",
			principal, p.of(e.Target), from, until, open(e.ScheduleID))
		for _, x := range e.Except {
			fmt.Fprintf(&b, " unless { resource in %s }", p.of(x))
		}
		b.WriteString(";\n")
	}
	for _, l := range p.c.Levels {
		for _, e := range l.Entries {
			permit("in "+uid("Level", l.ID).String(), e, site.Dates{})
		}
	}
	var dated func(principal string, level site.ID, d site.Dates)
	dated = func(principal string, level site.ID, d site.Dates) {
		l := p.c.Levels[level-40]
		for _, e := range l.Entries {
			permit(principal, e, d)
		}
		for _, id := range l.Includes {
			dated(principal, id, d)
		}
	}
	given := func(principal string, list []site.Grant) {
		for _, g := range list {
			switch {
			case g.LevelID == 0:
				permit(principal, site.Entry{Target: g.Target, ScheduleID: g.ScheduleID}, g.Dates)
			case g.Dates != site.Dates{}:
				dated(principal, g.LevelID, g.Dates)
			}
		}
	}
	for _, d := range p.c.Departments {
		given("in "+uid("Department", d.ID).String(), d.Levels)
	}
	for _, x := range p.c.People {
		given("== "+uid("Person", x.ID).String(), x.Levels)
	}
	b.WriteString(`
permit (principal, action, resource) when { resource.mode == "free" };
forbid (principal, action, resource) when { resource.mode == "barred" };
forbid (principal, action, resource) when { resource.mode != "free" && (principal.suspended || context.now < principal.from || context.now >= principal.until) };
forbid (principal, action, resource) when { resource.mode == "card" } unless {
  (principal.card && (!principal.always || (principal.pin && resource.keypad))) || (principal.instead && principal.pin && resource.keypad) };
forbid (principal, action, resource) when { resource.mode == "PIN" } unless { principal.pin && resource.keypad };
forbid (principal, action, resource) when { resource.mode == "card or PIN" } unless {
  (principal.card && (!principal.always || (principal.pin && resource.keypad))) || (principal.pin && resource.keypad) };
forbid (principal, action, resource) when { resource.mode == "card and PIN" } unless { principal.card && principal.pin && resource.keypad };
`)
	set, err := engine.NewPolicySetFromBytes("site.cedar", []byte(b.String()))
	require.NoError(t, err, b.String())
	return set
}

// Every decision of 120 generated sites, 8 people by 6 doors at 4 moments each, is that of the other engine.
func TestDecisionsAreThoseOfAnotherEngine(t *testing.T) {
	granted, decisions := 0, 0
	for seed := range uint64(120) {
		p := draw(seed)
		policies, entities := p.policies(t), p.entities()
		b := prove.NewBook(p.c, map[site.ID]hours.Zone{9: {Name: "UTC"}})
		for range 4 {
			at := time.Date(2026, 11, 20+p.IntN(10), p.IntN(24), 15*p.IntN(4), 0, 0, time.UTC)
			moment := types.NewRecord(types.RecordMap{
				"weekday": types.Long((int(at.Weekday()) + 6) % 7), "minute": types.Long(at.Hour()*60 + at.Minute()),
				"now": types.Long(at.Unix() / 60),
			})
			for _, x := range p.c.People {
				for _, d := range p.c.Doors {
					theirs, diagnostic := engine.Authorize(policies, entities, engine.Request{
						Principal: uid("Person", x.ID), Action: uid("Action", 1), Resource: uid("Door", d.ID), Context: moment,
					})
					require.Empty(t, diagnostic.Errors)
					ours, err := b.Ask(x.ID, d.ID, hours.At(at))
					require.NoError(t, err)
					decisions++
					in := ours.Granted || ours.Mode == hours.Free
					if in {
						granted++
					}
					require.Equal(t, bool(theirs), in, "site %d, person %d at door %d, %s: ours says %s", seed, x.ID, d.ID, at,
						ours.Words)
				}
			}
		}
	}
	t.Logf("%d decisions, %d granted", decisions, granted)
	require.Greater(t, granted, decisions/20, "both answers have to come about")
}
