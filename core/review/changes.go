package review

import (
	"fmt"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// changes finds dated changes that are past, change nothing, or overlap.
func (d *desk) changes() {
	windows := make([]map[site.ID][]hours.Window, len(d.c.Changes)) // to come, by controller
	doors := make([][]site.ID, len(d.c.Changes))
	controller := map[site.ID]site.ID{}
	places := site.NewPlaces(d.c)
	for i := range d.c.Doors {
		controller[d.c.Doors[i].ID] = d.c.Doors[i].ControllerID
	}
	for i := range d.c.Changes {
		x := &d.c.Changes[i]
		doors[i] = x.DoorsAmong(places, d.c.Doors)
		windows[i] = map[site.ID][]hours.Window{}
		coming, any := false, false
		inZone := map[*hours.Zone][]hours.Window{} // the same for all controllers of a zone
		for _, door := range doors[i] {
			k := controller[door]
			if _, ok := windows[i][k]; ok {
				continue
			}
			z := d.zone(k)
			near, known := inZone[z]
			if !known {
				near = []hours.Window{}
				for _, w := range x.Windows(z) {
					if w.Until > d.now && w.From < d.now+horizon*hours.FullDay {
						near = append(near, w)
					}
					any, coming = true, coming || w.Until > d.now
				}
				inZone[z] = near
			}
			windows[i][k] = near
		}
		switch {
		case len(doors[i]) == 0:
			d.add(Finding{Code: "change-nowhere", Severity: Untidy, Kind: "dated change", ID: x.ID, Name: x.Name,
				Words: x.Name + " is for a floor, site or door set without doors.", Mend: "Choose other doors, or remove it.",
				Click: "Remove it"})
		case any && !coming:
			d.add(Finding{Code: "change-past", Severity: Untidy, Kind: "dated change", ID: x.ID, Name: x.Name,
				Words: x.Name + " is entirely in the past.", Mend: "Remove it, or copy it to a new date.", Click: "Remove it"})
		case coming && d.changesNothing(x, doors[i], windows[i], controller):
			d.add(Finding{Code: "change-nothing", Severity: Untidy, Kind: "dated change", ID: x.ID, Name: x.Name,
				Words: x.Name + " changes nothing in the next 13 months: its doors would ask for " + x.Mode.String() + " anyway.",
				Mend:  "Remove it, or choose another mode or time.", Click: "Remove it"})
		}
	}
	for i := range d.c.Changes {
		d.onHoliday(&d.c.Changes[i], doors[i], windows[i], controller)
		for k := i + 1; k < len(d.c.Changes); k++ {
			d.overlap(i, k, doors, windows, controller)
		}
	}
}

// changesNothing compares the plan of each door with the mode of the change over its windows.
func (d *desk) changesNothing(
	x *site.DatedChange,
	doors []site.ID,
	windows map[site.ID][]hours.Window,
	controller map[site.ID]site.ID,
) bool {
	seen := false
	for _, id := range doors {
		line := *d.times.Door(id)
		line.Windows = nil
		for _, w := range windows[controller[id]] {
			seen = true
			for at := w.From; at < w.Until; at = line.Next(at) {
				if !line.At(at).Same(hours.Ask{Mode: x.Mode}) {
					return false
				}
			}
		}
	}
	return seen
}

// onHoliday finds a dated change that makes doors free on a holiday on which nobody is meant to come in.
func (d *desk) onHoliday(
	x *site.DatedChange,
	doors []site.ID,
	windows map[site.ID][]hours.Window,
	controller map[site.ID]site.ID,
) {
	if x.Mode != hours.Free {
		return
	}
	closed := map[site.ID]bool{}
	for _, t := range d.c.Types {
		closed[t.ID] = t.Schedules == site.Closed
	}
	var out []string
	words := ""
	for _, id := range doors {
		z := d.zone(controller[id])
		for _, w := range windows[controller[id]] {
			start := z.Wall(w.From)
			h := d.times.Holiday(d.times.Site(id), start.Day, start.Minute)
			if h == nil || !closed[h.TypeID] || slices.Contains(out, start.Day.String()) {
				continue
			}
			if words == "" {
				words = fmt.Sprintf(
					"%s falls on %s, %s: %s goes free then, although nobody is meant to come in.",
					x.Name,
					h.Name,
					start.Day.Words(),
					d.doorName(id),
				)
			}
			out = append(out, start.Day.String())
		}
	}
	if len(out) == 0 {
		return
	}
	click := "Leave that date out"
	if len(out) > 1 {
		words += fmt.Sprintf(" So it does on %d days in the next 13 months.", len(out))
		click = fmt.Sprintf("Leave these %d dates out", len(out))
	}
	mended := *x
	mended.Except = append(slices.Clone(x.Except), out...)
	d.add(
		Finding{Code: "change-on-holiday", Severity: Risky, Kind: "dated change", ID: x.ID, Name: x.Name, Words: words,
			Mend: "Leave those dates out, or give the holiday another type.", Click: click, Mended: &mended},
	)
}

// overlap finds two dated changes that meet at one door with different modes; the later made decides.
func (d *desk) overlap(
	i, k int,
	doors [][]site.ID,
	windows []map[site.ID][]hours.Window,
	controller map[site.ID]site.ID,
) {
	a, b := &d.c.Changes[i], &d.c.Changes[k]
	if a.Mode == b.Mode {
		return
	}
	in := map[site.ID]bool{}
	for _, id := range doors[i] {
		in[id] = true
	}
	for _, id := range doors[k] {
		if !in[id] {
			continue
		}
		at, ok := meet(windows[i][controller[id]], windows[k][controller[id]])
		if !ok {
			continue
		}
		winner, loser := b, a
		if a.ID > b.ID {
			winner, loser = a, b
		}
		d.add(Finding{Code: "changes-overlap", Severity: Risky, Kind: "dated change", ID: winner.ID, Name: winner.Name,
			Words: fmt.Sprintf(
				"%s (%s) and %s (%s) meet at %s, first on %s. %s was made later, so it decides.",
				loser.Name,
				loser.Mode,
				winner.Name,
				winner.Mode,
				d.doorName(id),
				d.zone(controller[id]).Time(at).Format("Mon 2 Jan 2006 15:04"),
				winner.Name,
			),
			Mend: "Move one of them, or leave the door out of one."})
		return
	}
}

// meet returns the first instant that is in a window of both lists; each is ascending.
func meet(a, b []hours.Window) (hours.Instant, bool) {
	for i, k := 0, 0; i < len(a) && k < len(b); {
		if from := max(a[i].From, b[k].From); from < min(a[i].Until, b[k].Until) {
			return from, true
		}
		if a[i].Until < b[k].Until {
			i++
		} else {
			k++
		}
	}
	return 0, false
}

func (d *desk) doorName(id site.ID) string {
	for i := range d.c.Doors {
		if d.c.Doors[i].ID == id {
			return d.c.Doors[i].Name
		}
	}
	return "a door"
}
