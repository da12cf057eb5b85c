package prove

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/rules/alarmarea"
	"amberkeystone/core/site"
)

// played is reacting at work: water at South (i9) and a siren at North (o5), with some reactions in use.
type played struct {
	*World
	t     *testing.T
	start hours.Instant
	said  []string
}

func play(t *testing.T, list ...site.Reaction) *played {
	c := *reacting().Config
	c.Settings = site.DefaultSettings()
	c.Plans = []site.Plan{{ID: 71, Pattern: hours.Pattern{Default: hours.Card}}}
	for i := range c.Doors {
		c.Doors[i].PlanID, c.Doors[i].Out.Fitted, c.Doors[i].InsideAreaID = 71, true, 51
	}
	c.Inputs[0].At, c.Inputs[0].Use, c.Inputs[0].Contact = point.At(point.Input, 9), site.InputSense, site.NormallyOpen
	c.Outputs[0].At, c.Outputs[0].When = point.At(point.Output, 5), site.ByHand
	c.Levels = []site.Level{{ID: 81, Entries: []site.Entry{site.At(21, 61), site.At(22, 61)}}}
	for id := site.ID(91); id < 94; id++ {
		c.People = append(c.People, &site.Person{
			ID: id, Credentials: []site.Credential{site.NewCard("26-bit", 42, uint64(id))}, Levels: []site.Grant{{LevelID: 81}},
		})
	}
	yard := site.UsualAlarmArea(21)
	yard.ID, yard.Name, yard.ExitDelay = 99, "Yard at night", 0
	c.AlarmAreas = []site.AlarmArea{yard}
	for i := range list {
		list[i].ID, list[i].Name, list[i].ScheduleID = site.ID(101+i), fmt.Sprint("R", i), 61
	}
	c.Reactions = list
	utc := hours.Zone{Name: "UTC"}
	p := &played{t: t, start: at(t, "2026-11-23T12:00:00Z")}
	p.World = NewWorld(NewBook(&c, map[site.ID]hours.Zone{11: utc, 12: utc}), p.start, image.Secrets{},
		func(c site.ID, e *pass.Fact) {
			switch e.Kind {
			case pass.HoldBegan, pass.HoldEnded, pass.ReleasedOnce, pass.Armed, pass.Reacted, pass.ReactionRests:
				p.said = append(p.said, fmt.Sprintf("%d %s", c, e.Kind))
			}
		})
	return p
}

// step does something after a time, and tells what followed.
func (p *played) step(after time.Duration, controller site.ID, in panel.Input) string {
	p.said = nil
	require.NoError(p.t, p.Do(p.Now().Add(after), controller, in))
	return strings.Join(p.said, ", ")
}

func water(on bool) panel.Input {
	in := panel.Input{Kind: panel.Reading, Point: point.At(point.Input, 9)}
	if on {
		in.Circuit = point.Closed
	}
	return in
}

// What happens at one controller is done at another, through the relay; that one cut off is not told later.
func TestReactionsAcrossAreSimulated(t *testing.T) {
	hold := site.Reaction{
		When: site.WhenInputActive, InputIDs: []site.ID{31}, Do: site.DoHold, To: place(21), Mode: "free", Seconds: 60,
	}
	p := play(t, hold)
	assert.Equal(t, "11 hold", p.step(time.Second, 12, water(true)))
	p.said = nil
	p.Run(p.Now().Add(time.Minute))
	assert.Equal(t, []string{"11 hold-ended"}, p.said, "after its minute, by the other's own clock")
	p.step(0, 12, water(false))
	p.step(0, 11, panel.Input{Kind: panel.Network})
	assert.Empty(t, p.step(time.Second, 12, water(true)), "cut off it is not told")
	assert.Empty(t, p.step(time.Second, 11, panel.Input{Kind: panel.Network, On: true}), "nor later")

	p = play(t, hold)
	p.step(0, 12, panel.Input{Kind: panel.Network})
	assert.Empty(t, p.step(time.Second, 12, water(true)), "nobody has heard of it")
	assert.Equal(t, "11 hold", p.step(4*time.Minute, 12, panel.Input{Kind: panel.Network, On: true}),
		"heard of within five minutes it counts")
	p = play(t, hold)
	p.step(0, 12, panel.Input{Kind: panel.Network})
	p.step(time.Second, 12, water(true))
	assert.Empty(t, p.step(6*time.Minute, 12, panel.Input{Kind: panel.Network, On: true}), "later it does not")
}

// An area at another controller is armed, also since somebody is no longer heard of; so many inside count over all.
func TestOtherHappeningsAreSimulated(t *testing.T) {
	p := play(t,
		site.Reaction{When: site.WhenOffline, SourceIDs: []site.ID{12}, Do: site.DoArm, ArmIDs: []site.ID{99}},
		site.Reaction{When: site.WhenOccupied, AreaID: 51, Count: 2, Do: site.DoRelease, To: place(22)})
	in := func(controller, person site.ID) string {
		bits, err := image.Build(p.book.Config, controller, hours.Zone{Name: "UTC"},
			image.Secrets{}).Settings.Format("26-bit").Encode(42, uint64(person))
		require.NoError(t, err)
		p.step(time.Minute, controller, panel.Input{Kind: panel.Read, Point: site.PortPoints(1).In, Bits: bits})
		return p.step(time.Second, controller, panel.Input{Kind: panel.Reading, Point: site.PortPoints(1).Contact}) +
			p.step(time.Second, controller, panel.Input{
				Kind: panel.Reading, Point: site.PortPoints(1).Contact, Circuit: point.Closed,
			})
	}
	assert.Empty(t, in(11, 91))
	assert.Equal(t, "12 released-once", in(11, 92))
	assert.Empty(t, in(12, 93), "once, as the second comes in")
	assert.Equal(t, "11 armed", p.step(time.Second, 12, panel.Input{Kind: panel.Network}))
	assert.Equal(t, alarmarea.Armed, p.AlarmAreas(11)[0].State)
}

// An output is on until all that it is on for has ended, and one that is set off too often rests.
func TestRelayCounts(t *testing.T) {
	b := play(t, site.Reaction{When: site.WhenInputActive, Do: site.DoOn, OutputIDs: []site.ID{41}, Until: true},
		site.Reaction{When: site.WhenRefused, Do: site.DoRelease, To: place(21)}).book
	var r Relay
	kinds := func(list []Deed) (out []panel.InputKind) {
		for _, d := range list {
			for _, o := range d.Orders {
				assert.Equal(t, site.ID(11), o.Controller)
				out = append(out, o.Input.Kind)
			}
		}
		return out
	}
	begins, other, ends := pass.Fact{Kind: pass.InputActive, Input: 31}, pass.Fact{Kind: pass.InputActive, Input: 32},
		pass.Fact{Kind: pass.InputRest, Input: 31}
	assert.Equal(t, []panel.InputKind{panel.Drive}, kinds(r.Hear(b, 12, &begins, 1, 1)))
	assert.Equal(t, []panel.InputKind{panel.Drive}, kinds(r.Hear(b, 12, &other, 1, 1)))
	assert.Empty(t, r.Hear(b, 12, &ends, 2, 2))
	ends.Input = 32
	assert.Equal(t, []panel.InputKind{panel.LetGo}, kinds(r.Hear(b, 12, &ends, 3, hours.Never)), "however late")
	assert.Empty(t, r.Hear(b, 12, &ends, 4, 4), "once")

	refused := pass.Fact{Kind: pass.WasRefused, Door: 22}
	for range site.MostInARow {
		assert.Len(t, kinds(r.Hear(b, 12, &refused, 5, 5)), 1)
	}
	list := r.Hear(b, 12, &refused, 6, 6)
	require.Len(t, list, 1)
	assert.True(t, list[0].Rests && list[0].Orders == nil)
	assert.Empty(t, r.Hear(b, 12, &refused, 7, 7), "it says so once")
	later := hours.Instant(5).Add(time.Minute)
	assert.Len(t, kinds(r.Hear(b, 12, &refused, later, later)), 1)
	assert.Empty(t, r.Hear(b, 12, &refused, later, later.Add(6*time.Minute)), "too late for anything to follow")
}
