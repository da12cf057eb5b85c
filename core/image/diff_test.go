package image

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// edits are what people do to a configuration of two sites.
var edits = map[string]func(c *site.Config){
	"a floor moves to another site": func(c *site.Config) { c.Floors[0].SiteID = 2 },
	"all floors move":               func(c *site.Config) { c.Floors[0].SiteID, c.Floors[1].SiteID = 2, 2 },
	"the first floor is removed":    func(c *site.Config) { c.Doors[0].FloorID, c.Floors = 11, c.Floors[1:] },
	"a floor is renamed":            func(c *site.Config) { c.Floors[0].Name = "Cellar" },
	"an unused holiday type appears": func(c *site.Config) {
		c.Types = append(c.Types, site.HolidayType{ID: 6, Plans: site.DefaultMode, Schedules: site.Closed})
	},
	"a holiday type means another": func(c *site.Config) { c.Types[0].Rank = 9 },
	"a door changes its floor":     func(c *site.Config) { c.Doors[0].FloorID = 11 },
	"a door is outside something":  func(c *site.Config) { c.Doors[0].Outside = "Quay" },
	"a lock takes longer":          func(c *site.Config) { c.Doors[0].Unlock = 9 },
	"no dated changes":             func(c *site.Config) { c.Changes = nil },
	"the plan asks for a PIN":      func(c *site.Config) { c.Plans[0].Default = hours.PIN },
	"a holiday goes":               func(c *site.Config) { c.Holidays = c.Holidays[1:] },
	"somebody is screened": func(c *site.Config) {
		c.Screenings = []site.Screening{{ID: 70, PersonIDs: []site.ID{1}, Lasts: site.LastsMidnight}}
	},
	"a lockdown is ready": func(c *site.Config) {
		c.Emergencies = []site.Emergency{{ID: 71, Does: site.Lockdown, Targets: []site.Target{{Kind: site.Everything}}}}
	},
	"longer PINs": func(c *site.Config) { c.Settings.PINLength = 6 },
}

// Words and bytes agree: what differs is said, so that it can be sent, and what is the same is not said to differ.
func TestDiffSaysWhatBytesSay(t *testing.T) {
	names := rapid.Map(rapid.SliceOfDistinct(rapid.SampledFrom(named(edits)), rapid.ID[string]),
		func(s []string) []string { return s })
	rapid.Check(t, func(t *rapid.T) {
		was, is := twoSites(), twoSites()
		for _, name := range names.Draw(t, "before") {
			edits[name](was)
		}
		for _, name := range names.Draw(t, "after") {
			edits[name](is)
		}
		for _, controller := range []site.ID{8, 9} {
			a, b := imageOf(was, controller), imageOf(is, controller)
			changes := Diff(a, b, nil)
			if same := bytes.Equal(a.Bytes(), b.Bytes()); same != (len(changes) == 0) {
				t.Fatalf("bytes are the same: %v, words: %v", same, changes)
			}
			for _, c := range changes {
				if c.Kind == "everything" {
					t.Fatalf("no words of its own: %v", changes)
				}
			}
		}
	})
}

func named[V any](m map[string]V) (out []string) {
	for k := range m {
		out = append(out, k)
	}
	return out
}

func TestDiffOfPlaces(t *testing.T) {
	for name, want := range map[string][]Change{
		"all floors move": {
			{"door", "door 100: is at Boathouse"}, {"door", "door 101: is at Boathouse"}, {"holiday", "holiday 51 is no longer needed here"},
			{"holiday", "holiday 52 is new here"}, {"dated change", "dated change 61 is new here"},
		},
		"the first floor is removed":     {{"dated change", "dated change 62: has other doors, dates or another mode"}}, // its door is on that floor now
		"a floor is renamed":             nil,
		"an unused holiday type appears": nil,
	} {
		t.Run(name, func(t *testing.T) {
			is := twoSites()
			edits[name](is)
			got := Diff(imageOf(twoSites(), 8), imageOf(is, 8), Names{2: "Boathouse"})
			assert.ElementsMatch(t, want, got)
		})
	}
}
