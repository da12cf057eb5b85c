package keypad

import (
	"encoding/json"
	"maps"
	"slices"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Holders are those who typed wrong PINs after their card, where that locks the card and not the keypad. All doors of a
// controller share them; other controllers know nothing of it.
type Holders struct {
	Tries  int
	Length time.Duration
	of     map[site.ID]holder
}

// holder is somebody's wrong PINs.
type holder struct {
	Door site.ID `json:"door"` // of the last one
	memory
}

// NewHolders returns those of a controller where nobody typed anything yet; nil where the keypad is locked instead.
func NewHolders(s *site.Settings) *Holders {
	if s.PINLocks != site.LocksCard {
		return nil
	}
	return &Holders{Tries: s.PINTries, Length: time.Duration(s.PINLock) * time.Minute, of: map[site.ID]holder{}}
}

// Locked is somebody whose card is locked, until an instant.
type Locked struct {
	Person site.ID       `json:"person"`
	Until  hours.Instant `json:"until"`
}

// At lists whose cards were locked at a door and still are, by number.
func (h *Holders) At(door site.ID, now hours.Instant) (out []Locked) {
	if h == nil {
		return nil
	}
	for _, id := range slices.Sorted(maps.Keys(h.of)) {
		if x := h.of[id]; x.Door == door && now < x.Until {
			out = append(out, Locked{id, x.Until})
		}
	}
	return out
}

// HolderPart counts the wrong PINs at one door. That of the first door keeps what is remembered.
type HolderPart struct {
	Holders *Holders
	Door    site.ID
	First   bool
}

// Follow counts those who are known by their card.
func (p *HolderPart) Follow(f *pass.Fact, do *pass.Effects) {
	switch {
	case p.Holders == nil:
	case f.Kind == pass.LiftAsked:
		for _, x := range p.Holders.At(p.Door, f.At) {
			delete(p.Holders.of, x.Person)
			do.Tell(pass.Fact{At: f.At, Kind: pass.KeypadLifted, Person: x.Person, Note: f.Note})
		}
	case f.Kind == pass.WasGranted && f.Person != 0:
		delete(p.Holders.of, f.Person)
	case byCard(f):
		x := p.Holders.of[f.Person]
		x.Door, x.Wrong = p.Door, x.Wrong+1
		if x.Wrong >= p.Holders.Tries {
			x.memory = memory{Until: f.At.Add(p.Holders.Length)}
			do.Tell(pass.Fact{At: f.At, Kind: pass.KeypadWasLocked, Out: f.Out, Person: f.Person, Next: x.Until})
			do.Show(f.Out, pass.ShowLocked)
		}
		p.Holders.of[f.Person] = x
	}
}

// byCard reports whether a fact is a wrong PIN after a card that is known.
func byCard(f *pass.Fact) bool {
	return f.Kind == pass.WasRefused && f.Reason == pass.WrongPIN && f.Person != 0 && f.Attempt != nil && f.Attempt.HasCard
}

// Wake returns Never: the gate looks at the time.
func (p *HolderPart) Wake() hours.Instant { return hours.Never }

// Shift keeps what is left, once for all doors.
func (p *HolderPart) Shift(by time.Duration) {
	if p.Holders == nil || !p.First {
		return
	}
	for id, x := range p.Holders.of {
		x.Until = x.Until.Shift(by)
		p.Holders.of[id] = x
	}
}

// Save writes them.
func (p *HolderPart) Save() ([]byte, error) {
	if p.Holders == nil || !p.First || len(p.Holders.of) == 0 {
		return nil, nil
	}
	return json.Marshal(p.Holders.of)
}

// Restore takes them back, where cards are locked still.
func (p *HolderPart) Restore(b []byte) error {
	if p.Holders == nil {
		return nil
	}
	return json.Unmarshal(b, &p.Holders.of)
}

// Take goes on.
func (p *HolderPart) Take(_ hours.Instant, was pass.Part, _ *pass.Effects) {
	if old := was.(*HolderPart).Holders; p.Holders != nil && old != nil {
		p.Holders.of = old.of
	}
}

// Retire ends nothing.
func (p *HolderPart) Retire(hours.Instant, *pass.Effects) {}

// HolderGate refuses whoever's card is locked. The way out stays open to them.
type HolderGate struct{ Holders *Holders }

// Check reads the lock and changes nothing.
func (g HolderGate) Check(p *pass.Pass) pass.Verdict {
	if !p.Known || p.Out || !p.HasCard {
		return pass.Yes
	}
	x, ok := g.Holders.of[p.Person]
	if !ok || p.At >= x.Until {
		return pass.Yes
	}
	p.Trace.Add(pass.CheckKeypad, false, int64(p.Person), int64(x.Until))
	return pass.No(pass.KeypadLocked, x.Until)
}
