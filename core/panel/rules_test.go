package panel

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// ruled is three doors that ask for a card at all hours; the first has a keypad, all a contact and an exit button that
// releases the lock. Everybody may come in by all: 101 and 102 register, 103 conserves, 104 is of no group, 105
// approves and toggles. Person n has card n − 100, and 101 has a PIN.
func ruled(t require.TestingT, change func(*site.Config)) *image.Compiled {
	base := compiled(t) // for its zone
	always, _ := site.Basics()
	always[0].ID, always[1].ID = 30, 31
	c := &site.Config{
		Settings: site.DefaultSettings(), Sites: []site.Site{{ID: 3}}, Floors: []site.Floor{{ID: 4, SiteID: 3}},
		Plans: []site.Plan{{ID: 20, Pattern: hours.Pattern{Default: hours.Card}}}, Schedules: always,
		Levels: []site.Level{
			{ID: 40, Entries: []site.Entry{site.At(1, 30), site.At(2, 30), site.At(3, 30)}},
			{ID: 41, Authorities: site.Authorities{Approves: true, Toggles: true}, Entries: []site.Entry{site.At(1, 30), site.At(2, 30)}},
		},
		Groups: []site.Group{{ID: 50, PersonIDs: []site.ID{101, 102}}, {ID: 51, PersonIDs: []site.ID{103}}},
	}
	for id := site.ID(1); id <= 3; id++ {
		d := site.Door{
			ID: id, Name: fmt.Sprint(id), Port: int(id), FloorID: 4, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware(),
		}
		d.Relock = site.OnClosing
		d.In.Keypad = id == 1
		c.Doors = append(c.Doors, d)
	}
	for id := site.ID(101); id <= 105; id++ {
		p := &site.Person{
			ID: id, Credentials: []site.Credential{site.NewCard("26-bit", 42, uint64(id-100))},
			Levels: []site.Grant{{LevelID: 40}},
		}
		if id == 101 {
			pin, duress := cards.HashPIN(key, "4829"), cards.HashPIN(key, "4820")
			p.PIN, p.Duress, p.PINLength = &pin, &duress, 4
		}
		if id == 105 {
			p.Levels = []site.Grant{{LevelID: 41}}
		}
		c.People = append(c.People, p)
	}
	change(c)
	return image.Build(c, 9, *base.Zone, image.Secrets{PINKey: key}).Compile()
}

// play is a story at two doors: what reaches them, and what they say of it.
type play struct {
	t   require.TestingT
	p   *Panel
	now hours.Instant
}

func playing(t require.TestingT, change func(*site.Config)) *play {
	l := &play{t: t, p: New(ruled(t, change), 0), now: instant(t, "2026-11-23T12:00:00-04:00")}
	l.p.Start(l.now)
	return l
}

// say steps, and tells what is of interest as door:kind or door:reason.
func (l *play) say(after time.Duration, in Input) string {
	l.now = l.now.Add(after)
	var out []string
	for _, e := range l.p.Step(l.now, in).Events {
		switch e.Kind {
		case pass.ModeNow, pass.Opened, pass.Closed, pass.NotTaken:
			continue
		case pass.WasGranted, pass.WasRefused:
			out = append(out, fmt.Sprintf("%d %d %s", e.Door, e.Person, e.Reason))
		default:
			out = append(out, fmt.Sprintf("%d %s", e.Door, e.Kind))
		}
	}
	return strings.Join(out, ", ")
}

func (l *play) card(port int, person uint64) Input { return reads(port, bits(l.t, person-100)) }

func pairs(c *site.Config) {
	c.Proofs = []site.Proofs{{
		ID: 60, Kind: site.Combined, DoorIDs: []site.ID{1}, ScheduleID: 30, Window: 20,
		Combinations: []site.Combination{{Total: 2, Parts: []site.Part{{GroupID: 50, Count: 1}, {GroupID: 51, Count: 1}}}},
	}}
}

func TestTwoPeopleTogether(t *testing.T) {
	l := playing(t, pairs)
	assert.Equal(t, "1 awaiting-more", l.say(time.Second, l.card(1, 101)))
	assert.Equal(t, "1 103 granted, 1 101 granted", l.say(time.Second, l.card(1, 103)), "both are granted")
	assert.Equal(t, "1 entered, 1 entered", l.say(time.Second, contact(1, false)), "and go through at one opening")
	l.say(time.Second, contact(1, true))

	assert.Equal(t, "1 awaiting-more", l.say(time.Minute, l.card(1, 103)), "in any order")
	assert.Equal(t, "1 103 more-timeout", l.say(20*time.Second, Input{}), "common practice: 20 s between cards")

	l.say(time.Second, l.card(1, 101))
	assert.Equal(t, "1 102 wrong-group, 1 101 more-timeout", l.say(time.Second, l.card(1, 102)),
		"a wrong pair starts over")
	assert.Equal(t, "1 awaiting-more", l.say(time.Second, l.card(1, 103)))
	assert.Equal(t, "1 101 granted, 1 103 granted", l.say(time.Second, l.card(1, 101)))

	l.say(time.Minute, l.card(1, 101))
	assert.Equal(t, "1 awaiting-more", l.say(2*time.Second, l.card(1, 101)), "one person counts once")
	assert.Equal(t, "1 103 granted, 1 101 granted", l.say(19*time.Second, l.card(1, 103)), "and the window starts again")
	assert.Equal(t, "2 101 granted", l.say(time.Minute, l.card(2, 101)), "at another door nobody else is wanted")
	assert.Equal(t, "1 104 wrong-group", l.say(time.Minute, l.card(1, 104)))
}

func TestASecondPersonApproves(t *testing.T) {
	l := playing(t, func(c *site.Config) {
		c.Proofs = []site.Proofs{{ID: 60, Kind: site.Approval, DoorIDs: []site.ID{1}, ScheduleID: 30, Window: 20}}
	})
	assert.Equal(t, "1 awaiting-more", l.say(time.Second, l.card(1, 104)))
	assert.Equal(t, "1 105 granted, 1 104 granted", l.say(time.Second, l.card(1, 105)))
	l.say(time.Minute, l.card(1, 105)) // common practice: who approves comes after
	assert.Equal(t, "1 104 wrong-group, 1 105 more-timeout", l.say(time.Second, l.card(1, 104)))
}

func TestAnotherProofOfTheSamePerson(t *testing.T) {
	l := playing(t, func(c *site.Config) {
		c.Doors[0].In.Takes = []site.CredentialKind{site.Phone}
		c.People[1].Credentials = append(c.People[1].Credentials, site.Credential{
			Kind: site.Phone, Value: "a phone", Status: site.Active,
		})
		c.People[1].Credentials = append(c.People[1].Credentials, site.NewCard("26-bit", 42, 77))
		c.Proofs = []site.Proofs{{ID: 60, Kind: site.AnotherProof, DoorIDs: []site.ID{1}, ScheduleID: 30, Window: 20}}
	})
	phone := Input{Kind: Read, Point: site.PortPoints(1).In, Shown: pass.Shown{Kind: site.Phone, Value: "a phone"}}
	assert.Equal(t, "1 awaiting-more", l.say(time.Second, l.card(1, 102)))
	assert.Equal(t, "1 102 granted", l.say(time.Second, phone), "one pass, not two")
	assert.Equal(t, "1 entered", l.say(time.Second, contact(1, false)))
	l.say(time.Second, contact(1, true))

	l.say(time.Minute, l.card(1, 102))
	assert.Equal(t, "1 awaiting-more", l.say(time.Second, reads(1, bits(t, 77))), "one kind twice does not count")
	assert.Equal(t, "1 awaiting-more, 1 102 more-timeout", l.say(2*time.Second, l.card(1, 101)),
		"somebody else begins anew")
	said := ""
	for _, k := range []byte("4829") {
		said += l.say(time.Second, types(1, k))
	}
	assert.Equal(t, "1 101 granted", said, "card and PIN are two kinds")
	l.say(time.Minute, l.card(1, 101))
	said = ""
	for _, k := range []byte("1111#") {
		said += l.say(time.Second, types(1, k))
	}
	assert.Equal(t, "1 101 wrong-pin", said, "the pass ends once")
}

func airlock(waits bool) func(*site.Config) {
	return func(c *site.Config) {
		c.Interlocks = []site.Interlock{{ID: 70, DoorIDs: []site.ID{1, 2, 3}, Waits: waits, Exits: true}}
	}
}

func TestInterlock(t *testing.T) {
	l := playing(t, airlock(false))
	assert.Equal(t, "1 101 granted", l.say(time.Second, l.card(1, 101)))
	assert.Equal(t, "2 102 interlock", l.say(time.Second, l.card(2, 102)), "released counts as open")
	l.say(time.Second, contact(1, false))
	assert.Equal(t, "2 exit-request, 2 held-back", l.say(time.Second, button(2, true)))
	l.say(0, button(2, false))
	assert.Equal(t, "2 held-back", l.say(0, Input{Kind: Release, Doors: []site.ID{2}}))
	l.say(time.Second, contact(1, true))
	assert.Equal(t, "2 released-once", l.say(time.Second, Input{Kind: Release, Doors: []site.ID{2}}))
	l.say(10*time.Second, Input{})

	l = playing(t, airlock(true))
	l.say(time.Second, l.card(1, 101))
	assert.Equal(t, "1 entered", l.say(time.Second, contact(1, false)))
	assert.Equal(t, "2 awaiting-door", l.say(time.Second, l.card(2, 102)))
	assert.Equal(t, "2 awaiting-door", l.say(time.Second, l.card(2, 103)))
	assert.Equal(t, "3 awaiting-door", l.say(time.Second, l.card(3, 104)))
	assert.Equal(t, "2 102 granted, 2 103 granted", l.say(time.Second, contact(1, true)), "the first in sequence wins")
	assert.Equal(t, "2 entered", l.say(time.Second, contact(2, false)))
	assert.Equal(t, "3 104 granted", l.say(4*time.Second, contact(2, true)), "then the next")
	assert.Equal(t, "3 entered", l.say(time.Second, contact(3, false)))
	assert.Equal(t, "1 awaiting-door", l.say(time.Second, l.card(1, 104)))
	assert.Equal(t, "1 104 interlock", l.say(30*time.Second, Input{}))
	assert.Equal(t, "1 awaiting-door", l.say(time.Second, l.card(1, 104)))
	assert.Equal(t, "1 fire, 2 fire, 3 fire, 1 104 granted-free", l.say(time.Second, Input{Kind: Fire, On: true}),
		"fire opens both")
	assert.True(t, l.p.Doors()[0].Released && l.p.Doors()[1].Released)
}

// At most one door of an interlock is other than closed and locked, unless somebody forces one, whatever comes.
func TestInterlockHolds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := playing(t, airlock(rapid.Bool().Draw(t, "waits")))
		open := [3]bool{}
		passes := map[uint64]pass.State{}
		for range rapid.IntRange(1, 40).Draw(t, "steps") {
			port := rapid.IntRange(1, 2).Draw(t, "port")
			l.now = l.now.Add(time.Duration(rapid.IntRange(0, 12).Draw(t, "seconds")) * time.Second)
			for _, e := range l.p.Step(l.now, Input{}).Events {
				follow(t, passes, &e)
			}
			in := Input{}
			switch rapid.IntRange(0, 5).Draw(t, "what") {
			case 0, 1:
				in = l.card(port, rapid.Uint64Range(101, 104).Draw(t, "who"))
			case 2:
				if l.p.Doors()[port-1].Released || open[port-1] { // nobody forces a door here
					open[port-1] = !open[port-1]
					in = contact(port, !open[port-1])
				}
			case 3:
				in = button(port, rapid.Bool().Draw(t, "pressed"))
			case 4:
				in = Input{Kind: Release, Doors: []site.ID{site.ID(port)}}
			}
			for _, e := range l.p.Step(l.now, in).Events {
				follow(t, passes, &e)
			}
			busy := 0
			for i, d := range l.p.Doors() {
				if d.Released || open[i] {
					busy++
				}
			}
			require.LessOrEqual(t, busy, 1)
		}
	})
}

// follow keeps where each pass is, and refuses what may not follow.
func follow(t require.TestingT, passes map[uint64]pass.State, e *pass.Fact) {
	if !slices.Contains([]pass.Kind{pass.WasGranted, pass.WasRefused, pass.AwaitsMore, pass.AwaitsDoor, pass.AwaitsPIN,
		pass.Entered, pass.NotTaken}, e.Kind) {
		return
	}
	number := e.Pass
	if number == 0 {
		number = e.Seq
	}
	next, ok := passes[number].Next(e.Kind)
	require.True(t, ok, "%s of pass %d, which is %d", e.Kind, number, passes[number])
	passes[number] = next
}

// With any rule of several proofs every pass ends at most once, whatever comes.
func TestPassesTogetherEndOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		kind := rapid.SampledFrom([]site.ProofKind{site.AnotherProof, site.Approval, site.Combined}).Draw(t, "kind")
		l := playing(t, func(c *site.Config) {
			pairs(c)
			c.Proofs[0].Kind, c.Proofs[0].DoorIDs = kind, []site.ID{1, 2}
			if rapid.Bool().Draw(t, "airlock too") {
				airlock(true)(c)
			}
		})
		passes := map[uint64]pass.State{}
		for range rapid.IntRange(1, 50).Draw(t, "steps") {
			l.now = l.now.Add(time.Duration(rapid.IntRange(0, 15).Draw(t, "seconds")) * time.Second)
			in := drawInput(t)
			if rapid.Bool().Draw(t, "card") {
				in = l.card(rapid.IntRange(1, 2).Draw(t, "at"), rapid.Uint64Range(101, 105).Draw(t, "who"))
			}
			for _, e := range l.p.Step(l.now, in).Events {
				follow(t, passes, &e)
			}
		}
		l.now = l.now.Add(5 * time.Minute)
		for _, e := range l.p.Step(l.now, Input{}).Events {
			follow(t, passes, &e)
		}
		for n, s := range passes {
			require.NotEqual(t, pass.Waiting, s, "pass %d waits for ever", n)
		}
	})
}

func TestCardToggle(t *testing.T) {
	l := playing(t, func(c *site.Config) {
		toggle := site.UsualToggle()
		c.Doors[1].Toggle = &toggle
		c.Plans[0].Pattern.Paint(0, hours.Segment{Period: hours.Period{Start: 1020, End: 1080}, Mode: hours.CardOrPIN})
	})
	mode := func() hours.Mode { return l.p.Doors()[1].Mode }
	assert.Equal(t, "2 104 granted", l.say(time.Second, l.card(2, 104)))
	assert.Equal(t, "2 104 granted", l.say(2*time.Second, l.card(2, 104)), "who may not does not toggle")
	l.say(10*time.Second, l.card(2, 105))
	assert.Equal(t, "2 105 granted", l.say(6*time.Second, l.card(2, 105)),
		"6 s apart is too late: common practice wants 2 reads within 5 s")
	assert.Equal(t, "2 105 granted, 2 toggled", l.say(2*time.Second, l.card(2, 105)))
	assert.Equal(t, hours.Free, mode())
	assert.Equal(t, "2 105 granted-free", l.say(time.Minute, l.card(2, 105)), "a single read ends nothing")
	assert.Equal(t, "2 105 granted-free, 2 toggle-ended", l.say(2*time.Second, l.card(2, 105)), "the same again does")
	assert.Equal(t, hours.Card, mode())

	l.say(time.Minute, l.card(2, 105))
	l.say(time.Second, l.card(2, 105))
	assert.Equal(t, hours.Free, mode())
	assert.Equal(t, "2 toggle-ended", l.say(5*time.Hour, Input{}), "by the plan's change at 17:00")
	saved, err := l.p.Save()
	require.NoError(t, err)
	assert.Equal(t, "{}", string(saved), "nothing is left to remember")
}

// A keypad that is locked after wrong PINs works again once an operator says so.
func TestKeypadLifted(t *testing.T) {
	l := playing(t, func(c *site.Config) { c.Plans[0].Pattern.Default = hours.PIN })
	said := ""
	for range 5 {
		for _, k := range []byte("1111") {
			said = l.say(time.Second, types(1, k))
		}
	}
	assert.Equal(t, "1 0 wrong-pin, 1 keypad-locked", said)
	assert.Greater(t, l.p.Doors()[0].Keypad, l.now)
	assert.Equal(t, "1 keypad-lifted", l.say(time.Second, Input{Kind: Lift, Doors: []site.ID{1}}))
	assert.Zero(t, l.p.Doors()[0].Keypad)
	for _, k := range []byte("4829") {
		said = l.say(time.Second, types(1, k))
	}
	assert.Equal(t, "1 101 granted", said)
}

// A decision with every rule on, against one without any.
func BenchmarkDecideWithRules(b *testing.B) {
	all := func(c *site.Config) {
		rooms(site.Area{Mode: site.PassbackRefuse, Most: 50, Forget: "04:00"})(c)
		airlock(true)(c)
		pairs(c)
		toggle := site.UsualToggle()
		c.Doors[0].Toggle = &toggle
	}
	for name, change := range map[string]func(*site.Config){"without": func(*site.Config) {}, "with all": all} {
		b.Run(name, func(b *testing.B) {
			l := playing(b, change)
			gates := l.p.places[0].Side(false)
			now, _ := l.p.places[0].Asks.Now()
			x := pass.Pass{Request: pass.Request{At: l.now, HasCard: true, Bits: bits(b, 1), Mode: now.Mode}}
			b.ReportAllocs()
			for b.Loop() {
				x.Number = 0
				gates.Decide(&x)
			}
		})
	}
}

// A PIN under duress calls for help at once and once, also where somebody else is waited for.
func TestDuressWhileOthersAreAwaited(t *testing.T) {
	l := playing(t, func(c *site.Config) {
		pairs(c)
		c.Plans[0].Pattern.Default = hours.CardAndPIN
	})
	l.say(time.Second, l.card(1, 101))
	said := ""
	for _, k := range []byte("4820") {
		said = l.say(time.Second, types(1, k))
	}
	assert.Equal(t, "1 awaiting-more, 1 duress", said)
	assert.Equal(t, "1 101 more-timeout", l.say(20*time.Second, Input{}), "not again when it ends")
}
