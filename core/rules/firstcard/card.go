// Package firstcard lets a free stretch wait until somebody has come in (design 3.7). Card is what a door remembers of
// it, Part keeps it and makes the layers of the plan, Gate holds back whoever may not give it. Read card.go first.
package firstcard

import (
	"encoding/json"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Card is what one door remembers of its first card (design 3.7). The zero value remembers nothing. All
// of it is forgotten at local midnight, and by nothing else: it is written and read back over a restart.
type Card struct{ memory }

type memory struct {
	Day      hours.Day     `json:"day"`
	Given    bool          `json:"given"`
	Occasion hours.Instant `json:"occasion"` // which waiting stretch the card was for, by its end; 0: none, the day at large
	From     hours.Instant `json:"from"`     // free from then
	Until    hours.Instant `json:"until"`    // and until then, where the free time is in minutes
}

// MarshalJSON writes all that is remembered.
func (f Card) MarshalJSON() ([]byte, error) { return json.Marshal(f.memory) }

// UnmarshalJSON reads what MarshalJSON wrote.
func (f *Card) UnmarshalJSON(b []byte) error { return json.Unmarshal(b, &f.memory) }

// Asked is what a door asks once its first card is taken into account.
type Asked struct {
	hours.Moment
	Until    hours.Instant // when something changes next
	Waits    bool          // in a free stretch that waits for its first card
	Awaiting bool          // and until it has come nobody else enters
	Early    bool          // a card given now counts for a free stretch that has not begun
	Useful   bool          // a first card given now would count
}

// Waits reports whether a first card means anything at a door.
func Waits(line *hours.Timeline, rule *site.FirstCard) bool {
	return line.Plan.Waits() || rule.Length == site.ForMinutes
}

// forget drops what was remembered of another day.
func (f *Card) forget(day hours.Day) {
	if f.Day != day {
		f.memory = memory{Day: day}
	}
}

// Ask works out what a door asks at an instant.
func (f *Card) Ask(line *hours.Timeline, rule *site.FirstCard, now hours.Instant) Asked {
	a := Asked{Moment: line.At(now), Until: line.Next(now)}
	if !Waits(line, rule) {
		return a
	}
	f.forget(line.Wall(now).Day)
	if f.Given || a.First {
		a.Until = min(a.Until, midnight(line, now)) // it is forgotten then
	}
	if a.Layer == hours.DatedChange {
		if f.minutes(rule, now) { // they may go on after a change that asks what the plan asks
			a.Until = min(a.Until, line.WindowEnd(now))
		}
		return a
	}
	stretch, start := f.stretch(line, rule, now, &a)
	a.Useful = f.useful(line, rule, now, stretch, &a)
	f.waiting(line, rule, now, start, &a)
	return a
}

// stretch finds the waiting stretch for which a card given now counts, by its end; start is when it begins,
// or 0 where it has begun. Both are 0 where there is none.
func (f *Card) stretch(
	line *hours.Timeline,
	rule *site.FirstCard,
	now hours.Instant,
	a *Asked,
) (end, start hours.Instant) {
	if a.First {
		return line.Next(now), 0
	}
	if rule.Counts != site.FromMinutes && rule.Counts != site.FromMidnight || !line.Plan.Waits() {
		return 0, 0
	}
	last := midnight(line, now)
	if rule.Counts == site.FromMinutes {
		last = min(last, now.Add(time.Duration(rule.Before)*time.Minute)+1)
	}
	for at := line.Next(now); at < last; at = line.Next(at) {
		if m := line.At(at); m.First && m.Layer != hours.DatedChange {
			a.Early = true
			return line.Next(at), at
		}
	}
	return 0, 0
}

// useful reports whether a card given now would count: for a stretch that waits, or for minutes where they change
// something.
func (f *Card) useful(line *hours.Timeline, rule *site.FirstCard, now, stretch hours.Instant, a *Asked) bool {
	if stretch == 0 && !forMinutes(line, rule, now, a) {
		return false
	}
	return !f.Given || rule.Often != site.OnceADay && f.Occasion != stretch
}

// minutes reports whether the free minutes that a card gave are running.
func (f *Card) minutes(rule *site.FirstCard, now hours.Instant) bool {
	return f.Given && rule.Length == site.ForMinutes && f.From <= now && now < f.Until
}

// forMinutes reports whether free minutes change what a door asks at an instant: a stretch that waits, or one that asks
// for a card. They never free a barred door, nor one on a holiday for nobody.
func forMinutes(line *hours.Timeline, rule *site.FirstCard, now hours.Instant, a *Asked) bool {
	return rule.Length == site.ForMinutes && (a.First || a.Mode.AsksCard() && !line.Nobody(now))
}

// waiting turns a free stretch without its card into one that asks for a card, and free minutes into free.
func (f *Card) waiting(line *hours.Timeline, rule *site.FirstCard, now, start hours.Instant, a *Asked) {
	free := false
	switch {
	case !f.Given:
	case rule.Length == site.ForMinutes:
		free = f.minutes(rule, now) && forMinutes(line, rule, now, a)
		if now < f.From {
			a.Until = min(a.Until, f.From)
		} else if f.minutes(rule, now) && (a.First || a.Mode.AsksCard()) {
			// Free, or as soon as the holiday for nobody is over; a dated change interrupts it too.
			a.Until = line.NobodyTurns(now, min(a.Until, f.Until, line.InWindow(now)))
		}
	case a.First:
		free = rule.Often == site.OnceADay || f.Occasion == line.Next(now)
	}
	waits := a.First && !free
	switch {
	case free:
		a.Mode, a.First = hours.Free, false
	case a.First:
		a.Mode, a.First = line.Plan.Waiting(), false
	}
	a.Waits = waits && a.Useful
	a.Awaiting = a.Useful && rule.UntilThen == site.NobodyElse && (waits || a.Early)
}

// Give tells that somebody who may give the first card has come in. It reports whether that counts.
func (f *Card) Give(line *hours.Timeline, rule *site.FirstCard, now hours.Instant) bool {
	a := f.Ask(line, rule, now)
	if !a.Useful {
		return false
	}
	m := line.At(now)
	end, start := f.stretch(line, rule, now, &Asked{Moment: m})
	f.Given, f.Occasion, f.From = true, end, max(now, start)
	f.Until = f.From.Add(time.Duration(rule.Minutes) * time.Minute)
	return true
}

// Shift moves what is remembered along with a clock that was set.
func (f *Card) Shift(by time.Duration) {
	for _, t := range [...]*hours.Instant{&f.memory.From, &f.memory.Until} {
		if *t != 0 {
			*t = t.Add(by)
		}
	}
}

// midnight returns the next local midnight after an instant.
func midnight(line *hours.Timeline, now hours.Instant) hours.Instant {
	d := line.Wall(now).Day
	for {
		d++
		if at := line.Resolve(d, 0); at > now {
			return at
		}
	}
}
