package site

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func fields(fs Faults) string {
	var out []string
	for _, f := range fs {
		out = append(out, f.Field)
	}
	return strings.Join(out, " ")
}

func TestDoorCheck(t *testing.T) {
	good := Door{Name: "Gate", FloorID: 1, ControllerID: 2, PlanID: 3, Port: 1, Hardware: UsualHardware()}
	assert.Empty(t, good.Check())
	for _, c := range []struct {
		change func(*Door)
		want   string
	}{
		{func(d *Door) { d.Name = " " }, "name name"},
		{func(d *Door) { d.Name = "a\nb" }, "name"},
		{func(d *Door) { d.FloorID, d.ControllerID, d.PlanID, d.Port = 0, 0, 0, 0 }, "floorId controllerId planId port"},
		{func(d *Door) { d.In.Fitted = false }, "in.fitted"},
		{func(d *Door) { d.Lock = Magnetic }, "failSafe"},
		{func(d *Door) { d.Lock, d.FailSafe = Magnetic, true }, ""},
		{func(d *Door) { d.Lock = "glue" }, "lock"},
		{func(d *Door) { d.Contact = NotFitted }, "relock"},
		{func(d *Door) { d.Contact, d.Relock = NotFitted, AtEnd }, ""},
		{func(d *Door) { d.Extended = 4 }, "extended"},
		{func(d *Door) { d.PreAlarm = 60 }, "preAlarm"},
		{func(d *Door) { d.Unlock, d.HeldOpen, d.Forced = 0, 4, 31 }, "unlock heldOpen preAlarm forced"},
	} {
		d := good
		c.change(&d)
		assert.Equal(t, c.want, fields(d.Check()))
	}
}

func TestPersonCheck(t *testing.T) {
	good := Person{Name: "Ada", Cards: []CardHeld{{Format: "26-bit", Facility: 1, Number: 2, Status: Active}}, Levels: []Grant{{LevelID: 4}}}
	assert.Empty(t, good.Check())
	for _, c := range []struct {
		change func(*Person)
		want   string
	}{
		{func(p *Person) { p.From = "tomorrow" }, "from"},
		{func(p *Person) { p.From, p.Until = "2026-12-02", "2026-12-01" }, "until"},
		{func(p *Person) { p.From, p.Until = "2026-12-01", "2026-12-01" }, ""},
		{func(p *Person) { p.Until = "2026-02-30" }, "until"},
		{func(p *Person) { p.Cards = []CardHeld{{Format: "44-bit", Status: Active}} }, "cards[0].format"},
		{func(p *Person) { p.Cards = []CardHeld{{Format: "26-bit", Number: 70000, Status: "gone"}} }, "cards[0].number cards[0].status"},
		{func(p *Person) { p.Levels = []Grant{{LevelID: 4}, {LevelID: 4}} }, "levels[1].levelId"},
		{func(p *Person) { p.Levels = []Grant{{}} }, "levels[0].levelId"},
	} {
		p := good
		c.change(&p)
		assert.Equal(t, c.want, fields(p.Check()))
	}
}

func TestSettingsAndTheRest(t *testing.T) {
	assert.Empty(t, DefaultSettings().Check())
	s := DefaultSettings()
	s.Cards = []CardFormat{{Format: "26-bit", Facilities: []uint64{300}}, {Format: "26-bit"}, {Format: "99-bit"}}
	s.PINLength, s.PINTries = 3, 1
	assert.Equal(t, "cards[0].facilities cards[1].format cards[2].format pinLength pinTries", fields(s.Check()))
	assert.Equal(t, "zone", fields(Site{Name: "Pier"}.Check()))
	assert.Equal(t, "siteId level", fields(Floor{Name: "x", Level: 999}.Check()))
	assert.Equal(t, "entries[1]", fields(Level{Name: "x", Entries: []Entry{{1, 2}, {1, 2}}}.Check()))
	schedules, plans := Basics()
	for _, b := range schedules {
		assert.Empty(t, b.Check())
	}
	assert.Empty(t, plans[0].Check())
	assert.Contains(t, s.Check().Error(), "pinLength: 3 is outside 4 to 8 digits")
}
