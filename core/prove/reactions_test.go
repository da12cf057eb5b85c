package prove

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// reacting is two controllers with a door each, a siren at the first and an input at the second.
func reacting() *Book {
	usual := site.UsualHardware()
	var week hours.Week
	for d := range week {
		week[d] = []hours.Period{{Start: 0, End: 24 * 60}}
	}
	return NewBook(&site.Config{
		Sites:       []site.Site{{ID: 1, Name: "House", Zone: "UTC"}},
		Floors:      []site.Floor{{ID: 2, Name: "Ground", SiteID: 1}},
		Controllers: []site.Controller{{ID: 11, Name: "North", SiteID: 1}, {ID: 12, Name: "South", SiteID: 1}},
		Doors: []site.Door{
			{ID: 21, Name: "Gate", FloorID: 2, ControllerID: 11, Port: 1, Hardware: usual},
			{ID: 22, Name: "Store", FloorID: 2, ControllerID: 12, Port: 1, Hardware: usual},
		},
		Inputs:    []site.Input{{ID: 31, Name: "Water", ControllerID: 12}},
		Outputs:   []site.Output{{ID: 41, Name: "Siren", ControllerID: 11}},
		Areas:     []site.Area{{ID: 51, Name: "Yard"}},
		Schedules: []site.Schedule{{ID: 61, Name: "Always", Fixed: true, Week: week}, {ID: 62, Name: "Nights"}},
	}, map[site.ID]hours.Zone{11: {Name: "UTC"}, 12: {Name: "UTC"}})
}

func place(door site.ID) []site.Target { return []site.Target{{Kind: site.AtDoor, ID: door}} }

// Every reaction is read as a sentence, also one that is being filled in, and says what it needs.
func TestReactionsAreRead(t *testing.T) {
	b := reacting()
	siren := []site.ID{41}
	for _, x := range []struct {
		name  string
		r     site.Reaction
		words string
		needs string
		alone bool
	}{
		{"held open, at one controller", site.Reaction{When: site.WhenHeldOpen, At: place(21), ScheduleID: 61, Do: site.DoOn, OutputIDs: siren, Until: true},
			"When a door is held open at Gate: turn Siren on until that has ended.",
			"Works with the server down: it begins and ends at North.", true},
		{"across", site.Reaction{When: site.WhenInputActive, InputIDs: []site.ID{31}, ScheduleID: 62, Do: site.DoOn, OutputIDs: siren, Seconds: 90},
			"When an input is active at Water, during Nights: turn Siren on for 90 s.", "Needs the server, which tells North.",
			false},
		{"any door", site.Reaction{When: site.WhenForced, ScheduleID: 61, Do: site.DoOff, OutputIDs: siren, Seconds: 7200},
			"When a door is forced: keep Siren off for 2 h.",
			"What begins and ends at North works with the server down; for the rest the server tells North.", false},
		{"for a reason", site.Reaction{When: site.WhenRefused, Reason: "no-level", At: place(22), ScheduleID: 61, Do: site.DoTell, Text: "Look"},
			"When somebody is refused, no access level, at Store: tell operators “Look”.", "Needs the server, which does it.",
			false},
		{"so many", site.Reaction{When: site.WhenOccupied, AreaID: 51, Count: 2, ScheduleID: 61, Do: site.DoHold, To: place(21), Mode: "barred"},
			"When 2 people are inside Yard: hold Gate barred until it is let go.", "Needs the server: only it knows of that.",
			false},
		{"an hour", site.Reaction{When: site.WhenHour, Hour: "22:00", ScheduleID: 61, Do: site.DoBack, To: place(21)},
			"When it is 22:00: let Gate go, back to plan.", "Works with the server down: it begins and ends at North.", true},
		{"nothing said yet", site.Reaction{When: site.WhenForced, Do: site.DoRelease},
			"When a door is forced: release … once.", "Does nothing yet: choose what it is done to.", false},
		{"nothing at all", site.Reaction{}, "When …: ….", "Does nothing yet: choose what it is done to.", false},
	} {
		t.Run(x.name, func(t *testing.T) {
			assert.Equal(t, ReactionMeaning{x.words, x.needs, x.alone}, b.MeaningOfReaction(&x.r))
		})
	}
}

// What would have followed is told event by event, and what the limit would have kept back is marked.
func TestWouldFollow(t *testing.T) {
	b := reacting()
	r := site.Reaction{
		ID: 71, Name: "Siren", When: site.WhenForced, At: place(21), ScheduleID: 61, Do: site.DoOn, OutputIDs: []site.ID{41},
		Seconds: 60,
	}
	var past []Happened
	for i := range 25 { // within 25 s
		past = append(past, Happened{11, pass.Fact{
			At: hours.Instant(1_790_000_000_000 + 1000*i), Kind: pass.Forced, Door: 21,
		}})
	}
	past = append(past, Happened{12, pass.Fact{At: past[24].At, Kind: pass.Forced, Door: 22}})
	out := b.WouldFollow(past, []site.Reaction{r})
	assert.Len(t, out, 25, "the other door is none of its business")
	for i, f := range out {
		assert.Equal(t, i >= site.MostInARow, f.Rests)
		assert.Equal(t, "turn Siren on for 1 min", f.Does)
	}
	r.Off = true
	assert.Empty(t, b.WouldFollow(past, []site.Reaction{r}))
}

// A door lists what follows from what happens there, and what is done to it.
func TestReactionsAtADoor(t *testing.T) {
	b := reacting()
	b.Config.Reactions = []site.Reaction{
		{ID: 71, Name: "Siren", When: site.WhenForced, At: place(21), ScheduleID: 61, Do: site.DoHold, To: place(22), Mode: "barred"},
	}
	scope := func(door site.ID) string {
		for _, l := range b.RulesAt(door) {
			if l.Kind == "reaction" {
				return l.Scope
			}
		}
		return "none"
	}
	assert.Equal(t, "what happens here", scope(21))
	assert.Equal(t, "what is done here", scope(22))
}

// Another controller is told what the one where it happened cannot do; that one does its own part.
func TestReactionsAcross(t *testing.T) {
	b := reacting()
	siren := site.Reaction{When: site.WhenForced, ScheduleID: 61, Do: site.DoOn, OutputIDs: []site.ID{41}}
	assert.Empty(t, b.Across(&siren, 11), "it does so by itself")
	told := b.Across(&siren, 12)
	assert.Len(t, told, 1)
	assert.Len(t, told[11].Outputs, 1)
	siren.When, siren.Hour = site.WhenHour, "22:00"
	assert.Empty(t, b.Across(&siren, 12), "each by its own clock")
	ten := hours.Instant(22 * 60 * 60 * 1000)
	assert.True(t, b.Strikes(&siren, 11, ten))
	assert.False(t, b.Strikes(&siren, 11, ten+60_000))
}
