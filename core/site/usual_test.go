package site

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Rules as most begin lack only what is to be said of each: a name, and whom or which doors they are about.
func TestUsualRules(t *testing.T) {
	u := UsualRules(7, 6)
	fields := func(fs Faults) (out []string) {
		for _, f := range fs {
			out = append(out, f.Field)
		}
		return out
	}
	var toggle Faults
	u.Toggle.check(&toggle)
	assert.Empty(t, toggle)
	assert.Equal(t, []string{"name"}, fields(u.Area.Check()))
	assert.Equal(t, []string{"name"}, fields(u.Group.Check()))
	assert.Equal(t, []string{"name"}, fields(u.Lockdown.Check()))
	assert.Equal(t, []string{"name"}, fields(u.Fire.Check()))
	assert.Equal(t, []string{"name", "doorIds"}, fields(u.Interlock.Check()), "a second door")
	assert.Equal(t, []string{"name", "combinations[0].parts[0].groupId"}, fields(u.Proofs.Check()))
	assert.Equal(t, []string{"name", "departmentIds"}, fields(u.Screening.Check()))
	assert.Contains(t, fields(UsualRules(0, 6).Proofs.Check()), "doorIds", "for no door yet")
}

// What an emergency and a screening cannot be is said at its field.
func TestWrongRules(t *testing.T) {
	for field, fs := range map[string]Faults{
		"targets[1]": Emergency{Name: "x", Does: Lockdown,
			Targets: []Target{{Kind: Everything}, {Kind: Everything}}}.Check(),
		"targets[0].kind": Emergency{Name: "x", Does: Lockdown, Targets: []Target{{Kind: AtReader, ID: 1}}}.Check(),
		"targets":         Emergency{Name: "x", Does: FireRelease}.Check(),
		"does":            Emergency{Name: "x", Does: "panic", Targets: []Target{{Kind: Everything}}}.Check(),
		"overrides": Emergency{Name: "x", Does: FireRelease, Targets: []Target{{Kind: Everything}},
			Overrides: true}.Check(),
		"cardEnds": Emergency{Name: "x", Does: Lockdown, Targets: []Target{{Kind: Everything}},
			CardEnds: true}.Check(),
		"count":        Screening{Name: "x", PersonIDs: []ID{1}, Lasts: LastsMidnight, Count: 3}.Check(),
		"lasts":        Screening{Name: "x", PersonIDs: []ID{1}, Lasts: "ever"}.Check(),
		"personIds[1]": Screening{Name: "x", PersonIDs: []ID{1, 1}, Lasts: LastsMidnight}.Check(),
		"emergencyId": Input{Name: "x", ControllerID: 1, Use: InputSense, Contact: NormallyOpen,
			EmergencyID: 4}.Check()[1:],
		"doorIds": Input{Name: "x", ControllerID: 1, Use: InputFire, Contact: NormallyOpen, EmergencyID: 4,
			DoorIDs: []ID{1}}.Check()[1:],
	} {
		assert.Len(t, fs, 1, field)
		if len(fs) == 1 {
			assert.Equal(t, field, fs[0].Field)
			assert.NotEmpty(t, fs[0].Words)
		}
	}
	c := &Config{Emergencies: []Emergency{{ID: 4, Name: "Shut", Does: Lockdown}, {ID: 5, Name: "Fire", Does: FireRelease}}}
	assert.Empty(t, c.CheckInput(&Input{Use: InputLockdown, EmergencyID: 4}))
	assert.Equal(t, "Shut is a lockdown, and the input starts a fire release",
		c.CheckInput(&Input{Use: InputFire, EmergencyID: 4})[0].Words)
	assert.Equal(t, "Fire is a fire release, and the input starts a lockdown",
		c.CheckInput(&Input{Use: InputLockdown, EmergencyID: 5})[0].Words)
}
