package panel

import (
	"encoding/json"
	"fmt"

	"amberkeystone/core/site"
)

// Save writes all that parts must remember over a restart, by door and by the name of the part; the same memory gives
// the same bytes.
func (p *Panel) Save() ([]byte, error) {
	all := map[site.ID]map[string]json.RawMessage{}
	for _, place := range p.places {
		for _, s := range place.Parts {
			b, err := s.Save()
			if err != nil {
				return nil, fmt.Errorf("what %s of door %d remembers: %w", s.Name, place.ID, err)
			}
			if b == nil {
				continue
			}
			if all[place.ID] == nil {
				all[place.ID] = map[string]json.RawMessage{}
			}
			all[place.ID][s.Name] = b
		}
	}
	for _, s := range p.common {
		b, err := s.Save()
		if err != nil {
			return nil, fmt.Errorf("what %s remember: %w", s.Name, err)
		}
		if b != nil {
			if all[0] == nil {
				all[0] = map[string]json.RawMessage{}
			}
			all[0][s.Name] = b
		}
	}
	return json.Marshal(all)
}

// Restore takes what Save wrote, after New and before Start. Doors and parts that are no longer there are forgotten.
func (p *Panel) Restore(b []byte) error {
	var all map[site.ID]map[string]json.RawMessage
	if err := json.Unmarshal(b, &all); err != nil {
		return fmt.Errorf("what rules remember: %w", err)
	}
	for _, s := range p.common {
		if kept, ok := all[0][s.Name]; ok {
			if err := s.Restore(kept); err != nil {
				return fmt.Errorf("what %s remember: %w", s.Name, err)
			}
		}
	}
	for _, place := range p.places {
		for _, s := range place.Parts {
			kept, ok := all[place.ID][s.Name]
			if !ok {
				continue
			}
			if err := s.Restore(kept); err != nil {
				return fmt.Errorf("what %s of door %d remembers: %w", s.Name, place.ID, err)
			}
		}
	}
	return nil
}
