package pass

import (
	"encoding/json"
	"fmt"
	"slices"

	"amberkeystone/core/site"
)

// Switch is what is on or off until somebody says otherwise: to embed in a part that follows such an order. Several may
// have it on, each by a rule of its own, or by hand: that is rule 0. It tells when one of them turns it on or off, and
// that the door is to be asked anew; it remembers over a restart.
type Switch struct {
	Still
	Asked, Began, Ended Kind // what turns it, and what it tells
	by                  []site.ID
}

// On reports whether it is on.
func (s *Switch) On() bool { return len(s.by) > 0 }

// By lists the rules that have it on, in ascending order. Callers do not change it.
func (s *Switch) By() []site.ID { return s.by }

// Follow turns it where somebody asks for that. Whoever ends it by hand ends all.
func (s *Switch) Follow(f *Fact, do *Effects) {
	at, there := slices.BinarySearch(s.by, f.Rule)
	kind := s.Ended
	switch {
	case f.Kind != s.Asked:
		return
	case f.Active && !there:
		s.by, kind = slices.Insert(slices.Clone(s.by), at, f.Rule), s.Began
	case !f.Active && f.Rule == 0 && s.On():
		s.by = nil
	case !f.Active && there:
		s.by = slices.Delete(slices.Clone(s.by), at, at+1)
	default:
		return
	}
	do.Tell(Fact{At: f.At, Kind: kind, Note: f.Note, Rule: f.Rule, Person: f.Person, Input: f.Input, Point: f.Point})
	do.Tell(Fact{At: f.At, Kind: HoldsNow})
}

// switched is what is remembered. Where rules have it on they are listed; who knows none of them reads that it is on.
type switched struct {
	On bool      `json:"on"`
	By []site.ID `json:"by,omitempty"`
}

// Save writes that it is on.
func (s *Switch) Save() ([]byte, error) {
	if !s.On() {
		return nil, nil
	}
	if slices.Equal(s.by, []site.ID{0}) {
		return json.Marshal(switched{On: true})
	}
	return json.Marshal(switched{true, s.by})
}

// Restore takes it back.
func (s *Switch) Restore(b []byte) error {
	var kept switched
	if err := json.Unmarshal(b, &kept); err != nil {
		return fmt.Errorf("%s: %w", s.Began, err)
	}
	s.by = slices.Compact(slices.Sorted(slices.Values(kept.By)))
	if kept.On && len(s.by) == 0 {
		s.by = []site.ID{0}
	}
	return nil
}

// GoOn takes over whether it was on.
func (s *Switch) GoOn(was *Switch) { s.by = was.by }
