package panel

import (
	"encoding/json"
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/access"
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

var key = []byte("a key")

func instant(t require.TestingT, s string) hours.Instant {
	v, err := time.Parse(time.RFC3339, s)
	require.NoError(t, err)
	return hours.At(v)
}

func bits(t require.TestingT, number uint64) cards.Bits {
	b, err := cards.Standard26.Encode(42, number)
	require.NoError(t, err)
	return b
}

// compiled is place with a second door, built and planned like the first: each with a keypad, free Mo-Fr 10:00-17:00,
// card and PIN after 22:00, else a card.
func compiled(t require.TestingT) *image.Compiled {
	return place(t, func(c *site.Config) {
		second := c.Doors[0]
		second.ID, second.Port = 2, 2
		c.Doors = append(c.Doors, second)
		c.Levels[0].Entries = append(c.Levels[0].Entries, site.Entry{DoorID: 2, ScheduleID: 30})
	})
}

// log collects what a panel said, as kinds with reasons.
type log struct {
	t    *testing.T
	p    *Panel
	said []string
	all  []Event
	now  hours.Instant
}

func start(t *testing.T, at string) *log {
	l := &log{t: t, p: New(compiled(t), 0), now: instant(t, at)}
	l.take(l.p.Start(l.now))
	l.said = nil
	return l
}

func (l *log) take(r Result) Result {
	for _, e := range r.Events {
		words := e.Kind.String()
		if e.Reason != 0 {
			words += " " + e.Reason.String()
		}
		l.said = append(l.said, words)
		l.all = append(l.all, e)
	}
	return r
}

func (l *log) after(d time.Duration, in Input) *log {
	l.now = l.now.Add(d)
	in.Port = 1
	l.take(l.p.Step(l.now, in))
	return l
}

func (l *log) card(d time.Duration, number uint64) *log {
	return l.after(d, Input{Kind: CardRead, Bits: bits(l.t, number)})
}

func (l *log) keys(keys string) *log {
	for i := range len(keys) {
		l.after(200*time.Millisecond, Input{Kind: Key, Key: keys[i]})
	}
	return l
}

func (l *log) want(kinds ...string) {
	l.t.Helper()
	assert.Equal(l.t, kinds, l.said)
	l.said = nil
}

const evening = "2026-11-26T18:00:00-04:00"
const night = "2026-11-26T22:30:00-04:00"

// First events after a restart: started, then what every door asks (common practice).
func TestStart(t *testing.T) {
	p := New(compiled(t), 41)
	r := p.Start(instant(t, evening))
	require.Len(t, r.Events, 3)
	assert.Equal(t, Started, r.Events[0].Kind)
	assert.Equal(t, uint64(42), r.Events[0].Seq)
	for i, e := range r.Events[1:] {
		assert.Equal(t, ModeNow, e.Kind)
		assert.Equal(t, site.ID(i+1), e.Door)
		assert.Equal(t, hours.Card, e.Mode)
	}
	assert.Equal(t, instant(t, "2026-11-26T22:00:00-04:00"), r.Wake)
}

func TestOnePass(t *testing.T) {
	l := start(t, evening)
	l.card(0, 1).after(time.Second, Input{Kind: Circuit, On: false}).after(3*time.Second, Input{Kind: Circuit, On: true}).after(time.Minute, Input{})
	l.want("granted granted", "opened", "entered", "closed")
	l.card(0, 9).want("refused card-unknown")
	last := l.all[len(l.all)-1]
	assert.Equal(t, uint64(9), last.Number)
	assert.Equal(t, []access.Check{{Kind: access.CheckRead, OK: true}, {Kind: access.CheckCard}}, last.Checks)
}

func TestTwoReadsAreOnePresentation(t *testing.T) {
	l := start(t, evening)
	l.card(0, 9).card(300*time.Millisecond, 9).card(790*time.Millisecond, 9).want("refused card-unknown")
	l.card(900*time.Millisecond, 9).want("refused card-unknown")
	l.card(100*time.Millisecond, 8).want("refused card-unknown")
}

func TestCardAndPIN(t *testing.T) {
	l := start(t, night)
	l.card(0, 1).keys("4829").want("awaiting-pin need-pin", "granted granted")
	l.card(time.Minute, 1).keys("9").keys("*4829").want("not-taken", "awaiting-pin need-pin", "granted granted")
	l.card(time.Minute, 1).keys("4820").want("not-taken", "awaiting-pin need-pin", "granted granted-duress", "duress")
	l.card(time.Minute, 1).after(11*time.Second, Input{}).want("not-taken", "awaiting-pin need-pin", "refused timeout")
	l.keys("4829").want("refused need-card")
	l.card(time.Minute, 1).keys("48#").want("awaiting-pin need-pin", "refused wrong-pin")
}

func TestKeypadLocks(t *testing.T) {
	l := start(t, night)
	for range 5 {
		l.card(time.Minute, 1).keys("1357")
	}
	assert.Equal(t, "keypad-locked", l.said[len(l.said)-1])
	l.said = nil
	l.card(time.Minute, 1).want("refused keypad-locked")
	l.card(4*time.Minute+time.Second, 1).keys("4829").want("awaiting-pin need-pin", "granted granted")
}

// A free door is let go and held again on the minute of the wall clock, also after the clocks have changed.
func TestFreeOnTheMinute(t *testing.T) {
	for _, day := range []struct{ from, free, bound string }{
		{"2026-11-26T09:59:50-04:00", "2026-11-26T10:00:00-04:00", "2026-11-26T17:00:00-04:00"},
		{"2026-03-06T12:00:00-04:00", "2026-03-09T10:00:00-03:00", "2026-03-09T17:00:00-03:00"}, // over the spring change
		{"2026-10-30T18:00:00-03:00", "2026-11-02T10:00:00-04:00", "2026-11-02T17:00:00-04:00"}, // over the autumn change
	} {
		p := New(compiled(t), 0)
		r := p.Start(instant(t, day.from))
		var released, locked hours.Instant
		for r.Wake <= instant(t, day.bound) {
			now := r.Wake
			r = p.Step(now, Input{})
			for _, o := range r.Outputs {
				if o.Port == 1 && o.Lock == "released" {
					released = now
				} else if o.Port == 1 {
					locked = now
				}
			}
		}
		assert.Equal(t, instant(t, day.free), released, day.from)
		assert.Equal(t, instant(t, day.bound), locked, day.from)
	}
}

func TestClockMoved(t *testing.T) {
	l := start(t, evening)
	l.card(0, 1)
	r := l.take(l.p.Step(instant(t, "2026-11-27T16:59:58-04:00"), Input{Kind: ClockMoved, By: 22*time.Hour + 59*time.Minute + 58*time.Second}))
	l.want("granted granted", "clock-set", "mode", "mode")
	assert.Equal(t, instant(t, "2026-11-27T17:00:00-04:00"), r.Wake, "free until five, and only then card")
	back := l.take(l.p.Step(instant(t, evening), Input{Kind: ClockMoved, By: -22 * time.Hour}))
	assert.Less(t, back.Wake, instant(t, "2026-11-26T22:00:01-04:00"))
}

func TestLoadKeepsTheDoor(t *testing.T) {
	l := start(t, evening)
	l.after(0, Input{Kind: ExitLine, On: true}).after(time.Second, Input{Kind: Circuit, On: false})
	l.take(l.p.Load(l.now, compiled(t), "hash"))
	l.after(time.Minute, Input{})
	l.want("exit-request", "opened", "image-loaded", "held-warning", "held-open")
}

func TestWiring(t *testing.T) {
	c := compiled(t)
	c.Doors[0].Contact, c.Doors[0].Exit = site.NormallyOpen, site.NormallyClosed
	p := New(c, 0)
	now := instant(t, evening)
	p.Start(now)
	assert.Empty(t, p.Step(now, Input{Kind: Circuit, Port: 1, On: false}).Events, "an open circuit is a closed door here")
	assert.Equal(t, OpenedAlone, p.Step(now, Input{Kind: Circuit, Port: 1, On: true}).Events[0].Kind)
	assert.Empty(t, p.Step(now, Input{Kind: ExitLine, Port: 1, On: true}).Events)
	assert.Equal(t, ExitRequest, p.Step(now, Input{Kind: ExitLine, Port: 1, On: false}).Events[0].Kind)
	assert.Empty(t, p.Step(now, Input{Kind: CardRead, Port: 7}).Events, "no such port")
}

// The same image and inputs give the same events to the byte, whether the panel is stepped at every wake or
// only when something happens.
func TestDeterministic(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := compiled(t)
		var inputs []Input
		var gaps []time.Duration
		for range rapid.IntRange(1, 40).Draw(t, "n") {
			in := Input{Kind: rapid.SampledFrom([]InputKind{CardRead, Key, Circuit, ExitLine, Network}).Draw(t, "kind"), Port: rapid.IntRange(1, 2).Draw(t, "port"), On: rapid.Bool().Draw(t, "on")}
			in.Bits = bits(t, rapid.Uint64Range(1, 2).Draw(t, "card"))
			in.Key = rapid.SampledFrom([]byte("4829#*")).Draw(t, "key")
			inputs = append(inputs, in)
			gaps = append(gaps, time.Duration(rapid.IntRange(0, 4_000_000).Draw(t, "gap"))*time.Millisecond)
		}
		play := func(eager bool) string {
			p := New(c, 0)
			now := instant(t, "2026-10-30T21:00:00-03:00")
			r := p.Start(now)
			var events []Event
			take := func(x Result) {
				events = append(events, x.Events...)
				r = x
			}
			take(r)
			for i, in := range inputs {
				next := now.Add(gaps[i])
				for eager && r.Wake <= next {
					take(p.Step(r.Wake, Input{}))
				}
				now = next
				take(p.Step(now, in))
			}
			for i := range events {
				require.Equal(t, uint64(i+1), events[i].Seq)
				require.True(t, i == 0 || events[i].At >= events[i-1].At, "in the order of time")
			}
			b, err := json.Marshal(events)
			require.NoError(t, err)
			return string(b)
		}
		require.Equal(t, play(true), play(false))
	})
}

func TestKindsText(t *testing.T) {
	for k := Started; k < endOfKinds; k++ {
		text, err := k.MarshalText()
		require.NoError(t, err)
		var again Kind
		require.NoError(t, again.UnmarshalText(text))
		assert.Equal(t, k, again)
	}
	var k Kind
	assert.Error(t, k.UnmarshalText([]byte("nonsense")))
}
