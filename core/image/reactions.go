package image

import (
	"maps"
	"slices"

	"amberkeystone/core/point"
	"amberkeystone/core/rules/reactions"
	"amberkeystone/core/site"
)

// Reaction is one that begins at a controller and does something there: with the doors and outputs of that controller.
type Reaction struct {
	site.Reaction
	Doors []site.ID `json:"doors,omitempty"` // at which it happens
	Done  []site.ID `json:"done,omitempty"`  // the doors to which it is done
}

// reactionsOf selects the reactions that begin at a controller and do something there.
func reactionsOf(c *site.Config, places *site.Places, doors map[site.ID]bool, controller site.ID) (out []Reaction) {
	for i := range c.Reactions {
		x := Reaction{Reaction: c.Reactions[i]}
		r := &c.Reactions[i]
		if r.Off || !c.BeginsAt(places, r, controller) {
			continue
		}
		here := c.DoneAt(places, r, controller)
		if here.Nothing() {
			continue
		}
		if at := places.AtDoors(r); at != nil {
			for _, id := range slices.Sorted(maps.Keys(at)) {
				if doors[id] {
					x.Doors = append(x.Doors, id)
				}
			}
		}
		x.Name, x.At, x.To, x.Text, x.Address, x.SourceIDs = "", nil, nil, "", "", nil
		x.Done, x.OutputIDs, x.ArmIDs = here.Doors, here.Outputs, here.Areas
		x.AlarmIDs = slices.Sorted(slices.Values(x.AlarmIDs))
		x.InputIDs = slices.Sorted(slices.Values(x.InputIDs))
		out = append(out, x)
	}
	return out
}

// reactions lays out the reactions of the controller.
func (c *Compiled) reactions() *reactions.Engine {
	place, output := map[site.ID]int{}, map[site.ID]point.Address{}
	for i := range c.Doors {
		place[c.Doors[i].ID] = i
	}
	for i := range c.Outputs {
		output[c.Outputs[i].ID] = c.Outputs[i].At
	}
	local := c.local()
	var rules []*reactions.Rule
	for i := range c.Rules.Reactions {
		x := &c.Rules.Reactions[i]
		r := reactions.RuleOf(&x.Reaction, c.timetable(x.ScheduleID), local)
		if len(x.Doors) > 0 {
			r.Doors = setOf(x.Doors)
		}
		for _, id := range x.Done {
			if k, ok := place[id]; ok {
				r.Places = append(r.Places, k)
			}
		}
		for _, id := range x.OutputIDs {
			if at, ok := output[id]; ok {
				r.Outputs = append(r.Outputs, at)
			}
		}
		rules = append(rules, r)
	}
	return reactions.New(rules, c.has)
}

// has reports whether a door, an input or an alarm area is of this controller.
func (c *Compiled) has(id site.ID) bool {
	return slices.ContainsFunc(c.Doors, func(d site.Door) bool { return d.ID == id }) ||
		slices.ContainsFunc(c.Inputs, func(x site.Input) bool { return x.ID == id }) ||
		slices.ContainsFunc(c.Rules.AlarmAreas, func(a site.AlarmArea) bool { return a.ID == id })
}

func setOf(ids []site.ID) map[site.ID]bool {
	in := make(map[site.ID]bool, len(ids))
	for _, id := range ids {
		in[id] = true
	}
	return in
}

// siteReactions returns the reactions as a configuration has them, at the doors of a controller.
func (r *Rules) siteReactions() (out []site.Reaction) {
	for _, x := range r.Reactions {
		s := x.Reaction
		for _, d := range x.Doors {
			s.At = append(s.At, site.Target{Kind: site.AtDoor, ID: d})
		}
		for _, d := range x.Done {
			s.To = append(s.To, site.Target{Kind: site.AtDoor, ID: d})
		}
		out = append(out, s)
	}
	return out
}
