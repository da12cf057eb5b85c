package review

import (
	"fmt"
	"slices"

	"amberkeystone/core/site"
)

// reactions finds those that wait for what nothing tells, or that do something to nothing.
func (d *desk) reactions() {
	places := site.NewPlaces(d.c)
	for i := range d.c.Reactions {
		r := &d.c.Reactions[i]
		if r.Off {
			continue
		}
		note := func(code string, s Severity, words, mend string) {
			d.add(Finding{Code: code, Severity: s, Kind: "reaction", ID: r.ID, Name: r.Name, Words: words, Mend: mend})
		}
		if r.When.Place() == "doors" {
			if lacks := d.untold(r, places); lacks != "" {
				note("reaction-never", Risky, fmt.Sprintf("%s waits until %s, and %s: it never comes.", r.Name, r.When.Words(),
					lacks),
					"Fit what tells of it, choose other doors, or wait for something else.")
			}
		}
		if r.When.Place() == "alarm areas" && !slices.ContainsFunc(d.c.AlarmAreas, func(a site.AlarmArea) bool {
			return !a.Off && (len(r.AlarmIDs) == 0 || slices.Contains(r.AlarmIDs, a.ID))
		}) {
			note("reaction-never", Risky,
				fmt.Sprintf("%s waits until %s, and no alarm area that it names is in use: it never comes.", r.Name,
					r.When.Words()),
				"Put an alarm area into use, or wait for something else.")
		}
		if len(r.To) > 0 && len(places.ToDoors(d.c, r)) == 0 {
			note("reaction-nowhere", Risky, r.Name+" is done to no door: none is in the places that it names.",
				"Choose doors, or remove it.")
		}
	}
}

// untold says why no door of a reaction tells of what it waits for; empty where one does.
func (d *desk) untold(r *site.Reaction, places *site.Places) string {
	at := places.AtDoors(r)
	if len(at) == 0 {
		return "no door is in the places that it names"
	}
	tells, lacks := teller(r.When)
	if tells == nil {
		return ""
	}
	for id := range at {
		if door := d.c.Door(id); door != nil && tells(door) {
			return ""
		}
	}
	return lacks
}

// teller is what a door needs to tell of a happening; nil: every door does.
func teller(when site.Happening) (tells func(*site.Door) bool, lacks string) {
	switch when {
	case site.WhenForced, site.WhenHeldOpen, site.WhenHeldWarning, site.WhenEntered, site.WhenNotTaken:
		return func(x *site.Door) bool { return x.Contact != site.NotFitted }, "none of its doors has a door contact"
	case site.WhenExitRequest:
		return func(x *site.Door) bool { return x.Exit != site.NotFitted }, "none of its doors has an exit request"
	case site.WhenFloorChosen:
		return func(x *site.Door) bool { return x.Car != nil && len(x.Car.Buttons) > 0 },
			"no elevator among its doors has its buttons wired back"
	case site.WhenDuress, site.WhenKeypadLocked:
		return func(x *site.Door) bool { return x.In.Keypad || x.Out.Keypad }, "none of its doors has a keypad"
	}
	return nil, ""
}
