// Package compare says what an edit does before it is saved.
package compare

import (
	"fmt"

	"amberkeystone/core/hours"
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
