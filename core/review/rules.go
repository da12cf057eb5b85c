package review

import (
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/rules/proofs"
	"amberkeystone/core/site"
)

// Rules finds what is to be said of what must hold besides a plan and a level: combinations that never open, doors that
// nobody may toggle, interlocks that cannot work.
func Rules(
	c, effective *site.Config, times *site.Timetable, zone func(controller site.ID) *hours.Zone, now hours.Instant,
) []Finding {
	d := &desk{c: c, eff: effective, times: times, now: now, zone: zone}
	d.severalProofs()
	d.interlocks()
	d.toggles()
	d.areas()
	d.limits()
	d.screenings()
	d.emergencies()
	d.alarmAreas()
	d.reactions()
	return stand(InOrder(d.out), "rules")
}

// severalProofs finds rules that nobody can meet.
func (d *desk) severalProofs() {
	for i := range d.c.Proofs {
		x := &d.c.Proofs[i]
		if x.Off {
			continue
		}
		note := func(code string, s Severity, words, mend string) {
			d.add(Finding{Code: code, Severity: s, Kind: "several proofs", ID: x.ID, Name: x.Name, Words: words, Mend: mend})
		}
		switch x.Kind {
		case site.AnotherProof:
			for _, id := range x.DoorIDs {
				if door := d.c.Door(id); door != nil && !door.In.Keypad && len(door.In.Takes) == 0 {
					note("one-kind-of-proof", Wrong,
						fmt.Sprintf("%s wants two kinds of proof at %s, whose reader takes cards only: nobody enters there.", x.Name,
							door.Name),
						"Fit a keypad, or a reader that takes phones or passes, or choose other doors.")
				}
			}
		case site.Approval:
			if len(d.c.Entrants(d.eff, x).Approvers) == 0 {
				note("nobody-approves", Wrong,
					"Nobody who comes in at the doors of "+x.Name+" has a level that approves: nobody enters there.",
					"Let a level of theirs approve others.")
			}
		case site.Combined:
			d.combinations(x, note)
			d.nobodyPresent(x, note)
		}
	}
}

// combinations finds those that never open.
func (d *desk) combinations(x *site.Proofs, note func(code string, s Severity, words, mend string)) {
	t := d.c.Entrants(d.eff, x)
	never := 0
	for i := range x.Combinations {
		m := &x.Combinations[i]
		if proofs.Possible(m, len(t.People), t.In) {
			continue
		}
		never++
		var few []string
		for _, p := range m.Parts {
			if n := t.Count(p.GroupID); n < p.Count {
				few = append(few, fmt.Sprintf("%s has %d who come in there, and it takes %d", d.nameOf(p.GroupID), n, p.Count))
			}
		}
		words := fmt.Sprintf("The combination of %d people of %s can never be filled", m.Total, x.Name)
		if len(few) > 0 {
			words += ": " + strings.Join(few, "; ")
		}
		note("combination-never", Risky, words+".",
			"Put people into the group who have a card and a level for these doors, or ask for fewer.")
	}
	if never > 0 && never == len(x.Combinations) {
		note("nobody-together", Wrong,
			"No combination of "+x.Name+" can be filled: nobody enters at "+d.doorsOf(x.DoorIDs)+".",
			"Put people into its groups, or switch the rule off.")
	}
}

func (d *desk) nameOf(group site.ID) string {
	for _, g := range d.c.Groups {
		if g.ID == group {
			return g.Name
		}
	}
	return "the group"
}

func (d *desk) doorsOf(ids []site.ID) string {
	var names []string
	for _, id := range ids {
		if x := d.c.Door(id); x != nil {
			names = append(names, x.Name)
		}
	}
	return strings.Join(names, ", ")
}

// interlocks finds those of which a door tells nothing, or of which two are free at one hour.
func (d *desk) interlocks() {
	for i := range d.c.Interlocks {
		x := &d.c.Interlocks[i]
		if x.Off {
			continue
		}
		note := func(code string, s Severity, words, mend string) {
			d.add(Finding{Code: code, Severity: s, Kind: "interlock", ID: x.ID, Name: x.Name, Words: words, Mend: mend})
		}
		for _, f := range d.c.CheckInterlock(x) {
			note("interlock-blind", Wrong, x.Name+": "+f.Words+".", "Until then the interlock does not hold.")
		}
		if x.Exits {
			note("interlock-exits", Risky,
				x.Name+" holds exit requests back: whoever is between its doors waits for the other one, and free egress depends on fire release.",
				"Make sure that the fire release of these doors is tried regularly, or let exit requests work.")
		}
		for k, id := range x.DoorIDs {
			if at, other := d.freeTogether(x.DoorIDs[:k], id); other != nil {
				z := d.zone(other.ControllerID)
				note("interlock-free", Wrong, fmt.Sprintf("%s and %s of %s are free at one time, from %s on: both stand open then.",
					other.Name, d.c.Door(id).Name, x.Name, z.Wall(at).Day.Words()+" "+hours.Clock(z.Wall(at).Minute)),
					"Give one of them a plan that asks for a card at those hours.")
				break
			}
		}
	}
}

// freeTogether finds when a door and one of some others are free at one time within four weeks.
func (d *desk) freeTogether(others []site.ID, id site.ID) (hours.Instant, *site.Door) {
	a := d.times.Door(id)
	for _, o := range others {
		b := d.times.Door(o)
		if a == nil || b == nil {
			continue
		}
		end := d.now + 28*hours.FullDay
		for at := d.now; at < end; at = min(a.Next(at), b.Next(at)) {
			if a.At(at).Mode == hours.Free && b.At(at).Mode == hours.Free {
				return at, d.c.Door(o)
			}
		}
	}
	return 0, nil
}

// toggles finds doors that would be toggled by nobody.
func (d *desk) toggles() {
	places := site.NewPlaces(d.c)
	for i := range d.c.Doors {
		door := &d.c.Doors[i]
		if door.Toggle == nil || door.Toggle.Off {
			continue
		}
		may := slices.ContainsFunc(d.eff.Levels, func(l site.Level) bool {
			return l.Toggles && slices.ContainsFunc(places.Entries(&l), func(e site.Covered) bool { return e.DoorID == door.ID })
		})
		if !may {
			d.add(Finding{Code: "nobody-toggles", Severity: Untidy, Kind: "door", ID: door.ID, Name: door.Name,
				Words: "Nobody's level toggles " + door.Name + ", so its card toggle never happens.",
				Mend:  "Let a level that leads there toggle doors, or switch the rule off."})
		}
	}
}

// areas finds rooms that people leave unseen, that nothing ever forgets, and whose limit is lower than who comes there.
func (d *desk) areas() {
	for i := range d.c.Areas {
		a := &d.c.Areas[i]
		note := func(code string, s Severity, words, mend string) {
			d.add(Finding{Code: code, Severity: s, Kind: "area", ID: a.ID, Name: a.Name, Words: words, Mend: mend})
		}
		in, out := 0, 0
		var unseen []string
		for k := range d.c.Doors {
			x := &d.c.Doors[k]
			if x.OutsideAreaID == x.InsideAreaID || x.InsideAreaID != a.ID && x.OutsideAreaID != a.ID {
				continue
			}
			leads := x.InsideAreaID == a.ID
			if leads || x.Out.Fitted {
				in++
			}
			if !leads || x.Out.Fitted {
				out++
			}
			if leads && (x.Exit != site.NotFitted || !x.Out.Fitted) {
				unseen = append(unseen, x.Name)
			}
		}
		minds := a.Mode == site.PassbackRefuse && a.Timed == 0
		switch {
		case in+out == 0:
			note("area-nowhere", Untidy, "No reader leads into "+a.Name+" or out of it.",
				"Say at its doors which area they lead to, or remove it.")
			continue
		case in > 0 && out == 0 && minds:
			note("area-no-way-out", Wrong, "No reader leads out of "+a.Name+": whoever has come in is refused the next time.",
				"Fit a reader on the way out, or choose a time for the area.")
		case len(unseen) > 0 && minds:
			note("area-left-unseen", Risky, "People leave "+a.Name+" unseen by the exit request of "+strings.Join(unseen,
				", ")+", and are refused when they come back.",
				"Let them leave by a reader, only note it, or choose a time for the area.")
		}
		if a.Mode != site.PassbackOff && a.Timed == 0 && a.Forget == "" {
			note("area-never-forgotten", Risky,
				"Nothing ever forgets who is in "+a.Name+": one mistake lasts until somebody mends it.",
				"Choose an hour at which places are forgotten, such as 04:00.")
		}
	}
}
