package sitefile

import "amberkeystone/core/site"

// alarmArea is doors and inputs of one controller that are watched while nobody is there.
type alarmArea struct {
	Name       string        `json:"name"`
	Controller string        `json:"controller,omitempty"` // of its inputs and outputs, whose names are unique there only
	Doors      []string      `json:"doors,omitempty"`
	Inputs     []watched     `json:"inputs,omitempty"`
	Reads      int           `json:"reads,omitempty"`
	Single     bool          `json:"single,omitempty"`
	Schedule   string        `json:"armedDuring,omitempty"`
	Key        string        `json:"key,omitempty"` // an input
	Works      site.KeyWorks `json:"keyWorks,omitempty"`
	Exit       int           `json:"exitDelay"`
	Entry      int           `json:"entryDelay"`
	Sounds     int           `json:"sounds"`
	Alarm      []string      `json:"onDuringAlarm,omitempty"` // outputs
	Armed      []string      `json:"onWhileArmed,omitempty"`
	Delay      []string      `json:"onDuringDelays,omitempty"`
	Off        bool          `json:"off,omitempty"`
}

type watched struct {
	Name  string `json:"name"`
	OnWay bool   `json:"onWay,omitempty"`
}

// alarmAreas reads them, once doors, inputs and outputs are known.
func (n *naming) alarmAreas(f *file, c *site.Config, doors func(at string, names []string) []site.ID) {
	for _, x := range f.AlarmAreas {
		at := "alarm area " + x.Name
		named := func(kind string, names []string) []site.ID {
			out := []site.ID{}
			for _, name := range names {
				out = append(out, n.find(at, kind, x.Controller, name))
			}
			return out
		}
		a := site.AlarmArea{
			ID: n.add("alarm area", x.Name), Name: x.Name, DoorIDs: doors(at, x.Doors), Inputs: []site.Watched{},
			Reads: x.Reads, Single: x.Single, KeyWorks: x.Works, ExitDelay: x.Exit, EntryDelay: x.Entry, Sounds: x.Sounds,
			Off: x.Off, AlarmIDs: named("output", x.Alarm), ArmedIDs: named("output", x.Armed),
			DelayIDs: named("output", x.Delay),
		}
		for _, w := range x.Inputs {
			a.Inputs = append(a.Inputs, site.Watched{InputID: n.find(at, "input", x.Controller, w.Name), OnWay: w.OnWay})
		}
		if x.Schedule != "" {
			a.ScheduleID = n.find(at, "schedule", x.Schedule)
		}
		if x.Key != "" {
			a.KeyID = n.find(at, "input", x.Controller, x.Key)
		}
		n.checkAs(at, ofAlarmArea, a.Check())
		n.checkAs(at, ofAlarmArea, c.CheckAlarmArea(&a))
		c.AlarmAreas = append(c.AlarmAreas, a)
	}
}

func writeAlarmAreas(f *file, c *site.Config, name map[site.ID]string) {
	inputs, outputs := map[site.ID]string{}, map[site.ID]string{}
	for _, x := range c.Inputs {
		inputs[x.ID] = x.Name
	}
	for _, x := range c.Outputs {
		outputs[x.ID] = x.Name
	}
	named := func(ids []site.ID, of map[site.ID]string) (out []string) {
		for _, id := range ids {
			out = append(out, of[id])
		}
		return out
	}
	for i := range c.AlarmAreas {
		a := &c.AlarmAreas[i]
		name[a.ID] = a.Name
		x := alarmArea{
			Name: a.Name, Doors: named(a.DoorIDs, name), Reads: a.Reads, Single: a.Single, Schedule: name[a.ScheduleID],
			Key: inputs[a.KeyID], Works: a.KeyWorks, Exit: a.ExitDelay, Entry: a.EntryDelay, Sounds: a.Sounds, Off: a.Off,
			Alarm: named(a.AlarmIDs, outputs), Armed: named(a.ArmedIDs, outputs), Delay: named(a.DelayIDs, outputs),
		}
		for _, w := range a.Inputs {
			x.Inputs = append(x.Inputs, watched{inputs[w.InputID], w.OnWay})
		}
		if len(a.Inputs)+len(a.Outputs()) > 0 || a.KeyID != 0 {
			x.Controller = name[c.AlarmController(a)]
		}
		f.AlarmAreas = append(f.AlarmAreas, x)
	}
}
