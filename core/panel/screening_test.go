package panel

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// screened puts 104 under a screening: until they are cleared only level 42 counts, which leads to door 2. Door 2
// clears.
func screened(change func(*site.Screening)) func(*site.Config) {
	return func(c *site.Config) {
		c.Levels = append(c.Levels, site.Level{ID: 42, Entries: []site.Entry{site.At(2, 30)}})
		x := site.Screening{ID: 70, Name: "Desk", PersonIDs: []site.ID{104}, LevelID: 42, Lasts: site.LastsMidnight}
		change(&x)
		c.Screenings = []site.Screening{x}
	}
}

func cleared(person site.ID, at, until hours.Instant) Input {
	return Input{Kind: Cleared, Clearances: []pass.Clearance{{Person: person, Screening: 70, At: at, Until: until}}}
}

func TestScreening(t *testing.T) {
	l := playing(t, screened(func(*site.Screening) {}))
	assert.Equal(t, "1 104 not-cleared", l.say(time.Second, l.card(1, 104)))
	assert.Equal(t, "2 104 granted", l.say(time.Second, l.card(2, 104)), "their limited level leads there")
	assert.Equal(t, "1 103 granted", l.say(time.Second, l.card(1, 103)), "others are not screened")
	l.say(time.Second, cleared(104, l.now, l.now.Add(time.Hour)))
	assert.Equal(t, "1 104 granted", l.say(time.Minute, l.card(1, 104)))
	assert.Equal(t, "1 104 not-cleared", l.say(time.Hour, l.card(1, 104)), "an hour is over")

	l.say(time.Second, cleared(104, l.now, l.now.Add(time.Hour)))
	l.say(time.Second, cleared(104, l.now, 0))
	assert.Equal(t, "1 104 not-cleared", l.say(time.Second, l.card(1, 104)), "withdrawn")
	l.say(time.Second, cleared(104, l.now.Add(-3*time.Second), l.now.Add(time.Hour)))
	assert.Equal(t, "1 104 not-cleared", l.say(time.Second, l.card(1, 104)), "what was said before does not count")
}

func TestClearedByComingIn(t *testing.T) {
	l := playing(t, screened(func(x *site.Screening) { x.PassIDs = []site.ID{2} }))
	l.say(time.Second, l.card(2, 104))
	assert.Equal(t, "1 104 not-cleared", l.say(time.Second, l.card(1, 104)), "granted, and not gone through yet")
	assert.Equal(t, "2 entered, 2 cleared", l.say(time.Second, contact(2, false)))
	l.say(time.Second, contact(2, true))
	assert.Equal(t, "1 104 granted", l.say(time.Second, l.card(1, 104)))

	kept, err := l.p.Save()
	require.NoError(t, err)
	again := *l
	again.p = New(ruled(t, screened(func(*site.Screening) {})), l.p.Seq())
	require.NoError(t, again.p.Restore(kept))
	again.p.Start(l.now)
	assert.Equal(t, "1 104 granted", again.say(time.Minute, l.card(1, 104)), "over a restart")
	assert.Equal(t, "1 104 not-cleared", again.say(12*time.Hour, l.card(1, 104)), "until midnight: it was noon")
	assert.Equal(t, "2 103 granted", l.say(time.Minute, l.card(2, 103)))
	assert.Equal(t, "2 entered", l.say(time.Second, contact(2, false)), "who is not screened is not cleared either")
}

func TestNotClearedIsNoted(t *testing.T) {
	l := playing(t, screened(func(x *site.Screening) { x.LogOnly = true }))
	assert.Equal(t, "1 104 granted-not-cleared", l.say(time.Second, l.card(1, 104)))
	assert.Equal(t, "2 104 granted", l.say(time.Second, l.card(2, 104)), "there the limited level leads")
	l.say(time.Second, cleared(104, l.now, hours.Never))
	assert.Equal(t, "1 104 granted", l.say(time.Second, l.card(1, 104)))
}

// Nobody is locked in: the way out asks for no clearing. Who is not cleared approves nobody, and opens no day.
func TestScreeningHasItsLimits(t *testing.T) {
	set := func(c *site.Config) {
		screened(func(x *site.Screening) { x.PersonIDs, x.LevelID = []site.ID{105}, 0 })(c)
		c.Doors[0].Out.Fitted = true
		c.Proofs = []site.Proofs{{ID: 60, Kind: site.Approval, DoorIDs: []site.ID{2}, ScheduleID: 30, Window: 20}}
	}
	l := playing(t, set)
	out := l.card(1, 105)
	out.Point = site.PortPoints(1).Out
	assert.Equal(t, "1 105 granted", l.say(time.Second, out))
	l.say(time.Second, l.card(2, 101))
	assert.Equal(t, "2 105 not-cleared, 2 101 more-timeout", l.say(time.Second, l.card(2, 105)))
}

// A second implementation: whoever is under screenings that refuse comes in where all that are not cleared let the same
// level count, and it leads there; whoever is under none as ever.
func TestScreeningOnAnySite(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		levels := []site.ID{0, 40, 42}
		var list []site.Screening
		for i := range rapid.IntRange(0, 3).Draw(t, "screenings") {
			list = append(list, site.Screening{
				ID: site.ID(70 + i), PersonIDs: rapid.SliceOfNDistinct(rapid.SampledFrom([]site.ID{101, 102, 103}), 1, 3,
					rapid.ID).Draw(t, "who"),
				LevelID: rapid.SampledFrom(levels).Draw(t, "level"), LogOnly: rapid.IntRange(0, 3).Draw(t, "log") == 0,
				Off: rapid.IntRange(0, 4).Draw(t, "off") == 0, Lasts: site.LastsWithdrawn,
			})
		}
		l := playing(t, func(c *site.Config) {
			c.Levels = append(c.Levels, site.Level{ID: 42, Entries: []site.Entry{site.At(2, 30)}})
			c.Screenings = list
		})
		known := map[[2]site.ID]bool{}
		for range rapid.IntRange(1, 12).Draw(t, "steps") {
			person := site.ID(rapid.IntRange(101, 104).Draw(t, "person"))
			if len(list) > 0 && rapid.Bool().Draw(t, "clear") {
				x := list[rapid.IntRange(0, len(list)-1).Draw(t, "which")].ID
				on := rapid.IntRange(0, 2).Draw(t, "on") > 0
				c := pass.Clearance{Person: person, Screening: x, At: l.now, Seq: uint64(l.now)}
				if known[[2]site.ID{person, x}] = on; on {
					c.Until = hours.Never
				}
				l.say(2*time.Second, Input{Kind: Cleared, Clearances: []pass.Clearance{c}})
				continue
			}
			door := rapid.IntRange(1, 3).Draw(t, "door")
			want, noted := true, false
			count := map[site.ID]bool{} // the levels that count alone
			for _, x := range list {
				under := false
				for _, id := range x.PersonIDs {
					under = under || id == person
				}
				if x.Off || !under || known[[2]site.ID{person, x.ID}] {
					continue
				}
				leads := x.LevelID == 40 || x.LevelID == 42 && door == 2
				if x.LogOnly {
					noted = noted || !leads
					continue
				}
				count[x.LevelID] = true
				want = want && leads && len(count) == 1
			}
			reason := "not-cleared"
			if want {
				reason = "granted"
				if noted {
					reason = "granted-not-cleared"
				}
			}
			got := l.say(2*time.Second, l.card(door, uint64(person)))
			require.Contains(t, got, " "+reason)
			require.NotContains(t, got, " "+reason+"-")
		}
	})
}
