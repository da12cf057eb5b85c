package site

import (
	"fmt"
	"slices"
)

// EmergencyKind is what an emergency does.
type EmergencyKind string

// What emergencies do (design 3.13).
const (
	Lockdown    EmergencyKind = "lockdown"
	FireRelease EmergencyKind = "fire release"
)

// Emergency is a lockdown or a fire release that is made ready: for which doors, who starts it and who ends it.
type Emergency struct {
	ID      ID            `json:"id"`
	Name    string        `json:"name"`
	Does    EmergencyKind `json:"does" enum:"lockdown,fire release"`
	Targets []Target      `json:"targets" doc:"Doors, door sets, floors, sites, or everything; what is added to them later is meant too"`
	// Overrides lets those in by their card whose level overrides lockdown.
	Overrides bool `json:"overrides,omitempty" doc:"Of lockdown: whose level overrides it comes in by card; else nobody does"`
	Reads     int  `json:"reads,omitempty" doc:"Of lockdown: so many reads of one card in a row at any of its doors start it, by somebody whose level locks down; 0: no card does"`
	CardEnds  bool `json:"cardEnds,omitempty" doc:"As many reads end it too; else it ends at the screen only"`
	Off       bool `json:"off,omitempty" doc:"Not in use; its settings are kept"`
}

// ReadsWithin is the time within which the reads of a card come that start a lockdown, in seconds (common practice).
const ReadsWithin = 5

// Check says what is wrong with an emergency by itself.
func (e Emergency) Check() Faults {
	var fs Faults
	fs.name(e.Name)
	fs.add(!oneOf(e.Does, Lockdown, FireRelease), "does", "%q is not lockdown or fire release", e.Does)
	fs.add(len(e.Targets) == 0, "targets", "choose the doors that it is for")
	for i, t := range e.Targets {
		field := fmt.Sprintf("targets[%d]", i)
		t.check(&fs, field)
		fs.add(t.Kind == AtReader, field+".kind", "it is for doors as a whole; choose a door")
		fs.add(slices.Contains(e.Targets[:i], t), field, "this place is listed twice")
	}
	if e.Reads != 0 {
		fs.within("Emergency.reads", "reads", e.Reads)
	}
	lock := e.Does == Lockdown
	fs.add(e.Reads != 0 && !lock, "reads", "a card starts a lockdown only; fire release has inputs and the screen")
	fs.add(e.Overrides && !lock, "overrides", "fire release lets everybody pass; there is nothing to override")
	fs.add(e.CardEnds && e.Reads == 0, "cardEnds", "say how many reads of a card start it first")
	return fs
}

// EmergencyDoors lists the doors that an emergency is for, each once, in the order of the configuration.
func (p *Places) EmergencyDoors(e *Emergency) (out []ID) {
	for _, d := range p.doors {
		if slices.ContainsFunc(e.Targets, func(t Target) bool { return p.Covers(t, d) }) {
			out = append(out, d)
		}
	}
	return out
}

// Emergency finds an emergency by number, or nil.
func (c *Config) Emergency(id ID) *Emergency {
	for i := range c.Emergencies {
		if c.Emergencies[i].ID == id {
			return &c.Emergencies[i]
		}
	}
	return nil
}

// EmergencyName names an emergency; nothing where there is none.
func (c *Config) EmergencyName(id ID) string {
	if e := c.Emergency(id); e != nil {
		return e.Name
	}
	return ""
}

// CheckInput says what is wrong with an input among the emergencies of a configuration.
func (c *Config) CheckInput(i *Input) Faults {
	var fs Faults
	e := c.Emergency(i.EmergencyID)
	if e == nil {
		return nil // nothing, or the write refuses it
	}
	fs.add(i.Use == InputLockdown && e.Does != Lockdown, "emergencyId",
		"%s is a fire release, and the input starts a lockdown", e.Name)
	fs.add(i.Use == InputFire && e.Does != FireRelease, "emergencyId",
		"%s is a lockdown, and the input starts a fire release", e.Name)
	return fs
}
