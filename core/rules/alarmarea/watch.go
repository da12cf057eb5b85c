package alarmarea

import (
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// Wiring is what the areas of a controller hang on.
type Wiring struct {
	Points  map[string]site.ID // the terminals of wires, and which door or input they are of
	Outputs map[site.ID]point.Address
	// Arms and Disarms report whether whoever a pass is of may do that there.
	Arms, Disarms func(p *pass.Pass) bool
}

// Watch is the alarm areas of a controller: a part that hears every event. Without areas it does nothing.
type Watch struct {
	Areas []*Area
	Wiring
	of     map[site.ID]*Area // of a door or an input
	keys   map[site.ID]*Area // by the input that arms
	edges  []hours.Instant   // when the schedule of each area next opens or closes
	active map[site.ID]bool  // inputs
	faults map[string]bool   // wires in trouble
	reads  pass.Row
}

// New returns the watch of some areas. Start it with a fact of kind Started.
func New(areas []*Area, w Wiring) *Watch {
	out := &Watch{
		Areas: areas, Wiring: w, of: map[site.ID]*Area{}, keys: map[site.ID]*Area{}, active: map[site.ID]bool{},
		faults: map[string]bool{},
	}
	for _, a := range areas {
		for _, d := range a.Doors {
			out.of[d.ID] = a
		}
		for _, x := range a.Rule.Inputs {
			out.of[x.InputID] = a
		}
		if a.Rule.KeyID != 0 {
			out.keys[a.Rule.KeyID] = a
		}
		out.edges = append(out.edges, hours.Never)
	}
	return out
}

// Area finds an area by number, or nil.
func (w *Watch) Area(id site.ID) *Area {
	for _, a := range w.Areas {
		if a.Rule.ID == id {
			return a
		}
	}
	return nil
}

// Follow takes note of what happens, and arms, disarms and raises alarms.
func (w *Watch) Follow(f *pass.Fact, do *pass.Effects) {
	turned := f.Kind == pass.InputActive && !w.active[f.Input] || f.Kind == pass.InputRest && w.active[f.Input]
	w.note(f)
	if len(w.Areas) == 0 {
		return
	}
	switch f.Kind {
	case pass.Due:
		for _, a := range w.Areas {
			if a.Until.OrNever() <= f.At {
				a.due(f.At, w.standOpen(a, a.Left), do)
			}
		}
		w.look(f.At, do)
	case pass.Started, pass.ImageLoaded, pass.ClockSet:
		w.look(f.At, do)
	case pass.AlarmAsked:
		w.asked(f, do)
	case pass.WasGranted, pass.WasRefused, pass.AwaitsPIN:
		w.read(f, do)
	case pass.InputActive, pass.InputRest:
		if turned {
			w.key(f, do)
		}
	case pass.InputIs:
		w.found(f, do)
	}
	w.sense(f, do)
}

// note keeps what inputs and wires are in, also while there is no area: one that is added later knows them.
func (w *Watch) note(f *pass.Fact) {
	switch f.Kind {
	case pass.InputActive:
		w.active[f.Input] = true
	case pass.InputRest:
		delete(w.active, f.Input)
	case pass.InputIs:
		w.active[f.Input] = f.Active
	case pass.WireCut, pass.WireShorted:
		w.faults[f.Point] = true
	case pass.WireSound:
		delete(w.faults, f.Point)
	}
}

// sense raises the alarm of an area that is armed.
func (w *Watch) sense(f *pass.Fact, do *pass.Effects) {
	where := pass.Fact{At: f.At, Door: f.Door, Input: f.Input, Point: f.Point}
	switch f.Kind {
	case pass.Opened, pass.OpenedAlone:
		if a := w.of[f.Door]; a != nil {
			a.enter(f.At, f.Door, do)
		}
	case pass.Forced, pass.ReaderLost, pass.ReaderOpened:
		if a := w.of[f.Door]; a != nil {
			a.raise(where, f.Door, do)
		}
	case pass.InputActive:
		if a := w.of[f.Input]; a != nil && !(a.State == Entering && a.onWay(f.Input)) {
			a.raise(where, f.Input, do)
		}
	case pass.WireCut, pass.WireShorted:
		member := w.Points[f.Point]
		if a := w.of[member]; a != nil {
			a.raise(where, member, do)
		}
	case pass.TamperOpened: // whoever opens the box could silence every area
		for _, a := range w.Areas {
			a.raise(where, 0, do)
		}
	}
}

func (a *Area) onWay(input site.ID) bool {
	return slices.Contains(a.Rule.Inputs, site.Watched{InputID: input, OnWay: true})
}

// standOpen lists the doors and inputs of an area that stand open, or whose wire is in trouble, without those that are
// left out.
func (w *Watch) standOpen(a *Area, left []site.ID) (out []site.ID) {
	for _, d := range a.Doors {
		if d.Open() || w.inTrouble(d.ID) {
			out = append(out, d.ID)
		}
	}
	for _, x := range a.Rule.Inputs {
		if w.active[x.InputID] || w.inTrouble(x.InputID) {
			out = append(out, x.InputID)
		}
	}
	return slices.DeleteFunc(out, func(id site.ID) bool { return slices.Contains(left, id) })
}

// prevents lists what prevents arming: all that stands open but what is only active on the way, which counts once the
// exit delay is over; without one it counts at once.
func (w *Watch) prevents(a *Area, left []site.ID) []site.ID {
	if a.Rule.ExitDelay == 0 {
		return w.standOpen(a, left)
	}
	return slices.DeleteFunc(w.standOpen(a, left), func(id site.ID) bool { return a.onWay(id) && !w.inTrouble(id) })
}

func (w *Watch) inTrouble(member site.ID) bool {
	for at := range w.faults {
		if w.Points[at] == member {
			return true
		}
	}
	return false
}

// asked arms or disarms an area as somebody wants who is not there.
func (w *Watch) asked(f *pass.Fact, do *pass.Effects) {
	a := w.Area(f.Rule)
	if a == nil {
		return
	}
	who := by{Note: f.Note}
	if !f.Active {
		a.disarm(f.At, who, do)
		return
	}
	var left []site.ID
	for _, id := range f.Left {
		if a.Rule.Watches(id) && !slices.Contains(left, id) {
			left = append(left, id)
		}
	}
	a.arm(f.At, who, left, w.prevents(a, left), do)
}

// key does what the input of an area is for.
func (w *Watch) key(f *pass.Fact, do *pass.Effects) {
	a := w.keys[f.Input]
	if a == nil {
		return
	}
	who, active := by{Input: f.Input}, f.Kind == pass.InputActive
	switch {
	case active && a.State == Disarmed:
		a.arm(f.At, who, nil, w.prevents(a, nil), do)
	case active && a.Rule.KeyWorks == site.KeyTurns, !active && a.Rule.KeyWorks == site.KeyHolds:
		a.disarm(f.At, who, do)
	}
}

// found makes up for what was done with the input of an area while the controller was off, where it tells: one that is
// held arms and disarms what it has armed; of a press nothing is left.
func (w *Watch) found(f *pass.Fact, do *pass.Effects) {
	a := w.keys[f.Input]
	if a == nil || a.Rule.KeyWorks != site.KeyHolds {
		return
	}
	who := by{Input: f.Input}
	switch {
	case f.Active && a.State == Disarmed:
		a.arm(f.At, who, nil, w.prevents(a, nil), do)
	case !f.Active && a.By.Input == f.Input:
		a.disarm(f.At, who, do)
	}
}

// read counts the reads of a card at the doors of an area. Those count for arming that only lack a PIN, or that a
// barred door refuses: a shop is armed after it has closed. Disarming takes a grant; who gives card and PIN disarms at
// once.
func (w *Watch) read(f *pass.Fact, do *pass.Effects) {
	a := w.of[f.Door]
	if a == nil || a.Rule.Reads == 0 || f.With != 0 || f.Person == 0 || f.Attempt == nil || !f.Attempt.HasCard {
		return
	}
	closed := a.State.Closed()
	switch {
	case f.Kind == pass.WasRefused && f.Reason != pass.DoorBarred, closed && f.Kind != pass.WasGranted:
		return
	case !closed && f.Attempt.Typed(): // its card was counted when it waited for the PIN
		return
	case !w.Disarms(f.Attempt) && (closed || !w.Arms(f.Attempt)):
		return
	}
	if w.reads.Read(f, site.ReadsWithin*time.Second) < a.Rule.Reads && !(closed && (a.Rule.Single || f.Attempt.Typed())) {
		return
	}
	w.reads.Forget()
	who, show := by{Person: f.Person, Door: f.Door}, pass.ShowUnarmed
	if closed {
		a.disarm(f.At, who, do)
	} else {
		show = pass.ShowOpen
		if a.arm(f.At, who, nil, w.prevents(a, nil), do) {
			show = pass.ShowArming
		}
		if a.State == Armed {
			show = pass.ShowArmed
		}
	}
	for _, d := range a.Doors {
		if d.ID == f.Door {
			do.ShowAt(d.Place, f.Out, show)
		}
	}
}

// look arms and disarms by the schedules, where they have opened or closed since.
func (w *Watch) look(now hours.Instant, do *pass.Effects) {
	for i, a := range w.Areas {
		if a.Schedule == nil {
			a.Saw, w.edges[i] = false, hours.Never
			continue
		}
		open := a.Schedule.OpenAt(a.Local, now)
		w.edges[i] = a.Schedule.Next(a.Local, now)
		if open == a.Saw {
			continue
		}
		a.Saw = open
		who := by{Schedule: a.Rule.ScheduleID}
		if open {
			a.arm(now, who, nil, w.prevents(a, nil), do)
		} else {
			a.disarm(now, who, do)
		}
	}
}

// Claim turns outputs on; what it does not want is left to others.
func (w *Watch) Claim(say func(out point.Address, rank point.Rank, on bool)) {
	for _, a := range w.Areas {
		for _, on := range []struct {
			is  bool
			ids []site.ID
		}{
			{a.State == Alarm, a.Rule.AlarmIDs}, {a.armed(), a.Rule.ArmedIDs},
			{a.State == Leaving || a.State == Entering, a.Rule.DelayIDs},
		} {
			for _, id := range on.ids {
				if at, ok := w.Outputs[id]; ok && on.is {
					say(at, point.Reaction, true)
				}
			}
		}
	}
}

// Wake returns when a delay or a sound is over, or a schedule opens or closes.
func (w *Watch) Wake() hours.Instant {
	wake := hours.Never
	for i, a := range w.Areas {
		wake = min(wake, a.Until.OrNever(), w.edges[i])
	}
	return wake
}

// Shift keeps what is left of delays; schedules are looked at anew when the clock is set.
func (w *Watch) Shift(by time.Duration) {
	for _, a := range w.Areas {
		a.Until, a.Since = shifted(a.Until, by), shifted(a.Since, by)
	}
	w.reads.Shift(by)
}

// shifted moves a time along; 0 is none.
func shifted(t hours.Instant, by time.Duration) hours.Instant {
	if t == 0 {
		return 0
	}
	return t.Shift(by)
}

// Save remembers what areas are in.
func (w *Watch) Save() ([]byte, error) {
	kept := map[site.ID]memory{}
	for _, a := range w.Areas {
		if a.State != Disarmed || a.Saw {
			kept[a.Rule.ID] = a.memory
		}
	}
	if len(kept) == 0 {
		return nil, nil
	}
	return json.Marshal(kept)
}

// Restore takes it back.
func (w *Watch) Restore(b []byte) error {
	var kept map[site.ID]memory
	if err := json.Unmarshal(b, &kept); err != nil {
		return fmt.Errorf("alarm areas: %w", err)
	}
	for _, a := range w.Areas {
		if m, ok := kept[a.Rule.ID]; ok {
			if m.State >= endOfStates {
				return fmt.Errorf("alarm areas: area %d is in no state", a.Rule.ID)
			}
			a.memory = m
		}
	}
	return nil
}

// Take goes on: a new image disarms nothing but what it no longer has.
func (w *Watch) Take(now hours.Instant, was pass.Part, do *pass.Effects) {
	old := was.(*Watch)
	w.active, w.faults, w.reads = old.active, old.faults, old.reads
	for _, before := range old.Areas {
		a := w.Area(before.Rule.ID)
		if a == nil {
			before.Doors = nil
			before.disarm(now, by{Note: "it is no more in use"}, do)
			continue
		}
		a.memory = before.memory
	}
}

// Retire ends nothing that anybody would see.
func (w *Watch) Retire(hours.Instant, *pass.Effects) {}

// Now is what an area is in.
type Now struct {
	Area      site.ID       `json:"area"`
	State     State         `json:"state"`
	Since     hours.Instant `json:"since,omitempty"`     // of armed, and of the delays
	Until     hours.Instant `json:"until,omitempty"`     // of a delay, or of what sounds
	StandOpen []site.ID     `json:"standOpen,omitempty"` // what would prevent arming now
	Left      []site.ID     `json:"left,omitempty"`      // what was left out
	Raised    []site.ID     `json:"raised,omitempty"`    // what has raised the alarm; 0: the controller's box
	Person    site.ID       `json:"person,omitempty"`    // who armed it, by card
	Input     site.ID       `json:"input,omitempty"`     // the input by which it was armed
	Schedule  site.ID       `json:"schedule,omitempty"`  // the schedule by which it was armed
	Note      string        `json:"note,omitempty"`      // who armed it, and why
}

// Now tells what all areas are in, in their order.
func (w *Watch) Now() []Now {
	var out []Now
	for _, a := range w.Areas {
		out = append(out, Now{
			Area: a.Rule.ID, State: a.State, Since: a.Since, Until: a.Until, StandOpen: w.prevents(a, nil), Left: a.Left,
			Raised: a.Raised, Person: a.By.Person, Input: a.By.Input, Schedule: a.By.Schedule, Note: a.By.Note,
		})
	}
	return out
}
