package panel

import (
	"encoding/json"
	"fmt"

	"amberkeystone/core/rules"
	"amberkeystone/core/site"
)

// memory is what a controller's rules remember of a door, over a restart too.
type memory struct {
	First *rules.FirstCard `json:"first,omitempty"`
	In    *keypad          `json:"in,omitempty"`
	Out   *keypad          `json:"out,omitempty"`
}

// Save writes all that rules remember; the same memory gives the same bytes.
func (p *Panel) Save() ([]byte, error) {
	all := map[site.ID]memory{}
	for i := range p.doors {
		var m memory
		d := &p.doors[i]
		if d.first.Given {
			m.First = &d.first
		}
		if k := &d.sides[0].keypad; *k != (keypad{}) {
			m.In = k
		}
		if k := &d.sides[1].keypad; *k != (keypad{}) {
			m.Out = k
		}
		if m != (memory{}) {
			all[d.Config.ID] = m
		}
	}
	return json.Marshal(all)
}

// Restore takes what Save wrote, after New and before Start. Doors that are no longer there are forgotten.
func (p *Panel) Restore(b []byte) error {
	var all map[site.ID]memory
	if err := json.Unmarshal(b, &all); err != nil {
		return fmt.Errorf("what rules remember: %w", err)
	}
	for i := range p.doors {
		d := &p.doors[i]
		m := all[d.Config.ID]
		if m.First != nil {
			d.first = *m.First
		}
		if m.In != nil {
			d.sides[0].keypad = *m.In
		}
		if m.Out != nil {
			d.sides[1].keypad = *m.Out
		}
	}
	return nil
}
