// Package rules is what doors do beyond hours and levels: rules that remember.
package rules

import (
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// FirstCard is what one door remembers of its first card (design 3.7). The zero value remembers nothing. All
// of it is forgotten at local midnight.
type FirstCard struct {
	day      hours.Day
	given    bool
	occasion hours.Instant // which waiting stretch the card was for, by its end; 0: none, the day at large
	from     hours.Instant // free from then
	until    hours.Instant // and until then, where the free time is in minutes
}

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
func (f *FirstCard) forget(day hours.Day) {
	if f.day != day {
		*f = FirstCard{day: day}
	}
}

// Ask works out what a door asks at an instant.
func (f *FirstCard) Ask(line *hours.Timeline, rule *site.FirstCard, now hours.Instant) Asked {
	a := Asked{Moment: line.At(now), Until: line.Next(now)}
	if !Waits(line, rule) {
		return a
	}
	f.forget(line.Wall(now).Day)
	if f.given || a.First {
		a.Until = min(a.Until, midnight(line, now)) // it is forgotten then
	}
	if a.Layer == hours.DatedChange {
		return a
	}
	stretch, start := f.stretch(line, rule, now, &a)
	a.Useful = f.useful(rule, stretch)
	f.waiting(line, rule, now, start, &a)
	return a
}

// stretch finds the waiting stretch for which a card given now counts, by its end; start is when it begins,
// or 0 where it has begun. Both are 0 where there is none.
func (f *FirstCard) stretch(line *hours.Timeline, rule *site.FirstCard, now hours.Instant, a *Asked) (end, start hours.Instant) {
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

func (f *FirstCard) useful(rule *site.FirstCard, stretch hours.Instant) bool {
	if stretch == 0 && rule.Length != site.ForMinutes {
		return false
	}
	return !f.given || rule.Often != site.OnceADay && f.occasion != stretch
}

// waiting turns a free stretch without its card into one that asks for a card, and free minutes into free.
func (f *FirstCard) waiting(line *hours.Timeline, rule *site.FirstCard, now, start hours.Instant, a *Asked) {
	free := false
	switch {
	case !f.given:
	case rule.Length == site.ForMinutes:
		free = f.from <= now && now < f.until
		if now < f.from {
			a.Until = min(a.Until, f.from)
		} else if free {
			a.Until = min(a.Until, f.until)
		}
	case a.First:
		free = rule.Often == site.OnceADay || f.occasion == line.Next(now)
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

// Given tells that somebody who may give the first card has come in. It reports whether that counts.
func (f *FirstCard) Given(line *hours.Timeline, rule *site.FirstCard, now hours.Instant) bool {
	a := f.Ask(line, rule, now)
	if !a.Useful {
		return false
	}
	m := line.At(now)
	end, start := f.stretch(line, rule, now, &Asked{Moment: m})
	f.given, f.occasion, f.from = true, end, max(now, start)
	f.until = f.from.Add(time.Duration(rule.Minutes) * time.Minute)
	return true
}

// Shift moves what is remembered along with a clock that was set.
func (f *FirstCard) Shift(by time.Duration) {
	for _, t := range [...]*hours.Instant{&f.from, &f.until} {
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
