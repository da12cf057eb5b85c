package site

import (
	"fmt"
	"slices"
	"strings"
	"time"
)

// Toggle flips a door by several reads of one card in a row: free becomes card, anything else becomes free (design
// 3.7).
type Toggle struct {
	Reads   int  `json:"reads" doc:"How many reads of one card flip the door: 2 or 3"`
	Seconds int  `json:"seconds" doc:"Within which they come"`
	Single  bool `json:"single,omitempty" doc:"A single read by somebody who may ends it"`
	Off     bool `json:"off,omitempty" doc:"Not in use; its settings are kept"`
}

// UsualToggle is two reads within 5 seconds (common practice).
func UsualToggle() Toggle { return Toggle{Reads: 2, Seconds: 5} }

func (t *Toggle) check(fs *Faults) {
	if t == nil {
		return
	}
	fs.within("Toggle.reads", "toggle.reads", t.Reads)
	fs.within("Toggle.seconds", "toggle.seconds", t.Seconds)
}

// Interlock is doors of one controller of which at most one may be other than closed and locked (design 3.10).
type Interlock struct {
	ID      ID     `json:"id"`
	Name    string `json:"name"`
	DoorIDs []ID   `json:"doorIds"`
	Waits   bool   `json:"waits" doc:"A grant waits until the other door is closed and locked; else it is refused"`
	Exits   bool   `json:"exits,omitempty" doc:"Exit requests that release a lock are held back too"`
	Off     bool   `json:"off,omitempty" doc:"Not in use; its settings are kept"`
}

// Check says what is wrong with an interlock by itself.
func (x Interlock) Check() Faults {
	var fs Faults
	fs.name(x.Name)
	fs.add(len(x.DoorIDs) < 2, "doorIds", "choose at least two doors")
	fs.doors(x.DoorIDs)
	return fs
}

// CheckInterlock says what is wrong with an interlock among the doors of a configuration.
func (c *Config) CheckInterlock(x *Interlock) Faults {
	var fs Faults
	var first *Door
	for i, id := range x.DoorIDs {
		field, d := fmt.Sprintf("doorIds[%d]", i), c.Door(id)
		if d == nil {
			continue // the write refuses it
		}
		if first == nil {
			first = d
		}
		fs.add(d.ControllerID != first.ControllerID, field, "%s and %s are at different controllers; choose doors of one",
			first.Name, d.Name)
		fs.add(d.Contact == NotFitted, field,
			"%s has no door contact, so nobody can tell whether it is closed; fit one first", d.Name)
	}
	return fs
}

// Group is people who fill a part of a combination.
type Group struct {
	ID            ID     `json:"id"`
	Name          string `json:"name"`
	PersonIDs     []ID   `json:"personIds"`
	DepartmentIDs []ID   `json:"departmentIds" doc:"Whose members are in it, also those who join later"`
}

// Check says what is wrong with a group.
func (g Group) Check() Faults {
	var fs Faults
	fs.name(g.Name)
	fs.once("personIds", g.PersonIDs, "person")
	fs.once("departmentIds", g.DepartmentIDs, "department")
	return fs
}

// one is a noun with its article.
func one(noun string) string {
	if strings.ContainsAny(noun[:1], "aeiou") {
		return "an " + noun
	}
	return "a " + noun
}

func (fs *Faults) once(field string, ids []ID, what string) {
	for i, id := range ids {
		at := fmt.Sprintf("%s[%d]", field, i)
		fs.add(id == 0, at, "choose %s", one(what))
		fs.add(slices.Contains(ids[:i], id), at, "this %s is listed twice", what)
	}
}

// Members lists the people of a group, by number.
func (c *Config) Members(g *Group) []ID {
	var out []ID
	for _, p := range c.People {
		if g.Has(p) {
			out = append(out, p.ID)
		}
	}
	return out
}

// Has reports whether somebody is in the group; nobody is nobody.
func (g *Group) Has(p *Person) bool {
	if p == nil {
		return false
	}
	return slices.Contains(g.PersonIDs, p.ID) ||
		slices.ContainsFunc(p.DepartmentIDs, func(d ID) bool { return slices.Contains(g.DepartmentIDs, d) })
}

// Regrouped reports whether somebody is in other groups than they were in another configuration.
func (c *Config) Regrouped(was *Config, person ID) bool {
	before, after := was.Person(person), c.Person(person)
	return slices.ContainsFunc(c.Groups, func(g Group) bool { return g.Has(before) != g.Has(after) })
}

// Passback is what an area does about somebody who comes in again without having left.
type Passback string

// What areas do (IEC 60839-11-1 calls the last two soft and hard, from memory).
const (
	PassbackOff    Passback = "off"
	PassbackLog    Passback = "log"
	PassbackRefuse Passback = "refuse"
)

// Area is a room, or several, that readers lead into and out of (design 3.9).
type Area struct {
	ID        ID       `json:"id"`
	Name      string   `json:"name"`
	Mode      Passback `json:"mode" enum:"off,log,refuse" doc:"About somebody who is not where the reader leads from"`
	Timed     int      `json:"timed,omitempty" doc:"Only for so many minutes after somebody has come in; 0: until they leave"`
	Forget    string   `json:"forget,omitempty" doc:"Everybody's place is forgotten daily at this time, 04:00; empty: never"`
	Most      int      `json:"most,omitempty" doc:"People inside at the most; 0: no limit"`
	Two       bool     `json:"two,omitempty" doc:"Nobody comes in alone while it is empty"`
	Strict    bool     `json:"strict,omitempty" doc:"Off the network it goes on refusing by what it knows"`
	ExemptIDs []ID     `json:"exemptIds" doc:"People who are never refused for where they are"`
}

// ForgetMinute is the minute of the day at which places are forgotten.
func (a *Area) ForgetMinute() (minute int, ok bool) {
	t, err := time.Parse("15:04", a.Forget)
	if a.Forget == "" || err != nil {
		return 0, false
	}
	return 60*t.Hour() + t.Minute(), true
}

// Check says what is wrong with an area.
func (a Area) Check() Faults {
	var fs Faults
	fs.name(a.Name)
	fs.add(!oneOf(a.Mode, PassbackOff, PassbackLog, PassbackRefuse), "mode", "%q is not off, log or refuse", a.Mode)
	fs.within("Area.timed", "timed", a.Timed)
	fs.within("Area.most", "most", a.Most)
	_, ok := a.ForgetMinute()
	fs.add(a.Forget != "" && !ok, "forget", "write a time of the day, such as 04:00")
	fs.once("exemptIds", a.ExemptIDs, "person")
	return fs
}

// ProofKind is what a door wants besides a grant.
type ProofKind string

// The kinds of rule (design 3.8).
const (
	AnotherProof ProofKind = "another proof" // another kind of credential of the same person
	Approval     ProofKind = "approval"      // somebody else, whose level approves
	Combined     ProofKind = "combination"   // people who together fill the parts of a combination
)

// Proofs is a rule by which one proof is not enough: several kinds of it, or several people (design 3.8).
type Proofs struct {
	ID           ID            `json:"id"`
	Name         string        `json:"name"`
	Kind         ProofKind     `json:"kind" enum:"another proof,approval,combination"`
	DoorIDs      []ID          `json:"doorIds"`
	ScheduleID   ID            `json:"scheduleId" doc:"When it holds"`
	Both         bool          `json:"both,omitempty" doc:"On the way out too"`
	Window       int           `json:"window" doc:"Within which the others come, counted from the last one"`
	Combinations []Combination `json:"combinations" doc:"Of combinations: any of them opens"`
	Off          bool          `json:"off,omitempty" doc:"Not in use; its settings are kept"`
}

// Combination is so many people, some of whom are of groups.
type Combination struct {
	Total  int    `json:"total" doc:"People in all, 2 to 5"`
	Parts  []Part `json:"parts"`
	Listed bool   `json:"listed,omitempty" doc:"They come in the order of the parts, the others after them"`
	// Confirmed lets an operator have the last word, within the same window.
	Confirmed bool `json:"confirmed,omitempty" doc:"Once all are there an operator at the screen confirms, or refuses"`
}

// Part is so many people of a group.
type Part struct {
	GroupID ID  `json:"groupId"`
	Count   int `json:"count"`
}

// MostTogether is how many people a combination is made of at the most (common practice: 2 to 5 cards).
const MostTogether = 5

// Check says what is wrong with a rule by itself.
func (p Proofs) Check() Faults {
	var fs Faults
	fs.name(p.Name)
	fs.add(!oneOf(p.Kind, AnotherProof, Approval, Combined), "kind", "%q is not a kind of rule", p.Kind)
	fs.add(len(p.DoorIDs) == 0, "doorIds", "choose the doors where it holds")
	fs.doors(p.DoorIDs)
	fs.add(p.ScheduleID == 0, "scheduleId", "choose when it holds; Always is a schedule too")
	fs.within("Proofs.window", "window", p.Window)
	fs.add(p.Kind == Combined && len(p.Combinations) == 0, "combinations", "say which people come in together")
	fs.add(p.Kind != Combined && len(p.Combinations) > 0, "combinations", "only a rule of combinations has any")
	for i, c := range p.Combinations {
		field, sum := fmt.Sprintf("combinations[%d]", i), 0
		fs.add(c.Total < 2 || c.Total > MostTogether, field+".total", "%d people in all: it is 2 to %d", c.Total,
			MostTogether)
		for k, part := range c.Parts {
			at := fmt.Sprintf("%s.parts[%d]", field, k)
			fs.add(part.GroupID == 0, at+".groupId", "choose a group")
			fs.add(part.Count < 1 || part.Count > MostTogether, at+".count", "%d people: it is 1 to %d", part.Count,
				MostTogether)
			sum += part.Count
		}
		fs.add(sum > c.Total, field+".total", "its parts want %d people, and it is of %d in all: it could never open", sum,
			c.Total)
	}
	return fs
}
