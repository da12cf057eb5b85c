// Package compare says what an edit does before it is saved, and what a send does before it is sent: what doors ask at
// other times, who comes in at more hours or at fewer, where and when first. Two configurations stand beside each
// other; the trap is that what somebody holds by one level they may have by another too, so that only all of it
// together counts.
//
// Reading order: edit.go, hours.go, contrast.go (two timelines), people.go (who, with entries.go, paths.go, means.go
// and guards.go), turns.go (the words); images.go does the same with what controllers hold.
package compare

import (
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Consequence is one line of what an edit does. Sign is +1 where more is open than before, -1 where less is, 0 where
// that cannot be said.
type Consequence struct {
	Words string `json:"words"`
	Sign  int    `json:"sign"`
}

func duration(minutes int) string {
	sign := "+"
	if minutes < 0 {
		sign, minutes = "−", -minutes
	}
	return fmt.Sprintf("%s%d h %02d", sign, minutes/60, minutes%60)
}

// Plans tells how many hours a week each passage mode gains or loses between two patterns.
func Plans(was, is hours.Pattern) []Consequence {
	a, b := was.Minutes(), is.Minutes()
	var out []Consequence
	for _, m := range hours.Modes {
		if d := b[m] - a[m]; d != 0 {
			out = append(out, Consequence{fmt.Sprintf("%s %s a week", duration(d), m), opens(m) * sign(d)})
		}
	}
	return out
}

// Weeks tells how many hours a schedule gains or loses.
func Weeks(was, is hours.Week) []Consequence {
	d := is.Minutes() - was.Minutes()
	if d == 0 {
		return nil
	}
	return []Consequence{{duration(d) + " open a week", sign(d)}}
}

// Levels tells through which doors a level leads that it did not, and the other way round, where at other hours, and
// what besides its holders may do, or may no longer.
func Levels(places *site.Places, was, is site.Level, name func(site.ID) string) []Consequence {
	schedules := func(l site.Level) map[site.ID][]site.ID {
		out := map[site.ID][]site.ID{}
		for _, e := range places.Entries(&l) {
			out[e.DoorID] = append(out[e.DoorID], e.ScheduleID)
		}
		for _, list := range out {
			slices.Sort(list)
		}
		return out
	}
	a, b := schedules(was), schedules(is)
	var more, less, other []string
	for _, e := range slices.Concat(places.Entries(&is), places.Entries(&was)) {
		door := e.DoorID
		x, y := a[door], b[door]
		switch {
		case len(x) == 0 && len(y) > 0:
			more = append(more, name(door))
		case len(x) > 0 && len(y) == 0:
			less = append(less, name(door))
		case !slices.Equal(x, y):
			other = append(other, name(door))
		}
		delete(a, door)
		delete(b, door)
	}
	var out []Consequence
	line := func(words string, doors []string, sign int) {
		if n := len(doors); n > 0 {
			few := strings.Join(doors[:min(n, 6)], ", ")
			if n > 6 {
				few += fmt.Sprintf(" and %d more", n-6)
			}
			out = append(out, Consequence{words + " " + few, sign})
		}
	}
	line("Leads through", more, 1)
	line("No longer leads through", less, -1)
	line("At other hours:", other, 0)
	before, now := was.Has(), is.Has()
	for i, may := range now {
		switch {
		case may && !before[i]:
			out = append(out, Consequence{"Who has it may " + authorities[i], 1})
		case !may && before[i]:
			out = append(out, Consequence{"Who has it may no longer " + authorities[i], -1})
		}
	}
	return out
}

// authorities are the words for what levels let their holders do, as they stand in site.Authorities.
var authorities = [...]string{
	"give the first card of the day",
	"approve others",
	"toggle doors",
	"come in during a lockdown that lets them",
	"start and end lockdowns",
	"arm alarm areas",
	"disarm alarm areas, and come in while they are armed",
}

// opens is +1 for the mode that lets everybody in, -1 for the one that lets nobody in, 0 for those between.
func opens(m hours.Mode) int {
	switch m {
	case hours.Free:
		return 1
	case hours.Barred:
		return -1
	}
	return 0
}

func sign(n int) int {
	switch {
	case n > 0:
		return 1
	case n < 0:
		return -1
	}
	return 0
}
