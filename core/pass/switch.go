package pass

import (
	"encoding/json"
	"fmt"
)

// Switch is what is on or off until somebody says otherwise: to embed in a part that follows such an order. It tells
// when it turns, and that the door is to be asked anew; it remembers over a restart.
type Switch struct {
	Still
	Asked, Began, Ended Kind // what turns it, and what it tells
	on                  bool
}

// On reports whether it is on.
func (s *Switch) On() bool { return s.on }

// Follow turns it where somebody asks for that.
func (s *Switch) Follow(f *Fact, do *Effects) {
	if f.Kind != s.Asked || f.Active == s.on {
		return
	}
	s.on = f.Active
	kind := s.Ended
	if s.on {
		kind = s.Began
	}
	do.Tell(Fact{At: f.At, Kind: kind, Note: f.Note})
	do.Tell(Fact{At: f.At, Kind: HoldsNow})
}

type switched struct {
	On bool `json:"on"`
}

// Save writes that it is on.
func (s *Switch) Save() ([]byte, error) {
	if !s.on {
		return nil, nil
	}
	return json.Marshal(switched{true})
}

// Restore takes it back.
func (s *Switch) Restore(b []byte) error {
	var kept switched
	if err := json.Unmarshal(b, &kept); err != nil {
		return fmt.Errorf("%s: %w", s.Began, err)
	}
	s.on = kept.On
	return nil
}

// GoOn takes over whether it was on.
func (s *Switch) GoOn(was *Switch) { s.on = was.on }
