// Package holds is the operator hold: a person at the screen holds a door in a mode, until a time or until released.
package holds

import (
	"encoding/json"
	"time"

	"amberkeystone/core/asks"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
)

// Hold is the hold of one door: a part, and the layer that it makes. The zero value holds nothing.
type Hold struct{ memory }

type memory struct {
	On    bool          `json:"on"`
	Mode  hours.Mode    `json:"mode"`
	Until hours.Instant `json:"until,omitempty"` // 0: until released
	Since hours.Instant `json:"since,omitempty"`
	By    string        `json:"by,omitempty"` // who, and why
}

// Follow begins and ends the hold. One that would already be over does not begin.
func (h *Hold) Follow(f *pass.Fact, do *pass.Effects) {
	switch {
	case f.Kind == pass.HoldAsked && f.Active && f.Next.OrNever() > f.At:
		h.memory = memory{On: true, Mode: f.Mode, Until: f.Next, Since: f.At, By: f.Note}
		do.Tell(pass.Fact{
			At: f.At, Kind: pass.HoldBegan, Mode: f.Mode, Next: f.Next, Layer: hours.OperatorHold, Note: f.Note,
		})
		do.Tell(pass.Fact{At: f.At, Kind: pass.HoldsNow})
	case f.Kind == pass.HoldAsked, f.Kind == pass.Due, f.Kind == pass.ClockSet && f.At >= h.Wake():
		if !h.On {
			return
		}
		h.memory = memory{}
		do.Tell(pass.Fact{At: f.At, Kind: pass.HoldEnded, Note: f.Note})
		do.Tell(pass.Fact{At: f.At, Kind: pass.HoldsNow})
	}
}

// Says asks what the operator holds the door in.
func (h *Hold) Says(at hours.Instant) (a asks.Answer, ok bool, until hours.Instant) {
	if at >= h.Wake() || !h.On {
		return asks.Answer{}, false, hours.Never
	}
	a.Mode, a.Layer = h.Mode, hours.OperatorHold
	return a, true, h.Wake()
}

// Wake returns when the hold ends by itself.
func (h *Hold) Wake() hours.Instant {
	if !h.On {
		return hours.Never
	}
	return h.Until.OrNever()
}

// Shift moves nothing: a person said a time of the day, not how long.
func (h *Hold) Shift(time.Duration) {}

// Save writes the hold.
func (h *Hold) Save() ([]byte, error) {
	if !h.On {
		return nil, nil
	}
	return json.Marshal(h.memory)
}

// Restore takes it back.
func (h *Hold) Restore(b []byte) error { return json.Unmarshal(b, &h.memory) }

// Take goes on: a new image ends no hold.
func (h *Hold) Take(_ hours.Instant, was pass.Part, _ *pass.Effects) { h.memory = was.(*Hold).memory }

// Retire ends nothing that anybody would see: the door is no more.
func (h *Hold) Retire(hours.Instant, *pass.Effects) {}
