package prove

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/site"
)

// An alarm area is said as it is set: every way by which it is armed and disarmed, who comes in meanwhile, and what
// would not work.
func TestAlarmAreaInWords(t *testing.T) {
	b := guarded(t)
	b.Config.Levels[1].Disarms = true // Duty
	area := func(change func(a *site.AlarmArea)) *site.AlarmArea {
		a := site.UsualAlarmArea(1)
		a.ID, a.Name = 80, "Hall at night"
		change(&a)
		return &a
	}
	for name, x := range map[string]struct {
		area *site.AlarmArea
		says string
	}{
		"as most begin": {area(func(*site.AlarmArea) {}),
			"Armed at the screen or by two reads of a card within 5 s at its doors with Duty, then 30 s to leave; not while something " +
				"stands open, unless an operator leaves it out on purpose. Disarmed at the screen or by two reads with Duty."},
		"by all means": {area(func(a *site.AlarmArea) {
			a.Single, a.KeyID, a.KeyWorks, a.ScheduleID, a.ExitDelay = true, 71, site.KeyHolds, 30, 0
		}),
			"Armed at the screen, by two reads of a card within 5 s at its doors with Duty, by Desk button or when Always opens; not while " +
				"something stands open, unless an operator leaves it out on purpose. Disarmed at the screen, by one read with Duty, when Desk " +
				"button is at rest again or when Always closes."},
		"by an input alone": {area(func(a *site.AlarmArea) { a.Reads, a.KeyID, a.KeyWorks = 0, 71, site.KeyTurns }),
			"Armed at the screen or by Desk button, then 30 s to leave; not while something stands open, unless an operator leaves it out " +
				"on purpose. Disarmed at the screen or by Desk button again."},
	} {
		t.Run(name, func(t *testing.T) {
			assert.Equal(t, x.says, b.MeaningOfAlarmArea(x.area).Arms)
		})
	}
	keeps := "While it is armed only those with Duty come in at Quay, and no door of it stands free. Whoever is inside gets out."
	assert.Equal(t, keeps, b.MeaningOfAlarmArea(area(func(*site.AlarmArea) {})).Keeps)
	nobody := area(func(a *site.AlarmArea) { a.DoorIDs = nil })
	assert.Equal(t, "It has no door: nobody is kept out.", b.MeaningOfAlarmArea(nobody).Keeps)
}
