package site

import "slices"

// Entrants is who may take part at the doors of a rule of several people: those with a credential in use and a level
// that leads to any of its doors, on the way in.
type Entrants struct {
	People    []*Person
	Approvers []*Person          // of them, those whose level approves
	groups    map[ID]map[ID]bool // of each group: who is in it
}

// Entrants works that out for a rule, which need not be in the configuration. Effective is the configuration as it
// decides.
func (c *Config) Entrants(effective *Config, x *Proofs) *Entrants {
	t := &Entrants{groups: map[ID]map[ID]bool{}}
	places := NewPlaces(effective)
	leads, approves := map[ID]int{}, map[ID]bool{} // by level: to how many of the doors
	for i := range effective.Levels {
		l := &effective.Levels[i]
		seen := map[ID]bool{}
		for _, e := range places.Entries(l) {
			if e.Side.Takes(false) && slices.Contains(x.DoorIDs, e.DoorID) {
				seen[e.DoorID] = true
			}
		}
		if len(seen) > 0 {
			leads[l.ID], approves[l.ID] = len(seen), l.Approves
		}
	}
	for _, p := range effective.People {
		if p.Suspended || len(p.Credentials) == 0 && p.PIN == nil {
			continue
		}
		in, may := false, false
		for _, g := range p.Levels {
			in = in || leads[g.LevelID] > 0
			may = may || approves[g.LevelID]
		}
		if in {
			t.People = append(t.People, p)
		}
		if in && may {
			t.Approvers = append(t.Approvers, p)
		}
	}
	for i := range c.Groups {
		g := &c.Groups[i]
		t.groups[g.ID] = map[ID]bool{}
		for _, p := range t.People {
			if g.Has(p) {
				t.groups[g.ID][p.ID] = true
			}
		}
	}
	return t
}

// In reports whether a person, counted in People, is in a group; group 0 has everybody.
func (t *Entrants) In(person int, group ID) bool {
	return group == 0 || t.groups[group][t.People[person].ID]
}

// Count is how many of them are in a group.
func (t *Entrants) Count(group ID) int {
	if group == 0 {
		return len(t.People)
	}
	return len(t.groups[group])
}
