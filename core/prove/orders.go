package prove

import (
	"fmt"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Order is what an operator wants of doors, now and by hand.
type Order struct {
	What      string // release, hold, back, lift, confirm, refuse, lockdown, end lockdown, fire or end fire
	Targets   []site.Target
	Emergency site.ID    // of lockdown and fire: one that was made ready, in place of targets
	Mode      hours.Mode // of hold
	Why       string
}

// Ordered is an order, worked out.
type Ordered struct {
	Doors []site.ID // in the order of the configuration
	Left  []site.ID // that are left out: they are not released from afar
	Why   string
}

// WorkOut finds the doors that an order is for, and says what cannot be meant.
func (b *Book) WorkOut(o *Order) (out Ordered, fs site.Faults) {
	targets := o.Targets
	if o.Emergency != 0 {
		x := b.Config.Emergency(o.Emergency)
		if x == nil || x.Off {
			return out, site.Faults{{Field: "emergency", Words: "this does not exist, or is not in use; choose another"}}
		}
		targets = x.Targets
	}
	places, chosen := site.NewPlaces(b.Config), map[site.ID]bool{}
	for i, t := range targets {
		doors := places.Doors(t)
		if len(doors) == 0 && o.Emergency == 0 {
			return out, site.Faults{
				{Field: fmt.Sprintf("targets[%d]", i), Words: "there is no door in it; choose another place"},
			}
		}
		for _, d := range doors {
			chosen[d] = true
		}
	}
	if len(chosen) == 0 {
		return out, site.Faults{{Field: "targets", Words: "choose at least one door"}}
	}
	out.Why = strings.TrimSpace(o.Why)
	if out.Why == "" && (o.What == "lockdown" && o.Emergency == 0 || o.What == "hold" && o.Mode == hours.Barred) {
		return out, site.Faults{{Field: "why", Words: "say why: whoever stands before a barred door will ask"}}
	}
	frees := o.What == "release" || o.What == "confirm" || o.What == "hold" && o.Mode == hours.Free
	for i := range b.Config.Doors {
		switch d := &b.Config.Doors[i]; {
		case !chosen[d.ID]:
		case frees && d.NotFromAfar:
			out.Left = append(out.Left, d.ID)
		default:
			out.Doors = append(out.Doors, d.ID)
		}
	}
	return out, nil
}

// Passing reports whether an order is for now only: a controller that does not answer is not told of it later.
func Passing(what string) bool {
	return what == "louder" || what == "end louder" || what == "release" || what == "lift" || what == "confirm" ||
		what == "refuse"
}

// Replaces reports whether of two orders for one door the later one takes the place of the earlier: of holds the last
// counts, and of one lockdown or fire release; what is ended by hand ends all.
func Replaces(later, earlier string, rule, before site.ID) bool {
	kind := func(what string) string { return strings.TrimPrefix(strings.Replace(what, "back", "hold", 1), "end ") }
	return kind(later) == kind(earlier) && (rule == before || rule == 0 && strings.HasPrefix(later, "end "))
}

// manyWords counts doors, and elevators apart: 18 doors and 2 elevators.
func (b *Book) manyWords(doors []site.ID) string {
	cars := 0
	for _, id := range doors {
		if d := b.doors[id]; d != nil && d.Car != nil {
			cars++
		}
	}
	switch n := len(doors) - cars; {
	case cars == 0:
		return count(n, "door", "doors")
	case n == 0:
		return count(cars, "elevator", "elevators")
	default:
		return count(n, "door", "doors") + " and " + count(cars, "elevator", "elevators")
	}
}

// OrderWords says what an order by hand does, before it is given: so many doors, of which some cannot be reached now.
func (b *Book) OrderWords(what string, mode hours.Mode, doors, floors []site.ID, unreached int) string {
	n, where := len(doors), b.doorsWords(doors)
	each := "s"
	if n > 1 {
		each = ""
	}
	var out string
	switch what {
	case "release":
		if len(floors) > 0 {
			out = where + " release" + each + " " + b.floorList(floors) + " for the select time"
			break
		}
		out = where + " release" + each + " once, for the unlock time"
	case "louder":
		out = "the log of " + where + " tells of floor relays, and stops by itself"
	case "end louder":
		out = "the log of " + where + " is as usual again"
	case "lift":
		out = "keypads that are locked after wrong PINs work again at " + where
	case "confirm":
		out = "those who wait together come in at " + where
	case "refuse":
		out = "those who wait together are refused at " + where
	case "back":
		out = where + " follow" + each + " the plan again"
	case "lockdown":
		out = where + " will let nobody in; ways out always work"
	case "end lockdown":
		out = where + " follow" + each + " the plan again, or what else holds"
	case "fire":
		out = where + " stand" + each + " free for escape"
	case "end fire":
		out = where + " lock" + each + " again, as the plan or what else holds says"
	default:
		switch mode {
		case hours.Free:
			out = where + " stand" + each + " free: whoever comes may pass"
		case hours.Barred:
			out = where + " let" + each + " nobody in; ways out always work"
		default:
			out = where + " ask" + each + " for " + mode.String()
		}
	}
	if unreached > 0 {
		out += fmt.Sprintf("; %d cannot be reached now", unreached)
	}
	return strings.ToUpper(out[:1]) + out[1:] + "."
}

// placeOf names the site of some doors, where they are of one.
func (b *Book) placeOf(doors []site.ID) string {
	places, at := site.NewPlaces(b.Config), site.ID(0)
	for _, id := range doors {
		d := b.doors[id]
		if d == nil || at != 0 && places.Site(d.FloorID) != at {
			return ""
		}
		at = places.Site(d.FloorID)
	}
	return b.Name(at)
}
