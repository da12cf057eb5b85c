package panel

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// The layers above a plan (design 3.3): fire release over lockdown over an operator's hold over the plan.
func TestLayersAboveThePlan(t *testing.T) {
	l := begin(t, place(t), evening) // a card is asked
	asks := func(want hours.Mode, layer hours.Layer) {
		t.Helper()
		d := l.p.Doors()[0]
		assert.Equal(t, want, d.Mode)
		assert.Equal(t, layer, d.Layer)
		assert.Equal(t, want == hours.Free, d.Released)
	}
	l.after(time.Second, Input{Kind: Hold, On: true, Mode: hours.Free, Until: l.now.Add(time.Hour)}).want("hold", "mode")
	asks(hours.Free, hours.OperatorHold)
	assert.Equal(t, l.now.Add(time.Hour-time.Second), l.p.Doors()[0].Until)
	l.after(time.Second, Input{Kind: Lockdown, On: true}).want("lockdown", "mode")
	asks(hours.Barred, hours.Lockdown)
	l.card(time.Second, 1).want("refused door-barred")
	assert.Equal(t, hours.Lockdown, l.last().Layer)
	l.after(time.Second, button(1, true)).want("exit-request")
	assert.True(t, l.p.Doors()[0].Released, "exit requests work in every layer")
	l.after(10*time.Second, button(1, false))
	l.after(time.Second, Input{Kind: Fire, On: true}).want("fire", "mode")
	asks(hours.Free, hours.FireRelease)
	l.after(time.Second, Input{Kind: Lockdown}).want("lockdown-ended") // nobody sees it while the fire release stands
	l.after(time.Second, Input{Kind: Fire}).want("fire-ended", "mode")
	asks(hours.Free, hours.OperatorHold)
	l.after(time.Hour, Input{}).want("hold-ended", "mode")
	asks(hours.Card, hours.PlanDefault)
	l.after(time.Second, Input{Kind: Hold, On: true, Mode: hours.Barred, Doors: []site.ID{77}}).want()
}

// What a supervised wire says in trouble is told and is an alarm; what it leads to stays as it was.
func TestSupervisedWire(t *testing.T) {
	l := begin(t, place(t, func(c *site.Config) { c.Doors[0].ContactSupervised = true }), evening)
	at := point.At(point.Input, 1)
	for _, step := range []struct {
		circuit point.Circuit
		want    []string
		open    bool
	}{
		{point.One, nil, false}, // normally closed: at rest
		{point.Open, []string{"wire-cut"}, false},
		{point.Open, nil, false},
		{point.Closed, []string{"wire-shorted"}, false},
		{point.Two, []string{"wire-sound", "opened-alone"}, true},
		{point.Open, []string{"forced", "wire-cut"}, true},
		{point.One, []string{"wire-sound", "closed", "forced-ended"}, false},
	} {
		l.after(2*time.Second, Input{Kind: Reading, Point: at, Circuit: step.circuit}).want(step.want...)
		assert.Equal(t, step.open, l.p.Doors()[0].Open)
	}
}

// Doors may be wired to any terminals of their controller.
func TestDoorOnTerminalsOfItsOwn(t *testing.T) {
	in, contact2, out := point.Address{Board: 2, Kind: point.Reader, Number: 1}, point.At(point.Input, 7),
		point.At(point.Output, 5)
	l := begin(t,
		place(t, func(c *site.Config) { c.Doors[0].Points = &site.Points{In: in, Contact: contact2, Lock: out} }), evening)
	l.card(0, 1).want()
	r := l.take(l.p.Step(l.now, Input{Kind: Read, Point: in, Bits: bits(t, 1)}))
	assert.Equal(t, []Output{{Point: in, Show: pass.ShowGranted}, {Point: out, On: true}}, r.Outputs)
	l.after(time.Second, circuit(contact2, false)).want("granted granted", "opened", "entered")
}

// Phones, passes and plates are shown at readers that take them, as cards are, and are asked for a PIN too.
func TestWhatIsNoCard(t *testing.T) {
	edit := func(c *site.Config) {
		c.Doors[0].In.Takes = []site.CredentialKind{site.Plate}
		lost := site.Credential{Kind: site.Plate, Value: "OLD1", Status: site.Lost}
		c.People[0].Credentials = append(c.People[0].Credentials,
			site.Credential{Kind: site.Plate, Value: "AB12", Status: site.Active}, lost)
		c.People[1].Credentials = []site.Credential{{Kind: site.Phone, Value: "tide", Status: site.Active}}
	}
	show := func(kind site.CredentialKind, value string) Input {
		return Input{Kind: Read, Point: point.At(point.Reader, 1), Shown: pass.Shown{Kind: kind, Value: value}}
	}
	l := begin(t, place(t, edit), evening)
	l.after(0, show(site.Plate, "AB12")).want("granted granted")
	assert.Equal(t, []any{"plate", "AB12", site.ID(101)}, []any{l.last().Format, l.last().Shown, l.last().Person})
	l.after(300*time.Millisecond, show(site.Plate, "AB12")).want()
	l.after(time.Second, show(site.Plate, "OLD1")).want("refused card-lost")
	l.after(time.Second, show(site.Plate, "AB13")).want("refused card-unknown")
	l.after(time.Second, show(site.Phone, "tide")).want("refused format-unknown")
	l = begin(t, place(t, edit), night)
	l.after(0, show(site.Plate, "AB12")).keys("4829").want("awaiting-pin need-pin", "granted granted")
}

// Every pass that a panel begins ends exactly once, whatever happens at its doors, and its lines name its first.
func TestEveryPassEndsOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := compiled(t)
		p := New(c, 0)
		now := instant(t, rapid.SampledFrom([]string{evening, night, "2026-11-26T09:59:30-04:00"}).Draw(t, "from"))
		states := map[uint64]pass.State{}
		take := func(r Result) {
			for _, f := range r.Events {
				n := f.Pass
				if n == 0 {
					n = f.Seq
				}
				switch f.Kind {
				case pass.WasGranted, pass.WasRefused, pass.AwaitsPIN, pass.Entered, pass.NotTaken:
					next, ok := states[n].Next(f.Kind)
					require.True(t, ok, "%s after state %d of pass %d", f.Kind, states[n], n)
					states[n] = next
				}
			}
		}
		take(p.Start(now))
		for range rapid.IntRange(1, 40).Draw(t, "n") {
			now = now.Add(time.Duration(rapid.IntRange(0, 20_000).Draw(t, "gap")) * time.Millisecond)
			if rapid.IntRange(0, 15).Draw(t, "load") == 0 {
				take(p.Load(now, compiled(t), "h"))
				continue
			}
			take(p.Step(now, drawInput(t)))
		}
		take(p.Load(now, place(t, func(c *site.Config) { c.Doors, c.Levels = nil, nil }), "h")) // all doors go
		for n, s := range states {
			require.True(t, s.Ended(), "pass %d is in state %d", n, s)
		}
	})
}

// What parts remember, written and read back, gives a panel that goes on in the same way.
func TestRestartAnyTime(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := compiled(t)
		p := New(c, 0)
		now := instant(t, night)
		p.Start(now)
		for range rapid.IntRange(0, 25).Draw(t, "n") {
			now = now.Add(time.Duration(rapid.IntRange(0, 9_000).Draw(t, "gap")) * time.Millisecond)
			p.Step(now, drawInput(t))
		}
		kept, err := p.Save()
		require.NoError(t, err)
		again := New(c, p.Seq())
		require.NoError(t, again.Restore(kept))
		second, err := again.Save()
		require.NoError(t, err)
		require.Equal(t, string(kept), string(second))
		again.Start(now)
		for i, d := range again.Doors() {
			was := p.Doors()[i]
			require.Equal(t, was.Mode, d.Mode)
			require.Equal(t, was.Layer, d.Layer)
			require.Equal(t, was.Until, d.Until)
		}
	})
}

// Two doors change at one instant: the one on the first port is first.
func TestEqualInstantsInOrder(t *testing.T) {
	p := New(compiled(t), 0)
	p.Start(instant(t, "2026-11-26T09:00:00-04:00"))
	var doors []site.ID
	for _, f := range p.Step(instant(t, "2026-11-27T09:00:00-04:00"), Input{}).Events {
		doors = append(doors, f.Door)
	}
	assert.Equal(t, []site.ID{1, 2, 1, 2, 1, 2, 1, 2}, doors, "10:00, 17:00, 22:00, midnight")
}

// One door, one card: a newcomer meets the panel here.
func Example() {
	c := &site.Config{
		Settings:  site.DefaultSettings(),
		Doors:     []site.Door{{ID: 1, Port: 1, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()}},
		Plans:     []site.Plan{{ID: 20}}, // asks for a card at all hours
		Schedules: []site.Schedule{{ID: 30, Week: hours.Always(), Fixed: true}},
		Levels:    []site.Level{{ID: 40, Entries: []site.Entry{site.At(1, 30)}}},
		People: []*site.Person{{ID: 50, Levels: []site.Grant{{LevelID: 40}},
			Credentials: []site.Credential{site.NewCard("26-bit", 42, 7)}}},
	}
	p := New(image.Build(c, 9, hours.Zone{Name: "UTC"}, image.Secrets{}).Compile(), 0)
	p.Start(0)
	read, _ := cards.Standard26.Encode(42, 7)
	r := p.Step(60_000, Input{Kind: Read, Point: point.At(point.Reader, 1), Bits: read})
	for _, o := range r.Outputs {
		fmt.Printf("%s on=%v shows=%q\n", o.Point, o.On, o.Show)
	}
	fmt.Println(r.Events[0].Kind, r.Wake)
	r = p.Step(r.Wake, Input{}) // nobody opened
	fmt.Println(r.Events[0].Kind, r.Outputs[0].Point, r.Outputs[0].On)
	// Output:
	// r1 on=false shows="granted"
	// o1 on=true shows=""
	// granted 65000
	// not-taken o1 false
}
