package hours

import (
	"cmp"
	"slices"
	"sort"
	"time"
)

// Window is a stretch of time in which a dated change asks for a mode.
type Window struct {
	From, Until Instant
	Mode        Mode
	Change      int64 // which dated change; of two at one moment the higher decides, as the later made
}

// Flatten cuts windows so that none overlap: where two meet, the later made change has the time.
func Flatten(windows []Window) []Window {
	if len(windows) < 2 {
		return windows
	}
	type turn struct {
		at  Instant
		w   *Window
		off bool
	}
	turns := make([]turn, 0, 2*len(windows))
	for i := range windows {
		turns = append(turns, turn{windows[i].From, &windows[i], false}, turn{windows[i].Until, &windows[i], true})
	}
	slices.SortFunc(turns, func(a, b turn) int { return cmp.Compare(a.at, b.at) })
	open := map[int64]int{}
	modes := map[int64]Mode{}
	var out []Window
	for i := 0; i < len(turns); {
		at := turns[i].at
		for ; i < len(turns) && turns[i].at == at; i++ {
			w := turns[i].w
			modes[w.Change] = w.Mode
			if turns[i].off {
				open[w.Change]--
			} else {
				open[w.Change]++
			}
		}
		if i == len(turns) {
			break
		}
		top := int64(-1)
		for id, n := range open {
			if n > 0 {
				top = max(top, id)
			}
		}
		if top < 0 {
			continue
		}
		until := turns[i].at
		if n := len(out); n > 0 && out[n-1].Until == at && out[n-1].Change == top {
			out[n-1].Until = until
		} else {
			out = append(out, Window{at, until, modes[top], top})
		}
	}
	return out
}

// Layer is what decides at a door.
type Layer uint8

// The layers, lowest first (design 3.3, layers 8 to 1). A timeline knows the first four.
const (
	PlanDefault Layer = iota
	PlanWeek
	PlanHoliday
	DatedChange
	CardToggle
	OperatorHold
	Lockdown
	FireRelease
	AlarmArmed // an alarm area keeps the door from standing free; above all but lockdown and fire release
)

// Timeline is what one door asks over time: its plan, with the dated changes laid over it.
type Timeline struct {
	Plan *Plan
	Local
	Windows []Window // ascending, not overlapping; see Flatten
}

// Moment is what a timeline says of an instant.
type Moment struct {
	Ask
	Layer  Layer
	Change int64 // of DatedChange
}

// window returns the index of the first window that ends after i.
func (t *Timeline) window(i Instant) int {
	return sort.Search(len(t.Windows), func(k int) bool { return t.Windows[k].Until > i })
}

// At returns what the door asks at an instant, and which layer says so.
func (t *Timeline) At(i Instant) Moment {
	if k := t.window(i); k < len(t.Windows) && t.Windows[k].From <= i {
		w := &t.Windows[k]
		return Moment{Ask{Mode: w.Mode}, DatedChange, w.Change}
	}
	ask, from := t.Plan.AskAt(t.Local, i)
	return Moment{Ask: ask, Layer: Layer(from)}
}

// Within returns the windows that are open at some time in [from, to).
func (t *Timeline) Within(from, to Instant) []Window {
	k := t.window(from)
	n := sort.Search(len(t.Windows), func(k int) bool { return t.Windows[k].From >= to })
	return t.Windows[k:max(k, n)]
}

// Nobody reports whether an instant is on a holiday for nobody.
func (t *Timeline) Nobody(i Instant) bool {
	w := t.Wall(i)
	return t.Plan.Nobody(t.Calendar, w.Day, w.Minute)
}

// NobodyTurns returns the first minute after i at which a holiday for nobody begins or ends, or until where none does
// before.
func (t *Timeline) NobodyTurns(i, until Instant) Instant {
	if !slices.Contains(t.Plan.nobody, true) {
		return until
	}
	const minute = Instant(time.Minute / time.Millisecond)
	was := t.Nobody(i)
	for at := i; at < until; at += minute - at%minute {
		if t.Nobody(at) != was {
			return at
		}
	}
	return until
}

// Asked returns the mode that an ask comes to while no first card has come.
func (t *Timeline) Asked(a Ask) Mode {
	if a.First {
		return t.Plan.Waiting()
	}
	return a.Mode
}

// InWindow returns the first instant at or after i that is in a dated change, or Never.
func (t *Timeline) InWindow(i Instant) Instant {
	k := t.window(i)
	if k == len(t.Windows) {
		return Never
	}
	return max(i, t.Windows[k].From)
}

// WindowEnd returns when the dated change ends that holds at i, or Never where none does.
func (t *Timeline) WindowEnd(i Instant) Instant {
	if k := t.window(i); k < len(t.Windows) && t.Windows[k].From <= i {
		return t.Windows[k].Until
	}
	return Never
}

// Next returns the first instant after i at which the door asks something else, or Never.
func (t *Timeline) Next(i Instant) Instant {
	if len(t.Windows) == 0 {
		return t.Plan.Next(t.Local, i)
	}
	was := t.At(i).Ask
	for at := i; ; {
		at = t.step(at)
		if at == Never || !t.At(at).Same(was) {
			return at
		}
	}
}

// step returns an instant after i before which nothing changes.
func (t *Timeline) step(i Instant) Instant {
	k := t.window(i)
	if k == len(t.Windows) {
		return t.Plan.Next(t.Local, i)
	}
	if w := &t.Windows[k]; w.From <= i {
		return w.Until
	}
	return min(t.Windows[k].From, t.Plan.Next(t.Local, i))
}

// Stretch is a mode that holds over [From, To).
type Stretch struct {
	From, To Instant
	Mode     Mode
}

// Stretches returns what the door asks between two instants, in order and without gaps.
func (t *Timeline) Stretches(from, to Instant) []Stretch {
	var out []Stretch
	for at := from; at < to; {
		m := t.At(at)
		end := min(t.Next(at), to)
		out = append(out, Stretch{at, end, m.Mode})
		at = end
	}
	return out
}
