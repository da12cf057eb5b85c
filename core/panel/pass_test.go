package panel

import (
	"testing"
	"time"

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

// place is a door with two people, cards 1 (with PIN 4829) and 2, and what an edit makes of it.
func place(t require.TestingT, edits ...func(c *site.Config)) *image.Compiled {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	zone := hours.ZoneFrom(loc, instant(t, "2026-01-01T00:00:00Z"), instant(t, "2028-01-01T00:00:00Z"))
	plan := hours.Pattern{}
	for d := range 5 {
		plan.Paint(d, hours.Segment{Period: hours.Period{Start: 600, End: 1020}, Mode: hours.Free})
		plan.Paint(d, hours.Segment{Period: hours.Period{Start: 1320, End: 1440}, Mode: hours.CardAndPIN})
	}
	door := site.Door{ID: 1, Port: 1, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()}
	door.In.Keypad = true
	pin, duress := cards.HashPIN(key, "4829"), cards.HashPIN(key, "4820")
	person := func(id site.ID, n uint64) *site.Person {
		return &site.Person{
			ID: id, Credentials: []site.Credential{site.NewCard("26-bit", 42, n)}, Levels: []site.Grant{{LevelID: 40}},
		}
	}
	a, b := person(101, 1), person(102, 2)
	a.PIN, a.Duress, a.PINLength = &pin, &duress, 4
	c := &site.Config{
		Settings: site.DefaultSettings(), Doors: []site.Door{door}, Plans: []site.Plan{{ID: 20, Pattern: plan}},
		Schedules: []site.Schedule{{ID: 30, Week: hours.Always()}},
		Levels:    []site.Level{{ID: 40, Entries: []site.Entry{site.At(1, 30)}}},
		People:    []*site.Person{a, b},
	}
	for _, edit := range edits {
		edit(c)
	}
	return image.Build(c, 9, zone, image.Secrets{PINKey: key}).Compile()
}

func begin(t *testing.T, c *image.Compiled, at string) *log {
	l := &log{t: t, p: New(c, 0), now: instant(t, at)}
	l.take(l.p.Start(l.now))
	l.said = nil
	return l
}

func (l *log) load(d time.Duration, c *image.Compiled) Result {
	l.now = l.now.Add(d)
	return l.take(l.p.Load(l.now, c, "hash"))
}

func (l *log) last() pass.Fact { return l.all[len(l.all)-1] }

func (l *log) open(d time.Duration) *log  { return l.after(d, contact(1, false)) }
func (l *log) close(d time.Duration) *log { return l.after(d, contact(1, true)) }

const noon = "2026-11-26T12:00:00-04:00" // free

// Whatever an image does to a released lock, the lock does what the new state wants.
func TestLocksAfterAnImage(t *testing.T) {
	moved := func(c *site.Config) { c.Doors[0].Port = 2 }
	gone := func(c *site.Config) { c.Doors, c.Levels = nil, nil }
	card := func(c *site.Config) { c.Plans[0].Pattern = hours.Pattern{} }
	for name, c := range map[string]struct {
		from, to func(*site.Config)
		want     []Output
	}{
		"the same":                 {nil, nil, nil},
		"free, on another port":    {nil, moved, []Output{lock(2, true), lock(1, false)}},
		"gone while free":          {nil, gone, []Output{lock(1, false)}},
		"no longer free":           {nil, card, []Output{lock(1, false)}},
		"free now":                 {card, nil, []Output{lock(1, true)}},
		"free now, and on port 2":  {card, moved, []Output{lock(2, true)}},
		"not free, not free there": {card, func(c *site.Config) { card(c); moved(c) }, nil},
	} {
		t.Run(name, func(t *testing.T) {
			edits := func(f func(*site.Config)) []func(*site.Config) {
				if f == nil {
					return nil
				}
				return []func(*site.Config){f}
			}
			l := begin(t, place(t, edits(c.from)...), noon)
			got := l.load(time.Minute, place(t, edits(c.to)...))
			assert.Equal(t, c.want, append([]Output(nil), got.Outputs...))
		})
	}
}

// After every step, image and restart each lock does what the state of its door wants, and is told only differences.
func TestOutputsEqualTheState(t *testing.T) {
	images := []*image.Compiled{
		place(t), place(t, func(c *site.Config) { c.Doors[0].Port = 2 }),
		place(t, func(c *site.Config) { c.Doors, c.Levels = nil, nil }),
		place(t, func(c *site.Config) { c.Plans[0].Pattern = hours.Pattern{} }),
		place(t, func(c *site.Config) { c.Doors[0].Contact, c.Doors[0].Relock = site.NotFitted, site.AtEnd }),
	}
	rapid.Check(t, func(t *rapid.T) {
		p := New(images[0], 0)
		now := instant(t, "2026-11-26T09:58:00-04:00")
		locks := map[int]bool{}
		take := func(r Result) {
			for _, o := range r.Outputs {
				if o.Show == "" {
					require.NotEqual(t, locks[int(o.Point.Number)], o.On, "only differences")
					locks[int(o.Point.Number)] = o.On
				}
			}
			want := map[int]bool{}
			for _, d := range p.Doors() {
				want[d.Port] = d.Released
			}
			for port := 1; port <= 2; port++ {
				require.Equal(t, want[port], locks[port], "port %d", port)
			}
		}
		take(p.Start(now))
		for range rapid.IntRange(1, 30).Draw(t, "n") {
			now = now.Add(time.Duration(rapid.IntRange(0, 40_000).Draw(t, "gap")) * time.Millisecond)
			switch rapid.IntRange(0, 5).Draw(t, "what") {
			case 0:
				take(p.Load(now, rapid.SampledFrom(images).Draw(t, "image"), "h"))
			case 1: // the power goes and comes back; locks fall shut
				kept, err := p.Save()
				require.NoError(t, err)
				p, locks = New(p.c, p.Seq()), map[int]bool{}
				require.NoError(t, p.Restore(kept))
				take(p.Start(now))
			default:
				take(p.Step(now, drawInput(t)))
			}
		}
	})
}

func TestPasses(t *testing.T) {
	withOut := func(c *site.Config) { c.Doors[0].Out = site.Reader{Fitted: true} }
	for name, play := range map[string]func(l *log){
		"two grants, one opening": func(l *log) {
			l.card(0, 1).card(2*time.Second, 2).open(time.Second).close(time.Second).after(time.Minute, Input{})
			l.want("granted granted", "granted granted", "opened", "entered", "closed", "not-taken")
			assert.Equal(l.t, site.ID(101), l.all[len(l.all)-3].Person)
			assert.Equal(l.t, site.ID(102), l.last().Person)
		},
		"out is not in": func(l *log) {
			l.after(0, Input{Kind: Read, Point: point.At(point.Reader, 2), Bits: bits(l.t, 2)}).open(time.Second)
			l.want("granted granted", "opened", "entered")
			assert.True(l.t, l.last().Out)
		},
		"the image goes while a pass is under way": func(l *log) {
			l.card(0, 1)
			l.load(time.Second, place(l.t, func(c *site.Config) { c.Doors, c.Levels = nil, nil }))
			l.want("granted granted", "not-taken", "image-loaded")
		},
		"held open shortened by a send": func(l *log) {
			l.after(0, button(1, true)).open(time.Second)
			l.load(29*time.Second, place(l.t, func(c *site.Config) { c.Doors[0].HeldOpen, c.Doors[0].PreAlarm = 10, 5 }))
			l.want("exit-request", "opened", "held-warning", "held-open", "image-loaded")
			assert.Equal(l.t, l.now, l.all[len(l.all)-2].At, "not before")
		},
		"no contact any more": func(l *log) {
			l.after(0, button(1, true)).open(time.Second)
			l.load(time.Second,
				place(l.t, func(c *site.Config) { c.Doors[0].Contact, c.Doors[0].Relock = site.NotFitted, site.AtEnd }))
			l.after(100*time.Second, Input{})
			l.want("exit-request", "opened", "closed", "image-loaded")
		},
	} {
		t.Run(name, func(t *testing.T) { play(begin(t, place(t, withOut), evening)) })
	}
	t.Run("going free, then opened", func(t *testing.T) {
		l := begin(t, place(t), "2026-11-26T09:59:58-04:00")
		l.card(0, 1).open(3*time.Second).after(time.Minute, Input{})
		l.want("granted granted", "mode", "opened", "entered")
	})
}

func TestKeypadOverASend(t *testing.T) {
	t.Run("a locked keypad stays locked", func(t *testing.T) {
		l := begin(t, place(t), night)
		for range 5 {
			l.card(20*time.Second, 1).keys("1357")
		}
		l.load(time.Second, place(t))
		l.said = nil
		l.card(time.Second, 1).want("refused keypad-locked")
	})
	t.Run("a card goes on waiting for its PIN", func(t *testing.T) {
		l := begin(t, place(t), night)
		l.card(0, 1)
		l.load(time.Second, place(t))
		l.keys("4829").want("awaiting-pin need-pin", "image-loaded", "granted granted")
	})
	t.Run("unless the keypad goes", func(t *testing.T) {
		l := begin(t, place(t), night)
		l.card(0, 1)
		l.load(time.Second, place(t, func(c *site.Config) { c.Doors[0].In.Keypad = false }))
		l.want("awaiting-pin need-pin", "refused timeout", "image-loaded")
	})
	t.Run("another card ends the first", func(t *testing.T) {
		l := begin(t, place(t), night)
		l.card(0, 1).card(2*time.Second, 2).after(20*time.Second, Input{})
		l.want("awaiting-pin need-pin", "refused timeout", "awaiting-pin need-pin", "refused timeout")
		assert.Equal(t, []string{"replaced", ""}, []string{l.all[len(l.all)-3].Note, l.last().Note})
	})
}

// A PIN under duress raises its alarm whatever the door answers.
func TestDuressWhateverTheAnswer(t *testing.T) {
	for name, c := range map[string]struct {
		at   string
		edit func(*site.Config)
		card bool
		want []string
	}{
		"granted":          {night, nil, true, []string{"awaiting-pin need-pin", "granted granted-duress", "duress"}},
		"outside hours":    {night, func(c *site.Config) { c.Schedules[0].Week = hours.Week{} }, true, []string{"awaiting-pin need-pin", "refused outside-hours", "duress"}},
		"the door is free": {noon, nil, false, []string{"granted granted-free", "duress"}},
		"a card is asked":  {evening, nil, false, []string{"refused need-card", "duress"}},
		"suspended":        {noon, func(c *site.Config) { c.People[0].Suspended = true }, false, []string{"refused person-suspended", "duress"}},
	} {
		t.Run(name, func(t *testing.T) {
			edits := []func(*site.Config){}
			if c.edit != nil {
				edits = append(edits, c.edit)
			}
			l := begin(t, place(t, edits...), c.at)
			if c.card {
				l.card(0, 1)
			}
			l.keys("4820").want(c.want...)
			assert.Equal(t, site.ID(101), l.last().Person)
		})
	}
}

// An entry ends at # or at the length of the longest PIN in force, whatever the length is that new ones have.
func TestPINsOfTwoLengths(t *testing.T) {
	six, call := cards.HashPIN(key, "482913"), cards.HashPIN(key, "482914")
	both := func(c *site.Config) {
		c.People[1].PIN, c.People[1].Duress, c.People[1].PINLength = &six, &call, 6
	}
	l := begin(t, place(t, both), night)
	l.card(0, 2).keys("482913").want("awaiting-pin need-pin", "granted granted")
	l.card(time.Minute, 1).keys("4829").want("not-taken", "awaiting-pin need-pin")
	l.keys("#").want("granted granted")
	l = begin(t, place(t, func(c *site.Config) { c.Settings.PINLength = 6 }), night)
	l.card(0, 1).keys("4829").want("awaiting-pin need-pin", "granted granted")
}

// Minutes of a first card free what asks for a card: never a barred door, nor one on a holiday for nobody.
func TestFirstCardMinutesFreeNoBarredDoor(t *testing.T) {
	rule := func(c *site.Config) {
		f := site.UsualFirstCard()
		f.Length, f.Minutes = site.ForMinutes, 60
		c.Doors[0].FirstCard = f
	}
	barred := func(c *site.Config) {
		p := hours.Pattern{}
		p.Paint(3, hours.Segment{Period: hours.Period{Start: 1140, End: 1440}, Mode: hours.Barred}) // from 19:00
		c.Plans[0].Pattern = p
	}
	nobody := func(c *site.Config) {
		c.Plans[0].Pattern = hours.Pattern{}
		c.Sites, c.Floors = []site.Site{{ID: 2}}, []site.Floor{{ID: 3, SiteID: 2}}
		c.Doors[0].FloorID = 3
		c.Types = []site.HolidayType{{ID: 4, Plans: site.DefaultMode, Schedules: site.Closed}}
		c.Holidays = []site.Holiday{
			{ID: 5, TypeID: 4, Start: 1140, End: 1440, HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-11-26"}}},
		}
		c.Schedules[0].Fixed = true // Always, also then
	}
	for name, c := range map[string]struct {
		edit func(*site.Config)
		want hours.Mode
	}{"barred": {barred, hours.Barred}, "a holiday for nobody": {nobody, hours.Card}} {
		t.Run(name, func(t *testing.T) {
			l := begin(t, place(t, c.edit, rule), "2026-11-26T18:50:00-04:00")
			l.card(0, 1)
			assert.Equal(t, hours.Free, l.p.Doors()[0].Mode)
			r := l.take(l.p.Step(instant(t, "2026-11-26T19:00:00-04:00"), Input{}))
			assert.Equal(t, c.want, l.p.Doors()[0].Mode)
			assert.Equal(t, lock(1, false), r.Outputs[0])
		})
	}
}

// Free minutes that a holiday for nobody interrupts, or a dated change that asks what the plan asks, go on after it.
func TestFirstCardMinutesGoOn(t *testing.T) {
	holiday := func(c *site.Config) {
		c.Types = []site.HolidayType{{ID: 4, Plans: site.DefaultMode, Schedules: site.Closed}}
		c.Holidays = []site.Holiday{
			{ID: 5, TypeID: 4, Start: 1140, End: 1155, HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-11-26"}}},
		}
		c.Schedules[0].Fixed = true
	}
	change := func(c *site.Config) {
		c.Changes = []site.DatedChange{
			{ID: 6, Mode: hours.Card, DoorIDs: []site.ID{c.Doors[0].ID}, From: "2026-11-26T19:00", Until: "2026-11-26T19:15"},
		}
	}
	for name, interrupt := range map[string]func(*site.Config){"a holiday for nobody": holiday, "a dated change": change} {
		t.Run(name, func(t *testing.T) {
			c := place(t, func(c *site.Config) {
				f := site.UsualFirstCard()
				f.Length, f.Minutes = site.ForMinutes, 60
				c.Doors[0].FirstCard, c.Plans[0].Pattern = f, hours.Pattern{}
				c.Sites, c.Floors, c.Doors[0].FloorID = []site.Site{{ID: 2}}, []site.Floor{{ID: 3, SiteID: 2}}, 3
				interrupt(c)
			})
			l := begin(t, c, "2026-11-26T18:50:00-04:00")
			l.card(0, 1)
			for _, x := range []struct {
				at    string
				mode  hours.Mode
				until string
			}{
				{"2026-11-26T18:50:00-04:00", hours.Free, "2026-11-26T19:00:00-04:00"},
				{"2026-11-26T19:00:00-04:00", hours.Card, "2026-11-26T19:15:00-04:00"},
				{"2026-11-26T19:15:00-04:00", hours.Free, "2026-11-26T19:50:00-04:00"},
				{"2026-11-26T19:50:00-04:00", hours.Card, ""}, // for good
			} {
				l.take(l.p.Step(instant(t, x.at), Input{}))
				d := l.p.Doors()[0]
				assert.Equal(t, x.mode, d.Mode, x.at)
				if x.until == "" {
					assert.Zero(t, d.Until)
					continue
				}
				assert.Equal(t, instant(t, x.until), d.Until, x.at)
			}
		})
	}
}

func TestAlwaysWithPINOnTheWayOut(t *testing.T) {
	edit := func(keypad bool) func(c *site.Config) {
		return func(c *site.Config) {
			c.Doors[0].Out, c.People[0].AlwaysPIN = site.Reader{Fitted: true, Keypad: keypad}, true
		}
	}
	out := Input{Kind: Read, Point: point.At(point.Reader, 2), Bits: bits(t, 1)}
	begin(t, place(t, edit(false)), evening).after(0, out).want("granted granted")
	begin(t, place(t, edit(true)), evening).after(0, out).want("awaiting-pin need-pin")
}

// What rules remember survives a restart: the first card until midnight, a locked keypad until its time.
func TestRestartForgetsNothing(t *testing.T) {
	waits := func(c *site.Config) {
		p := hours.Pattern{}
		for d := range 7 {
			p.Paint(d, hours.Segment{Period: hours.Period{Start: 1080, End: 1320}, Mode: hours.Free, First: true})
		}
		c.Plans[0].Pattern, c.Doors[0].FirstCard = p, site.UsualFirstCard()
	}
	restart := func(l *log) {
		kept, err := l.p.Save()
		require.NoError(t, err)
		seq := l.p.Seq()
		l.p = New(l.p.c, seq)
		require.NoError(t, l.p.Restore(kept))
		again, err := l.p.Save()
		require.NoError(t, err)
		assert.Equal(t, string(kept), string(again), "save and restore change nothing")
		l.take(l.p.Start(l.now))
		l.said = nil
	}
	l := begin(t, place(t, waits), "2026-11-26T18:30:00-04:00")
	assert.True(t, l.p.Doors()[0].Waits)
	l.card(0, 1)
	restart(l)
	assert.Equal(t, hours.Free, l.p.Doors()[0].Mode)
	l.now = instant(t, "2026-11-27T18:30:00-04:00")
	restart(l)
	assert.True(t, l.p.Doors()[0].Waits, "forgotten at midnight")

	l = begin(t, place(t), night)
	for range 5 {
		l.card(20*time.Second, 1).keys("1357")
	}
	restart(l)
	l.card(time.Second, 1).want("refused keypad-locked")
	l.card(5*time.Minute, 1).want("awaiting-pin need-pin")
	assert.Error(t, l.p.Restore([]byte("{")))
}

func TestDamagedLogIsTold(t *testing.T) {
	l := begin(t, place(t), evening)
	l.after(0, Input{Kind: LogLost, Lines: 3}).want("log-damaged")
	assert.Equal(t, "3", l.last().Note)
	assert.True(t, l.last().Kind.Alarm())
}

// What is read back as memory is either refused, or gives a panel that works.
func FuzzRestore(f *testing.F) {
	f.Add([]byte(`{}`))
	f.Add([]byte(`{"1":{"first":{"day":20000,"given":true,"from":5,"until":9},"in":{"wrong":3,"lockedUntil":99}}}`))
	f.Add([]byte(`{"1":{"in":{"wrong":-1}},"7":null}`))
	c := place(f)
	f.Fuzz(func(t *testing.T, b []byte) {
		p := New(c, 0)
		if p.Restore(b) != nil {
			return
		}
		p.Start(instant(t, evening))
		p.Step(instant(t, night), types(1, '1'))
		kept, err := p.Save()
		require.NoError(t, err)
		require.NoError(t, New(c, 0).Restore(kept))
	})
}
