package sitefile

import (
	"fmt"

	"amberkeystone/core/site"
)

type interlock struct {
	Name  string   `json:"name"`
	Doors []string `json:"doors"`
	Waits bool     `json:"waits,omitempty"`
	Exits bool     `json:"exits,omitempty"`
	Off   bool     `json:"off,omitempty"`
}

type area struct {
	Name   string        `json:"name"`
	Mode   site.Passback `json:"mode"`
	Timed  int           `json:"timed,omitempty"`
	Forget string        `json:"forget,omitempty"`
	Most   int           `json:"most,omitempty"`
	Two    bool          `json:"two,omitempty"`
	Strict bool          `json:"strict,omitempty"`
	Exempt []string      `json:"exempt,omitempty"`
}

type group struct {
	Name        string   `json:"name"`
	People      []string `json:"people,omitempty"`
	Departments []string `json:"departments,omitempty"`
}

type proofs struct {
	Name         string         `json:"name"`
	Kind         site.ProofKind `json:"kind"`
	Doors        []string       `json:"doors"`
	Schedule     string         `json:"schedule"`
	Both         bool           `json:"both,omitempty"`
	Window       int            `json:"window"`
	Combinations []combination  `json:"combinations,omitempty"`
	Off          bool           `json:"off,omitempty"`
}

type combination struct {
	Total  int    `json:"total"`
	Parts  []part `json:"parts,omitempty"`
	Listed bool   `json:"listed,omitempty"`
	// Confirmed lets an operator have the last word.
	Confirmed bool `json:"confirmed,omitempty"`
}

type part struct {
	Group string `json:"group"`
	Count int    `json:"count"`
}

type screening struct {
	Name        string       `json:"name"`
	People      []string     `json:"people,omitempty"`
	Departments []string     `json:"departments,omitempty"`
	Level       string       `json:"level,omitempty"` // that counts until they are cleared
	Desks       []string     `json:"desks,omitempty"` // doors
	Passing     []string     `json:"passing,omitempty"`
	Lasts       site.Lasting `json:"lasts"`
	Count       int          `json:"count,omitempty"`
	LogOnly     bool         `json:"logOnly,omitempty"`
	Off         bool         `json:"off,omitempty"`
}

type emergency struct {
	Name      string             `json:"name"`
	Does      site.EmergencyKind `json:"does"`
	Where     []where            `json:"where"`
	Overrides bool               `json:"overrides,omitempty"`
	Reads     int                `json:"reads,omitempty"`
	CardEnds  bool               `json:"cardEnds,omitempty"`
	Off       bool               `json:"off,omitempty"`
}

// labels names people by what tells them apart in a file: their name, and of several of one name which of them it is.
func labels(c *site.Config) (of map[site.ID]string, who map[string]site.ID) {
	many, nth := map[string]int{}, map[string]int{}
	for _, p := range c.People {
		many[p.Name]++
	}
	of, who = map[site.ID]string{}, map[string]site.ID{}
	for _, p := range c.People {
		label := p.Name
		if nth[p.Name]++; many[p.Name] > 1 {
			label = fmt.Sprintf("%s #%d", p.Name, nth[p.Name])
		}
		of[p.ID], who[label] = label, p.ID
	}
	return of, who
}

// rules reads what must hold besides what a plan asks, once doors, schedules and people are known.
func (n *naming) rules(f *file, c *site.Config) {
	doors := func(at string, names []string) (out []site.ID) {
		for _, d := range names {
			out = append(out, n.find(at, "door", d))
		}
		return out
	}
	for _, x := range f.Interlocks {
		at := "interlock " + x.Name
		v := site.Interlock{
			ID: n.add("interlock", x.Name), Name: x.Name, DoorIDs: doors(at, x.Doors), Waits: x.Waits, Exits: x.Exits,
			Off: x.Off,
		}
		n.check(at, v.Check())
		n.check(at, c.CheckInterlock(&v))
		c.Interlocks = append(c.Interlocks, v)
	}
	_, who := labels(c)
	person := func(at, name string) site.ID {
		id, ok := who[name]
		if !ok {
			n.note(at, fmt.Errorf("there is no person %q; of several of one name write which of them, as in %q", name,
				name+" #1"))
		}
		return id
	}
	for i, x := range f.Areas {
		for _, name := range x.Exempt {
			c.Areas[i].ExemptIDs = append(c.Areas[i].ExemptIDs, person("area "+x.Name, name))
		}
		n.check("area "+x.Name, c.Areas[i].Check())
	}
	for _, x := range f.Groups {
		at := "group " + x.Name
		v := site.Group{ID: n.add("group", x.Name), Name: x.Name, PersonIDs: []site.ID{}, DepartmentIDs: []site.ID{}}
		for _, name := range x.People {
			v.PersonIDs = append(v.PersonIDs, person(at, name))
		}
		for _, name := range x.Departments {
			v.DepartmentIDs = append(v.DepartmentIDs, n.find(at, "department", name))
		}
		n.check(at, v.Check())
		c.Groups = append(c.Groups, v)
	}
	n.together(f, c, doors)
	n.screenings(f, c, doors, person)
	n.emergencies(f, c)
	n.alarmAreas(f, c, doors)
	n.reactions(f, c)
}

// together reads where one proof is not enough.
func (n *naming) together(f *file, c *site.Config, doors func(at string, names []string) []site.ID) {
	for _, x := range f.Proofs {
		at := "several proofs " + x.Name
		v := site.Proofs{ID: n.add("several proofs", x.Name), Name: x.Name, Kind: x.Kind, DoorIDs: doors(at, x.Doors),
			ScheduleID: n.find(at, "schedule", x.Schedule), Both: x.Both, Window: x.Window, Combinations: []site.Combination{},
			Off: x.Off}
		for _, m := range x.Combinations {
			out := site.Combination{Total: m.Total, Parts: []site.Part{}, Listed: m.Listed, Confirmed: m.Confirmed}
			for _, p := range m.Parts {
				out.Parts = append(out.Parts, site.Part{GroupID: n.find(at, "group", p.Group), Count: p.Count})
			}
			v.Combinations = append(v.Combinations, out)
		}
		n.check(at, v.Check())
		c.Proofs = append(c.Proofs, v)
	}
}

// screenings reads who must be cleared.
func (n *naming) screenings(
	f *file, c *site.Config, doors func(at string, names []string) []site.ID, person func(at, name string) site.ID,
) {
	for _, x := range f.Screenings {
		at := "screening " + x.Name
		v := site.Screening{ID: n.add("screening", x.Name), Name: x.Name, PersonIDs: []site.ID{}, DepartmentIDs: []site.ID{},
			DeskIDs: doors(at, x.Desks),
			PassIDs: doors(at, x.Passing), Lasts: x.Lasts, Count: x.Count, LogOnly: x.LogOnly, Off: x.Off}
		for _, name := range x.People {
			v.PersonIDs = append(v.PersonIDs, person(at, name))
		}
		for _, name := range x.Departments {
			v.DepartmentIDs = append(v.DepartmentIDs, n.find(at, "department", name))
		}
		if x.Level != "" {
			v.LevelID = n.find(at, "level", x.Level)
		}
		n.check(at, v.Check())
		c.Screenings = append(c.Screenings, v)
	}
}

// emergencies reads lockdowns and fire releases, and which inputs start them.
func (n *naming) emergencies(f *file, c *site.Config) {
	for _, x := range f.Emergencies {
		at := "emergency " + x.Name
		v := site.Emergency{ID: n.add("emergency", x.Name), Name: x.Name, Does: x.Does, Targets: []site.Target{},
			Overrides: x.Overrides,
			Reads:     x.Reads, CardEnds: x.CardEnds, Off: x.Off}
		for _, w := range x.Where {
			v.Targets = append(v.Targets, n.target(at, w))
		}
		n.check(at, v.Check())
		c.Emergencies = append(c.Emergencies, v)
	}
	for i, x := range f.Inputs {
		if x.Starts != "" {
			c.Inputs[i].EmergencyID = n.find("input "+x.Name, "emergency", x.Starts)
			n.check("input "+x.Name, c.CheckInput(&c.Inputs[i]))
			n.check("input "+x.Name, c.Inputs[i].Check())
		}
	}
}

func writeRules(f *file, c *site.Config, name map[site.ID]string, floors map[site.ID]site.Floor) {
	named := func(ids []site.ID, of map[site.ID]string) (out []string) {
		for _, id := range ids {
			out = append(out, of[id])
		}
		return out
	}
	for _, x := range c.Interlocks {
		f.Interlocks = append(f.Interlocks, interlock{x.Name, named(x.DoorIDs, name), x.Waits, x.Exits, x.Off})
	}
	people, _ := labels(c)
	for _, x := range c.Areas {
		f.Areas = append(f.Areas, area{x.Name, x.Mode, x.Timed, x.Forget, x.Most, x.Two, x.Strict,
			named(x.ExemptIDs, people)})
	}
	for _, x := range c.Groups {
		name[x.ID] = x.Name
		f.Groups = append(f.Groups, group{x.Name, named(x.PersonIDs, people), named(x.DepartmentIDs, name)})
	}
	for _, x := range c.Proofs {
		out := proofs{x.Name, x.Kind, named(x.DoorIDs, name), name[x.ScheduleID], x.Both, x.Window, nil, x.Off}
		for _, m := range x.Combinations {
			w := combination{Total: m.Total, Listed: m.Listed, Confirmed: m.Confirmed}
			for _, p := range m.Parts {
				w.Parts = append(w.Parts, part{name[p.GroupID], p.Count})
			}
			out.Combinations = append(out.Combinations, w)
		}
		f.Proofs = append(f.Proofs, out)
	}
	for _, x := range c.Screenings {
		f.Screenings = append(f.Screenings, screening{x.Name, named(x.PersonIDs, people), named(x.DepartmentIDs, name),
			name[x.LevelID],
			named(x.DeskIDs, name), named(x.PassIDs, name), x.Lasts, x.Count, x.LogOnly, x.Off})
	}
	for _, x := range c.Emergencies {
		out := emergency{x.Name, x.Does, []where{}, x.Overrides, x.Reads, x.CardEnds, x.Off}
		for _, t := range x.Targets {
			out.Where = append(out.Where, whereOf(t, name, floors))
		}
		f.Emergencies = append(f.Emergencies, out)
	}
	writeAlarmAreas(f, c, name)
	writeReactions(f, c, name, floors)
}
