package compare

import (
	"reflect"
	"slices"

	"amberkeystone/core/site"
)

// ruled is what must hold at a door besides a plan and a level.
type ruled struct {
	proofs     []site.Proofs
	groups     [][]site.ID // who is in the groups that they name
	interlocks []site.Interlock
	areas      []site.Area
	between    [2]site.ID // areas
	toggle     *site.Toggle
}

// rulesDiffer lists the doors where other rules hold than before, in the order of the configuration.
func rulesDiffer(was, is *site.Config) (out []site.ID) {
	if len(was.Proofs)+len(is.Proofs)+len(was.Interlocks)+len(is.Interlocks)+len(was.Areas)+len(is.Areas) == 0 && !toggles(was) && !toggles(is) {
		return nil
	}
	for i := range is.Doors {
		id := is.Doors[i].ID
		before := was.Door(id)
		if before != nil && !reflect.DeepEqual(rulesAt(was, before), rulesAt(is, &is.Doors[i])) {
			out = append(out, id)
		}
	}
	return out
}

func toggles(c *site.Config) bool {
	return slices.ContainsFunc(c.Doors, func(d site.Door) bool { return d.Toggle != nil })
}

// rulesAt gathers what holds at a door. What is switched off, and what things are called, make no difference.
func rulesAt(c *site.Config, d *site.Door) (r ruled) {
	if d.Toggle != nil && !d.Toggle.Off {
		r.toggle = d.Toggle
	}
	r.between = [2]site.ID{d.OutsideAreaID, d.InsideAreaID}
	for _, a := range c.Areas {
		if d.OutsideAreaID != d.InsideAreaID && slices.Contains(r.between[:], a.ID) {
			a.Name, a.ExemptIDs = "", slices.Sorted(slices.Values(a.ExemptIDs))
			r.areas = append(r.areas, a)
		}
	}
	for _, x := range c.Interlocks {
		if !x.Off && slices.Contains(x.DoorIDs, d.ID) {
			x.Name, x.DoorIDs = "", slices.Sorted(slices.Values(x.DoorIDs))
			r.interlocks = append(r.interlocks, x)
		}
	}
	for _, x := range c.Proofs {
		if x.Off || !slices.Contains(x.DoorIDs, d.ID) {
			continue
		}
		x.Name, x.DoorIDs = "", nil
		if len(x.Combinations) == 0 {
			x.Combinations = nil
		}
		r.proofs = append(r.proofs, x)
		for _, m := range x.Combinations {
			for _, p := range m.Parts {
				r.groups = append(r.groups, members(c, p.GroupID))
			}
		}
	}
	return r
}

func members(c *site.Config, group site.ID) []site.ID {
	for i := range c.Groups {
		if g := &c.Groups[i]; g.ID == group && len(g.DepartmentIDs) == 0 {
			return slices.Sorted(slices.Values(g.PersonIDs))
		}
		if c.Groups[i].ID == group {
			return c.Members(&c.Groups[i])
		}
	}
	return nil
}
