package panel

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// rooms makes doors 1 and 2 lead from outside into area 80, with readers on both sides, and door 3 from it into 81.
func rooms(a site.Area) func(*site.Config) {
	return func(c *site.Config) {
		a.ID = 80
		c.Areas = []site.Area{a, {ID: 81, Mode: site.PassbackOff}}
		for i := range c.Doors {
			c.Doors[i].Out = site.Reader{Fitted: true}
			c.Doors[i].InsideAreaID = 80
		}
		c.Doors[2].OutsideAreaID, c.Doors[2].InsideAreaID = 80, 81
	}
}

func (l *play) out(port int, person uint64) Input {
	in := l.card(port, person)
	in.Point = site.PortPoints(port).Out
	return in
}

// through opens and closes a door after a grant.
func (l *play) through(port int) string {
	said := l.say(time.Second, contact(port, false))
	l.say(time.Second, contact(port, true))
	return said
}

func TestAntiPassback(t *testing.T) {
	l := playing(t, rooms(site.Area{Mode: site.PassbackRefuse, ExemptIDs: []site.ID{104}, Forget: "04:00", Most: 2}))
	assert.Equal(t, "1 101 granted", l.say(time.Second, l.card(1, 101)), "whose place is unknown goes anywhere once")
	assert.Equal(t, "1 101 granted", l.say(time.Second, l.card(1, 101)), "not opened, so it does not count")
	assert.Equal(t, "1 entered, 1 place", l.through(1))
	assert.Equal(t, "2 101 already-inside", l.say(time.Minute, l.card(2, 101)),
		"common practice: door two refuses who came by door one and did not leave")
	assert.Equal(t, "2 101 granted", l.say(time.Second, l.out(2, 101)))
	l.through(2)
	assert.Equal(t, "2 101 not-inside", l.say(time.Minute, l.out(2, 101)), "who is outside does not leave")
	assert.Equal(t, "1 101 granted", l.say(time.Second, l.card(1, 101)))
	l.through(1)
	for range 2 {
		l.say(time.Minute, l.card(1, 104))
		assert.Equal(t, "1 entered, 1 place", l.through(1), "who is exempt comes in again and again")
	}
	assert.Equal(t, "1 102 area-full", l.say(time.Minute, l.card(1, 102)))
	assert.Equal(t, "3 101 granted", l.say(time.Minute, l.card(3, 101)))
	l.through(3)
	assert.Equal(t, "1 102 granted", l.say(time.Minute, l.card(1, 102)), "101 is one room further")
	l.through(1)
	assert.Equal(t, "1 102 already-inside", l.say(time.Minute, l.card(1, 102)))

	saved, err := l.p.Save()
	require.NoError(t, err)
	again := New(ruled(t, rooms(site.Area{Mode: site.PassbackRefuse, Forget: "04:00"})), l.p.Seq())
	require.NoError(t, again.Restore(saved))
	again.Start(l.now)
	l.p = again
	assert.Equal(t, "1 102 already-inside", l.say(time.Minute, l.card(1, 102)), "a restart forgets nobody")
	assert.Equal(t, "1 102 granted", l.say(17*time.Hour, l.card(1, 102)), "the hour at which all is forgotten does")

	yesterday := pass.Whereabouts{Person: 103, Area: 80, At: l.now.Add(-10 * time.Hour), Controller: 8, Seq: 1}
	l.say(time.Second, Input{Kind: Whereabouts, Places: []pass.Whereabouts{yesterday}})
	assert.Equal(t, "1 103 granted", l.say(time.Second, l.card(1, 103)), "what is heard of late is forgotten too")
	l.through(1)
	l.say(time.Second, Input{Kind: Whereabouts, Places: []pass.Whereabouts{{Person: 102, Unknown: true, At: l.now}}})
	assert.Equal(t, "1 102 granted", l.say(time.Minute, l.card(1, 102)), "forgiven")
}

func TestOtherAreas(t *testing.T) {
	l := playing(t, rooms(site.Area{Mode: site.PassbackLog}))
	l.say(time.Second, l.card(1, 101))
	l.through(1)
	assert.Equal(t, "2 101 granted-passback", l.say(time.Minute, l.card(2, 101)), "only noted")

	l = playing(t, rooms(site.Area{Mode: site.PassbackRefuse, Timed: 10}))
	l.say(time.Second, l.card(1, 101))
	l.through(1)
	assert.Equal(t, "2 101 too-soon", l.say(9*time.Minute, l.card(2, 101)))
	assert.Equal(t, "2 101 granted", l.say(time.Minute, l.card(2, 101)), "ten minutes after they came in")

	l = playing(t, rooms(site.Area{Mode: site.PassbackRefuse}))
	l.say(time.Second, l.card(1, 101))
	l.through(1)
	l.say(time.Second, Input{Kind: Network})
	assert.Equal(t, "2 101 granted", l.say(time.Minute, l.card(2, 101)), "cut off, it is lenient")
	l.say(time.Second, Input{Kind: Network, On: true})
	assert.Equal(t, "1 101 already-inside", l.say(time.Minute, l.card(1, 101)))

	l = playing(t, func(c *site.Config) {
		rooms(site.Area{Mode: site.PassbackOff, Two: true})(c)
		c.Proofs = []site.Proofs{
			{ID: 60, Kind: site.Combined, DoorIDs: []site.ID{1}, ScheduleID: 30, Window: 20,
				Combinations: []site.Combination{{Total: 2}}},
		}
	})
	assert.Equal(t, "2 101 area-needs-two", l.say(time.Second, l.card(2, 101)))
	l.say(time.Second, l.card(1, 101))
	assert.Equal(t, "1 102 granted, 1 101 granted", l.say(time.Second, l.card(1, 102)), "two come in together")
	l.through(1)
	assert.Equal(t, "2 103 granted", l.say(time.Minute, l.card(2, 103)))
}

// NFPA 101 (from memory): with any rules whoever is inside can leave. The exit request works whatever the rules are,
// unless an interlock holds it back, and then fire release opens all.
func TestFreeEgress(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := playing(t, func(c *site.Config) {
			if rapid.Bool().Draw(t, "areas") {
				rooms(site.Area{Mode: site.PassbackRefuse, Two: true, Most: 1})(c)
			}
			if rapid.Bool().Draw(t, "pairs") {
				pairs(c)
				c.Proofs[0].Both = true
			}
			if rapid.Bool().Draw(t, "airlock") {
				airlock(true)(c)
				c.Interlocks[0].Exits = false
			}
			if rapid.Bool().Draw(t, "toggle") {
				toggle := site.UsualToggle()
				c.Doors[0].Toggle = &toggle
			}
			if rapid.Bool().Draw(t, "screening") {
				screened(func(x *site.Screening) { x.PersonIDs = []site.ID{101, 103, 104} })(c)
			}
			if rapid.Bool().Draw(t, "lockdown") {
				guarded(func(*site.Config) {})(c)
			}
			if rapid.Bool().Draw(t, "cards locked") {
				c.Settings.PINLocks = site.LocksCard
			}
		})
		if rapid.Bool().Draw(t, "shut") {
			l.say(time.Second, Input{Kind: Lockdown, On: true, Rule: site.ID(rapid.SampledFrom([]int{0, 80}).Draw(t, "by"))})
		}
		for range rapid.IntRange(0, 25).Draw(t, "steps") {
			l.now = l.now.Add(time.Duration(rapid.IntRange(0, 15).Draw(t, "seconds")) * time.Second)
			in := drawInput(t)
			if rapid.Bool().Draw(t, "card") {
				in = l.card(rapid.IntRange(1, 2).Draw(t, "at"), rapid.Uint64Range(101, 105).Draw(t, "who"))
			}
			l.p.Step(l.now, in)
		}
		l.p.Step(l.now.Add(time.Second), button(1, false))
		l.p.Step(l.now.Add(2*time.Second), button(1, true))
		require.True(t, l.p.Doors()[0].Released, "the exit button releases the lock")
	})
}
