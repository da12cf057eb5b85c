package prove

import (
	"fmt"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// OrderWords says what an order by hand does, before it is given: so many doors, of which some cannot be reached now.
func (b *Book) OrderWords(what string, mode hours.Mode, doors []site.ID, unreached int) string {
	n, verb := len(doors), "doors"
	if n == 1 {
		verb = "door"
	}
	where := fmt.Sprintf("%d %s", n, verb)
	if n <= 3 {
		var names []string
		for _, d := range doors {
			names = append(names, b.Name(d))
		}
		where = both(names)
	} else if place := b.placeOf(doors); place != "" {
		where += " of " + place
	}
	each := "s"
	if n > 1 {
		each = ""
	}
	var out string
	switch what {
	case "release":
		out = where + " release" + each + " once, for the unlock time"
	case "lift":
		out = "keypads that are locked after wrong PINs work again at " + where
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
