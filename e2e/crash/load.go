package crash

import (
	"context"
	"errors"
	"maps"
	"math/rand/v2"
	"sync"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/rack"
)

// saved is what is known of one person: what was last acknowledged, and what was sent since and may have been written.
type saved struct {
	acked versioned
	maybe []bool // suspended, of saves that got no answer
}

// running is load that goes on until it is ended.
type running struct {
	cancel context.CancelFunc
	all    sync.WaitGroup
}

func (l *running) end() {
	l.cancel()
	l.all.Wait()
}

// load has cards read at doors, people saved and controllers sent to, all at once.
func (w *world) load(ctx context.Context, r *rand.Rand) *running {
	ctx, cancel := context.WithCancel(ctx)
	l := &running{cancel: cancel}
	repeat := func(every time.Duration, seed uint64, do func(*rand.Rand)) {
		l.all.Go(func() {
			mine := rand.New(rand.NewPCG(seed, 3))
			for ctx.Err() == nil {
				do(mine)
				select {
				case <-ctx.Done():
				case <-time.After(time.Duration(mine.Int64N(int64(every)))):
				}
			}
		})
	}
	for range 3 {
		repeat(20*time.Millisecond, r.Uint64(), w.hand)
	}
	for worker := range 3 { // each has its own people, so that none gets in another's way
		repeat(
			15*time.Millisecond,
			r.Uint64(),
			func(r *rand.Rand) { w.save(w.people[r.IntN(len(w.people)/3)*3+worker]) },
		)
	}
	repeat(250*time.Millisecond, r.Uint64(), func(*rand.Rand) {
		_ = w.call("POST", "/api/send", map[string]any{"controllers": []int64{}}, nil) // the server may be gone
	})
	return l
}

// hand does something at a door, as people do; the rack may be gone.
func (w *world) hand(r *rand.Rand) {
	d := w.doors[r.IntN(len(w.doors))]
	for serial, id := range w.serials {
		if id != d.ControllerID {
			continue
		}
		at := site.PortPoints(d.Port)
		h := rack.Hand{
			Serial: serial,
			Point:  at.In,
			Do:     []string{"present", "present", "present", "open", "close", "close"}[r.IntN(6)],
		}
		if h.Do != "present" { // the leaf, or the button
			h.Point = []point.Address{at.Contact, at.Contact, at.Exit}[r.IntN(3)]
		}
		if h.Do == "present" {
			bits, err := cards.Standard26.Encode(42, uint64(12300+r.IntN(120)))
			if err != nil {
				return
			}
			h.Bits = bits
		}
		_, _ = w.hands.Do(h)
	}
}

// save turns the suspension of a person over, and remembers whether it was acknowledged.
func (w *world) save(id int64) {
	w.mu.Lock()
	s := w.saved[id]
	uncertain := len(s.maybe) > 0
	w.mu.Unlock()
	base := s.acked
	if uncertain {
		if w.get(path(id), &base) != nil {
			return
		}
	}
	next := versioned{base.Rev, maps.Clone(base.Value)}
	suspended, _ := base.Value["suspended"].(bool)
	next.Value["suspended"] = !suspended
	w.mu.Lock()
	s.maybe = append(s.maybe, !suspended)
	w.mu.Unlock()
	var got versioned
	err := w.call("PUT", path(id), next, &got)
	w.mu.Lock()
	defer w.mu.Unlock()
	var refused *refusal
	switch {
	case err == nil:
		s.acked, s.maybe = got, nil
		w.report.Saves++
	case errors.As(err, &refused) && refused.status < 500:
		s.maybe = s.maybe[:len(s.maybe)-1]
		w.report.find("a save was refused: %s", err)
	}
}
