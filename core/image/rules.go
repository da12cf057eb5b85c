package image

import (
	"slices"

	"amberkeystone/core/site"
)

// Rules are what must hold at the doors of a controller besides what they ask and whose level leads there.
type Rules struct {
	Interlocks []site.Interlock `json:"interlocks,omitempty"`
	Areas      []site.Area      `json:"areas,omitempty"` // that its doors are between
	Proofs     []site.Proofs    `json:"proofs,omitempty"`
	Groups     []Group          `json:"groups,omitempty"` // that the proofs name
	// Screenings are those of the whole configuration; people say which they are under.
	Screenings []site.Screening `json:"screenings,omitempty"`
	// Emergencies are the lockdowns and fire releases that its doors belong to.
	Emergencies []Emergency `json:"emergencies,omitempty"`
	// Reactions are those that begin and end here.
	Reactions []Reaction `json:"reactions,omitempty"`
	// AlarmAreas are those that it keeps.
	AlarmAreas []site.AlarmArea `json:"alarmAreas,omitempty"`
}

// Emergency is one that was made ready, with the doors of a controller.
type Emergency struct {
	site.Emergency
	DoorIDs []site.ID `json:"doorIds"`
}

// Group is who is in a group, by number.
type Group struct {
	ID     site.ID   `json:"id"`
	People []site.ID `json:"people"`
}

// rulesOf selects the rules of some doors. A rule that is not in use is not there.
func rulesOf(c *site.Config, controller site.ID, doors map[site.ID]bool) (r Rules) {
	here := func(ids []site.ID) []site.ID {
		out := slices.DeleteFunc(slices.Clone(ids), func(d site.ID) bool { return !doors[d] })
		slices.Sort(out)
		return out
	}
	for _, x := range c.Interlocks {
		if x.DoorIDs = here(x.DoorIDs); !x.Off && len(x.DoorIDs) > 1 {
			x.Name = ""
			r.Interlocks = append(r.Interlocks, x)
		}
	}
	between := map[site.ID]bool{}
	for i := range c.Doors {
		if d := &c.Doors[i]; doors[d.ID] {
			between[d.OutsideAreaID], between[d.InsideAreaID] = true, true
		}
	}
	for _, x := range c.Areas {
		if between[x.ID] {
			x.Name, x.ExemptIDs = "", append([]site.ID{}, slices.Sorted(slices.Values(x.ExemptIDs))...)
			r.Areas = append(r.Areas, x)
		}
	}
	for _, x := range c.Screenings {
		if x.Off {
			continue
		}
		x.Name, x.PersonIDs, x.DepartmentIDs, x.DeskIDs, x.PassIDs = "", nil, nil, nil,
			append([]site.ID{}, here(x.PassIDs)...)
		r.Screenings = append(r.Screenings, x)
	}
	places := site.NewPlaces(c)
	for _, x := range c.Emergencies {
		ids := here(places.EmergencyDoors(&x))
		if x.Off || len(ids) == 0 {
			continue
		}
		x.Name, x.Targets = "", nil
		r.Emergencies = append(r.Emergencies, Emergency{x, ids})
	}
	r.Reactions, r.AlarmAreas = reactionsOf(c, places, doors, controller), alarmAreasOf(c, controller)
	r.Proofs, r.Groups = proofsOf(c, here)
	return r
}

// proofsOf selects the rules about several proofs at doors that are here, and the groups that they name.
func proofsOf(c *site.Config, here func([]site.ID) []site.ID) (proofs []site.Proofs, groups []Group) {
	named := map[site.ID]bool{}
	for _, x := range c.Proofs {
		if x.DoorIDs = here(x.DoorIDs); x.Off || len(x.DoorIDs) == 0 {
			continue
		}
		x.Name = ""
		proofs = append(proofs, x)
		for _, m := range x.Combinations {
			for _, p := range m.Parts {
				named[p.GroupID] = true
			}
		}
	}
	for i := range c.Groups {
		if g := &c.Groups[i]; named[g.ID] {
			groups = append(groups, Group{g.ID, append([]site.ID{}, c.Members(g)...)})
		}
	}
	return proofs, groups
}

// siteGroups returns the groups as a configuration has them, with everybody by themselves.
func (r *Rules) siteGroups() (out []site.Group) {
	for _, g := range r.Groups {
		out = append(out, site.Group{ID: g.ID, PersonIDs: g.People})
	}
	return out
}

// siteScreenings returns the screenings as a configuration has them, of the people of an image, each by themselves.
func (im *Image) siteScreenings() []site.Screening {
	out := slices.Clone(im.Rules.Screenings)
	at := make(map[site.ID]int, len(out))
	for i, x := range out {
		at[x.ID] = i
	}
	for i := range im.People {
		for _, id := range im.People[i].Screened {
			if k, ok := at[id]; ok {
				out[k].PersonIDs = append(out[k].PersonIDs, im.People[i].ID)
			}
		}
	}
	return out
}

// EmergencyDoors lists the doors of a controller that an emergency is for.
func (r *Rules) EmergencyDoors(id site.ID) []site.ID {
	for i := range r.Emergencies {
		if r.Emergencies[i].ID == id {
			return r.Emergencies[i].DoorIDs
		}
	}
	return nil
}

// siteEmergencies returns the emergencies as a configuration has them, for the doors of a controller.
func (r *Rules) siteEmergencies() (out []site.Emergency) {
	for _, x := range r.Emergencies {
		e := x.Emergency
		for _, d := range x.DoorIDs {
			e.Targets = append(e.Targets, site.Target{Kind: site.AtDoor, ID: d})
		}
		out = append(out, e)
	}
	return out
}

// members is who is in which group.
func (r *Rules) members() map[site.ID]map[site.ID]bool {
	out := make(map[site.ID]map[site.ID]bool, len(r.Groups))
	for _, g := range r.Groups {
		in := make(map[site.ID]bool, len(g.People))
		for _, id := range g.People {
			in[id] = true
		}
		out[g.ID] = in
	}
	return out
}

// schedules lists those that the rules follow.
func (r *Rules) schedules() (out []site.ID) {
	for _, x := range r.Proofs {
		out = append(out, x.ScheduleID)
	}
	for _, x := range r.Reactions {
		out = append(out, x.ScheduleID)
	}
	for _, x := range r.AlarmAreas {
		if x.ScheduleID != 0 {
			out = append(out, x.ScheduleID)
		}
	}
	return out
}
