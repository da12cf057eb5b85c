package panel

import (
	"encoding/json"
	"testing"
	"time"
	_ "time/tzdata"

	"amberkeystone/core/pass"
	"amberkeystone/core/point"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

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

// What reaches the terminals of a port: a card, a key, the contact's and the button's circuit.
func reads(port int, b cards.Bits) Input {
	return Input{Kind: Read, Point: site.PortPoints(port).In, Bits: b}
}

func types(port int, key byte) Input {
	return Input{Kind: Key, Point: site.PortPoints(port).In, Key: key}
}

func contact(port int, closed bool) Input { return circuit(site.PortPoints(port).Contact, closed) }

func button(port int, closed bool) Input { return circuit(site.PortPoints(port).Exit, closed) }

func circuit(at point.Address, closed bool) Input {
	in := Input{Kind: Reading, Point: at}
	if closed {
		in.Circuit = point.Closed
	}
	return in
}

func lock(port int, released bool) Output {
	return Output{Point: site.PortPoints(port).Lock, On: released}
}

// drawInput is something at one of two ports, or to all doors.
func drawInput(t *rapid.T) Input {
	port, on := rapid.IntRange(1, 2).Draw(t, "port"), rapid.Bool().Draw(t, "on")
	switch rapid.IntRange(0, 9).Draw(t, "kind") {
	case 0, 1, 2:
		return reads(port, bits(t, rapid.Uint64Range(1, 2).Draw(t, "card")))
	case 3:
		return types(port, rapid.SampledFrom([]byte("4829#*")).Draw(t, "key"))
	case 4, 5:
		return contact(port, on)
	case 6:
		return button(port, on)
	case 7:
		return Input{Kind: Network, On: on}
	case 8:
		return Input{
			Kind: rapid.SampledFrom([]InputKind{Lockdown, Fire}).Draw(t, "what"), On: on, Doors: []site.ID{site.ID(port)},
		}
	}
	return Input{Kind: Hold, On: on, Doors: []site.ID{site.ID(port)}, Mode: rapid.SampledFrom(hours.Modes).Draw(t, "mode")}
}

// compiled is place with a second door, built and planned like the first: each with a keypad, free Mo-Fr 10:00-17:00,
// card and PIN after 22:00, else a card.
func compiled(t require.TestingT) *image.Compiled {
	return place(t, func(c *site.Config) {
		second := c.Doors[0]
		second.ID, second.Port = 2, 2
		c.Doors = append(c.Doors, second)
		c.Levels[0].Entries = append(c.Levels[0].Entries, site.At(2, 30))
	})
}

// log collects what a panel said, as kinds with reasons.
type log struct {
	t    *testing.T
	p    *Panel
	said []string
	all  []pass.Fact
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
	l.take(l.p.Step(l.now, in))
	return l
}

func (l *log) card(d time.Duration, number uint64) *log {
	return l.after(d, reads(1, bits(l.t, number)))
}

func (l *log) keys(keys string) *log {
	for i := range len(keys) {
		l.after(200*time.Millisecond, types(1, keys[i]))
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
	assert.Equal(t, pass.Started, r.Events[0].Kind)
	assert.Equal(t, uint64(42), r.Events[0].Seq)
	for i, e := range r.Events[1:] {
		assert.Equal(t, pass.ModeNow, e.Kind)
		assert.Equal(t, site.ID(i+1), e.Door)
		assert.Equal(t, hours.Card, e.Mode)
	}
	assert.Equal(t, instant(t, "2026-11-26T22:00:00-04:00"), r.Wake)
}

func TestOnePass(t *testing.T) {
	l := start(t, evening)
	l.card(0, 1).after(time.Second, contact(1, false)).after(3*time.Second, contact(1, true)).after(time.Minute, Input{})
	l.want("granted granted", "opened", "entered", "closed")
	l.card(0, 9).want("refused card-unknown")
	last := l.all[len(l.all)-1]
	assert.Equal(t, uint64(9), last.Number)
	assert.Equal(t, []pass.Check{{Kind: pass.CheckRead, OK: true}, {Kind: pass.CheckCard}}, last.Checks)
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
				if o.Point == point.At(point.Output, 1) && o.On {
					released = now
				} else if o.Point == point.At(point.Output, 1) {
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
	r := l.take(l.p.Step(instant(t, "2026-11-27T16:59:58-04:00"), Input{
		Kind: ClockMoved, By: 22*time.Hour + 59*time.Minute + 58*time.Second,
	}))
	l.want("granted granted", "clock-set", "mode", "mode")
	assert.Equal(t, instant(t, "2026-11-27T17:00:00-04:00"), r.Wake, "free until five, and only then card")
	back := l.take(l.p.Step(instant(t, evening), Input{Kind: ClockMoved, By: -22 * time.Hour}))
	assert.Less(t, back.Wake, instant(t, "2026-11-26T22:00:01-04:00"))
}

func TestLoadKeepsTheDoor(t *testing.T) {
	l := start(t, evening)
	l.after(0, button(1, true)).after(time.Second, contact(1, false))
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
	assert.Empty(t, p.Step(now, contact(1, false)).Events, "an open circuit is a closed door here")
	assert.Equal(t, pass.OpenedAlone, p.Step(now, contact(1, true)).Events[0].Kind)
	assert.Empty(t, p.Step(now, button(1, true)).Events)
	assert.Equal(t, pass.ExitRequest, p.Step(now, button(1, false)).Events[0].Kind)
	assert.Empty(t, p.Step(now, Input{Kind: Read, Point: point.At(point.Reader, 13)}).Events, "no such reader")
}

// The same image and inputs give the same events to the byte, whether the panel is stepped at every wake or
// only when something happens.
func TestDeterministic(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := compiled(t)
		var inputs []Input
		var gaps []time.Duration
		for range rapid.IntRange(1, 40).Draw(t, "n") {
			inputs = append(inputs, drawInput(t))
			gaps = append(gaps, time.Duration(rapid.IntRange(0, 4_000_000).Draw(t, "gap"))*time.Millisecond)
		}
		play := func(eager bool) string {
			p := New(c, 0)
			now := instant(t, "2026-10-30T21:00:00-03:00")
			r := p.Start(now)
			var events []pass.Fact
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
