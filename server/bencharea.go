package server

import (
	"amberkeystone/core/point"
	"amberkeystone/core/prove"
	"amberkeystone/core/rules/alarmarea"
	"amberkeystone/core/site"
	"amberkeystone/rack"
)

// BenchArea is the alarm area of a door at the bench: what it is in, and what can be moved there.
type BenchArea struct {
	ID     site.ID      `json:"id"`
	Name   string       `json:"name"`
	State  string       `json:"state" enum:"disarmed,leaving,armed,entering,alarm"`
	Called string       `json:"called" doc:"The state as people say it"`
	Words  string       `json:"words"`
	Inputs []BenchInput `json:"inputs" doc:"Its inputs, and the one that arms it"`
}

// BenchInput is an input of it.
type BenchInput struct {
	ID     site.ID `json:"id"`
	Name   string  `json:"name"`
	Active bool    `json:"active"`
	Key    bool    `json:"key" doc:"It arms the area"`
}

// benchArea is an alarm area as its controller tells of it, by the book of what that holds; all names its inputs.
func benchArea(b, all *prove.Book, a *site.AlarmArea, n *alarmarea.Now, v *rack.View) *BenchArea {
	out := &BenchArea{
		ID: a.ID, Name: b.Name(a.ID), State: n.State.String(), Called: n.State.Words(), Words: b.AlarmStateWords(n, v.Clock),
		Inputs: []BenchInput{},
	}
	add := func(id site.ID, key bool) {
		x := all.Config.Input(id)
		if x == nil {
			return
		}
		in := BenchInput{ID: id, Name: x.Name, Key: key}
		if at, ok := v.Input(x.At); ok {
			w := x.Wire()
			in.Active = w.Level(at.Circuit) == point.Active
		}
		out.Inputs = append(out.Inputs, in)
	}
	for _, w := range a.Inputs {
		add(w.InputID, false)
	}
	if a.KeyID != 0 {
		add(a.KeyID, true)
	}
	return out
}
