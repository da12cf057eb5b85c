package sitefile

import (
	"amberkeystone/core/site"
)

// reaction is: when this happens here, during these hours, do that there, for so long.
type reaction struct {
	Name        string         `json:"name"`
	When        site.Happening `json:"when"`
	Reason      string         `json:"reason,omitempty"`
	At          []where        `json:"at,omitempty"`
	Inputs      []terminal     `json:"inputs,omitempty"`
	Controllers []string       `json:"controllers,omitempty"`
	AlarmAreas  []string       `json:"alarmAreas,omitempty"`
	Area        string         `json:"area,omitempty"`
	Count       int            `json:"count,omitempty"`
	Hour        string         `json:"hour,omitempty"`
	Schedule    string         `json:"schedule"`
	Do          site.Doing     `json:"do"`
	To          []where        `json:"to,omitempty"`
	Outputs     []terminal     `json:"outputs,omitempty"`
	Arms        []string       `json:"arms,omitempty"`   // alarm areas, or disarms
	Starts      string         `json:"starts,omitempty"` // an emergency
	Mode        string         `json:"mode,omitempty"`
	Seconds     int            `json:"seconds,omitempty"`
	Until       bool           `json:"untilEnded,omitempty"`
	Text        string         `json:"text,omitempty"`
	Address     string         `json:"address,omitempty"`
	Off         bool           `json:"off,omitempty"`
}

// terminal names an input or an output, whose names are unique at their controller only.
type terminal struct {
	Controller string `json:"controller"`
	Name       string `json:"name"`
}

// reactions reads them, once all that they may name is known.
func (n *naming) reactions(f *file, c *site.Config) {
	for _, x := range f.Reactions {
		at := "reaction " + x.Name
		r := site.Reaction{
			ID: n.add("reaction", x.Name), Name: x.Name, When: x.When, Reason: x.Reason, Count: x.Count, Hour: x.Hour, Do: x.Do,
			Mode: x.Mode, Seconds: x.Seconds, Until: x.Until, Text: x.Text, Address: x.Address, Off: x.Off,
			ScheduleID: n.find(at, "schedule", x.Schedule), At: n.targets(at, x.At), To: n.targets(at, x.To),
			InputIDs: n.terminals(at, "input", x.Inputs), OutputIDs: n.terminals(at, "output", x.Outputs),
			SourceIDs: []site.ID{}, AlarmIDs: []site.ID{}, ArmIDs: []site.ID{},
		}
		for _, name := range x.AlarmAreas {
			r.AlarmIDs = append(r.AlarmIDs, n.find(at, "alarm area", name))
		}
		for _, name := range x.Arms {
			r.ArmIDs = append(r.ArmIDs, n.find(at, "alarm area", name))
		}
		for _, name := range x.Controllers {
			r.SourceIDs = append(r.SourceIDs, n.find(at, "controller", name))
		}
		if x.Area != "" {
			r.AreaID = n.find(at, "area", x.Area)
		}
		if x.Starts != "" {
			r.EmergencyID = n.find(at, "emergency", x.Starts)
		}
		n.checkAs(at, ofReaction, r.Check())
		n.checkAs(at, ofReaction, c.CheckReaction(&r))
		if loop := c.ReactionLoop(&r); loop != nil {
			n.checkAs(at, ofReaction, site.Faults{
				{Field: "do", Words: "it sets itself off for ever, by itself or through others; break that at one of them"},
			})
		}
		c.Reactions = append(c.Reactions, r)
	}
}

func (n *naming) targets(at string, list []where) []site.Target {
	out := []site.Target{}
	for _, w := range list {
		out = append(out, n.target(at, w))
	}
	return out
}

func (n *naming) terminals(at, kind string, list []terminal) []site.ID {
	out := []site.ID{}
	for _, t := range list {
		out = append(out, n.find(at, kind, t.Controller, t.Name))
	}
	return out
}

func writeReactions(f *file, c *site.Config, name map[site.ID]string, floors map[site.ID]site.Floor) {
	places := func(list []site.Target) (out []where) {
		for _, t := range list {
			out = append(out, whereOf(t, name, floors))
		}
		return out
	}
	at := map[site.ID]terminal{}
	for _, x := range c.Inputs {
		at[x.ID] = terminal{name[x.ControllerID], x.Name}
	}
	for _, x := range c.Outputs {
		at[x.ID] = terminal{name[x.ControllerID], x.Name}
	}
	terminals := func(ids []site.ID) (out []terminal) {
		for _, id := range ids {
			out = append(out, at[id])
		}
		return out
	}
	for _, r := range c.Reactions {
		x := reaction{
			Name: r.Name, When: r.When, Reason: r.Reason, At: places(r.At), Inputs: terminals(r.InputIDs), Area: name[r.AreaID],
			Count: r.Count, Hour: r.Hour, Schedule: name[r.ScheduleID], Do: r.Do, To: places(r.To),
			Outputs: terminals(r.OutputIDs), Starts: c.EmergencyName(r.EmergencyID), Mode: r.Mode, Seconds: r.Seconds,
			Until: r.Until, Text: r.Text, Address: r.Address, Off: r.Off,
		}
		for _, id := range r.SourceIDs {
			x.Controllers = append(x.Controllers, name[id])
		}
		for _, id := range r.AlarmIDs {
			x.AlarmAreas = append(x.AlarmAreas, name[id])
		}
		for _, id := range r.ArmIDs {
			x.Arms = append(x.Arms, name[id])
		}
		f.Reactions = append(f.Reactions, x)
	}
}
