package main

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Small sites, each with one question whose answer was worked out by hand from the design, section 3.
func TestSites(t *testing.T) {
	hours := func(what string) func(site, from, to string) []string {
		return func(site, from, to string) []string {
			args := append([]string{"--site", "testdata/" + site + ".json", "--from", from, "--to", to}, strings.Fields(what)...)
			out, err := run(hoursCommand(), args...)
			require.NoError(t, err, out)
			var list []period
			require.NoError(t, json.Unmarshal([]byte(out), &list))
			var lines []string
			for _, p := range list {
				lines = append(lines, strings.TrimSpace(p.From[5:16]+" "+p.To[5:16]+" "+p.Mode))
			}
			return lines
		}
	}
	door, schedule := hours("--door Door"), hours("--schedule S")
	for name, c := range map[string]struct{ got, want []string }{
		"PH in the text of a plan answers for every holiday type": {
			door("ph-in-plan-text", "2026-11-23T00:00:00-04:00", "2026-11-26T00:00:00-04:00"),
			[]string{"11-23T00:00 11-23T08:00 card", "11-23T08:00 11-23T17:00 free", "11-23T17:00 11-25T08:00 card",
				"11-25T08:00 11-25T17:00 free", "11-25T17:00 11-26T00:00 card"}},
		"and of a schedule": {
			schedule("ph-in-schedule-text", "2026-11-23T00:00:00-04:00", "2026-11-26T00:00:00-04:00"),
			[]string{"11-23T08:00 11-23T17:00", "11-25T08:00 11-25T17:00"}},
		"UNTIL as a moment is inclusive": {
			door("until-with-a-time", "2026-11-24T00:00:00-04:00", "2026-11-27T00:00:00-04:00"),
			[]string{"11-24T00:00 11-24T20:00 card", "11-24T20:00 11-24T21:00 free", "11-24T21:00 11-27T00:00 card"}},
		"a night in the default mode runs on": {
			door("night-in-the-default-mode", "2026-11-23T00:00:00-04:00", "2026-11-25T06:00:00-04:00"),
			[]string{"11-23T00:00 11-23T08:00 barred", "11-23T08:00 11-23T18:00 card", "11-23T18:00 11-24T06:00 barred",
				"11-24T06:00 11-25T00:00 free", "11-25T00:00 11-25T06:00 barred"}},
	} {
		t.Run(name, func(t *testing.T) { assert.Equal(t, c.want, c.got) })
	}
	t.Run("the text of a row without PH means the row", func(t *testing.T) {
		got := door("row-text-without-ph", "2026-11-23T00:00:00-04:00", "2026-11-25T00:00:00-04:00")
		assert.Contains(t, strings.Join(got, ", "), "barred", "06:00 to 22:00 on the holiday: %v", got)
	})
}

func TestAskOfSites(t *testing.T) {
	for site, want := range map[string]struct {
		at, reason, with, next string
		granted, free          bool
	}{
		"two-cards-first-expired":  {"2026-11-24T12:00:00-04:00", "granted", "card 1-00003", "", true, false},
		"card-or-pin-bad-card":     {"2026-11-24T12:00:00-04:00", "granted", "PIN", "", true, false},
		"pin-door-card-only":       {"2026-11-24T12:00:00-04:00", "need-pin", "card 1-00002", "", false, false},
		"free-door-empty-hands":    {"2026-11-24T12:00:00-04:00", "granted-free", "nothing", "", true, false},
		"pin-without-keypad":       {"2026-11-24T12:00:00-04:00", "need-pin", "PIN", "", false, false},
		"next-after-person-ended":  {"2026-11-24T18:00:00-04:00", "outside-hours", "card 1-00002", "", false, false},
		"next-level-begins-later":  {"2026-11-24T12:00:00-04:00", "outside-hours", "card 1-00002", "2026-11-26T08:00:00-04:00", false, false},
		"free-door-lost-card":      {"2026-11-24T12:00:00-04:00", "card-lost", "card 1-00002", "", false, true},
		"free-door-suspended":      {"2026-11-24T12:00:00-04:00", "person-suspended", "card 1-00002", "", false, true},
		"next-after-card-expires":  {"2026-11-24T18:00:00-04:00", "outside-hours", "card 1-00002", "", false, false},
		"next-after-level-expires": {"2026-11-24T18:00:00-04:00", "outside-hours", "card 1-00002", "", false, false},
	} {
		t.Run(site, func(t *testing.T) {
			out, err := run(askCommand(), "--site", "testdata/"+site+".json", "--person", "Ada", "--door", "Door", "--at",
				want.at)
			if want.granted {
				require.NoError(t, err, out)
			} else {
				require.ErrorIs(t, err, errAnswerNo, out)
			}
			var a struct {
				Granted, Free             bool
				Reason, With, Next, Words string
			}
			require.NoError(t, json.Unmarshal([]byte(out), &a))
			assert.Equal(t, want.granted, a.Granted)
			assert.Equal(t, want.reason, a.Reason)
			assert.Equal(t, want.with, a.With)
			assert.Equal(t, want.next, a.Next)
			assert.Equal(t, want.free, a.Free)
			assert.Equal(t, want.free, strings.Contains(a.Words, "free all the same"))
		})
	}
}

// What stands in a site file and counts for nothing is pointed out, and what can never work is found.
func TestCheckPointsOut(t *testing.T) {
	out, err := run(checkCommand(), "testdata/pin-without-keypad.json", "--at", "2026-11-23T12:00:00-04:00")
	assert.ErrorIs(t, err, errAnswerNo)
	assert.Contains(t, out, "its reader in has no keypad")
	out, err = run(checkCommand(), "testdata/row-hides-ph.json", "--at", "2026-11-23T12:00:00-04:00")
	require.NoError(t, err, out)
	assert.Contains(t, out, "note   plan P: the row for ")
	assert.Contains(t, out, "wins over PH in the text")
}
