package review

import (
	"fmt"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// noKeypad finds doors that ask a PIN, at some hour, of a reader in that has no keys: nobody can come in then.
func (d *desk) noKeypad() {
	asked := map[site.ID]map[hours.Mode]bool{}
	for i := range d.c.Plans {
		asked[d.c.Plans[i].ID] = modes(&d.c.Plans[i], d.c.Types)
	}
	changes := map[site.ID]map[hours.Mode]string{}
	places := site.NewPlaces(d.c)
	for i := range d.c.Changes {
		for _, door := range d.c.Changes[i].DoorsAmong(places, d.c.Doors) {
			if changes[door] == nil {
				changes[door] = map[hours.Mode]string{}
			}
			changes[door][d.c.Changes[i].Mode] = d.c.Changes[i].Name
		}
	}
	for i := range d.c.Doors {
		door := &d.c.Doors[i]
		if !door.In.Fitted || door.In.Keypad {
			continue
		}
		for _, m := range []hours.Mode{hours.PIN, hours.CardAndPIN} {
			who := changes[door.ID][m]
			if asked[door.PlanID][m] {
				who = d.planName(door.PlanID)
			}
			if who == "" {
				continue
			}
			d.add(Finding{Code: "pin-without-keypad", Severity: Wrong, Kind: "door", ID: door.ID, Name: door.Name,
				Words: fmt.Sprintf(
					"%s asks for %s at %s, and its reader in has no keypad: nobody can come in then.",
					who,
					m,
					door.Name,
				),
				Mend: "Fit a reader with a keypad and say so in the door's build, or choose a plan that asks for a card."})
			break
		}
	}
}

func (d *desk) planName(id site.ID) string {
	for i := range d.c.Plans {
		if d.c.Plans[i].ID == id {
			return d.c.Plans[i].Name
		}
	}
	return ""
}

// modes are those that a plan asks at some minute, on some day.
func modes(p *site.Plan, types []site.HolidayType) map[hours.Mode]bool {
	out := map[hours.Mode]bool{}
	for m, minutes := range p.Minutes() {
		out[hours.Mode(m)] = minutes > 0
	}
	for _, t := range types {
		own := 0
		for _, h := range p.Holidays {
			if h.TypeID == t.ID && h.Do == site.OwnHours {
				for _, s := range h.Segments {
					out[s.Mode] = true
					own += s.Today().End - min(s.Today().Start, s.Today().End)
				}
			}
		}
		if does := p.Does(t); does == site.DefaultMode || does == site.OwnHours && own < hours.DayMinutes {
			out[p.Default] = true
		}
	}
	return out
}

// pinLengths finds people whose PIN has another length than PINs have now.
func (d *desk) pinLengths() {
	var names []string
	for i := range d.c.People {
		if p := d.c.People[i]; p.PIN != nil && p.PINLength != 0 && p.PINLength != d.c.Settings.PINLength {
			names = append(names, fmt.Sprintf("%s (%d)", p.Name, p.PINLength))
		}
	}
	if len(names) == 0 {
		return
	}
	who, verb := list(names), "has"
	if len(names) > 1 {
		verb = "have"
	}
	if len(names) > 8 {
		who = list(append(names[:7:7], fmt.Sprintf("%d more", len(names)-7)))
	}
	d.add(Finding{Code: "pin-length", Severity: Risky, Kind: "settings", Name: "PINs",
		Words: fmt.Sprintf(
			"PINs have %d digits now, and %s %s one of another length. A shorter one than the longest in force must be ended with #.",
			d.c.Settings.PINLength,
			who,
			verb,
		),
		Mend: "Give them a new PIN, on their sheets in People."})
}
