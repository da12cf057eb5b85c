package review

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

func ruleFindings(t *testing.T, c *site.Config) []Finding {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	z := hours.ZoneFrom(loc, noon-400*hours.FullDay, noon+900*hours.FullDay)
	zone := func(site.ID) *hours.Zone { return &z }
	return Rules(c, c.Effective(), site.NewTimetable(c, zone), zone, noon)
}

// ruled is staffed with a second door, and nothing to find about its rules.
func ruled() *site.Config {
	c := staffed()
	c.Doors[0].Hardware = site.UsualHardware()
	second := c.Doors[0]
	second.ID, second.Name, second.PlanID = 12, "Second", 70
	second.Exit, second.Out.Fitted = site.NotFitted, true
	c.Doors = append(c.Doors, second)
	c.Plans = append(c.Plans, site.Plan{ID: 70, Name: "Cards", Pattern: hours.Pattern{Default: hours.Card}})
	c.Levels[0].Entries = append(c.Levels[0].Entries, site.At(12, 6))
	c.Levels[0].Approves, c.Levels[0].Toggles = true, true
	c.People = append(c.People, &site.Person{
		ID: 13, Name: "Ben", Credentials: []site.Credential{site.NewCard("26-bit", 0, 2)},
		Levels: []site.Grant{{LevelID: 10}},
	})
	c.Groups = []site.Group{{ID: 20, Name: "Keepers", PersonIDs: []site.ID{11, 13}}}
	pair := site.Combination{Total: 2, Parts: []site.Part{{GroupID: 20, Count: 2}}}
	c.Proofs = []site.Proofs{
		{ID: 21, Name: "Two", Kind: site.Combined, DoorIDs: []site.ID{8}, ScheduleID: 6, Window: 20,
			Combinations: []site.Combination{pair}},
	}
	c.Interlocks = []site.Interlock{{ID: 22, Name: "Lock", DoorIDs: []site.ID{8, 12}}}
	c.Areas = []site.Area{{ID: 23, Name: "Room", Mode: site.PassbackRefuse, Forget: "04:00"}}
	c.Doors[1].InsideAreaID = 23
	toggle := site.UsualToggle()
	c.Doors[1].Toggle = &toggle
	c.Levels[0].Overrides, c.Levels[0].LocksDown = true, true
	c.Screenings = []site.Screening{
		{ID: 24, Name: "Desk", PersonIDs: []site.ID{13}, LevelID: 10, PassIDs: []site.ID{8}, Lasts: site.LastsMidnight},
	}
	c.Emergencies = []site.Emergency{
		{ID: 25, Name: "Shut", Does: site.Lockdown, Targets: []site.Target{{Kind: site.Everything}}, Overrides: true,
			Reads: 3},
	}
	c.Levels[0].Disarms = true
	c.Outputs = []site.Output{
		{ID: 28, Name: "Bell", ControllerID: c.Doors[1].ControllerID, At: point.At(point.Output, 5), When: site.ByHand},
	}
	watched := site.UsualAlarmArea(12)
	watched.ID, watched.Name, watched.Reads, watched.AlarmIDs = 27, "Store", 0, []site.ID{28}
	c.AlarmAreas = []site.AlarmArea{watched}
	here := site.Target{Kind: site.AtDoor, ID: 12}
	c.Reactions = []site.Reaction{{
		ID: 26, Name: "Siren", When: site.WhenForced, At: []site.Target{here}, ScheduleID: 6, Do: site.DoHold,
		To: []site.Target{here}, Mode: "barred", Seconds: 60,
	}}
	return c
}

// Each finding about rules: how sound ones are spoiled, and what is then said. A rule that is off is not looked at.
func TestRuleFindings(t *testing.T) {
	require.Empty(t, ruleFindings(t, ruled()))
	for _, x := range []struct {
		code  string
		says  string
		spoil func(c *site.Config)
	}{
		{"nobody-together", "No combination of Two can be filled: nobody enters at Door.", func(c *site.Config) { c.People[0].Suspended = true }},
		{"combination-never", "Keepers has 1 who come in there, and it takes 2", func(c *site.Config) { c.Groups[0].PersonIDs = []site.ID{11} }},
		{"nobody-approves", "Nobody who comes in at the doors of Two has a level that approves", func(c *site.Config) {
			c.Proofs[0].Kind, c.Proofs[0].Combinations, c.Levels[0].Approves = site.Approval, nil, false
		}},
		{"one-kind-of-proof", "whose reader takes cards only", func(c *site.Config) {
			c.Proofs[0].Kind, c.Proofs[0].Combinations = site.AnotherProof, nil
		}},
		{"interlock-blind", "Second has no door contact", func(c *site.Config) { c.Doors[1].Contact = site.NotFitted }},
		{"interlock-exits", "whoever is between its doors waits", func(c *site.Config) { c.Interlocks[0].Exits = true }},
		{"interlock-free", "Door and Second of Lock are free at one time, from Mon 23 Nov 2026 10:00 on", func(c *site.Config) { c.Doors[1].PlanID = 7 }},
		{"nobody-toggles", "Nobody's level toggles Second", func(c *site.Config) { c.Levels[0].Toggles = false }},
		{"area-nowhere", "No reader leads into Room", func(c *site.Config) { c.Doors[1].InsideAreaID = 0 }},
		{"area-no-way-out", "No reader leads out of Room", func(c *site.Config) { c.Doors[1].Out.Fitted = false }},
		{"area-left-unseen", "by the exit request of Second", func(c *site.Config) { c.Doors[1].Exit = site.NormallyOpen }},
		{"nobody-present", "Two could be filled, and at no hour", func(c *site.Config) {
			early, late := hours.Week{}, hours.Week{}
			for d := range early {
				early[d], late[d] = []hours.Period{{Start: 60, End: 120}}, []hours.Period{{Start: 180, End: 240}}
			}
			c.Schedules = append(c.Schedules, site.Schedule{ID: 30, Name: "Early", Week: early}, site.Schedule{
				ID: 31, Name: "Late", Week: late,
			})
			c.Levels[0].Entries[0].ScheduleID = 30
			c.Levels = append(c.Levels, site.Level{ID: 32, Name: "Late", Entries: []site.Entry{site.At(8, 31)}})
			c.People[1].Levels[0].LevelID = 32
		}},
		{"area-limit", "Room holds 1 at the most, and 2 of Staff may come in there", func(c *site.Config) {
			c.Areas[0].Most = 1
			c.Departments = []site.Department{{ID: 33, Name: "Staff"}}
			c.People[0].DepartmentIDs, c.People[1].DepartmentIDs = []site.ID{33}, []site.ID{33}
		}},
		{"screening-wanting", "Desk: Second clears whoever comes in there, and nobody does", func(c *site.Config) {
			c.Screenings[0].LevelID, c.Screenings[0].PassIDs = 0, []site.ID{12}
		}},
		{"screening-nobody", "Nobody is under Desk", func(c *site.Config) { c.Screenings[0].PersonIDs = []site.ID{99} }},
		{"emergency-nowhere", "Shut is for no door", func(c *site.Config) { c.Emergencies[0].Targets[0] = site.Target{Kind: site.AtSite, ID: 99} }},
		{"nobody-overrides", "overrides it, so nobody comes in", func(c *site.Config) { c.Levels[0].Overrides = false }},
		{"nobody-locks-down", "starts lockdowns, so no card does", func(c *site.Config) { c.Levels[0].LocksDown = false }},
		{"reads-alike", "3 reads at Second both toggle it and start Shut", func(c *site.Config) { c.Doors[1].Toggle.Reads = 3 }},
		{"reaction-never", "Siren waits until a door is held open, and none of its doors has a door contact", func(c *site.Config) {
			c.Reactions[0].When, c.Doors[1].Contact = site.WhenHeldOpen, site.NotFitted
			c.Interlocks[0].Off = true
		}},
		{"reaction-never", "no door is in the places that it names", func(c *site.Config) { c.Reactions[0].At[0] = site.Target{Kind: site.AtSite, ID: 99} }},
		{"reaction-never", "no elevator among its doors", func(c *site.Config) { c.Reactions[0].When = site.WhenFloorChosen }},
		{"reaction-nowhere", "Siren is done to no door", func(c *site.Config) { c.Reactions[0].To[0] = site.Target{Kind: site.AtSite, ID: 99} }},
		{"reaction-never", "no alarm area that it names is in use", func(c *site.Config) {
			c.Reactions[0].When, c.Reactions[0].At, c.AlarmAreas[0].Off = site.WhenArmed, nil, true
		}},
		{"alarm-nobody-disarms", "while it is armed nobody comes in at Second", func(c *site.Config) { c.Levels[0].Disarms = false }},
		{"alarm-nobody-arms", "Nobody's reads arm Store", func(c *site.Config) { c.Levels[0].Disarms, c.AlarmAreas[0].Reads = false, 2 }},
		{"alarm-blind", "Second of Store has no door contact", func(c *site.Config) { c.Doors[1].Contact = site.NotFitted }},
		{"alarm-silent", "turns nothing on and sets off no reaction", func(c *site.Config) { c.AlarmAreas[0].AlarmIDs = nil }},
		{"alarm-elsewhere", "Bell is not at", func(c *site.Config) { c.Outputs[0].ControllerID = 77 }},
		{"alarm-free-hours", "Second would be free from Mon 23 Nov 2026 10:00 on", func(c *site.Config) {
			c.Doors[1].PlanID, c.AlarmAreas[0].ScheduleID = 7, 6
		}},
		{"reads-alike", "2 reads at Second arm Store", func(c *site.Config) { c.AlarmAreas[0].Reads = 2 }},
		{"level-arms-nothing", "leads to no door of one", func(c *site.Config) { c.AlarmAreas[0].DoorIDs = []site.ID{99} }},
		{"area-never-forgotten", "one mistake lasts until somebody mends it", func(c *site.Config) { c.Areas[0].Forget = "" }},
	} {
		t.Run(x.code, func(t *testing.T) {
			c := ruled()
			x.spoil(c)
			var said []string
			for _, f := range ruleFindings(t, c) {
				assert.Equal(t, "rules", f.Station)
				assert.NotEmpty(t, f.Mend)
				if f.Code == x.code {
					said = append(said, f.Words)
				}
			}
			assert.Contains(t, strings.Join(said, "\n"), x.says)
			c.Proofs[0].Off, c.Interlocks[0].Off, c.Doors[1].Toggle.Off, c.Screenings[0].Off, c.Emergencies[0].Off, c.Reactions[0].Off, c.AlarmAreas[0].Off = true, true, true, true, true, true, true
			c.Levels[0].Arms, c.Levels[0].Disarms = false, false
			for _, f := range ruleFindings(t, c) {
				assert.Contains(t, f.Code, "area", "what is off is not looked at")
			}
		})
	}
}
