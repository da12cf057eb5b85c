package panel

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// Every happening that a controller tells of sets a reaction off, and what has an end turns its output off with it.
func TestEveryHappening(t *testing.T) {
	told := func(k pass.Kind, at point.Address) Input { return Input{Kind: Told, Tells: k, Point: at} }
	keys := func(l *play, text string) {
		for _, k := range []byte(text) {
			l.step(0, types(1, k))
		}
	}
	in := site.PortPoints(2).In
	grant := func(l *play) { l.step(0, l.card(2, 103)) }
	arm := func(l *play) { l.step(0, Input{Kind: Arm, Rule: 90, On: true}) }
	armed := func(l *play) { arm(l); l.step(10*time.Second, Input{}) }
	held := func(after time.Duration) func(l *play) {
		return func(l *play) { grant(l); l.step(0, contact(2, false)); l.step(after, Input{}) }
	}
	type story struct {
		begins func(l *play)
		ends   Input // of what has an end
	}
	stories := map[site.Happening]story{
		site.WhenGranted:      {begins: grant},
		site.WhenRefused:      {begins: func(l *play) { l.step(0, reads(2, bits(t, 99))) }},
		site.WhenEntered:      {begins: held(0)},
		site.WhenNotTaken:     {begins: func(l *play) { grant(l); l.step(time.Minute, Input{}) }},
		site.WhenForced:       {func(l *play) { l.step(0, contact(2, false)); l.step(3*time.Second, Input{}) }, contact(2, true)},
		site.WhenHeldWarning:  {held(46 * time.Second), contact(2, true)},
		site.WhenHeldOpen:     {held(time.Minute), contact(2, true)},
		site.WhenExitRequest:  {begins: func(l *play) { l.step(0, button(2, true)) }},
		site.WhenDuress:       {begins: func(l *play) { keys(l, "4820") }},
		site.WhenKeypadLocked: {begins: func(l *play) { keys(l, "11111111111111111111") }},
		site.WhenHoldBegan:    {func(l *play) { l.step(0, Input{Kind: Hold, On: true, Mode: hours.Free}) }, Input{Kind: Hold}},
		site.WhenHoldEnded:    {begins: func(l *play) { l.step(0, Input{Kind: Hold, On: true}); l.step(0, Input{Kind: Hold}) }},
		site.WhenLetThrough:   {begins: func(l *play) { l.step(0, Input{Kind: Release, Doors: []site.ID{2}}) }},
		site.WhenLockdown:     {func(l *play) { l.step(0, Input{Kind: Lockdown, On: true}) }, Input{Kind: Lockdown}},
		site.WhenLockdownEnds: {begins: func(l *play) { l.step(0, Input{Kind: Lockdown, On: true}); l.step(0, Input{Kind: Lockdown}) }},
		site.WhenFire:         {func(l *play) { l.step(0, Input{Kind: Fire, On: true}) }, Input{Kind: Fire}},
		site.WhenFireEnds:     {begins: func(l *play) { l.step(0, Input{Kind: Fire, On: true}); l.step(0, Input{Kind: Fire}) }},
		site.WhenReaderLost:   {func(l *play) { l.step(0, told(pass.ReaderLost, in)) }, told(pass.ReaderBack, in)},
		site.WhenReaderOpened: {func(l *play) { l.step(0, told(pass.ReaderOpened, in)) }, told(pass.ReaderClosed, in)},
		site.WhenInputActive:  {func(l *play) { l.step(0, sensor(9, true)) }, sensor(9, false)},
		site.WhenInputRest:    {begins: func(l *play) { l.step(0, sensor(9, true)); l.step(0, sensor(9, false)) }},
		site.WhenWireCut: {
			func(l *play) { l.step(0, Input{Kind: Reading, Point: point.At(point.Input, 11)}) },
			Input{Kind: Reading, Point: point.At(point.Input, 11), Circuit: point.Two},
		},
		site.WhenMainsLost:   {func(l *play) { l.step(0, told(pass.MainsLost, point.Address{})) }, told(pass.MainsBack, point.Address{})},
		site.WhenBatteryLow:  {func(l *play) { l.step(0, told(pass.BatteryLow, point.Address{})) }, told(pass.BatteryGood, point.Address{})},
		site.WhenTamper:      {func(l *play) { l.step(0, told(pass.TamperOpened, point.Address{})) }, told(pass.TamperClosed, point.Address{})},
		site.WhenArmed:       {armed, Input{Kind: Arm, Rule: 90}},
		site.WhenNotArmed:    {begins: func(l *play) { l.step(0, sensor(9, true)); arm(l) }},
		site.WhenArmingFails: {begins: func(l *play) { arm(l); l.step(0, sensor(9, true)); l.step(10*time.Second, Input{}) }},
		site.WhenDisarmed:    {begins: func(l *play) { armed(l); l.step(0, Input{Kind: Arm, Rule: 90}) }},
		site.WhenEntering:    {begins: func(l *play) { armed(l); l.step(0, l.card(2, 101)); l.step(0, contact(2, false)) }},
		site.WhenIntrusion:   {func(l *play) { armed(l); l.step(0, sensor(9, true)) }, Input{Kind: Arm, Rule: 90}},
	}
	// what goes on over a restart, and is not told again
	lasting := map[site.Happening]bool{
		site.WhenHoldBegan: true, site.WhenLockdown: true, site.WhenFire: true, site.WhenArmed: true,
		site.WhenIntrusion: true,
	}
	// tests of their own
	elsewhere := map[site.Happening]bool{site.WhenHour: true, site.WhenFirstCard: true, site.WhenFloorChosen: true}
	for _, h := range site.Happenings {
		s, ok := stories[h.Code]
		if h.Code.AtServer() || elsewhere[h.Code] {
			continue
		}
		t.Run(string(h.Code), func(t *testing.T) {
			if !assert.True(t, ok, "nothing happens here") {
				return
			}
			l := watched(t, func(a *site.AlarmArea, c *site.Config) {
				a.ExitDelay, c.Plans[0].Pattern.Default, c.Inputs[2].Supervised = 10, hours.CardOrPIN, true
				c.Outputs = append(c.Outputs, site.Output{
					ID: 76, ControllerID: 9, At: point.At(point.Output, 8), When: site.ByHand,
				})
				c.Reactions = []site.Reaction{
					{ID: 80, When: h.Code, ScheduleID: 30, Do: site.DoOn, OutputIDs: []site.ID{76}, Until: h.Ends != ""},
				}
			})
			lit := func() bool { return l.p.told[point.At(point.Output, 8)] }
			l.step(0, Input{Kind: Reading, Point: point.At(point.Input, 11), Circuit: point.Two})
			assert.False(t, lit())
			s.begins(l)
			assert.True(t, lit())
			if h.Ends == "" {
				return
			}
			before := l
			l = l.restarted(t)
			assert.Equal(t, lasting[h.Code], lit(), "over a restart, while nothing is told again")
			if !lasting[h.Code] {
				l = before
			}
			l.step(time.Second, s.ends)
			assert.False(t, lit(), "it has ended")
		})
	}
}

// restarted is the same controller after it was without power for a second.
func (l *play) restarted(t *testing.T) *play {
	memory, err := l.p.Save()
	require.NoError(t, err)
	again := *l
	again.p = New(l.p.c, l.p.Seq())
	require.NoError(t, again.p.Restore(memory))
	again.now = l.now.Add(time.Second)
	again.p.Start(again.now)
	return &again
}
