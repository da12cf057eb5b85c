package script

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/panel"
	"amberkeystone/core/site"
)

func place() *site.Config {
	lab := site.Door{ID: 1, Name: "Lab, outer door", ControllerID: 9, Port: 2, Hardware: site.UsualHardware()}
	gate := site.Door{ID: 2, Name: "Gate at sea out", ControllerID: 9, Port: 1, Hardware: site.UsualHardware()}
	gate.Contact, gate.Exit = site.NormallyOpen, site.NormallyClosed
	held := func(n uint64, s site.CardStatus) site.CardHeld {
		return site.CardHeld{Format: "26-bit", Facility: 42, Number: n, Status: s}
	}
	return &site.Config{
		Controllers: []site.Controller{{ID: 9, Name: "Riser"}, {ID: 8, Name: "Other"}}, Doors: []site.Door{lab, gate},
		People: []site.Person{{Name: "Ada Reed", Cards: []site.CardHeld{held(1, site.Lost), held(2, site.Active)}}, {Name: "Ben"}},
	}
}

func TestParse(t *testing.T) {
	const now = "2026-11-26T18:00:05-04:00, riser, "
	for what, want := range map[string]string{
		"Ada Reed at Lab, outer door":          "{1 2 false 10010101000000000000000100 0 false 0s 0}",
		"card 42-00002 at lab, outer door out": "{1 2 true 10010101000000000000000100 0 false 0s 0}",
		"card 5 at Gate at sea out":            "{1 1 false 00000000000000000000000000000101 0 false 0s 0}",
		"card 5 at Gate at sea out out":        "{1 1 true 00000000000000000000000000000101 0 false 0s 0}",
		"open Lab, outer door":                 "{3 2 false  0 false 0s 0}",
		"close Lab, outer door":                "{3 2 false  0 true 0s 0}",
		"open Gate at sea out":                 "{3 1 false  0 true 0s 0}",
		"press Lab, outer door":                "{4 2 false  0 true 0s 0}",
		"release Lab, outer door":              "{4 2 false  0 false 0s 0}",
		"press Gate at sea out":                "{4 1 false  0 false 0s 0}",
		"network lost":                         "{5 0 false  0 false 0s 0}",
		"network back":                         "{5 0 false  0 true 0s 0}",
	} {
		acts, err := Parse("# nothing yet\n\n"+now+what+"\n", place())
		require.NoError(t, err, what)
		require.Len(t, acts, 1)
		in := acts[0].Input
		assert.Equal(t, want, fmt.Sprintf("{%d %d %v %s %d %v %s %d}", in.Kind, in.Port, in.Out, in.Bits, in.Key, in.On, in.By, in.Lines), what)
		assert.Equal(t, site.ID(9), acts[0].Controller)
	}
	acts, err := Parse(now+"keys 48# at Lab, outer door", place())
	require.NoError(t, err)
	require.Len(t, acts, 3)
	assert.Equal(t, panel.Input{Kind: panel.Key, Port: 2, Key: '#'}, acts[2].Input)
}

func TestRefusals(t *testing.T) {
	for text, says := range map[string]string{
		"2026-11-26T18:00:05-04:00, Riser":                                                     "with commas between",
		"noon, Riser, network lost":                                                            "is not an instant",
		"2026-11-26T18:00:05-04:00, Attic, network lost":                                       `no controller "Attic"`,
		"2026-11-26T18:00:05-04:00, Riser, dance":                                              "is not understood",
		"2026-11-26T18:00:05-04:00, Riser, Ada Reed at Cellar":                                 `no door "Cellar"`,
		"2026-11-26T18:00:05-04:00, Other, Ada Reed at Lab, outer door":                        "this controller has no door",
		"2026-11-26T18:00:05-04:00, Riser, Eve at Lab, outer door":                             `nobody named "Eve"`,
		"2026-11-26T18:00:05-04:00, Riser, Ben at Lab, outer door":                             "Ben has no card",
		"2026-11-26T18:00:05-04:00, Riser, card x-1 at Lab, outer door":                        "is not a card number",
		"2026-11-26T18:00:05-04:00, Riser, card 999-1 at Lab, outer door":                      "255",
		"2026-11-26T18:00:05-04:00, Riser, keys 12a at Lab, outer door":                        "0 to 9",
		"2026-11-26T18:00:05Z, Riser, network lost\n2026-11-26T18:00:04Z, Riser, network back": "line 2: it is earlier",
	} {
		_, err := Parse(text, place())
		var e *Error
		if assert.ErrorAs(t, err, &e, text) {
			assert.Contains(t, e.Error(), says, text)
		}
	}
}

func FuzzParse(f *testing.F) {
	f.Add("2026-11-26T18:00:05-04:00, Riser, Ada Reed at Lab, outer door out")
	f.Add("2026-11-26T18:00:05Z, Riser, keys 1# at Gate at sea out\n# x\n\n")
	f.Add(",,")
	c := place()
	f.Fuzz(func(t *testing.T, s string) {
		acts, err := Parse(s, c)
		for i, a := range acts {
			if a.Controller == 0 || i > 0 && a.At < acts[i-1].At {
				t.Fatalf("%q gives %v", s, acts)
			}
		}
		if e, ok := err.(*Error); err != nil && (!ok || e.Line < 1) {
			t.Fatalf("%q: %v", s, err)
		}
	})
}
