package prove

import (
	"fmt"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// areaScope says how a door leads to an area.
func (b *Book) areaScope(d *site.Door, a *site.Area) string {
	way := "the reader in leads into it"
	if a.ID == d.OutsideAreaID {
		way = "the reader in leads out of it"
	}
	if !d.Out.Fitted {
		way += "; nobody sees who comes back"
	}
	return way
}

// areaName names an area; 0 is outside of all.
func (b *Book) areaName(id site.ID) string {
	if id == 0 {
		return "outside of all areas"
	}
	return b.Name(id)
}

// areaCheck says what an area had against somebody, or only noted.
func (b *Book) areaCheck(e *pass.Fact, c pass.Check, z *hours.Zone) string {
	area := b.Name(site.ID(c.A))
	switch {
	case c.OK:
		return area + ": not where they should come from, by what is known since " + clock(z, hours.Instant(c.B)) +
			"; it is only noted"
	case e.Reason == pass.AreaFull:
		return fmt.Sprintf("%d are inside %s, which is its limit", c.B, area)
	case e.Reason == pass.AreaNeedsTwo:
		return "nobody is inside " + area + ", and nobody comes in alone"
	case e.Reason == pass.NotInside:
		return "is not in " + area + ", by what is known since " + clock(z, hours.Instant(c.B))
	}
	return "is in " + area + " already, since " + clock(z, hours.Instant(c.B))
}

// AreaWords says what an area does.
func (b *Book) AreaWords(a *site.Area) string {
	var out string
	switch a.Mode {
	case site.PassbackRefuse:
		out = "Who is inside and did not leave is refused at its doors"
	case site.PassbackLog:
		out = "Who is inside and did not leave comes in all the same, and it is noted"
	default:
		out = "It only counts who is inside"
	}
	if a.Timed > 0 && a.Mode != site.PassbackOff {
		out += fmt.Sprintf(", for %d minutes after they came in", a.Timed)
	}
	if a.Mode != site.PassbackOff && a.Timed == 0 {
		out += "; so is who leaves without having come in"
	}
	if a.Most > 0 {
		out += fmt.Sprintf(". At most %s inside", count(a.Most, "person", "people"))
	}
	if a.Two {
		out += ". While it is empty nobody comes in alone"
	}
	if a.Forget != "" {
		out += ". Everybody's place is forgotten at " + a.Forget
	}
	if a.Strict && a.Mode != site.PassbackOff {
		out += ". Off the network it goes on by what it knows"
	} else if a.Mode != site.PassbackOff {
		out += ". Off the network it lets everybody pass who may come in"
	}
	return out + "."
}
