package site

import (
	"fmt"
	"slices"
)

// KeyWorks is how an input arms an alarm area.
type KeyWorks string

// How inputs arm.
const (
	KeyHolds KeyWorks = "holds" // it is armed while the input is active
	KeyTurns KeyWorks = "turns" // each time that the input becomes active it is armed, or disarmed
	KeyArms  KeyWorks = "arms"  // it is armed when the input becomes active, and disarmed by other means
)

// AlarmArea is doors and inputs of one controller that are watched together while nobody is to be there (design 3.13).
// It stands in for an intrusion panel: inputs tell it what moves, and outputs tell others what it found.
type AlarmArea struct {
	ID      ID        `json:"id"`
	Name    string    `json:"name"`
	DoorIDs []ID      `json:"doorIds" doc:"Its doors, of one controller. While it is armed only those come in who may disarm it"`
	Inputs  []Watched `json:"inputs" doc:"Inputs of that controller which raise the alarm while it is armed"`

	Reads      int      `json:"reads,omitempty" doc:"So many reads of one card in a row at its doors arm it, and disarm it, by those whose level may; 0: no card does"`
	Single     bool     `json:"single,omitempty" doc:"One read by somebody who may disarm it disarms it"`
	ScheduleID ID       `json:"scheduleId,omitempty" doc:"It is armed when this opens, and disarmed when it closes; 0: at no hour"`
	KeyID      ID       `json:"keyId,omitempty" doc:"The input that arms it, of the same controller; 0: none"`
	KeyWorks   KeyWorks `json:"keyWorks,omitempty" enum:"holds,turns,arms" doc:"holds: armed while the input is active. turns: each time it becomes active. arms: it never disarms"`

	ExitDelay  int `json:"exitDelay" doc:"From arming until it is armed: so long may people still leave"`
	EntryDelay int `json:"entryDelay" doc:"From the opening of a door by somebody who may until the alarm: so long may they still disarm it"`
	Sounds     int `json:"sounds" doc:"So long its alarm outputs are on, unless it is disarmed before"`

	AlarmIDs []ID `json:"alarmIds" doc:"Outputs that are on during an alarm"`
	ArmedIDs []ID `json:"armedIds" doc:"Outputs that are on while it is armed"`
	DelayIDs []ID `json:"delayIds" doc:"Outputs that are on while a delay runs"`
	Off      bool `json:"off,omitempty" doc:"Not in use; its settings are kept"`
}

// Watched is an input that belongs to an alarm area.
type Watched struct {
	InputID ID   `json:"inputId"`
	OnWay   bool `json:"onWay,omitempty" doc:"It lies on the way in and out: it is left alone while a delay runs, and does not prevent arming"`
}

// UsualAlarmArea is two reads at the reader, 30 s to leave and to disarm, and 3 min of sound (common practice).
func UsualAlarmArea(door ID) AlarmArea {
	a := AlarmArea{
		DoorIDs: []ID{}, Inputs: []Watched{}, Reads: 2, ExitDelay: 30, EntryDelay: 30, Sounds: 180,
		AlarmIDs: []ID{}, ArmedIDs: []ID{}, DelayIDs: []ID{},
	}
	if door != 0 {
		a.DoorIDs = append(a.DoorIDs, door)
	}
	return a
}

// Check says what is wrong with an alarm area by itself.
func (a AlarmArea) Check() Faults {
	var fs Faults
	fs.name(a.Name)
	fs.add(len(a.DoorIDs)+len(a.Inputs) == 0, "doorIds", "choose a door or an input that belongs to it")
	fs.doors(a.DoorIDs)
	seen := map[ID]bool{}
	for i, w := range a.Inputs {
		at := fmt.Sprintf("inputs[%d].inputId", i)
		fs.add(w.InputID == 0, at, "choose an input")
		fs.add(seen[w.InputID], at, "this input is listed twice")
		seen[w.InputID] = true
	}
	if a.Reads != 0 {
		fs.within("AlarmArea.reads", "reads", a.Reads)
	}
	fs.add(a.Reads != 0 && len(a.DoorIDs) == 0, "reads",
		"it has no door whose reader could count them; add one, or let no card arm it")
	fs.add(a.Single && a.Reads == 0, "single", "say how many reads of a card arm it first")
	fs.add(a.KeyID != 0 && !oneOf(a.KeyWorks, KeyHolds, KeyTurns, KeyArms), "keyWorks",
		"say whether it holds, turns or arms")
	fs.add(a.KeyID == 0 && a.KeyWorks != "", "keyId", "choose the input that arms it")
	fs.add(a.KeyID != 0 && seen[a.KeyID], "keyId",
		"the input that arms it cannot be one that raises its alarm; choose another")
	fs.within("AlarmArea.exitDelay", "exitDelay", a.ExitDelay)
	fs.within("AlarmArea.entryDelay", "entryDelay", a.EntryDelay)
	fs.within("AlarmArea.sounds", "sounds", a.Sounds)
	fs.once("alarmIds", a.AlarmIDs, "output")
	fs.once("armedIds", a.ArmedIDs, "output")
	fs.once("delayIds", a.DelayIDs, "output")
	return fs
}

// Watches reports whether a door or an input belongs to it.
func (a *AlarmArea) Watches(id ID) bool {
	return slices.Contains(a.DoorIDs, id) || slices.ContainsFunc(a.Inputs, func(w Watched) bool { return w.InputID == id })
}

// Outputs lists the outputs that it turns on, each once.
func (a *AlarmArea) Outputs() []ID {
	all := slices.Concat(a.AlarmIDs, a.ArmedIDs, a.DelayIDs)
	slices.Sort(all)
	return slices.Compact(all)
}

// AlarmArea finds an alarm area by number, or nil.
func (c *Config) AlarmArea(id ID) *AlarmArea {
	for i := range c.AlarmAreas {
		if c.AlarmAreas[i].ID == id {
			return &c.AlarmAreas[i]
		}
	}
	return nil
}

// AlarmAreaOf finds the alarm area to which a door or an input belongs, in use or not; nil where there is none.
func (c *Config) AlarmAreaOf(id ID) *AlarmArea {
	for i := range c.AlarmAreas {
		if c.AlarmAreas[i].Watches(id) {
			return &c.AlarmAreas[i]
		}
	}
	return nil
}

// Guards lists the schedules while which the alarm areas of doors are armed, by door; doors without one are not in it.
func (c *Config) Guards() map[ID]ID {
	out := map[ID]ID{}
	for i := range c.AlarmAreas {
		if a := &c.AlarmAreas[i]; !a.Off && a.ScheduleID != 0 {
			for _, door := range a.DoorIDs {
				out[door] = a.ScheduleID
			}
		}
	}
	return out
}

// AlarmController is the controller that keeps an alarm area: that of its first door, else of its first input; 0: none.
func (c *Config) AlarmController(a *AlarmArea) ID {
	for _, id := range a.DoorIDs {
		if d := c.Door(id); d != nil {
			return d.ControllerID
		}
	}
	for _, w := range a.Inputs {
		if x := c.Input(w.InputID); x != nil {
			return x.ControllerID
		}
	}
	return 0
}

// Input finds a named input by number, or nil.
func (c *Config) Input(id ID) *Input {
	for i := range c.Inputs {
		if c.Inputs[i].ID == id {
			return &c.Inputs[i]
		}
	}
	return nil
}

// CheckAlarmArea says what is wrong with an alarm area among the rest of a configuration: all that it works with hangs
// on one controller, which so keeps it with the server down, and belongs to no other.
func (c *Config) CheckAlarmArea(a *AlarmArea) Faults {
	var fs Faults
	home := c.Controller(c.AlarmController(a))
	elsewhere := func(controller ID, field, what string) {
		if home != nil {
			fs.add(controller != home.ID, field,
				"%s is not at %s, which keeps the area; choose one of there, or make two areas", what, home.Name)
		}
	}
	for i, id := range a.DoorIDs {
		field, d := fmt.Sprintf("doorIds[%d]", i), c.Door(id)
		if d == nil {
			continue // the write refuses it
		}
		elsewhere(d.ControllerID, field, d.Name)
		fs.add(d.Car != nil, field, "%s is an elevator; choose doors", d.Name)
		fs.taken(c, a, id, field, d.Name)
	}
	for i, w := range a.Inputs {
		if x := c.Input(w.InputID); x != nil {
			field := fmt.Sprintf("inputs[%d].inputId", i)
			elsewhere(x.ControllerID, field, x.Name)
			fs.taken(c, a, w.InputID, field, x.Name)
		}
	}
	if x := c.Input(a.KeyID); x != nil {
		elsewhere(x.ControllerID, "keyId", x.Name)
		fs.add(x.Use != InputSense, "keyId", "%s starts an emergency; choose an input that is free to use", x.Name)
	}
	for _, list := range []struct {
		field string
		ids   []ID
	}{{"alarmIds", a.AlarmIDs}, {"armedIds", a.ArmedIDs}, {"delayIds", a.DelayIDs}} {
		for i, id := range list.ids {
			if x := c.Output(id); x != nil {
				elsewhere(x.ControllerID, fmt.Sprintf("%s[%d]", list.field, i), x.Name)
			}
		}
	}
	return fs
}

// taken refuses what belongs to another alarm area.
func (fs *Faults) taken(c *Config, a *AlarmArea, id ID, field, name string) {
	for i := range c.AlarmAreas {
		if o := &c.AlarmAreas[i]; o.ID != a.ID && o.Watches(id) {
			fs.add(true, field, "%s belongs to the alarm area %s; take it out there first", name, o.Name)
		}
	}
}
