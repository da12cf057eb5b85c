// Package toggle is the card toggle: several reads of one card in a row flip a door, free becomes card and anything
// else becomes free (design 3.7). Toggle is a part, and the layer that it makes.
package toggle

import (
	"encoding/json"
	"time"

	"amberkeystone/core/asks"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Toggle is that of one door.
type Toggle struct {
	Rule *site.Toggle // nil: the door has none
	// May reports whether whoever a pass is of may toggle there.
	May func(p *pass.Pass) bool
	// Below are the layers below: it ends when they next change.
	Below asks.Layers
	memory
	reads pass.Row
}

// memory is all that survives a restart.
type memory struct {
	On    bool          `json:"on"`
	Mode  hours.Mode    `json:"mode"`
	Until hours.Instant `json:"until,omitempty"` // 0: until it is ended by reads
}

func (t *Toggle) inUse() bool { return t.Rule != nil && !t.Rule.Off }

// Follow counts reads, which are decided as any other, and flips the door.
func (t *Toggle) Follow(f *pass.Fact, do *pass.Effects) {
	switch {
	case f.Kind == pass.Due, f.Kind == pass.ClockSet && t.On && f.At >= t.Wake():
		t.end(f, do)
	case f.Kind == pass.WasGranted && !f.Out && f.With == 0 && t.inUse() && t.May(f.Attempt):
		t.read(f, do)
	}
}

func (t *Toggle) read(f *pass.Fact, do *pass.Effects) {
	n := t.reads.Read(f, time.Duration(t.Rule.Seconds)*time.Second)
	switch {
	case t.On && (t.Rule.Single || n >= t.Rule.Reads):
		t.end(f, do)
	case !t.On && n >= t.Rule.Reads:
		t.begin(f, do)
	}
}

func (t *Toggle) begin(f *pass.Fact, do *pass.Effects) {
	t.reads.Forget()
	now, _ := t.Below.At(f.At)
	t.memory = memory{On: true, Mode: hours.Free, Until: t.Below.Next(f.At).OrZero()}
	if now.Mode == hours.Free {
		t.Mode = hours.Card
	}
	do.Tell(pass.Fact{
		At: f.At, Kind: pass.ToggledOn, Person: f.Person, Mode: t.Mode, Next: t.Until, Layer: hours.CardToggle,
	})
	do.Tell(pass.Fact{At: f.At, Kind: pass.HoldsNow})
}

func (t *Toggle) end(f *pass.Fact, do *pass.Effects) {
	t.reads.Forget()
	if !t.On {
		return
	}
	t.memory = memory{}
	do.Tell(pass.Fact{At: f.At, Kind: pass.ToggledOff, Person: f.Person})
	do.Tell(pass.Fact{At: f.At, Kind: pass.HoldsNow})
}

// Says asks what the door was flipped to.
func (t *Toggle) Says(at hours.Instant) (a asks.Answer, ok bool, until hours.Instant) {
	if !t.On || at >= t.Wake() {
		return asks.Answer{}, false, hours.Never
	}
	a.Mode, a.Layer = t.Mode, hours.CardToggle
	return a, true, t.Wake()
}

// Wake returns when the plan next changes, which ends it.
func (t *Toggle) Wake() hours.Instant {
	if !t.On {
		return hours.Never
	}
	return t.Until.OrNever()
}

// Shift keeps what is left for the next read; the plan's change is a time of the day.
func (t *Toggle) Shift(by time.Duration) { t.reads.Shift(by) }

// Save writes what the door was flipped to.
func (t *Toggle) Save() ([]byte, error) {
	if !t.On {
		return nil, nil
	}
	return json.Marshal(t.memory)
}

// Restore takes it back.
func (t *Toggle) Restore(b []byte) error { return json.Unmarshal(b, &t.memory) }

// Take goes on, until the new plan next changes; where the door is toggled no more, that ends.
func (t *Toggle) Take(now hours.Instant, was pass.Part, do *pass.Effects) {
	old := was.(*Toggle)
	t.memory, t.reads = old.memory, old.reads
	switch {
	case t.On && !t.inUse():
		t.end(&pass.Fact{At: now}, do)
	case t.On:
		t.Until = t.Below.Next(now).OrZero()
	}
}

// Retire ends nothing that anybody would see.
func (t *Toggle) Retire(hours.Instant, *pass.Effects) {}
