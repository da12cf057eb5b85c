package site

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/graph/simple"
	"gonum.org/v1/gonum/graph/topo"
	"pgregory.net/rapid"
)

// Loops are found as a library of graphs finds them (gonum.org/v1/gonum/graph/topo, Tarjan's strongly connected
// components): a reaction that is put in last closes a loop where it is in a component with others, or sets itself off.
func TestReactionLoops(t *testing.T) {
	found := 0
	rapid.Check(t, func(t *rapid.T) {
		c := &Config{Sets: []DoorSet{{ID: 30, DoorIDs: []ID{1, 2}}}, Doors: []Door{{ID: 1}, {ID: 2}, {ID: 3}}}
		c.Emergencies = []Emergency{{ID: 40, Does: Lockdown, Targets: []Target{{Kind: AtDoor, ID: 3}}}}
		place := rapid.SampledFrom([]Target{
			{Kind: AtDoor, ID: 1}, {Kind: AtDoor, ID: 2}, {Kind: AtDoor, ID: 3}, {Kind: AtDoorSet, ID: 30}, {Kind: Everything},
		})
		draw := func(id ID) Reaction {
			r := Reaction{
				ID: id, ScheduleID: 9,
				When: rapid.SampledFrom([]Happening{WhenHoldBegan, WhenHoldEnded, WhenLetThrough, WhenLockdown,
					WhenGranted}).Draw(t, "when"),
			}
			r.Do = rapid.SampledFrom([]Doing{DoHold, DoBack, DoRelease, DoLockdown, DoTell}).Draw(t, "do")
			if r.Do == DoLockdown {
				r.EmergencyID = 40
			} else if r.Do.atDoors() {
				r.To = []Target{place.Draw(t, "to")}
			}
			if rapid.Bool().Draw(t, "somewhere") {
				r.At = []Target{place.Draw(t, "at")}
			}
			r.Seconds = rapid.IntRange(0, 1).Draw(t, "seconds")
			r.Off = rapid.IntRange(0, 5).Draw(t, "off") == 0
			return r
		}
		for i := range rapid.IntRange(0, 6).Draw(t, "others") {
			c.Reactions = append(c.Reactions, draw(ID(100+i)))
		}
		next := draw(200)
		loop := c.ReactionLoop(&next)

		var list []Reaction
		for _, r := range append(slices.Clone(c.Reactions), next) {
			if !r.Off {
				list = append(list, r)
			}
		}
		g, self := simple.NewDirectedGraph(), false
		for i := range list {
			g.AddNode(simple.Node(i))
		}
		for i, to := range c.Follows(list) {
			for _, k := range to {
				if i == k {
					self = self || list[i].ID == next.ID
				} else if !g.HasEdgeFromTo(int64(i), int64(k)) {
					g.SetEdge(g.NewEdge(simple.Node(i), simple.Node(k)))
				}
			}
		}
		want := self
		for _, part := range topo.TarjanSCC(g) {
			for _, n := range part {
				want = want || len(part) > 1 && list[n.ID()].ID == next.ID
			}
		}
		require.Equal(t, want && !next.Off, loop != nil)
		if loop == nil {
			return
		}
		found++
		require.Equal(t, next.ID, loop[0].ID)
		for i := range loop { // each sets off the one after it
			pair := []Reaction{loop[i], loop[(i+1)%len(loop)]}
			require.Contains(t, c.Follows(pair)[0], 1)
		}
	})
	assert.NotZero(t, found)
}

func TestReactionChecks(t *testing.T) {
	sound := Reaction{Name: "x", When: WhenHeldOpen, ScheduleID: 1, Do: DoOn, OutputIDs: []ID{5}, Until: true}
	require.Empty(t, sound.Check())
	for field, bend := range map[string]func(*Reaction){
		"name":       func(r *Reaction) { r.Name = "" },
		"when":       func(r *Reaction) { r.When = "weather" },
		"scheduleId": func(r *Reaction) { r.ScheduleID = 0 },
		"inputIds":   func(r *Reaction) { r.InputIDs = []ID{4} },
		"reason":     func(r *Reaction) { r.Reason = "parity" },
		"areaId": func(r *Reaction) {
			*r = Reaction{Name: "x", ScheduleID: 1, When: WhenOccupied, Count: 3, Do: DoTell, Text: "x"}
		},
		"count": func(r *Reaction) {
			*r = Reaction{Name: "x", ScheduleID: 1, When: WhenOccupied, AreaID: 3, Do: DoTell, Text: "x"}
		},
		"hour": func(r *Reaction) {
			*r = Reaction{Name: "x", ScheduleID: 1, When: WhenHour, Hour: "25:00", Do: DoTell, Text: "x"}
		},
		"do":          func(r *Reaction) { r.Do, r.OutputIDs, r.Until = "sing", nil, false },
		"to":          func(r *Reaction) { r.Do, r.OutputIDs, r.Until = DoRelease, nil, false },
		"outputIds":   func(r *Reaction) { r.OutputIDs = nil },
		"emergencyId": func(r *Reaction) { r.Do, r.OutputIDs, r.Until = DoLockdown, nil, false },
		"mode": func(r *Reaction) {
			r.Do, r.OutputIDs, r.Until, r.To = DoHold, nil, false, []Target{
				{Kind: Everything},
			}
		},
		"until":      func(r *Reaction) { r.When = WhenGranted },
		"seconds":    func(r *Reaction) { r.Seconds = 5 },
		"text":       func(r *Reaction) { r.Do, r.OutputIDs, r.Until = DoTell, nil, false },
		"address":    func(r *Reaction) { r.Do, r.OutputIDs, r.Until = DoCall, nil, false },
		"at[0].kind": func(r *Reaction) { r.At = []Target{{Kind: AtReader, ID: 3}} },
	} {
		t.Run(field, func(t *testing.T) {
			r := sound
			bend(&r)
			fs := r.Check()
			require.NotEmpty(t, fs)
			assert.True(t, slices.ContainsFunc(fs, func(f Fault) bool { return f.Field == field }), "%v", fs)
		})
	}
}
