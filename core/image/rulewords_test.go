package image

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/site"
)

// What a send changes of an alarm area or of a reaction is said by what it is; a difference is never without words.
func TestRulesInWords(t *testing.T) {
	names := Names{1: "Shop shutter", 2: "Glass break", 3: "Key switch", 9: "Night rounds"}
	was := site.UsualAlarmArea(1)
	for words, change := range map[string]func(a *site.AlarmArea){
		"watches Glass break, Shop shutter":                    func(a *site.AlarmArea) { a.Inputs = []site.Watched{{InputID: 2}} },
		"armed during Night rounds":                            func(a *site.AlarmArea) { a.ScheduleID = 9 },
		"armed while Key switch is active":                     func(a *site.AlarmArea) { a.KeyID, a.KeyWorks = 3, site.KeyHolds },
		"3 reads arm it, one disarms":                          func(a *site.AlarmArea) { a.Reads, a.Single = 3, true },
		"no card arms it any more":                             func(a *site.AlarmArea) { a.Reads = 0 },
		"exit delay 40 s, was 30 s":                            func(a *site.AlarmArea) { a.ExitDelay = 40 },
		"turns other outputs on":                               func(a *site.AlarmArea) { a.AlarmIDs = []site.ID{5} },
		"entry delay 0 s, was 30 s, sounds for 9 s, was 180 s": func(a *site.AlarmArea) { a.EntryDelay, a.Sounds = 0, 9 },
	} {
		t.Run(words, func(t *testing.T) {
			is := was
			change(&is)
			assert.Equal(t, words, alarmAreaWords(names)(was, is))
		})
	}
	back := was
	back.ScheduleID, back.KeyID, back.KeyWorks = 9, 3, site.KeyArms
	assert.Equal(t, "no schedule arms it any more, no input arms it any more", alarmAreaWords(names)(back, was))

	r := Reaction{Reaction: site.UsualReaction(1, 9)}
	for words, change := range map[string]func(r *Reaction){
		"during schedule 8":                                func(r *Reaction) { r.ScheduleID = 8 },
		"waits for it elsewhere":                           func(r *Reaction) { r.Doors = []site.ID{2} },
		"does it elsewhere":                                func(r *Reaction) { r.OutputIDs = []site.ID{7} },
		"for another time":                                 func(r *Reaction) { r.Seconds = 77 },
		"does something else":                              func(r *Reaction) { r.Do = site.DoLockdown },
		"waits for something else: a door is forced":       func(r *Reaction) { r.When = site.WhenForced },
		"waits for something else, or does something else": func(r *Reaction) { r.At = []site.Target{{Kind: site.AtDoor, ID: 4}} },
	} {
		t.Run(words, func(t *testing.T) {
			is := r
			change(&is)
			assert.Equal(t, words, reactionWords(names)(r, is))
		})
	}
}
