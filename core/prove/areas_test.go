package prove

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// yard is an area with a door at each of three controllers, readers on both sides; five people may come in.
func yard(t require.TestingT, a site.Area) *Book {
	a.ID = 80
	always := hours.Always()
	c := &site.Config{
		Settings: site.DefaultSettings(), Areas: []site.Area{a}, Plans: []site.Plan{{ID: 20}},
		Schedules: []site.Schedule{{ID: 30, Name: "Always", Week: always, Fixed: true}},
		Levels:    []site.Level{{ID: 40}},
	}
	zones := map[site.ID]hours.Zone{}
	for n := site.ID(1); n <= 3; n++ {
		d := site.Door{ID: n, Port: 1, ControllerID: 10 + n, PlanID: 20, InsideAreaID: 80, Hardware: site.UsualHardware()}
		d.Out.Fitted = true
		c.Doors = append(c.Doors, d)
		c.Controllers = append(c.Controllers, site.Controller{ID: 10 + n})
		c.Levels[0].Entries = append(c.Levels[0].Entries, site.At(n, 30))
		zones[10+n] = hours.Zone{Name: "UTC"}
	}
	for p := site.ID(50); p < 55; p++ {
		c.People = append(c.People, &site.Person{
			ID: p, Levels: []site.Grant{{LevelID: 40}}, Credentials: []site.Credential{site.NewCard("26-bit", 42, uint64(p))},
		})
	}
	return NewBook(c, zones)
}

// walker plays people who go through the doors of a yard.
type walker struct {
	*World
	t      require.TestingT
	reason pass.Reason
	inside map[site.ID]bool // by what really happened
}

func walk(t require.TestingT, b *Book) *walker {
	w := &walker{t: t, inside: map[site.ID]bool{}}
	w.World = NewWorld(b, 1000, image.Secrets{}, func(_ site.ID, e *pass.Fact) {
		if e.Kind == pass.WasGranted || e.Kind == pass.WasRefused {
			w.reason = e.Reason
		}
	})
	return w
}

// goes lets somebody present at a door, and go through where they may.
func (w *walker) goes(door, person site.ID, out bool) pass.Reason {
	read, err := cards.Standard26.Encode(42, uint64(person))
	require.NoError(w.t, err)
	at := point.At(point.Reader, 1)
	if out {
		at = site.PortPoints(1).Out
	}
	do := func(in panel.Input) { require.NoError(w.t, w.Do(w.Now()+2000, 10+door, in)) }
	do(panel.Input{Kind: panel.Read, Point: at, Bits: read})
	said := w.reason
	if said.Granted() {
		do(panel.Input{Kind: panel.Reading, Point: site.PortPoints(1).Contact, Circuit: point.Open})
		do(panel.Input{Kind: panel.Reading, Point: site.PortPoints(1).Contact, Circuit: point.Closed})
		w.inside[person] = !out
	}
	return said
}

func (w *walker) network(door site.ID, on bool) {
	require.NoError(w.t, w.Do(w.Now()+1000, 10+door, panel.Input{Kind: panel.Network, On: on}))
}

// Who comes in at one controller is inside at all of them; one that is cut off goes on by what it knows, or lets
// everybody pass, as the area says, and learns the rest when it is back.
func TestAreasOverControllers(t *testing.T) {
	w := walk(t, yard(t, site.Area{Mode: site.PassbackRefuse}))
	assert.Equal(t, pass.Granted, w.goes(1, 50, false))
	assert.Equal(t, pass.AlreadyInside, w.goes(2, 50, false))
	w.network(2, false)
	assert.Equal(t, pass.Granted, w.goes(2, 50, false), "cut off, it is lenient")
	assert.Equal(t, pass.Granted, w.goes(1, 51, false))
	w.network(2, true)
	assert.Equal(t, pass.AlreadyInside, w.goes(2, 51, false), "it has heard of it")

	w = walk(t, yard(t, site.Area{Mode: site.PassbackRefuse, Strict: true}))
	w.goes(1, 50, false)
	w.network(2, false)
	assert.Equal(t, pass.AlreadyInside, w.goes(2, 50, false), "cut off, it goes on by what it knows")
	assert.Equal(t, pass.Granted, w.goes(1, 50, true))
	assert.Equal(t, pass.AlreadyInside, w.goes(2, 50, false), "it does not know that they left")
	w.network(2, true)
	assert.Equal(t, pass.Granted, w.goes(2, 50, false))
}

// Whatever is cut and when: once all are back nobody is counted twice, and every controller agrees with what happened.
func TestComesTogetherAgain(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		w := walk(t, yard(t, site.Area{Mode: site.PassbackLog, Most: 0}))
		for range rapid.IntRange(0, 30).Draw(t, "steps") {
			door := site.ID(rapid.IntRange(1, 3).Draw(t, "door"))
			if rapid.IntRange(0, 3).Draw(t, "cut") == 0 {
				w.network(door, rapid.Bool().Draw(t, "on"))
				continue
			}
			w.goes(door, site.ID(rapid.IntRange(50, 54).Draw(t, "who")), rapid.Bool().Draw(t, "out"))
		}
		for door := site.ID(1); door <= 3; door++ {
			w.network(door, true)
		}
		for person := site.ID(50); person < 55; person++ {
			is, known := w.inside[person]
			for door := site.ID(1); door <= 3; door++ { // nobody moves: the door stays closed
				read, err := cards.Standard26.Encode(42, uint64(person))
				require.NoError(t, err)
				require.NoError(t, w.Do(w.Now()+10_000, 10+door, panel.Input{
					Kind: panel.Read, Point: point.At(point.Reader, 1), Bits: read,
				}))
				want := pass.Granted
				if known && is {
					want = pass.GrantedPassback
				}
				require.Equal(t, want, w.reason, "person %d at door %d", person, door)
			}
		}
	})
}
